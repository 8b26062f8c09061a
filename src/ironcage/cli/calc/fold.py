"""`calc fold`: the wedge that folds box or angle by an angle, a rail kicked over by two folds, a radius by slitting."""

import math
from typing import Annotated, Any

from pydantic import Field

from ironcage.cli.calc.question import Asked
from ironcage.core.calc.tubes.folds import kick, slits, wedge

Length = Annotated[float, Field(gt=0, le=1e5)]


class FoldQuestion(Asked):
    """A section so deep across the fold, its wall, and the angle; rise_mm: of a rail kicked over by two folds;
    radius_mm: of the middle, made by slits as wide as kerf_mm."""

    depth_mm: Length
    wall_mm: Length
    angle_deg: Annotated[float, Field(gt=0, le=360)]
    rise_mm: Annotated[float, Field(ge=0, le=1e5)] = 0.0
    radius_mm: Annotated[float, Field(ge=0, le=1e5)] = 0.0
    kerf_mm: Annotated[float, Field(gt=0, le=50)] = 2.0


def answer(question: FoldQuestion) -> dict[str, Any]:
    """What to mark and to cut; mm and degrees."""
    q, turn = question, math.radians(question.angle_deg)
    told: dict[str, Any] = {}
    if q.radius_mm:
        made = slits(q.depth_mm, q.wall_mm, turn, q.radius_mm, q.kerf_mm)
        told["slits"] = {
            "count": made.count,
            "each_closes_deg": round(math.degrees(made.each), 4),
            "apart_mm": round(made.apart, 4),
            "slit_length_of_wall_mm": round(made.length, 4),
            "hinge_radius_mm": round(made.radius, 4),
            "deep_mm": round(q.depth_mm - q.wall_mm, 4),
        }
        return told
    cut = wedge(q.depth_mm, q.wall_mm, turn)
    told["wedge"] = {
        "mouth_mm": round(cut.mouth, 4),
        "deep_mm": round(cut.deep, 4),
        "each_cut_from_square_deg": round(math.degrees(cut.half), 4),
        "kerf_inside_the_lines_mm": q.kerf_mm,
    }
    if q.rise_mm:
        over = kick(q.depth_mm, q.wall_mm, turn, q.rise_mm)
        told["kick"] = {
            "between_hinges_mm": round(over.slope, 4),
            "along_the_rail_mm": round(over.run, 4),
            "length_gained_mm": round(over.slope - over.run, 4),
        }
    return told
