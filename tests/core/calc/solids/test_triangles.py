"""Meshes: distances against closed forms and against a plain loop, and what is wrong with one."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.solids.convex import Solid, box, cylinder, rod, rotation
from ironcage.core.calc.solids.gaps import gaps
from ironcage.core.calc.solids.triangles import Triangles, coarse, welded
from tests.core.meshes import ball_corners

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
    found = BALL.tree.gap(solid, 150.0)
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
