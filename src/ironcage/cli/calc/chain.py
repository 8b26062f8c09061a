"""`calc chain`: length, links, take-up and line of a chain or belt on two wheels."""

import math
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, Place
from ironcage.core.calc.car import chain

Direction = tuple[Number, Number, Number]


class WheelQuestion(Asked):
    """A sprocket or toothed pulley: teeth, middle, and the axis of its shaft across the car."""

    teeth: Annotated[int, Field(ge=6, le=250)]
    at: Place
    axis: Direction = (0.0, 1.0, 0.0)


class ChainQuestion(Asked):
    """Two wheels; travel: places (mm) that the driven wheel goes to, off where it is; span_mm: between the driven
    shaft's bearings, left to right."""

    pitch_mm: Annotated[float, Field(gt=0, le=1000)]
    driving: WheelQuestion
    driven: WheelQuestion
    travel: tuple[Place, ...] = ()
    span_mm: Annotated[float, Field(gt=0, le=1e5)] = 300.0
    wear: Annotated[float, Field(ge=0, le=0.1)] = 0.015


def answer(question: ChainQuestion) -> dict[str, Any]:
    """Lengths in pitches and mm, angles in degrees."""
    teeth = (question.driving.teeth, question.driven.teeth)
    p, q = np.array(question.driving.at), np.array(question.driven.at)
    line = chain.line((p, np.array(question.driving.axis)), (q, np.array(question.driven.axis)))
    axis = np.array(question.driving.axis) / np.linalg.norm(question.driving.axis)

    def centres(off: Any) -> float:
        way = q + off - p
        return float(np.linalg.norm(way - (way @ axis) * axis))

    fit = chain.fit(question.pitch_mm, teeth, centres(np.zeros(3)), question.wear)
    needs = [chain.length_in_pitches(question.pitch_mm, teeth, centres(np.array(t))) for t in question.travel]
    mend = chain.mend(line, question.span_mm, 0.0)
    return {
        "centres_mm": round(centres(np.zeros(3)), 4),
        "pitches_needed": round(fit.needed, 5),
        "links": fit.links,
        "centres_for_links_mm": round(fit.centres, 4),
        "take_up_mm": round(fit.take_up, 4),
        "take_up_by_wear_mm": round(fit.worn, 3),
        "sag_mm": round(fit.sag, 2),
        "wrap_deg": [round(math.degrees(w), 3) for w in fit.wraps],
        "ratio": round(teeth[1] / teeth[0], 6),
        "pitches_needed_over_travel": [round(n, 5) for n in needs],
        "plan_deg": round(math.degrees(line.plan), 5),
        "elevation_deg": round(math.degrees(line.elevation), 5),
        "offset_mm": round(line.offset, 4),
        "right_block_forward_mm": round(mend.forward, 4),
        "right_block_up_mm": round(mend.up, 4),
        "wheel_along_mm": round(mend.along, 4),
        "limits": "Pitch circles and tight runs; a worn or hot chain is longer.",
    }
