"""Angle (L) section with sharp corners."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import ClassVar, Literal

import numpy as np

from ironcage.core.calc.sections.contour import Contour, Floats
from ironcage.core.calc.sections.properties import Fibres, SectionProperties, demand_sizes, demand_wall


@dataclass(frozen=True)
class Angle:
    """An angle with one leg along y and one along z, heel at the lower left; thickness, mm.

    Bending is about its principal axes through the centroid; the offset of the shear centre (at the
    heel) is left out, which docs/methods.md states.
    """

    leg_y_mm: float
    leg_z_mm: float
    wall_mm: float
    kind: Literal["angle"] = "angle"

    def __post_init__(self) -> None:
        demand_sizes("angle", leg_y=self.leg_y_mm, leg_z=self.leg_z_mm, wall=self.wall_mm)
        demand_wall("angle", self.wall_mm, min(self.leg_y_mm, self.leg_z_mm) / 2)

    is_round: ClassVar[bool] = False
    mitred_when_slight: ClassVar[bool] = False
    lowers: ClassVar[bool] = False
    tapers: ClassVar[bool] = False

    @classmethod
    def of(cls, sizes_mm: Sequence[float]) -> Angle:
        """The angle of a standing leg, a lying leg and a thickness, as they are typed."""
        leg_z, leg_y, wall = sizes_mm
        return cls(leg_y, leg_z, wall)

    @property
    def typed(self) -> tuple[tuple[float, ...], str]:
        """Its sizes as they are typed, mm, and the word after them."""
        return (self.leg_z_mm, self.leg_y_mm, self.wall_mm), " angle"

    @property
    def family(self) -> str:
        """What a builder takes for the same kind of tube."""
        return "angle"

    @property
    def level_mm(self) -> float:
        """Its width as it is usually laid in a rail: of the shorter leg."""
        return min(self.size)

    def between(self, other: Angle, share: float) -> Angle:
        """An angle does not taper: the nearer end's."""
        return self if share < 0.5 else other

    def grown(self, by_mm: float) -> Angle:
        """Itself: an angle is not landed on all round, and its legs are kept as they are."""
        return self

    def lowered(self, height_mm: float) -> Angle:
        """It can't be cut down to a lower height: as it is."""
        return self

    def convex_parts(self) -> tuple[tuple[Floats, ...], float]:
        """Convex outlines (k, 2) that are the section together once all are grown by a radius (none): its legs."""
        corners = self.drawn()
        flats = [corners[[0, 1, 2, 3]], corners[[0, 3, 4, 5]]]
        flats[0][3], flats[1][1] = [corners[0, 0], corners[2, 1]], [corners[3, 0], corners[0, 1]]
        return tuple(flats), 0.0

    @property
    def size(self) -> tuple[float, float]:
        """Width and height, mm."""
        return self.leg_y_mm, self.leg_z_mm

    @property
    def centroid(self) -> tuple[float, float]:
        """Centroid from the heel, mm."""
        a, b, t = self.leg_y_mm, self.leg_z_mm, self.wall_mm
        area = t * (a + b - t)
        return (a * a * t / 2 + (b - t) * t * t / 2) / area, (b * b * t / 2 + (a - t) * t * t / 2) / area

    def properties(self, poisson: float) -> SectionProperties:
        """Two rectangles by the parallel-axis theorem; J = Σ b·t³/3 (thin open section)."""
        a, b, t = self.leg_y_mm, self.leg_z_mm, self.wall_mm
        cy, cz = self.centroid
        parts = [(a, t, a / 2, t / 2), (t, b - t, t / 2, t + (b - t) / 2)]  # width, height, centre y, z
        i_y = sum(w * h**3 / 12 + w * h * (z - cz) ** 2 for w, h, y, z in parts)
        i_z = sum(h * w**3 / 12 + w * h * (y - cy) ** 2 for w, h, y, z in parts)
        i_yz = sum(w * h * (y - cy) * (z - cz) for w, h, y, z in parts)
        mean, half = (i_y + i_z) / 2, math.hypot((i_y - i_z) / 2, i_yz)
        tilt = 0.5 * math.atan2(-2 * i_yz, i_y - i_z)
        return SectionProperties(
            t * (a + b - t), mean + half, mean - half, (a + b - t) * t**3 / 3, 5 / 6 * a * t, 5 / 6 * b * t, tilt
        )

    def fibres(self) -> Fibres:
        """The corners, turned to the principal axes; τ = T·t/J."""
        tilt = self.properties(0.3).tilt
        turned = self.drawn() @ np.array([[math.cos(tilt), -math.sin(tilt)], [math.sin(tilt), math.cos(tilt)]])
        y, z = (float(v) for v in np.abs(turned).max(axis=0))
        return Fibres(y, z, False, self.properties(0.3).j / self.wall_mm)

    @cached_property
    def contour(self) -> Contour:
        """All six sides about the centroid, from the heel along the first leg."""
        corners = self.drawn()
        return Contour.of([(p.tolist(), q.tolist(), None) for p, q in pairwise([*corners, corners[0]])])

    def inside(self, points: Floats, normals: Floats) -> Floats:
        """The places themselves (n, 2): an open section has no inner surface, and its paper goes round both faces of
        each leg."""
        return points

    def reach(self, y: float, z: float) -> float:
        """How far the section reaches from its centroid along a direction (y, z) of length 1, mm."""
        return float((self.drawn() @ np.array([y, z])).max())

    def drawn(self, *, coarse: bool = False) -> Floats:
        """The six corners (6, 2) about the centroid, mm, however coarse."""
        a, b, t = self.leg_y_mm, self.leg_z_mm, self.wall_mm
        corners = np.array([[0, 0], [a, 0], [a, t], [t, t], [t, b], [0, b]])
        return corners - np.array(self.centroid)
