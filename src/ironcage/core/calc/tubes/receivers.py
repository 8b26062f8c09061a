"""What a tube end can land on: where lines leave another tube, or cross a plane, for many lines and pairs at once."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.sections.contour import OutlineContour, Silhouette, Silhouettes

Floats = NDArray[np.float64]
Rows = NDArray[np.intp]
Lands = NDArray[np.bool_]
Told = Callable[[Rows | slice], Floats]
_ALL = slice(None)
SQUARE_ON = 1e-9  # of a line and a plane, as a cosine: they never meet
WIDE_MM = 1e9  # of a plane, to either side, and to where a tube that does not end begins
_PLANE = Silhouette(-WIDE_MM, WIDE_MM, np.array([[-WIDE_MM], [WIDE_MM], [0.0], [0.0]]), np.empty((5, 0)))


@dataclass(frozen=True)
class Prism:
    """A straight tube to land on: a point on its axis (3,), its axes as rows (3, 3), the outline of its section."""

    point: Floats
    axes: Floats
    outline: OutlineContour

    def mark(self, way: Floats) -> Floats:
        """The direction (3,) across a tube along the unit `way` (3,) in which the mark of its cut points: along
        the receiver's axis, on the side that leans towards the tube's body."""
        d = self.axes[0] if self.axes[0] @ way >= 0 else -self.axes[0]
        return d - (d @ way) * way


@dataclass(frozen=True)
class Stub:
    """A tube that begins at a joint: of a prism, what lies on the side `away` (3,) of a place (3,)."""

    whole: Prism
    start: Floats
    away: Floats

    def mark(self, way: Floats) -> Floats:
        """As for the whole prism."""
        return self.whole.mark(way)


@dataclass(frozen=True)
class Plane:
    """A flat cut through a point (3,) with a unit normal (3,): a mitre, or a square end."""

    point: Floats
    normal: Floats

    def mark(self, way: Floats) -> Floats:
        """Towards the long side of the tube: where the plane is nearest to the joint's far side."""
        n = self.normal if self.normal @ way >= 0 else -self.normal
        return n - (n @ way) * way


Receiver = Prism | Stub | Plane  # anything that a tube end can land on


