"""A jointed person, posed in a seat so that hands and feet reach, and what that does to the joints.

Trunk, head, upper arms, forearms, thighs, lower legs and feet, as straight links between joint centres; two-link arms
and legs are solved in closed form. Share of stature of each link: Drillis and Contini 1966. Comfortable joint angles:
Rebiffé 1969. Share of weight of each link: Dempster 1955. Statures: Pheasant and Haslegrave, Bodyspace, estimates for
British adults of 19 to 65 years.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, fields
from typing import Literal

import numpy as np

from ironcage.core.calc.solids.convex import Floats, Solid, ball, rod
from ironcage.problem import Problem
from ironcage.units import said

Side = Literal["left", "right"]
SIDES: tuple[tuple[Side, float], ...] = (("left", 1.0), ("right", -1.0))
FORWARD, UP = np.array([1.0, 0, 0]), np.array([0.0, 0, 1])

STATURES_MM: Mapping[str, Mapping[int, float]] = {
    "men": {5: 1625.0, 50: 1740.0, 95: 1855.0},
    "women": {5: 1505.0, 50: 1610.0, 95: 1710.0},
}
COMFORT_DEG: Mapping[str, tuple[float, float]] = {
    "seat back": (20, 30),
    "hip": (95, 120),
    "knee": (95, 135),
    "ankle": (90, 110),
    "upper arm": (10, 45),
    "elbow": (80, 120),
}
STATURES = (900.0, 2200.0)  # mm, least and most: children in a car that carries them, and anybody grown
# least and most that a person of such a stature has, mm: wider than any table, so that only slips are refused
LIKELY_MM: Mapping[str, tuple[float, float]] = {
    "trunk": (230, 700),
    "head": (150, 420),
    "shoulders": (200, 700),
    "hips": (150, 700),
    "upper_arm": (140, 430),
    "forearm": (150, 480),
    "thigh": (180, 600),
    "lower_leg": (180, 580),
    "ankle": (30, 140),
    "foot": (110, 360),
    "helmet": (180, 400),
}
_SHARES = {
    "trunk": 0.288,
    "head": 0.182,
    "shoulders": 0.259,
    "hips": 0.191,
    "upper_arm": 0.186,
    "forearm": 0.200,
    "thigh": 0.245,
    "lower_leg": 0.246,
    "ankle": 0.039,
    "foot": 0.152,
}
HELMET_MM = 270.0
HIPS_APART = 0.45  # joint centres, as a share of the breadth over the hips
SHOULDER_IN_MM, SHOULDER_DOWN_MM = 45.0, 40.0  # from the outside and the top of the shoulder to its joint centre
CROWN_MM = 30.0  # of a helmet above the crown of the head
EYES_DOWN_MM, EYES_AHEAD_MM = 118.0, 85.0  # from the crown, and ahead of the middle of the head
BALL, HEEL = 0.73, 0.25  # along the foot from its heel: to the ball, and to below the ankle
STEEPEST = math.radians(80)  # of a sole


@dataclass(frozen=True)
class Limbs:
    """Lengths between joint centres, as they are felt for with a tape, mm. trunk: hip bone to the top of the
    shoulder; head: from there to the crown; shoulders, hips: breadth; upper_arm: to the elbow; forearm: elbow to the
    middle of a grip; thigh: hip bone to knee; lower_leg: knee to ankle bone; ankle: its height above the sole; foot:
    heel to toe; helmet: its breadth."""

    trunk: float
    head: float
    shoulders: float
    hips: float
    upper_arm: float
    forearm: float
    thigh: float
    lower_leg: float
    ankle: float
    foot: float
    helmet: float = HELMET_MM

    def __post_init__(self) -> None:
        for f in fields(self):
            value, (least, most) = getattr(self, f.name), LIKELY_MM[f.name]
            if not least <= value <= most:
                raise Problem(
                    f"A {f.name.replace('_', ' ')} of {said.size(value)} makes no person.",
                    where=f.name,
                    hint=f"{said.sizes(least)} to {said.size(most)} do; was it typed in another unit?",
                )

    @property
    def stature(self) -> float:
        """Height standing, as far as these limbs tell, mm."""
        return self.ankle + self.lower_leg + self.thigh + self.trunk + self.head

    @classmethod
    def of_stature(cls, stature_mm: float) -> Limbs:
        """Limbs in a grown person's average proportion to a stature (mm); a child's own limbs are better measured."""
        if not STATURES[0] <= stature_mm <= STATURES[1]:
            raise Problem(
                f"A stature of {said.whole(stature_mm)} is beyond the tables.",
                where="stature",
                hint=f"{said.sizes(STATURES[0])} to {said.size(STATURES[1])} are within; was it typed in another unit?",
            )
        return cls(**{name: share * stature_mm for name, share in _SHARES.items()})


def stature_of(percentile: float, group: str) -> float:
    """The stature (mm) that so many of a hundred `men` or `women` do not exceed; a normal spread through the table's
    5th and 95th."""
    if group not in STATURES_MM:
        raise Problem(f"There is no table of ‘{group}’.", where=group, hint="There are men and women.")
    if not 1 <= percentile <= 99:
        raise Problem(
            f"A percentile of {percentile:g} is not in the table.", where="percentile", hint="It goes from 1 to 99."
        )
    from scipy.special import ndtri

    table = STATURES_MM[group]
    spread = (table[95] - table[5]) / 2 / float(ndtri(0.95))
    return table[50] + spread * float(ndtri(percentile / 100))


@dataclass(frozen=True)
class Seat:
    """Where a person sits and what they reach for; mm, rad. hip: midway between the hip joints; back: of the seat back
    from upright, rearward; pedals: where the balls of the feet press, midway between both feet; feet_apart; floor:
    height z under the heels; stroke: how far a pedal goes forward; wheel: middle of the hand wheel or None (hands then
    lie on the thighs); wheel_size: its diameter;
    splay: of the knees, outward."""

    hip: tuple[float, float, float]
    back: float
    pedals: tuple[float, float, float]
    feet_apart: float
    floor: float
    stroke: float
    wheel: tuple[float, float, float] | None
    wheel_size: float
    splay: float

    def __post_init__(self) -> None:
        if not abs(self.back) <= math.radians(85):
            raise Problem(
                f"A seat back {math.degrees(self.back):.0f}° from upright is no seat.",
                where="back",
                hint="85° at most.",
            )
        if not abs(self.splay) <= math.radians(80):
            raise Problem(
                f"Knees splayed by {math.degrees(self.splay):.0f}° are beyond any hip.",
                where="splay",
                hint="80° at most.",
            )
        sizes = (("feet_apart", 0, 1000), ("stroke", 0, 300), ("wheel_size", 50, 1000), ("floor", -1e4, 1e4))
        for name, least, most in sizes:
            if not least <= getattr(self, name) <= most:
                raise Problem(
                    f"{name.replace('_', ' ')} of {said.size(getattr(self, name))} can't be.".capitalize(),
                    where=name,
                    hint=f"{said.sizes(least)} to {said.size(most)} can.",
                )
        for place in (self.hip, self.pedals, self.wheel or self.hip):
            if not all(abs(v) <= 1e6 for v in place):
                raise Problem(
                    "That place is over a kilometre away.", where="seat", hint="Was it typed in another unit?"
                )


@dataclass(frozen=True, eq=False)
class Pose:
    """points: joint centres and contacts by name, (3,) mm, feet at rest; pressed: the same with both pedals fully down;
    angles: joint angles in degrees by name; solids: what the body takes up by name of its limb; short: limbs that do
    not reach, and by how much, mm;
    heel_lift: how far the heels stand off the floor, mm; cg: (3,) mm."""

    points: Mapping[str, Floats]
    pressed: Mapping[str, Floats]
    angles: Mapping[str, float]
    solids: Mapping[str, Solid]
    short: Mapping[str, float]
    heel_lift: float
    cg: Floats


def pose(limbs: Limbs, seat: Seat, mass_kg: float) -> Pose:
    """Sit a person down. What cannot be reached is stretched towards and told in `short`, so that it can be seen."""
    points: dict[str, Floats] = {}
    short: dict[str, float] = {}
    hip = np.array(seat.hip, dtype=float)
    lean = np.array([-math.sin(seat.back), 0.0, math.cos(seat.back)])
    top = hip + limbs.trunk * lean
    neck = max(0.0, seat.back - math.radians(20))
    upright = np.array([-math.sin(neck), 0.0, math.cos(neck)])
    crown = top + limbs.head * upright
    helmet = crown + (CROWN_MM - limbs.helmet / 2) * upright
    points |= {"hip": hip, "shoulder top": top, "crown": crown, "helmet": helmet}
    points["eyes"] = crown - EYES_DOWN_MM * upright + EYES_AHEAD_MM * FORWARD
    for side, sign in SIDES:
        across = sign * np.array([0.0, 1, 0])
        points[f"{side} hip"] = hip + across * limbs.hips * HIPS_APART / 2
        points[f"{side} shoulder"] = top - SHOULDER_DOWN_MM * lean + across * (limbs.shoulders / 2 - SHOULDER_IN_MM)
    lift = 0.0
    rest, pressed = dict(points), dict(points)
    for there, ahead in ((rest, 0.0), (pressed, seat.stroke)):
        for side, sign in SIDES:
            pedal = np.add(seat.pedals, (ahead, sign * seat.feet_apart / 2, 0))
            lift = max(lift, _leg(there, short, limbs, seat, side, sign, pedal))
    for side, sign in SIDES:
        _arm(rest, short, limbs, seat, side, sign)
    points = rest
    return Pose(points, pressed, _angles(points, seat), _solids(points, limbs, mass_kg), short, lift, _cg(points))


def _leg(
    at: dict[str, Floats], short: dict[str, float], limbs: Limbs, seat: Seat, side: Side, sign: float, pedal: Floats
) -> float:
    """Put one foot on its pedal, the heel on the floor if it can be, and find the knee; how far the heel is off the
    floor."""
    reach = limbs.foot * BALL
    sine = (pedal[2] - seat.floor) / reach
    slope = math.asin(min(max(sine, -0.3), math.sin(STEEPEST)))
    sole = np.array([math.cos(slope), 0, math.sin(slope)])
    shin_side = np.array([-math.sin(slope), 0, math.cos(slope)])
    at[f"{side} ball"], at[f"{side} heel"] = pedal, pedal - reach * sole
    at[f"{side} toe"] = pedal + (1 - BALL) * limbs.foot * sole
    ankle = pedal - (BALL - HEEL) * limbs.foot * sole + limbs.ankle * shin_side
    pole = math.cos(seat.splay) * UP + math.sin(seat.splay) * sign * np.array([0.0, 1, 0])
    knee, ankle, missing = _two_links(at[f"{side} hip"], ankle, limbs.thigh, limbs.lower_leg, pole)
    at[f"{side} knee"], at[f"{side} ankle"] = knee, ankle
    if missing > 0:
        short[f"{side} leg"] = max(missing, short.get(f"{side} leg", 0.0))
    return abs(float(at[f"{side} heel"][2]) - seat.floor)


def _arm(at: dict[str, Floats], short: dict[str, float], limbs: Limbs, seat: Seat, side: Side, sign: float) -> None:
    if seat.wheel is None:
        grip = 0.45 * at[f"{side} hip"] + 0.55 * at[f"{side} knee"] + 75 * UP
    else:
        grip = np.add(seat.wheel, (0.0, sign * seat.wheel_size / 2, 0))
    pole = np.array([0.0, 0.25 * sign, -1.0])
    elbow, hand, missing = _two_links(at[f"{side} shoulder"], grip, limbs.upper_arm, limbs.forearm, pole)
    at[f"{side} elbow"], at[f"{side} hand"] = elbow, hand
    if missing > 0 and seat.wheel is not None:
        short[f"{side} arm"] = missing


def _two_links(start: Floats, stop: Floats, first: float, second: float, pole: Floats) -> tuple[Floats, Floats, float]:
    """The middle joint and the end of two links from start towards stop, bent towards the pole; how much length is
    missing."""
    way = stop - start
    apart = float(np.linalg.norm(way))
    along = way / apart if apart > 1e-9 else FORWARD
    missing = apart - first - second
    near = abs(first - second)
    span = min(max(apart, near), first + second)
    stop = start + along * span
    share = (first**2 - second**2 + span**2) / (2 * span) if span > 1e-9 else 0.0
    out = math.sqrt(max(first**2 - share**2, 0.0))
    bend = pole - (pole @ along) * along
    bend = bend / max(float(np.linalg.norm(bend)), 1e-9)
    return start + share * along + out * bend, stop, max(missing, 0.0)


def _between(one: Floats, other: Floats) -> float:
    cosine = one @ other / max(float(np.linalg.norm(one) * np.linalg.norm(other)), 1e-12)
    return math.degrees(math.acos(float(np.clip(cosine, -1, 1))))


def _angles(at: Mapping[str, Floats], seat: Seat) -> dict[str, float]:
    found = {"seat back": math.degrees(seat.back)}
    trunk = at["shoulder top"] - at["hip"]
    for side, _ in SIDES:
        thigh, shin = at[f"{side} knee"] - at[f"{side} hip"], at[f"{side} ankle"] - at[f"{side} knee"]
        upper, fore = at[f"{side} elbow"] - at[f"{side} shoulder"], at[f"{side} hand"] - at[f"{side} elbow"]
        found[f"{side} hip"] = _between(trunk, thigh)
        found[f"{side} knee"] = 180 - _between(thigh, shin)
        found[f"{side} ankle"] = _between(-shin, at[f"{side} ball"] - at[f"{side} heel"])
        if seat.wheel is not None:
            found[f"{side} upper arm"] = _between(upper, -trunk)
            found[f"{side} elbow"] = 180 - _between(upper, fore)
    return found


def comfort(angles: Mapping[str, float]) -> dict[str, float]:
    """Joint angles outside the comfortable range, and by how many degrees (negative: too small)."""
    out = {}
    for name, angle in angles.items():
        least, most = COMFORT_DEG[name.removeprefix("left ").removeprefix("right ")]
        if angle < least or angle > most:
            out[name] = angle - least if angle < least else angle - most
    return out


def _solids(at: Mapping[str, Floats], limbs: Limbs, mass_kg: float) -> dict[str, Solid]:
    """Limbs as rods with round ends, their girth with the root of weight over stature (77 kg and 1750 mm: as given
    here)."""
    girth = math.sqrt(max(mass_kg, 20.0) / 77 * 1750 / limbs.stature)
    deep = 95 * girth
    made = {"helmet": ball(limbs.helmet / 2, at["helmet"])}
    spread = np.array([0.0, max(limbs.hips / 2 - deep, 20.0), 0])
    wide = np.array([0.0, max(limbs.shoulders / 2 - deep, 20.0), 0])
    low, high = at["hip"], at["hip"] + (at["shoulder top"] - at["hip"]) * (1 - deep / limbs.trunk)
    made["trunk"] = Solid(np.array([low - spread, low + spread, high - wide, high + wide]), UP, 0.0, deep)
    for side, _ in SIDES:
        made[f"{side} upper arm"] = rod(42 * girth, at[f"{side} shoulder"], at[f"{side} elbow"])
        made[f"{side} forearm"] = rod(36 * girth, at[f"{side} elbow"], at[f"{side} hand"])
        made[f"{side} thigh"] = rod(66 * girth, at[f"{side} hip"], at[f"{side} knee"])
        made[f"{side} shin"] = rod(50 * girth, at[f"{side} knee"], at[f"{side} ankle"])
        heel = at[f"{side} heel"] + 0.14 * (at[f"{side} toe"] - at[f"{side} heel"])
        toe = at[f"{side} toe"] - 0.14 * (at[f"{side} toe"] - at[f"{side} heel"])
        thick = 0.14 * limbs.foot
        above = thick * _upright(toe - heel)
        made[f"{side} foot"] = rod(thick, heel + above, toe + above)
    return made


def _upright(sole: Floats) -> Floats:
    """Unit, off the sole towards the shin."""
    along = sole / np.linalg.norm(sole)
    up = UP - (UP @ along) * along
    return np.asarray(up / max(float(np.linalg.norm(up)), 1e-9))


def _cg(at: Mapping[str, Floats]) -> Floats:
    parts = [(0.497, 0.5, "hip", "shoulder top"), (0.081, 0.5, "shoulder top", "crown")]
    for side, _ in SIDES:
        parts += [
            (0.028, 0.436, f"{side} shoulder", f"{side} elbow"),
            (0.022, 0.682, f"{side} elbow", f"{side} hand"),
            (0.100, 0.433, f"{side} hip", f"{side} knee"),
            (0.0465, 0.433, f"{side} knee", f"{side} ankle"),
            (0.0145, 0.5, f"{side} heel", f"{side} toe"),
        ]
    whole = sum(share for share, *_ in parts)
    return np.asarray(sum(share * (at[a] + along * (at[b] - at[a])) for share, along, a, b in parts) / whole)
