"""A beam axle that moves on leaf springs or links: its wheels over travel and steering against bodies placed in space,
what it does to the frame, and what is found and refused."""

import math

import numpy as np
import pytest
from scipy.optimize import brentq
from scipy.spatial.transform import Rotation

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.run import axial_links, axle_reactions, link_reactions, roll_stiffnesses, swept_bodies
from ironcage.core.answers.run.beam import BeamRun, beam_at, beam_runs, drawn, rods
from ironcage.core.answers.run.effects import effects_at
from ironcage.core.answers.run.figures import figures_of
from ironcage.core.answers.run.leans import leans
from ironcage.core.answers.run.leaves import leaves
from ironcage.core.answers.run.links import links_made
from ironcage.core.answers.run.springs import springs_at, sprung
from ironcage.core.calc.linkage.axle import axle_poses
from ironcage.core.calc.linkage.steering import MIRROR
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed

FRAME = (
    "joint 520 330 360",
    "joint -480 330 380",
    "joint -1200 330 380",
    "wheels front 0 650 290 dia 580 width 165",
    "wheels rear -2300 650 290 dia 580 width 165",
)
BEAM = (
    "beam front",
    "beam front lower 12, 560, 200",
    "beam front upper -12, 540, 350",
    "beam front arm -150, 530, 240",
    "beam front rod -150, 60, 250",
    "beam front on leaf eyes J1L J2L",
    "beam front on seat 0, 330, 310",
    "beam front leaf wide 60 thick 7 full 1 stepped 3 shackle 70 up 60 down 60",
)
DRAG = (
    "beam front rod -700, 430, 420",
    "beam front drag 0, 430, 420",
    "beam front pivot -700, 430, 520",
    "beam front column -700, 500, 520",
    "beam front turn 20",
)


@pytest.fixture
def rod() -> Job:
    """Two rails, wheels, and a beam in front on leaf springs with a rack."""
    job = typed(Job(), *FRAME, chosen=())
    for a, b in (("J1L", "J2L"), ("J2L", "J3L"), ("J1L", "J1R"), ("J3L", "J3R"), ("J1R", "J2R"), ("J2R", "J3R")):
        if frozenset((a, b)) not in job.tube_by_ends:
            job = typed(job, "tube 40 x 2", chosen=(a, b))
    return typed(job, *BEAM, chosen=())


def run_of(job: Job) -> BeamRun:
    (run,) = beam_runs(job)
    return run


def turned(pin_low: np.ndarray, pin_high: np.ndarray, point: np.ndarray, angle: float) -> np.ndarray:
    """A place of a stub axle turned about its kingpin."""
    way = (pin_high - pin_low) / np.linalg.norm(pin_high - pin_low)
    return pin_low + Rotation.from_rotvec(angle * way).apply(point - pin_low)


def heading(axis: np.ndarray) -> float:
    return math.atan2(-axis[0], axis[1])


def test_both_rods_keep_their_length_wherever_the_beam_stands(rod: Job) -> None:
    run = run_of(rod)
    assert run.found.closed.shape == (21, 21)
    low, high, arm = (np.array(getattr(run.hung, name)) for name in ("lower", "upper", "arm"))
    length = math.dist(run.hung.arm, run.hung.rod)
    for row in (0, 7, 20):
        for column in (0, 10, 17):
            turn, shift = run.found.turned[row], run.found.shift[row]
            inner = np.array(run.hung.rod) + [0, run.found.rack[column], 0]

            def off(angle: float, turn=turn, shift=shift, inner=inner) -> float:
                return float(np.linalg.norm(turn @ turned(low, high, arm, angle) + shift - inner) - length)

            angle = brentq(off, -0.6, 0.6, xtol=1e-13)
            assert run.found.left.turn[row, column] == pytest.approx(angle, abs=1e-9)
            axis = turn @ Rotation.from_rotvec(angle * (high - low) / np.linalg.norm(high - low)).apply([0, 1, 0])
            assert run.told.left[row, column] == pytest.approx(heading(axis), abs=1e-9)
            assert run.told.camber[row, column] == pytest.approx(-math.asin(axis[2]), abs=1e-9)
    rise = run.found.left.centre[:, run.straight, 2] - 290
    assert rise == pytest.approx(run.found.travel, abs=0.7)  # and what steering in bump lifts or lowers the centre


