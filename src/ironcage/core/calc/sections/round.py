"""Round tube; a wall of half the diameter is a solid bar."""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

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

    def outline(self, count: int, *, inner: bool = False) -> NDArray[np.float64]:
        """Points (count, 2) round the outer (or inner) surface in the section plane, mm, from +z to -y... turning."""
        radius = self.od_mm / 2 - (self.wall_mm if inner else 0.0)
        turn = np.linspace(0, 2 * np.pi, count, endpoint=False)
        return radius * np.column_stack([np.cos(turn), np.sin(turn)])
