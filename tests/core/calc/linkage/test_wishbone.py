"""A double wishbone against a construction by spheres and scalar roots, and against statics."""

import dataclasses

import numpy as np
import pytest
from scipy.optimize import brentq

from ironcage.core.calc.linkage.forces import link_forces
from ironcage.core.calc.linkage.wishbone import (
    DoubleWishbone,
    curves,
    poses,
    spring_end,
    travel_limit,
)

RNG = np.random.default_rng(3)


def corner(**changes) -> DoubleWishbone:
    made = DoubleWishbone(
        lower=np.array([[150.0, 200.0, 190.0], [-160.0, 215.0, 195.0]]),
        lower_out=np.array([5.0, 590.0, 180.0]),
        upper=np.array([[120.0, 250.0, 370.0], [-140.0, 255.0, 365.0]]),
        upper_out=np.array([-18.0, 560.0, 400.0]),
        tie_in=np.array([-95.0, 230.0, 245.0]),
        tie_out=np.array([-100.0, 580.0, 240.0]),
        wheel=np.array([0.0, 660.0, 285.0]),
        axis=_unit(np.array([0.004, 1.0, 0.02])),
        radius=285.0,
        spring_in=np.array([-10.0, 280.0, 480.0]),
        spring_out=np.array([0.0, 470.0, 205.0]),
    )
    return dataclasses.replace(made, **changes)


def _unit(v):
    return v / np.linalg.norm(v)


def turned(v, axis, angle):
    """Rodrigues."""
    return v * np.cos(angle) + np.cross(axis, v) * np.sin(angle) + axis * (axis @ v) * (1 - np.cos(angle))


def by_spheres(c: DoubleWishbone, travel: float, rack: float) -> tuple[np.ndarray, np.ndarray]:
    """The lower arm's angle is sought so that the wheel is as high as wanted; for each angle the upper ball joint is
    where its circle meets the sphere round the lower one, and the tie rod's end where three spheres meet. Gives where
    the four points (lower, upper, tie, wheel) stand, and the wheel's axis."""
    hinge_l, hinge_u = (_unit(p[1] - p[0]) for p in (c.lower, c.upper))
    post = np.linalg.norm(c.upper_out - c.lower_out)
    tie_in = c.tie_in + np.array([0, rack, 0])
    reach = [np.linalg.norm(c.tie_out - p) for p in (c.lower_out, c.upper_out, c.tie_in)]

    def points(angle):
        low = c.lower[0] + turned(c.lower_out - c.lower[0], hinge_l, angle)

        def miss(a):
            return np.linalg.norm(c.upper[0] + turned(c.upper_out - c.upper[0], hinge_u, a) - low) - post

        grid = angle + np.linspace(-0.6, 0.6, 241)
        sign = np.sign([miss(a) for a in grid])
        roots = [brentq(miss, grid[k], grid[k + 1], xtol=1e-14) for k in np.flatnonzero(np.diff(sign))]
        high = c.upper[0] + turned(c.upper_out - c.upper[0], hinge_u, min(roots, key=lambda a: abs(a - angle)))
        tie = three_spheres((low, high, tie_in), reach, c)
        return low, high, tie

    def three_spheres(centres, radii, c):
        a, b, d = centres
        ex = _unit(b - a)
        i = ex @ (d - a)
        ey = _unit(d - a - i * ex)
        ez = np.cross(ex, ey)
        span, j = np.linalg.norm(b - a), ey @ (d - a)
        x = (radii[0] ** 2 - radii[1] ** 2 + span**2) / (2 * span)
        y = (radii[0] ** 2 - radii[2] ** 2 + i**2 + j**2) / (2 * j) - i / j * x
        z = np.sqrt(radii[0] ** 2 - x**2 - y**2)
        side = np.sign(np.cross(c.upper_out - c.lower_out, c.tie_in - c.lower_out) @ (c.tie_out - c.lower_out))
        return a + x * ex + y * ey + side * z * ez

    def triad(low, high, tie):
        e1 = _unit(high - low)
        e3 = _unit(np.cross(e1, tie - low))
        return np.array([e1, np.cross(e3, e1), e3])

    own = triad(c.lower_out, c.upper_out, c.tie_out)

    def wheel(angle):
        low, high, tie = points(angle)
        back = triad(low, high, tie).T @ own
        return low, high, tie, low + back @ (c.wheel - c.lower_out), back @ c.axis

    angle = brentq(lambda a: wheel(a)[3][2] - c.wheel[2] - travel, -0.35, 0.35, xtol=1e-14)
    low, high, tie, centre, axis = wheel(angle)
    return np.array([low, high, tie, centre]), axis


