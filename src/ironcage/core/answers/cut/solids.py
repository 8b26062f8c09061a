"""A piece as it is after cutting: the closed surface of its wall, where it stands in the car."""

from __future__ import annotations

import numpy as np

from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import Angle, AnySection, between
from ironcage.core.calc.tubes.shells import Shell, bisected, frames, shell
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job

SAME_MM = 1e-6
LINES = 48  # lines round a tube that its surface is made of, besides its corners


def piece_shell(job: Job, piece: Piece, lines: int = LINES) -> Shell:
    """The surface of a piece, cut square through the wall at both ends, mm in the car's axes; `lines` round it."""
    line = centreline(job, piece)
    axes = frames(line, piece.axes[1])
    shares = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    shares /= shares[-1]
    around = piece.first.shape.contour.lines(lines)[0] / piece.first.shape.contour.girth
    rings = [end_ring(piece.first, line[0], axes[0], 1.0, around, cut_at(piece.first, around))]
    for n in range(1, len(line) - 1):
        flat = _walls(_section(piece, float(shares[n])), around)
        rings.append(
            tuple(bisected(line[n], axes[n - 1], axes[n], side) for side in flat[:2]) + (flat[2] @ axes[n][1:],)
        )
    rings.append(end_ring(piece.second, line[-1], axes[-1], -1.0, around, cut_at(piece.second, around)))
    outer, inner, facing = (np.array(each) for each in zip(*rings, strict=True))
    return shell(outer, None if isinstance(piece.section.shape, Angle) else inner, facing)


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


def _section(piece: Piece, share: float) -> AnySection:
    """The section at a share of the way along a piece, between those of its ends."""
    first, last = piece.first.shape, piece.second.shape
    return first if first == last else between(first, last, share)


def _walls(section: AnySection, around: Floats) -> tuple[Floats, Floats, Floats]:
    """The outer and the inner surface and the outward normals (n, 2) at shares of the way round."""
    points, normals = section.contour.at(around * section.contour.girth)
    return points, section.inside(points, normals), normals


def cut_at(end: EndCut, around: Floats) -> Floats:
    """How far from its joint an end is cut (n,), mm, at shares of the way round."""
    girth = end.shape.contour.girth
    return np.interp(around * girth, end.profile.round_mm, end.profile.cut, period=girth)


def end_ring(
    end: EndCut, at: Floats, axes: Floats, way: float, around: Floats, cut: Floats
) -> tuple[Floats, Floats, Floats]:
    """Outer wall, inner wall and outward normals (n, 3) of an end whose joint is at a place (3,), at shares of the way
    round where it is cut so far from the joint (n,), mm; axes (3, 3): of the tube there; way: +1 at a first end, -1 at
    a second."""
    outer, inner, normals = _walls(end.shape, around)
    one, other = (np.outer(along * way, axes[0]) for along in (cut, _in_corners(inner, cut)))
    return at + outer @ axes[1:] + one, at + inner @ axes[1:] + other, normals @ axes[1:]


def _in_corners(inner: Floats, cut: Floats) -> Floats:
    """How far places on the inner surface (n, 2) are cut, where those of the outer one are cut by (n,): in a corner
    that is sharp inside all have one place, and are cut as the middle of them is."""
    moved = np.linalg.norm(inner - np.roll(inner, 1, axis=0), axis=1) > SAME_MM
    starts = np.flatnonzero(moved)
    if len(starts) in (0, len(inner)):
        return cut
    made = cut.copy()
    for first, after in zip(starts, [*starts[1:], starts[0] + len(inner)], strict=True):
        corner = np.arange(first, after) % len(inner)
        made[corner] = cut[corner[len(corner) // 2]]
    return made
