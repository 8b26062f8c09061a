"""What a drilled hole leaves of a tube's section.

The section where the hole is widest: the tube less a strip as wide as the drill, through one wall or both, its area
and second moments by Green's theorem over the polygon that is left. Exact but for the facets of round walls (1 in
10 000). The raised stress at the hole's edge is not in it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections.rect import Rect
from ironcage.core.calc.sections.round import Round

if TYPE_CHECKING:
    from shapely import Polygon

LINES = 360  # points of a round wall
TURNS = 24  # directions of bending that are looked at


@dataclass(frozen=True)
class NetSection:
    """What is left, as shares of the whole section. area; i_y, i_z: second moments about the section's axes through
    what is left; bending: section modulus in the direction that loses most."""

    area: float
    i_y: float
    i_z: float
    bending: float


def net_section(shape: Round | Rect, diameter: float, towards: tuple[float, float], walls: int) -> NetSection:
    """The section at a hole of a diameter (mm) drilled from the side that `towards` (y, z, of length 1) points at,
    through one wall or both."""
    from shapely import Polygon

    _, outer, normals = shape.contour.lines(LINES)
    inner = shape.inside(outer, normals)
    whole = (
        Polygon(outer, [inner]) if Polygon(inner).area > 0 and 2 * shape.wall_mm < min(shape.size) else Polygon(outer)
    )
    way, side = np.array(towards), np.array([-towards[1], towards[0]])
    far, near = 2 * max(shape.size), -2 * max(shape.size) if walls == 2 else 0.0
    corners = [(near, -0.5), (far, -0.5), (far, 0.5), (near, 0.5)]
    left = whole.difference(Polygon([along * way + across * diameter * side for along, across in corners]))
    area, moments, modulus = _figures(left)
    gross, whole_moments, whole_modulus = _figures(whole)
    return NetSection(
        area / gross,
        moments[0] / whole_moments[0],
        moments[1] / whole_moments[1],
        float((modulus / whole_modulus).min()),
    )


def _figures(section: Polygon) -> tuple[float, tuple[float, float], Floats]:
    """Area (mm²), second moments about y and z (mm⁴), and section moduli for bending in TURNS directions (mm³), all
    about the centroid."""
    rings = [
        (np.array(ring.coords), sign)
        for part in getattr(section, "geoms", [section])
        for ring, sign in ((part.exterior, 1.0), *((hole, -1.0) for hole in part.interiors))
    ]
    area = float(section.area)
    middle = np.array([section.centroid.x, section.centroid.y])
    products = np.zeros((2, 2))
    for ring, sign in rings:
        a, b = ring[:-1] - middle, ring[1:] - middle
        cross = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
        both = (a.T * cross) @ a + (b.T * cross) @ b + ((a + b).T * cross) @ (a + b)
        products += sign * math.copysign(1.0, cross.sum()) * both / 24  # whichever way round it is drawn
    turns = np.arange(TURNS) * math.pi / TURNS
    ways = np.column_stack([np.cos(turns), np.sin(turns)])
    second = np.einsum("ki,ij,kj->k", ways, products, ways)  # of distances along each way
    reach = np.abs((np.vstack([ring for ring, _ in rings]) - middle) @ ways.T).max(axis=0)
    return area, (float(products[1, 1]), float(products[0, 0])), second / reach
