"""Meshes: distances against closed forms and against a plain loop, and what is wrong with one."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.solids.convex import Solid, box, cylinder, rod, rotation
from ironcage.core.calc.solids.gaps import gaps
from ironcage.core.calc.solids.meshgaps import least_gaps
from ironcage.core.calc.solids.triangles import Triangles, coarse, welded
from tests.core.meshes import ball_corners, tube_corners

BALL = welded(ball_corners(100.0, 48))


def test_a_ball_of_triangles_is_closed_faces_out_and_has_its_volume() -> None:
    assert BALL.open_edges == 0
    assert BALL.volume == pytest.approx(4 / 3 * math.pi * 100**3, rel=0.01)
    assert BALL.turned.volume == pytest.approx(-BALL.volume)
    assert len(BALL.points) < len(BALL.faces)
    opened = Triangles(BALL.points, BALL.faces[:-3])
    assert opened.open_edges > 0


@given(st.tuples(*[st.floats(-260, 260)] * 3), st.tuples(*[st.floats(-3, 3)] * 3), st.integers(0, 2))
def test_the_distance_is_that_of_a_plain_loop_over_every_triangle(place, turn, kind) -> None:
    zero = np.zeros(3)
    solid = (box((60, 30, 20)), rod(12, zero, np.array([150.0, 0, 0])), cylinder(30, zero, np.array([0, 0, 40.0])))[
        kind
    ]
    solid = solid.moved(rotation(*turn), np.array(place))
    corners = BALL.points[BALL.faces].astype(float)
    every = gaps([Solid(c, np.array([0, 0, 1.0])) for c in corners], [solid] * len(corners)).distance
    found = least_gaps(BALL.tree, [[solid]], [150.0])[0]
    if every.min() >= 150:
        assert found is None
    elif every.min() > 0:
        assert found.distance == pytest.approx(every.min(), abs=1e-3)
    else:
        assert found.distance < 1e-3


def test_a_place_inside_is_told_from_one_outside() -> None:
    rng = np.random.default_rng(2)
    for place in rng.uniform(-120, 120, (60, 3)):
        if abs(np.linalg.norm(place) - 99.5) > 1:
            assert BALL.tree.holds(place) == (np.linalg.norm(place) < 99)


def test_the_coarse_copy_keeps_the_shape() -> None:
    copy = coarse(BALL, 10)
    assert len(copy.faces) < len(BALL.faces) / 2
    assert copy.bounds == pytest.approx(BALL.bounds, abs=20)


def test_bodies_asked_for_together_are_measured_as_each_alone() -> None:
    zero = np.zeros(3)
    bodies = [
        [box((60, 30, 20)).moved(np.eye(3), np.array([0.0, 0.0, 100.0 + k * 20]))]
        + [rod(5, zero + 120 + k, zero + 300)]
        for k in range(4)
    ]
    reaches = [10.0, 30.0, 60.0, 200.0]
    together = least_gaps(BALL.tree, bodies, reaches)
    alone = [least_gaps(BALL.tree, [body], [reach])[0] for body, reach in zip(bodies, reaches, strict=True)]
    assert [g and (g.distance, g.solid) for g in together] == [g and (g.distance, g.solid) for g in alone]
    assert [g and round(g.distance) for g in together] == [-10, 10, 30, 50]


def test_a_shaft_on_the_axis_of_a_bore_is_as_far_from_every_triangle_of_it() -> None:
    """Here nothing can be ruled out by being further off."""
    bore = welded(tube_corners(radius=40.0, length=400.0, around=240, along=60))
    solid = cylinder(30.0, np.array([0.0, 0.0, 50.0]), np.array([0.0, 0.0, 350.0]))
    found = least_gaps(bore.tree, [[solid]], [60.0])[0]
    assert found.distance == pytest.approx(40 * math.cos(math.pi / 240) - 30, abs=1e-3)  # at the middle of a facet
