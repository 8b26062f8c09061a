"""`calc leaf`: a leaf spring's rate, stress, and how its eyes and its shackle move."""

import math
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Number
from ironcage.core.calc.car.leaf import Leaf
from ironcage.problem import Problem
from ironcage.units.tables import N_M_PER_DEGREE

Size = Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]
Leaves = Annotated[int, Field(ge=0, le=40)]


class LeafQuestion(Asked):
    """front, rear: along the spring from its seat to each eye; wide, thick: of each leaf; full, stepped: how many
    leaves of full length and shorter ones; across: whether it lies across the car, clamped in its middle, its arms
    `front`; load: N at its seat, or at each end of one across; arch: of its seat out of the line of its eyes; shackle,
    lean_deg: its length, and how far its lower end leans outwards; travel: up, mm, a list."""

    front: Size
    rear: Size
    wide: Size
    thick: Size
    full: Leaves = 1
    stepped: Leaves = 0
    across: bool = False
    load: Annotated[float, Field(ge=0, le=1e6)] | None = None
    arch: Number = 0.0
    shackle: Size | None = None
    lean_deg: Annotated[float, Field(ge=-80, le=80)] = 0.0
    travel: Annotated[list[Annotated[float, Field(ge=-400, le=400)]], Field(max_length=200)] = Field(
        default_factory=list
    )


def leaf(question: LeafQuestion) -> dict[str, Any]:
    """Its rate, N/mm, at the seat or at each end; its stress, MPa, under a load; at each travel how far its eyes come
    apart and its seat goes back, mm, and how its shackle leans, degrees."""
    q = question
    if q.full + q.stepped == 0:
        raise Problem("A leaf spring has one leaf at least.", where="full", hint='Write: "full": 1')
    made = Leaf(q.front, q.rear, q.wide, q.thick, q.stepped, q.full, q.arch, q.shackle or 0.0, math.radians(q.lean_deg))
    told: dict[str, Any] = {"rate": round(made.end_rate if q.across else made.rate, 4)}
    if q.load is not None:
        bending = q.load * q.front if q.across else made.bending(q.load)
        told["stress_MPa"] = round(made.stress(bending), 2)
    if not q.across:
        travel = np.array(q.travel, float)
        apart, back = made.longer(travel), made.back(travel)
        leans = np.degrees(made.shackle_lean(travel)) if q.shackle else None
        told["roll_steer"] = round(made.roll_steer, 5)
        told["wind_up_Nm_per_deg"] = round(made.wind_up * N_M_PER_DEGREE, 3)
        told["positions"] = [
            {
                "travel": q.travel[n],
                "eyes_apart": round(float(apart[n]), 4),
                "back": round(float(back[n]), 4),
                "shackle_deg": None if leans is None or math.isnan(leans[n]) else round(float(leans[n]), 4),
            }
            for n in range(len(travel))
        ]
    return {**told, "limits": "Thin leaves without friction; the arch a parabola; both eyes level."}
