"""The closed surface of a piece of tube: rings of places on its outer and its inner wall, joined into triangles."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
SAME_MM = 1e-6


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


@dataclass(frozen=True, eq=False)
class Hole:
    """A hole through a wall, between two rings that are next to each other. chord: the first of them; lines (m,): the
    lines round the tube that pass it, from its one edge to its other; outer, inner (2, m, 3): where each of these lines
    enters and leaves it, on both walls."""

    chord: int
    lines: Ints
    outer: Floats
    inner: Floats


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


def shell(outer: Floats, inner: Floats | None, facing: Floats, holes: Sequence[Hole] = ()) -> Shell:
    """The surface between rings (r, n, 3) of the outer wall and of the inner one, from end to end; without an inner
    one, as of an open section, both ends are closed. facing (r, n, 3): the outward normals of the outer wall; holes:
    through the wall, none of which meets another."""
    last = len(outer) - 2
    parts = [_skin(outer, facing, [_Gap(h.chord, h.lines, h.outer) for h in holes])]
    if inner is None:
        parts += [_cap(outer[0][::-1], 0), _cap(outer[-1], last)]
    else:
        around = outer.shape[1]
        gaps = [_Gap(h.chord, around - 1 - h.lines[::-1], h.inner[:, ::-1]) for h in holes]
        parts.append(_skin(inner[:, ::-1], -facing[:, ::-1], gaps))
        parts += [_rim(inner[0], outer[0], 0), _rim(outer[-1], inner[-1], last)]
        parts += [_rim(*_loops(h), h.chord) for h in holes]
    return joined(parts)


def joined(parts: Sequence[Shell]) -> Shell:
    """Several surfaces as one."""
    counts = np.cumsum([0, *(len(p.points) for p in parts[:-1])])
    return Shell(
        np.concatenate([p.points for p in parts]),
        np.concatenate([p.normals for p in parts]),
        np.concatenate([p.triangles + first for p, first in zip(parts, counts, strict=True)]),
        np.concatenate([p.chord for p in parts]),
    )


@dataclass(frozen=True, eq=False)
class _Gap:
    """A hole in one surface. ends (2, m, 3): where each of its lines enters and leaves it."""

    chord: int
    lines: Ints
    ends: Floats


def _skin(rings: Floats, normals: Floats, gaps: Sequence[_Gap]) -> Shell:
    """The wall that runs from ring to ring (r, n, 3), less the gaps in it."""
    chords, around = len(rings) - 1, rings.shape[1]
    first = 2 * around * np.arange(chords)[:, None, None]
    quads = first + _quads(around)
    beside = {(g.chord, int(n) % around) for g in gaps for n in (*g.lines, g.lines[0] - 1)}
    whole = np.ones((chords, around), dtype=bool)
    whole[tuple(np.array(list(beside), dtype=np.int64).reshape(-1, 2).T)] = False
    points, facing = (np.stack([each[:-1], each[1:]], axis=1).reshape(-1, 3) for each in (rings, normals))
    skin = Shell(points, facing, _halved(quads[whole]), np.repeat(np.arange(chords), 2 * around))
    return joined([skin, *(_column(rings, normals, gaps, *where) for where in sorted(beside))])


def _column(rings: Floats, normals: Floats, gaps: Sequence[_Gap], chord: int, line: int) -> Shell:
    """The wall of one chord between a line and the next, less the gaps in it."""
    following = (line + 1) % rings.shape[1]
    sides = [_stops(rings[chord : chord + 2, side], gaps, chord, side) for side in (line, following)]
    through = [gap for gap, _ in sides[0] if gap is not None and any(gap is other for other, _ in sides[1])]
    through = [g for g in through if {line, following} <= set(g.lines.tolist())]
    runs: list[list[list[Floats]]] = []
    for side, stops in enumerate(sides):
        run: list[list[Floats]] = [[rings[chord, (line, following)[side]]]]
        for gap, ends in stops:
            run[-1].append(ends[0])
            if any(gap is other for other in through):
                run.append([])
            run[-1].append(ends[1])
        run[-1].append(rings[chord + 1, (line, following)[side]])
        runs.append(run)
    made = []
    for one, other in zip(*runs, strict=True):
        triangles, p, q = [], 0, 0
        while p < len(one) - 1 or q < len(other) - 1:
            if q < len(other) - 1 and (q * (len(one) - 1) <= p * (len(other) - 1) or p == len(one) - 1):
                triangles.append((p, len(one) + q, len(one) + q + 1))
                q += 1
            else:
                triangles.append((p, len(one) + q, p + 1))
                p += 1
        facing = np.repeat(normals[chord, [line, following]], [len(one), len(other)], axis=0)
        places = np.array([*one, *other])
        made.append(Shell(places, facing, np.array(triangles, dtype=np.int64), np.full(len(places), chord)))
    return joined(made)


def _stops(ends: Floats, gaps: Sequence[_Gap], chord: int, line: int) -> list[tuple[_Gap, Floats]]:
    """The gaps of a chord that a line from one ring to the next (2, 3) passes, in order, and where it enters and leaves
    each (2, 3)."""
    found = [(g, g.ends[:, n]) for g in gaps if g.chord == chord for n in np.flatnonzero(g.lines == line)]
    way = ends[1] - ends[0]
    return sorted(found, key=lambda of: float((of[1].sum(axis=0)) @ way))


def _loops(hole: Hole) -> tuple[Floats, Floats]:
    """The edges of a hole (k, 3) on both walls, along it and back; where its first or its last line only touches it
    there is one place."""
    touched = [
        all(np.linalg.norm(ends[1, n] - ends[0, n]) < SAME_MM for ends in (hole.outer, hole.inner)) for n in (0, -1)
    ]
    back = slice(1 if touched[1] else 0, -1 if touched[0] else None)
    outer, inner = (np.concatenate([ends[0], ends[1, ::-1][back]]) for ends in (hole.outer, hole.inner))
    return outer, inner


def _rim(one: Floats, other: Floats, chord: int) -> Shell:
    """The edge of a wall, between two rings (n, 3) of one end."""
    around = len(one)
    quads = _quads(around)
    points = np.concatenate([one, other])
    a, b, c, d = (points[quads[:, k]] for k in range(4))
    square = np.cross(c - a, d - b)
    size = np.linalg.norm(square, axis=1, keepdims=True)
    square = np.where(size > 1e-12, square, np.roll(square, 1, axis=0))  # two lines at one place span nothing
    square /= np.maximum(np.linalg.norm(square, axis=1, keepdims=True), 1e-12)
    return Shell(points, np.concatenate([square, square]), _halved(quads), np.full(2 * around, chord))


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
