"""A three-wheeler with its front wheel in a fork: how it stands, what is found, what Prove takes, refusals."""

import math

import numpy as np
import pytest

from ironcage.cli.answers.prove import say_prove
from ironcage.cli.answers.run import say_run
from ironcage.core.answers.findings.checks import find_snags
from ironcage.core.answers.prove.cases import load_cases
from ironcage.core.answers.run import swept_bodies
from ironcage.core.answers.run.effects import effects_at
from ironcage.core.answers.run.fork import fork_at, fork_runs
from ironcage.core.answers.run.springs import sprung
from ironcage.core.answers.run.tuning import tune
from ironcage.core.answers.shared.mass import stance
from ironcage.core.calc.frames.load_distribution import G
from ironcage.core.job import edits
from ironcage.core.job.geometry.bodies import placed_bodies
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle
from ironcage.problem import Problem, plain
from ironcage.samples import sample
from tests.core.lines import typed

FRAME = (
    "joint 0 0 900",
    "joint 60 0 640",
    "joint -700 250 300",
    "joint -700 250 700",
    "joint -1500 300 350",
    "joint -1500 300 700",
    "joint -450 150 350",
    "joint -600 200 350",
    *(
        f"tube {a} {b} 32 x 2"
        for a, b in (
            *(("J1", "J2"), ("J1", "J4L"), ("J2", "J7L"), ("J7L", "J3L"), ("J3L", "J5L"), ("J4L", "J6L")),
            *(("J3L", "J4L"), ("J5L", "J6L"), ("J7L", "J4L"), ("J3L", "J6L"), ("J5L", "J5R"), ("J6L", "J6R")),
            *(("J3L", "J3R"), ("J4L", "J4R"), ("J7L", "J7R"), ("J5L", "J6R"), ("J3L", "J8L"), ("J7L", "J8L")),
        )
    ),
    "wheels front 150 0 300 dia 600 width 110",
    "wheels rear -1550 500 290 dia 580 width 165",
    "mass 120 Engine at -1000 0 450",
    "mass 85 Rider at -800 0 700",
)
HUNG = ("fork front head J1 J2", "arm rear axis J8L J8R", "arm rear spring J6L")


@pytest.fixture
def trike() -> Job:
    return typed(Job(), *FRAME, *HUNG)


def found(job: Job, step: str = "run") -> dict[str, str]:
    return {s.code: plain(s.what) for s in find_snags(job) if s.step == step}


def test_rake_trail_and_what_the_legs_do(trike: Job) -> None:
    run = fork_runs(trike)[0]
    rake = math.atan2(60, 260)
    rest, straight = run.rest, run.straight
    assert run.told.head[rest, straight] == pytest.approx(rake, abs=1e-12)
    trail = 300 * math.tan(rake) - run.fork.offset / math.cos(rake)
    assert run.told.trail[rest, straight] == pytest.approx(trail, abs=1e-9)
    assert run.told.motion_ratio[0, 0] == pytest.approx(1 / math.cos(rake), abs=1e-12)
    lengths = run.told.spring[:, straight]
    assert np.diff(lengths) / np.diff(run.found.travel) == pytest.approx(-1 / math.cos(rake), abs=1e-9)
    assert run.told.anti[rest, straight] < 0  # raked legs dive
    assert run.told.lifts[rest, -1] == pytest.approx(run.told.lifts[rest, 0], abs=1e-9)
    said = say_run(trike)["axles"][-1]
    assert said["fork"] == "front"
    assert said["offset_mm"] == pytest.approx(run.fork.offset, abs=1e-3)


def test_a_single_wheel_is_one_tyre_and_carries_its_axle_alone(trike: Job) -> None:
    assert [b.name for b in placed_bodies(trike) if b.kind == "tyre"] == [
        "front tyre",
        "rear left tyre",
        "rear right tyre",
    ]
    assert [b.name for b in swept_bodies(trike) if b.kind == "tyre" and "front" in b.name] == ["front tyre"]
    corners = stance(trike).stance.corners
    assert corners[0] == pytest.approx(corners[1])
    assert corners[2] == pytest.approx(corners[3])
    rear = typed(Job(), *FRAME[:-4], "wheels rear -1550 0 290 dia 580 width 165", "arm rear axis J8L J8R")
    assert [b.name for b in swept_bodies(rear) if b.kind == "tyre"] == ["rear tyre"]
    assert not any("axle" in b.name for b in swept_bodies(rear))


def test_tyre_and_legs_clash_on_their_way_from_lock_to_lock(trike: Job) -> None:
    near = typed(trike, "joint 60 95 480", "tube J2 J9L 25 x 2", "tube J9L J7L 25 x 2")
    legs = [plain(s.what) for s in find_snags(near) if s.code == "clash" and "leg" in s.what]
    assert any("turned" in words for words in legs), legs
    assert not any(s.code == "clash" and "leg" in s.what for s in find_snags(trike))


