"""Stub axles on kingpins against plane geometry, and turns against wheels that roll on one centre."""

import math

import numpy as np
import pytest

from ironcage.core.calc.linkage.steering import KingpinWheel, steered, turn_of

UP = np.array([0.0, 0.0, 1.0])


def stub(caster: float = 0.0, lean: float = 0.0) -> KingpinWheel:
    """A left stub axle: its arm 100 to the rear and 20 in, its wheel 60 out of an upright kingpin."""
    pin = np.array([-math.tan(caster), -math.tan(lean), 1.0])
    return KingpinWheel(
        np.array([0.0, 400.0, 130.0]),
        pin / np.linalg.norm(pin),
        np.array([-100.0, 380.0, 130.0]),
        np.array([0.0, 460.0, 130.0]),
        np.array([0.0, 1.0, 0.0]),
        130.0,
    )


def test_a_rod_pulls_its_arm_round_an_upright_kingpin() -> None:
    """In the plane: the arm's end is where its circle about the kingpin crosses the rod's about its inner end."""
    s, start = stub(), np.array([-100.0, 60.0, 130.0])
    length = 320.0
    inner = start + np.array([[0.0, 0, 0], [0, 30, 0], [0, -25, 0]])
    made = steered(s, inner, length)
    assert made.turn[0] == pytest.approx(0, abs=1e-12)
    for end, turn in zip(inner, made.turn, strict=True):
        c, n = math.cos(turn), math.sin(turn)
        arm = np.array([-100 * c + 20 * n, 400 - 100 * n - 20 * c])
        assert math.dist(arm, end[:2]) == pytest.approx(length, abs=1e-9)
    assert made.steer == pytest.approx(made.turn)
    assert made.steer[1] < 0 < made.steer[2]  # an arm behind: the rack to the left steers right
    assert made.camber == pytest.approx(0, abs=1e-12)
    assert made.rise == pytest.approx(0, abs=1e-9)


def test_a_leaning_kingpin_lifts_the_car_and_cambers_the_wheel() -> None:
    inner = np.array([[-100.0, 35.0, 130.0]])
    left = steered(stub(lean=math.radians(10)), inner, 320.0)
    assert left.steer[0] > math.radians(10)
    assert left.rise[0] > 0.3
    castered = steered(stub(caster=math.radians(15)), inner, 320.0)
    assert castered.camber[0] > math.radians(1)  # caster tips the inner wheel's top out


def test_what_the_rod_does_not_reach_is_not_a_number() -> None:
    assert np.isnan(steered(stub(), np.array([[-100.0, -300.0, 130.0]]), 320.0).turn[0])


@pytest.mark.parametrize("way", [1, -1])
def test_wheels_that_roll_on_one_centre_have_all_of_ackermann(way: int) -> None:
    track, base, radius = 1100.0, 1600.0, 3500.0  # of the rear axle's middle
    inner, outer = math.atan(base / (radius - track / 2)), math.atan(base / (radius + track / 2))
    left, right = (inner, outer) if way > 0 else (-outer, -inner)
    made = turn_of(left, right, track, base)
    assert made.ackermann == pytest.approx(1)
    assert made.circle == pytest.approx(2 * math.hypot(base, radius + track / 2))
    parallel = turn_of(way * outer, way * outer, track, base)
    assert parallel.ackermann == pytest.approx(0, abs=1e-12)
    assert math.isnan(turn_of(0.0, 0.0, track, base).ackermann)


def test_wheels_in_one_place_have_no_ackermann() -> None:
    turn = turn_of(0.2, 0.1, 0.0, 1500.0)
    assert math.isnan(turn.ackermann)
    assert turn.circle == pytest.approx(3000 / math.sin(0.1))
