"""A section by its figures alone, for calculators: it has no outline, so nothing can be cut or drawn from it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ironcage.core.calc.sections.properties import Fibres, SectionProperties, mixed


@dataclass(frozen=True)
class Stated:
    """Area (mm²), second moments about its y and z axes and torsion constant (mm⁴), shear areas along y and z (mm²,
    0 for no shear flexibility), and how far its farthest fibres lie from its centroid along y and z and its torsion
    modulus (mm, mm³; None not known: then its stress is not told)."""

    area: float
    i_y: float
    i_z: float
    j: float
    shear_area_y: float = 0.0
    shear_area_z: float = 0.0
    far_y: float | None = None
    far_z: float | None = None
    twist: float | None = None
    kind: Literal["stated"] = "stated"

    @property
    def stressed(self) -> bool:
        """Whether stress can be told."""
        return None not in (self.far_y, self.far_z, self.twist)

    def between(self, other: Stated, share: float) -> Stated:
        """The figures at a share of the way along a taper."""
        area, i_y, i_z, j, shear_y, shear_z = (
            mixed(getattr(self, key), getattr(other, key), share)
            for key in ("area", "i_y", "i_z", "j", "shear_area_y", "shear_area_z")
        )
        return Stated(area, i_y, i_z, j, shear_y, shear_z)

    def properties(self, poisson: float) -> SectionProperties:
        """As stated, whatever the material."""
        return SectionProperties(self.area, self.i_y, self.i_z, self.j, self.shear_area_y, self.shear_area_z)

    def fibres(self) -> Fibres:
        """As stated; a unit where not known, and then nothing is to be made of it."""
        return Fibres(self.far_y or 1.0, self.far_z or 1.0, False, self.twist or 1.0)
