"""What is marked on a piece before it is fitted: where other tubes land along it, from its first end."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.geometry.routes import end_axes, route_of
from ironcage.core.job.values.model import Job, Tube


@dataclass(frozen=True)
class Mark:
    """Where the axis of a tube meets that of a piece. at: along the piece from the square end of its bar at its first
    end, mm; clock: which way the tube goes off, from the first end's mark or, where it has none, from the first tube
    that is marked, clockwise looking from the first end to the second, rad; None on a bent piece."""

    joint: str
    tube: str
    at: float
    clock: float | None


def marks(job: Job, piece: Piece) -> tuple[Mark, ...]:
    """Every tube that lands on a piece between its ends, in order from the first."""
    axes = end_axes(job)
    found: list[tuple[str, str, float, float]] = []
    along = -piece.first.profile.bar
    joint = piece.first.joint
    for name in piece.tubes[:-1]:
        tube = job.tube_by_id[name]
        joint = tube.b if tube.a == joint else tube.a
        along += route_of(job, tube).length
        for other in job.tubes_at[joint]:
            if other.id not in piece.tubes:
                found.append((joint, other.id, along, _round(piece, _away(other, joint, axes))))
    if not found:
        return ()
    zero = found[0][3] if piece.first.kind == "square" else piece.first.profile.mark
    bent = bool(piece.bends)
    return tuple(
        Mark(at_joint, name, at, None if bent else (turned - zero) % (2 * math.pi))
        for at_joint, name, at, turned in found
    )


def _away(tube: Tube, joint: str, axes: dict[tuple[str, str], Floats]) -> Floats:
    return axes[tube.id, joint][0] * (1.0 if tube.a == joint else -1.0)


def _round(piece: Piece, away: Floats) -> float:
    """Which way a tube goes off a piece, from the piece's y towards its z, rad."""
    return float(np.arctan2(piece.axes[2] @ away, piece.axes[1] @ away))
