"""A beam axle with kingpins in a job: how its wheels steer, what they pass, what is found, and refusals."""

import math

import numpy as np
import pytest
from scipy.optimize import brentq

from ironcage.core.answers.findings.checks import find_snags
from ironcage.core.answers.place.clashes import find_clashes
from ironcage.core.answers.run.beam import BeamRun, beam_at, beam_runs, inner_ends, rods
from ironcage.core.job.store import file
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, plain
from ironcage.samples import sample
from tests.core.lines import typed

CURE = "beam front arm -85, 380, 165"


@pytest.fixture
def kart() -> Job:
    return sample("skerry")


def run_of(job: Job) -> BeamRun:
    return beam_runs(job)[0]


def found(job: Job) -> dict[str, str]:
    return {s.code: plain(s.what) for s in find_snags(job) if s.step == "run"}


def near(job: Job) -> set[frozenset[str]]:
    return {frozenset((n.first, n.second)) for n in find_clashes(job).near if n.gap < n.margin}


def test_the_demos_arms_splay_outwards_and_bent_in_they_steer_and_clear_the_feet(kart: Job) -> None:
    assert found(kart) == {
        "wheels scrub": "At full lock the front wheel outside the turn steers 28.1°, the one inside it 26.9°: they "
        "scrub."
    }
    assert near(kart) == {frozenset(("D21", f"front {side} tie rod")) for side in ("left", "right")}
    cured = typed(kart, CURE)
    assert found(cured) == {}
    assert not near(cured)
    assert run_of(cured).told.ackermann[0, -1] == pytest.approx(0.98, abs=0.02)


@pytest.mark.parametrize("lines", [[], [CURE, "beam front pivot none", "beam front rack 40"]])
def test_tie_rods_keep_their_length_and_both_sides_mirror(kart: Job, lines: list[str]) -> None:
    run = run_of(typed(kart, *lines))
    length = math.dist(run.hung.arm, run.hung.rod)
    for _, inner, outer in rods(run, run.found):
        assert np.linalg.norm(outer - inner, axis=-1) == pytest.approx(length, abs=1e-9)
    assert run.told.left[0] == pytest.approx(-run.told.right[0, ::-1], abs=1e-12)
    assert run.told.left[0, run.straight] == pytest.approx(math.radians(-0.1), abs=1e-12)  # toe in as set
    steps = np.diff(run.told.left[0])  # a rack behind the axle steers the other way than a drop arm there
    assert (np.sign(steps) == (1 if run.hung.pivot else -1)).all()


def test_an_upright_kingpin_on_a_rack_turns_as_far_as_plane_geometry_says(kart: Job) -> None:
    job = typed(kart, "beam front pivot none", "beam front rack 30", "beam front toe 0")
    job = typed(job, "beam front lower 0, 384, 90", "beam front upper 0, 384, 170", "beam front arm -90, 370, 165")
    run = run_of(job)
    pin, arm, rod = np.array([0, 384.0]), np.array([-90, -14.0]), np.array([-105, 25.0])

    def short(turn: float, way: float) -> float:
        c, s = math.cos(turn), math.sin(turn)
        end = pin + [c * arm[0] - s * arm[1], s * arm[0] + c * arm[1]]
        return float(np.linalg.norm(end - rod - [0, way]) - math.hypot(-90 + 105, 370 - 25))

    for n, way in enumerate(run.found.rack):
        assert run.told.left[0, n] == pytest.approx(brentq(short, -0.6, 0.6, args=(float(way),)), abs=1e-9)
    assert (run.told.caster[0, 0], run.told.kingpin[0, 0]) == (0, 0)
    assert run.told.scrub[0, run.straight] == pytest.approx(470 - 384)
    assert run.told.trail[0, run.straight] == pytest.approx(0, abs=1e-9)
    assert run.told.rise[0] == pytest.approx(0, abs=1e-9)  # nothing leans, so nothing lifts


def test_a_leaning_kingpin_meets_the_ground_where_its_line_does(kart: Job) -> None:
    told = run_of(kart).told
    assert math.degrees(told.caster[0, 0]) == pytest.approx(math.degrees(math.atan2(16, 80)))
    middle = run_of(kart).straight
    assert told.trail[0, middle] == pytest.approx(90 * 16 / 80 + 8, abs=0.3)  # from (8, 90) down to the ground
    assert told.scrub[0, middle] == pytest.approx(470 - (392 + 90 * 16 / 80), abs=0.3)


def test_the_drop_arm_swings_square_to_its_column(kart: Job) -> None:
    run = run_of(kart)
    pivot, column = np.array(run.hung.pivot), np.array(run.hung.column)
    way = (column - pivot) / np.linalg.norm(column - pivot)
    for ends in inner_ends(run.hung, run.found.rack):
        assert (ends - pivot) @ way == pytest.approx(float((ends[0] - pivot) @ way))
        assert np.linalg.norm(ends - pivot, axis=1) == pytest.approx(float(np.linalg.norm(ends[0] - pivot)))
    assert beam_at(kart, "front", 0.0, 9.0).rack == pytest.approx(math.radians(45))  # no further than is typed in


def test_rods_that_do_not_reach_are_found(kart: Job) -> None:
    assert (
        "tie rods do not reach beyond"
        in found(typed(kart, "beam front arm -30, 392, 165", "beam front turn 60"))["tie rod short"]
    )


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("beam middle", "‘middle’ is no axle"),
        ("beam front arms 1, 2, 3", "The front beam has no ‘arms 1,’"),
        ("beam front upper 8, 392, 90", "kingpin would have no length"),
        ("beam front upper 0, 392, 40", "would be upside down"),
        ("beam front rod -85, 440, 165", "tie rod would have no length"),
        ("beam rear gone", "The rear wheels are on no beam axle yet"),
        ("corner front lower J1L J2L upper J8L J2L spring J8L", "The front wheels are on a beam axle"),
        ("axle front lower J1L upper J2L", "Take that out first: beam front gone"),
    ],
)
def test_what_can_not_be_is_refused(kart: Job, line: str, says: str) -> None:
    with pytest.raises(Problem) as refused:
        understand(line, kart)
    assert says in plain(str(refused.value))


def test_a_beam_is_proposed_from_its_wheel_taken_out_and_kept_in_the_file(kart: Job) -> None:
    bare = typed(kart, "beam front gone")
    assert bare.beams == ()
    proposed = typed(bare, "beam front")
    (made,) = proposed.beams
    pin, arm = np.add(made.lower, made.upper)[:2] / 2, np.array(made.arm[:2])
    to_rear = np.array([-1050.0, 0.0]) - pin  # its arms point to the middle of the rear axle
    slopes = [v[1] / v[0] for v in (arm - pin, to_rear)]
    assert slopes[0] == pytest.approx(slopes[1], abs=2e-3)
    assert file.from_text(file.to_text(proposed)).beams == proposed.beams
    assert typed(proposed, "beam front").beams == proposed.beams
