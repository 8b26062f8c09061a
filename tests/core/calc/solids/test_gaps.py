"""Distances between solids against closed forms and against plain minimisation."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import lsq_linear

from ironcage.core.calc.solids.convex import (
    Solid,
    angles,
    ball,
    box,
    by_three_points,
    cylinder,
    plate,
    rod,
    rotation,
)
from ironcage.core.calc.solids.gaps import gaps
from ironcage.problem import Problem

NONE = np.zeros(3)


def at(solid: Solid, x: float, y: float, z: float, *turn: float) -> Solid:
    return solid.moved(rotation(*turn) if turn else np.eye(3), np.array([x, y, z], dtype=float))


@pytest.mark.parametrize(
    ("one", "other", "distance"),
    [
        (box((10, 10, 10)), at(box((10, 10, 10)), 25, 0, 0), 15.0),
        (box((10, 10, 10)), at(box((10, 10, 10)), 13, 14, 0), 5.0),  # edge to edge: 3-4-5
        (box((10, 10, 10)), at(box((10, 10, 10)), 12, 13, 16), 7.0),  # corner to corner: 2-3-6... of 7
        (ball(3, NONE), ball(4, np.array([0, 0, 10.0])), 3.0),
        (rod(2, NONE, np.array([100.0, 0, 0])), rod(3, np.array([50.0, -40, 20]), np.array([50.0, 40, 20])), 15.0),
        (cylinder(100, np.array([0, -20.0, 0]), np.array([0, 20.0, 0])), at(box((10, 10, 10)), 200, 0, 0), 95.0),
        (cylinder(100, np.array([0, -20.0, 0]), np.array([0, 20.0, 0])), ball(5, np.array([103.0, 24, 0])), 0.0),
        (cylinder(10, NONE, np.array([0, 0, 50.0])), ball(1, np.array([0, 0, 60.0])), 9.0),
        (box((10, 10, 10)), at(box((10, 10, 10)), 8, 1, 1), -2.0),
        (rod(5, NONE, np.array([100.0, 0, 0])), rod(5, np.array([50.0, -40, 8]), np.array([50.0, 40, 8])), -2.0),
        (rod(5, NONE, np.array([100.0, 0, 0])), rod(5, np.array([50.0, -40, 0]), np.array([50.0, 40, 0])), -10.0),
        (box((200, 80, 40)), ball(5, NONE), -25.0),
        (cylinder(10, NONE, np.array([0, 0, 50.0])), at(box((20, 20, 20)), 15, 0, 25), -5.0),
    ],
)
def test_distance_and_overlap_are_those_of_the_closed_form(one: Solid, other: Solid, distance: float) -> None:
    for a, b in ((one, other), (other, one)):
        found = gaps([a], [b])
        assert found.distance[0] == pytest.approx(distance, abs=0.02 if distance < 0 else 1e-3)
        if distance > 0:
            apart = np.linalg.norm(found.on_second[0] - found.on_first[0])
            assert apart == pytest.approx(distance, abs=1e-3)


spot = st.tuples(*[st.floats(-300, 300)] * 3)
turn = st.tuples(*[st.floats(-3, 3)] * 3)


@given(spot, turn, spot, turn)
def test_the_distance_of_turned_boxes_is_the_least_over_all_their_points(p, r, q, s) -> None:
    """Independent road: bounded least squares over points inside both boxes."""
    size = np.array([120.0, 60.0, 40.0])
    a, b = at(box(tuple(size)), *p, *r), at(box(tuple(size)), *q, *s)
    ra, rb = rotation(*r), rotation(*s)

    sizes = np.hstack([ra * size, -rb * size])  # of the way between a point of each, by the six numbers that place both
    least = lsq_linear(sizes, np.subtract(q, p), bounds=(-0.5, 0.5), method="bvls")
    found = gaps([a], [b])
    assert max(found.distance[0], 0.0) == pytest.approx(math.sqrt(2 * least.cost), abs=0.02)
    assert found.within[0] <= 1e-3


@given(spot, turn, st.floats(1, 200))
def test_a_move_along_the_line_of_the_gap_closes_it_by_just_so_much(p, r, by) -> None:
    a, b = box((100, 50, 30)), at(cylinder(40, NONE, np.array([0, 0, 90.0])), *p, *r)
    found = gaps([a], [b])
    if found.distance[0] < 1:
        return
    way = (found.on_first[0] - found.on_second[0]) / found.distance[0]
    by = min(by, found.distance[0] - 0.5)
    moved = gaps([a], [b.moved(np.eye(3), way * by)])
    assert moved.distance[0] == pytest.approx(found.distance[0] - by, abs=2e-3)


@given(turn)
def test_overlap_is_how_far_out_it_must_be_pushed(r) -> None:
    """Independent road: pushed out by the depth in the best of many directions it is just clear, by less in none."""
    a, b = box((100, 60, 40)), at(box((80, 50, 30)), 30, 20, 10, *r)
    depth = -gaps([a], [b]).distance[0]
    assert depth > 0
    rng = np.random.default_rng(1)
    ways = rng.normal(size=(400, 3))
    ways /= np.linalg.norm(ways, axis=1)[:, None]
    short = [b.moved(np.eye(3), w * depth * 0.98) for w in ways]
    assert (gaps([a] * 400, short).distance <= 1e-3).all()


def test_a_hollow_outline_leaves_room_in_its_hollow() -> None:
    tub = plate(np.array([[0, 0], [300, 0], [300, 200], [200, 200], [200, 60], [100, 60], [100, 200], [0, 200]]), 50)
    inside, outside = ball(20, np.array([150.0, 140, 0])), ball(20, np.array([50.0, 140, 0]))
    assert gaps(tub, [inside] * len(tub)).distance.min() == pytest.approx(30, abs=1e-3)
    assert gaps(tub, [outside] * len(tub)).distance.min() < 0
    for wrong in ([[0, 0], [10, 0]], [[0, 0], [100, 100], [100, 0], [0, 100]]):
        with pytest.raises(Problem, match="outline"):
            plate(np.array(wrong, dtype=float), 10)


@given(turn, spot)
def test_three_measured_points_give_the_pose_back(r, p) -> None:
    own = np.array([[0.0, 0, 0], [400, 0, 20], [50, 250, -30]])
    there = own @ rotation(*r).T + p
    found, move = by_three_points(own, there)
    assert np.allclose(own @ found.T + move, there, atol=1e-6)
    assert np.allclose(rotation(*angles(found)), found, atol=1e-9)
    with pytest.raises(Problem, match="in a line"):
        by_three_points(own, np.array([[0.0, 0, 0], [100, 0, 0], [200, 0, 0]]))


@given(turn, spot)
def test_overlap_does_not_know_which_way_the_pair_is_turned(r, p) -> None:
    """The same pair turned together: the search over directions must find the same way out."""
    tyre = cylinder(280, np.array([0, -100.0, 0]), np.array([0, 100.0, 0]))
    pairs = (
        (tyre, at(rod(15, NONE, np.array([900.0, 0, 0])), -400, 60, 120, 0.3, 0.2, 0.0)),
        (box((300, 200, 100)), at(box((250, 40, 90)), 90, 60, 30, 0.4, 0.1, 0.2)),
        (
            at(cylinder(100, NONE, np.array([0, 16.0, 0])), 0, -8, 0),
            at(rod(12, NONE, np.array([300.0, 200, 0])), -100, -90, 80),
        ),
    )
    way, by = rotation(*r), np.array(p)
    for one, other in pairs:
        here = gaps([one], [other]).distance[0]
        there = gaps([one.moved(way, by)], [other.moved(way, by)]).distance[0]
        assert here < 0
        assert there == pytest.approx(here, abs=0.05)


def test_a_tube_that_grazes_along_a_seats_back_is_measured_where_the_hull_gave_up() -> None:
    """A wedge of a seat against a long tube through it, nearly along one of its faces: Qhull could not grow the hull
    and the snags were lost."""
    wedge = Solid(
        np.array(
            [[x, y, z] for y in (-50.0, -440.0) for x, z in ((-1420.0, 855.0), (-1480.0, 845.0), (-1360.0, 255.0))]
        ),
        np.array([0.0, -1.0, 0.0]),
    )
    tube = rod(
        19.0, np.array([-1236.0, 172.0, 492.0]), np.array([-1467.4096133751304, -378.1901776384535, 658.9707419017765])
    )
    depth = -float(gaps([wedge], [tube]).distance[0])
    turn = np.random.default_rng(1).standard_normal((400_000, 3))
    ways = turn / np.linalg.norm(turn, axis=1, keepdims=True)
    tried = ((wedge.points @ ways.T).max(axis=0) - (tube.points @ ways.T).min(axis=0)).min() + 19.0
    assert depth <= tried + 1e-6  # no way out that was tried is shorter
    assert depth > tried - 1.0
