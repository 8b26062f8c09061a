"""Meshes of many triangles: what is wrong with one, a tree to look places up in, and a coarse copy to look at."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.solids.convex import Floats

LEAF, GROUP = 32, 64
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


class Tree:
    """Triangles sorted along a curve through space (Morton 1966), in leaves of LEAF, those in groups of GROUP, each
    with a sphere round it, so that all but a few can be ruled out unseen."""

    def __init__(self, mesh: Triangles) -> None:
        self.bounds = low, high = mesh.bounds
        centres = mesh.points[mesh.faces].mean(axis=1)
        unit = ((centres - low.astype(np.float32)) / np.float32(max(float((high - low).max()), 1e-6)) * 1023).astype(
            np.uint64
        )
        order = np.argsort(
            _spread(unit[:, 0]) | _spread(unit[:, 1]) << np.uint64(1) | _spread(unit[:, 2]) << np.uint64(2),
            kind="stable",
        )
        self.corners = mesh.points[mesh.faces[order]]  # (t, 3, 3)
        points = self.corners.reshape(-1, 3)
        self.leaf_centre, self.leaf_radius = _spheres(points, np.zeros(len(points)), 3 * LEAF)
        self.group_centre, self.group_radius = _spheres(self.leaf_centre, self.leaf_radius, GROUP)

    def leaves_of(self, groups: NDArray[np.intp]) -> NDArray[np.intp]:
        """The leaves of some groups."""
        leaves = (groups[:, None] * GROUP + np.arange(GROUP)).ravel()
        return np.asarray(leaves[leaves < len(self.leaf_centre)])

    def triangles_of(self, leaves: NDArray[np.intp]) -> Floats:
        """The corners (t, 3, 3) of the triangles of some leaves, mm."""
        rows = (leaves[:, None] * LEAF + np.arange(LEAF)).ravel()
        return self.corners[rows[rows < len(self.corners)]].astype(float)

    def hit(self, start: Floats, way: Floats) -> Floats | None:
        """The first place (3,) where a ray from start along `way` meets the surface; None when it misses (Möller and
        Trumbore 1997)."""
        way = way / np.linalg.norm(way)
        off = self.leaf_centre - start
        along = off @ way
        aside = np.linalg.norm(off - along[:, None] * way, axis=1)
        corners = self.triangles_of(np.flatnonzero(aside <= self.leaf_radius))
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
        a, b, c = np.moveaxis(self.triangles_of(np.flatnonzero(near)) - point, 1, 0)

        def side(p: Floats, q: Floats) -> Floats:
            return np.asarray(p[:, 1] * q[:, 2] - p[:, 2] * q[:, 1])

        u, v, w = side(b, c), side(c, a), side(a, b)
        whole = u + v + w
        inside = ((u > 0) & (v > 0) & (w > 0)) | ((u < 0) & (v < 0) & (w < 0))
        x = (u * a[:, 0] + v * b[:, 0] + w * c[:, 0])[inside] / whole[inside]
        return bool((x > 0).sum() % 2)


def _spread(v: NDArray[np.uint64]) -> NDArray[np.uint64]:
    """Ten bits with two empty ones after each."""
    for shift, mask in ((16, 0x30000FF), (8, 0x300F00F), (4, 0x30C30C3), (2, 0x9249249)):
        v = (v | v << np.uint64(shift)) & np.uint64(mask)
    return v


def _spheres(centres: NDArray[np.floating], radii: Floats, each: int) -> tuple[Floats, Floats]:
    """Middle (m, 3) and radius (m,) of a sphere round each run of so many balls, centres (n, 3) and radii (n,)."""
    count = -(-len(centres) // each)
    short = count * each - len(centres)
    if short:
        centres = np.concatenate([centres, np.repeat(centres[-1:], short, axis=0)])
        radii = np.concatenate([radii, np.repeat(radii[-1:], short)])
    runs = centres.reshape(count, each, 3)
    middle = (runs.min(axis=1) + runs.max(axis=1)) / 2
    reach = np.sqrt(((runs - middle[:, None]) ** 2).sum(axis=2)) + radii.reshape(count, each)
    return middle.astype(float), reach.max(axis=1).astype(float) + 1e-4
