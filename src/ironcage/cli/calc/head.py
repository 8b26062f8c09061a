"""`calc head`: rake and trail of a steering head, and what changes of ride height do to them."""

import math
from typing import Annotated, Any

from pydantic import Field

from ironcage.cli.calc.question import Asked
from ironcage.core.calc.car.steerhead import SteerHead

Size = Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)]
Change = Annotated[float, Field(ge=-1000, le=1000)]


class HeadQuestion(Asked):
    """wheelbase; front_dia, rear_dia: of the tyres as they stand; head_deg: of the steering axis from upright, its top
    to the rear; offset: of the front axle ahead of that axis, square to it; and what is changed: fork: how much longer
    along the axis, lift: how much lower the rear axle comes in the frame, new_front_dia, new_rear_dia; mm."""

    wheelbase: Size
    front_dia: Size
    rear_dia: Size
    head_deg: Annotated[float, Field(ge=0, le=70)]
    offset: Annotated[float, Field(ge=-500, le=500)] = 0.0
    fork: Change = 0.0
    lift: Change = 0.0
    new_front_dia: Size | None = None
    new_rear_dia: Size | None = None


def head(question: HeadQuestion) -> dict[str, Any]:
    """Trail along the ground and square to the axis, mm, and, where something is changed, the new head angle, degrees,
    wheelbase and trail."""
    q = question
    before = SteerHead(q.wheelbase, q.front_dia / 2, q.rear_dia / 2, math.radians(q.head_deg), q.offset)
    told = _told(before)
    changed = q.fork or q.lift or q.new_front_dia or q.new_rear_dia
    if changed:
        front, rear = (None if dia is None else dia / 2 for dia in (q.new_front_dia, q.new_rear_dia))
        after = before.changed(fork=q.fork, lift=q.lift, front=front, rear=rear)
        told["changed"] = {**_told(after), "nose_up_deg": round(math.degrees(after.angle - before.angle), 4)}
    return {**told, "limits": "Rigid frame and tyres, one wheel in front and on its middle behind, steered straight."}


def _told(of: SteerHead) -> dict[str, Any]:
    return {
        "head_deg": round(math.degrees(of.angle), 4),
        "wheelbase": round(of.wheelbase, 3),
        "trail": round(of.trail, 3),
        "normal_trail": round(of.normal_trail, 3),
    }
