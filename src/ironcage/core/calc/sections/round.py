"""Round tube; a wall of half the diameter is a solid bar."""

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from ironcage.core.calc.sections.contour import Circle, Floats
from ironcage.core.calc.sections.properties import Fibres, SectionProperties, demand_sizes, demand_wall


@dataclass(frozen=True)
class Round:
    """A round tube by outside diameter and wall, mm."""

    od_mm: float
    wall_mm: float
    kind: Literal["round"] = "round"

    def __post_init__(self) -> None:
        demand_sizes("round", outside_diameter=self.od_mm, wall=self.wall_mm)
        demand_wall("round", self.wall_mm, self.od_mm / 2)

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
    def contour(self) -> Circle:
        """The outer surface."""
        return Circle(self.od_mm / 2)

    def inside(self, points: Floats, normals: Floats) -> Floats:
        """The places (n, 2) on the inner surface that lie square through the wall from `points` of the outer one."""
        return points - self.wall_mm * normals

    def reach(self, y: float, z: float) -> float:
        """How far the surface is from the middle along a direction of length 1, mm."""
        return self.od_mm / 2

    def drawn(self, sides: int) -> Floats:
        """The corners (sides, 2) it is drawn with, on the surface."""
        turn = np.linspace(0, 2 * np.pi, sides, endpoint=False)
        return self.od_mm / 2 * np.column_stack([np.cos(turn), np.sin(turn)])
