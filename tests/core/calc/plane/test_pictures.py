"""Pictures pinned by known distances: where every point of them goes, by hand."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.plane.pictures import Laid, set_level, set_upright
from ironcage.problem import Problem


def spot(laid: Laid, across: float, rise: float) -> np.ndarray:
    """Where a point of the picture lies, given as shares of its width and height from its middle."""
    c, s = math.cos(laid.turn), math.sin(laid.turn)
    x, y = across * laid.width, rise * laid.height
    return np.array([laid.right + c * x - s * y, laid.up + s * x + c * y])


share = st.floats(-0.5, 0.5)


@given(share, share, share, share, st.floats(100, 4000), st.floats(-0.4, 0.4))
def test_levelled_points_lie_level_and_as_far_apart_as_taped(a, b, c, d, distance, turn) -> None:
    laid = Laid(-900, 500, 3000, 1400, turn)
    one, other = spot(laid, a, b), spot(laid, c, d)
    if np.linalg.norm(other - one) < 50:
        return
    made = set_level(laid, one, other, distance)
    there, then = spot(made, a, b), spot(made, c, d)
    assert there == pytest.approx(one, abs=1e-6)
    assert abs(then[1] - there[1]) < 1e-6
    assert abs(then[0] - there[0]) == pytest.approx(distance)
    assert made.width / made.height == pytest.approx(3000 / 1400)


@given(share, share, st.floats(100, 3000))
def test_squared_stretches_the_height_alone(b, d, distance) -> None:
    laid = Laid(-900, 500, 3000, 1400, 0.1)
    one, other = spot(laid, 0.1, b), spot(laid, 0.1, d)
    if np.linalg.norm(other - one) < 50:
        return
    made = set_upright(laid, one, other, distance)
    assert spot(made, 0.1, b) == pytest.approx(one, abs=1e-6)
    assert np.linalg.norm(spot(made, 0.1, d) - spot(made, 0.1, b)) == pytest.approx(distance)
    assert (made.width, made.turn) == (laid.width, laid.turn)


def test_pins_at_one_place_or_level_ones_upright_are_refused() -> None:
    laid, here = Laid(0, 0, 100, 50, 0.0), np.zeros(2)
    for act in (
        lambda: set_level(laid, here, here, 100),
        lambda: set_level(laid, here, here + 40, 0),
        lambda: set_upright(laid, here, np.array([40.0, 0]), 100),
    ):
        with pytest.raises(Problem):
            act()