@pytest.mark.parametrize(("travel", "rack"), [(0, 0), (60, 0), (-55, 0), (35, 18), (-40, -22), (50, 25), (12.5, -25)])
def test_positions_are_those_of_spheres_and_circles(travel: float, rack: float) -> None:
    c = corner()
    found = poses(c, np.array([travel]), np.array([rack]))
    points, axis = by_spheres(c, travel, rack)
    for mine, theirs in zip((c.lower_out, c.upper_out, c.tie_out, c.wheel), points, strict=True):
        np.testing.assert_allclose(found.at(mine)[0, 0], theirs, atol=1e-6)
    np.testing.assert_allclose((found.turn @ c.axis)[0, 0], axis, atol=1e-9)
    told = curves(found)
    assert told.camber[0, 0] == pytest.approx(-np.arcsin(axis[2]), abs=1e-9)
    assert told.toe_in[0, 0] == pytest.approx(np.arctan2(axis[0], axis[1]), abs=1e-9)


def test_links_keep_their_length_over_a_grid_and_the_order_of_travels_does_not_matter() -> None:
    c = corner()
    travel, rack = np.linspace(-60, 70, 41), np.linspace(-25, 25, 11)
    found = poses(c, travel, rack)
    assert found.closed.all()
    for inner, outer in ((c.lower[0], c.lower_out), (c.lower[1], c.lower_out), (c.upper[1], c.upper_out)):
        now = np.linalg.norm(found.at(outer) - inner, axis=-1)
        np.testing.assert_allclose(now, np.linalg.norm(outer - inner), atol=1e-8)
    tie_in = c.tie_in + np.stack([np.zeros(11), rack, np.zeros(11)], axis=-1)
    np.testing.assert_allclose(
        np.linalg.norm(found.at(c.tie_out) - tie_in, axis=-1), np.linalg.norm(c.tie_out - c.tie_in), atol=1e-8
    )
    mixed = RNG.permutation(41)
    np.testing.assert_allclose(poses(c, travel[mixed], rack).turn, found.turn[mixed], atol=1e-9)


def test_parallel_arms_of_one_length_keep_their_camber_and_have_the_roll_centre_on_the_ground() -> None:
    c = corner(
        lower=np.array([[150.0, 200, 180], [-150, 200, 180]]),
        lower_out=np.array([0.0, 590, 180]),
        upper=np.array([[150.0, 200, 400], [-150, 200, 400]]),
        upper_out=np.array([0.0, 590, 400]),
        tie_in=np.array([-100.0, 200, 240]),
        tie_out=np.array([-100.0, 590, 240]),
        axis=np.array([0.0, 1.0, 0.0]),
    )
    told = curves(poses(c, np.array([-50.0, 0, 50]), np.zeros(1)))
    np.testing.assert_allclose(told.camber, 0, atol=1e-12)
    np.testing.assert_allclose(told.toe_in, 0, atol=1e-12)
    np.testing.assert_allclose(told.out[:, 0], np.sqrt(390.0**2 - 50**2) - 390 * np.array([1, 0, 1]) ** 0, atol=60)
    assert told.out[0, 0] == pytest.approx(np.sqrt(390.0**2 - 50**2) - 390, abs=1e-8)
    assert told.roll_centre[1, 0] == pytest.approx(0, abs=1e-9)
    assert (told.caster[1, 0], told.kingpin[1, 0]) == (0, 0)
    assert told.scrub[1, 0] == pytest.approx(70)


