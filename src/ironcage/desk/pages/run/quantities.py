"""What can be read of a corner: each with its name, its unit, how it is written, and where it stands in the curves."""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from ironcage.core.calc.linkage.wishbone import Floats
from ironcage.units import Units


@dataclass(frozen=True)
class Read:
    """value: from what is told of a corner (`CornerCurves`), a live axle (`AxleTold`), a beam (`BeamTold`), arms
    (`SwingTold`) or, where `sprung`, of springs (`SpringCurves`), in rad, mm, N or as a ratio; shown: as the builder
    reads it; axis: the chart's name with its unit; drawn: a value as the chart counts it; tip: what it means."""

    name: str
    value: Callable[[Any], Floats]
    shown: Callable[[Units, float], str]
    axis: Callable[[Units], str]
    drawn: Callable[[Units, float], float]
    tip: str
    sprung: bool = False

    def by_mm(self, units: Units, change: float) -> str:
        """How the builder reads a change for a millimetre, finer than the figure itself."""
        drawn = self.drawn(units, change)
        text = f"{abs(drawn):.3f}"
        sign = "−" if drawn < 0 and float(text) else "+" if float(text) else ""
        return f"{sign}{text}"


def _angle(name: str, value: Callable[[Any], Floats], tip: str) -> Read:
    return Read(name, value, lambda u, v: _degrees(v), lambda u: f"{name}, °", lambda u, v: math.degrees(v), tip)


def _degrees(radians: float) -> str:
    text = f"{math.degrees(radians):.2f}"
    return f"{text.removeprefix('-') if float(text) == 0 else text}°"


def _length(name: str, value: Callable[[Any], Floats], tip: str) -> Read:
    return Read(
        name, value, lambda u, v: u.fine(v), lambda u: f"{name}, {u.length_name}", lambda u, v: u.in_length(v), tip
    )


def _known(name: str, value: Callable[[Any], Floats], tip: str) -> Read:
    """A length that may not be known."""
    return replace(_length(name, value, tip), shown=lambda u, v: "–" if math.isnan(v) else u.fine(v))


def _share(name: str, value: Callable[[Any], Floats], tip: str) -> Read:
    return Read(
        name,
        value,
        lambda u, v: "–" if math.isnan(v) else f"{100 * v:.0f} %",
        lambda u: f"{name}, %",
        lambda u, v: 100 * v,
        tip,
    )


_MOTION_RATIO = Read(
    "motion ratio",
    lambda c: c.motion_ratio,
    lambda u, v: "–" if math.isnan(v) else f"{v:.3f}",
    lambda u: "motion ratio",
    lambda u, v: v,
    "How far the coil-over shortens, as a share of the wheel's travel",
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
    _MOTION_RATIO,
    _length("coil-over length", lambda c: c.spring, "Between both of its ends"),
)

AXLE_READS: tuple[Read, ...] = (
    _length("shift", lambda a: a.curves.aside, "Of the axle's middle, to the left"),
    _length("wheelbase change", lambda a: a.curves.ahead, "Of the axle's middle, forwards"),
    _angle("axle steer", lambda a: a.curves.steer, "To the left, by the axle's own turn"),
    _angle("pinion", lambda a: a.curves.pinion, "Its nose up, from ride height"),
    _length("roll centre", lambda a: a.curves.roll_centre, "Height over the ground, where the axle leans about"),
    Read(
        "roll steer",
        lambda a: a.curves.roll_steer,
        lambda u, v: f"{100 * v:.1f} %",
        lambda u: "roll steer, %",
        lambda u, v: 100 * v,
        "How far the axle steers to the left for each degree that its left wheel rises over the right one",
    ),
    _share(
        "anti-squat",
        lambda a: a.squat,
        "How much of what moves back under drive the links hold up; needs wheels and masses",
    ),
    _length("bind", lambda a: a.curves.bind, "The most that a link would have to be longer or shorter"),
    _length("coil-over length", lambda a: a.spring, "Of the left one, between both of its ends"),
    _MOTION_RATIO,
)


