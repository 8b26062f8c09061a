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

LINES = 48  # lines round a tube that its surface is made of, besides its corners


def piece_shell(job: Job, piece: Piece, lines: int = LINES) -> Shell:
    """The surface of a piece, cut square through the wall at both ends, mm in the car's axes; `lines` round it."""
    line = _line(job, piece)
    axes = frames(line, piece.axes[1])
    shares = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    shares /= shares[-1]
    around = piece.first.shape.contour.lines(lines)[0] / piece.first.shape.contour.girth
    rings = [_end_ring(piece.first, line[0], axes[0], 1.0, around)]
    for n in range(1, len(line) - 1):
        flat = _walls(_section(piece, float(shares[n])), around)
        rings.append(
            tuple(bisected(line[n], axes[n - 1], axes[n], side) for side in flat[:2]) + (flat[2] @ axes[n][1:],)
        )
    rings.append(_end_ring(piece.second, line[-1], axes[-1], -1.0, around))
    outer, inner, facing = (np.array(each) for each in zip(*rings, strict=True))
    return shell(outer, None if isinstance(piece.section.shape, Angle) else inner, facing)


def tube_of_chord(job: Job, piece: Piece) -> tuple[str, ...]:
    """The tube that each chord of a piece's centreline belongs to."""
    return tuple(name for name in piece.tubes for _ in route_of(job, job.tube_by_id[name]).line[1:])


def _line(job: Job, piece: Piece) -> Floats:
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


def _end_ring(end: EndCut, at: Floats, axes: Floats, way: float, around: Floats) -> tuple[Floats, Floats, Floats]:
    """Outer wall, inner wall and normals (n, 3) of a cut end."""
    outer, inner, normals = _walls(end.shape, around)
    girth = end.shape.contour.girth
    cut = np.interp(around * girth, end.profile.round_mm, end.profile.cut, period=girth)
    along = (cut * way)[:, None] * axes[0]
    return at + outer @ axes[1:] + along, at + inner @ axes[1:] + along, normals @ axes[1:]
