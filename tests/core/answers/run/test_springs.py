"""Springs and dampers in a job: what is told of them, what is found, and what Prove takes from them."""

from dataclasses import replace

import numpy as np
import pytest

from ironcage.core.answers.findings.checks import find_snags
from ironcage.core.answers.prove.balance import roll_balance
from ironcage.core.answers.run import link_reactions, roll_stiffnesses
from ironcage.core.answers.run.corner import runs, stand_at
from ironcage.core.answers.run.holes import holes
from ironcage.core.answers.run.springchecks import CODES
from ironcage.core.answers.run.springs import Sprung, springs_at, sprung
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.car.springs import bar_stiffness
from ironcage.core.calc.linkage.wishbone import curves, poses
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, plain
from ironcage.samples import sample
from tests.core.lines import typed

CURE = "corner front spring out 4, 470, 188"


@pytest.fixture
def car() -> Job:
    return sample("sandpiper")


def front(job: Job) -> Sprung:
    return sprung(job)["front"]


def found(job: Job) -> dict[str, str]:
    return {s.code: plain(s.what) for s in find_snags(job) if s.code in CODES.values()}


def test_the_demos_dampers_are_solid_too_soon_and_the_second_hole_cures_it(car: Job) -> None:
    assert found(car) == {
        "damper solid": "The front dampers are solid at 38.4 mm up, before the travel that is typed in."
    }
    solid = stand_at(car, "front", front(car).ends["solid"], 0.0)
    assert float(solid.told.spring[0, 0]) == pytest.approx(390, abs=0.01)
    cured = typed(car, CURE)
    assert found(cured) == {}
    assert front(cured).ends == {"stop": pytest.approx(31.4, abs=0.1)}


def test_a_spring_carries_half_of_its_axle_less_what_moves_with_the_wheel(car: Job) -> None:
    of, weighed = front(car), weigh(car)
    assert of.rest.mass == pytest.approx(weighed.front_share * weighed.car.mass / 2 - 16)
    assert of.over.load[of.middle] == pytest.approx(of.rest.mass * 9.80665, rel=1e-6)
    assert of.over.squeeze[of.middle] == pytest.approx(of.rest.mass * 9.80665 / of.rest.ratio / 60, rel=1e-6)


def test_rate_is_how_the_load_changes_over_the_travel(car: Job) -> None:
    of = front(car)
    travel = np.linspace(-50, 50, len(of.over.load))
    by_load = np.gradient(of.over.load[:, of.middle[1]], travel)
    assert of.over.rate[2:-2, of.middle[1]] == pytest.approx(by_load[2:-2], rel=2e-4)
    here = springs_at(car, stand_at(car, "front", 25.0, 0.0))
    assert here is not None
    assert here.rate[0, 0] == pytest.approx(np.interp(25, travel, of.over.rate[:, of.middle[1]]), rel=2e-4)
    assert here.to_solid[0, 0] == pytest.approx(here.length[0, 0] - 390)


def test_the_rate_that_is_told_for_a_frequency_swings_so(car: Job) -> None:
    for swings, rate in front(car).rates().items():
        of = front(typed(car, f"corner front rate {rate:.4f}"))
        assert of.over.swings[of.middle] == pytest.approx(swings, abs=2e-4)


@pytest.mark.parametrize(
    ("lines", "code", "says"),
    [
        (["corner front solid 140"], "coil bind", "springs' coils touch at"),
        (["corner front open 395"], "damper full", "do not fit: 406.7 mm between their eyes"),
        (["corner front open 420"], "damper full", "are at full length at"),
        (["corner front closed 410"], "damper solid", "and 410.0 mm pressed together"),
        (["corner front rate 200"], "spring loose", "hang loose from"),
    ],
)
def test_what_ends_a_coil_over_is_found(car: Job, lines: list[str], code: str, says: str) -> None:
    assert says in found(typed(car, *lines))[code]


def test_prove_takes_roll_stiffness_from_springs_until_it_is_typed() -> None:
    litter = typed(sample("fell-litter"), "axle rear rate 30", "rollstiff front 0 rear 0")
    front_roll, rear_roll = roll_stiffnesses(typed(litter, "rollstiff front 300 N·m/deg"))
    assert rear_roll == sprung(litter)["rear"].roll > 0
    assert roll_balance(typed(litter, "rollstiff front 300 N·m/deg")).rigid == front_roll / (front_roll + rear_roll)
    typed_in = roll_stiffnesses(typed(litter, "rollstiff front 300 N·m/deg rear 200 N·m/deg"))
    assert typed_in[1] != rear_roll
    with pytest.raises(Problem, match="roll stiffness of both axles is not known"):
        roll_balance(litter)


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("corner front solid 200", "The spring would be 200.0 mm long with its coils touching and 190.0 mm alone"),
        ("corner front closed 500", "The damper would be 500.0 mm long pressed together and 445.0 mm at full length"),
        ("corner front rate soft", "soft"),
        ("corner rear camber 1", "rear"),
        ("corner front sprung 20", "The front corner has no ‘sprung 20’"),
    ],
)
def test_springs_that_can_not_be_are_refused(car: Job, line: str, says: str) -> None:
    with pytest.raises(Problem) as refused:
        understand(line, car)
    assert says in plain(str(refused.value))


