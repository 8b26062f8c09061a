"""A rocker that a push or a pull rod turns: where it stands, and how a point of it moves, in closed form.

It turns about its axis until the rod's end on it is as far from the rod's other end as the rod is long:
A·cos θ + B·sin θ = C. Lengths mm, angles rad.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.vectors import cross

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Rocker:
    """Hard points at ride height, each (3,) mm. pivot: a place on its axis, axis: unit vector along it; push_in: the
    rod's end on the rocker, push_out: its other end, on an arm or the upright."""

    pivot: Floats
    axis: Floats
    push_in: Floats
    push_out: Floats

    @cached_property
    def length(self) -> float:
        """Of the rod, mm."""
        return float(np.linalg.norm(self.push_out - self.push_in))

    @cached_property
    def _branch(self) -> float:
        """Which of the two ways that close the rod is the one it is drawn in."""
        both = [abs(float(self._turn(self.push_out, way))) for way in (1.0, -1.0)]
        return 1.0 if both[0] <= both[1] else -1.0

    def _turn(self, out: Floats, way: float) -> Floats:
        own, there = self.push_in - self.pivot, out - self.pivot
        across = own - (own @ self.axis) * self.axis
        beside = cross(self.axis, across)
        a, b = there @ across, there @ beside
        c = (own @ own + (there * there).sum(axis=-1) - self.length**2) / 2 - (there @ self.axis) * (own @ self.axis)
        with np.errstate(invalid="ignore"):
            turned = np.arctan2(b, a) + way * np.arccos(c / np.hypot(a, b))
        return np.asarray((turned + np.pi) % (2 * np.pi) - np.pi)

    def turn(self, out: Floats) -> Floats:
        """How far it is turned about its axis (...), where the rod's other end stands at `out` (..., 3); nan where the
        rod does not reach."""
        return self._turn(out, self._branch)

    def at(self, point: Floats, turn: Floats) -> Floats:
        """Where a point (3,) of it stands (..., 3)."""
        own = point - self.pivot
        along = (own @ self.axis) * self.axis
        across = own - along
        beside = cross(self.axis, across)
        return np.asarray(self.pivot + along + np.cos(turn)[..., None] * across + np.sin(turn)[..., None] * beside)

    def rate(self, turn: Floats, out: Floats, moves: Floats) -> Floats:
        """How fast it turns (...), where the rod's other end stands at `out` and moves so (..., 3): the rod keeps its
        length."""
        inner = self.at(self.push_in, turn)
        rod = inner - out
        lever = (cross(self.axis, inner - self.pivot) * rod).sum(axis=-1)
        return np.asarray((moves * rod).sum(axis=-1) / lever)

    def lever(self, place: Floats, way: Floats) -> float:
        """The lever about its axis, mm, of a force along a unit vector (3,) at a place (3,)."""
        return float(self.axis @ cross(place - self.pivot, way))
