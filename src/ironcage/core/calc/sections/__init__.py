"""Cross-sections, one kind per module; each is a frozen value that knows its own properties and its outline.

A new kind is a module like `round.py` and a line in `AnySection`.
"""

from typing import overload

from ironcage.core.calc.sections.angle import Angle
from ironcage.core.calc.sections.properties import Fibres, SectionProperties
from ironcage.core.calc.sections.rect import Rect
from ironcage.core.calc.sections.round import Round
from ironcage.core.calc.sections.stated import Stated

AnySection = Round | Rect | Angle
Figured = AnySection | Stated  # what a beam can be made of


@overload
def between(one: AnySection, other: AnySection, share: float) -> AnySection: ...
@overload
def between(one: Figured, other: Figured, share: float) -> Figured: ...
def between(one: Figured, other: Figured, share: float) -> Figured:
    """The section at a share of the way along a taper; of another kind, the first section as far as the middle."""

    def mix(a: float, b: float) -> float:
        return a + share * (b - a)

    if isinstance(one, Rect) and isinstance(other, Rect):
        return Rect(
            mix(one.width_mm, other.width_mm),
            mix(one.height_mm, other.height_mm),
            mix(one.wall_mm, other.wall_mm),
            mix(one.corner_mm, other.corner_mm),
        )
    if isinstance(one, Round) and isinstance(other, Round):
        return Round(mix(one.od_mm, other.od_mm), mix(one.wall_mm, other.wall_mm))
    if isinstance(one, Stated) and isinstance(other, Stated):
        area, i_y, i_z, j, shear_y, shear_z = (
            mix(getattr(one, key), getattr(other, key))
            for key in ("area", "i_y", "i_z", "j", "shear_area_y", "shear_area_z")
        )
        return Stated(area, i_y, i_z, j, shear_y, shear_z)
    return one if share < 0.5 else other


def along_taper(one: Figured, other: Figured, poisson: float) -> tuple[float, float]:
    """The mean area of a taper from one section to another, mm², and the share of its length at which its centroid
    lies.

    Area is a quadratic of the share where sizes and walls change evenly, so Simpson's rule is exact for both.
    """
    first, middle, last = (between(one, other, s).properties(poisson).area for s in (0.0, 0.5, 1.0))
    mean = (first + 4 * middle + last) / 6
    return mean, (2 * middle + last) / 6 / mean


def depth(shape: AnySection, y: float, z: float) -> float:
    """How deep a section is across a direction of its own axes (y, z, together of length 1), mm."""
    return shape.reach(y, z) + shape.reach(-y, -z)


__all__ = [
    "Angle",
    "AnySection",
    "Fibres",
    "Figured",
    "Rect",
    "Round",
    "SectionProperties",
    "Stated",
    "along_taper",
    "between",
    "depth",
]
