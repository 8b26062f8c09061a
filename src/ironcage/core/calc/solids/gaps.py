"""The distance between convex solids, and how deep they overlap, for many pairs at once.

Distance: Gilbert, Johnson and Keerthi 1988 on the difference of the two solids, each step done for all pairs together.
The nearest point of a simplex is found by trying all its parts, which is short and has no special cases. Balls round a
solid are taken off afterwards. Overlap: the shortest way out, by a hull grown within the
difference until its nearest face is proven within 0.01 mm.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.solids.convex import Floats, Solid

if TYPE_CHECKING:
    from scipy.spatial import ConvexHull

ENOUGH_MM = 1e-4
MOST_STEPS = 200
TOUCHING_MM = 1e-6
EDGES = np.array([(0, 1), (0, 2), (0, 3), (1, 2), (1, 3), (2, 3)])
PARTS = tuple(part for size in (1, 2, 3, 4) for part in combinations(range(4), size))  # of a simplex, by its corners
_MEMBERS = np.array([[corner in part for corner in range(4)] for part in PARTS])
_USED_BY = np.array([[all(used >> corner & 1 for corner in part) for used in range(16)] for part in PARTS])


def _rule(size: int) -> tuple[NDArray[np.intp], ...]:
    """How the share of each corner of the parts with so many corners follows from the part without it: rows of part,
    corner, rest, and the edge (7 to 12: turned round) from the corner to the rest's first."""
    edges = [(a, b) for a, b in EDGES.tolist()]
    edges += [(b, a) for a, b in edges]
    rows = []
    for part in (part for part in PARTS if len(part) == size):
        for corner in part:
            rest = tuple(other for other in part if other != corner)
            rows.append((PARTS.index(part), corner, PARTS.index(rest), edges.index((corner, rest[0]))))
    return tuple(np.array(rows).T)


_RULES = tuple(_rule(size) for size in (2, 3, 4))


@dataclass(frozen=True, eq=False)
class Gaps:
    """For each pair: distance (m,) mm, negative by how deep they overlap; the nearest places on the first and the
    second (m, 3), mm (a place inside both where they overlap); how far the distance may be out (m,), mm."""

    distance: Floats
    on_first: Floats
    on_second: Floats
    within: Floats

    def part(self, start: int, stop: int) -> Gaps:
        """The pairs from start up to stop alone."""
        here = slice(start, stop)
        return Gaps(self.distance[here], self.on_first[here], self.on_second[here], self.within[here])


@dataclass(frozen=True, eq=False)
class _Pack:
    points: Floats  # (m, k, 3)
    axis: Floats
    disc: Floats
    ball: Floats

    @classmethod
    def of(cls, solids: Sequence[Solid]) -> _Pack:
        most = max((len(s.points) for s in solids), default=1)
        points = np.empty((len(solids), most, 3))
        for row, s in zip(points, solids, strict=True):
            row[: len(s.points)] = s.points
            row[len(s.points) :] = s.points[0]
        return cls(
            points,
            np.array([s.axis for s in solids]).reshape(-1, 3),
            np.array([s.disc for s in solids]),
            np.array([s.ball for s in solids]),
        )

    def take(self, rows: NDArray[np.intp]) -> _Pack:
        return _Pack(self.points[rows], self.axis[rows], self.disc[rows], self.ball[rows])

    def furthest(self, ways: Floats) -> Floats:
        """The furthest points (m, 3) along directions (m, 3), balls left out."""
        along = np.einsum("mkc,mc->mk", self.points, ways)
        found = self.points[np.arange(len(ways)), along.argmax(axis=1)]
        if self.disc.any():
            across = ways - np.einsum("mc,mc->m", ways, self.axis)[:, None] * self.axis
            size = np.linalg.norm(across, axis=1)
            found = found + across * (self.disc / np.where(size > 1e-12, size, np.inf))[:, None]
        return found


def gaps(first: Sequence[Solid], second: Sequence[Solid]) -> Gaps:
    """Distance, nearest places and overlap of each pair first[n], second[n]."""
    if not first:
        none = np.zeros((0, 3))
        return Gaps(np.zeros(0), none, none, np.zeros(0))
    a, b = _Pack.of(first), _Pack.of(second)
    made = _surfaces(a, b)
    deep = np.flatnonzero(made.distance <= TOUCHING_MM - a.ball - b.ball)
    if deep.size:
        made.distance[deep] = -_depth(a.take(deep), b.take(deep))
    return made


