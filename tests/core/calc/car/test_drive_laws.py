"""Shafts, chains, figures and stance against independent roads: kinematics integrated, statics solved, scale."""

import math
from dataclasses import fields, replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.car import chain, driveshaft
from ironcage.core.calc.car.mannequin import Limbs, Seat, pose
from ironcage.core.calc.car.stance import contacts_of, stand
from ironcage.core.calc.car.tyre import read_tyre
from ironcage.core.calc.solids.convex import rotation

BENDS = st.floats(0.02, 0.2)


def through_joint(
    angle: np.ndarray, axis_in: np.ndarray, axis_out: np.ndarray, yoke: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """The yoke pin of the driven side (n, 3) for turns of the driving one: square to the driving pin and to the
    driven axis. `yoke` (3,) is the driving pin at turn 0."""
    side = np.cross(axis_in, yoke)
    pin = np.cos(angle)[:, None] * yoke + np.sin(angle)[:, None] * side
    out = np.cross(axis_out, pin)
    return pin, out / np.linalg.norm(out, axis=1)[:, None]


def turn_of(pins: np.ndarray, axis: np.ndarray) -> np.ndarray:
    """How far pins have turned about an axis, rad, unwrapped."""
    first = pins[0] / np.linalg.norm(pins[0])
    side = np.cross(axis, first)
    return np.unwrap(np.arctan2(pins @ side, pins @ first))


@given(BENDS, BENDS, st.floats(0, 3.1))
def test_unevenness_of_two_joints_is_that_of_the_pins_followed_round(first: float, second: float, plane: float) -> None:
    """Independent road: the crosses of both joints followed through a turn, no small angles."""
    shaft = np.array([-1.0, 0, 0])
    drive = np.array([-math.cos(first), math.sin(first), 0.0])
    driven = rotation(0, 0, plane) @ np.array([-math.cos(second), math.sin(second), 0.0])
    made = driveshaft.angles(np.zeros(3), 700 * shaft, drive, driven)
    turn = np.linspace(0, 2 * np.pi, 721)
    yoke = np.cross(drive, shaft)
    yoke = yoke / np.linalg.norm(yoke)
    _, cross = through_joint(turn, drive, shaft, yoke)
    middle = turn_of(cross, shaft)
    # in phase: the pin of the second joint's driving yoke lies along that of the first joint's driven one
    out = np.cross(driven, cross)
    last = turn_of(out / np.linalg.norm(out, axis=1)[:, None], driven)
    speed = np.gradient(last, turn)
    swing = (speed.max() - speed.min()) / 2
    assert swing == pytest.approx(made.swing, abs=0.12 * max(first, second) ** 2 + 2e-4)
    assert np.ptp(middle - turn) < 2 * first**2


@given(st.integers(9, 30), st.integers(31, 70), st.floats(350, 1200))
def test_it_does_not_matter_which_sprocket_drives(small: int, large: int, centres: float) -> None:
    one, other = chain.fit(12.7, (small, large), centres), chain.fit(12.7, (large, small), centres)
    assert (one.links, one.take_up) == (other.links, pytest.approx(other.take_up))
    assert one.wraps == pytest.approx(other.wraps[::-1])
    rows = chain.runs((np.zeros(3), 40.0), (np.array([-centres, 0, 50]), 90.0), np.array([0.0, 1, 0]))
    for p, q in rows.values():
        assert np.linalg.norm(q - p) == pytest.approx(math.sqrt(centres**2 + 2500 - 50**2))


@given(st.floats(0.8, 1.2))
def test_a_person_of_another_size_in_a_seat_of_that_size_sits_alike(size: float) -> None:
    limbs = Limbs.of_stature(1700)
    grown = Limbs(**{f.name: getattr(limbs, f.name) * size for f in fields(Limbs)})
    seat = Seat((-1200.0, 0.0, 300.0), 0.4, (-380.0, 0.0, 330.0), 160.0, 240.0, 50.0, (-820.0, 0.0, 620.0), 300.0, 0.1)
    far = replace(
        seat,
        hip=_by(seat.hip, size),
        pedals=_by(seat.pedals, size),
        wheel=_by(seat.wheel, size),
        feet_apart=160 * size,
        floor=240 * size,
        stroke=50 * size,
        wheel_size=300 * size,
    )
    one, other = pose(limbs, seat, 75), pose(grown, far, 75)
    for name in ("left knee", "left ankle", "hip", "left ball", "crown"):
        assert other.points[name] == pytest.approx(one.points[name] * size, rel=1e-9, abs=0.2), name
    for name in ("left hip", "left knee", "left ankle"):
        assert other.angles[name] == pytest.approx(one.angles[name], abs=0.05), name


def _by(place: tuple[float, float, float], size: float) -> tuple[float, float, float]:
    return place[0] * size, place[1] * size, place[2] * size


def test_heels_leave_the_floor_only_when_the_pedals_are_too_high_for_them() -> None:
    limbs = Limbs.of_stature(1750)
    seat = Seat((-1200.0, 0.0, 330.0), 0.4, (-380.0, 0.0, 330.0), 160.0, 240.0, 0.0, None, 300.0, 0.1)
    assert pose(limbs, seat, 75).heel_lift == pytest.approx(0, abs=1e-9)
    high = replace(seat, pedals=(-380.0, 0.0, 480.0))
    assert pose(limbs, high, 75).heel_lift == pytest.approx(480 - 240 - 0.73 * limbs.foot * math.sin(math.radians(80)))


def test_a_heavier_person_is_thicker_and_weighs_at_the_same_place() -> None:
    limbs = Limbs.of_stature(1750)
    seat = Seat((-1200.0, 0.0, 330.0), 0.4, (-380.0, 0.0, 330.0), 160.0, 240.0, 40.0, None, 300.0, 0.1)
    light, heavy = pose(limbs, seat, 60), pose(limbs, seat, 110)
    assert heavy.solids["left thigh"].ball > light.solids["left thigh"].ball
    assert heavy.solids["helmet"].ball == light.solids["helmet"].ball
    assert heavy.cg == pytest.approx(light.cg)
    assert not light.short


@given(st.floats(-300, 300), st.floats(200, 900), st.floats(1000, 1700), st.floats(1000, 1700))
def test_on_the_slope_where_it_tips_the_wheels_of_the_upper_side_carry_nothing(
    y: float, z: float, front: float, rear: float
) -> None:
    """Independent road: moments about the lower side's line of contact, gravity turned by the slope."""
    cg = np.array([-1100.0, y, z])
    made = stand(600, cg, contacts_of(0.0, -2300.0, front, rear))
    a, b = np.array([0.0, front / 2, 0]), np.array([-2300.0, rear / 2, 0])
    edge = (a - b) / np.linalg.norm(a - b)
    across = np.array([-edge[1], edge[0], 0])
    across = across * np.sign(across[1])
    gravity = math.sin(made.tips_left) * across - math.cos(made.tips_left) * np.array([0, 0, 1.0])
    assert np.cross(cg - b, gravity) @ edge == pytest.approx(0, abs=1e-6)


@given(st.sampled_from((155, 165, 195, 205, 225)), st.sampled_from((40, 50, 60, 75)), st.sampled_from((13, 15, 17)))
def test_a_tyre_code_is_read_with_whatever_stands_round_it(width: int, aspect: int, rim: int) -> None:
    plain = read_tyre(f"{width}/{aspect}R{rim}")
    for text in (
        f"{width}/{aspect} R {rim}",
        f"P {width}/{aspect}ZR{rim}",
        f"{width}/{aspect}-{rim}",
        f" {width}/{aspect}r{rim} ",
    ):
        assert read_tyre(text) == plain
    assert plain.diameter > rim * 25.4
