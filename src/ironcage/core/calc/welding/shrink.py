"""How a weld round a tube's end shortens it and tilts it, by the inherent-strain model.

Over the welded arcs the wall shortens by s0 mm of the tube's length, elsewhere by nothing. The plane that fits this
best over the outline at mid wall, a + β_y y + β_z z, is what the tube's end gets as a stress-free shortening and tilt.
For a round tube it is a + b cos φ + c sin φ with a the mean of s, b = (1/π)∮s cos φ dφ, c = (1/π)∮s sin φ dφ, and
β_y = b/r, β_z = c/r; φ runs from the section's y towards its z.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Arcs = Iterable[tuple[float, float]]
WHOLE: tuple[tuple[float, float], ...] = ((0.0, 2 * math.pi),)


@dataclass(frozen=True)
class Shrinkage:
    """short: of the tube at its axis, mm; tilt_y, tilt_z: how much more it shortens for each mm along the section's y
    and z, rad."""

    short: float
    tilt_y: float
    tilt_z: float


def of_round(radius: float, arcs: Arcs, s0: float) -> Shrinkage:
    """Of a round tube, radius to mid wall, mm; arcs (start, stop) in rad, the stop beyond the start; s0 mm."""
    a = b = c = 0.0
    for start, stop in arcs:
        a += s0 * (stop - start) / (2 * math.pi)
        b += s0 * (math.sin(stop) - math.sin(start)) / math.pi
        c += s0 * (math.cos(start) - math.cos(stop)) / math.pi
    return Shrinkage(a, b / radius, c / radius)


def of_rectangle(depth: float, width: float, arcs: Arcs, s0: float) -> Shrinkage:
    """Of a rectangular tube with sharp corners, depth along y and width along z to mid wall, mm; arcs by the angle of
    each place seen from the middle, rad."""
    y, z = depth / 2, width / 2
    corners = np.array([(y, -z), (y, z), (-y, z), (-y, -z), (y, -z)])
    wanted = list(arcs)
    around = 2 * (depth + width)
    second_y = depth**3 / 6 + 2 * width * y**2
    second_z = width**3 / 6 + 2 * depth * z**2
    length = moment_y = moment_z = 0.0
    for a, b in pairwise(corners):
        for start, stop in wanted:
            for t0, t1 in _welded(a, b, start, stop):
                p, q = a + t0 * (b - a), a + t1 * (b - a)
                size = float(np.linalg.norm(q - p))
                length += size
                moment_y += size * (p[0] + q[0]) / 2
                moment_z += size * (p[1] + q[1]) / 2
    return Shrinkage(s0 * length / around, s0 * moment_y / second_y, s0 * moment_z / second_z)


def _welded(a: Floats, b: Floats, start: float, stop: float) -> Iterable[tuple[float, float]]:
    """The shares of a straight side from a to b, seen anticlockwise from the middle, that lie in an arc."""
    first = math.atan2(a[1], a[0])
    turn = (math.atan2(b[1], b[0]) - first) % (2 * math.pi)
    if stop - start >= 2 * math.pi - 1e-12:
        yield 0.0, 1.0
        return
    for lap in range(-2, 3):
        low, high = max(start - first + 2 * math.pi * lap, 0.0), min(stop - first + 2 * math.pi * lap, turn)
        if low < high:
            yield _share(a, b, first + low), _share(a, b, first + high)


def _share(a: Floats, b: Floats, angle: float) -> float:
    """How far along from a to b a ray from the middle at an angle meets the side."""
    ray = np.array([math.cos(angle), math.sin(angle)])
    along = b - a
    return float(np.clip(-(a[0] * ray[1] - a[1] * ray[0]) / (along[0] * ray[1] - along[1] * ray[0]), 0.0, 1.0))
