"""Round tube; a wall of half the diameter is a solid bar."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar, Literal

import numpy as np

from ironcage.core.calc.sections.contour import CircleContour, Floats
from ironcage.core.calc.sections.properties import Fibres, SectionProperties, demand_sizes, demand_wall, mixed

SIDES, COARSE_SIDES = 12, 8  # of what it is drawn as


@dataclass(frozen=True)
class Round:
    """A round tube by outside diameter and wall, mm."""

    od_mm: float
    wall_mm: float
    kind: Literal["round"] = "round"

    def __post_init__(self) -> None:
        demand_sizes("round", outside_diameter=self.od_mm, wall=self.wall_mm)
        demand_wall("round", self.wall_mm, self.od_mm / 2)

    is_round: ClassVar[bool] = True
    mitred_when_slight: ClassVar[bool] = False
    lowers: ClassVar[bool] = False
    tapers: ClassVar[bool] = True

    @classmethod
    def of(cls, sizes_mm: Sequence[float]) -> Round:
        """The tube of an outside diameter and a wall, as they are typed."""
        od, wall = sizes_mm
        return cls(od, wall)

    @property
    def typed(self) -> tuple[tuple[float, ...], str]:
        """Its sizes as they are typed, mm, and the word after them."""
        return (self.od_mm, self.wall_mm), ""

    @property
    def family(self) -> str:
        """What a builder takes for the same kind of tube."""
        return "round"

    @property
    def level_mm(self) -> float:
        """Its width as it is usually laid in a rail."""
        return self.od_mm

    def between(self, other: Round, share: float) -> Round:
        """The section at a share of the way along a taper."""
        return Round(mixed(self.od_mm, other.od_mm, share), mixed(self.wall_mm, other.wall_mm, share))

    def grown(self, by_mm: float) -> Round:
        """One that reaches further by so much to every side, its wall the same."""
        return Round(self.od_mm + 2 * by_mm, self.wall_mm)

    def lowered(self, height_mm: float) -> Round:
        """It can't be cut down to a lower height: as it is."""
        return self

    def convex_parts(self) -> tuple[tuple[Floats, ...], float]:
        """Convex outlines (k, 2) that are the section together once all are grown by a radius, mm: its middle."""
        return (np.zeros((1, 2)),), self.od_mm / 2

    @property
    def size(self) -> tuple[float, float]:
        """Width and height, mm."""
        return self.od_mm, self.od_mm

    def properties(self, poisson: float) -> SectionProperties:
        """Exact ring; shear coefficient of the thick ring after Cowper 1966, table 1."""
        outer, inner = self.od_mm / 2, self.od_mm / 2 - self.wall_mm
        area = math.pi * (outer**2 - inner**2)
        i = math.pi / 4 * (outer**4 - inner**4)
        m2 = (inner / outer) ** 2
        k = 6 * (1 + poisson) * (1 + m2) ** 2 / ((7 + 6 * poisson) * (1 + m2) ** 2 + (20 + 12 * poisson) * m2)
        return SectionProperties(area, i, i, 2 * i, k * area, k * area)

    def fibres(self) -> Fibres:
        """The rim; τ = T·r/J."""
        r = self.od_mm / 2
        return Fibres(r, r, True, math.pi / 2 * (r**4 - (r - self.wall_mm) ** 4) / r)

    @cached_property
    def contour(self) -> CircleContour:
        """The outer surface."""
        return CircleContour(self.od_mm / 2)

    def inside(self, points: Floats, normals: Floats) -> Floats:
        """The places (n, 2) on the inner surface that lie square through the wall from `points` of the outer one."""
        return points - self.wall_mm * normals

    def reach(self, y: float, z: float) -> float:
        """How far the surface is from the middle along a direction of length 1, mm."""
        return self.od_mm / 2

    def drawn(self, *, coarse: bool = False) -> Floats:
        """The corners (n, 2) it is drawn with, on the surface; fewer where it is drawn `coarse`."""
        turn = np.linspace(0, 2 * np.pi, COARSE_SIDES if coarse else SIDES, endpoint=False)
        return self.od_mm / 2 * np.column_stack([np.cos(turn), np.sin(turn)])
