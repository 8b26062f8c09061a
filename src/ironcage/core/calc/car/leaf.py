"""A leaf spring: its rate, stress and how its eyes and its shackle move, by closed forms for thin leaves.

Leaves that are stepped so as to bend to one curvature carry 2 parts in 2 + 3 of what full-length ones do: with the
second moment w·t³/12 of each, an arm of length l bends by P·l³ / (E·(w·t³/12)·(2·stepped + 3·full)). A spring held at
both eyes and loaded at its seat is two such arms. Of arms a and b it stands, by one curvature all along, with its seat
c under the line of its eyes and tilted by c·(b - a)/(a·b) against that line, so that its front eye is nearer to its
seat than that arm is long by c²·(3·b² + a²)/(6·a·b²), which for even arms is the parabola's 2·c²/(3·a).
Lengths mm, N, MPa, angles rad; both eyes level with each other.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
SPRING_STEEL_E = 206_000.0  # MPa


@dataclass(frozen=True)
class Leaf:
    """One spring at ride height. front, rear: along it from its seat to each eye; wide, thick: of each leaf; stepped,
    full: how many there are of either; arch: of its seat below (a spring that hangs from its eyes) the line of its
    eyes; shackle: its length, lean: of its lower end away from the spring, from square to the line of both eyes."""

    front: float
    rear: float
    wide: float
    thick: float
    stepped: int
    full: int
    arch: float = 0.0
    shackle: float = 0.0
    lean: float = 0.0

    @property
    def length(self) -> float:
        """From eye to eye along it."""
        return self.front + self.rear

    @property
    def _stack(self) -> float:
        return self.wide * self.thick**3 / 12 * (2 * self.stepped + 3 * self.full)

    @property
    def rate(self) -> float:
        """At its seat, N/mm, held at both eyes."""
        return SPRING_STEEL_E * self._stack * self.length / (self.front * self.rear) ** 2

    @property
    def end_rate(self) -> float:
        """At each end, N/mm, where its middle is clamped: of one that lies across the car, its arms alike."""
        return SPRING_STEEL_E * self._stack / self.front**3

    @property
    def wind_up(self) -> float:
        """What its seat is held with against turning about an axle, held at both eyes, N·mm/rad: E·(w·t³/12)·(2·stepped
        + 3·full)·(a + b)²/(a³ + b³), of one leaf a beam on two supports that is turned at its seat."""
        return SPRING_STEEL_E * self._stack * self.length**2 / (self.front**3 + self.rear**3)

    def stress(self, bending: float) -> float:
        """The stress at the outside of its most loaded leaf, MPa, under a bending moment at its seat, N·mm."""
        factor = 18.0 if self.full else 12.0
        return factor * bending / (self.wide * self.thick**2 * (2 * self.stepped + 3 * self.full))

    def bending(self, load: float) -> float:
        """The bending moment at the seat, N·mm, under a load there, N, held at both eyes."""
        return load * self.front * self.rear / self.length

    def longer(self, travel: Floats) -> Floats:
        """How much further its eyes are apart where its wheel has risen by a travel (n,), mm, than at ride height."""
        a, b = self.front, self.rear
        return np.asarray((a + b) ** 3 / (6 * (a * b) ** 2) * (self.arch**2 - (self.arch - travel) ** 2))

    def shackle_lean(self, travel: Floats) -> Floats:
        """The lean of its shackle (n,), the other eye fixed; nan where it would have to be longer."""
        sine = math.sin(self.lean) + self.longer(travel) / self.shackle
        with np.errstate(invalid="ignore"):
            return np.asarray(np.where(np.abs(sine) <= 1, np.arcsin(sine), np.nan))

    def back(self, travel: Floats) -> Floats:
        """How far its seat goes away from the fixed eye in front (n,), mm."""
        return np.asarray((self.arch**2 - (self.arch - travel) ** 2) / (2 * self.swing))

    @property
    def swing(self) -> float:
        """The radius that its seat swings about its front by, mm: three quarters of its front arm where both are
        alike, all of it where the rear one is very long."""
        a, b = self.front, self.rear
        return 3 * a * b**2 / (3 * b**2 + a**2)

    @property
    def nose(self) -> float:
        """How far its seat turns with its front downwards for each mm that it rises, rad/mm."""
        return (self.rear - self.front) / (self.front * self.rear)

    @property
    def roll_steer(self) -> float:
        """How far an axle on two of them steers for each radian of lean, towards the side that sinks positive: the
        seats' way back on the side that rises and forwards on the other."""
        return self.arch / self.swing
