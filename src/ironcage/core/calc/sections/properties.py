"""What a beam needs to know of a cross-section."""

import math
from dataclasses import dataclass

from ironcage.problem import Problem
from ironcage.units import said


@dataclass(frozen=True)
class SectionProperties:
    """Area (mm²), second moments about the section's own y and z axes (mm⁴), St-Venant torsion
    constant (mm⁴) and shear areas (mm²) for forces along y and z.

    `tilt` (rad) turns the given y axis to the principal one; zero for symmetric sections.
    """

    area: float
    i_y: float
    i_z: float
    j: float
    shear_area_y: float
    shear_area_z: float
    tilt: float = 0.0


@dataclass(frozen=True)
class Fibres:
    """Where a section is stressed most. y, z: from its centroid to the farthest fibre along its principal axes, mm;
    round: bending about both axes adds as arrows do; twist: torque by its greatest shear stress, mm³."""

    y: float
    z: float
    round: bool
    twist: float


def mixed(one: float, other: float, share: float) -> float:
    """A size at a share of the way along a taper, mm."""
    return one + share * (other - one)


def demand_sizes(kind: str, **sizes_mm: float) -> None:
    """Refuse sizes that are not finite and positive, or beyond anything a builder buys (600 mm)."""
    for name, size in sizes_mm.items():
        if not math.isfinite(size) or not 0 < size <= 600:
            raise Problem(f"A {kind} section cannot have {name.replace('_', ' ')} {said.size(size)}.", where=kind)


def demand_wall(kind: str, wall_mm: float, half_mm: float) -> None:
    """Refuse a wall that fills the section."""
    if wall_mm > half_mm * (1 + 1e-12):
        raise Problem(
            f"A {kind} section with wall {said.size(wall_mm)} is over half its size.",
            where=kind,
            hint=f"The wall is at most {said.size(half_mm)}.",
        )
