"""Meshes of many triangles: what is wrong with one, its distance to a convex solid, and a coarse copy to look at.

Distances are to the triangles themselves, not to a simplified copy. Triangles are sorted along a curve through space
(Morton 1966) and bundled, so that all but a few bundles are ruled out by the spheres round them.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.solids.convex import Floats, Solid
from ironcage.core.calc.solids.gaps import gaps

LEAF, GROUP = 32, 64
FIRST, AT_ONCE = (
    16,
    400,
)  # the likeliest alone: what they say rules most others out; then many, since a call costs more than what is in it
ASIDE = np.array([0.00031, 0.00123, -0.00077])
Singles = NDArray[np.float32]
Faces = NDArray[np.int32]


@dataclass(frozen=True, eq=False)
class Triangles:
    """points (n, 3) mm, float32; faces (t, 3) rows of points, counter-clockwise seen from outside."""

    points: Singles
    faces: Faces

    @cached_property
    def bounds(self) -> Floats:
        """Least and greatest x, y, z (2, 3), mm."""
        return np.array([self.points.min(axis=0), self.points.max(axis=0)], dtype=float)

    @property
    def volume(self) -> float:
        """Signed volume, mm³: negative when the triangles face inward. Divergence theorem."""
        total = 0.0
        middle = self.bounds.mean(axis=0).astype(np.float32)
        for start in range(0, len(self.faces), 200_000):
            a, b, c = (self.points[self.faces[start : start + 200_000, k]] - middle for k in range(3))
            total += float(np.einsum("tc,tc->t", a, np.cross(b, c)).sum(dtype=np.float64)) / 6
        return total

    @cached_property
    def open_edges(self) -> int:
        """How many edges belong to one triangle alone; 0 for a closed mesh."""
        faces = self.faces.astype(np.int64)
        ends = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
        ends.sort(axis=1)
        keys = np.sort(ends[:, 0] * np.int64(len(self.points)) + ends[:, 1])
        same = keys[1:] == keys[:-1]
        alone = np.ones(len(keys), dtype=bool)
        alone[1:] &= ~same
        alone[:-1] &= ~same
        return int(alone.sum())

    @cached_property
    def turned(self) -> Triangles:
        """The same, facing the other way."""
        return Triangles(self.points, np.ascontiguousarray(self.faces[:, ::-1]))

    @cached_property
    def tree(self) -> Tree:
        """Bundles of triangles for distances."""
        return Tree(self)


def welded(corners: Singles) -> Triangles:
    """Triangles given by their corners (t, 3, 3) with equal corners made one point."""
    flat = np.ascontiguousarray(corners.reshape(-1, 3) + np.float32(0.0))  # −0 and 0 are one place
    bits = flat.view(np.uint32).astype(np.uint64)
    key = (
        (bits[:, 0] * np.uint64(0x9E3779B97F4A7C15))
        ^ (bits[:, 1] * np.uint64(0xC2B2AE3D27D4EB4F))
        ^ (bits[:, 2] * np.uint64(0x165667B19E3779F9))
    )
    _, first, inverse = np.unique(key, return_index=True, return_inverse=True)
    faces = inverse.reshape(-1, 3).astype(np.int32)
    return without_slivers(Triangles(flat[first], faces))


def without_slivers(mesh: Triangles) -> Triangles:
    """Without triangles that have two corners in one point."""
    f = mesh.faces
    whole = (f[:, 0] != f[:, 1]) & (f[:, 1] != f[:, 2]) & (f[:, 2] != f[:, 0])
    return mesh if whole.all() else Triangles(mesh.points, f[whole])


def coarse(mesh: Triangles, cells: int = 96) -> Triangles:
    """A copy to look at: points gathered in a grid so many cells along the longest side (vertex clustering,
    Rossignac and Borrel 1993)."""
    low, high = mesh.bounds
    size = max(float((high - low).max()), 1e-6) / cells
    grid = ((mesh.points - low.astype(np.float32)) / np.float32(size)).astype(np.int64)
    key = (grid[:, 0] * (cells + 2) + grid[:, 1]) * (cells + 2) + grid[:, 2]
    _, first, inverse = np.unique(key, return_index=True, return_inverse=True)
    made = without_slivers(Triangles(mesh.points[first], inverse.astype(np.int32)[mesh.faces]))
    once = np.unique(np.sort(made.faces, axis=1), axis=0, return_index=True)[1]
    return Triangles(made.points, made.faces[once])


@dataclass(frozen=True)
class MeshGap:
    """Distance from a mesh to a solid, mm, and the place between them (3,). Negative: they overlap, and some
    triangle reaches at least so deep."""

    distance: float
    place: Floats


class Tree:
    """Triangles in bundles of LEAF, those in bundles of GROUP, each with a sphere round it."""

    def __init__(self, mesh: Triangles) -> None:
        low, high = mesh.bounds
        centres = mesh.points[mesh.faces].mean(axis=1)
        unit = ((centres - low.astype(np.float32)) / np.float32(max(float((high - low).max()), 1e-6)) * 1023).astype(
            np.uint64
        )
        order = np.argsort(
            _spread(unit[:, 0]) | _spread(unit[:, 1]) << np.uint64(1) | _spread(unit[:, 2]) << np.uint64(2),
            kind="stable",
        )
        self.corners = mesh.points[mesh.faces[order]]  # (t, 3, 3)
        self.leaf_centre, self.leaf_radius = _spheres(self.corners.reshape(-1, 3), 3 * LEAF)
        self.group_centre, self.group_radius = _spheres(self.leaf_centre, GROUP)
        self.group_radius = self.group_radius + self.leaf_radius.max()  # round the spheres, not only their middles

    def gap(self, solid: Solid, reach: float) -> MeshGap | None:
        """The least distance to a solid in the mesh's own axes; None beyond `reach`, mm."""
        groups = np.flatnonzero(_at_least(solid, self.group_centre) - self.group_radius < reach)
        if not groups.size:
            return None
        count = len(self.leaf_centre)
        leaves = (groups[:, None] * GROUP + np.arange(GROUP)).ravel()
        leaves = leaves[leaves < count]
        least = _at_least(solid, self.leaf_centre[leaves]) - self.leaf_radius[leaves]
        order = np.argsort(least)
        leaves, least = leaves[order], least[order]
        best: MeshGap | None = None
        limit, at, step = reach, 0, 4
        while (
            at < len(leaves) and least[at] < limit and limit > 0
        ):  # once it overlaps, every triangle of the overlap would be tried
            now = leaves[at : at + step]
            if len(solid.points) > 2:
                now, limit = self._sifted(solid, now, limit)
            found = self._nearest(solid, now, limit)
            if found is not None:
                best, limit = found, found.distance
            at, step = at + step, min(step * 4, 512)
        return best

    def _sifted(self, solid: Solid, leaves: NDArray[np.intp], limit: float) -> tuple[NDArray[np.intp], float]:
        """Leaves that can still be nearer than the limit, by the exact distance of their middles; and the limit that
        these set."""
        middles = [Solid(c[None], _NO_AXIS) for c in self.leaf_centre[leaves]]
        exact, radius = gaps(middles, [solid] * len(middles)).distance, self.leaf_radius[leaves]
        limit = min(limit, float((np.maximum(exact, 0.0) + radius).min()) + 1e-6)
        return leaves[exact - radius < limit], limit

    def _nearest(self, solid: Solid, leaves: NDArray[np.intp], limit: float) -> MeshGap | None:
        """The nearest triangle of some leaves, if it is nearer than the limit."""
        rows = (leaves[:, None] * LEAF + np.arange(LEAF)).ravel()
        corners = self.corners[rows[rows < len(self.corners)]].astype(float)
        centre = corners.mean(axis=1)
        radius = np.sqrt(((corners - centre[:, None]) ** 2).sum(axis=2).max(axis=1))
        least = _at_least(solid, centre) - radius
        order = np.argsort(least)
        order = order[least[order] < limit]
        best: MeshGap | None = None
        start, few = 0, FIRST
        while start < len(order) and least[order[start]] < limit and limit > 0:
            now = order[start : start + few]
            start, few = start + few, AT_ONCE
            made = gaps([Solid(corners[n], _NO_AXIS) for n in now], [solid] * len(now))
            n = int(made.distance.argmin())
            if made.distance[n] < limit:
                limit = float(made.distance[n])
                best = MeshGap(limit, (made.on_first[n] + made.on_second[n]) / 2)
        return best

    def hit(self, start: Floats, way: Floats) -> Floats | None:
        """The first place (3,) where a ray from start along `way` meets the surface; None when it misses (Möller and
        Trumbore 1997)."""
        way = way / np.linalg.norm(way)
        off = self.leaf_centre - start
        along = off @ way
        aside = np.linalg.norm(off - along[:, None] * way, axis=1)
        rows = (np.flatnonzero(aside <= self.leaf_radius)[:, None] * LEAF + np.arange(LEAF)).ravel()
        corners = self.corners[rows[rows < len(self.corners)]].astype(float)
        if not len(corners):
            return None
        a, u, v = corners[:, 0], corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
        p = np.cross(way, v)
        det = np.einsum("tc,tc->t", u, p)
        with np.errstate(divide="ignore", invalid="ignore"):
            s = np.einsum("tc,tc->t", start - a, p) / det
            q = np.cross(start - a, u)
            t = (q @ way) / det
            far = np.einsum("tc,tc->t", v, q) / det
            met = (s >= 0) & (t >= 0) & (s + t <= 1) & (far > 0)
        return np.asarray(start + far[met].min() * way) if met.any() else None

    def holds(self, point: Floats) -> bool:
        """Whether a place lies inside a closed mesh: a line from it along +x crosses the surface an odd number of
        times."""
        point = point + ASIDE  # off the lines that corners and edges of a regular mesh lie on
        near = np.hypot(*(self.leaf_centre[:, 1:] - point[1:]).T) <= self.leaf_radius
        near &= self.leaf_centre[:, 0] + self.leaf_radius >= point[0]
        rows = (np.flatnonzero(near)[:, None] * LEAF + np.arange(LEAF)).ravel()
        a, b, c = np.moveaxis(self.corners[rows[rows < len(self.corners)]].astype(float) - point, 1, 0)

        def side(p: Floats, q: Floats) -> Floats:
            return np.asarray(p[:, 1] * q[:, 2] - p[:, 2] * q[:, 1])

        u, v, w = side(b, c), side(c, a), side(a, b)
        whole = u + v + w
        inside = ((u > 0) & (v > 0) & (w > 0)) | ((u < 0) & (v < 0) & (w < 0))
        x = (u * a[:, 0] + v * b[:, 0] + w * c[:, 0])[inside] / whole[inside]
        return bool((x > 0).sum() % 2)


