"""Folded edges laid flat, against sums by hand."""

import math

import numpy as np
import pytest

from ironcage.core.calc.plane.flats import Flat
from ironcage.core.calc.plane.folded import NEUTRAL, folded_edges
from ironcage.problem import Problem

SQUARE = np.array([(0.0, 0.0), (400.0, 0.0), (400.0, 300.0), (0.0, 300.0)])


def test_a_tray_is_as_wide_flat_as_its_folds_and_bends_make_it() -> None:
    """400 x 300 over all, edges 20 high of 1.5 sheet, 2 inside: flat each way 2 · (20 − 3.5) more than between the
    bends, and the length of two bends."""
    made = folded_edges(SQUARE, np.zeros(4), 20, 1.5, 2)
    bend = math.pi / 2 * (2 + NEUTRAL * 1.5)
    wide, deep = np.ptp(made.outline, axis=0)
    assert wide == pytest.approx(400 - 2 * 3.5 + 2 * bend + 2 * 16.5)
    assert deep == pytest.approx(300 - 2 * 3.5 + 2 * bend + 2 * 16.5)
    assert len(made.outline) == 12
    area = (393 + 2 * (bend + 16.5)) * (293 + 2 * (bend + 16.5)) - 4 * (bend + 16.5) ** 2  # less four open corners
    assert Flat(made.outline).gross == pytest.approx(area)
    first = made.bends[0]
    assert np.allclose(first, [(3.5, 3.5 - bend / 2), (396.5, 3.5 - bend / 2)])


def test_folds_stand_inside_of_the_faces_of_tubes() -> None:
    plain, inset = (
        folded_edges(SQUARE, np.array(by), 20, 1.5, 2).outline for by in ((0, 0, 0, 0.0), (15, 15, 15, 15.0))
    )
    assert np.allclose(np.ptp(plain, axis=0) - np.ptp(inset, axis=0), 30)


@pytest.mark.parametrize(
    ("rim", "high", "words"),
    [
        (SQUARE, 3, "has no room for its bend"),
        (np.array([(0.0, 0.0), (400.0, 0.0), (400.0, 300.0), (200.0, 100.0)]), 20, "inner corner"),
        (SQUARE / 60, 20, "Nothing is left"),
    ],
)
def test_what_can_not_be_folded_is_refused(rim: np.ndarray, high: float, words: str) -> None:
    with pytest.raises(Problem, match=words):
        folded_edges(rim, np.zeros(4), high, 1.5, 2)
