"""Cross-sections, one kind per module; each is a frozen value that knows its own properties and its outline.

A new kind is a module like `round.py` and a line in `AnySection` and in `TYPED`. What the rest of the program asks of
a section, it asks of the section: `is_round` (a hole saw fits it, a sleeve slides over it, it goes oval in a bend),
`mitred_when_slight` (a slight corner of it is mitred rather than run through), `tapers`, `lowers` and `lowered` (cut
down to a lower height), `grown` (for a gap round it), `level_mm`, `family`, `convex_parts`, `drawn`, `contour`,
`typed` and `of`.
"""

from typing import overload

from ironcage.core.calc.sections.angle import Angle
from ironcage.core.calc.sections.properties import Fibres, SectionProperties
from ironcage.core.calc.sections.rect import Rect
from ironcage.core.calc.sections.round import Round
from ironcage.core.calc.sections.stated import Stated

AnySection = Round | Rect | Angle
Figured = AnySection | Stated  # what a beam can be made of
TYPED: dict[str, tuple[type[AnySection], int]] = {  # the words that name a kind, and how many sizes are typed of it
    "round|tube|pipe": (Round, 2),
    r"square|rect\w*": (Rect, 3),
    "angle": (Angle, 3),
}


@overload
def between(one: AnySection, other: AnySection, share: float) -> AnySection: ...
@overload
def between(one: Figured, other: Figured, share: float) -> Figured: ...
def between(one: Figured, other: Figured, share: float) -> Figured:
    """The section at a share of the way along a taper; of another kind, the first section as far as the middle."""

    if type(one) is type(other):
        made: Figured = one.between(other, share)  # type: ignore[arg-type]
        return made
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
    "TYPED",
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
