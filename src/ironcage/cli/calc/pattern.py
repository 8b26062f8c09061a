"""`calc pattern`: hole places from taped distances; `calc bolt`: holes, crush tube and room for a bolt through hollow tube."""

import math
from typing import Annotated, Any

from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, plain
from ironcage.core.calc.bolts import BOLTS, crush_tube, fit_pattern, splay_hole

Taped = tuple[Annotated[int, Field(ge=1, le=60)], Annotated[int, Field(ge=1, le=60)], Number]


class PatternQuestion(Asked):
    """Distances taped between hole centres: first hole, second hole, mm."""

    taped: Annotated[tuple[Taped, ...], Field(min_length=1, max_length=400)]


def pattern(question: PatternQuestion) -> dict[str, Any]:
    """Places in mm, hole 1 at the origin and hole 2 along x."""
    fitted = fit_pattern({(a, b): d for a, b, d in question.taped})
    holes = sorted({h for a, b, _ in question.taped for h in (a, b)})
    return {
        "holes_mm": {str(h): plain(p, 4) for h, p in zip(holes, fitted.places, strict=True)},
        "off_mm": {f"{a}-{b}": round(v, 4) for (a, b), v in fitted.off.items()}, "worst_mm": round(fitted.worst, 4),
    }  # fmt: skip


class BoltQuestion(Asked):
    """A metric bolt through a section: its depth outside to outside, wall, lean from square, class, and the crush tube's yield."""

    bolt: int
    through_mm: Annotated[float, Field(gt=0, le=1e5)]
    wall_mm: Annotated[float, Field(ge=0, le=1e4)] = 0.0
    lean_deg: Number = 0.0
    bolt_class: str = "8.8"
    yield_mpa: Annotated[float, Field(gt=0, le=5000)] = 235.0


def bolt(question: BoltQuestion) -> dict[str, Any]:
    """Sizes in mm, clamp load in N."""
    tube = crush_tube(question.bolt, question.through_mm, question.yield_mpa, question.bolt_class)
    slack = BOLTS[question.bolt][2] - question.bolt
    hole = splay_hole(question.bolt, question.wall_mm, question.through_mm, math.radians(question.lean_deg), slack)
    return {
        "hole_across_mm": round(hole.across, 3), "hole_along_lean_mm": round(hole.along, 3), "far_hole_off_mm": round(hole.shift, 3),
        "crush_tube_mm": {"length": tube.length, "bore": tube.bore, "least_od": round(tube.least_od, 3), "wall": round(tube.wall, 3)},
        "clamp_n": round(tube.clamp, 1), "head_over_corners_mm": tube.head, "washer_mm": tube.washer,
        "limits": "Bolt tightened to 75 % of proof load; tube ring at yield over 1.5; sizes after ISO 261, 273, 4017 and 7089.",
    }  # fmt: skip
