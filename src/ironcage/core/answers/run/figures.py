"""What is told of wheels that move: each figure by its name, where it stands in what is worked out, what it means."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.values.bands import FIGURES, Dimension
from ironcage.core.job.values.running import AxleCarrier, KingpinBeam, LinkedAxle, SteeringFork, SwingingArms, Wishbones
from ironcage.units import said


@dataclass(frozen=True)
class Figure:
    """value: from what is told of a corner (`CornerCurves`), a live axle (`AxleTold`), a beam (`BeamTold`), arms
    (`SwingTold`), a fork (`ForkTold`), a carrier (`CarrierTold`) or, where `sprung`, of springs (`SpringCurves`), each
    (n, m) in rad, mm, N, N/mm, Hz, pitches or as a share; tip: what it means; rises: of a beam or a fork, whether it is
    looked at over its travel and not over its steering."""

    name: str
    value: Callable[[Any], Floats]
    tip: str
    sprung: bool = False
    rises: bool = False

    @property
    def dimension(self) -> Dimension:
        """What it is counted in."""
        return FIGURES[self.name]

    def words(self, value: float) -> str:
        """A value in words; a dash where it is not known."""
        return "–" if math.isnan(value) else _WORDS[self.dimension](value)


def _degrees(radians: float) -> str:
    text = f"{math.degrees(radians):.2f}"
    return f"{text.removeprefix('-') if float(text) == 0 else text}°"


_WORDS: Mapping[Dimension, Callable[[float], str]] = {
    "angle": _degrees,
    "length": said.fine,
    "room": said.length,
    "circle": said.metres,
    "share": lambda v: f"{100 * v:.0f} %",
    "fine share": lambda v: f"{100 * v:.1f} %",
    "ratio": lambda v: f"{v:.3f}",
    "force": said.force,
    "rate": said.spring_rate,
    "frequency": lambda v: f"{v:.2f} Hz",
    "pitches": lambda v: f"{v:.2f}",
}


_FRONT_CENTRE = "The instant centre that the upright turns about, seen from the front"
_SIDE_CENTRE = "The instant centre that it turns about, seen from the side"
_RATIO = Figure(
    "motion ratio", lambda c: c.motion_ratio, "How far the coil-over shortens, as a share of the wheel's travel"
)
_BUMP_STEER = "Positive with the front edge in; over the travel it is bump steer"
CORNER: tuple[Figure, ...] = (
    Figure("camber", lambda c: c.camber, "Positive with the top of the wheel out"),
    Figure("toe in", lambda c: c.toe_in, _BUMP_STEER),
    Figure("caster", lambda c: c.caster, "The line of both ball joints, its top to the rear"),
    Figure("kingpin inclination", lambda c: c.kingpin, "The line of both ball joints, its top in"),
    Figure("scrub radius", lambda c: c.scrub, "From where that line meets the ground out to the contact"),
    Figure("trail", lambda c: c.trail, "From where that line meets the ground back to the contact"),
    Figure("track change", lambda c: c.out, "Of this wheel, outwards"),
    Figure("wheelbase change", lambda c: c.ahead, "Of this wheel, forwards"),
    Figure("roll centre", lambda c: c.roll_centre, "Height over the ground"),
    Figure(
        "braking anti",
        lambda c: c.braking,
        "Anti-dive in front, anti-lift behind, of brakes at the wheels, where this end does all of the braking: take "
        "its share of it; needs wheels and masses",
    ),
    Figure(
        "drive anti",
        lambda c: c.driving,
        "Anti-squat behind, anti-lift in front, of a drive through shafts, where this end does all of the driving; "
        "needs wheels and masses",
    ),
    Figure("front centre aside", lambda c: c.front_centre[..., 0], f"{_FRONT_CENTRE}, to the left of the car's middle"),
    Figure("front centre height", lambda c: c.front_centre[..., 1], f"{_FRONT_CENTRE}, over the ground"),
    Figure("side centre ahead", lambda c: c.side_centre[..., 0], f"{_SIDE_CENTRE}, ahead of the contact"),
    Figure("side centre height", lambda c: c.side_centre[..., 1], f"{_SIDE_CENTRE}, over the ground"),
    _RATIO,
    Figure("coil-over length", lambda c: c.spring, "Between both of its ends"),
)
LIVE_AXLE: tuple[Figure, ...] = (
    Figure("shift", lambda a: a.curves.aside, "Of the axle's middle, to the left"),
    Figure("wheelbase change", lambda a: a.curves.ahead, "Of the axle's middle, forwards"),
    Figure("axle steer", lambda a: a.curves.steer, "To the left, by the axle's own turn"),
    Figure("pinion", lambda a: a.curves.pinion, "Its nose up, from ride height"),
    Figure("roll centre", lambda a: a.curves.roll_centre, "Height over the ground, where the axle leans about"),
    Figure(
        "roll steer",
        lambda a: a.curves.roll_steer,
        "How far the axle steers to the left for each degree that its left wheel rises over the right one",
    ),
    Figure(
        "anti-squat",
        lambda a: a.squat,
        "How much of what moves back under drive the links hold up; needs wheels and masses",
    ),
    Figure("side centre ahead", lambda a: a.curves.side_centre[..., 0], f"{_SIDE_CENTRE}, ahead of its contacts"),
    Figure("side centre height", lambda a: a.curves.side_centre[..., 1], f"{_SIDE_CENTRE}, over the ground"),
    Figure("bind", lambda a: a.curves.bind, "The most that a link would have to be longer or shorter"),
    Figure("coil-over length", lambda a: a.spring, "Of the left one, between both of its ends"),
    _RATIO,
)
BEAM: tuple[Figure, ...] = (
    Figure("left wheel steers", lambda b: b.left, "To the left"),
    Figure("right wheel steers", lambda b: b.right, "To the left"),
    Figure("Ackermann", lambda b: b.ackermann, "100 %: both wheels roll on one centre on the other axle's line"),
    Figure("turning circle", lambda b: b.circle, "The diameter that the outer tyre's middle runs on, without slip"),
    Figure("camber", lambda b: b.camber, "Of the left wheel, positive with its top out"),
    Figure("lifts the car", lambda b: b.rise, "Over the left wheel, as it is steered"),
    Figure("caster", lambda b: b.caster, "The kingpin, its top to the rear"),
    Figure("kingpin inclination", lambda b: b.kingpin, "The kingpin, its top in"),
    Figure("scrub radius", lambda b: b.scrub, "From where the kingpin's line meets the ground out to the contact"),
    Figure("trail", lambda b: b.trail, "From where the kingpin's line meets the ground back to the contact"),
    Figure("bump steer", lambda b: b.left, "How the left wheel heads as the beam rises, its steering held", rises=True),
    Figure("caster over travel", lambda b: b.caster, "The kingpin, its top to the rear", rises=True),
    Figure("shift", lambda b: b.shift, "Of the beam's middle, to the left; of one that moves", rises=True),
    Figure("wheelbase change", lambda b: b.ahead, "Of the beam's middle, forwards; of one that moves", rises=True),
    Figure("roll centre", lambda b: b.roll_centre, "Height over the ground, where the beam leans about", rises=True),
    Figure(
        "roll steer",
        lambda b: b.roll_steer,
        "How far the beam steers to the left for each degree that its left end rises over its right one",
        rises=True,
    ),
)
ARMS: tuple[Figure, ...] = (
    Figure("camber", lambda a: a.camber, "Positive with the top of the wheel out"),
    Figure("toe in", lambda a: a.toe_in, _BUMP_STEER),
    Figure("track change", lambda a: a.out, "Of this wheel, outwards"),
    Figure("wheelbase change", lambda a: a.ahead, "Of this wheel, forwards"),
    Figure("roll centre", lambda a: a.roll_centre, "Height over the ground; a carrier of both wheels has none"),
    Figure(
        "anti-lift",
        lambda a: a.anti,
        "How much of the lift of braking the arms hold down, at the front of the dive; needs wheels and masses",
    ),
    Figure("sprockets apart", lambda a: a.centres, "Between both shafts of the chain that drives this axle"),
    Figure("coil-over length", lambda a: a.spring, "Between both of its ends"),
    _RATIO,
)
FORK: tuple[Figure, ...] = (
    Figure(
        "head angle",
        lambda f: f.head,
        "The steering axis from square to the ground, its top to the rear: the car noses down as the fork goes in",
        rises=True,
    ),
    Figure(
        "trail",
        lambda f: f.trail,
        "From where the steering axis meets the ground back to the contact, along the wheel",
        rises=True,
    ),
    Figure("wheelbase change", lambda f: f.ahead, "Of the front contact, forwards along the ground", rises=True),
    Figure(
        "anti-dive",
        lambda f: f.anti,
        "How much of the dive of braking the legs hold up, the brake on them; less than nothing where they rake; needs "
        "wheels and masses",
        rises=True,
    ),
    Figure(
        "leg length", lambda f: f.spring, "From the lower bearing down to the axle, along the steering axis", rises=True
    ),
    Figure("motion ratio", lambda f: f.motion_ratio, "How far a leg shortens, as a share of the travel", rises=True),
    Figure("wheel steers", lambda f: f.steer, "To the left, on the ground"),
    Figure("wheel leans", lambda f: f.leans, "Its top to the left"),
    Figure("turning circle", lambda f: f.circle, "The diameter that the front tyre’s middle runs on, without slip"),
    Figure("lifts the car", lambda f: f.lifts, "Over the wheel, as it is turned; less than nothing: it comes down"),
)
CARRIER: tuple[Figure, ...] = (
    Figure("sprockets apart", lambda c: c.centres, "Between both shafts of the chain that drives this axle"),
    Figure(
        "pitches needed",
        lambda c: c.pitches,
        "By the chain, to lie tight on both sprockets; a chain has whole ones, mostly even",
    ),
    Figure("axle rises", lambda c: c.rises, "From where it stands"),
    Figure("wheelbase change", lambda c: c.ahead, "Of the axle, forwards"),
    Figure("adjuster length", lambda c: c.stay, "Between the ends of the adjuster of a carrier that swings"),
)
SPRINGS: tuple[Figure, ...] = (
    Figure(
        "wheel load",
        lambda s: s.load,
        "What the spring presses the wheel down with; at ride height half of its axle's weight, less the unsprung part",
        sprung=True,
    ),
    Figure("wheel rate", lambda s: s.rate, "How much more load more travel takes", sprung=True),
    Figure(
        "ride frequency",
        lambda s: s.swings,
        "How often in a second this end swings on its springs, the tyres not counted",
        sprung=True,
    ),
    Figure("to the bump stop", lambda s: s.to_stop, "What is left until the damper touches its bump stop", sprung=True),
    Figure("to solid", lambda s: s.to_solid, "What is left until the damper is pressed together", sprung=True),
    Figure("to coil bind", lambda s: s.to_bind, "What is left until the spring's coils touch", sprung=True),
    Figure(
        "to full length",
        lambda s: s.to_full,
        "What is left until the damper is at full length and holds the wheel",
        sprung=True,
    ),
)


def figures_of(
    hung: Wishbones | LinkedAxle | KingpinBeam | SwingingArms | SteeringFork | AxleCarrier,
) -> tuple[Figure, ...]:
    """The figures that are told of wheels on what they hang on, with those of springs."""
    match hung:
        case LinkedAxle():
            return LIVE_AXLE + SPRINGS
        case KingpinBeam():
            told = tuple(figure for figure in BEAM if hung.on or not figure.rises)
            return told + SPRINGS if hung.on and hung.on.spring else told
        case SwingingArms():
            return ARMS + SPRINGS
        case SteeringFork():
            return FORK + SPRINGS
        case AxleCarrier():
            return CARRIER
    return CORNER + SPRINGS
