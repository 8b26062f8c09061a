"""Square and rectangular tube, with or without corner radius."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar, Literal

import numpy as np

from ironcage.core.calc.sections.contour import Contour, Floats
from ironcage.core.calc.sections.properties import Fibres, SectionProperties, demand_sizes, demand_wall, mixed
from ironcage.problem import Problem
from ironcage.units import said


def _solid(width: float, height: float, radius: float) -> tuple[float, float]:
    """Area and second moment about the horizontal axis of a solid rectangle with rounded corners.

    Each corner loses a square of side r and gains a quarter disc (Young & Budynas, Roark's formulas,
    8th ed., table A.1).
    """
    lost = radius**2 * (1 - math.pi / 4)
    if radius == 0:
        return width * height, width * height**3 / 12
    square_arm = height / 2 - radius / 2
    square_own = radius**4 / 12
    disc_area = math.pi * radius**2 / 4
    disc_arm = height / 2 - radius + 4 * radius / (3 * math.pi)
    disc_own = radius**4 * (math.pi / 16 - 4 / (9 * math.pi))
    corner = (square_own + radius**2 * square_arm**2) - (disc_own + disc_area * disc_arm**2)
    return width * height - 4 * lost, width * height**3 / 12 - 4 * corner


@dataclass(frozen=True)
class Rect:
    """A rectangular tube: width along its y axis, height along its z axis, wall, outer corner radius, mm."""

    width_mm: float
    height_mm: float
    wall_mm: float
    corner_mm: float = 0.0
    kind: Literal["rect"] = "rect"

    def __post_init__(self) -> None:
        demand_sizes("rectangular", width=self.width_mm, height=self.height_mm, wall=self.wall_mm)
        half = min(self.width_mm, self.height_mm) / 2
        demand_wall("rectangular", self.wall_mm, half)
        if not 0 <= self.corner_mm <= half:
            raise Problem(
                f"A corner radius of {said.size(self.corner_mm)} does not fit "
                f"{said.sizes(self.width_mm)} × {said.size(self.height_mm)}."
            )

    is_round: ClassVar[bool] = False
    mitred_when_slight: ClassVar[bool] = True
    lowers: ClassVar[bool] = True
    tapers: ClassVar[bool] = True

    @classmethod
    def of(cls, sizes_mm: Sequence[float]) -> Rect:
        """The tube of a height, a width and a wall, as they are typed. A solid bar has sharp corners, a tube is drawn
        round them to one and a half walls."""
        height, width, wall = sizes_mm
        half = min(height, width) / 2
        return cls(width, height, wall, 0.0 if wall >= half else min(1.5 * wall, half))

    @property
    def typed(self) -> tuple[tuple[float, ...], str]:
        """Its sizes as they are typed, mm, and the word after them."""
        return (self.height_mm, self.width_mm, self.wall_mm), ""

    @property
    def family(self) -> str:
        """What a builder takes for the same kind of tube."""
        return "square" if self.width_mm == self.height_mm else "rectangular"

    @property
    def level_mm(self) -> float:
        """Its width as it is usually laid in a rail."""
        return self.width_mm

    def between(self, other: Rect, share: float) -> Rect:
        """The section at a share of the way along a taper."""
        return Rect(
            mixed(self.width_mm, other.width_mm, share),
            mixed(self.height_mm, other.height_mm, share),
            mixed(self.wall_mm, other.wall_mm, share),
            mixed(self.corner_mm, other.corner_mm, share),
        )

    def grown(self, by_mm: float) -> Rect:
        """One that reaches further by so much to every side, its wall the same: its corners are as far off."""
        corner = self.corner_mm + by_mm
        return Rect(self.width_mm + 2 * by_mm, self.height_mm + 2 * by_mm, self.wall_mm, corner)

    def lowered(self, height_mm: float) -> Rect:
        """The same tube slit along and cut down to a lower height."""
        return Rect(self.width_mm, height_mm, self.wall_mm, min(self.corner_mm, height_mm / 2))

    def convex_parts(self) -> tuple[tuple[Floats, ...], float]:
        """Convex outlines (k, 2) that are the section together once all are grown by a radius, mm."""
        y, z = self.width_mm / 2 - self.corner_mm, self.height_mm / 2 - self.corner_mm
        return (np.array([[y, -z], [y, z], [-y, z], [-y, -z]]),), self.corner_mm

    @property
    def size(self) -> tuple[float, float]:
        """Width and height, mm."""
        return self.width_mm, self.height_mm

    @property
    def solid(self) -> bool:
        """Whether its walls meet, so that it is a bar."""
        return 2 * self.wall_mm >= min(self.width_mm, self.height_mm) * (1 - 1e-12)

    def properties(self, poisson: float) -> SectionProperties:
        """Exact area and second moments; torsion after Bredt on the mid-line, of a solid bar after Saint-Venant
        (sharp corners); shear on the webs, Cowper 1966.

        Cowper's coefficient for the thin-walled box is used with its web share: forces along z are
        carried by the two walls of height h, after the thin box of equal walls.
        """
        w, h, t = self.width_mm, self.height_mm, self.wall_mm
        inner_corner = max(self.corner_mm - t, 0.0)
        area_o, i_y_o = _solid(w, h, self.corner_mm)
        area_i, i_y_i = _solid(w - 2 * t, h - 2 * t, inner_corner)
        i_z = _solid(h, w, self.corner_mm)[1] - _solid(h - 2 * t, w - 2 * t, inner_corner)[1]
        middle = max(self.corner_mm - t / 2, 0.0)
        enclosed = (w - t) * (h - t) - (4 - math.pi) * middle**2
        perimeter = 2 * (w + h - 2 * t) - (8 - 2 * math.pi) * middle
        area = area_o - area_i
        j = 4 * enclosed**2 * t / perimeter if not self.solid else _solid_torsion(w, h)
        return SectionProperties(
            area,
            i_y_o - i_y_i,
            i_z,
            j,
            _box_shear(h - t, w - t, poisson) * area,
            _box_shear(w - t, h - t, poisson) * area,
        )

    def fibres(self) -> Fibres:
        """The corners; τ = T / (2·A·t) on the mid-line's area A (Bredt); of a solid bar at the middle of its longer
        side."""
        w, h, t = self.width_mm, self.height_mm, self.wall_mm
        if self.solid:
            return Fibres(w / 2, h / 2, False, _solid_twist(w, h))
        enclosed = (w - t) * (h - t) - (4 - math.pi) * max(self.corner_mm - t / 2, 0.0) ** 2
        return Fibres(w / 2, h / 2, False, 2 * enclosed * t)

    @cached_property
    def contour(self) -> Contour:
        """The outer surface with its rounded corners, from the middle of the +y side towards +z."""
        y, z, r = self.width_mm / 2, self.height_mm / 2, self.corner_mm
        return Contour.of(
            [
                ((y, 0), (y, z - r), None),
                ((y, z - r), (y - r, z), (y - r, z - r)),
                ((y - r, z), (r - y, z), None),
                ((r - y, z), (-y, z - r), (r - y, z - r)),
                ((-y, z - r), (-y, r - z), None),
                ((-y, r - z), (r - y, -z), (r - y, r - z)),
                ((r - y, -z), (y - r, -z), None),
                ((y - r, -z), (y, r - z), (y - r, r - z)),
                ((y, r - z), (y, 0), None),
            ]
        )

    def inside(self, points: Floats, normals: Floats) -> Floats:
        """The places (n, 2) on the inner surface square through the wall from `points` of the outer one; within a
        corner that is sharp inside, its inner corner."""
        most = np.array([self.width_mm / 2 - self.wall_mm, self.height_mm / 2 - self.wall_mm])
        return np.clip(points - self.wall_mm * normals, -most, most)

    def reach(self, y: float, z: float) -> float:
        """How far the outer surface reaches from the middle along a direction (y, z) of length 1, mm."""
        r = self.corner_mm
        return abs(y) * (self.width_mm / 2 - r) + abs(z) * (self.height_mm / 2 - r) + r

    def drawn(self, *, coarse: bool = False) -> Floats:
        """The four corners (4, 2) it is drawn with, as if they were sharp, however coarse."""
        y, z = self.width_mm / 2, self.height_mm / 2
        return np.array([[y, -z], [y, z], [-y, z], [-y, -z]])


def _solid_torsion(width: float, height: float) -> float:
    """Torsion constant of a solid rectangle, mm⁴: Saint-Venant's series (Timoshenko & Goodier, Theory of elasticity,
    3rd ed., art. 109)."""
    long, short = max(width, height), min(width, height)
    odd = np.arange(1, 40, 2)
    series = float((np.tanh(odd * math.pi * long / (2 * short)) / odd**5).sum())
    return long * short**3 / 3 * (1 - 192 / math.pi**5 * short / long * series)


def _solid_twist(width: float, height: float) -> float:
    """Torque by the greatest shear stress in a solid rectangle, mm³, at the middle of its longer side (the same
    article)."""
    long, short = max(width, height), min(width, height)
    odd = np.arange(1, 40, 2)
    series = float((1 / (odd**2 * np.cosh(odd * math.pi * long / (2 * short)))).sum())
    return _solid_torsion(width, height) / (short * (1 - 8 / math.pi**2 * series))


def _box_shear(flange: float, web: float, poisson: float) -> float:
    """Cowper's coefficient of a thin-walled box of one thickness; force along the webs.

    Cowper 1966, table 1, with m = flange/web areas and n = flange width/web depth.
    """
    if flange <= 0 or web <= 0:
        return 5 / 6
    m = n = flange / web
    top = 10 * (1 + poisson) * (1 + 3 * m) ** 2
    bottom = (
        12 + 72 * m + 150 * m**2 + 90 * m**3
        + poisson * (11 + 66 * m + 135 * m**2 + 90 * m**3)
        + 10 * n**2 * ((3 + poisson) * m + 3 * m**2)
    )  # fmt: skip
    return top / bottom
