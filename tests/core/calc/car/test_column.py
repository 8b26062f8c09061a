"""Steering columns of several joints against the law of one joint, and steering heads against a drawing."""

import math

import numpy as np
import pytest

from ironcage.core.calc.car.column import column
from ironcage.core.calc.car.steerhead import SteerHead
from ironcage.problem import Problem


def bent(*turns: tuple[float, float]) -> np.ndarray:
    """Places of a column whose joints turn it in plan and upwards by degrees, each part 300 mm long."""
    places, plan, up = [np.zeros(3)], 0.0, 0.0
    for turned, raised in ((0.0, 0.0), *turns):
        plan, up = plan + math.radians(turned), up + math.radians(raised)
        way = np.array([math.cos(up) * math.cos(plan), math.cos(up) * math.sin(plan), math.sin(up)])
        places.append(places[-1] + 300 * way)
    return np.array(places)


def test_one_joint_runs_fast_and_slow_by_its_cosine() -> None:
    told = column(bent((30.0, 0.0)))
    c = math.cos(math.radians(30))
    assert math.degrees(told.angles[0]) == pytest.approx(30)
    assert told.swing == pytest.approx((1 / c - c) / 2, rel=2e-3)  # from cos to 1 / cos, looked at in steps of a degree
    assert (told.yokes, told.bearings) == ((), 0)


@pytest.mark.parametrize("second", [30.0, -30.0])
def test_two_even_joints_in_a_plane_cancel_with_their_yokes_in_line(second: float) -> None:
    told = column(bent((30.0, 0.0), (second, 0.0)))
    assert told.in_line == pytest.approx(0, abs=1e-9)
    assert told.swing == pytest.approx(0, abs=1e-6)


def test_two_even_joints_in_planes_that_cross_cancel_with_the_yoke_turned_by_as_much() -> None:
    told = column(bent((30.0, 0.0), (0.0, 30.0)))
    assert told.in_line > 0.1
    assert told.swing == pytest.approx(0, abs=1e-5)
    assert math.degrees(told.yokes[0]) == pytest.approx(90, abs=0.1)


def test_three_joints_can_cancel_where_none_outweighs_both_others() -> None:
    assert column(bent((25.0, 0.0), (30.0, 0.0), (20.0, 0.0))).swing < 0.01  # but for four times a turn
    told = column(bent((40.0, 0.0), (10.0, 0.0), (10.0, 0.0)))
    big, small = (math.radians(v) ** 2 for v in (40, 10))
    assert told.swing == pytest.approx((big - 2 * small) / 2, rel=0.15)  # small angles: their squares add as vectors
    assert told.bearings == 1


@pytest.mark.parametrize(
    ("places", "says"),
    [
        (bent(), "3 to 8 places"),
        (bent((85.0, 0.0)), "Joint 1 is bent by 85°"),
        (np.array([[0, 0, 0], [0, 0, 0], [100, 0, 0.0]]), "Part 1 of the column has no length"),
    ],
)
def test_columns_that_can_not_be_are_refused(places: np.ndarray, says: str) -> None:
    with pytest.raises(Problem, match=says):
        column(places)


HEAD = SteerHead(1650, 310, 290, math.radians(28), 45)


def test_trail_is_where_the_axis_meets_the_ground() -> None:
    axle = np.array([1650.0, 310.0])
    along = np.array([-math.sin(HEAD.angle), math.cos(HEAD.angle)])
    ahead = np.array([math.cos(HEAD.angle), math.sin(HEAD.angle)])
    on_axis = axle - 45 * ahead
    meets = on_axis - along * on_axis[1] / along[1]
    assert HEAD.trail == pytest.approx(meets[0] - 1650)
    assert HEAD.normal_trail == pytest.approx(HEAD.trail * math.cos(HEAD.angle))


def test_a_changed_frame_stands_on_both_tyres() -> None:
    made = HEAD.changed(fork=60, lift=20, front=330)
    nose = made.angle - HEAD.angle
    turn = np.array([[math.cos(nose), -math.sin(nose)], [math.sin(nose), math.cos(nose)]])
    front = np.array([1650 + 60 * math.sin(HEAD.angle), 310 - 60 * math.cos(HEAD.angle)])
    rear = np.array([0.0, 290.0 - 20])
    apart = turn @ (front - rear)
    assert apart[1] == pytest.approx(330 - 290)
    assert apart[0] == pytest.approx(made.wheelbase)
    level = HEAD.changed()
    assert (level.angle, level.wheelbase) == pytest.approx((HEAD.angle, HEAD.wheelbase))
    assert HEAD.changed(lift=20).trail < HEAD.trail < HEAD.changed(fork=20).trail
    with pytest.raises(Problem, match="can’t stand"):
        SteerHead(300, 310, 290, 0.4, 40).changed(front=900)
