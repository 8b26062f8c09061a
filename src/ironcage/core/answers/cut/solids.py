"""What the solid of a cut piece is made of: its centreline, its section along it, and the rings of its ends."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.markout import Mouth
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import AnySection, Round, between
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job

SAME_MM = 1e-6


def tube_of_chord(job: Job, piece: Piece) -> tuple[str, ...]:
    """The tube that each chord of a piece's centreline belongs to."""
    return tuple(name for name in piece.tubes for _ in route_of(job, job.tube_by_id[name]).line[1:])


def centreline(job: Job, piece: Piece) -> Floats:
    """The centreline of a piece from its first end to its second (n, 3)."""
    made: list[Floats] = []
    joint = piece.first.joint
    for name in piece.tubes:
        tube = job.tube_by_id[name]
        line = route_of(job, tube).line
        line, joint = (line, tube.b) if tube.a == joint else (line[::-1], tube.a)
        made.append(line[1:] if made else line)
    return np.concatenate(made)


def section_at(piece: Piece, share: float) -> AnySection:
    """The section at a share of the way along a piece, between those of its ends."""
    first, last = piece.first.shape, piece.second.shape
    return first if first == last else between(first, last, share)


def walls(section: AnySection, around: Floats) -> tuple[Floats, Floats, Floats]:
    """The outer and the inner surface and the outward normals (n, 2) at shares of the way round."""
    points, normals = section.contour.at(around * section.contour.girth)
    return points, section.inside(points, normals), normals


def cut_at(end: EndCut, around: Floats) -> Floats:
    """How far from its joint an end is cut (n,), mm, at shares of the way round."""
    girth = end.shape.contour.girth
    return np.interp(around * girth, end.profile.round_mm, end.profile.cut, period=girth)


@dataclass(frozen=True, eq=False)
class Steps:
    """An end with one of its slots, each edge of it a step of two lines. around, cut (n,): shares of the way round, and
    how far the end is cut there, mm; before, places (4,): where lines came in, and their shares."""

    around: Floats
    cut: Floats
    before: NDArray[np.int64]
    places: Floats


def stepped(end: EndCut, around: Floats, cut: Floats, slot: Mouth) -> Steps:
    """An end that is cut by (n,) mm at shares of the way round (n,), with a slot in it."""
    girth, half = end.shape.contour.girth, _through(end.shape, slot.half)
    aside = (around * girth - slot.middle + girth / 2) % girth - girth / 2
    cut = np.where(np.abs(aside) < half, np.maximum(cut, slot.foot), cut)
    edges = np.array([slot.middle - half, slot.middle + half]) % girth / girth
    places = np.repeat(edges, 2)
    steps = cut_at(end, places)
    steps[1:3] = np.maximum(steps[1:3], slot.foot)
    before = np.searchsorted(around, places)
    return Steps(np.insert(around, before, places), np.insert(cut, before, steps), before, places)


def _through(shape: AnySection, half: float) -> float:
    """Half of a slot's width round the outside, mm, whose sides run to the middle of the tube, so that what is `half`
    as thick passes between them inside as well."""
    if not isinstance(shape, Round):
        return half
    outer = shape.od_mm / 2
    return outer * math.asin(min(half / max(outer - shape.wall_mm, half), 1.0))


def end_ring(
    at: Floats, axes: Floats, way: float, flat: tuple[Floats, Floats, Floats], cut: Floats
) -> tuple[Floats, Floats, Floats]:
    """Outer wall, inner wall and outward normals (n, 3) of an end whose joint is at a place (3,) and that is cut so far
    from it (n,), mm; axes (3, 3): of the tube there; way: +1 at a first end, -1 at a second; flat: both walls and the
    normals of its section (n, 2)."""
    outer, inner, normals = flat
    one, other = (np.outer(along * way, axes[0]) for along in (cut, _in_corners(outer, inner, cut)))
    return at + outer @ axes[1:] + one, at + inner @ axes[1:] + other, normals @ axes[1:]


def _in_corners(outer: Floats, inner: Floats, cut: Floats) -> Floats:
    """How far places on the inner surface (n, 2) are cut, where those of the outer one (n, 2) are cut by (n,): in a
    corner that is sharp inside all have one place, and are cut as the middle of them is. Two lines at one place
    outside are the step of a slot, and stay two."""
    moved, kept = (np.linalg.norm(w - np.roll(w, 1, axis=0), axis=1) > SAME_MM for w in (inner, outer))
    starts = np.flatnonzero(moved | ~kept)
    if len(starts) in (0, len(inner)):
        return cut
    made = cut.copy()
    for first, after in zip(starts, [*starts[1:], starts[0] + len(inner)], strict=True):
        corner = np.arange(first, after) % len(inner)
        made[corner] = cut[corner[len(corner) // 2]]
    return made
