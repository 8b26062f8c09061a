"""Wheels on swinging arms, against closed forms and rotations by another package."""

import math

import numpy as np
import pytest
from scipy.optimize import brentq
from scipy.spatial.transform import Rotation

from ironcage.core.calc.linkage.swing import SwingArm, swing_curves, swing_poses

RADIUS, TRAVEL = 300.0, np.linspace(-80, 80, 33)
ACROSS = np.array([0.0, 1.0, 0.0])
WHEEL = np.array([-2300.0, 650.0, RADIUS])


def trailing(height: float = RADIUS) -> SwingArm:
    """An axis straight across the car, 500 ahead of the wheel."""
    return SwingArm(np.array([[-1800, 300, height], [-1800, 500, height]]), WHEEL, ACROSS, RADIUS)


def semi_trailing() -> SwingArm:
    return SwingArm(np.array([[-1900.0, 150, 280], [-1750, 520, 310]]), WHEEL, ACROSS, RADIUS)


def swing_axle() -> SwingArm:
    """An axis along the car, 150 beside its middle."""
    return SwingArm(np.array([[-2200.0, 150, RADIUS], [-2400, 150, RADIUS]]), WHEEL, ACROSS, RADIUS)


def test_a_trailing_arm_swings_on_a_circle_and_keeps_camber_and_toe() -> None:
    told = swing_curves(swing_poses(trailing(), TRAVEL))
    assert told.ahead == pytest.approx(500 - np.sqrt(500**2 - TRAVEL**2), abs=1e-9)
    assert np.abs([told.camber, told.toe_in, told.out, told.roll_centre]).max() < 1e-9
    middle = len(TRAVEL) // 2
    assert told.anti[middle] == pytest.approx(RADIUS / 500)  # the contact is so far under the axis, and behind it
    assert swing_curves(swing_poses(trailing(0.0), np.zeros(1))).anti[0] == pytest.approx(0, abs=1e-12)


def test_a_swing_axle_leans_the_wheel_and_rolls_about_its_pivots() -> None:
    told = swing_curves(swing_poses(swing_axle(), TRAVEL))
    assert np.sin(told.camber) == pytest.approx(-TRAVEL / 500, abs=1e-12)  # its top goes in as it rises
    middle = len(TRAVEL) // 2
    # from the contact through the pivot to the middle of the car
    assert told.roll_centre[middle] == pytest.approx(RADIUS * 650 / 500)
    assert told.ahead == pytest.approx(0, abs=1e-9)


@pytest.mark.parametrize("make", [trailing, semi_trailing, swing_axle])
def test_every_point_turns_about_the_axis_as_another_package_turns_it(make) -> None:
    arm = make()
    found = swing_poses(arm, TRAVEL)
    assert found.at(arm.wheel)[:, 2] == pytest.approx(arm.wheel[2] + TRAVEL, abs=1e-9)
    along = (arm.hinge[1] - arm.hinge[0]) / np.linalg.norm(arm.hinge[1] - arm.hinge[0])
    for n, travel in enumerate(TRAVEL):

        def risen(angle: float, travel: float = travel) -> float:
            turned = Rotation.from_rotvec(angle * along).apply(arm.wheel - arm.hinge[0]) + arm.hinge[0]
            return float(turned[2] - arm.wheel[2] - travel)

        angle = brentq(risen, -0.6, 0.6, xtol=1e-13)
        for point in (np.array([-2100.0, 400, 350]), arm.wheel):
            wanted = Rotation.from_rotvec(angle * along).apply(point - arm.hinge[0]) + arm.hinge[0]
            assert found.at(point)[n] == pytest.approx(wanted, abs=1e-7)


@pytest.mark.parametrize("make", [trailing, semi_trailing, swing_axle])
def test_moves_are_how_places_change_over_the_travel(make) -> None:
    arm, step, foot = make(), 1e-3, np.array([-2150.0, 420, 340])
    before, here, after = (swing_poses(arm, TRAVEL + d) for d in (-step, 0.0, step))
    by_step = (after.at(foot) - before.at(foot)) / (2 * step)
    assert here.moves(here.at(foot)) == pytest.approx(by_step, abs=1e-6)


def test_a_wheel_does_not_rise_further_than_its_arm_is_long() -> None:
    found = swing_poses(trailing(), np.array([0.0, 499.0, 501.0]))
    assert found.closed.tolist() == [True, True, False]
    assert math.isnan(swing_curves(found).ahead[2])