def test_prove_takes_the_bearings_and_twists_nothing(trike: Job) -> None:
    cases = {case.name: case for case in load_cases(trike)}
    front = [p for p in cases["static"].pushes if p.what.startswith("front")]
    assert [p.what for p in front] == ["front upper bearing", "front lower bearing"]
    corners = stance(trike).stance.corners
    assert sum(p.force for p in front) == pytest.approx([0, 0, (corners[0] + corners[1]) * G], abs=2)
    assert "no pickup" not in found(trike, "prove")
    assert cases["braking"].problem == ""
    told = say_prove(trike)
    assert told["stiffness"]["not_told"].startswith("With a single front wheel nothing twists the frame")
    worst = told["strength"][0]
    assert (worst["tube"], worst["case"]) == ("T1", "braking")  # the head tube


def test_the_springs_of_both_legs_carry_half_each(trike: Job) -> None:
    job = typed(trike, "fork front rate 12", "fork front open 480", "fork front closed 300", "fork front unsprung 14")
    of = sprung(job)["front"]
    corners = stance(job).stance.corners
    assert of.rest.mass == pytest.approx(corners[0] - 7, abs=0.1)  # half of what moves with the wheel
    assert of.roll is None
    run = fork_runs(job)[0]
    solid = typed(job, "fork front closed 340")
    assert "The front dampers are solid at" in found(solid)["damper solid"]
    assert run.told.spring[run.rest, run.straight] == pytest.approx(of.rest.length)


def test_what_a_millimetre_of_the_head_does(trike: Job) -> None:
    effects = {e.point: e for e in effects_at(trike, fork_at(trike, "front", 0.0, 0.0))}
    moved = typed(trike, "joint J1 x-1")
    change = fork_runs(moved)[0], fork_runs(trike)[0]
    told = [float(run.told.head[run.rest, run.straight]) for run in change]
    assert effects["head, upper bearing"].per_mm.head[0] == pytest.approx(told[1] - told[0], rel=0.01)
    assert effects["axle in the fork"].per_mm.trail[0] < 0  # a clamp with more offset trails less


def test_bands_are_met_by_moving_the_axle(trike: Job) -> None:
    job = typed(trike, "band front trail at least 70", "band front wheel leans -30 to 30")
    assert "The front trail is" in found(job)["out of band"]
    made = tune(job, "front", ("axle in the fork",), 40.0, lambda _: None)
    assert all(k.off == pytest.approx(0, abs=0.2) for k in made.after)
    assert made.moves[0].point == "axle in the fork"


def test_a_wheel_that_does_not_trail_is_a_snag(trike: Job) -> None:
    ahead = edits.change_part(trike, trike.wheels[0].id, x=250.0)
    assert found(ahead)["no trail"].startswith("The front wheel trails its steering axis by -")


@pytest.mark.parametrize(
    ("lines", "line", "says"),
    [
        ((), "fork rear head J1 J2", "A fork steers the front wheel."),
        ((), "fork front head J1 J4L", "J4L is 250.0 mm beside the centreline, where a steering head stands."),
        ((), "fork front head J1 J1", "The steering head would have no length."),
        (("joint 500 0 890",), "fork front head J1 J9", "The axis from J9 to J1 lies too flat for a steering head."),
        (("fork front gone",), "fork front up 20", "The front wheel is in no fork yet."),
        ((), "corner front lower J4L J3L upper J4L J3L spring J4L", "The front wheels are in a fork."),
        (("fork front gone",), "beam front", "The front wheel stands alone on the centreline."),
        (
            ("fork front gone",),
            "corner front lower J4L J3L upper J4L J3L spring J4L",
            "The front wheel stands alone on the centreline.",
        ),
        ((), "wheels front 0 20 300 dia 600 width 110", "The front wheels are there already."),
    ],
)
def test_forks_that_can_not_be_are_refused(trike: Job, lines: tuple[str, ...], line: str, says: str) -> None:
    with pytest.raises(Problem) as refused:
        typed(typed(trike, *lines), line)
    assert plain(refused.value.what).startswith(says)


def test_a_pair_of_wheels_is_no_wheel_for_a_fork() -> None:
    pair = typed(Job(), *FRAME[:-4], "wheels front 150 400 300 dia 600 width 110")
    with pytest.raises(Problem, match="The front wheels stand side by side"):
        typed(pair, "fork front head J1 J2")
    with pytest.raises(Problem, match="would stand on each other") as refused:
        typed(Job(), "wheels front 150 20 300 dia 600 width 110")
    assert "0 for a single wheel" in refused.value.hint


@pytest.mark.parametrize("name", ["sandpiper", "fell-litter", "skerry"])
@pytest.mark.parametrize("end", ["front", "rear"])
def test_wheels_put_on_the_centreline_after_they_were_hung_are_told(name: str, end: Axle) -> None:
    job = sample(name)
    moved = edits.change_part(job, edits.left_wheel(job, end).id, y=0.0)
    hung = any(w.axle == end for w in (*job.wishbones, *job.live_axles, *job.beams))
    assert any("stands alone on the centreline" in plain(s.what) for s in find_snags(moved)) == hung


def test_a_head_that_has_gone_is_told(trike: Job) -> None:
    assert (
        "The steering head has lost its joint J2." in found(typed(trike, "delete", chosen=("J2",)))["fork incomplete"]
    )
