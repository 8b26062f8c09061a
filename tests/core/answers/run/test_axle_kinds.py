"""Live axles on ladder bars, on a torque arm and on leaf springs: how they move, against closed forms, and what they
give to the frame."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.place.clashes import find_clashes
from ironcage.core.answers.prove.cases import load_cases
from ironcage.core.answers.run import axle_reactions, roll_stiffnesses
from ironcage.core.answers.run.effects import effects_at
from ironcage.core.answers.run.leaves import leaves
from ironcage.core.answers.run.links import links_made
from ironcage.core.answers.run.liveaxle import LinkedRun, axle_at, axle_runs, drawn
from ironcage.core.answers.run.sweep import swept_bodies
from ironcage.core.calc.car.leaf import Leaf
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed

LADDER = "axle rear ladder J5L rod J7R"
TORQUE = ("axle rear lower J5L torque J11 rod J7R",)
EYES = "axle rear leaf eyes J5L J7L"
LEAF = (EYES, "axle rear seat -1980, 330, 330", "axle rear leaf wide 60 thick 7 full 1 stepped 4 shackle 120 lean 10")


@pytest.fixture
def litter() -> Job:
    """The demo, its rear axle hung on nothing."""
    return typed(sample("fell-litter"), "axle rear gone")


def run_of(job: Job) -> LinkedRun:
    (run,) = axle_runs(job)
    return run


def middle(run: LinkedRun) -> tuple[np.ndarray, np.ndarray]:
    """Where the axle's middle goes over level travel (n, 3), and how far its nose turns up (n,), rad."""
    return run.found.at(run.axle.middle)[:, run.straight], run.told.curves.pinion[:, run.straight]


def test_an_axle_on_ladder_bars_swings_about_their_front_pivots(litter: Job) -> None:
    job = typed(litter, LADDER, "axle rear rod out -2350, 300, 560")
    run = run_of(job)
    pivot = np.array([-1500.0, 380.0])  # fore and up
    places, nose = middle(run)
    arm = places[:, ::2] - pivot
    assert np.hypot(*arm.T) == pytest.approx(np.hypot(*(np.array([-2080.0, 317.5]) - pivot)), abs=0.05)  # but for bind
    turned = np.arctan2(arm[:, 1], arm[:, 0])
    at_rest = turned[int(np.abs(run.found.travel).argmin())]
    assert nose == pytest.approx(turned - at_rest, abs=1e-4)  # with its pivots, as one body
    rest = int(np.abs(run.found.travel).argmin())
    rise = 380.0 / (2080 - 1500)  # from the contact to the pivot, where a ladder bar's lift acts
    assert run.told.squat[rest, run.straight] == pytest.approx(rise / run.lift, rel=1e-3)
    centre = run.told.curves.side_centre[rest, run.straight]
    assert centre == pytest.approx([2080 - 1500, 380], abs=0.1)  # their pivots
    bind = run.told.curves.bind
    assert bind[:, run.straight].max() < 0.1
    assert bind[rest, 0] > 0.5  # as the axle leans its bars twist it
    pivots = links_made(typed(job, "axle rear eye head 32 housing 12 ball 16"))["rear"].links
    assert [link.name for link in pivots] == ["ladder bar’s lower leg", "ladder bar’s upper leg", "track rod"]
    assert math.degrees(pivots[0].tilts[0].most) == pytest.approx(4.0, abs=0.1)  # as far as the axle leans


def test_a_torque_arm_turns_the_axle_about_where_both_lines_meet(litter: Job) -> None:
    job = typed(litter, *TORQUE)
    assert job.live_axles[0].torque_out == (-1800, 0, 500)
    run = run_of(job)
    lower_in, lower_out = run.axle.inner[0], run.axle.outer[0]
    slope = (lower_in[2] - lower_out[2]) / (lower_in[0] - lower_out[0])
    over = lower_out[2] + slope * (-1800 - lower_out[0])  # the drop link is upright, so its line is at -1800
    rest = int(np.abs(run.found.travel).argmin())
    rise = over / (2080 - 1800)
    assert run.told.squat[rest, run.straight] == pytest.approx(rise / run.lift, rel=2e-3)
    _, nose = middle(run)
    small = slice(rest - 1, rest + 2)
    turns = np.gradient(nose[small], run.found.travel[small])[1]
    assert turns == pytest.approx(-1 / (2080 - 1800), rel=5e-3)
    assert {"rear torque arm", "rear torque arm’s drop link"} <= {b.id for b in swept_bodies(job)}


