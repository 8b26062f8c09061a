"""What a kink costs, by hand; plates with holes and where they go."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.plane.flats import Flat, flattened
from ironcage.core.calc.tubes.kicks import kinked
from ironcage.units import METRIC


def test_a_fold_a_mitre_and_a_bend_cost_what_a_saw_and_a_rod_do() -> None:
    """80 high, 40 wide, wall 3, kinked by 30°: the slant across it is 80 / cos 15°."""
    slant = 80 / math.cos(math.radians(15))
    fold = kinked((40, 80), 3, math.radians(30), 2, "fold")
    assert fold.cuts == 4
    assert fold.weld == pytest.approx(2 * (40 + 2 * slant))  # three sides; the outer wall is whole
    assert fold.mouth == pytest.approx(2 * 77 * math.tan(math.radians(15)))
    mitre = kinked((40, 80), 3, math.radians(30), 2, "mitre")
    assert mitre.weld == pytest.approx(2 * 2 * (40 + slant))  # all round
    assert mitre.weld > fold.weld
    assert kinked((40, 80), 3, math.radians(30), 2, "bend").weld == 0
    assert fold.words(METRIC) == f"4 cuts, notches {fold.mouth:.1f} mm wide, {fold.weld:.1f} mm of weld"
    assert kinked((40, 80), 3, 0.5, 4, "bend").words(METRIC) == "bent, no cuts and no weld"


@given(st.integers(1, 9), st.floats(8, 60))
def test_holes_that_fit_keep_half_a_diameter_to_edge_and_to_each_other(count: int, diameter: float) -> None:
    plate = Flat(np.array([[0, 0], [400.0, 0], [380, 220], [40, 260]]))
    made = plate.with_holes(count, diameter)
    if made is None:
        assert count * (2 * diameter) ** 2 > 0.2 * plate.area  # refused only where it is tight
        return
    at = np.array([h[:2] for h in made.holes])
    assert len(at) == count
    assert plate.holds(at).all()
    assert plate.to_edge(at).min() >= diameter - 1e-9
    if count > 1:
        apart = np.linalg.norm(at[:, None] - at[None], axis=2) + np.eye(count) * 1e9
        assert apart.min() >= 1.5 * diameter - 1e-9
    assert made.area == pytest.approx(plate.area - count * math.pi * diameter**2 / 4)


@given(st.floats(0, 6.28), st.floats(-1, 1), st.floats(-50, 50))
def test_a_flat_plate_keeps_its_size_however_it_stands(turn: float, lean: float, off: float) -> None:
    flat = np.array([[0, 0, 0], [300.0, 0, 0], [320, 200, 0], [0, 180, 0]])
    c, s = math.cos(turn), math.sin(turn)
    about = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]]) @ np.array(
        [[1, 0, 0], [0, math.cos(lean), -math.sin(lean)], [0, math.sin(lean), math.cos(lean)]]
    )
    outline, warp = flattened(flat @ about.T + off)
    assert warp < 1e-9
    assert Flat(outline).gross == pytest.approx(Flat(flat[:, :2]).gross)
    assert Flat(outline).edge == pytest.approx(Flat(flat[:, :2]).edge)
    x, y = outline.T
    assert x @ np.roll(y, -1) - y @ np.roll(x, -1) > 0  # anticlockwise


def test_a_plate_with_fingers_holds_what_lies_in_them_and_not_between_them() -> None:
    """Three fingers 10 wide and 10 apart on a bar 10 high: a line across them crosses the outline six times."""
    fingers = [(0, 0), (50, 0), (50, 40), (40, 40), (40, 10), (30, 10), (30, 40), (20, 40), (20, 10), (10, 10)]
    plate = Flat(np.array([*fingers, (10, 40), (0, 40)], dtype=float))
    across = np.array([[x, 25.0] for x in (-5, 5, 15, 25, 35, 45, 55)])
    assert plate.holds(across).tolist() == [False, True, False, True, False, True, False]


def test_new_holes_keep_as_far_from_one_that_is_there_as_from_each_other() -> None:
    plate = Flat(np.array([[0.0, 0], [200, 0], [200, 100], [0, 100]]), ((100.0, 50.0, 40.0),))
    made = plate.with_holes(2, 20.0)
    assert made is not None
    there, *new = made.holes
    for x, y, d in new:
        assert math.hypot(x - there[0], y - there[1]) - there[2] / 2 - d / 2 >= d / 2 - 1e-9
    assert Flat(plate.outline, ((100.0, 50.0, 95.0),)).with_holes(1, 45.0) is None