def triangle_gaps(corners: Floats, solids: Sequence[Solid], counts: Sequence[int]) -> Gaps:
    """Distance and nearest places of triangles (m, 3, 3) from solids: so many triangles (counts) from each solid in
    turn. How deep they overlap is left out: where the solid is more than a line or a point swelled by a ball, an
    overlap counts as 0."""
    none, no_axis = np.zeros(len(corners)), np.zeros((len(corners), 3))
    return _surfaces(
        _Pack(corners, no_axis, none, none), _Pack.of(solids).take(np.repeat(np.arange(len(solids)), counts))
    )


def _surfaces(a: _Pack, b: _Pack) -> Gaps:
    """Distances from surface to surface. Where the cores meet, whatever the depth, only the balls count."""
    core, on_a, on_b, within = _apart(a, b)
    distance = core - (a.ball + b.ball)
    unit = (on_b - on_a) / np.where(core > TOUCHING_MM, core, 1.0)[:, None]
    on_first, on_second = on_a + unit * a.ball[:, None], on_b - unit * b.ball[:, None]
    middle = (on_first + on_second) / 2
    deep = np.flatnonzero(core <= TOUCHING_MM)
    middle[deep] = on_a[deep]
    over = distance < 0
    on_first[over], on_second[over] = middle[over], middle[over]
    return Gaps(distance, on_first, on_second, within)


def _apart(a: _Pack, b: _Pack) -> tuple[Floats, Floats, Floats, Floats]:
    """Distance of the cores (without balls), nearest places on each, and the bound on the distance's error."""
    count = len(a.disc)
    distance, within = np.zeros(count), np.zeros(count)
    on_a, on_b = np.zeros((count, 3)), np.zeros((count, 3))
    way = a.points[:, 0] - b.points[:, 0]
    way[np.linalg.norm(way, axis=1) < 1e-9] = (1.0, 0.0, 0.0)
    p, q = a.furthest(-way), b.furthest(way)
    corners = np.repeat((p - q)[:, None], 4, axis=1)  # the simplex, and where its corners come from on the first solid
    from_a = np.repeat(p[:, None], 4, axis=1)
    weights = np.zeros((count, 4))
    weights[:, 0] = 1.0
    rows = np.arange(count)
    near = corners[:, 0].copy()
    for step in range(MOST_STEPS):
        size = np.linalg.norm(near, axis=1)
        p, q = a.furthest(-near), b.furthest(near)
        tip = p - q
        slack = size - np.einsum("mc,mc->m", near, tip) / np.where(
            size > 0, size, 1.0
        )  # duality gap: a bound on the error
        done = (size <= TOUCHING_MM) | (slack <= ENOUGH_MM) | (weights > 0).all(axis=1)
        if step == MOST_STEPS - 1:
            done[:] = True
        if done.any():
            at = rows[done]
            touching = (size <= TOUCHING_MM) | (weights > 0).all(axis=1)
            distance[at] = np.where(touching, 0.0, size)[done]
            within[at] = np.where(touching, 0.0, slack)[done]
            on_a[at] = np.einsum("mk,mkc->mc", weights[done], from_a[done])
            on_b[at] = on_a[at] - np.where(touching[done, None], 0.0, near[done])
            left = np.flatnonzero(~done)
            if not left.size:
                break
            rows, a, b = rows[left], a.take(left), b.take(left)
            corners, from_a, weights, tip, p = corners[left], from_a[left], weights[left], tip[left], p[left]
        free = (weights <= 0).argmax(axis=1)
        each = np.arange(len(rows))
        corners[each, free], from_a[each, free] = tip, p
        used = weights > 0
        used[each, free] = True
        weights = _nearest(corners, used)
        near = np.einsum("mk,mkc->mc", weights, corners)
    return distance, on_a, on_b, within


def _nearest(corners: Floats, used: NDArray[np.bool_]) -> Floats:
    """Weights (m, 4) of the point nearest to the origin in the hull of the used corners (m, 4, 3): the best of all
    corners, edges, faces and the whole whose own nearest point lies within them. The shares of the corners of each
    follow from those of its parts (Johnson's rule, in Gilbert, Johnson and Keerthi 1988)."""
    count = len(corners)
    places = np.ascontiguousarray(corners.transpose(1, 2, 0))  # (4, 3, m): numpy is fast along the last axis
    along = places[EDGES[:, 1]] - places[EDGES[:, 0]]
    lean = np.einsum("ecm,icm->eim", along, places)  # each corner along each edge, then along the edge turned round
    lean = np.concatenate([lean, -lean])
    shares = np.zeros((len(PARTS), 4, count))
    shares[range(4), range(4)] = 1.0
    for part, corner, rest, edge in _RULES:
        shares[part, corner] = np.einsum("rim,rim->rm", shares[rest], lean[edge])
    within = _USED_BY[:, used @ (1, 2, 4, 8)] & ((shares > 0) | ~_MEMBERS[:, :, None]).all(axis=1)
    weights = np.divide(shares, shares.sum(axis=1)[:, None], where=within[:, None], out=np.zeros_like(shares))
    spots = np.einsum("sim,icm->scm", weights, places)
    square = np.where(within, np.einsum("scm,scm->sm", spots, spots), np.inf)
    square[-1, square[-1] > TOUCHING_MM**2] = np.inf  # a flat whole does not hold the origin
    return np.asarray(weights[square.argmin(axis=0), :, np.arange(count)])


