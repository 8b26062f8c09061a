"""Circles and cylinders fitted to a patch of a scan: hole centres and axes, with how well they fit.

A hole through a solid is a cylinder: candidates from pairs of facets (their normals give the axis; Chaperon and
Goulette 2001), the one that most of the patch agrees with, then least squares on those that agree. A hole in a skin
without thickness is a circle through its free edge.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.solids.convex import Floats
from ironcage.core.calc.solids.triangles import Triangles
from ironcage.problem import Problem
from ironcage.units import said

TRIES, LEAST_POINTS, LEAST_SHARE = 400, 8, 0.15
FLAT = 0.2  # how far a facet's normal may be from square to the axis, as a cosine
AGREES = 0.06  # and its place from the radius, as a share of it


@dataclass(frozen=True, eq=False)
class RoundFit:
    """A fitted hole. centre (3,) mm: for a cylinder its axis' point nearest to the patch's middle; axis (3,) unit;
    radius; residual: root mean square of the points' distances from it, mm; points: how many were fitted; kind:
    cylinder or circle."""

    centre: Floats
    axis: Floats
    radius: float
    residual: float
    points: int
    kind: str


def fit_round(mesh: Triangles, place: Floats, within: float) -> RoundFit:
    """Fit a hole to what a mesh has within a distance of a place (3,), mm. Raises Problem when there is nothing
    there or nothing round."""
    corners = mesh.points[mesh.faces].astype(float)
    centres = corners.mean(axis=1)
    near = np.linalg.norm(centres - place, axis=1) <= within
    if near.sum() < LEAST_POINTS:
        raise Problem(
            f"There are {int(near.sum())} facets of the scan within {said.size(within)} of that place.",
            where="fit",
            hint="Pick a place on the hole's edge, or reach further.",
        )
    edge = _free_edge(mesh, near)
    if len(edge) >= LEAST_POINTS:
        return _circle(mesh.points[edge].astype(float))
    patch = corners[near]
    normals = np.cross(patch[:, 1] - patch[:, 0], patch[:, 2] - patch[:, 0])
    size = np.linalg.norm(normals, axis=1)
    whole = size > 1e-9
    return _cylinder(patch[whole], normals[whole] / size[whole, None])


def _free_edge(mesh: Triangles, near: np.ndarray) -> np.ndarray:
    """Points on edges that belong to one facet alone, of the facets near by; edges cut only by the patch's own
    border are left out."""
    if not mesh.open_edges:
        return np.zeros(0, dtype=np.int64)
    faces = mesh.faces.astype(np.int64)
    rows = np.unique(faces[near])
    around = np.isin(faces, rows).any(
        axis=1
    )  # every facet that shares a point with the patch, so that its border is not taken for free
    ends = np.sort(
        np.concatenate([faces[around][:, [0, 1]], faces[around][:, [1, 2]], faces[around][:, [2, 0]]]), axis=1
    )
    pairs, count = np.unique(ends, axis=0, return_counts=True)
    free = pairs[count == 1]
    return np.intersect1d(free[np.isin(free, rows).all(axis=1)], rows)


def _circle(points: Floats) -> RoundFit:
    """A circle through points (n, 3): their plane, then least squares in it (Kåsa 1976 to begin with)."""
    from scipy.optimize import least_squares

    middle = points.mean(axis=0)
    axes = np.linalg.svd(points - middle)[2]
    flat = (points - middle) @ axes[:2].T
    a = np.column_stack([2 * flat, np.ones(len(flat))])
    x, y, c = np.linalg.lstsq(a, (flat**2).sum(axis=1), rcond=None)[0]

    def off(p: Floats) -> Floats:
        return np.asarray(np.hypot(flat[:, 0] - p[0], flat[:, 1] - p[1]) - p[2])

    best = least_squares(off, [x, y, np.sqrt(max(c + x * x + y * y, 1e-9))])
    out = np.hypot(off(best.x), (points - middle) @ axes[2])
    centre = middle + best.x[:2] @ axes[:2]
    return RoundFit(centre, axes[2], float(best.x[2]), float(np.sqrt((out**2).mean())), len(points), "circle")


def _cylinder(patch: Floats, normals: Floats) -> RoundFit:
    from scipy.optimize import least_squares

    places, rng = patch.mean(axis=1), np.random.default_rng(7)
    best, most = None, 0
    one, other = rng.integers(0, len(patch), (2, TRIES))
    axes = np.cross(normals[one], normals[other])
    for i, j, axis in zip(one, other, axes, strict=True):
        size = np.linalg.norm(axis)
        if size < 0.2:
            continue
        axis = axis / size
        across = [np.linalg.svd(axis[None])[2][1:] @ v for v in (places[i], normals[i], places[j], normals[j])]
        reach = np.linalg.lstsq(np.column_stack([across[1], -across[3]]), across[2] - across[0], rcond=None)[0]
        centre, radius = across[0] + reach[0] * across[1], abs(float(reach[0]))
        if not 0.5 < radius < 2000:
            continue
        flat = places @ np.linalg.svd(axis[None])[2][1:].T - centre
        agrees = (np.abs(np.hypot(*flat.T) - radius) < AGREES * radius) & (np.abs(normals @ axis) < FLAT)
        if agrees.sum() > most:
            best, most = (axis, agrees), int(agrees.sum())
    if best is None or most < max(LEAST_POINTS, LEAST_SHARE * len(patch)):
        raise Problem(
            "Nothing round is found there.",
            where="fit",
            hint="Pick a place inside the hole, or reach a little less far.",
        )
    axis, agrees = best
    points = patch[agrees].reshape(-1, 3)
    middle = points.mean(axis=0)
    cross = np.linalg.svd(axis[None])[2]
    u, v = cross[1], cross[2]

    def off(p: Floats) -> Floats:
        way = axis + p[0] * u + p[1] * v
        way = way / np.linalg.norm(way)
        rel = points - (middle + p[2] * u + p[3] * v)
        return np.asarray(np.linalg.norm(rel - (rel @ way)[:, None] * way, axis=1) - p[4])

    start = np.array(
        [0.0, 0.0, 0.0, 0.0, float(np.median(np.linalg.norm((points - middle) @ np.array([u, v]).T, axis=1)))]
    )
    fitted = least_squares(off, start)
    for _ in range(2):  # points of the patch that are not on the wall pull a first middle aside
        fitted = least_squares(off, fitted.x)
    way = axis + fitted.x[0] * u + fitted.x[1] * v
    centre = middle + fitted.x[2] * u + fitted.x[3] * v
    return RoundFit(
        centre,
        way / np.linalg.norm(way),
        abs(float(fitted.x[4])),
        float(np.sqrt((fitted.fun**2).mean())),
        len(points),
        "cylinder",
    )
