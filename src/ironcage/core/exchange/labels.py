"""Labels for pieces: the number, what it is called, how long its bar is, and an arrow to the front of the car."""

from __future__ import annotations

from ironcage.core.answers.cut.markout import Length, lengths
from ironcage.core.answers.cut.pieces import Piece, answer
from ironcage.core.exchange.drawing import Sheet
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said

ACROSS, DOWN = 3, 11
WIDE_MM, HIGH_MM = 63.0, 25.0
NAME_LETTERS = 30
LEVEL_MM = 20.0  # of a piece along the car: with less it stands across it or upright, and the arrow tells that


def label_sheets(job: Job) -> list[Sheet]:
    """A page of labels after another, in the order of the cut list. Refuses a job without pieces."""
    made = [(piece, length) for piece in answer(job).pieces for length in lengths(job, piece)]
    if not made:
        raise Problem("There are no pieces to label yet.", where="labels", hint="Frame is where tubes come from.")
    each = ACROSS * DOWN
    return [_page(job, made[n : n + each], n // each + 1) for n in range(0, len(made), each)]


def _page(job: Job, made: list[tuple[Piece, Length]], number: int) -> Sheet:
    sheet = Sheet(f"Labels, page {number}", ACROSS * WIDE_MM, DOWN * HIGH_MM, units_of(job))
    for n, (piece, of) in enumerate(made):
        row, column = divmod(n, ACROSS)
        _label(sheet, job, piece, of, column * WIDE_MM, sheet.height - (row + 1) * HIGH_MM)
    return sheet


def _label(sheet: Sheet, job: Job, piece: Piece, of: Length, x: float, y: float) -> None:
    """One label; its left edge goes to the end that is nearer to the piece's first."""
    sheet.box(x, y, WIDE_MM, HIGH_MM)
    sheet.words(x + 3, y + 16, of.name, 5.5)
    sheet.words(x + WIDE_MM - 3, y + 16.5, f"bar {said.length(of.length)}", 3.2, "right")
    name = name_of(job, piece.id)
    sheet.words(x + 3, y + 11, name if len(name) <= NAME_LETTERS else f"{name[: NAME_LETTERS - 1]}…", 2.6)
    sheet.words(x + 3, y + 7, piece.section.name, 2.4)
    sheet.words(x + 3, y + 2.5, f"this end {'towards' if of.start else 'at'} {piece.first.joint}", 2.4)
    arrow, word = towards(job, piece)
    left, right = x + WIDE_MM - 23, x + WIDE_MM - 5
    sheet.line(left, y + 3.0, right, y + 3.0, "mark")
    tip, back = (left, 3.0) if arrow < 0 else (right, -3.0)
    sheet.line(tip, y + 3.0, tip + back, y + 4.8, "mark")
    sheet.line(tip, y + 3.0, tip + back, y + 1.2, "mark")
    sheet.words((left + right) / 2, y + 4.4, word, 2.4, "middle")


def towards(job: Job, piece: Piece) -> tuple[int, str]:
    """Which way along the label the arrow points, and to what: to the front; of a piece across the car to the left, of
    an upright one up."""
    a, b = (job.joint_by_id[end.joint].place for end in (piece.first, piece.second))
    gone = [q - p for p, q in zip(a, b, strict=True)]
    axis, word = 0, "front"
    if abs(gone[0]) < LEVEL_MM:
        axis, word = (1, "left") if abs(gone[1]) >= abs(gone[2]) else (2, "up")
    return (1 if gone[axis] > 0 else -1), word
