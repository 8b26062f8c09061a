"""The distance from a mesh of many triangles to convex solids, for many solids at once.

Branch and bound: spheres round groups of triangles, spheres round leaves, then the corners of triangles say how near
each can be at best, and what can't be nearer than the nearest found is left out. A measured triangle also gives a plane
that touches the solid and has the solid on one side; no triangle is nearer than its corners are to such a plane, which
rules out all but a few where two surfaces run side by side. The searches of all solids go in step, so that each round
of theirs is one call of `triangle_gaps`.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.solids.convex import Floats, Solid
from ironcage.core.calc.solids.gaps import Gaps, gaps, triangle_gaps
from ironcage.core.calc.solids.triangles import Tree

FIRST_GROUPS, FIRST_LEAVES, LEAVES_GROW = 2, 4, 8
DEEP = 8  # groups, and leaves of these, that a deep triangle is looked for in
AT_ONCE = 12  # triangles of one solid in a round: enough to find a near one, few enough not to measure in vain
PLANES = 4  # from the triangles of one round: at the nearest, and at others spread over the round
FACED = 5  # points from which on a solid is held against its own faces
ENOUGH_MM = 5e-4  # what can be nearer by less is left


@dataclass(frozen=True)
class MeshGap:
    """Distance from a mesh to the nearest of some solids, mm, the place between them (3,), and which solid it is.
    Negative: they overlap, and some triangle reaches at least so deep."""

    distance: float
    place: Floats
    solid: int


def least_gaps(tree: Tree, bodies: Sequence[Sequence[Solid]], reaches: Sequence[float]) -> list[MeshGap | None]:
    """For each body, some solids in the mesh's own axes, the least distance of the mesh to any of them, exact within
    0.001 mm while they are apart; None beyond the body's reach, mm."""
    found = [_Found(reach) for reach in reaches]
    searches = [
        _Search(tree, solid, n, here)
        for here, body in zip(found, bodies, strict=True)
        for n, solid in enumerate(body)
        if _boxes_apart(solid.bounds, tree.bounds) < here.limit
    ]
    while asking := [search for search in searches if search.ask()]:
        counts = [len(search.asked) for search in asking]
        made = triangle_gaps(
            np.concatenate([search.asked for search in asking]), [search.solid for search in asking], counts
        )
        for search, stop, count in zip(asking, np.cumsum(counts).tolist(), counts, strict=True):
            search.take(made.part(stop - count, stop))
    over = [here for here in found if here.over]
    for here, deep in zip(over, _depths([here.over for here in over if here.over]), strict=True):
        here.nearer(*deep)
    return [here.best for here in found]


def _boxes_apart(one: Floats, other: Floats) -> float:
    """The distance of two boxes by their least and greatest x, y, z (2, 3), mm."""
    return float(np.linalg.norm(np.maximum(np.maximum(one[0] - other[1], other[0] - one[1]), 0.0)))


def _depths(overlaps: Sequence[tuple[Floats, _Search]]) -> list[tuple[float, Floats, int]]:
    """How deep each overlap is: distance (negative), place and solid. A depth takes long, so two triangles are tried:
    the one that was found, and one that lies deep."""
    tried = [(triangle, search) for found, search in overlaps for triangle in (found, search.inmost())]
    made = gaps([Solid(triangle, _NO_AXIS) for triangle, _ in tried], [search.solid for _, search in tried])
    rows = [n if made.distance[n] <= made.distance[n + 1] else n + 1 for n in range(0, len(tried), 2)]
    return [(float(made.distance[n]), made.on_first[n], tried[n][1].number) for n in rows]


class _Found:
    """The nearest that the searches of one body's solids have found so far: `best`, if it is nearer than `limit` was,
    mm; `over`: an overlapping triangle (3, 3) that lies deep, and whose search found it."""

    def __init__(self, reach: float) -> None:
        self.limit = reach
        self.best: MeshGap | None = None
        self.over: tuple[Floats, _Search] | None = None
        self._least = np.inf

    def nearer(self, distance: float, place: Floats, number: int) -> None:
        """Keep a distance if it is the least so far."""
        if distance < self.limit:
            self.limit, self.best = distance, MeshGap(distance, place, number)

    def overlaps(self, least: float, corners: Floats, search: _Search) -> None:
        """Keep an overlapping triangle (3, 3) if it is the inmost; `least`: how far its corners are at least from the
        solid's faces, negative inside."""
        if least < self._least:
            self._least, self.over = least, (corners, search)


