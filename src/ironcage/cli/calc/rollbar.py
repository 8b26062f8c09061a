"""`calc rollbar`: what an anti-roll bar holds a leaning car with."""

import math
from typing import Annotated, Any

from pydantic import Field

from ironcage.cli.calc.question import Asked
from ironcage.core.calc.car.springs import SPRING_STEEL_G, bar_stiffness
from ironcage.problem import Problem
from ironcage.units.tables import N_M_PER_DEGREE

Size = Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]


class RollBarQuestion(Asked):
    """od, bore: of the part that twists, bore 0 a solid one; length: of that; arm: from its axis square to its drop
    links; ratio: how far a drop link goes for each mm that its wheel rises; track; mm."""

    od: Size
    bore: Annotated[float, Field(ge=0, le=5000)] = 0.0
    length: Size
    arm: Size
    ratio: Annotated[float, Field(gt=0, le=3)] = 1.0
    track: Size


def rollbar(question: RollBarQuestion) -> dict[str, Any]:
    """Its roll stiffness, N·m a degree of lean, and for each degree how far it twists, degrees, and the shear stress at
    its outside, MPa."""
    q = question
    if q.bore >= q.od:
        raise Problem("The bore leaves nothing of the bar.", where="bore", hint="It is less than od.")
    twist = q.ratio * q.track / q.arm
    return {
        "roll_stiffness_Nm_per_deg": round(
            bar_stiffness(q.od, q.bore, q.length, q.arm, q.ratio, q.track) * N_M_PER_DEGREE, 3
        ),
        "twist_deg_per_deg": round(twist, 4),
        "shear_MPa_per_deg": round(SPRING_STEEL_G * math.radians(twist) / q.length * q.od / 2, 3),
        "limits": "Twist of the middle alone; arms, drop links and bushes are rigid; stress at bends is higher.",
    }
