"""A picture laid on a plane of the car: where its middle is, its size and turn, and scaling it by known distances."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ironcage.core.calc.solids.convex import Floats
from ironcage.problem import Problem

LEAST_MM = 1.0


@dataclass(frozen=True)
class Laid:
    """A picture in its plane, which it is seen in with `right` to the right and `up` upward. right, up: its middle, mm;
    width, height: as it lies, mm;
    turn: anticlockwise, rad."""

    right: float
    up: float
    width: float
    height: float
    turn: float

    @property
    def middle(self) -> Floats:
        """Its middle (2,), mm."""
        return np.array([self.right, self.up])


def _turned(way: Floats, turn: float) -> Floats:
    c, s = math.cos(turn), math.sin(turn)
    return np.array([c * way[0] - s * way[1], s * way[0] + c * way[1]])


def _away(one: Floats, other: Floats, distance_mm: float) -> Floats:
    way = np.asarray(other, dtype=float) - one
    if np.linalg.norm(way) < LEAST_MM:
        raise Problem("Both points are at one place.", where="scale", hint="Take two that are far apart.")
    if not distance_mm >= LEAST_MM:
        raise Problem("The distance between the points must be more than nothing.", where="scale")
    return way


def set_level(laid: Laid, one: Floats, other: Floats, distance_mm: float) -> Laid:
    """The picture scaled and turned about its point now at `one` (2,), so that the one now at `other` lies level
    with it, `distance` away."""
    way = _away(one, other, distance_mm)
    angle = math.atan2(way[1], way[0])
    angle = (
        angle if abs(angle) <= math.pi / 2 else angle - math.copysign(math.pi, angle)
    )  # taped right to left is as good
    grown = distance_mm / float(np.linalg.norm(way))
    middle = one + grown * _turned(laid.middle - one, -angle)
    return Laid(float(middle[0]), float(middle[1]), laid.width * grown, laid.height * grown, laid.turn - angle)


def set_upright(laid: Laid, one: Floats, other: Floats, distance_mm: float) -> Laid:
    """The picture stretched along its own height alone, about its point now at `one`, so that the one now at `other`
    stands `distance` above or below it."""
    way = _away(one, other, distance_mm)
    rise = abs(float(_turned(way, -laid.turn)[1]))
    if rise < LEAST_MM:
        raise Problem("These points are level.", where="scale", hint="Take two that stand one above the other.")
    grown = distance_mm / rise
    own = _turned(laid.middle - one, -laid.turn) * [1.0, grown]
    middle = one + _turned(own, laid.turn)
    return replace(laid, right=float(middle[0]), up=float(middle[1]), height=laid.height * grown)
