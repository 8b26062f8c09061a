"""The order in which pieces can be put in, each by one straight slide past what is there already.

Worked out backwards: from the whole, a piece can be taken out when no piece that is left is cut against it, and when
one of the directions that are tried leads it out past all that are left. Taking one out never blocks another, so when
none can be taken out, no order of such slides exists for those that are left.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations, product

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.solids.convex import Solid, bounds_of
from ironcage.core.calc.solids.gaps import gaps

Floats = NDArray[np.float64]
TOUCH_MM = 0.5  # that a piece may scrape past another
AT_ONCE = 6  # directions that are looked into together
ASIDE = 8  # directions across a piece's own longest run, besides the twenty-six of a cube


@dataclass(frozen=True, eq=False)
class Slides:
    """order: pieces by number, the first to be put in first; ways: the direction (3,) that each comes in along, None
    for one that no slide brings in; circle: pieces that are cut against each other in a ring."""

    order: tuple[int, ...]
    ways: tuple[Floats | None, ...]
    circle: tuple[int, ...]

    @property
    def stuck(self) -> tuple[int, ...]:
        """The pieces that no straight slide brings in."""
        return tuple(n for n in self.order if self.ways[n] is None)


def order_in(
    pieces: Sequence[Sequence[Solid]],
    after: Sequence[frozenset[int]],
    rank: Sequence[float],
    say: Callable[[float], None] = lambda share: None,
) -> Slides:
    """An order for pieces, each some rods. after: the pieces that each is cut against and so comes after; rank: those
    with less come first where they may. Pieces that overlap where they stand do not block each other. say is told
    the share that is done, and may raise to stop."""
    within = _overlapping(pieces)
    exits = [_Exits(n, pieces, within[n]) for n in range(len(pieces))]
    left = set(range(len(pieces)))
    out: list[int] = []
    ways: list[Floats | None] = [None] * len(pieces)
    circle: list[int] = []
    while left:
        free = [n for n in left if not any(n in after[m] for m in left if m != n)]
        if not free:
            free = _ring(left, after)
            circle += free
        free.sort(key=lambda n: (-rank[n], -n))
        taken = free[0]  # by force, where none of them slides out
        for n in free:
            way = exits[n].past(left)
            if way is not None:
                taken, ways[n] = n, -way
                break
        left.remove(taken)
        out.append(taken)
        say(len(out) / len(pieces))
    return Slides(tuple(reversed(out)), tuple(ways), tuple(dict.fromkeys(circle)))


class _Exits:
    """The directions out for a piece, upwards first, and what stands in the way of those that were looked into. What
    is found stays true while pieces are only taken away."""

    def __init__(self, number: int, pieces: Sequence[Sequence[Solid]], within: set[int]) -> None:
        self.number, self.pieces, self.within = number, pieces, within
        ways = _directions(pieces[number])
        self.ways = ways[np.argsort(-ways[:, 2], kind="stable")]
        self.blocked: list[frozenset[int]] = []

    def past(self, left: set[int]) -> Floats | None:
        """The first direction that leads past all that are left."""
        for w, way in enumerate(self.ways):
            if w == len(self.blocked):
                ways = self.ways[w : w + AT_ONCE]
                self.blocked += _blockers(self.pieces, self.number, ways, left - self.within)
            if left.isdisjoint(self.blocked[w]):
                made: Floats = way
                return made
        return None


def _ring(left: set[int], after: Sequence[frozenset[int]]) -> list[int]:
    """Pieces among those left that are cut against each other in a ring."""
    path: list[int] = []
    at = min(left)
    while at not in path:
        path.append(at)
        at = min(m for m in left if m != at and at in after[m])
    return path[path.index(at) :]


def _overlapping(pieces: Sequence[Sequence[Solid]]) -> list[set[int]]:
    """The other pieces that each overlaps where it stands."""
    bounds = [_bounds(p) for p in pieces]
    near = [
        (n, m)
        for n, m in combinations(range(len(pieces)), 2)
        if (bounds[n][0] <= bounds[m][1]).all() and (bounds[m][0] <= bounds[n][1]).all()
    ]
    pairs = [(n, m, a, b) for n, m in near for a in pieces[n] for b in pieces[m]]
    found = gaps([p[2] for p in pairs], [p[3] for p in pairs]).distance
    made: list[set[int]] = [set() for _ in pieces]
    for (n, m, _, _), gap in zip(pairs, found.tolist(), strict=True):
        if gap < -TOUCH_MM:
            made[n].add(m)
            made[m].add(n)
    return made


def _blockers(pieces: Sequence[Sequence[Solid]], n: int, ways: Floats, left: set[int]) -> list[frozenset[int]]:
    """What of those left a piece would run into along each of some directions."""
    others = [(m, solid) for m in sorted(left) if m != n for solid in pieces[m]]
    if not others:
        return [frozenset() for _ in ways]
    bounds, own = bounds_of([solid for _, solid in others]), bounds_of(pieces[n])
    corners = np.concatenate([bounds, own]).reshape(-1, 3)
    far = float(np.linalg.norm(np.ptp(corners, axis=0))) + 1.0
    there = own + far * ways[:, None, None]
    low, high = np.minimum(own[:, 0], there[:, :, 0]), np.maximum(own[:, 1], there[:, :, 1])
    near = ((bounds[:, 0] <= high[:, :, None]) & (bounds[:, 1] >= low[:, :, None])).all(axis=3)
    swept = [[solid.swept(way * far) for solid in pieces[n]] for way in ways]
    first: list[Solid] = []
    second: list[Solid] = []
    owner: list[tuple[int, int]] = []
    for w, k, o in np.argwhere(near).tolist():
        m, other = others[o]
        first.append(swept[w][k])
        second.append(other)
        owner.append((w, m))
    by: list[set[int]] = [set() for _ in ways]
    for (w, m), gap in zip(owner, gaps(first, second).distance.tolist(), strict=True):
        if gap < -TOUCH_MM:
            by[w].add(m)
    return [frozenset(b) for b in by]


def _bounds(piece: Sequence[Solid]) -> Floats:
    each = bounds_of(piece)
    return np.array([each[:, 0].min(axis=0), each[:, 1].max(axis=0)])


def _directions(piece: Sequence[Solid]) -> Floats:
    """Those of a cube's middle to its faces, edges and corners, and some across the piece's own longest run."""
    cube = np.array([d for d in product((-1.0, 0.0, 1.0), repeat=3) if any(d)])
    cube /= np.linalg.norm(cube, axis=1, keepdims=True)
    runs = [s.points[-1] - s.points[0] for s in piece if len(s.points) > 1]
    along = max(runs, key=lambda r: float(r @ r), default=np.zeros(3))
    if along @ along < 1e-12:
        return cube
    along = along / np.linalg.norm(along)
    one = np.cross(along, np.eye(3)[int(np.abs(along).argmin())])
    one /= np.linalg.norm(one)
    other = np.cross(along, one)
    turns = 2 * np.pi * np.arange(ASIDE) / ASIDE
    aside = np.cos(turns)[:, None] * one + np.sin(turns)[:, None] * other
    return np.concatenate([aside, cube])
