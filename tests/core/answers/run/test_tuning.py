"""Points moved so that bands are met: against a closed form, within their boxes, and refusals."""

import numpy as np
import pytest

from ironcage.core.answers.run.bands import kept_bands
from ironcage.core.answers.run.liveaxle import axle_of
from ironcage.core.answers.run.tuning import tune
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from tests.core.lines import typed


@pytest.fixture
def parallel() -> Job:
    """Arms of one length, level and along the car: a tie rod as long as they are, and level, steers nothing."""
    return typed(
        Job(),
        "wheels front 0 650 290 dia 580 width 165",
        *(f"joint {x} 200 {z}" for z in (180, 400) for x in (150, -150)),
        "corner front lower J1L J2L upper J3L J4L spring J3L",
        "corner front lower out 0, 590, 180",
        "corner front upper out 0, 590, 400",
        "corner front tie out -100, 590, 240",
        "corner front tie in -100, 207, 252",
    )


def test_a_tie_rod_is_made_level_and_as_long_as_the_arms(parallel: Job) -> None:
    job = typed(parallel, "band front toe in -0.01 to 0.01")
    assert kept_bands(job)[0].off > 0
    found = tune(job, "front", ["tie rod, inner"], 20, lambda share: None)
    assert found.after[0].off < np.radians(0.003)  # points are put to a tenth of a millimetre
    _, y, z = found.job.wishbones[0].tie_in
    length = np.hypot(590 - y, 240 - z)  # its length is 390, and it lies level
    assert length == pytest.approx(390, abs=2.5)
    assert z == pytest.approx(240, abs=1.0)
    (move,) = found.moves
    assert np.abs(move.by).max() <= 20
    assert found.before == kept_bands(job)


def test_a_joint_moves_with_its_twin_and_with_all_that_it_is(sandpiper: Job) -> None:
    job = typed(sandpiper, "band front roll centre at least 45 over -10 to 10", "band front camber -1.9 to 0.5")
    names = ["upper arm, rear", "coil-over, top", "lower ball joint"]
    found = tune(job, "front", names, 8, lambda share: None)
    joints = [m.joint for m in found.moves]
    assert joints.count("J9L") == 1  # the upper arm's rear end and the coil-over's top are one joint
    left, right = found.job.joint("J9L"), found.job.joint("J9R")
    assert left.place != job.joint("J9L").place
    assert (left.x, -left.y, left.z) == pytest.approx(right.place)
    assert sum(k.off for k in found.after) < sum(k.off for k in found.before)
    assert all(abs(v) <= 8 for m in found.moves for v in m.by)
    assert found.job.wishbones[0].tie_in == job.wishbones[0].tie_in


def test_bands_of_springs_are_met_by_moving_the_coil_overs_foot(sandpiper: Job) -> None:
    job = typed(sandpiper, "band front ride frequency 1.75 to 1.9 over -10 to 20", "band front to solid at least 0")
    before = {k.figure.name: k.off for k in kept_bands(job)}
    assert min(before.values()) > 0  # both are outside of their bands
    asked: list[float] = []
    found = tune(job, "front", ["coil-over, foot"], 60, asked.append)
    after = {k.figure.name: k.off for k in found.after}
    assert after["ride frequency"] < 0.02
    assert after["to solid"] == pytest.approx(0, abs=0.2)
    assert {m.point for m in found.moves} == {"coil-over, foot"}
    assert asked


def test_what_can_not_be_met_is_met_as_nearly_as_the_boxes_let_it(parallel: Job) -> None:
    job = typed(parallel, "band front toe in 0.4 to 0.5")
    found = tune(job, "front", ["tie rod, outer"], 5, lambda share: None)
    assert found.after[0].off > 0


def test_work_can_be_stopped_and_says_how_far_it_is(parallel: Job) -> None:
    shares: list[float] = []

    def say(share: float) -> None:
        shares.append(share)
        if len(shares) == 5:
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        tune(typed(parallel, "band front toe in -0.01 to 0.01"), "front", ["tie rod, inner"], 20, say)
    assert shares == sorted(shares)
    assert 0 < shares[-1] < 1


def test_refusals_name_what_is_missing(parallel: Job) -> None:
    banded = understand("band front toe in -0.01 to 0.01", parallel).job
    for job, names, box, why in (
        (parallel, ["tie rod, inner"], 10, "No figure of the front wheels has a band that points could meet"),
        (banded, [], 10, "No point that may move is picked"),
        (banded, ["tie rod, iner"], 10, "no point called ‘tie rod, iner’. The nearest is tie rod, inner"),
        (banded, ["tie rod, inner"], 0, "Points that may move by nothing"),
    ):
        with pytest.raises(Problem) as refused:
            tune(job, "front", names, box, lambda share: None)
        assert why in refused.value.sentence
    with pytest.raises(Problem, match="The rear wheels hang on nothing yet"):
        tune(banded, "rear", ["tie rod, inner"], 10, lambda share: None)


def test_a_track_rod_is_made_level_so_that_it_swings_least() -> None:
    job = typed(sample("fell-litter"), "band rear shift -8 to 8")
    found = tune(job, "rear", ["track rod, axle", "track rod, frame"], 260, lambda share: None)
    assert found.after[0].off == 0
    assert found.before[0].off > 20
    axle = axle_of(found.job, found.job.live_axles[0])
    assert abs(axle.inner[4][2] - axle.outer[4][2]) < 100  # it was 230
    assert {m.point for m in found.moves} == {"track rod, axle", "track rod, frame"}
    assert next(m.joint for m in found.moves if m.point == "track rod, frame") == "J7R"


def test_a_kingpin_is_leaned_until_it_has_the_caster_that_is_wanted() -> None:
    job = typed(sample("skerry"), "band front caster 13 to 15")
    found = tune(job, "front", ["kingpin, upper end"], 30, lambda share: None)
    assert found.before[0].off > np.radians(1.5)
    assert found.after[0].off < np.radians(0.05)  # points are put to a tenth of a millimetre
    ((back, _, _),) = [m.by for m in found.moves]
    assert back == pytest.approx(-(80 * np.tan(np.radians(13)) - 16), abs=0.4)  # of a kingpin 80 high that leans by 16


def test_an_arms_axis_is_slanted_until_its_wheel_keeps_its_toe() -> None:
    lines = ("joint -1700 300 290", "joint -1700 500 330")
    job = typed(sample("sandpiper").but(arms=()), *lines)
    a, b = (f"J{job.last_joint - n}L" for n in (1, 0))
    job = typed(job, f"arm rear axis {a} {b}", "band rear toe in -0.1 to 0.1")
    found = tune(job, "rear", ["axis, one end"], 60, lambda share: None)
    assert found.after[0].off < found.before[0].off
    assert found.job.joint(a).place != job.joint(a).place


def test_a_point_of_another_kind_is_refused() -> None:
    job = typed(sample("fell-litter"), "band rear shift -8 to 8")
    with pytest.raises(Problem, match="The rear end has no point called ‘tie rod, inner’"):
        tune(job, "rear", ["tie rod, inner"], 10, lambda share: None)
    with pytest.raises(Problem, match="No figure of the rear wheels has a band"):
        tune(sample("fell-litter"), "rear", ["track rod, axle"], 10, lambda share: None)
