"""Roller chain and toothed belt on two wheels: length, centre distance, wrap, slack and the line they run in."""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ironcage.core.calc.solids.convex import Floats
from ironcage.problem import Problem
from ironcage.units import said

LEAST_TEETH, MOST_TEETH = 6, 250
SNUG = 0.01  # of a pitch: a chain that is short by no more fits, its centres closed by under a hundredth of a link
MOST_ASTRAY = math.radians(15)  # beyond it no chain runs at all, and one of the numbers is wrong


def pitch_radius(teeth: int, pitch_mm: float) -> float:
    """Radius of the circle through the pins of a chain on a sprocket: p / (2 sin(π/z)), mm."""
    if not LEAST_TEETH <= teeth <= MOST_TEETH:
        raise Problem(
            f"A sprocket can't have {teeth} teeth.", where="teeth", hint=f"It has {LEAST_TEETH} to {MOST_TEETH}."
        )
    return pitch_mm / (2 * math.sin(math.pi / teeth))


def length_in_pitches(pitch_mm: float, teeth: tuple[int, int], centres_mm: float) -> float:
    """Pitches of an open chain that lies tight on both sprockets: two tangents of the pitch circles and the teeth that
    are wrapped. Exact for the circles; the chain's polygon on small sprockets differs by less than 0.01 pitch from 13
    teeth up.
    """
    small, large = sorted(pitch_radius(z, pitch_mm) for z in teeth)
    if centres_mm <= small + large:
        raise Problem(
            f"The sprockets overlap: their centres are {said.length(centres_mm)} apart and need more than "
            f"{said.length(small + large)}.",
            where="centres",
            hint="Move one of them.",
        )
    lean = math.asin((large - small) / centres_mm)
    tangents = 2 * centres_mm * math.cos(lean) / pitch_mm
    few, many = sorted(teeth)
    return tangents + few * (0.5 - lean / math.pi) + many * (0.5 + lean / math.pi)


def centres_for(pitch_mm: float, teeth: tuple[int, int], links: float) -> float:
    """The centre distance (mm) at which a chain of so many links lies tight; of a share of a link more where it has
    worn longer."""
    closest = sum(pitch_radius(z, pitch_mm) for z in teeth) * (1 + 1e-9)
    if links <= length_in_pitches(pitch_mm, teeth, closest):
        raise Problem(f"{links:g} links do not reach round both sprockets.", where="links", hint="Take more.")
    low, high = closest, links * pitch_mm  # the length grows with the distance, so halving finds
    # it; scipy.optimize would take half a second to import for it
    while high - low > 1e-10 * high:
        middle = (low + high) / 2
        low, high = (middle, high) if length_in_pitches(pitch_mm, teeth, middle) < links else (low, middle)
    return (low + high) / 2


@dataclass(frozen=True)
class Fit:
    """A chain cut to links. needed: pitches that lie tight at the present centres; links: whole and even, the shortest
    that goes round, to a hundredth of a pitch; centres: where those links lie tight, mm; take_up: how far the centres
    have to grow from now, mm; slack: what the chain is longer than tight now, mm; sag: how far the middle of the slack
    run can be pushed, mm; wraps: angles round the first and second sprocket, rad; run: length of a straight run, mm;
    worn: take-up that wear to the limit adds, on the same pitch circles, mm.
    """

    needed: float
    links: int
    centres: float
    take_up: float
    slack: float
    sag: float
    wraps: tuple[float, float]
    run: float
    worn: float


def fit(pitch_mm: float, teeth: tuple[int, int], centres_mm: float, wear: float = 0.015) -> Fit:
    """Cut a chain for sprockets at a centre distance. wear: the share it may lengthen before it is replaced."""
    needed = length_in_pitches(pitch_mm, teeth, centres_mm)
    links = 2 * math.ceil((needed - SNUG) / 2)
    centres = centres_for(pitch_mm, teeth, links)
    radii = [pitch_radius(z, pitch_mm) for z in teeth]
    lean = math.asin((radii[1] - radii[0]) / centres_mm)
    run = centres_mm * math.cos(lean)
    slack = (links - needed) * pitch_mm
    return Fit(
        needed,
        links,
        centres,
        centres - centres_mm,
        slack,
        math.sqrt(max((run + slack) ** 2 - run**2, 0.0)) / 2,
        (math.pi - 2 * lean, math.pi + 2 * lean),
        run,
        centres_for(pitch_mm, teeth, links * (1 + wear)) - centres,
    )


@dataclass(frozen=True)
class ChainLine:
    """How two sprockets stand to each other. plan and elevation: angles of the second shaft against the first, rad
    (plan: its left end ahead positive; elevation: its left end up positive); angle: whole angle between the shafts;
    offset: how far the second wheel lies to the left of the first one's plane, mm; strays: by how much a straight
    run leaves the plane of the first and of the second wheel, rad."""

    plan: float
    elevation: float
    angle: float
    offset: float
    strays: tuple[float, float]


