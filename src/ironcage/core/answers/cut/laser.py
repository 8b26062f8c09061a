"""What a tube laser cuts of a piece between its ends: holes as places on the straight tube, and what its solid can't
hold."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import combinations

import numpy as np

from ironcage.core.answers.cut.drilled import Bore, bores
from ironcage.core.answers.cut.markout import mouths
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.calc.sections import Rect, Round
from ironcage.core.job.values.fittings import FlattenedEnd, Insert
from ironcage.core.job.values.model import Job

CLEAR_MM, MOST_LINES = 0.01, 24  # how near a line along the tube may pass a hole, and how many are tried


def unfit(piece: Piece) -> str:
    """Why no solid of a piece is written; nothing where one is."""
    if any(not b.radius for b in piece.bends):
        return "is folded"
    if piece.first.shape != piece.second.shape:
        return "tapers"
    if not isinstance(piece.section.shape, Round | Rect):
        return f"is {piece.section.name}"
    return "can't be cut" if piece.problems else ""


def lasered(job: Job, piece: Piece) -> tuple[tuple[Bore, ...], tuple[str, ...]]:
    """The holes of a piece that its solid holds, and what is left out of it, in words."""
    every, told = bores(job, piece)
    made: list[Bore] = []
    left = dict.fromkeys(told)
    for bore in every:
        if why := _why_not(job, piece, bore, made):
            left[f"{bore.where}: it {why}"] = None
        else:
            made.append(bore)
    for f in job.fittings:
        if isinstance(f, FlattenedEnd) and f.tube in piece.tubes:
            left[f"the flat of {f.id} and its hole: they are made afterwards"] = None
        if isinstance(f, Insert) and f.tube in piece.tubes:
            left[f"the cut at {f.id}: the solid is whole"] = None
    return tuple(made), tuple(left)


def left_out(job: Job, piece: Piece) -> tuple[str, ...]:
    """What a tube laser is not told of a piece that is meant for it; nothing of another."""
    if not piece.laser:
        return ()
    if why := unfit(piece):
        return (f"{piece.id} {why}: no solid of it is written for a tube laser",)
    return tuple(f"not in the solid of {piece.id}: {what}" for what in lasered(job, piece)[1])


def laser_notes(job: Job, piece: Piece) -> tuple[str, ...]:
    """What to know of a piece that is meant for a tube laser; nothing of another."""
    bent = ("the laser cuts it straight, before it is bent",) if piece.laser and piece.bends else ()
    return (*bent, *left_out(job, piece))


def _why_not(job: Job, piece: Piece, bore: Bore, made: list[Bore]) -> str:
    """Why a solid can't hold a hole; nothing where it can."""
    if bore.square:
        return "is square"
    if (
        bore.along - bore.radius <= piece.first.profile.shoulder
        or bore.along + bore.radius >= piece.centre - piece.second.profile.shoulder
    ):
        return "reaches into a cut end"
    if isinstance(piece.section.shape, Round) and seams(job, piece, (*made, bore)) is None:
        return "leaves no line along the tube that passes all holes"
    return ""


def seams(job: Job, piece: Piece, holes: Sequence[Bore]) -> tuple[float, float] | None:
    """The two lines along a round piece that part its surface, by where they are round its outline, mm: of those lines
    of its ends that no hole and no slot comes near the two that are furthest apart. None where there are no two, and of
    a rectangular piece, whose corners part it."""
    shape, free = piece.section.shape, piece.first.profile.round_mm
    if not isinstance(shape, Round):
        return None
    girth, outer = shape.contour.girth, shape.od_mm / 2
    inner = outer - shape.wall_mm
    taken = [(math.atan2(h.normal[1], h.normal[0]) * outer, math.asin(h.radius / inner) * outer) for h in holes]
    slotted = [m for end in (piece.first, piece.second) for m in mouths(job, piece, end)]
    for middle, half in (*taken, *((m.middle, m.half) for m in slotted)):
        free = free[np.abs((free - middle + girth / 2) % girth - girth / 2) > half + CLEAR_MM]
    some = free[:: max(1, len(free) // MOST_LINES)].tolist()
    return max(combinations(some, 2), key=lambda two: min(two[1] - two[0], girth - two[1] + two[0]), default=None)