def test_wheels_are_steered_by_their_rods_as_the_car_leans(rod: Job) -> None:
    run = run_of(rod)
    end = leans(rod, 15.0, 12.0).ends["front"]
    straight = leans(rod).ends["front"]
    assert np.ptp(straight.toe_in[:, 0]) > math.radians(0.1)  # the rods do not go along with the springs
    assert np.ptp(straight.camber, axis=0).max() < math.radians(2)  # of 8° of lean: the axle keeps to the ground
    low, high, arm = (np.array(getattr(run.hung, name)) for name in ("lower", "upper", "arm"))
    length = math.dist(run.hung.arm, run.hung.rod)
    for n in (0, 3, 8):
        rise = 650 * math.sin(end.lean[n])
        assert (end.left[n], end.right[n]) == pytest.approx((15 + rise, 15 - rise))
        found = axle_poses(run.held.axle, np.array([15 + rise]), np.array([15 - rise]))
        turn, shift = found.turn[0], found.shift[0]
        up = np.array([0, -math.sin(end.lean[n]), math.cos(end.lean[n])])
        for side, (mirror, sign) in enumerate(((np.ones(3), 1.0), (MIRROR, -1.0))):
            inner = np.array(run.hung.rod) * mirror + [0, 12, 0]
            pins = low * mirror, high * mirror

            def off(angle: float, turn=turn, shift=shift, inner=inner, pins=pins, mirror=mirror) -> float:
                return float(np.linalg.norm(turn @ turned(*pins, arm * mirror, angle) + shift - inner) - length)

            angle = brentq(off, -0.6, 0.6, xtol=1e-13)
            way = (pins[1] - pins[0]) / np.linalg.norm(pins[1] - pins[0])
            axis = turn @ Rotation.from_rotvec(angle * way).apply([0, 1, 0])
            assert end.toe_in[n, side] == pytest.approx(-sign * heading(axis), abs=1e-8)
            assert end.camber[n, side] == pytest.approx(-sign * math.asin(axis @ up), abs=1e-8)


def test_a_drag_link_turns_the_left_wheel_and_a_tie_rod_the_right_one(rod: Job) -> None:
    job = typed(rod, *DRAG)
    run = run_of(job)
    told = {name: np.linalg.norm(outer - inner, axis=-1) for name, inner, outer in rods(run, run.found)}
    assert set(told) == {"drag link", "tie rod"}
    assert told["drag link"] == pytest.approx(700)
    assert told["tie rod"] == pytest.approx(2 * 530)
    low, high, arm = (np.array(getattr(run.hung, name)) for name in ("lower", "upper", "arm"))
    row, column = 16, 4
    end = turned(low, high, arm, run.found.left.turn[row, column])

    def off(angle: float) -> float:
        return float(np.linalg.norm(turned(low * MIRROR, high * MIRROR, arm * MIRROR, angle) - end) - 2 * 530)

    assert run.found.right.turn[row, column] == pytest.approx(brentq(off, -0.6, 0.6, xtol=1e-13), abs=1e-9)
    made = links_made(typed(job, "beam front eye head 32 housing 12 ball 16"))["front"].links
    assert [link.name for link in made] == ["drag link", "tie rod"]


def test_a_drag_link_that_swings_as_the_springs_do_steers_nothing(rod: Job) -> None:
    """The seat swings about a place three quarters of its front arm ahead, on the line of the eyes; a rod from there
    to the arm's end beside the seat goes along with it."""

    def bump(job: Job) -> float:
        run = run_of(job)
        return math.degrees(np.ptp(run.told.left[:, run.straight]))

    def found(job: Job) -> set[str]:
        return {s.code for s in find_snags(job) if s.step == "run"}

    bad = typed(rod, *DRAG)
    assert bump(bad) > 2
    assert "bump steer" in found(bad)
    swing = run_of(rod).held.links[0]  # the upper and lower of both links have the seat between them
    ahead = float(swing.inner[0])
    good = typed(rod, f"beam front rod {ahead:.0f}, 430, 360", "beam front drag 0, 430, 310", "beam front pivot none")
    assert bump(good) < 0.3
    assert "bump steer" not in found(good)
    words = next(plain(s.what) for s in find_snags(bad) if s.code == "bump steer")
    assert words.startswith("With the steering held the front left wheel steers ")