def test_figures_that_are_not_known_are_left_open(car: Job) -> None:
    bare = typed(car, "corner front rate 0", "corner front closed 0", "corner front open 0", "corner front stop 0")
    of = front(bare)
    assert np.isnan(of.over.rate).all()
    assert np.isnan(of.over.to_solid).all()
    assert of.roll is None
    assert of.ends == {}
    assert sprung(edits.set_coil_over(car, "front", unsprung=900.0))["front"].rest.mass is None


def test_a_bar_adds_to_what_prove_takes_and_bad_ones_are_refused(car: Job) -> None:
    car = car.but(proving=car.proving.but(roll_front=0.0, roll_rear=0.0))  # typed ones go before
    before = roll_stiffnesses(car)
    job = understand("corner front bar od 22 bore 16 length 760 arm 180 ratio 0.6", car).job
    added = sprung(job)["front"].bar
    assert added == pytest.approx(bar_stiffness(22, 16, 760, 180, 0.6, 2 * 660))
    assert roll_stiffnesses(job) == pytest.approx((before[0] + added, before[1]))
    assert sprung(understand("corner front bar od 0", job).job)["front"].bar == 0
    for line, why in (
        ("corner front bar bore 30", "A bore of 30.0 mm leaves nothing of 22.0 mm"),
        ("corner front bar", "What is known of the anti-roll bar is incomplete"),
        ("corner front bar lenth 700", "no figure is called ‘lenth’. The nearest is length"),
    ):
        with pytest.raises(Problem) as refused:
            understand(line, job)
        assert why in plain(refused.value.sentence)


def test_a_rocker_is_put_between_moved_and_taken_out(car: Job) -> None:
    foot = car.wishbones[0].spring_out
    job = understand("corner front rocker J5L", car).job
    push = job.wishbones[0].push
    assert push.rod_out == foot
    ratio = sprung(job)["front"].rest.ratio
    assert ratio > 0  # pressed together as the wheel rises
    further = understand("corner front rod in 150, 225, 485", job).job  # a shorter arm turns further
    assert sprung(further)["front"].rest.ratio > ratio
    links = link_reactions(job, "front left", np.array([0.0, 660, 0]), np.array([0, 0, 2000.0]))
    assert {name: joints for name, joints, _, _ in links}["rocker, push rod"] == ("J5L",)
    assert sum(force for *_, force in links) == pytest.approx([0, 0, 2000], abs=1e-6)
    assert (
        understand("corner front rocker none", job).job.wishbones[0].but(eyes=car.wishbones[0].eyes)
        == (car.wishbones[0])
    )
    short = understand("corner front rod in 150, 195, 456", job).job
    assert "push rod turns its rocker no further" in " ".join(plain(s.what) for s in find_snags(short))
    for line, why in (
        ("corner front rocker J9L", "The coil-over is hung at J9L, so the rocker needs a joint of its own"),
        ("corner front rocker J5R", "is on the right"),
        ("corner front rocker axis 150, 192.5, 452.5", "has no direction"),
    ):
        with pytest.raises(Problem) as refused:
            sprung(understand(line, job).job)
        assert why in plain(refused.value.sentence)
    with pytest.raises(Problem, match="has no rocker"):
        understand("corner front rod in 0, 0, 0", car)


