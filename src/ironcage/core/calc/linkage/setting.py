"""An axle that is set along a way on the frame, to tighten its chain: slid straight, or swung about a pivot.

How far it is set is measured along the way of the axle's middle, so that both kinds are read alike. x forward, y to the
left, z up; mm, rad.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.vectors import cross

Floats = NDArray[np.float64]


class Way(Protocol):
    """A way that an axle is set along."""

    def at(self, point: Floats, set_by: Floats) -> Floats:
        """Where a point (3,) of what is set stands (n, 3) where it is set by (n,), mm."""
        ...


@dataclass(frozen=True, eq=False)
class Slid:
    """Straight along a unit vector (3,)."""

    along: Floats

    def at(self, point: Floats, set_by: Floats) -> Floats:
        """See Way."""
        return np.asarray(point + set_by[:, None] * self.along)


@dataclass(frozen=True, eq=False)
class Swung:
    """About a unit vector `axis` (3,) through a place `pivot` (3,); lever: how far the axle's middle is from it, mm."""

    pivot: Floats
    axis: Floats
    lever: float

    def at(self, point: Floats, set_by: Floats) -> Floats:
        """See Way."""
        out, angle = point - self.pivot, (set_by / self.lever)[:, None]
        along = (out @ self.axis) * self.axis
        across = out - along
        return np.asarray(self.pivot + along + np.cos(angle) * across + np.sin(angle) * cross(self.axis, across))


def rising(values: Floats, at: int) -> slice:
    """The stretch of values (n,) round a row over which they are known and rise."""
    up = np.diff(values) > 0  # of nan: False
    before, after = np.flatnonzero(~up[:at]), np.flatnonzero(~up[at:])
    return slice(int(before[-1]) + 1 if before.size else 0, at + int(after[0]) + 1 if after.size else len(values))


def tight_at(apart: Floats, set_by: Floats, wanted: float) -> float:
    """How far an axle has to be set for a distance between its sprockets, mm: from distances `apart` (n,), rising, at
    settings (n,); nan where that is not within them."""
    if not apart[0] <= wanted <= apart[-1]:
        return float("nan")
    return float(np.interp(wanted, apart, set_by))
