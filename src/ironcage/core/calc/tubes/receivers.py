"""What a tube end can land on: where lines leave another tube, or cross a plane, for many lines and pairs at once."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.sections.contour import OutlineContour, Silhouette, Silhouettes

Floats = NDArray[np.float64]
Rows = NDArray[np.intp]
Told = Callable[[Rows | slice], Floats]
_ALL = slice(None)
SQUARE_ON = 1e-9  # of a line and a plane, as a cosine: they never meet
WIDE_MM = 1e9  # of a plane, to either side
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
    far before where the receiver begins, mm. slant (n, 1): of the lines to the receiver's axis, as a sine. begins (n,):
    whether it begins somewhere (a stub), and away (n, 1): how steeply the lines go into it there, as a cosine.
    """

    def __init__(self, receivers: Sequence[Receiver], ways: Floats) -> None:
        """ways (n, 3): the unit direction of the lines that each is seen along."""
        count = len(receivers)
        self.turn, self.shift = np.zeros((count, 3, 3)), np.zeros((count, 3))
        self.slant, self.away = np.empty((count, 1)), np.zeros((count, 1))
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
            self.shift[rows] = -np.einsum("nij,nj->ni", self.turn[rows], np.array([r.point for _, r in tubes]))
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

    def leave(self, rows: Rows, aside: Told, along: Told, before: Told) -> tuple[Floats, Floats]:
        """Where lines leave receivers for good, and by how much each passes beside its own, 0 where it touches (r, k),
        mm along them; rows (r,): whose. aside, along, before: what tells of places, for some of those rows, how they
        lie (s, k), as turn and shift say. A line that misses gets the place nearest to it."""
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
    sights, row = Sights([receiver], way[None]), np.zeros(1, dtype=np.intp)

    def leave(origins: Floats) -> tuple[Floats, Floats]:
        places = origins @ sights.turn[0].T + sights.shift[0]
        far, beside = sights.leave(row, *(lambda some, n=n: places.T[n : n + 1] for n in range(3)))
        return far[0], beside[0]

    return leave


def _dots(one: Floats, other: Floats) -> Floats:
    """The product of each pair of vectors (n, 3)."""
    return np.asarray(np.einsum("ij,ij->i", one, other))