def test_an_axle_on_leaf_springs_goes_back_steers_and_noses_as_they_let_it(litter: Job) -> None:
    job = typed(litter, *LEAF)
    run = run_of(job)
    front = math.hypot(-1500 + 1980, 380 - 330)
    eye = (-2350 - 120 * math.sin(math.radians(10)), 560 - 120 * math.cos(math.radians(10)))
    spring = Leaf(front, math.hypot(eye[0] + 1980, eye[1] - 330), 60, 7, 4, 1, 50, 120, math.radians(10))
    seats = run.found.at(np.array([-1980.0, 330.0, 330.0]))[:, run.straight]
    back = -1980 - seats[:, 0]
    assert back == pytest.approx(spring.back(seats[:, 2] - 330), rel=0.03, abs=0.15)
    _, nose = middle(run)
    assert nose == pytest.approx(-spring.nose * (seats[:, 2] - 330), abs=1e-3)
    rest = int(np.abs(run.found.travel).argmin())
    assert run.told.curves.roll_steer[rest, run.straight] == pytest.approx(spring.roll_steer, rel=0.01)
    between = 380 + (560 - 380) * (1980 - 1500) / (2350 - 1500)  # of eye and shackle, at the seat
    told_at = between - spring.roll_steer * 100  # the axle is behind the seat, and steers as it leans
    assert run.told.curves.roll_centre[rest, run.straight] == pytest.approx(told_at, abs=0.5)
    assert run.told.curves.bind.max() == 0  # nothing but springs holds it
    (told,) = leaves(job)
    assert (told.axle, told.rate) == ("rear", spring.rate)
    assert told.roll == pytest.approx(spring.rate * 660**2 / 2)
    untyped = job.but(proving=job.proving.but(roll_rear=0.0))
    assert roll_stiffnesses(untyped)[1] == pytest.approx(told.roll)
    words = {line.what for line in drawn(job, axle_at(job, "rear", 30.0, 0.02))}
    assert words == {"spring", "body"}


def test_a_track_rod_takes_leaf_springs_aside(litter: Job) -> None:
    job = typed(litter, EYES + " rod J7R", *LEAF[1:], "axle rear rod out -2350, 300, 560")
    run = run_of(job)
    end = run.found.at(np.array([-2350.0, 300.0, 560.0]))[-1, run.straight]
    swing = 630 - math.sqrt(630**2 - (end[2] - 560) ** 2)
    assert abs(run.told.curves.aside[-1, run.straight]) == pytest.approx(
        swing, abs=0.1
    )  # and what the springs’ turn adds to it
    rest = int(np.abs(run.found.travel).argmin())
    steers = run.told.curves.roll_steer[rest, run.straight]
    told = run.told.curves.roll_centre[rest, run.straight]
    assert told == pytest.approx(560 + steers * (2350 - 2080), abs=1)  # the rod's height, and as it stands behind


def balance(job: Job, at: np.ndarray, force: np.ndarray, moment: np.ndarray) -> dict[str, np.ndarray]:
    """The forces on the frame by name, which answer a load in force and in moment."""
    told = axle_reactions(job, "rear", at, force, moment)
    assert told is not None
    assert sum(f for _, _, _, f in told) == pytest.approx(force, abs=1e-6)
    turning = sum(np.cross(place, f) for _, _, place, f in told)
    assert turning == pytest.approx(np.cross(at, force) + moment, abs=1e-3)
    return {name: f for name, _, _, f in told}


def test_leaf_springs_give_a_load_to_their_eyes_by_their_arms(litter: Job) -> None:
    job = typed(litter, *LEAF)
    seat, up = np.array([-1980.0, 0.0, 330.0]), np.array([0.0, 0.0, 4000.0])
    told = balance(job, seat, up, np.zeros(3))
    ahead, behind = 480.0, 370 + 120 * math.sin(math.radians(10))
    assert told["left front eye"][2] == pytest.approx(2000 * behind / (ahead + behind))
    assert told["right shackle"][2] == pytest.approx(2000 * ahead / (ahead + behind))
    assert told["left shackle"][0] == 0  # a shackle holds nothing along the car
    wound = balance(job, seat, np.zeros(3), np.array([0.0, -900e3, 0.0]))  # drive, its nose up
    assert wound["left front eye"][2] == pytest.approx(900e3 / (ahead + behind) / 2)
    drawn_on = balance(job, seat, np.array([3000.0, 500.0, 0.0]), np.zeros(3))
    assert drawn_on["left front eye"][0] + drawn_on["right front eye"][0] == pytest.approx(3000)


@pytest.mark.parametrize("lines", [(LADDER,), TORQUE])
def test_ladder_bars_and_a_torque_arm_bear_what_drive_does(litter: Job, lines: tuple[str, ...]) -> None:
    job = typed(litter, *lines, "axle rear spring J7L")
    told = balance(job, np.array([-2080.0, 0.0, 317.5]), np.array([2500.0, 0, 3000]), np.array([0, -700e3, 0]))
    assert "left coil-over" in told


