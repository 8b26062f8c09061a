"""How a flat cut is set on a saw: how far the blade is turned and, where it must be, tilted."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.sections import AnySection

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class SawCut:
    """square: between the cut and a square one, rad; turn, tilt: of the blade, rad, with the tube lying on the side
    that is `rests` wide, mm. A round tube is laid so that turning the blade is enough."""

    square: float
    turn: float
    tilt: float
    rests: float


def saw_cut(shape: AnySection, axes: Floats, normal: Floats) -> SawCut:
    """The setting for a flat cut with a unit normal (3,) across a tube whose axes are rows (3, 3).

    With the tube on its side and a blade that stands upright and is turned by μ and then tilted by τ, the normal of the
    cut is (cos τ cos μ, cos τ sin μ, sin τ) along the tube, across it and up. Of the two sides that it may lie on, the
    one is taken on which the blade is tilted less.
    """
    along, across, up = (abs(float(axis @ normal)) for axis in axes)
    square = math.acos(min(1.0, along))
    if shape.is_round:
        return SawCut(square, square, 0.0, 0.0)
    width, height = shape.size
    if up > across:
        across, up, width = up, across, height
    return SawCut(square, math.atan2(across, along), math.asin(min(1.0, up)), width)


def side_left(size: tuple[float, float], axes: Floats, way: Floats) -> tuple[Floats, float]:
    """The side of a rectangular tube by which a line from its axis along the unit `way` (3,) leaves it: its unit
    normal (3,), and how far it is from the axis, mm. size: its width and height, along y and z of its axes (3, 3)."""
    found = []
    for axis, across in zip(axes[1:], size, strict=True):
        slant = float(way @ axis)
        if abs(slant) > 1e-12:
            found.append((across / 2 / abs(slant), axis * math.copysign(1.0, slant), across / 2))
    _, normal, off = min(found, key=lambda f: f[0])
    return np.asarray(normal), off