class Sights:
    """Receivers (n), each as lines of one direction see it.

    turn (n, 3, 3) and shift (n, 3) take a place to how far it is aside of the receiver's middle, how far along, and how
    far before where the receiver begins, mm, far past that where it does not. slant (n, 1): of the lines to
    the receiver's axis, as a sine. begins (n,): whether it begins somewhere (a stub), and away (n, 1): how steeply the
    lines go into it there, as a cosine.
    """

    def __init__(self, receivers: Sequence[Receiver], ways: Floats) -> None:
        """ways (n, 3): the unit direction of the lines that each is seen along."""
        count = len(receivers)
        self.turn, self.shift = np.zeros((count, 3, 3)), np.zeros((count, 3))
        self.shift[:, 2] = -WIDE_MM
        self.slant, self.away = np.empty((count, 1)), np.ones((count, 1))
        self.begins = np.array([isinstance(r, Stub) for r in receivers])
        self._sides = Silhouettes(self._see(receivers, ways))
        self._backs = Silhouettes(self._begin(receivers, ways))

    def _see(self, receivers: Sequence[Receiver], ways: Floats) -> list[Silhouette]:
        """Turn, shift and slant, and the outline by which lines leave each. Seen along its axis all lines run one way
        across a tube, so each leaves where the outline ends at its distance aside."""
        sides = [_PLANE] * len(receivers)
        planes = [(n, r) for n, r in enumerate(receivers) if isinstance(r, Plane)]
        if planes:
            rows, flat = [n for n, _ in planes], np.array([r.normal for _, r in planes])
            self.turn[rows, 1] = flat
            self.shift[rows, 1] = -_dots(flat, np.array([r.point for _, r in planes]))
            self.slant[rows, 0] = _dots(flat, ways[rows])
        prisms = [(n, r.whole if isinstance(r, Stub) else r) for n, r in enumerate(receivers)]
        tubes = [(n, r) for n, r in prisms if isinstance(r, Prism)]
        if tubes:
            rows, axes = [n for n, _ in tubes], np.array([r.axes for _, r in tubes])
            across, upward = (_dots(axes[:, k], ways[rows]) for k in (1, 2))
            slant = np.hypot(across, upward)
            a, b = across / slant, upward / slant
            for k, (p, q) in enumerate(((-b, a), (a, b))):
                self.turn[rows, k] = p[:, None] * axes[:, 1] + q[:, None] * axes[:, 2]
            points = np.array([r.point for _, r in tubes])
            self.shift[rows, :2] = -np.einsum("nij,nj->ni", self.turn[rows, :2], points)
            self.slant[rows, 0] = slant
            for (n, prism), way in zip(tubes, np.stack([a, b], axis=1), strict=True):
                sides[n] = prism.outline.facing(way)
        return sides

    def _begin(self, receivers: Sequence[Receiver], ways: Floats) -> list[Silhouette]:
        """Where stubs begin, and the outline by which lines come into those that they go out of through their start."""
        backs = [_PLANE] * len(receivers)
        stubs = [(n, r) for n, r in enumerate(receivers) if isinstance(r, Stub)]
        if stubs:
            rows, away = [n for n, _ in stubs], np.array([r.away for _, r in stubs])
            self.turn[rows, 2] = -away
            self.shift[rows, 2] = _dots(away, np.array([r.start for _, r in stubs]))
            self.away[rows, 0] = _dots(away, ways[rows])
            for n, stub in stubs:
                if self.away[n, 0] < -SQUARE_ON:
                    backs[n] = stub.whole.outline.facing(-(stub.whole.axes[1:] @ ways[n]) / self.slant[n])
        return backs

    def leave(self, rows: Rows, aside: Told, along: Told, before: Told) -> tuple[Floats, Lands]:
        """Where lines leave receivers for good (r, k), mm along them, and whether each touches its own; rows (r,):
        whose. aside, along, before: what tells of places, for some of those rows, how they lie (s, k), as turn and
        shift say. A line that misses gets the place nearest to it."""
        aside_of, along_of = aside(_ALL), along(_ALL)
        far, touches = self._sides.furthest(rows, aside_of)
        far -= along_of
        far /= self.slant[rows]
        if self.begins[rows].any():
            start, away = before(_ALL), self.away[rows]
            level = np.flatnonzero(np.abs(away[:, 0]) < SQUARE_ON)
            if level.size:
                start[level], away[level] = np.where(start[level] <= 0, -np.inf, np.inf), 1.0
            start /= away
            here = far > start
            out = np.flatnonzero(away[:, 0] < 0)  # these go out through its start
            if out.size:
                back, _ = self._backs.furthest(rows[out], -aside_of[out])
                back += along_of[out]
                back /= -self.slant[rows[out]]
                here[out] = back < start[out]
                far[out] = np.minimum(far[out], start[out])
            touches &= here
        return far, touches

    def beside(self, rows: Rows, aside: Floats) -> Floats:
        """By how much lines pass beside receivers (r, k), 0 where they touch, mm; aside: as `leave` is told."""
        return self._sides.beside(rows, aside)


def facing(receiver: Receiver, way: Floats) -> Callable[[Floats], tuple[Floats, Lands]]:
    """What tells, for lines from origins (n, 3) along the unit `way` (3,), the distances (n,) at which they leave a
    receiver for good, mm, and whether they touch it."""
    sights, row = Sights([receiver], way[None]), np.zeros(1, dtype=np.intp)

    def leave(origins: Floats) -> tuple[Floats, Lands]:
        places = origins @ sights.turn[0].T + sights.shift[0]
        far, touches = sights.leave(row, *(lambda some, n=n: places.T[n : n + 1].copy() for n in range(3)))
        return far[0], touches[0]

    return leave


def passing(receiver: Receiver, way: Floats, origins: Floats) -> Floats:
    """By how much lines from origins (n, 3) along the unit `way` (3,) pass beside a receiver (n,), mm, 0 where they
    touch it or would if it did not begin."""
    sights = Sights([receiver], way[None])
    aside = origins @ sights.turn[0, 0] + sights.shift[0, 0]
    return sights.beside(np.zeros(1, dtype=np.intp), aside[None])[0]


def _dots(one: Floats, other: Floats) -> Floats:
    """The product of each pair of vectors (n, 3)."""
    return np.asarray(np.einsum("ij,ij->i", one, other))
