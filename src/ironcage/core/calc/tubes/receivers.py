"""What a tube end can land on: where lines leave another tube, or cross a plane, for many lines and pairs at once."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.sections.contour import OutlineContour, Silhouette, Silhouettes

Floats = NDArray[np.float64]
Rows = NDArray[np.intp]
Told = Callable[[Rows | slice], Floats]
_ALL, _NOWHERE = slice(None), [0.0, 0.0, 0.0]
SQUARE_ON = 1e-9  # of a line and a plane, as a cosine: they never meet
WIDE_MM = 1e9  # of a plane, to either side
_PLANE = Silhouette(-WIDE_MM, WIDE_MM, np.array([[-WIDE_MM], [WIDE_MM], [0.0], [0.0]]), np.empty((5, 0)))


@dataclass(frozen=True, eq=False)
class Seen:
    """A receiver as lines of one direction see it. turn (3, 3) and shift (3,) take a place to how far it is aside of
    the receiver's middle, how far along, and how far before where the receiver begins, mm; slant: of the lines to the
    receiver's axis, as a sine; side: its outline by which they leave it. begins: whether it begins somewhere (a stub),
    and away: how steeply the lines go into it there, as a cosine; back: its outline by which they come, where that is
    asked."""

    turn: Floats
    shift: Floats
    slant: float
    side: Silhouette
    begins: bool = False
    away: float = 0.0
    back: Silhouette | None = None


def _dot(one: list[float], other: list[float]) -> float:
    return one[0] * other[0] + one[1] * other[1] + one[2] * other[2]


class Receiver(Protocol):
    """Anything a tube end can land on."""

    def seen(self, way: Floats) -> Seen:
        """What it is to lines along the unit `way` (3,)."""
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

    def seen(self, way: Floats) -> Seen:
        """Seen along its axis all lines run one way, so each leaves where the outline ends at its distance aside."""
        _, y, z = self.axes.tolist()  # plain numbers: a frame asks for thousands
        point, line = self.point.tolist(), way.tolist()
        across, upward = _dot(y, line), _dot(z, line)
        slant = math.hypot(across, upward)
        a, b = across / slant, upward / slant
        aside, along = ([p * v + q * w for v, w in zip(y, z, strict=True)] for p, q in ((-b, a), (a, b)))
        turn = np.array([aside, along, _NOWHERE])
        shift = np.array([-_dot(aside, point), -_dot(along, point), 0.0])
        return Seen(turn, shift, slant, self.outline.facing(np.array([a, b])))

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

    def seen(self, way: Floats) -> Seen:
        """As the whole prism, cut off square to `away` at the start."""
        made, away = self.whole.seen(way), float(way @ self.away)
        made.turn[2], made.shift[2] = -self.away, self.start @ self.away
        back = self.whole.seen(-way).side if away < -SQUARE_ON else None
        return Seen(made.turn, made.shift, made.slant, made.side, begins=True, away=away, back=back)

    def mark(self, way: Floats) -> Floats:
        """As for the whole prism."""
        return self.whole.mark(way)


@dataclass(frozen=True)
class Plane:
    """A flat cut through a point (3,) with a unit normal (3,): a mitre, or a square end."""

    point: Floats
    normal: Floats

    def seen(self, way: Floats) -> Seen:
        """Where each line crosses the plane."""
        turn = np.zeros((3, 3))
        turn[1] = self.normal
        return Seen(turn, -turn @ self.point, float(way @ self.normal), _PLANE)

    def mark(self, way: Floats) -> Floats:
        """Towards the long side of the tube: where the plane is nearest to the joint's far side."""
        n = self.normal if self.normal @ way >= 0 else -self.normal
        return n - (n @ way) * way


class Sights:
    """Many receivers, each as the lines of one tube end see it (n)."""

    def __init__(self, seen: Sequence[Seen]) -> None:
        self.turn, self.shift = np.array([s.turn for s in seen]), np.array([s.shift for s in seen])
        self.slant = np.array([s.slant for s in seen])[:, None]
        self.begins = np.array([s.begins for s in seen])
        self.away = np.array([s.away for s in seen])[:, None]
        self._sides = Silhouettes([s.side for s in seen])
        self._backs = Silhouettes([s.back or s.side for s in seen])

    def leave(self, rows: Rows, aside: Told, along: Told, before: Told) -> tuple[Floats, Floats]:
        """Where lines leave receivers for good, and by how much each passes beside its own, 0 where it touches (r, k),
        mm along them; rows (r,): whose. aside, along, before: what tells of places, for some of those rows, how they
        lie (s, k), as `Seen` says. A line that misses gets the place nearest to it."""
        aside_of, along_of = aside(_ALL), along(_ALL)
        far, beside = self._sides.furthest(rows, aside_of)
        far -= along_of
        far /= self.slant[rows]
        stubs = np.flatnonzero(self.begins[rows])
        if stubs.size:
            away = self.away[rows[stubs]]
            start = before(stubs)
            level = np.flatnonzero(np.abs(away[:, 0]) < SQUARE_ON)
            start[level] = np.where(start[level] <= 0, -np.inf, np.inf)
            start /= np.where(np.abs(away) < SQUARE_ON, 1.0, away)
            reached = far[stubs]
            here = reached > start
            out = np.flatnonzero(away[:, 0] < -SQUARE_ON)  # these go out through its start
            if out.size:
                which = stubs[out]
                back, _ = self._backs.furthest(rows[which], -aside_of[which])
                back += along_of[which]
                back /= -self.slant[rows[which]]
                here[out] = back < start[out]
                far[which] = np.minimum(reached[out], start[out])
            beside[stubs] = np.where(here, beside[stubs], np.inf)
        return far, beside


def facing(receiver: Receiver, way: Floats) -> Callable[[Floats], tuple[Floats, Floats]]:
    """What tells, for lines from origins (n, 3) along the unit `way` (3,), the distances (n,) at which they leave a
    receiver for good, and by how much each passes beside it, mm, 0 where it touches."""
    sights, row = Sights([receiver.seen(way)]), np.zeros(1, dtype=np.intp)

    def leave(origins: Floats) -> tuple[Floats, Floats]:
        places = origins @ sights.turn[0].T + sights.shift[0]
        far, beside = sights.leave(row, *(lambda some, n=n: places.T[n : n + 1] for n in range(3)))
        return far[0], beside[0]

    return leave