_AROUND = np.array([(x, y, z) for x in (-1, 0, 1) for y in (-1, 0, 1) for z in (-1, 0, 1) if x or y or z], dtype=float)
DEEP_ENOUGH_MM, MOST_FACES = 0.01, 120


def _depth(a: _Pack, b: _Pack) -> Floats:
    """How far (m,) the first must move to be clear of the second, mm; balls included."""
    ways = _own_ways(a, b)
    return np.array([_way_out(a.take(np.array([n])), b.take(np.array([n])), ways[n]) for n in range(len(a.disc))])


def _way_out(a: _Pack, b: _Pack, own: Floats) -> float:
    """The depth of one pair by growing a hull within their difference (van den Bergen 2001): its nearest face is
    never further off than the true depth, and the difference's own reach along that face's normal never less, so the
    two are brought together."""
    from scipy.spatial import ConvexHull, QhullError  # slow to import, and needed only where something overlaps

    balls = float(a.ball[0] + b.ball[0])
    mine, theirs = a.points[0], b.points[0]
    rims = [(pack.axis[0], float(pack.disc[0])) for pack in (a, b) if pack.disc[0]]

    def reach(ways: Floats) -> Floats:
        """The furthest points (n, 3) of the first less those of the second the other way, balls left out."""
        found = mine[(ways @ mine.T).argmax(axis=1)] - theirs[(ways @ theirs.T).argmin(axis=1)]
        for axis, disc in rims:
            across = ways - (ways @ axis)[:, None] * axis
            size = np.linalg.norm(across, axis=1)
            found = found + across * (disc / np.where(size > 1e-12, size, np.inf))[:, None]
        return found

    try:
        hull = ConvexHull(reach(np.concatenate([_AROUND, own])), incremental=True)
    except QhullError:  # two flat things in one plane, or two lines: their cores have no depth
        return balls
    best = np.inf
    for _ in range(MOST_FACES):
        near = int(np.argmax(hull.equations[:, 3]))  # offsets are the distances from the origin, negative inside
        normal, inner = hull.equations[near, :3], -float(hull.equations[near, 3])
        tip = reach(normal[None])
        outer = float(tip[0] @ normal)
        best = min(best, outer)
        if best - inner <= DEEP_ENOUGH_MM:
            break
        hull = _grown(hull, tip)
    hull.close()
    return best + balls


def _grown(hull: ConvexHull, tip: Floats) -> ConvexHull:
    """A hull with one more point (1, 3). Where nearly flat faces crowd so that Qhull gives up, it is made anew with
    its points joggled, by a share of their size that is far below what is told of a depth."""
    from scipy.spatial import ConvexHull, QhullError

    try:
        hull.add_points(tip)
    except QhullError:
        hull = ConvexHull(np.vstack([hull.points, tip]), incremental=True, qhull_options="QJ")
    return hull


def _own_ways(a: _Pack, b: _Pack) -> Floats:
    """Directions (m, n, 3) that the solids have of themselves: edges and axes, and what is square to one of each.
    The shortest way out of two boxes is always among these (separating axes, Gottschalk 1996)."""
    edges = []
    for pack in (a, b):
        last = pack.points.shape[1] - 1
        own = [pack.points[:, min(n, last)] - pack.points[:, 0] for n in (1, 2, 4)]
        edges.append(np.stack([*own, pack.axis], axis=1))
    crosses = np.cross(edges[0][:, :, None], edges[1][:, None]).reshape(len(a.disc), -1, 3)
    ways = np.concatenate([*edges, crosses], axis=1)
    size = np.linalg.norm(ways, axis=2, keepdims=True)
    ways = np.where(size > 1e-9, ways / np.maximum(size, 1e-9), (0.0, 0.0, 1.0))
    return np.concatenate([ways, -ways], axis=1)
