"""Bolt patterns, splayed holes and crush tubes, by hand and by an independent road."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.bolts import crush_tube, fit_pattern, splay_hole
from ironcage.problem import Problem


@given(st.lists(st.tuples(st.integers(-200, 200), st.integers(-200, 200)), min_size=3, max_size=6, unique=True))
def test_a_pattern_comes_back_from_its_own_distances(places: list[tuple[int, int]]) -> None:
    at = np.array(places, dtype=float)
    taped = {(a + 1, b + 1): float(np.linalg.norm(at[a] - at[b])) for a, b in itertools.combinations(range(len(at)), 2)}
    fitted = fit_pattern(taped)
    assert fitted.worst < 1e-4
    for (a, b), d in taped.items():
        assert np.linalg.norm(fitted.places[a - 1] - fitted.places[b - 1]) == pytest.approx(d, abs=1e-4)
    assert fitted.places[0] == pytest.approx((0, 0), abs=1e-9)
    assert fitted.places[1, 1] == pytest.approx(0, abs=1e-9)


def test_a_square_taped_round_and_across_shows_the_slip() -> None:
    taped = {(1, 2): 100.0, (2, 3): 100.0, (3, 4): 100.0, (4, 1): 100.0, (1, 3): 141.4, (2, 4): 141.4}
    assert fit_pattern(taped).worst < 0.05
    assert fit_pattern(taped | {(2, 4): 151.4}).worst > 2
    assert (
        fit_pattern({k: v for k, v in taped.items() if k != (2, 4)}).worst < 1e-6
    )  # five distances just hold four holes


@pytest.mark.parametrize(
    ("taped", "says"),
    [
        ({(1, 2): 80.0}, "three holes"), ({(1, 2): 80.0, (2, 3): 90.0}, "3 distances, and 2 are taped"), ({(1, 2): 80.0, (1, 3): 0.0, (2, 3): 9.0}, "more than nothing"),
        ({(1, 2): 80.0, (1, 3): 80.0, (2, 3): 80.0, (4, 5): 30.0, (4, 6): 30.0, (5, 6): 30.0}, "need 9 distances"),
    ],
)  # fmt: skip
def test_readings_that_do_not_hold_each_other_are_refused(taped, says: str) -> None:
    with pytest.raises(Problem, match=says):
        fit_pattern(taped)


@given(st.floats(4, 40), st.floats(1, 6), st.floats(0, 1.2))
def test_a_leaning_shaft_just_touches_the_edges_of_its_hole(shaft: float, wall: float, lean: float) -> None:
    """By hand in the plane of the lean: the shaft's two edges, at both faces of the wall."""
    hole = splay_hole(shaft, wall, 60.0, lean)
    edges = [s * shaft / 2 / math.cos(lean) + z * math.tan(lean) for s in (-1, 1) for z in (-wall / 2, wall / 2)]
    assert hole.along == pytest.approx(max(edges) - min(edges))
    assert hole.across == shaft
    assert hole.shift == pytest.approx((60 - wall) * math.tan(lean))


def test_a_crush_tube_carries_the_clamp_of_its_bolt() -> None:
    made = crush_tube(10, 50.0, 350.0)
    assert made.clamp == pytest.approx(0.75 * 600 * 58.0, rel=0.01)  # ISO 898-1: M10 has 58.0 mm²
    ring = math.pi / 4 * (made.least_od**2 - made.bore**2)
    assert made.clamp / ring == pytest.approx(350 / 1.5)
    assert (made.length, made.bore, made.head) == (50.0, 11.0, 17.77)
    for wrong in (
        lambda: crush_tube(9, 50, 350),
        lambda: crush_tube(10, 50, 350, "4.5"),
        lambda: splay_hole(10, 2, 40, 1.5),
        lambda: splay_hole(10, 30, 40, 0.1),
    ):
        with pytest.raises(Problem):
            wrong()