def test_what_is_told_over_travel_is_that_of_an_axle_on_the_same_springs(rod: Job) -> None:
    run = run_of(rod)
    axle = run.held.told.curves
    assert run.told.ahead[:, 0] == pytest.approx(axle.ahead[::2, run.held.straight])
    assert run.told.roll_steer[0, 0] == pytest.approx(axle.roll_steer[0, run.held.straight])
    caster = math.atan2(24, 150)
    noses = axle.pinion[::2, run.held.straight]
    assert run.told.caster[:, 0] == pytest.approx(caster + noses, abs=2e-4)
    names = [f.name for f in figures_of(run.hung)]
    assert {"bump steer", "roll centre"} <= set(names)
    assert "bump steer" not in [f.name for f in figures_of(run.hung.but(on=None))]
    (told,) = leaves(rod)
    assert told.roll == pytest.approx(told.rate * 660**2 / 2)
    assert roll_stiffnesses(rod)[0] == pytest.approx(told.roll)


def test_its_springs_give_its_wheels_loads_to_their_eyes(rod: Job) -> None:
    told = axle_reactions(rod, "front", np.array([0.0, 650, 0]), np.array([0.0, 0, 3000]), np.zeros(3))
    assert sum(f for *_, f in told) == pytest.approx([0, 0, 3000], abs=1e-6)
    joints = {name: on for name, on, _, _ in told}
    assert joints["left front eye"] == ("J1L",)
    assert joints["right shackle"] == ("J2R",)
    links = ("beam front on ladder J2L rod J1R", "beam front leaf front 330 rear 330 lies across")
    across = typed(rod, *links)
    told = axle_reactions(across, "front", np.array([0.0, 650, 0]), np.array([500.0, 0, 3000]), np.zeros(3))
    assert sum(f for *_, f in told) == pytest.approx([500, 0, 3000], abs=1e-6)
    assert {"left end of the leaf spring", "track rod"} <= {name for name, *_ in told}


def test_it_sweeps_its_rods_springs_and_tyres_over_travel_and_lock(rod: Job) -> None:
    swept = {b.id: b for b in swept_bodies(typed(rod, *DRAG))}
    assert {"front drag link", "front tie rod", "front left leaf spring, front", "front axle", "W1"} <= set(swept)
    told = plain(" ".join(swept["W1"].labels))
    assert "at 60.0 mm up, drop arm" in told
    assert len(swept["W1"].solids) == 9 * 9 + 2 * 5 * 3  # level, and leaning both ways
    leant = [plain(words) for words in swept["W1"].labels[81:]]
    assert leant[0] == "at 60.0 mm down, 4.0° of roll, right wheel up, drop arm 20.0° to the right"
    assert leant[-1] == "at 60.0 mm up, 4.0° of roll, left wheel up, drop arm 20.0° to the left"
    kinds = {line.what for line in drawn(rod, beam_at(rod, "front", 40.0, 10.0))}
    assert kinds == {"link", "spring", "body"}


@pytest.mark.parametrize("lines", [(), DRAG])
@pytest.mark.parametrize(("side", "mirror"), [("left", 1), ("right", -1)])
def test_rods_that_steer_hold_the_wheels_and_all_is_in_balance(
    rod: Job, lines: tuple[str, ...], side: str, mirror: int
) -> None:
    job = typed(rod, *lines)
    at, force = np.array([0.0, 650 * mirror, 0]), np.array([-900.0, 500, 3000])
    told = link_reactions(job, f"front {side}", at, force)
    assert sum(push for _, _, _, push in told) == pytest.approx(force, abs=1e-6)
    moments = sum(np.cross(place, push) for _, _, place, push in told)
    assert moments == pytest.approx(np.cross(at, force), abs=1e-3)
    hung = job.beams[0]
    rods_told = [(name, place, push) for name, _, place, push in told if "rod" in name or "drag" in name]
    (name, place, push) = rods_told[0]
    assert name == ("drag link" if lines else f"{side} tie rod")
    turn = np.array([1, mirror, 1])
    low, high = np.array(hung.lower) * turn, np.array(hung.upper) * turn
    pin = (high - low) / np.linalg.norm(high - low)
    wheel = pin @ np.cross(at - low, force)  # what would turn it about its kingpin
    if not lines:
        assert wheel + pin @ np.cross(np.array(hung.arm) * turn - low, -push) == pytest.approx(0, abs=1e-6)
        along = (np.array(hung.arm) - hung.rod) * turn
    else:
        along = np.array(hung.drag) - hung.rod
        pins, lows = pin, np.array(hung.lower)
        if side == "right":  # by the tie rod across, square to nothing but the car's length and height
            arm = np.array(hung.arm) * turn
            pull = -wheel / (pin @ np.cross(arm - low, [0, 1, 0]))
            pins = np.array(hung.upper) - lows
            pins = pins / np.linalg.norm(pins)
            wheel = pins @ np.cross(np.array(hung.arm) - lows, [0, -pull, 0])
        assert wheel + pins @ np.cross(np.array(hung.drag) - lows, -push) == pytest.approx(0, abs=1e-6)
    assert np.cross(push, along) == pytest.approx(np.zeros(3), abs=1e-6)  # it only pulls and pushes
    assert place == pytest.approx(np.array(hung.rod) * (1 if lines else turn))