def test_effects_tell_of_every_point(litter: Job) -> None:
    def points(*lines: str) -> dict[str, str]:
        job = typed(litter, *lines)
        return {of.point: of.joint for of in effects_at(job, axle_at(job, "rear", 10.0, 0.01))}

    assert points(*LEAF) == {"leaf, front eye": "J5L", "leaf, shackle": "J7L", "leaf, seat": ""}
    ladder = points(LADDER)
    assert ladder["ladder bar, frame"] == "J5L"
    assert {"ladder bar’s lower leg", "ladder bar’s upper leg", "track rod, axle"} <= set(ladder)
    assert points(*TORQUE)["drop link, frame"] == "J11"
    job = typed(litter, *LEAF)
    eye = next(of for of in effects_at(job, axle_at(job, "rear", 0.0, 0.0)) if of.point == "leaf, front eye")
    spring = 1 / Leaf(482.6, 419.2, 60, 7, 4, 1, 50).swing  # a higher eye raises the arch by as much
    assert eye.per_mm.curves.roll_steer[2] == pytest.approx(spring, rel=0.05)


def test_springs_clash_on_their_way_and_touch_what_they_hang_on(litter: Job) -> None:
    job = typed(litter, *LEAF)
    swept = {b.id: b for b in swept_bodies(job)}
    assert {"rear left leaf spring, front", "rear right leaf spring, rear", "rear axle", "W3"} <= set(swept)
    met = {other for n in find_clashes(job).near for one, other in [(n.first, n.second)] if one.startswith("rear left")}
    assert not met & {t.id for t in job.tubes_at["J5L"]}


def test_the_kind_of_hanging_changes_and_its_ends_stay(litter: Job) -> None:
    linked = typed(litter, "axle rear lower J5L upper J6L rod J7R", "axle rear lower out -2080, 400, 250")
    bars = typed(linked, LADDER)
    assert bars.live_axles[0].lower_out == (-2080, 400, 250)
    on_leaves = typed(bars, *LEAF)
    assert on_leaves.live_axles[0].joints == ("J5L", "J7L")
    assert on_leaves.live_axles[0].lower_out is None
    assert "axle incomplete" not in {s.code for s in find_snags(on_leaves)}


@pytest.mark.parametrize(
    ("lines", "why"),
    [
        (("axle rear lower J5L upper J5L",), "type ladder and the joint for a ladder bar"),
        (("axle rear leaf eyes J7L J7L",), "J7L and J7L are not one behind the other"),
        (("axle rear leaf eyes J5R J7L",), "J5R is on the right"),
        ((LADDER, "axle rear seat 0, 0, 0"), "has no seat, for it does not hang so"),
        ((LADDER, "axle rear leaf wide 50"), "The rear axle does not hang on leaf springs"),
        ((*LEAF, "axle rear spring J7L"), "The rear axle stands on leaf springs"),
        ((*LEAF, "axle rear leaf lies across"), "lie along the car"),
        ((EYES, "axle rear leaf full 0"), "A leaf spring has one leaf at least"),
    ],
)
def test_what_can_not_be_is_refused(litter: Job, lines: tuple[str, ...], why: str) -> None:
    *before, line = lines
    with pytest.raises(Problem) as refused:
        understand(line, typed(litter, *before))
    assert why in plain(str(refused.value))


def test_a_seat_beyond_its_eyes_and_bars_without_a_rod_are_told(litter: Job) -> None:
    def incomplete(*lines: str) -> str:
        found = {s.code: plain(f"{s.what} {s.hint}") for s in find_snags(typed(litter, *lines))}
        return found["axle incomplete"]

    assert "seats do not lie between their eyes" in incomplete(*LEAF, "axle rear seat -2500, 330, 330")
    assert "Give it a track rod: axle rear ladder J5L rod J7R" in incomplete("axle rear ladder J5L")


def test_prove_drives_through_the_eyes_of_leaf_springs(litter: Job) -> None:
    told = {c.name: c for c in load_cases(typed(litter, *LEAF))}
    drive = {p.what: p for p in told["acceleration"].pushes}
    assert {"rear left front eye", "rear right shackle"} <= set(drive)
    eyes = [p for name, p in drive.items() if "front eye" in name]
    assert sum(float(p.force[0]) for p in eyes) > 0  # all that drives the car forward comes in at the fixed eyes
    assert drive["rear left shackle"].force[0] == pytest.approx(0, abs=1e-6)
    assert float(drive["rear left front eye"].force[2]) > float(drive["rear left shackle"].force[2])  # its nose goes up
