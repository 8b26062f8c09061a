"""Chain, shaft, tyre and stance against hand-worked figures and closed forms."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.car import chain, driveshaft
from ironcage.core.calc.car.stance import contacts_of, stand
from ironcage.core.calc.car.tyre import read_tyre
from ironcage.problem import Problem

LEFT = np.array([0.0, 1, 0])


def test_equal_sprockets_need_two_straight_runs_and_one_sprocket_of_teeth() -> None:
    assert chain.length_in_pitches(12.7, (17, 17), 635.0) == pytest.approx(2 * 635 / 12.7 + 17, abs=1e-12)


def test_chain_length_agrees_with_the_textbook_series() -> None:
    """Independent road: 2C/p + (z1+z2)/2 + ((z2−z1)/2π)²·p/C, good to the fourth order of the lean."""
    for z1, z2, c in ((13, 40, 700.0), (15, 52, 430.0), (20, 21, 300.0)):
        p = 15.875
        series = 2 * c / p + (z1 + z2) / 2 + ((z2 - z1) / (2 * math.pi)) ** 2 * p / c
        assert chain.length_in_pitches(p, (z1, z2), c) == pytest.approx(series, abs=0.03)


@given(st.integers(9, 25), st.integers(20, 70), st.floats(350, 1500))
def test_links_are_even_reach_round_and_lie_tight_where_it_is_said(small: int, large: int, centres: float) -> None:
    fit = chain.fit(15.875, (small, large), centres)
    assert fit.links % 2 == 0
    assert fit.needed <= fit.links + chain.SNUG + 1e-9 < fit.needed + 2 + 1e-6
    assert chain.length_in_pitches(15.875, (small, large), fit.centres) == pytest.approx(fit.links, abs=1e-8)
    assert fit.take_up >= -chain.SNUG * 15.875
    assert sum(fit.wraps) == pytest.approx(2 * math.pi)


def test_wear_moves_the_axle_by_half_of_what_the_chain_grows() -> None:
    fit = chain.fit(12.7, (20, 20), 500.0, wear=0.02)
    assert fit.worn == pytest.approx(0.02 * fit.links * 12.7 / 2)


@pytest.mark.parametrize("centres", [140, 200, 430])
def test_a_worn_chain_lies_tight_where_its_take_up_says(centres: float) -> None:
    """The longer chain on the same pitch circles, looked up at the centres it is said to need: on unequal wheels,
    not half its growth."""
    made = chain.fit(15.875, (13, 40), centres, wear=0.015)
    assert chain.length_in_pitches(15.875, (13, 40), made.centres + made.worn) == pytest.approx(made.links * 1.015)
    assert made.worn < 0.015 * made.links * 15.875 / 2 / math.cos(math.asin(68 / centres))


def test_a_chain_short_by_a_hair_fits() -> None:
    """98 links that lack 0.0004 of a pitch are 98, with nothing to take up and no sag, not 100 and most of a pitch."""
    centres = chain.centres_for(15.875, (15, 45), 98.0004)
    made = chain.fit(15.875, (15, 45), centres)
    assert made.links == 98
    assert made.take_up == pytest.approx(0, abs=0.01)
    assert made.sag == 0
    assert chain.fit(15.875, (15, 45), chain.centres_for(15.875, (15, 45), 98.02)).links == 100


def test_a_shaft_out_of_line_is_told_in_plan_and_in_elevation_and_mended_at_the_block() -> None:
    yaw, tilt = math.radians(0.8), math.radians(-0.5)
    axis = np.array([math.sin(yaw) * math.cos(tilt), math.cos(yaw) * math.cos(tilt), math.sin(tilt)])
    found = chain.line((np.zeros(3), LEFT), (np.array([-600.0, 4.0, 30.0]), -3 * axis))
    assert found.plan == pytest.approx(yaw)
    assert found.elevation == pytest.approx(tilt)
    assert found.offset == pytest.approx(4.0)
    mend = chain.mend(found, 300.0, 40.0)
    # the right block moved so: the shaft from right to left then lies along LEFT
    left = 300 * axis / axis[1]
    straight = left - np.array([mend.forward, 0, mend.up / math.cos(yaw)])
    assert abs(straight[0]) < 1e-9
    assert abs(straight[2]) < 1e-9
    assert mend.along == pytest.approx(-4.0)


def test_a_bearing_block_drilled_off_centre_is_found_out_by_flipping_it() -> None:
    span = 280.0
    found = chain.ChainLine(0.0, math.atan2(-1.6, span), 0.0, 0.0, (0.0, 0.0))  # left end 1.6 low: its bore is 0.8 low
    best = chain.blocks(found, span, -0.8, 0.0)[0]
    assert best.words in ("left block flipped", "both blocks flipped")
    assert abs(best.leaves) < 1e-6


def test_the_runs_touch_both_pitch_circles() -> None:
    p, q = np.array([0.0, 20, 300]), np.array([-650.0, 20, 330])
    for one, other in chain.runs((p, 40.0), (q, 110.0), LEFT).values():
        way = (other - one) / np.linalg.norm(other - one)
        assert np.linalg.norm(one - p) == pytest.approx(40)
        assert np.linalg.norm(other - q) == pytest.approx(110)
        assert (one - p) @ way == pytest.approx(0, abs=1e-9)
        assert (other - q) @ way == pytest.approx(0, abs=1e-9)
    assert chain.runs((p, 40.0), (q, 110.0), LEFT)["upper"][0][2] > 300


@pytest.mark.parametrize(
    ("act", "words"),
    [
        (lambda: chain.fit(12.7, (17, 40), 90.0), "overlap"),
        (lambda: chain.pitch_radius(3, 12.7), "3 teeth"),
        (
            lambda: chain.line((np.zeros(3), LEFT), (np.array([-500.0, 0, 0]), np.array([0.9, 1.0, 0]))),
            "do not face|across",
        ),
        (lambda: chain.line((np.zeros(3), LEFT), (np.array([-500.0, 0, 0]), np.array([1.0, 0, 0]))), "across"),
        (
            lambda: driveshaft.angles(
                np.zeros(3), np.array([-500.0, 0, 0]), np.array([0.0, 1, 0]), np.array([-1.0, 0, 0])
            ),
            "cannot turn",
        ),
        (lambda: read_tyre("205/50/15/3"), "not a tyre size"),
        (lambda: read_tyre("22 by 7"), "22 mm diameter"),
    ],
)
def test_what_cannot_be_is_refused_in_one_sentence(act, words: str) -> None:
    with pytest.raises(Problem, match=words):
        act()


REAR = np.array([-1.0, 0, 0])


def test_a_shaft_between_parallel_axes_cancels_in_phase_and_doubles_out_of_it() -> None:
    start, stop = np.array([0.0, 0, 300]), np.array([-1000.0, 0, 200])
    made = driveshaft.angles(start, stop, REAR, REAR)
    assert made.first == pytest.approx(math.atan(0.1))
    assert made.side == pytest.approx((-math.atan(0.1), -math.atan(0.1))) or made.side == pytest.approx(
        (math.atan(0.1),) * 2
    )
    assert made.plan == pytest.approx((0, 0))
    assert made.left_over == pytest.approx(0, abs=1e-7)
    out = driveshaft.angles(start, stop, REAR, REAR, phase=math.pi / 2)
    assert out.left_over == pytest.approx(math.sqrt(2) * made.first)


def test_one_bent_joint_swings_as_the_exact_law_says() -> None:
    """Independent road: the driven end runs between cos β and 1/cos β of the driving one."""
    bend = math.radians(12)
    made = driveshaft.angles(
        np.zeros(3),
        800 * np.array([-math.cos(bend), 0, math.sin(bend)]),
        REAR,
        np.array([-math.cos(bend), 0, math.sin(bend)]),
    )
    exact = (1 / math.cos(bend) - math.cos(bend)) / 2
    assert made.second == pytest.approx(0, abs=1e-7)
    assert made.swing == pytest.approx(exact, rel=0.03)


def test_plunge_is_the_change_of_length_over_travel() -> None:
    short, long = driveshaft.plunge(np.zeros(3), np.array([-400.0, 0, 0]), np.array([[0, 0, 80.0], [30, 0, 0]]))
    assert long == pytest.approx(math.hypot(400, 80) - 400)
    assert short == pytest.approx(-30)


@pytest.mark.parametrize(
    ("code", "diameter", "width"),
    [
        ("205/50R15", 2 * 102.5 + 381, 205),
        ("22x7-10", 558.8, 177.8),
        ("570 by 165", 570, 165),
        ("LT 235/75 R 15", 2 * 176.25 + 381, 235),
    ],
)
def test_tyre_codes_give_diameter_and_width(code: str, diameter: float, width: float) -> None:
    tyre = read_tyre(code)
    assert (tyre.diameter, tyre.width) == pytest.approx((diameter, width))


def test_corner_loads_balance_the_weight_and_its_moments() -> None:
    cg = np.array([-1300.0, 40, 420])
    made = stand(500, cg, contacts_of(0, -2300, 1320, 1300))
    places = np.array([[0, 660], [0, -660], [-2300, 650], [-2300, -650]])
    loads = np.array(made.corners)
    assert loads.sum() == pytest.approx(500)
    assert loads @ places[:, 0] / 500 == pytest.approx(-1300)
    assert loads @ places[:, 1] / 500 == pytest.approx(40)
    assert made.front_lifts == pytest.approx(1000 / 420)
    assert made.rear_lifts == pytest.approx(1300 / 420)
    assert made.tips_left < made.tips_right
    even = stand(500, np.array([-1150.0, 0, 400]), contacts_of(0, -2300, 1400, 1400))
    assert math.tan(even.tips_left) == pytest.approx(700 / 400)


@pytest.mark.parametrize("cg", [(-1150.0, 900.0, 400.0), (-2400.0, 0.0, 400.0), (50.0, 0.0, 400.0)])
def test_a_car_that_falls_over_at_rest_is_refused_in_words(cg: tuple[float, float, float]) -> None:
    with pytest.raises(Problem, match="falls over at rest: its centre of gravity is outside its wheels"):
        stand(500, np.array(cg), contacts_of(0, -2300, 1320, 1300))


def test_a_wheel_that_would_have_to_pull_carries_nothing_at_rest() -> None:
    """A narrow front axle under a load beyond its own track: three wheels carry the car, in balance."""
    cg = np.array([-2000.0, 350.0, 400.0])
    made = stand(500, cg, contacts_of(0, -2300, 400, 1400))
    assert min(made.corners) == 0
    places = contacts_of(0, -2300, 400, 1400)
    assert np.array(made.corners) @ (places - cg)[:, :2] == pytest.approx([0, 0], abs=1e-9)