class _Search:
    """The search for the triangle nearest to one solid, in rounds: `ask`, then `take` what was measured."""

    def __init__(self, tree: Tree, solid: Solid, number: int, found: _Found) -> None:
        self.solid = solid
        self.asked: Floats = np.zeros((0, 3, 3))
        self.number = number
        self._tree, self._found = tree, found
        self._bound = _Bound(solid)
        self._few_leaves = FIRST_LEAVES
        self._leaves, self._leaf_least = np.zeros(0, dtype=np.intp), np.zeros(0)  # not opened yet
        self._corners, self._least, self._asked_least = np.zeros((0, 3, 3)), np.zeros(0), np.zeros(0)  # not measured
        group_least = self._bound.of_spheres(tree.group_centre, tree.group_radius)
        order = np.argsort(group_least)
        self._groups, self._group_least = order, group_least[order]

    def ask(self) -> bool:
        """Choose the triangles to measure next, `asked` (m, 3, 3); whether there are any."""
        limit = self._found.limit - ENOUGH_MM
        if limit <= 0:  # it overlaps, and every triangle of the overlap would be tried
            return False
        while True:
            self._open_groups(limit)
            self._open_leaves(limit)
            near = np.flatnonzero(self._least < limit)
            if near.size:
                break
            if not self._leaves.size and not self._groups.size:
                return False
        near = near[np.argsort(self._least[near])]
        now, later = near[:AT_ONCE], near[AT_ONCE:]
        self.asked, self._asked_least = self._corners[now], self._least[now]
        self._corners, self._least = self._corners[later], self._least[later]
        return True

    def _open_groups(self, limit: float) -> None:
        """The leaves of the nearest groups the first time, of all that can be near enough after it."""
        count = int(np.searchsorted(self._group_least, limit))
        few = FIRST_GROUPS if self._few_leaves == FIRST_LEAVES else count
        leaves = self._tree.leaves_of(self._groups[: min(few, count)])
        self._groups, self._group_least = self._groups[few:count], self._group_least[few:count]
        least = self._bound.of_spheres(self._tree.leaf_centre[leaves], self._tree.leaf_radius[leaves])
        self._leaves = np.concatenate([self._leaves, leaves])
        self._leaf_least = np.concatenate([self._leaf_least, least])

    def _open_leaves(self, limit: float) -> None:
        """The triangles of a few of the leaves that can be near enough, each time of more."""
        near = np.flatnonzero(self._leaf_least < limit)
        near = near[np.argsort(self._leaf_least[near])]
        now, later = self._leaves[near[: self._few_leaves]], near[self._few_leaves :]
        self._leaves, self._leaf_least = self._leaves[later], self._leaf_least[later]
        self._few_leaves *= LEAVES_GROW
        corners = self._tree.triangles_of(now)
        self._corners = np.concatenate([self._corners, corners])
        self._least = np.concatenate([self._least, self._bound.of_triangles(corners)])

    def inmost(self) -> Floats:
        """A triangle (3, 3) that lies deep in the solid, by the middles of leaves."""
        tree = self._tree
        groups = self._inmost(tree.group_centre)
        leaves = tree.leaves_of(groups)
        corners = tree.triangles_of(leaves[self._inmost(tree.leaf_centre[leaves])])
        return np.asarray(corners[self._inmost(corners.reshape(-1, 3))[0] // 3])

    def _inmost(self, places: Floats) -> NDArray[np.intp]:
        """Which few of some places (m, 3) lie deepest."""
        return np.argsort(self._bound.behind(places))[:DEEP]

    def take(self, made: Gaps) -> None:
        """Take up what was measured of `asked`: the nearest, and planes that the rest is held against."""
        order = np.argsort(made.distance)
        n = int(order[0])
        self._found.nearer(float(made.distance[n]), (made.on_first[n] + made.on_second[n]) / 2, self.number)
        if made.distance[n] <= 0:
            over = np.flatnonzero(made.distance <= 0)
            n = int(over[self._asked_least[over].argmin()])
            self._found.overlaps(float(self._asked_least[n]), self.asked[n], self)
            return
        rows = order[:: -(-len(order) // PLANES)]
        ways = made.on_first[rows] - made.on_second[rows]
        planes = self._bound.add(ways / np.linalg.norm(ways, axis=1)[:, None])
        self._least = np.maximum(self._least, planes.before_whole(self._corners))
        centres, radii = self._tree.leaf_centre[self._leaves], self._tree.leaf_radius[self._leaves]
        self._leaf_least = np.maximum(self._leaf_least, planes.before(centres) - radii)


@dataclass(frozen=True, eq=False)
class _Planes:
    """Planes that touch a solid and have it on one side: outward normals (p, 3), and where along these, (p,) mm."""

    ways: Floats
    at: Floats

    def before(self, places: Floats) -> Floats:
        """How far places (m, 3) lie before the plane (m,) that they are furthest before, mm; negative behind all."""
        return np.asarray((self.ways @ places.T - self.at[:, None]).max(axis=0, initial=-np.inf))

    def before_whole(self, corners: Floats) -> Floats:
        """The same for whole triangles (m, 3, 3): each by the corner that is nearest to a plane."""
        one, two, three = (self.ways @ corners[:, k].T for k in range(3))
        nearest = np.minimum(np.minimum(one, two), three)
        return np.asarray((nearest - self.at[:, None]).max(axis=0, initial=-np.inf))


class _Bound:
    """A distance to a solid that is never too large, worked out fast for many places: exact for rods, cylinders and
    boxes, else to the box along the solid's own main directions; and to planes that touch it."""

    def __init__(self, solid: Solid) -> None:
        self._solid = solid
        self._middle = solid.points.mean(axis=0)
        self._planes = _Planes(np.zeros((0, 3)), np.zeros(0))
        if len(solid.points) > 2:
            self._axes = np.linalg.svd(solid.points - self._middle, full_matrices=True)[2]
            spread = (solid.points - self._middle) @ self._axes.T
            rim = solid.disc * np.sqrt(np.maximum(0.0, 1.0 - (self._axes @ solid.axis) ** 2))
            self._low, self._high = spread.min(axis=0) - rim, spread.max(axis=0) + rim
        if len(solid.points) >= FACED:
            self.add(_face_normals(solid.points))  # a wedge leaves half of its box empty

    def add(self, ways: Floats) -> _Planes:
        """Hold what comes against the planes square to directions (p, 3), unit, too; these planes."""
        s = self._solid
        rim = s.disc * np.sqrt(np.maximum(0.0, 1.0 - (ways @ s.axis) ** 2))
        new = _Planes(ways, (ways @ s.points.T).max(axis=1) + rim + s.ball)
        self._planes = _Planes(np.vstack([self._planes.ways, ways]), np.concatenate([self._planes.at, new.at]))
        return new

    def behind(self, places: Floats) -> Floats:
        """For places (m, 3), negative by how deep they are inside, mm."""
        if len(self._solid.points) < FACED:
            return self._of(places)
        return self._planes.before(places)

    def of_spheres(self, centres: Floats, radii: Floats) -> Floats:
        """For balls, centres (m, 3) and radii (m,), mm."""
        return np.maximum(self._of(centres), self._planes.before(centres)) - radii

    def of_triangles(self, corners: Floats) -> Floats:
        """For triangles by their corners (m, 3, 3), mm."""
        centres = (corners[:, 0] + corners[:, 1] + corners[:, 2]) / 3
        spokes = corners - centres[:, None]
        square = np.einsum("mkc,mkc->mk", spokes, spokes)
        radii = np.sqrt(np.maximum(np.maximum(square[:, 0], square[:, 1]), square[:, 2]))
        return np.asarray(np.maximum(self._of(centres) - radii, self._planes.before_whole(corners)))

    def _of(self, places: Floats) -> Floats:
        """For places (m, 3), planes left out."""
        if len(self._solid.points) > 2:
            here = (places - self._middle) @ self._axes.T
            apart = np.maximum(np.maximum(self._low - here, here - self._high), 0.0)
            return np.asarray(np.sqrt(np.einsum("mc,mc->m", apart, apart)) - self._solid.ball)
        start, way = self._solid.points[0], self._solid.points[-1] - self._solid.points[0]
        length = float(np.linalg.norm(way))
        along = way / length if length > 1e-9 else self._solid.axis
        off = places - start
        share = off @ along
        past = np.maximum(np.maximum(-share, share - length), 0.0)
        square = np.einsum("mc,mc->m", off, off) - share**2
        across = np.maximum(np.sqrt(np.maximum(square, 0.0)) - self._solid.disc, 0.0)
        return np.asarray(np.hypot(past, across) - self._solid.ball)


_NO_AXIS = np.array([0.0, 0.0, 1.0])


def _face_normals(points: Floats) -> Floats:
    """Unit normals (f, 3) of the hull of points; one direction where they lie in a plane."""
    from scipy.spatial import ConvexHull, QhullError

    try:
        return np.unique(np.round(ConvexHull(points).equations[:, :3], 9), axis=0)
    except QhullError:
        return np.array([[0.0, 0.0, 1.0]])