_NO_AXIS = np.array([0.0, 0.0, 1.0])


def _spread(v: NDArray[np.uint64]) -> NDArray[np.uint64]:
    """Ten bits with two empty ones after each."""
    for shift, mask in ((16, 0x30000FF), (8, 0x300F00F), (4, 0x30C30C3), (2, 0x9249249)):
        v = (v | v << np.uint64(shift)) & np.uint64(mask)
    return v


def _spheres(points: NDArray[np.floating], each: int) -> tuple[Floats, Floats]:
    """Middle (m, 3) and radius (m,) of a sphere round each run of so many points."""
    count = -(-len(points) // each)
    short = count * each - len(points)
    if short:
        points = np.concatenate([points, np.repeat(points[-1:], short, axis=0)])
    runs = points.reshape(count, each, 3)
    middle = (runs.min(axis=1) + runs.max(axis=1)) / 2
    return middle.astype(float), np.sqrt(((runs - middle[:, None]) ** 2).sum(axis=2).max(axis=1)).astype(float) + 1e-4


def _at_least(solid: Solid, places: Floats) -> Floats:
    """A distance (m,) from places (m, 3) to a solid that is never too large: exact for rods, cylinders and boxes,
    else to the box along the solid's own main directions and the planes of its faces."""
    points = solid.points
    if len(points) <= 2:
        a, way = points[0], points[-1] - points[0]
        length = float(np.linalg.norm(way))
        along = way / length if length > 1e-9 else solid.axis
        from_a = places - a
        share = from_a @ along
        past = np.maximum(np.maximum(-share, share - length), 0.0)
        across = np.maximum(np.linalg.norm(from_a - share[:, None] * along, axis=1) - solid.disc, 0.0)
        return np.asarray(np.hypot(past, across) - solid.ball)
    middle = points.mean(axis=0)
    axes = np.linalg.svd(points - middle, full_matrices=True)[2]
    spread = (points - middle) @ axes.T
    rim = solid.disc * np.sqrt(np.maximum(0.0, 1.0 - (axes @ solid.axis) ** 2))
    here = (places - middle) @ axes.T
    apart = np.maximum(np.maximum(spread.min(axis=0) - rim - here, here - spread.max(axis=0) - rim), 0.0)
    boxed = np.linalg.norm(apart, axis=1)
    if len(points) < 5:
        return np.asarray(boxed - solid.ball)
    faces = _face_normals(points)  # a wedge leaves half of its box empty: its slanted faces rule more out
    reach = (points @ faces.T).max(axis=0) + solid.disc * np.sqrt(np.maximum(0.0, 1.0 - (faces @ solid.axis) ** 2))
    return np.asarray(np.maximum(boxed, (places @ faces.T - reach).max(axis=1)) - solid.ball)


def _face_normals(points: Floats) -> Floats:
    """Unit normals (f, 3) of the hull of points; one direction where they lie in a plane."""
    from scipy.spatial import ConvexHull, QhullError

    try:
        return np.unique(np.round(ConvexHull(points).equations[:, :3], 9), axis=0)
    except QhullError:
        return np.array([[0.0, 0.0, 1.0]])
