"""`calc column`: a steering column of several universal joints."""

import math
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Number
from ironcage.core.calc.car import column as core


class ColumnQuestion(Asked):
    """places: from the steering wheel's end, by each joint, to the box or the pinion, mm."""

    places: Annotated[list[tuple[Number, Number, Number]], Field(min_length=2, max_length=20)]


def column(question: ColumnQuestion) -> dict[str, Any]:
    """The angle of each joint, degrees, the length of each part, mm, how far the second yoke of each part between
    joints is to be turned against its first, degrees, how unevenly the column then turns, and with all yokes in line,
    per cent, and the bearings that it needs between its joints."""
    told = core.column(np.array(question.places, float))
    return {
        "joints_deg": [round(math.degrees(v), 3) for v in told.angles],
        "lengths": [round(v, 3) for v in told.lengths],
        "yokes_deg": [round(math.degrees(v), 1) for v in told.yokes],
        "uneven_percent": round(100 * told.swing, 3),
        "uneven_in_line_percent": round(100 * told.in_line, 3),
        "bearings": told.bearings,
        "limits": "Single universal joints without play; ask their maker how far each turns and what it carries.",
    }
