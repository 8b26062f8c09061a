"""Cross-sections, one kind per module; each is a frozen value that knows its own properties.

A new kind is a module like `round.py` and a line in `AnySection`.
"""

from ironcage.core.calc.sections.angle import Angle
from ironcage.core.calc.sections.properties import Fibres, SectionProperties
from ironcage.core.calc.sections.rect import Rect
from ironcage.core.calc.sections.round import Round

AnySection = Round | Rect | Angle


def between(one: AnySection, other: AnySection, share: float) -> AnySection:
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
    return one if share < 0.5 else other


def depth(shape: AnySection, y: float, z: float) -> float:
    """How deep a section is across a direction of its own axes (y, z, together of length 1), mm."""
    width, height = shape.size
    return width if isinstance(shape, Round) else abs(y) * width + abs(z) * height


__all__ = ["Angle", "AnySection", "Fibres", "Rect", "Round", "SectionProperties", "between", "depth"]
