"""The closed surface of a piece of tube: rings of places on its outer and its inner wall, joined into triangles."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Shell:
    """points (n, 3), mm; normals (n, 3) outwards; triangles (t, 3), counter-clockwise seen from outside; chord (n,):
    which chord of the centreline a place is of. Places at an edge, and between two chords, come once for each side, so
    that both keep their own normals and colours."""

    points: Floats
    normals: Floats
    triangles: Ints
    chord: Ints

    @property
    def volume(self) -> float:
        """What the surface encloses, mm³."""
        a, b, c = (self.points[self.triangles[:, k]] for k in range(3))
        return float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6)


def frames(line: Floats, across: Floats) -> Floats:
    """The axes (k, 3, 3) of each chord of a line (k + 1, 3): x along it, y and z of a section that is carried round
    every corner with no twist; across (3,): its y on the first chord."""
    ways = np.diff(line, axis=0)
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    y = across - (across @ ways[0]) * ways[0]
    made = []
    for n, way in enumerate(ways):
        if n:
            axis = np.cross(ways[n - 1], way)
            sine, cosine = float(np.linalg.norm(axis)), float(ways[n - 1] @ way)
            if sine > 1e-12:
                axis /= sine
                y = y * cosine + np.cross(axis, y) * sine + axis * (axis @ y) * (1 - cosine)
        y = y / np.linalg.norm(y)
        made.append(np.stack([way, y, np.cross(way, y)]))
    return np.array(made)


def bisected(place: Floats, before: Floats, after: Floats, flat: Floats) -> Floats:
    """A ring (n, 3) at a corner: a section's places (n, 2) slid along the chord before it (its axes, 3, 3) onto the
    plane half way to the chord after it."""
    plane = before[0] + after[0]
    offset = flat @ before[1:]
    return np.asarray(place + offset - np.outer(offset @ plane / (before[0] @ plane), before[0]))


def shell(outer: Floats, inner: Floats | None, facing: Floats) -> Shell:
    """The surface between rings (r, n, 3) of the outer wall and of the inner one, from end to end; without an inner
    one, as of an open section, both ends are closed. facing (r, n, 3): the outward normals of the outer wall."""
    last = len(outer) - 2
    parts = [_skin(outer, facing)]
    if inner is None:
        parts += [_cap(outer[0][::-1], 0), _cap(outer[-1], last)]
    else:
        parts.append(_skin(inner[:, ::-1], -facing[:, ::-1]))
        parts += [_rim(inner[0], outer[0], 0), _rim(outer[-1], inner[-1], last)]
    counts = np.cumsum([0, *(len(p.points) for p in parts[:-1])])
    return Shell(
        np.concatenate([p.points for p in parts]),
        np.concatenate([p.normals for p in parts]),
        np.concatenate([p.triangles + first for p, first in zip(parts, counts, strict=True)]),
        np.concatenate([p.chord for p in parts]),
    )


def _skin(rings: Floats, normals: Floats) -> Shell:
    """The wall that runs from ring to ring (r, n, 3)."""
    chords, around = len(rings) - 1, rings.shape[1]
    first = 2 * around * np.arange(chords)[:, None, None]
    quads = (first + _quads(around)).reshape(-1, 4)
    points, facing = (np.stack([each[:-1], each[1:]], axis=1).reshape(-1, 3) for each in (rings, normals))
    return Shell(points, facing, _halved(quads), np.repeat(np.arange(chords), 2 * around))


def _rim(one: Floats, other: Floats, chord: int) -> Shell:
    """The edge of a wall, between two rings (n, 3) of one end."""
    around = len(one)
    triangles = _halved(_quads(around))
    points = np.concatenate([one, other])
    a, b, c = (points[triangles[:around, k]] for k in range(3))
    square = np.cross(b - a, c - a)
    square /= np.maximum(np.linalg.norm(square, axis=1, keepdims=True), 1e-12)
    return Shell(points, np.concatenate([square, square]), triangles, np.full(2 * around, chord))


def _cap(ring: Floats, chord: int) -> Shell:
    """The end of a solid section, all of whose places are seen from the first of its ring (n, 3)."""
    second = np.arange(1, len(ring) - 1)
    triangles = np.stack([np.zeros_like(second), second, second + 1], axis=1)
    square = np.cross(ring[triangles[:, 1]] - ring[0], ring[triangles[:, 2]] - ring[0]).sum(axis=0)
    normals = np.tile(square / np.linalg.norm(square), (len(ring), 1))
    return Shell(ring, normals, triangles, np.full(len(ring), chord))


def _quads(around: int) -> Ints:
    """The corners (n, 4) between two rings of so many places, the first ring's counted before the second's."""
    side = np.arange(around)
    following = (side + 1) % around
    return np.stack([side, following, around + following, around + side], axis=1)


def _halved(quads: Ints) -> Ints:
    """Four corners (q, 4) each as two triangles."""
    return np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]])
