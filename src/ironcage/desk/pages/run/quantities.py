"""What can be read of a corner: each with its name, its unit, how it is written, and where it stands in the curves."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from ironcage.core.calc.linkage.wishbone import CornerCurves, Floats
from ironcage.units import Units


@dataclass(frozen=True)
class Read:
    """value: from the curves, in rad, mm or as a ratio; shown: as the builder reads it; axis: the chart's name with
    its unit; drawn: a value as the chart counts it; tip: what it means."""

    name: str
    value: Callable[[CornerCurves], Floats]
    shown: Callable[[Units, float], str]
    axis: Callable[[Units], str]
    drawn: Callable[[Units, float], float]
    tip: str


def _angle(name: str, value: Callable[[CornerCurves], Floats], tip: str) -> Read:
    return Read(
        name, value, lambda u, v: f"{math.degrees(v):.2f}°", lambda u: f"{name}, °", lambda u, v: math.degrees(v), tip
    )


def _length(name: str, value: Callable[[CornerCurves], Floats], tip: str) -> Read:
    return Read(
        name, value, lambda u, v: u.fine(v), lambda u: f"{name}, {u.length_name}", lambda u, v: u.in_length(v), tip
    )


READS: tuple[Read, ...] = (
    _angle("camber", lambda c: c.camber, "Positive with the top of the wheel out"),
    _angle("toe in", lambda c: c.toe_in, "Positive with the front edge in; over the travel it is bump steer"),
    _angle("caster", lambda c: c.caster, "The line of both ball joints, its top to the rear"),
    _angle("kingpin inclination", lambda c: c.kingpin, "The line of both ball joints, its top in"),
    _length("scrub radius", lambda c: c.scrub, "From where that line meets the ground out to the contact"),
    _length("trail", lambda c: c.trail, "From where that line meets the ground back to the contact"),
    _length("track change", lambda c: c.out, "Of this wheel, outwards"),
    _length("wheelbase change", lambda c: c.ahead, "Of this wheel, forwards"),
    _length("roll centre", lambda c: c.roll_centre, "Height over the ground"),
    Read(
        "motion ratio",
        lambda c: c.motion_ratio,
        lambda u, v: f"{v:.3f}",
        lambda u: "motion ratio",
        lambda u, v: v,
        "How far the coil-over shortens, as a share of the wheel's travel",
    ),
    _length("coil-over length", lambda c: c.spring, "Between both of its ends"),
)