def test_its_rods_are_among_the_links_that_cases_load(rod: Job) -> None:
    job = typed(rod, "mass 300 Engine at -900 0 450")
    assert {link.name for link in axial_links(job)} == {"tie rod"}
    assert set(axial_links(job)[0].ways) == {"front left tie rod", "front right tie rod"}
    (drag,) = axial_links(typed(job, *DRAG))
    assert (drag.name, drag.length) == ("drag link", pytest.approx(700))


def test_a_rod_through_its_kingpin_holds_nothing(rod: Job) -> None:
    job = typed(rod, "beam front arm 12, 560, 200")
    with pytest.raises(Problem, match="they run through the kingpins"):
        link_reactions(job, "front left", np.array([0.0, 650, 0]), np.array([100.0, 0, 3000]))


def test_effects_tell_of_its_springs_too(rod: Job) -> None:
    still = beam_at(rod, "front", 30.0, 5.0)
    told = {of.point: of for of in effects_at(rod, still)}
    assert {"tie rod, inner", "steering arm's end", "leaf, front eye", "leaf, shackle"} <= set(told)
    assert (told["leaf, front eye"].joint, still.travel) == ("J1L", 30.0)


@pytest.mark.parametrize(
    ("lines", "says"),
    [
        (("beam front on none", "beam front on seat 0, 0, 0"), "The front beam stays where it is"),
        (("beam front on rod out 0, 0, 0",), "has no rod out, for it does not hang so"),
        (("beam front on leaf eyes J1L J9L",), "J9L"),
        (("beam front on wheels",), "beam’s hold has no ‘wheels’"),
        (("beam front drag -150, 60, 250",), "drag link would have no length"),
    ],
)
def test_what_can_not_be_is_refused(rod: Job, lines: tuple[str, ...], says: str) -> None:
    *before, line = lines
    with pytest.raises(Problem) as refused:
        understand(line, typed(rod, *before))
    assert says in plain(str(refused.value))


def test_a_beam_whose_joint_has_gone_is_told(rod: Job) -> None:
    job = rod.but(beams=(rod.beams[0].but(on=rod.beams[0].on.but(eye="J99L")),))
    assert "hung at J99L, which has gone" in {s.code: plain(s.what) for s in find_snags(job)}["beam incomplete"]


def test_coil_overs_carry_a_beam_on_links(rod: Job) -> None:
    lines = ("beam front on ladder J2L rod J1R", "beam front on spring J4L", "beam front on spring out 0, 330, 300")
    job = typed(typed(rod, "joint 0 330 660"), "tube 40 x 2", chosen=("J4L", "J1L"))
    job = typed(job, *lines, "beam front rate 45", "mass 300 engine at -400 0 400")
    run = run_of(job)
    of = sprung(job)["front"]
    top = np.array(job.joint_by_id["J4L"].place)
    foot = np.array([0.0, 330, 300])
    for row in (0, 10, 20):
        turn, shift = run.found.turned[row], run.found.shift[row]
        length = float(np.linalg.norm(turn @ foot + shift - top))
        assert of.over.length[2 * row, of.middle[1]] == pytest.approx(length, abs=1e-6)
    still = beam_at(job, "front", 20.0, 4.0)
    here = springs_at(job, still)
    assert here is not None
    assert float(here.load[0, 0]) > of.over.load[of.middle]
    assert roll_stiffnesses(job)[0] == pytest.approx(of.roll)
    assert {"ride frequency", "bump steer"} <= {f.name for f in figures_of(job.beams[0])}
    told = axle_reactions(job, "front", np.array([0.0, 650, 0]), np.array([200.0, 0, 3000]), np.zeros(3))
    assert sum(f for *_, f in told) == pytest.approx([200, 0, 3000], abs=1e-6)
    assert "left coil-over" in {name for name, *_ in told}
    banded = typed(job, "band front ride frequency 90 to 99")
    assert "out of band" in {s.code for s in find_snags(banded)}
    with pytest.raises(Problem, match="stands on leaf springs"):
        understand("beam front on spring J1L", rod)
    with pytest.raises(Problem, match="stays where it is"):
        understand("beam front on spring J1L", typed(rod, "beam front on none"))
