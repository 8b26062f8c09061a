"""What was measured on the built frame: distances between joints, heights over the table, slopes by a level.

Lengths mm, angles rad. A reading may name a joint that has since gone; the answer then says so.
"""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal, get_args

from pydantic import Field

from ironcage.core.job.values.base import Coordinate, Id, Size, Value
from ironcage.units.quantity import ANGLE, LENGTH

Fine = Annotated[float, Field(gt=0, le=100, allow_inf_nan=False), LENGTH]
Small = Annotated[float, Field(ge=-50, le=50, allow_inf_nan=False), LENGTH]
Slope = Annotated[float, Field(ge=-1.5, le=1.5, allow_inf_nan=False), ANGLE]


class _Measured(Value):
    id: Id
    when: date | None = None


class TapedDistance(_Measured):
    """a distance by tape, from the middle of one joint to the middle of another"""

    kind: Literal["tape"] = "tape"
    a: Id
    b: Id
    distance: Size


class MeasuredHeight(_Measured):
    """how high a joint's middle stands over the table"""

    kind: Literal["height"] = "height"
    joint: Id
    height: Coordinate


class MeasuredSlope(_Measured):
    """a level laid from one joint to another: how steeply it rises, down negative"""

    kind: Literal["level"] = "level"
    a: Id
    b: Id
    slope: Slope


AnyMeasured = TapedDistance | MeasuredHeight | MeasuredSlope
Measured = Annotated[AnyMeasured, Field(discriminator="kind")]
MEASURED: dict[str, type[AnyMeasured]] = {str(k.model_fields["kind"].default): k for k in get_args(AnyMeasured)}


class Truing(Value):
    """tape_error: what the tape reads too much, mm, whatever the distance, as one with a worn hook does; tape_fine,
    height_fine, level_fine: how exactly each is read (one standard deviation); within: how far off its place a joint
    may be, mm; datum: three joints, of which the first stays, the second stays on its line and the third in its
    plane; none: the frame is laid on the drawing as it fits best."""

    readings: Annotated[tuple[Measured, ...], Field(max_length=5000)] = ()
    last_reading: Annotated[int, Field(ge=0, le=10**9)] = 0
    tape_error: Small = 0.0
    tape_fine: Fine = 0.5
    height_fine: Fine = 0.5
    level_fine: Annotated[float, Field(gt=0, le=0.1, allow_inf_nan=False), ANGLE] = 0.001
    within: Fine = 1.5
    datum: Annotated[tuple[Id, ...], Field(max_length=3)] = ()


def joints_of(reading: AnyMeasured) -> tuple[str, ...]:
    """The joints that a reading is of."""
    return (reading.joint,) if isinstance(reading, MeasuredHeight) else (reading.a, reading.b)


def value_of(reading: AnyMeasured) -> float:
    """What was read, mm or rad."""
    if isinstance(reading, TapedDistance):
        return reading.distance
    return reading.height if isinstance(reading, MeasuredHeight) else reading.slope
