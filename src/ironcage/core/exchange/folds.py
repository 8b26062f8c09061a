"""Paper for notches: the wedge of each fold at 1:1, to wrap round three sides of the box or lay on the angle."""

from __future__ import annotations

import math
import textwrap

import numpy as np

from ironcage.core.answers.cut.pieces import BendMark, Piece, answer
from ironcage.core.calc.sections import Angle
from ironcage.core.exchange.drawing import Sheet
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said

MARGIN_MM, LETTERS, WIDTH_MM, HOLD_MM = 12.0, 92, 190.0, 30.0


def fold_sheets(job: Job, tube: str) -> list[Sheet]:
    """A sheet for each notch of a folded piece, in order from its first end. Refuses one that is not folded."""
    piece = answer(job).piece(job.tube(tube).id)
    if not piece.bends or piece.bends[0].radius:
        raise Problem(
            f"{piece.id} is not folded.",
            where=tube,
            hint="It is bent: ask for its bend card." if piece.bends else "A kick by fold makes one.",
        )
    return [_sheet(job, piece, n, bend) for n, bend in enumerate(piece.bends, 1)]


def _sheet(job: Job, piece: Piece, number: int, bend: BendMark) -> Sheet:
    """The side, the open side and the other side of a box unrolled across the paper, the tube running upwards."""
    half = math.tan(bend.angle / 2)
    deep = bend.mouth / 2 / half
    open_side = 0.0 if isinstance(piece.section.shape, Angle) else _across(piece, deep)
    rows = [
        f"{piece.id}, {name_of(job, piece.id)} · {piece.section.name} · notch {number} of {len(piece.bends)}",
        f"Its middle is {said.length(bend.start)} from the end at {piece.first.joint}. It folds by "
        f"{math.degrees(bend.angle):.1f}°: each cut leans {math.degrees(bend.angle) / 2:.1f}° from square, "
        f"{said.length(bend.mouth)} across the open side, {said.length(deep)} deep.",
        "Cut inside the lines: the kerf is taken from the wedge. The far wall stays and hinges on its inner face.",
        "Clamp and tack the fold at its angle before welding; eye protection for cutting.",
    ]
    told = [part for line in rows for part in textwrap.wrap(units_of(job).say(line), LETTERS)]
    tall = bend.mouth + 2 * HOLD_MM
    width = max(2 * deep + open_side + 2 * MARGIN_MM, WIDTH_MM)
    sheet = Sheet(f"{piece.id}, notch {number}", width, tall + 5 * len(told) + 34, units_of(job))
    x, middle = MARGIN_MM, MARGIN_MM + tall / 2
    left, right = x + deep, x + deep + open_side
    far = right + (deep if open_side else 0.0)
    for across in dict.fromkeys((x, left, right, far)):
        sheet.line(across, middle - tall / 2, across, middle + tall / 2, "fine", dashed=across in (left, right))
    mouth = bend.mouth / 2
    sheet.path(
        np.array(
            [[x, middle], [left, middle + mouth], [right, middle + mouth], [far, middle]][: 4 if open_side else 2]
        ),
        "cut",
    )
    sheet.path(
        np.array(
            [[x, middle], [left, middle - mouth], [right, middle - mouth], [far, middle]][: 4 if open_side else 2]
        ),
        "cut",
    )
    sheet.words(x + 2, middle + tall / 2 - 5, "hinge", 2.6)
    sheet.words(left + 2, middle + tall / 2 - 5, "open side" if open_side else "edge", 2.6)
    sheet.scale_bar(MARGIN_MM, middle + tall / 2 + 8)
    sheet.lines_of(MARGIN_MM, sheet.height - 7, told, 3.0)
    return sheet


def _across(piece: Piece, deep: float) -> float:
    """How wide the open side of a box is that is so deep across the fold less a wall, mm."""
    size, wall = piece.section.shape.size, piece.section.shape.wall_mm
    return min(size, key=lambda s: -abs(s - wall - deep)) if size[0] != size[1] else size[0]
