"""What a tube end can land on: where lines leave another tube, or cross a plane."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.sections.contour import OutlineContour

Floats = NDArray[np.float64]
SQUARE_ON = 1e-9  # of a line and a plane, as a cosine: they never meet
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
class Stub:
    """A tube that begins at a joint: of a prism, what lies on the side `away` (3,) of a place (3,)."""

    whole: Prism
    start: Floats
    away: Floats

    def facing(self, way: Floats) -> Leave:
        """As the whole prism, cut off square to `away` at the start."""
        out, slant = self.whole.facing(way), float(way @ self.away)
        back = self.whole.facing(-way) if slant < 0 else out

        def leave(origins: Floats) -> tuple[Floats, Floats]:
            far, beside = out(origins)
            past = (self.start - origins) @ self.away  # how far the cut-off plane is, along `away`
            if abs(slant) < SQUARE_ON:
                here = past <= 0
            elif slant > 0:  # the line comes in through the plane
                here = far > past / slant
            else:  # and here it may go out through it
                here, far = -back(origins)[0] < past / slant, np.minimum(far, past / slant)
            return far, np.where(here, beside, np.inf)

        return leave

    def mark(self, way: Floats) -> Floats:
        """As for the whole prism."""
        return self.whole.mark(way)


@dataclass(frozen=True)
class Joined:
    """What a tube end lands on, and others that stand in its way there: a line has left when it has left all that it
    touches. Marked as for the first."""

    main: Receiver
    others: tuple[Receiver, ...]

    def facing(self, way: Floats) -> Leave:
        """The furthest place at which a line leaves any of them; one that misses all, as it misses the first."""
        leaves = [receiver.facing(way) for receiver in (self.main, *self.others)]

        def leave(origins: Floats) -> tuple[Floats, Floats]:
            far, beside = leaves[0](origins)
            for other in leaves[1:]:
                there, aside = other(origins)
                further = (aside == 0) & ((beside != 0) | (there > far))
                far, beside = np.where(further, there, far), np.where(further, 0.0, beside)
            return far, beside

        return leave

    def mark(self, way: Floats) -> Floats:
        """As for the first."""
        return self.main.mark(way)


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
