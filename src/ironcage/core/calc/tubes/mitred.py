"""Pipes made of straight segments that are mitred to each other, as an exhaust or a duct is: a bend as so many mitres,
its segments tangent to the bend's centreline."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.problem import Problem
from ironcage.units import said

STRAIGHT = math.radians(0.05)  # a corner that turns less needs no mitre
LEAST_MM = 0.5  # a segment shorter on its inside can not be held or welded
LINES = 180  # round a segment, for its paper


@dataclass(frozen=True)
class Segment:
    """A straight piece between two mitres, or an end. centre: along its middle, mm; first, second: how far the saw is
    turned from square at both ends, rad, 0 where it is square; turn: how far the second cut is turned round the pipe
    from the first, clockwise seen from the first end, rad; longest, shortest: along its outside, mm."""

    centre: float
    first: float
    second: float
    turn: float
    longest: float
    shortest: float


def chorded(points: Floats, radius: float, joints: int) -> Floats:
    """The corners (m, 3) of a polyline that follows corners (n, 3) rounded to a radius with so many mitres at each."""
    made = [points[0]]
    for before, here, after in zip(points[:-2], points[1:-1], points[2:], strict=True):
        into, out = (here - before) / math.dist(here, before), (after - here) / math.dist(after, here)
        angle = math.acos(float(np.clip(into @ out, -1, 1)))
        if angle < STRAIGHT:
            continue
        if not radius:
            made.append(here)
            continue
        inside = (out - math.cos(angle) * into) / math.sin(angle)
        middle = here - radius * math.tan(angle / 2) * into + radius * inside
        far = radius / math.cos(angle / joints / 2)
        turns = (np.arange(joints) + 0.5) * angle / joints
        made += list(middle + far * (np.sin(turns)[:, None] * into - np.cos(turns)[:, None] * inside))
    return np.array([*made, points[-1]])


def segments(points: Floats, radius: float, joints: int, diameter: float) -> list[Segment]:
    """The segments of a pipe, first to last. Raises Problem where one has no length left on its inside."""
    line = chorded(points, radius, joints)
    legs = np.diff(line, axis=0)
    lengths = np.linalg.norm(legs, axis=1)
    ways = legs / lengths[:, None]
    halves = [
        0.0,
        *(math.acos(float(np.clip(a @ b, -1, 1))) / 2 for a, b in pairwise(ways)),
        0.0,
    ]
    inner = [_towards(a, b) for a, b in pairwise(ways)]  # the inside of each turn
    made = []
    for n, length in enumerate(lengths.tolist()):
        first, second = halves[n], halves[n + 1]
        one = _square(inner[n - 1], ways[n]) if n else None
        other = _square(inner[n], ways[n]) if n < len(inner) else None
        turn = 0.0
        if one is not None and other is not None:
            turn = math.atan2(float(np.cross(one, other) @ ways[n]), float(one @ other))
        lines = length_round(length, first, second, turn, diameter)
        if lines.min() < LEAST_MM:
            raise Problem(
                f"A segment of {said.length(length)} between mitres of {math.degrees(first):.1f}° and "
                f"{math.degrees(second):.1f}° has nothing left on its inside.",
                hint="Take fewer mitres or a larger radius.",
            )
        made.append(Segment(length, first, second, turn, float(lines.max()), float(lines.min())))
    return made


def length_round(centre: float, first: float, second: float, turn: float, diameter: float) -> Floats:
    """How long a segment is along each of LINES lines round it (LINES,), mm, from the inside of its first cut on."""
    around = np.arange(LINES) * 2 * math.pi / LINES
    return np.asarray(
        centre - diameter / 2 * (math.tan(first) * np.cos(around) + math.tan(second) * np.cos(around - turn))
    )


def _towards(one: Floats, other: Floats) -> Floats:
    """The direction (3,) to the inside of a turn from one direction to another."""
    return np.asarray(other - one)


def _square(way: Floats, axis: Floats) -> Floats:
    flat = way - (way @ axis) * axis
    return np.asarray(flat / np.linalg.norm(flat))
