"""Rod ends against what can be seen from the side: a head that turns until its edge touches, and links that swing."""

import math

import numpy as np
import pytest
from scipy.optimize import brentq
from scipy.spatial.transform import Rotation

from ironcage.core.calc.linkage.rodends import Eye, bolt_across, tilts

X, Y, Z = np.eye(3)


def touching(eye: Eye, gap: float) -> float:
    """How far a head, a rectangle from the side, turns between two faces `gap` apart until a corner touches."""
    corner = np.array([eye.head / 2, eye.housing / 2])
    return brentq(lambda a: math.sin(a) * corner[0] + math.cos(a) * corner[1] - gap / 2, 0, math.atan2(*corner))


@pytest.mark.parametrize("eye", [Eye(29, 10.5, 14), Eye(36, 13.5, 19), Eye(24, 9, 12)])
def test_a_head_tilts_until_its_edge_touches_and_a_spacer_lets_it_further(eye: Eye) -> None:
    assert eye.limit == pytest.approx(touching(eye, eye.ball))
    assert eye.spacer(eye.limit / 2) == 0
    spacer = eye.spacer(math.radians(20))
    assert touching(eye, eye.ball + 2 * spacer) == pytest.approx(math.radians(20))
    assert math.isnan(eye.spacer(math.radians(85)))


def swung(axis: np.ndarray, degrees: float, way: np.ndarray) -> np.ndarray:
    return Rotation.from_rotvec(np.radians(degrees) * axis).apply(way)


def test_a_link_that_swings_about_its_bolts_does_not_tilt_and_one_that_swings_along_them_does() -> None:
    rest = (Y, (Z, Z))
    assert tilts(swung(Z, 25, Y), (Z, Z), rest) == pytest.approx([0, 0], abs=1e-9)
    assert tilts(swung(X, 12, Y), (Z, Z), rest) == pytest.approx(np.radians([12, 12]))
    both = tilts(np.array([swung(Z, 25, Y), swung(X, 12, Y)]), (np.array([Z, Z]), np.array([Z, Z])), rest)
    assert both == pytest.approx(np.radians([[0, 0], [12, 12]]), abs=1e-9)


def test_a_twist_between_both_bolts_is_shared_by_both_ends() -> None:
    assert tilts(Y, (Z, swung(Y, 18, Z)), (Y, (Z, Z))) == pytest.approx(np.radians([9, 9]))
    set_up = (Y, (Z, swung(Y, 90, Z)))  # bolts may stand across each other from the start
    assert tilts(Y, (Z, swung(Y, 100, Z)), set_up) == pytest.approx(np.radians([5, 5]))


def test_a_bolt_lies_square_to_its_link() -> None:
    link = np.array([0.3, 1.0, -0.2])
    bolt = bolt_across(link, Z)
    assert (bolt @ link, bolt @ bolt) == pytest.approx((0, 1))
    assert bolt @ Z > 0.9
    assert bolt_across(Z, Z) == pytest.approx(X)  # none is upright there
