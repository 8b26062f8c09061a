"""`calc shrink`: what a weld over arcs of a tube's end does to it."""

import math
from typing import Annotated, Any

from pydantic import Field

from ironcage.cli.calc.question import Asked
from ironcage.core.calc.welding.shrink import Shrinkage, of_rectangle, of_round
from ironcage.problem import Problem

Arc = tuple[Annotated[float, Field(ge=-720, le=720)], Annotated[float, Field(ge=-720, le=720)]]
Size = Annotated[float, Field(gt=0, le=2000)]


class ShrinkQuestion(Asked):
    """diameter, or depth (along y) and width (along z), over all, and wall, mm; arcs_deg: from y towards z, each start
    and stop; shrink: of the wall along the welded arcs, mm."""

    diameter: Size | None = None
    depth: Size | None = None
    width: Size | None = None
    wall: Size
    arcs_deg: Annotated[list[Arc], Field(min_length=1, max_length=100)]
    shrink: Annotated[float, Field(ge=0, le=10)]


def shrink(question: ShrinkQuestion) -> dict[str, Any]:
    """The tube's shortening at its axis (mm), the tilt of its end (mm for each metre along y and z, and degrees)."""
    q = question
    for start, stop in q.arcs_deg:
        if not 0 < stop - start <= 360:
            raise Problem(
                f"An arc from {start:g} to {stop:g} is none.",
                where="arcs_deg",
                hint="Write start and stop, up to 360 apart.",
            )
    arcs = [(math.radians(a), math.radians(b)) for a, b in q.arcs_deg]
    if q.diameter is not None and q.depth is None and q.width is None:
        made: Shrinkage = of_round(_middle(q.diameter, q.wall) / 2, arcs, q.shrink)
    elif q.diameter is None and q.depth is not None and q.width is not None:
        made = of_rectangle(_middle(q.depth, q.wall), _middle(q.width, q.wall), arcs, q.shrink)
    else:
        raise Problem("Give a diameter, or a depth and a width.", where="diameter")
    return {
        "short_mm": round(made.short, 9),
        "tilt_y_mm_per_m": round(1000 * made.tilt_y, 9),
        "tilt_z_mm_per_m": round(1000 * made.tilt_z, 9),
        "tilt_deg": round(math.degrees(math.hypot(made.tilt_y, made.tilt_z)), 9),
    }


def _middle(size: float, wall: float) -> float:
    if size <= wall:
        raise Problem(f"A wall of {wall:g} does not fit in {size:g}.", where="wall")
    return size - wall
