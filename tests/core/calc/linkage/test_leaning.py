"""Both wheels of an end as the car leans, against instant centres drawn in a plane and contacts found by search."""

import math

import numpy as np
import pytest
from scipy.optimize import brentq, fsolve

from ironcage.core.calc.linkage.leaning import Side, SideAt, car_lean, leaning

LOWER_IN, LOWER_OUT = np.array([180.0, 210.0]), np.array([560.0, 190.0])  # in y and z
UPPER_IN, UPPER_OUT = np.array([240.0, 400.0]), np.array([530.0, 430.0])
WHEEL, RADIUS = np.array([640.0, 300.0]), 300.0


def placed(low: float) -> tuple[np.ndarray, np.ndarray, float]:
    """The lower and the upper ball joint of arms in a plane, and how far the upright is turned, where the lower arm is
    turned by so much."""
    arm, other = LOWER_OUT - LOWER_IN, UPPER_OUT - UPPER_IN
    at = LOWER_IN + np.array([[math.cos(low), -math.sin(low)], [math.sin(low), math.cos(low)]]) @ arm
    long, length = np.linalg.norm(UPPER_OUT - LOWER_OUT), np.linalg.norm(other)

    def off(angle: float) -> float:
        end = UPPER_IN + length * np.array([math.cos(angle), math.sin(angle)])
        return float(np.linalg.norm(end - at) - long)

    start = math.atan2(other[1], other[0])
    angle = brentq(off, start - 0.7, start + 0.7, xtol=1e-13)
    top = UPPER_IN + length * np.array([math.cos(angle), math.sin(angle)])
    was = UPPER_OUT - LOWER_OUT
    turn = math.atan2(*(top - at)[::-1]) - math.atan2(*was[::-1])
    return at, top, turn


def standing(low: float) -> tuple[np.ndarray, float, np.ndarray]:
    """The contact, how far the upright is turned, and the instant centre."""
    at, top, turn = placed(low)
    c, s = math.cos(turn), math.sin(turn)
    wheel = at + np.array([[c, -s], [s, c]]) @ (WHEEL - LOWER_OUT)
    contact = wheel - RADIUS * np.array([-s, c])
    one, other = at - LOWER_IN, top - UPPER_IN
    share = np.linalg.solve(np.column_stack([one, -other]), UPPER_IN - LOWER_IN)[0]
    return contact, turn, LOWER_IN + share * one


def side(travel: np.ndarray) -> SideAt:
    """The arms as a side: the lower arm is turned until the wheel's centre has risen so far."""
    contacts, paths, axes = [], [], []
    for rise in travel:

        def off(low: float, rise=rise) -> float:
            at, _, turn = placed(low)
            c, s = math.cos(turn), math.sin(turn)
            return float((at + np.array([[c, -s], [s, c]]) @ (WHEEL - LOWER_OUT))[1] - WHEEL[1] - rise)

        contact, turn, centre = standing(brentq(off, -0.4, 0.4, xtol=1e-13))
        across = contact - centre
        contacts.append([0, *contact])
        paths.append([0, -across[1] / across[0], 1])  # square to the line from the instant centre
        axes.append([0, math.cos(turn), math.sin(turn)])
    return SideAt(np.array(contacts), np.array(paths), np.array(axes))


def crossing(a: np.ndarray, b: np.ndarray, c: np.ndarray, d: np.ndarray) -> np.ndarray:
    """Where the line through a and b meets the one through c and d."""
    share = np.linalg.solve(np.column_stack([b - a, c - d]), c - a)[0]
    return a + share * (b - a)


def test_the_roll_centre_is_where_lines_to_both_instant_centres_meet() -> None:
    lean = math.radians(3)
    found = leaning(side, side, np.array([-lean, 0.0, lean]), 12.0)
    mirror = np.array([-1.0, 1.0])

    def misses(lows: np.ndarray) -> list[float]:
        one, other = standing(lows[0])[0], standing(lows[1])[0] * mirror
        rest = WHEEL[1] - RADIUS
        return [
            (one[1] + other[1]) / 2 - rest - 12.0,
            (one[1] - other[1]) - math.tan(lean) * (one[0] - other[0]),
        ]

    lows = fsolve(misses, [0.1, -0.05], xtol=1e-13)
    (one, turn, centre), (other, turned, far) = (standing(low) for low in lows)
    other, far = other * mirror, far * mirror
    meets = crossing(one, centre, other, far) - (one + other) / 2
    along, up = np.array([math.cos(lean), math.sin(lean)]), np.array([-math.sin(lean), math.cos(lean)])
    assert found.height[2] == pytest.approx(meets @ up, abs=1e-3)
    assert found.aside[2] == pytest.approx(meets @ along, abs=1e-3)
    assert found.camber[2] == pytest.approx([lean - turn, -lean - turned], abs=1e-7)
    assert found.aside[1] == pytest.approx(0, abs=1e-6)  # level, it is in the middle
    assert found.aside[0] == pytest.approx(-found.aside[2], abs=1e-6)
    assert found.camber[0] == pytest.approx(found.camber[2, ::-1])


def test_wheels_on_upright_slides_lean_with_the_car() -> None:
    """Slides have no instant centre: the lines of both wheels lie along the ground of ride height."""

    def slide(travel: np.ndarray) -> SideAt:
        count = len(travel)
        contact = np.column_stack([np.zeros(count), np.full(count, 600.0), travel])
        return SideAt(contact, np.tile([0.0, 0.0, 1.0], (count, 1)), np.tile([0.0, 1.0, 0.0], (count, 1)))

    found = leaning(slide, slide, np.array([0.05]), 0.0)
    assert found.camber[0] == pytest.approx([0.05, -0.05])
    assert found.left - found.right == pytest.approx(1200 * math.tan(0.05))
    assert np.isnan(found.height[0])


def test_toe_is_told_against_the_car_whose_ground_leans() -> None:
    def turned(travel: np.ndarray) -> SideAt:
        count = len(travel)
        contact = np.column_stack([np.zeros(count), np.full(count, 600.0), travel])
        axis = np.tile([math.sin(0.01), math.cos(0.01), 0.0], (count, 1))
        return SideAt(contact, np.tile([0.0, 0.1, 1.0], (count, 1)), axis)

    straight: Side = turned
    assert leaning(straight, straight, np.zeros(1), 0.0).toe_in[0] == pytest.approx([0.01, 0.01])


def test_a_leaning_car_stands_where_moments_are_even() -> None:
    weight, share, height = 6000.0, 0.45, 480.0
    centres, stiffness, tracks = (40.0, 120.0), (20e6, 25e6), (1300.0, 1350.0)
    told = car_lean(weight, share, height, centres, stiffness, tracks)
    over = height - (share * 40 + (1 - share) * 120)
    assert told.per_g * sum(stiffness) == pytest.approx(weight * over * (1 + told.per_g))  # and its weight leans too
    lifted = sum(t * track for t, track in zip(told.transfer, tracks, strict=True))
    assert lifted == pytest.approx(weight * height + weight * over * told.per_g)  # about the ground
    with pytest.raises(ValueError, match="do not hold"):
        car_lean(weight, share, height, centres, (1e6, 1e6), tracks)
