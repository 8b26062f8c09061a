"""A wheel in a fork against a closed form of its head, rims turned point by point, and statics."""

import math

import numpy as np
import pytest
from scipy.optimize import brentq
from scipy.spatial.transform import Rotation

from ironcage.core.calc.car.steerhead import SteerHead
from ironcage.core.calc.linkage.fork import Fork, ForkPoses, fork_curves, head_forces

RAKE, OFFSET, FRONT, REAR, WHEELBASE = math.radians(27), 60.0, 300.0, 285.0, 1500.0
PIN = np.array([-math.sin(RAKE), 0.0, math.cos(RAKE)])


@pytest.fixture
def fork() -> Fork:
    wheel = np.array([40.0, 0.0, FRONT])
    foot = wheel - OFFSET * np.array([math.cos(RAKE), 0.0, math.sin(RAKE)])
    return Fork(foot + 700 * PIN, foot + 480 * PIN, wheel, FRONT, np.array([40.0 - WHEELBASE, 0.0, REAR]), REAR)


def test_rake_and_trail_over_travel_are_those_of_a_head_whose_fork_gets_shorter(fork: Fork) -> None:
    assert fork.offset == pytest.approx(OFFSET, abs=1e-9)
    travel = np.array([-70.0, -20.0, 0.0, 35.0, 90.0])
    told = fork_curves(ForkPoses(fork, travel, np.zeros(1)))
    head = SteerHead(WHEELBASE, FRONT, REAR, RAKE, OFFSET)
    for n, up in enumerate(travel):
        moved = head.changed(fork=-float(up) / math.cos(RAKE))
        assert told.rake[n, 0] == pytest.approx(moved.angle, abs=1e-10)
        assert told.trail[n, 0] == pytest.approx(moved.trail, abs=1e-6)
        assert told.wheelbase[n, 0] == pytest.approx(moved.wheelbase, abs=1e-6)
    assert np.allclose(told.steer, 0)
    assert np.allclose(told.leans, 0)


@pytest.mark.parametrize(("up", "degrees"), [(0.0, 30.0), (45.0, -38.0), (-40.0, 12.0)])
def test_a_turned_wheel_stands_on_the_ground_as_its_rim_turned_point_by_point_does(
    fork: Fork, up: float, degrees: float
) -> None:
    told = fork_curves(ForkPoses(fork, np.array([up]), np.radians([degrees])))
    turn = Rotation.from_rotvec(math.radians(degrees) * PIN)
    angles = np.linspace(0, 2 * np.pi, 2_000_001)
    rim = FRONT * np.column_stack([np.cos(angles), np.zeros_like(angles), np.sin(angles)])
    rim = turn.apply(fork.wheel + rim - fork.low) + fork.low + up / math.cos(RAKE) * PIN
    axis = turn.apply([0.0, 1.0, 0.0])

    def ground(slope: float) -> np.ndarray:
        return np.array([math.sin(slope), 0.0, math.cos(slope)])

    slope = brentq(lambda s: (rim @ ground(s)).min() - (fork.rear @ ground(s) - REAR), -0.2, 0.2, xtol=1e-14)
    normal = ground(slope)
    contact = rim[(rim @ normal).argmin()]
    along = np.cross(axis, normal) / np.linalg.norm(np.cross(axis, normal))
    ahead = np.array([math.cos(slope), 0.0, -math.sin(slope)])
    down = ((fork.low - contact) @ normal) / (PIN @ normal)
    here = (0, 0)
    assert math.degrees(told.rake[here]) == pytest.approx(math.degrees(math.acos(PIN @ normal)), abs=1e-3)
    assert told.trail[here] == pytest.approx((fork.low - down * PIN - contact) @ along, abs=1e-3)
    assert math.degrees(told.steer[here]) == pytest.approx(math.degrees(math.asin(along[1])), abs=1e-3)
    assert math.degrees(told.leans[here]) == pytest.approx(-math.degrees(math.asin(axis @ normal)), abs=1e-3)
    straight = fork_curves(ForkPoses(fork, np.array([up]), np.zeros(1)))
    if up == 0:  # then the wheel stands on level ground straight ahead
        assert told.lifts[here] == pytest.approx((fork.low - contact) @ normal - fork.low[2], abs=1e-3)
    assert straight.lifts[here] == 0
    assert told.wheelbase[here] == pytest.approx((contact - fork.rear) @ ahead, abs=1e-3)
    assert np.sign(told.leans[here]) == np.sign(degrees)  # the wheel falls into the turn


def test_the_bearings_bear_what_the_wheel_is_pushed_with_but_for_what_turns_it(fork: Fork) -> None:
    at, force = np.array([40.0, 0.0, 0.0]), np.array([-800.0, 350.0, 2000.0])
    top, low = head_forces(fork, at, force)
    assert top + low == pytest.approx(force, abs=1e-9)
    assert top @ PIN == pytest.approx(0, abs=1e-9)
    left = np.cross(at - fork.low, force) - np.cross(fork.top - fork.low, top)
    assert left - (left @ PIN) * PIN == pytest.approx(np.zeros(3), abs=1e-6)
    trail = math.cos(RAKE) * SteerHead(WHEELBASE, FRONT, REAR, RAKE, OFFSET).trail
    assert abs(left @ PIN) == pytest.approx(350 * trail, rel=1e-9)
