"""What a tube end can land on: where lines leave another tube, or cross a plane."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.sections.contour import OutlineContour

Floats = NDArray[np.float64]
Leave = Callable[[Floats], tuple[Floats, Floats]]


class Receiver(Protocol):
    """Anything a tube end can land on."""

    def facing(self, way: Floats) -> Leave:
        """What tells, for lines from origins (n, 3) along the unit `way` (3,), the distances (n,) at which they leave
        it for good, and by how much each passes beside it, mm, 0 where it touches. A line that misses gets the place
        nearest to it."""
        ...

    def mark(self, way: Floats) -> Floats:
        """The direction (3,) across the tube that a mark for this cut points in."""
        ...


@dataclass(frozen=True)
class Prism:
    """A straight tube to land on: a point on its axis (3,), its axes as rows (3, 3), the outline of its section."""

    point: Floats
    axes: Floats
    outline: OutlineContour

    def facing(self, way: Floats) -> Leave:
        """Seen along its axis all lines run one way, so each leaves where the outline ends at its distance aside."""
        across = self.axes[1:] @ way
        slant = float(np.hypot(*across))
        along = across / slant
        side = self.outline.facing(along)
        seen = self.axes[1:].T @ np.column_stack([[-along[1], along[0]], along])

        def leave(origins: Floats) -> tuple[Floats, Floats]:
            aside, start = ((origins - self.point) @ seen).T
            far, beside = side.furthest(aside)
            return (far - start) / slant, beside

        return leave

    def mark(self, way: Floats) -> Floats:
        """Along the receiver's axis, on the side that leans towards the tube's body."""
        d = self.axes[0] if self.axes[0] @ way >= 0 else -self.axes[0]
        return d - (d @ way) * way


@dataclass(frozen=True)
class Plane:
    """A flat cut through a point (3,) with a unit normal (3,): a mitre, or a square end."""

    point: Floats
    normal: Floats

    def facing(self, way: Floats) -> Leave:
        """Where each line crosses the plane."""
        slant = way @ self.normal
        return lambda origins: (((self.point - origins) @ self.normal) / slant, np.zeros(len(origins)))

    def mark(self, way: Floats) -> Floats:
        """Towards the long side of the tube: where the plane is nearest to the joint's far side."""
        n = self.normal if self.normal @ way >= 0 else -self.normal
        return n - (n @ way) * way
