"""`calc spring`: a wheel on its coil-over, from what it carries and its motion ratio."""

from typing import Annotated, Any

from pydantic import Field

from ironcage.cli.calc.question import Asked
from ironcage.core.calc.car.springs import frequency, rate_for, roll_stiffness, wheel_rate
from ironcage.core.calc.frames.load_distribution import G
from ironcage.problem import Problem
from ironcage.units.tables import N_M_PER_DEGREE

Positive = Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]


class SpringQuestion(Asked):
    """carried_kg: what the spring carries at rest, without what moves with the wheel; ratio: how far it shortens for
    each mm that the wheel rises, slope: how that changes, 1/mm; rate (N/mm) or swings_hz, whichever is known; track
    (mm): for the roll stiffness of both wheels; free, solid: lengths of the spring alone and with its coils touching,
    mm, for what is left of it."""

    carried_kg: Positive
    ratio: Annotated[float, Field(gt=0.01, le=10)]
    slope: Annotated[float, Field(ge=-1, le=1)] = 0.0
    rate: Positive | None = None
    swings_hz: Annotated[float, Field(gt=0, le=50)] | None = None
    track: Positive | None = None
    free: Positive | None = None
    solid: Positive | None = None


def spring(question: SpringQuestion) -> dict[str, Any]:
    """The spring's and the wheel's rate, N/mm, ride frequency, Hz, force, N, and how far the spring is pressed together
    at rest, mm."""
    q = question
    if (q.rate is None) == (q.swings_hz is None):
        raise Problem("Say one of rate and swings_hz.", where="rate", hint='Write for example: "rate": 40')
    force = q.carried_kg * G / q.ratio
    rate = q.rate or rate_for(q.swings_hz or 0.0, q.carried_kg, force, q.ratio, q.slope)
    at_wheel = wheel_rate(rate, force, q.ratio, q.slope)
    if rate <= 0 or at_wheel <= 0:
        raise Problem(
            "No spring does that where the motion ratio changes so quickly.",
            where="slope",
            hint="Look at the slope: how the ratio changes for each mm of travel.",
        )
    told = {
        "rate": round(rate, 4),
        "wheel_rate": round(at_wheel, 4),
        "swings_hz": round(frequency(at_wheel, q.carried_kg), 4),
        "force": round(force, 2),
        "squeeze": round(force / rate, 3),
    }
    if q.free is not None:
        told["length_at_rest"] = round(q.free - force / rate, 3)
        if q.solid is not None:
            told["left_to_bind"] = round(q.free - force / rate - q.solid, 3)
    if q.track is not None:
        told["roll_stiffness_Nm_per_deg"] = round(roll_stiffness(at_wheel, q.track) * N_M_PER_DEGREE, 2)
    return {**told, "limits": "Rigid tyres, no bump stop, no anti-roll bar, no rate of bushes."}
