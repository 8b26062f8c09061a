"""Wedges that close, slits that close, and a rail kicked over, each by putting the metal back together."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.tubes.folds import kick, slits, wedge
from ironcage.problem import Problem


def _turned(place: tuple[float, float], angle: float) -> np.ndarray:
    c, s = math.cos(angle), math.sin(angle)
    return np.array([c * place[0] - s * place[1], s * place[0] + c * place[1]])


@given(st.floats(10, 120), st.floats(0.5, 4), st.floats(2, 120))
def test_both_sides_of_a_wedge_meet_when_the_tube_is_folded(depth: float, wall: float, degrees: float) -> None:
    angle = math.radians(degrees)
    made = wedge(depth, wall, angle)
    left, right = (-made.mouth / 2, made.deep), (made.mouth / 2, made.deep)  # from the hinge, upwards
    assert _turned(left, -angle / 2) == pytest.approx(_turned(right, angle / 2), abs=1e-9)
    assert made.half == pytest.approx(angle / 2)
    assert made.deep == pytest.approx(depth - wall)


def test_slits_close_to_the_angle_round_the_radius() -> None:
    """50 deep with a wall of 3 round 600: each slit of 2 closes by 2·atan(1/47), and 90° takes 37 of them."""
    made = slits(50, 3, math.pi / 2, 600, 2.0)
    assert made.count == math.ceil((math.pi / 2) / (2 * math.atan(1 / 47)))
    assert made.count * made.each == pytest.approx(math.pi / 2)
    assert made.radius == pytest.approx(600 + 25 - 3)
    assert made.count * made.apart == pytest.approx(made.radius * math.pi / 2)
    assert 2 * 47 * math.tan(made.each / 2) <= 2.0 + 1e-9  # none closes further than it is wide


def test_a_kick_goes_over_by_its_rise() -> None:
    made = kick(50, 3, math.radians(30), 80)
    assert made.slope * math.sin(math.radians(30)) == pytest.approx(80)
    assert made.slope * math.cos(math.radians(30)) == pytest.approx(made.run)


@pytest.mark.parametrize(
    ("depth", "wall", "angle", "radius", "says"),
    [
        (3, 3, 0.5, 0, "leaves nothing"),
        (50, 3, 3.14, 0, "can't be made by a wedge"),
        (50, 3, 1.0, 20, "is too tight for 50 mm. It is at least 25.0 mm"),
    ],
)
def test_what_can_not_be_folded_is_refused(depth: float, wall: float, angle: float, radius: float, says: str) -> None:
    made = (lambda: slits(depth, wall, angle, radius, 2.0)) if radius else (lambda: wedge(depth, wall, angle))
    with pytest.raises(Problem) as no:
        made()
    assert says in str(no.value)
