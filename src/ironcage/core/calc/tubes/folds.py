"""Folds of box, channel or angle: the wedge that is cut out, and a radius made by slitting.

The wall on the outside of the fold is left whole and hinges on its inner face, so a wedge is as deep as the section is
across the fold, less that wall, and each of its cuts leans half the fold's angle from square.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ironcage.problem import Problem
from ironcage.units import said

FOLDED_BACK = math.radians(179.5)


@dataclass(frozen=True)
class Wedge:
    """What a fold takes out. deep: from the open side to the hinge, mm; mouth: across the open side, mm; half: how far
    each cut leans from square, rad."""

    deep: float
    mouth: float
    half: float


def wedge(depth: float, wall: float, angle: float) -> Wedge:
    """The wedge that lets a section so deep across the fold (mm) be folded by an angle (rad): its mouth is
    2·(depth − wall)·tan(angle/2). Refuses a fold that leaves no wall to hinge on, or turns back on itself."""
    if not 0 < wall < depth:
        raise Problem(f"A wall of {said.size(wall)} leaves nothing of {said.size(depth)} to fold.", where="wall")
    if not 0 < angle < FOLDED_BACK:
        raise Problem(
            f"A fold by {math.degrees(angle):.0f}° can't be made by a wedge.",
            where="angle",
            hint="Cut it through and weld it as a mitre.",
        )
    deep = depth - wall
    return Wedge(deep, 2 * deep * math.tan(angle / 2), angle / 2)


@dataclass(frozen=True)
class Slits:
    """A radius made by slitting. count: slits as wide as a kerf; each: how far one closes, rad; apart: from one to the
    next along the whole wall, mm; length: of that wall that is slit, mm; radius: of the whole wall's hinge line that
    so many slits make, mm."""

    count: int
    each: float
    apart: float
    length: float
    radius: float


def slits(depth: float, wall: float, angle: float, radius: float, kerf: float) -> Slits:
    """Slits of a kerf that let a section so deep be bent by an angle (rad) round a radius of its middle (mm). Each may
    close until its sides meet; their count is rounded up, so that they stay open by a little, all alike."""
    deep = wedge(depth, wall, min(angle, 1.0)).deep
    hinge = radius + depth / 2 - wall
    if hinge - deep <= 0 or kerf <= 0:
        raise Problem(
            f"A radius of {said.size(radius)} is too tight for {said.size(depth)}.",
            where="radius",
            hint=f"It is at least {said.length(deep - depth / 2 + wall)}.",
        )
    each = 2 * math.atan(kerf / 2 / deep)
    count = math.ceil(angle / each - 1e-9)
    length = hinge * angle
    return Slits(count, angle / count, length / count, length, hinge)


@dataclass(frozen=True)
class Kick:
    """Two equal folds that set a rail over. slope: between the two hinges, run: that along the rail, mm; wedge: of
    each, one from either side."""

    slope: float
    run: float
    wedge: Wedge


def kick(depth: float, wall: float, angle: float, rise: float) -> Kick:
    """A rail that goes over by a rise (mm) at an angle (rad), folded twice."""
    made = wedge(depth, wall, angle)
    return Kick(rise / math.sin(angle), rise / math.tan(angle), made)