def test_the_roll_centre_at_ride_height_is_that_of_the_lines_of_both_arms() -> None:
    flat = {  # hinges along the car, so that the front view is exact
        "lower": np.array([[150.0, 200, 160], [-150, 200, 160]]),
        "lower_out": np.array([0.0, 590, 180]),
        "upper": np.array([[150.0, 260, 360], [-150, 260, 360]]),
        "upper_out": np.array([0.0, 560, 410]),
    }
    low = np.polyfit([200, 590], [160, 180], 1)
    high = np.polyfit([260, 560], [360, 410], 1)
    y = (high[1] - low[1]) / (low[0] - high[0])
    z = np.polyval(low, y)  # where both lines meet
    axis = np.array([0.0, 1.0, 0.0])
    c = corner(**flat, axis=axis, tie_in=np.array([0, y, z]) * 1.0, tie_out=np.array([-90.0, 575, 300]))
    told = curves(poses(c, np.zeros(1), np.zeros(1)))
    assert told.roll_centre[0, 0] == pytest.approx(z * 660 / (660 - y), rel=1e-9)


def test_instant_centres_are_where_the_lines_of_both_arms_meet() -> None:
    """Hinges along the car make a plane drawing of the front view, hinges across it one of the side view."""
    level = corner(
        lower=np.array([[150.0, 200.0, 190.0], [-160.0, 200.0, 190.0]]),
        upper=np.array([[120.0, 250.0, 370.0], [-140.0, 250.0, 370.0]]),
        lower_out=np.array([0.0, 590.0, 180.0]),
        upper_out=np.array([0.0, 560.0, 400.0]),
        tie_in=np.array([-95.0, 200.0, 190.0]),
        tie_out=np.array([-95.0, 590.0, 180.0]),
        axis=np.array([0.0, 1.0, 0.0]),
    )
    told = curves(poses(level, np.zeros(1), np.zeros(1)))
    slopes = [(180 - 190) / (590 - 200), (400 - 370) / (560 - 250)]
    aside = (370 - 190 + slopes[0] * 200 - slopes[1] * 250) / (slopes[0] - slopes[1])
    assert told.front_centre[0, 0] == pytest.approx([aside, 190 + slopes[0] * (aside - 200)], rel=1e-9)
    assert np.isnan(told.side_centre).all()  # hinges along the car: seen from the side it goes straight up
    trailing = corner(  # hinges across the car, so that the side view is exact
        lower=np.array([[-400.0, 450.0, 205.0], [-400.0, 650.0, 205.0]]),
        upper=np.array([[-380.0, 450.0, 380.0], [-380.0, 650.0, 380.0]]),
        lower_out=np.array([0.0, 590.0, 180.0]),
        upper_out=np.array([10.0, 560.0, 400.0]),
        tie_in=np.array([-100.0, 200.0, 300.0]),
        tie_out=np.array([-100.0, 580.0, 300.0]),
        axis=np.array([0.0, 1.0, 0.0]),
    )
    seen = curves(poses(trailing, np.zeros(1), np.zeros(1))).side_centre[0, 0]
    low, high = (180 - 205) / 400, (400 - 380) / 390
    ahead = (400 - high * 10 - 180) / (low - high)
    assert seen == pytest.approx([ahead, 180 + low * ahead], rel=1e-6)


def test_the_motion_ratio_is_the_springs_own_change_and_virtual_work() -> None:
    for on in ("lower", "upper", "upright"):
        c = corner(spring_on=on)
        step = 1e-3
        around = poses(c, np.array([30 - step, 30, 30 + step]), np.array([8.0]))
        told = curves(around)
        slope = -(told.spring[2, 0] - told.spring[0, 0]) / (2 * step)
        assert told.motion_ratio[1, 0] == pytest.approx(slope, rel=1e-6)
        here = poses(c, np.array([30.0]), np.array([8.0]))
        wheel = here.at(c.wheel)[0, 0]
        forces = link_forces(here, wheel, np.array([0, 0, 1000.0]), np.zeros(3))
        assert forces.spring * told.motion_ratio[1, 0] == pytest.approx(1000, rel=1e-9)


