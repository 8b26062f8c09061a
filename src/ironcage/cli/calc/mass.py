"""`calc mass`: total, centre of gravity, axle split and stance of things at places."""

import math
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, Place, plain
from ironcage.core.calc.car.mass import axle_split, total
from ironcage.core.calc.car.stance import Stance, contacts_of, stand
from ironcage.problem import Problem


class AskedMass(Asked):
    """Something heavy at a place."""

    mass: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]
    at: Place
    name: str = ""


class MassQuestion(Asked):
    """Things in kg at places in mm; axles by x, forward positive; with both tracks, how it stands."""

    parts: Annotated[list[AskedMass], Field(min_length=1, max_length=100_000)]
    front_x: Number | None = None
    rear_x: Number | None = None
    front_track: Annotated[float, Field(gt=0, le=1e6)] | None = None
    rear_track: Annotated[float, Field(gt=0, le=1e6)] | None = None


def answer(question: MassQuestion) -> dict[str, Any]:
    """Total in kg, centre of gravity in mm; with both axles, their shares."""
    summed = total(np.array([p.mass for p in question.parts]), np.array([p.at for p in question.parts]))
    said: dict[str, Any] = {"mass_kg": round(summed.mass, 6), "cg_mm": plain(summed.cg)}
    if question.front_x is not None and question.rear_x is not None:
        share = axle_split(float(summed.cg[0]), question.front_x, question.rear_x)
        said |= {
            "front_share": round(share, 6),
            "front_kg": round(share * summed.mass, 6),
            "rear_kg": round((1 - share) * summed.mass, 6),
        }
        if question.front_track is not None and question.rear_track is not None:
            contacts = contacts_of(question.front_x, question.rear_x, question.front_track, question.rear_track)
            try:
                said |= _stands(stand(summed.mass, summed.cg, contacts))
            except Problem as problem:
                said["problem"] = str(problem)
    return said


def _stands(s: Stance) -> dict[str, Any]:
    """Corner loads in kg, lifts in g, tips in degrees."""
    return {
        "corners_kg": plain(s.corners),
        "front_lifts_at_g": round(s.front_lifts, 6),
        "rear_lifts_at_g": round(s.rear_lifts, 6),
        "tips_left_deg": round(math.degrees(s.tips_left), 5),
        "tips_right_deg": round(math.degrees(s.tips_right), 5),
        "limits": "Rigid, tyres not squashed; each axle's load is centred where the centre of gravity is.",
    }
