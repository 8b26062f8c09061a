"""`calc pattern`: hole places from taped distances; `calc bolt`: holes, crush tube and room for a bolt through
hollow tube."""

import math
from typing import Annotated, Any

from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, plain
from ironcage.core.calc.plane.pattern import fit_pattern
from ironcage.core.calc.tubes.bolts import bolt_named, crush_tube, splay_hole

Taped = tuple[Annotated[int, Field(ge=1, le=60)], Annotated[int, Field(ge=1, le=60)], Number]


class PatternQuestion(Asked):
    """Distances taped between hole centres: first hole, second hole, mm."""

    taped: Annotated[tuple[Taped, ...], Field(min_length=1, max_length=400)]


def pattern(question: PatternQuestion) -> dict[str, Any]:
    """Places in mm, hole 1 at the origin and hole 2 along x."""
    fitted = fit_pattern(question.taped)
    return {
        "holes_mm": {str(h): plain(p, 4) for h, p in zip(fitted.holes, fitted.places, strict=True)},
        "off_mm": [
            {"pair": f"{a}-{b}", "taped": d, "off": round(float(v), 4)}
            for (a, b, d), v in zip(fitted.readings, fitted.residuals, strict=True)
        ],
        "worst_mm": round(float(abs(fitted.residuals[fitted.worst])), 4),
        "spare_readings": fitted.spare,
        "doubts": list(fitted.doubts),
    }


class BoltQuestion(Asked):
    """A bolt through a section, `10` or `"M10"` metric or `"1/2\""` inch: the section's depth outside to outside,
    wall, lean from square, the bolt's class, and the crush tube's yield."""

    bolt: int | str
    through_mm: Annotated[float, Field(gt=0, le=1e5)]
    wall_mm: Annotated[float, Field(ge=0, le=1e4)] = 0.0
    lean_deg: Number = 0.0
    bolt_class: str = ""
    yield_mpa: Annotated[float, Field(gt=0, le=5000)] = 235.0


def bolt(question: BoltQuestion) -> dict[str, Any]:
    """Sizes in mm, clamp load in N."""
    name = f"M{question.bolt}" if isinstance(question.bolt, int) else question.bolt
    tube = crush_tube(name, question.through_mm, question.yield_mpa, question.bolt_class)
    size = bolt_named(name).diameter  # type: ignore[union-attr]  # an unknown one was refused
    hole = splay_hole(size, question.wall_mm, question.through_mm, math.radians(question.lean_deg), tube.bore - size)
    return {
        "hole_across_mm": round(hole.across, 3),
        "hole_along_lean_mm": round(hole.along, 3),
        "far_hole_off_mm": round(hole.shift, 3),
        "crush_tube_mm": {
            "length": tube.length,
            "bore": round(tube.bore, 3),
            "least_od": round(tube.least_od, 3),
            "wall": round(tube.wall, 3),
        },
        "clamp_n": round(tube.clamp, 1),
        "head_over_corners_mm": round(tube.head, 2),
        "washer_mm": round(tube.washer, 2),
        "limits": "Bolt tightened to 75 % of proof load; tube ring at yield over 1.5; sizes after ISO 261, 273, 4017 "
        "and 7089, inch ones after ASME B1.1, B18.2.1, B18.2.8 and B18.21.1; the head is over its corners "
        "at most.",
    }