def line(first: tuple[Floats, Floats], second: tuple[Floats, Floats]) -> ChainLine:
    """Two wheels, each a centre (3,) mm and an axis (3,) of any length and sign along its shaft."""
    (p, a), (q, b) = ((np.asarray(c, dtype=float), _left(np.asarray(d, dtype=float))) for c, d in (first, second))
    turn = math.acos(float(np.clip(a @ b, -1, 1))) if abs(a @ b) < 1 - 1e-12 else float(np.linalg.norm(np.cross(a, b)))
    if turn > MOST_ASTRAY:
        raise Problem(
            f"The sprockets do not face: their shafts stand {math.degrees(turn):.0f}° to each other.",
            where="axis",
            hint="Turn one of the shafts; a chain wants them parallel.",
        )
    way = q - p
    apart = float(np.linalg.norm(way))
    if apart < 1.0:
        raise Problem("Both sprockets are at one place.", where="centre", hint="Give the second one its own place.")
    plan = math.atan2(b[0], b[1]) - math.atan2(a[0], a[1])
    elevation = math.atan2(b[2], math.hypot(b[0], b[1])) - math.atan2(a[2], math.hypot(a[0], a[1]))
    strays = (math.asin(float(np.clip(way @ a / apart, -1, 1))), math.asin(float(np.clip(-way @ b / apart, -1, 1))))
    if abs(strays[0]) > MOST_ASTRAY:
        raise Problem(
            f"The sprockets do not face: one lies {said.whole(abs(way @ a))} beside the other over "
            f"{said.whole(apart)}.",
            where="centre",
            hint="Move one along its shaft.",
        )
    return ChainLine(plan, elevation, turn, float(way @ a), strays)


def _left(axis: Floats) -> Floats:
    """A unit axis that points to the left."""
    size = float(np.linalg.norm(axis))
    if size < 1e-9:
        raise Problem("A shaft has no direction.", where="axis", hint="A cross shaft is 0 1 0.")
    if abs(axis[1]) / size < math.cos(math.radians(60)):
        raise Problem("This shaft does not lie across the car.", where="axis", hint="A cross shaft is 0 1 0.")
    return axis / size * np.sign(axis[1])


@dataclass(frozen=True)
class Mend:
    """Where to move the second shaft's right bearing block (the left one stays) and its wheel along the shaft, mm:
    forward, up, and to the left."""

    forward: float
    up: float
    along: float


def mend(found: ChainLine, span_mm: float, reach_mm: float) -> Mend:
    """What brings the second shaft parallel and its wheel into line.

    span: from the left bearing block to the right one; reach: from the left block to the wheel, to the right positive;
    mm. The right block moves by span times the angle; the wheel itself then lies in the plane but for the offset.
    """
    if not span_mm > 0:
        raise Problem(
            "The bearing blocks are at one place.", where="span", hint="Give the distance between their bores."
        )
    forward, up = span_mm * math.tan(found.plan), span_mm * math.tan(found.elevation)
    return Mend(forward, up, -found.offset)


@dataclass(frozen=True)
class BlockChoice:
    """One way to fit two bearing blocks whose bores are off-centre, and the angle it leaves in elevation, rad."""

    words: str
    leaves: float


def blocks(found: ChainLine, span_mm: float, left_off_mm: float, right_off_mm: float) -> tuple[BlockChoice, ...]:
    """Ways to fit two blocks, best first. left_off, right_off: how far each bore stands above the block's middle as
    fitted now; a flipped block carries its shaft as far below it."""
    choices = []
    for flip_left in (False, True):
        for flip_right in (False, True):
            left, right = -2 * left_off_mm * flip_left, -2 * right_off_mm * flip_right
            words = {
                (False, False): "as fitted",
                (True, False): "left block flipped",
                (False, True): "right block flipped",
                (True, True): "both blocks flipped",
            }
            leaves = found.elevation + math.atan2(left - right, span_mm)
            choices.append(BlockChoice(words[flip_left, flip_right], leaves))
    return tuple(sorted(choices, key=lambda c: abs(c.leaves)))


Which = Literal["upper", "lower"]


def runs(first: tuple[Floats, float], second: tuple[Floats, float], axis: Floats) -> dict[Which, tuple[Floats, Floats]]:
    """Ends (3,) of both straight runs: the outer tangents of two pitch circles, each a centre (3,) and radius, in
    the plane across `axis`; mm."""
    (p, r), (q, s) = first, second
    way = q - p
    way = way - (way @ axis) * axis
    apart = float(np.linalg.norm(way))
    if apart <= abs(r - s):
        raise Problem("One sprocket is inside the other.", where="centre", hint="Move one of them.")
    along = way / apart
    up = np.cross(axis, along)
    up = up if up[2] >= 0 else -up
    sine = (s - r) / apart
    cosine = math.sqrt(1 - sine**2)
    ends: dict[Which, tuple[Floats, Floats]] = {}
    for name, sign in (("upper", 1.0), ("lower", -1.0)):
        normal = -sine * along + sign * cosine * up
        ends[name] = p + r * normal, q + s * normal  # type: ignore[index]
    return ends