def rate_words(units: Units, n_per_mm: float) -> str:
    """A spring's or a wheel's rate, finer than a frame's stiffness is told."""
    return f"{units.in_linear_stiffness(n_per_mm):.1f} {units.linear_stiffness_name}"


def _reserve(name: str, value: Callable[[Any], Floats], tip: str) -> Read:
    """What is left of a coil-over's travel, mm."""
    return Read(
        name,
        value,
        lambda u, v: "–" if math.isnan(v) else u.length(v),
        lambda u: f"{name}, {u.length_name}",
        lambda u, v: u.in_length(v),
        tip,
        sprung=True,
    )


BEAM_READS: tuple[Read, ...] = (
    _angle("left wheel steers", lambda b: b.left, "To the left"),
    _angle("right wheel steers", lambda b: b.right, "To the left"),
    _share("Ackermann", lambda b: b.ackermann, "100 %: both wheels roll on one centre on the other axle's line"),
    Read(
        "turning circle",
        lambda b: b.circle,
        lambda u, v: "–" if math.isnan(v) else u.metres(v),
        lambda u: f"turning circle, {u.length_name}",
        lambda u, v: u.in_length(v),
        "The diameter that the outer tyre's middle runs on, without slip",
    ),
    _angle("camber", lambda b: b.camber, "Of the left wheel, positive with its top out"),
    _length("lifts the car", lambda b: b.rise, "Over the left wheel, as it is steered"),
    _angle("caster", lambda b: b.caster, "The kingpin, its top to the rear"),
    _angle("kingpin inclination", lambda b: b.kingpin, "The kingpin, its top in"),
    _length("scrub radius", lambda b: b.scrub, "From where the kingpin's line meets the ground out to the contact"),
    _length("trail", lambda b: b.trail, "From where the kingpin's line meets the ground back to the contact"),
)

SWING_READS: tuple[Read, ...] = (
    _angle("camber", lambda a: a.camber, "Positive with the top of the wheel out"),
    _angle("toe in", lambda a: a.toe_in, "Positive with the front edge in; over the travel it is bump steer"),
    _length("track change", lambda a: a.out, "Of this wheel, outwards"),
    _length("wheelbase change", lambda a: a.ahead, "Of this wheel, forwards"),
    _known("roll centre", lambda a: a.roll_centre, "Height over the ground; a carrier of both wheels has none"),
    _share(
        "anti-lift",
        lambda a: a.anti,
        "How much of the lift of braking the arms hold down, at the front of the dive; needs wheels and masses",
    ),
    _known("sprockets apart", lambda a: a.centres, "Between both shafts of the chain that drives this axle"),
    _known("coil-over length", lambda a: a.spring, "Between both of its ends"),
    _MOTION_RATIO,
)

SPRING_READS: tuple[Read, ...] = (
    Read(
        "wheel load",
        lambda s: s.load,
        lambda u, v: "–" if math.isnan(v) else u.force(v),
        lambda u: f"wheel load, {u.force_name}",
        lambda u, v: float(u.in_force(v).replace(",", "")),
        "What the spring presses the wheel down with; at ride height half of its axle's weight, less the unsprung part",
        sprung=True,
    ),
    Read(
        "wheel rate",
        lambda s: s.rate,
        lambda u, v: "–" if math.isnan(v) else rate_words(u, v),
        lambda u: f"wheel rate, {u.linear_stiffness_name}",
        lambda u, v: u.in_linear_stiffness(v),
        "How much more load more travel takes",
        sprung=True,
    ),
    Read(
        "ride frequency",
        lambda s: s.swings,
        lambda u, v: "–" if math.isnan(v) else f"{v:.2f} Hz",
        lambda u: "ride frequency, Hz",
        lambda u, v: v,
        "How often in a second this end swings on its springs, the tyres not counted",
        sprung=True,
    ),
    _reserve("to the bump stop", lambda s: s.to_stop, "What is left until the damper touches its bump stop"),
    _reserve("to solid", lambda s: s.to_solid, "What is left until the damper is pressed together"),
    _reserve("to coil bind", lambda s: s.to_bind, "What is left until the spring's coils touch"),
    _reserve(
        "to full length", lambda s: s.to_full, "What is left until the damper is at full length and holds the wheel"
    ),
)
