"""`calc driver`: a person posed in a seat: joint centres, angles, and which limb is short."""

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, Place, plain
from ironcage.core.calc.car.mannequin import (
    COMFORT_DEG,
    Limbs,
    Seat,
    comfort,
    pose,
    stature_of,
)
from ironcage.problem import Problem


class AskedSeat(Asked):
    """Where they sit and reach, mm and degrees."""

    hip: Place
    back_deg: Number
    pedals: Place
    feet_apart: Number = 180.0
    floor: Number
    stroke: Number = 60.0
    wheel: Place | None = None
    wheel_size: Number = 300.0
    splay_deg: Number = 8.0


class DriverQuestion(Asked):
    """A person by all their limbs, by stature, or by a percentile of a table; limbs given besides a stature replace
    its."""

    stature_mm: Number | None = None
    percentile: Number | None = None
    of: Literal["men", "women"] = "men"
    limbs_mm: dict[str, Number] = Field(default_factory=dict)
    mass_kg: Annotated[float, Field(gt=0, le=1000)] = 77.0
    seat: AskedSeat


def answer(question: DriverQuestion) -> dict[str, Any]:
    """Joint centres in mm with pedals at rest and down, angles in degrees, limbs that are short in mm."""
    known = Limbs.__dataclass_fields__
    wrong = next((name for name in question.limbs_mm if name not in known), None)
    if wrong is not None:
        raise Problem(f"There is no limb ‘{wrong}’.", where=wrong, hint=f"There are {', '.join(known)}.")
    stature = question.stature_mm
    if stature is None and question.percentile is not None:
        stature = stature_of(question.percentile, question.of)
    if stature is None and len(question.limbs_mm) < len(known) - 1:
        raise Problem(
            "The person has no size.", where="stature_mm", hint="Give stature_mm, percentile, or all of limbs_mm."
        )
    base = vars(Limbs.of_stature(stature)) if stature is not None else {}
    limbs = Limbs(**{**base, **question.limbs_mm})
    s = question.seat
    seat = Seat(
        s.hip,
        math.radians(s.back_deg),
        s.pedals,
        s.feet_apart,
        s.floor,
        s.stroke,
        s.wheel,
        s.wheel_size,
        math.radians(s.splay_deg),
    )
    made = pose(limbs, seat, question.mass_kg)
    return {
        "limbs_mm": {name: round(value, 2) for name, value in vars(limbs).items()},
        "points_mm": {name: plain(place, 3) for name, place in made.points.items()},
        "pedals_down_mm": {
            name: plain(made.pressed[name], 3)
            for name in made.pressed
            if "knee" in name or "ankle" in name or "heel" in name
        },
        "angles_deg": {name: round(value, 3) for name, value in made.angles.items()},
        "comfortable_deg": {name: list(span) for name, span in COMFORT_DEG.items()},
        "beyond_deg": {name: round(value, 3) for name, value in comfort(made.angles).items()},
        "short_mm": {name: round(value, 3) for name, value in made.short.items()},
        "heel_lift_mm": round(made.heel_lift, 3),
        "cg_mm": plain(made.cg, 3),
        "limits": "Straight links between joint centres; comfort after Rebiffé 1969.",
    }
