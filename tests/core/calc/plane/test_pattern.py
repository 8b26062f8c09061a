"""Bolt patterns from taped distances: they come back, and what the readings can't tell is said."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.plane.pattern import fit_pattern
from ironcage.problem import Problem
from ironcage.told import plain

SQUARE = [(1, 2, 100.0), (2, 3, 100.0), (3, 4, 100.0), (4, 1, 100.0), (1, 3, 141.4), (2, 4, 141.4)]


def off(fitted) -> float:
    return float(abs(fitted.residuals[fitted.worst]))


@given(st.lists(st.tuples(st.integers(-200, 200), st.integers(-200, 200)), min_size=3, max_size=6, unique=True))
def test_a_pattern_comes_back_from_its_own_distances(places: list[tuple[int, int]]) -> None:
    at = np.array(places, dtype=float)
    taped = [(a + 1, b + 1, float(np.linalg.norm(at[a] - at[b]))) for a, b in itertools.combinations(range(len(at)), 2)]
    fitted = fit_pattern(taped)
    assert off(fitted) < 1e-4
    for a, b, d in taped:
        assert np.linalg.norm(fitted.places[a - 1] - fitted.places[b - 1]) == pytest.approx(d, abs=1e-4)
    assert fitted.places[0] == pytest.approx((0, 0), abs=1e-9)
    assert fitted.places[1, 1] == pytest.approx(0, abs=1e-9)


def test_a_square_taped_round_and_across_shows_the_slip() -> None:
    assert off(fit_pattern(SQUARE)) < 0.05
    assert off(fit_pattern([*SQUARE[:-1], (2, 4, 151.4)])) > 2
    assert not fit_pattern(SQUARE).doubts


def test_a_pair_taped_twice_counts_twice() -> None:
    """Once 0.6 too long among an exact square: two readings of one distance share what neither can have."""
    fitted = fit_pattern([*SQUARE[:-2], (1, 3, 141.42), (2, 4, 141.42), (4, 2, 142.02)])
    assert len(fitted.readings) == len(fitted.residuals) == 7
    assert fitted.residuals[-1] - fitted.residuals[-2] == pytest.approx(-0.6)
    assert -0.6 < fitted.residuals[-1] < -0.2


def test_readings_that_nothing_checks_say_so() -> None:
    """Five readings just hold four holes: no misfit however wrong they are, which is said, and hole 2 may lie on
    either side of 1 and 3."""
    fitted = fit_pattern(SQUARE[:-1])
    assert (off(fitted) < 1e-6, fitted.spare) == (True, 0)
    assert any("Nothing checks these readings" in d for d in fitted.doubts)


def test_a_hole_on_two_readings_may_lie_on_its_mirror_place() -> None:
    at = np.array([[0, 0], [600, 0], [600, 500], [0, 500], [300, 928.5]])
    pairs = [*itertools.combinations(range(4), 2), (2, 4), (3, 4)]
    fitted = fit_pattern([(a + 1, b + 1, float(np.linalg.norm(at[a] - at[b]))) for a, b in pairs])
    assert tuple(map(plain, fitted.doubts)) == (
        "Hole 5 hangs on two readings and fits as well 857 mm away, across the line from 3 to 4. Tape it to a third "
        "hole.",
    )


@pytest.mark.parametrize(
    ("taped", "says"),
    [
        ([(1, 2, 80.0)], "three holes"),
        ([(1, 2, 80.0), (2, 3, 90.0)], "3 distances, and 2 are taped"),
        ([(1, 2, 80.0), (1, 3, 0.0), (2, 3, 9.0)], "more than nothing"),
        ([(1, 1, 100.0), (1, 2, 80.0), (2, 3, 9.0)], "hole 1 to itself"),
        ([(1, 2, 80.0), (1, 3, 80.0), (2, 3, 80.0), (4, 5, 30.0), (4, 6, 30.0), (5, 6, 30.0)], "need 9 distances"),
        ([*SQUARE, (4, 5, 70.0), (5, 4, 70.0)], "5 holes need 7|Hole 5 is not held"),
        ([*SQUARE, (4, 5, 70.0)], "Hole 5 is not held by what was taped"),
    ],
)
def test_readings_that_do_not_hold_each_other_are_refused(taped, says: str) -> None:
    with pytest.raises(Problem, match=says):
        fit_pattern(taped)