@pytest.mark.parametrize("on", ["lower", "upper", "upright"])
def test_what_the_links_give_to_the_frame_balances_the_wheel(on: str) -> None:
    c = corner(spring_on=on)
    here = poses(c, np.array([-20.0]), np.array([-12.0]))
    at, force, moment = np.array([3.0, 655, 12]), np.array([-900.0, 1500, 2600]), np.array([2e4, -1e5, 3e4])
    told = link_forces(here, at, force, moment)
    ends = {
        "lower front": c.lower[0],
        "lower rear": c.lower[1],
        "upper front": c.upper[0],
        "upper rear": c.upper[1],
        "tie": c.tie_in + np.array([0, -12.0, 0]),
        "spring": c.spring_in,
    }
    np.testing.assert_allclose(sum(told.on_frame.values()), force, atol=1e-6)
    turning = sum(np.cross(ends[n], f) for n, f in told.on_frame.items())
    np.testing.assert_allclose(turning, np.cross(at, force) + moment, atol=1e-3)
    end = spring_end(here)[0][0, 0]
    assert told.on_frame["spring"] @ (c.spring_in - end) == pytest.approx(
        told.spring * np.linalg.norm(end - c.spring_in)
    )


def test_legs_that_bear_no_spring_carry_along_themselves_alone() -> None:
    c = corner(spring_on="lower")
    here = poses(c, np.zeros(1), np.zeros(1))
    told = link_forces(here, np.array([0, 660.0, 0]), np.array([500.0, 800, 2000]), np.zeros(3))
    upper = told.on_frame["upper front"] + told.on_frame["upper rear"]
    normal = np.cross(c.upper[0] - c.upper_out, c.upper[1] - c.upper_out)
    assert abs(upper @ normal) / np.linalg.norm(normal) < 1e-9 * np.linalg.norm(upper)


def test_links_that_can_t_close_are_told_with_the_travel() -> None:
    short = corner(tie_in=np.array([-95.0, 470.0, 245.0]))  # a short tie rod runs out first
    up = travel_limit(short, 0.0, 1.0)
    assert up is not None
    found = poses(short, np.array([0.0, up - 0.02, up + 0.5]), np.zeros(1))
    assert found.closed[:, 0].tolist() == [True, True, False]
    assert np.isnan(curves(found).camber[2, 0])


def test_brakes_and_drive_are_held_by_the_tilt_of_the_hinges_in_the_side_view() -> None:
    tilt = np.radians(4)
    along = 150 * np.array([np.cos(tilt), 0, np.sin(tilt)])  # of both hinges, so that all of the upright rises aslant
    low, high = np.array([0.0, 200, 180]), np.array([0.0, 200, 400])
    c = corner(
        lower=np.array([low + along, low - along]),
        lower_out=np.array([0.0, 590, 180]),
        upper=np.array([high + along, high - along]),
        upper_out=np.array([0.0, 590, 400]),
        tie_in=np.array([-100.0, 200, 240]),
        tie_out=np.array([-100.0, 590, 240]),
        axis=np.array([0.0, 1.0, 0.0]),
    )
    still = poses(c, np.zeros(1), np.zeros(1))
    told = curves(still, lever=2300 / 460)
    assert told.braking[0, 0] == pytest.approx(np.tan(tilt) * 5)
    assert told.driving[0, 0] == pytest.approx(np.tan(tilt) * 5)
    assert curves(still, lever=-5.0).braking[0, 0] == pytest.approx(-np.tan(tilt) * 5)  # a front wheel dives by it
    assert np.isnan(curves(still).braking[0, 0])
