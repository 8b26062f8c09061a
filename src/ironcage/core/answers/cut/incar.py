"""Where the cuts of a piece are in the car: the rims of its walls, to be drawn on the table."""

from __future__ import annotations

import numpy as np

from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.geometry.routes import landings
from ironcage.core.job.values.model import Job


def cut_rims(job: Job, piece: Piece) -> tuple[tuple[Floats, Floats], tuple[Floats, Floats]]:
    """The outer and the inner rim (n, 3), closed, mm, of a piece's first end and of its second, as cut square through
    the wall."""
    made = []
    for end, tube, axes, way in (
        (piece.first, piece.tubes[0], piece.axes, 1.0),
        (piece.second, piece.tubes[-1], piece.last_axes, -1.0),
    ):
        t = job.tube_by_id[tube]
        at = np.array(landings(job, t)[0 if t.a == end.joint else 1])
        points, normals = end.shape.contour.at(end.profile.round_mm)
        along = end.profile.cut[:, None] * way * axes[0]
        outer, inner = (at + flat @ axes[1:] + along for flat in (points, end.shape.inside(points, normals)))
        made.append((np.vstack([outer, outer[:1]]), np.vstack([inner, inner[:1]])))
    return made[0], made[1]
