"""The jointed person: limbs keep their length, hands and feet are where they were sent, and what is short is told."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.car.mannequin import (
    LIKELY_MM,
    Limbs,
    Seat,
    comfort,
    pose,
    stature_of,
)
from ironcage.problem import Problem

SEAT = Seat(hip=(-1330, 280, 300), back=math.radians(28), pedals=(-430, 280, 330), feet_apart=180, floor=230, stroke=70,
            wheel=(-900, 280, 560), wheel_size=300, splay=math.radians(8))  # fmt: skip

LINKS = (
    ("left shoulder", "left elbow", "upper_arm"),
    ("left elbow", "left hand", "forearm"),
    ("right hip", "right knee", "thigh"),
    ("right knee", "right ankle", "lower_leg"),
    ("hip", "shoulder top", "trunk"),
    ("shoulder top", "crown", "head"),
    ("left heel", "left toe", "foot"),
)


@given(st.floats(1500, 1950), st.floats(-120, 60), st.floats(0.2, 0.8), st.floats(60, 200))
def test_limbs_keep_their_lengths_whatever_the_pose(stature: float, ahead: float, back: float, rise: float) -> None:
    limbs = Limbs.of_stature(stature)
    seat = replace(SEAT, pedals=(-430 + ahead, 280, 230 + rise), back=back)
    made = pose(limbs, seat, 80)
    for there in (made.points, made.pressed):
        for a, b, name in LINKS:
            if a in there and b in there:
                assert np.linalg.norm(there[b] - there[a]) == pytest.approx(getattr(limbs, name), rel=1e-9), name
    if not made.short:
        assert made.points["left ball"] == pytest.approx(np.add(seat.pedals, (0, 90, 0)))
        assert made.points["right hand"] == pytest.approx(np.subtract(seat.wheel, (0, 150, 0)))
        assert made.points["left ankle"][2] > seat.floor


def test_a_person_is_even_about_the_middle_of_the_seat() -> None:
    made = pose(Limbs.of_stature(1800), SEAT, 80)
    for name, place in made.points.items():
        if name.startswith("left "):
            other = made.points[f"right {name[5:]}"]
            assert place * [1, -1, 1] + [0, 2 * 280, 0] == pytest.approx(other, abs=1e-9), name
    assert made.cg[1] == pytest.approx(280)
    assert made.points["hip"][2] < made.cg[2] < made.points["shoulder top"][2]


def test_pedals_pushed_away_let_the_knee_down_until_the_leg_is_short() -> None:
    limbs = Limbs.of_stature(1760)
    heights = []
    for ahead in (0, 40, 80):
        heights.append(pose(limbs, replace(SEAT, pedals=(-430 + ahead, 280, 330), stroke=0), 80).points["left knee"][2])
    assert heights[0] > heights[1] > heights[2]
    far = pose(limbs, replace(SEAT, pedals=(100, 280, 330), stroke=0), 80)
    missing = far.short["left leg"]
    near = pose(limbs, replace(SEAT, pedals=(100 - missing * 1.2, 280, 330), stroke=0), 80)
    assert "left leg" not in near.short
    assert set(far.short) == {"left leg", "right leg"}


def test_joint_angles_against_a_pose_worked_by_hand() -> None:
    """Upright, thighs level, shins plumb, soles flat: hip, knee and ankle all square."""
    limbs = Limbs.of_stature(1750)
    hip = (0.0, 0.0, limbs.lower_leg + limbs.ankle)
    ball = limbs.thigh + (0.73 - 0.25) * limbs.foot
    seat = Seat(hip, 0.0, (ball, 0.0, 0.0), limbs.hips * 0.45, 0.0, 0.0, None, 300, 0.0)
    made = pose(limbs, seat, 75)
    for joint in ("left hip", "right knee", "left ankle"):
        assert made.angles[joint] == pytest.approx(90, abs=1e-6), joint
    assert comfort(made.angles)["left hip"] == pytest.approx(-5)
    assert comfort(made.angles)["seat back"] == pytest.approx(-20)


def test_statures_follow_the_table_at_its_own_percentiles() -> None:
    for group, percentile, stature in (("men", 5, 1625), ("men", 95, 1855), ("women", 50, 1610), ("women", 95, 1710)):
        assert stature_of(percentile, group) == pytest.approx(stature, abs=3)
    assert Limbs.of_stature(1700).stature == pytest.approx(1700)
    for wrong in (lambda: stature_of(120, "men"), lambda: stature_of(50, "giants"), lambda: Limbs.of_stature(180)):
        with pytest.raises(Problem):
            wrong()


@pytest.mark.parametrize("name", LIKELY_MM)
def test_limbs_that_make_no_person_are_named(name: str) -> None:
    with pytest.raises(Problem, match=name.replace("_", " ")):
        replace(Limbs.of_stature(1750), **{name: 17.5})