def test_springs_that_push_less_the_further_wheels_go_are_found(car: Job) -> None:
    lying = typed(car, "corner front spring out 4, 300, 380", "corner front rate 5")  # a lever that shortens quickly
    over = front(lying).over
    assert over.rate[over.rate.shape[0] // 2, over.rate.shape[1] // 2] < 0
    said = [plain(s.what) for s in find_snags(lying) if s.code == "rate falls"]
    assert said == ["From 0.0 mm up on, the front wheels’ springs push less the further the wheels go."]
    assert not [s for s in find_snags(car) if s.code == "rate falls"]


def test_an_air_spring_carries_what_it_does_and_stiffens_as_its_air_is_pressed(car: Job) -> None:
    aired = typed(car, "corner front air across 70 column 180")
    of, coils = front(aired), front(car)
    assert aired.wishbones[0].coil.rate == 0
    assert of.over.load[of.middle] == pytest.approx(coils.over.load[coils.middle])  # the car weighs the same
    area = np.pi / 4 * 70**2
    pressure = of.rest.force / area
    assert of.rest.pressure(of.coil) == pytest.approx(pressure)
    assert front(car).rest.pressure(front(car).coil) is None
    shorter = of.rest.length - of.over.length[-1, of.middle[1]]
    by_law = ((pressure + 0.1013) * (180 / (180 - shorter)) ** 1.3 - 0.1013) * area
    assert of.over.force[-1, of.middle[1]] == pytest.approx(by_law)
    travel = np.linspace(-50, 50, len(of.over.load))
    by_load = np.gradient(of.over.load[:, of.middle[1]], travel)
    assert of.over.rate[2:-2, of.middle[1]] == pytest.approx(by_load[2:-2], rel=3e-3)
    assert of.roll is not None
    assert of.rates() == {}  # its load tells its rate
    back = typed(aired, "corner front rate 60")
    assert front(back).roll == pytest.approx(coils.roll)
    assert typed(aired, "corner front air across 0").wishbones[0].coil.air.known is False


def test_other_holes_tell_how_low_the_car_stands_and_swings(car: Job) -> None:
    assert holes(car) == {}
    job = typed(car, "corner front hole 4, 470, 188", "corner front hole 4, 470, 206")
    lower, higher = holes(job)["front"]
    assert lower.place == (4, 470, 188)
    moved = typed(job, CURE)
    of, coil = front(car), front(car).coil
    still = stand_at(moved, "front", lower.lower, 0.0)  # where the wheel stands under the car, by the other foot
    free = of.rest.force / coil.rate + of.rest.length
    load = (free - still.told.spring[0, 0]) * coil.rate * still.told.motion_ratio[0, 0]
    assert load == pytest.approx(of.rest.mass * 9.80665, rel=1e-3)
    assert lower.ratio == pytest.approx(still.told.motion_ratio[0, 0], rel=1e-3)
    assert lower.lower > 0 > higher.lower
    assert lower.rate > 0
    assert typed(job, "corner front hole none").wishbones[0].coil.holes == ()
    unknown = typed(job, "corner front rate 0")
    assert holes(unknown)["front"][0].lower is None


def test_a_bump_stop_is_told_for_the_share_of_the_travel_where_it_is_to_touch(car: Job) -> None:
    long = typed(car, "corner front closed 370")
    stops = front(long).stops
    for share, height in stops.items():
        stopped = typed(long, f"corner front stop {height:.4f}")
        assert front(stopped).ends["stop"] == pytest.approx(share * long.wishbones[0].up, abs=1e-2)
    assert set(stops) == {0.5, 0.75}
    assert front(typed(car, "corner front closed 0")).stops == {}


def test_another_hole_for_the_top_moves_no_arm_that_hangs_at_the_same_joint(car: Job) -> None:
    job = typed(car, "corner front top hole -150, 230, 478")
    assert job.wishbones[0].spring in job.wishbones[0].upper
    (hole,) = holes(job)["front"]
    assert hole.top
    of, coil, run = front(car), front(car).coil, runs(car)[0]
    moved = replace(run.corner, spring_in=np.array([-150.0, 230.0, 478.0]))
    told = curves(poses(moved, np.array([hole.lower]), np.zeros(1)))
    free = of.rest.force / coil.rate + of.rest.length
    load = (free - told.spring[0, 0]) * coil.rate * told.motion_ratio[0, 0]
    assert load == pytest.approx(of.rest.mass * 9.80665, rel=1e-3)
    assert hole.lower < 0  # a top that is lower presses the spring further and lifts the car
    assert hole.ratio == pytest.approx(told.motion_ratio[0, 0], rel=1e-3)
    assert typed(job, "corner front top hole none").wishbones[0].coil.tops == ()
    taken = typed(car, "corner front top hole J5L")  # a joint stands there: its own place is taken
    assert holes(taken)["front"][0].lower is None


@pytest.mark.parametrize(
    ("lines", "says"),
    [
        (("corner front top hole 4, 470, 188", "corner front top hole 4, 470, 188.2"), "There is a hole at that place"),
        (("corner front hole 4, 470, 188", "corner front hole 4, 470, 188.2"), "There is a hole at that place already"),
        (tuple(f"corner front hole {n}, 470, 188" for n in range(9)), "8 holes are kept at most"),
        (("corner front air od 70",), "no figure is called ‘od’"),
        (("beam rear hole 1, 2, 3",), "The rear beam has no ‘hole 1,’"),
    ],
)
def test_holes_and_air_that_can_not_be_are_refused(car: Job, lines: tuple[str, ...], says: str) -> None:
    *before, line = lines
    with pytest.raises(Problem) as refused:
        understand(line, typed(car, *before))
    assert says in plain(str(refused.value))
