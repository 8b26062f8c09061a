"""Cards for the bench on paper, two on a page of A4: a piece from the side with both of its cuts and what lands along
it, all that is said of it, and boxes to tick."""

from __future__ import annotations

import math

import numpy as np

from ironcage.core.answers.cut.bending import bend_cards, words
from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.markout import marks, spots
from ironcage.core.answers.cut.pieces import Piece, answer
from ironcage.core.answers.cut.progress import progress
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.exchange.drawing import BY_CAPITALS, FONT, Sheet
from ironcage.core.exchange.labels import towards
from ironcage.core.exchange.piecewords import piece_lines, piece_title
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem

WIDE_MM, HIGH_MM = 190.0, 134.0
WORDS_MM = 53.0  # from the title down to the words
DRAWN_HIGH_MM = 11.0  # a tube on its card, from the side
LINE_MM, TYPE_MM, TITLE_LETTERS = 4.4, 2.75, 56
LEAST_TYPE_MM = 1.9
ROWS_ABOVE, ROWS_BELOW, MARK_GAP_MM = 3, 2, 1.0  # of figures and of names beside a piece; between two in a row


def card_sheets(job: Job, tubes: str) -> list[Sheet]:
    """The cards of the pieces of some tubes, by their ids with spaces between, or of all of them. Refuses a job without
    pieces."""
    made = answer(job)
    if not made.pieces:
        raise Problem(
            "There are no pieces to make cards of yet.", where="cards", hint="Frame is where tubes come from."
        )
    wanted = [made.piece(job.tube(name).id) for name in tubes.replace(",", " ").split()] or list(made.pieces)
    units, far = units_of(job), progress(job)
    bent = {c.piece: tuple(map(units.say, words(c))) for c in bend_cards(job)}
    return [_card(job, p, piece_lines(job, p, bent.get(p.id, ()), far.get(p.id), units)) for p in wanted]


def _card(job: Job, piece: Piece, lines: tuple[str, ...]) -> Sheet:
    from reportlab.lib.utils import simpleSplit  # slow to import, and needed here alone

    sheet = Sheet(piece.id, WIDE_MM, HIGH_MM, units_of(job))
    sheet.box(0, 0, WIDE_MM, HIGH_MM)
    top = HIGH_MM - 9
    title = piece_title(job, piece)
    sheet.words(4, top, title, min(4.6, 4.6 * TITLE_LETTERS / len(title)))
    sheet.words(WIDE_MM - 4, top - 7, f"bar {sheet.units.length(piece.bar)}", 5.6, "right")
    sheet.words(4, top - 7, f"{job.brief.name} · {piece.material}{_twin(job, piece)}", 2.8)
    _draw(sheet, job, piece, top - 31)
    room = top - WORDS_MM - 14
    kept = [line for line in lines if line]
    size = TYPE_MM
    while size > LEAST_TYPE_MM:
        told = [part for line in kept for part in simpleSplit(line, FONT, size * BY_CAPITALS, WIDE_MM - 8)]
        if len(told) * size * LINE_MM / TYPE_MM <= room:
            break
        size -= 0.1
    y = top - WORDS_MM
    for line in told:
        sheet.words(4, y, line, size)
        y -= size * LINE_MM / TYPE_MM
    x = 4.0
    for word in ("cut", "checked", "tacked", "welded"):
        sheet.box(x, 4, 4.5, 4.5)
        sheet.words(x + 6, 5, word, 2.8)
        x += 26
    sheet.words(x + 2, 5, "measured _________   by _________", 2.8)
    return sheet


def _twin(job: Job, piece: Piece) -> str:
    """Which piece is this one's mirror image."""
    twin = job.twin_tube(job.tube_by_id[piece.tubes[0]])
    if twin is None or twin.id in piece.tubes:
        return ""
    return f" · {twin.id} is its mirror image"


def _draw(sheet: Sheet, job: Job, piece: Piece, y: float) -> None:
    """The piece from the side, mark up, its ends in proportion and its length not."""
    left, right, half = 16.0, WIDE_MM - 16.0, DRAWN_HIGH_MM / 2
    first, second = (_side(piece, end, half) for end in (piece.first, piece.second))
    start, stop = np.array([left, y]) + first, np.array([right, y]) + second * [-1, 1]
    sheet.path(start, "cut")
    sheet.path(stop, "cut")
    for row in (0, -1):
        sheet.path(np.array([start[row], stop[row]]), "cut")
    for x in (left, right):
        sheet.line(x, y - half - 2, x, y + half + 2, "fine", dashed=True)
    sheet.words(left - 2, y - 1, piece.first.joint, 3.2, "right")
    sheet.words(right + 2, y - 1, piece.second.joint, 3.2)
    _draw_marks(sheet, job, piece, y, left, right)
    way, word = towards(job, piece)
    tip, back = (right, -4.0) if way > 0 else (left, 4.0)
    sheet.line(tip + 8 * back, y - half - 11, tip, y - half - 11, "mark")
    for off in (1.3, -1.3):
        sheet.line(tip, y - half - 11, tip + back / 2, y - half - 11 + off, "mark")
    sheet.words(tip + 9 * back, y - half - 12, word, 2.4, "right" if way > 0 else "left")


def _draw_marks(sheet: Sheet, job: Job, piece: Piece, y: float, left: float, right: float) -> None:
    """What lands along a piece, is drilled in it or goes on it: a line each, how far along above it and its name below.
    Figures that would meet go a row further out; where there is no room there either, the words below tell them."""
    from reportlab.pdfbase.pdfmetrics import stringWidth  # slow to import, and needed here alone

    at: dict[float, list[str]] = {}
    for mark in marks(job, piece):
        at.setdefault(round(mark.at, 1), []).append(mark.tube)
    for spot in spots(job, piece):
        for along in spot.at:
            at.setdefault(round(along, 1), []).append(spot.fitting)
    half = DRAWN_HIGH_MM / 2
    above, below = [-math.inf] * ROWS_ABOVE, [-math.inf] * ROWS_BELOW
    for along, names in sorted(at.items()):
        x = left + (right - left) * min(max(along / piece.bar, 0.0), 1.0)
        sheet.line(x, y - half, x, y + half, "mark")
        figure = sheet.units.length(along, unit=False)
        told = " ".join(names[:3]) + ("…" if len(names) > 3 else "")
        for text, size, taken, first, step in (
            (figure, 2.3, above, half + 2.5, 3.2),
            (told, 2.0, below, -half - 4, -3),
        ):
            wide = stringWidth(text, FONT, size * BY_CAPITALS)
            row = next((n for n, end in enumerate(taken) if x - wide / 2 > end), None)
            if row is not None:
                sheet.words(x, y + first + row * step, text, size, "middle")
                taken[row] = x + wide / 2 + MARK_GAP_MM


def _side(piece: Piece, end: EndCut, half: float) -> Floats:
    """The visible half of a cut from its mark down (n, 2): how far in from the square end, and how high, on a tube that
    is drawn twice `half` high."""
    profile, contour = end.profile, end.shape.contour
    size = max(end.shape.size)
    way = -1 if end is piece.second else 1
    turns = profile.mark + way * np.linspace(0, math.pi, 41)
    rows = [contour.towards(float(t)) for t in turns]
    inward = np.interp(rows, np.append(profile.round_mm, profile.girth_mm), np.append(profile.cut, profile.cut[0]))
    return np.column_stack([(inward - profile.bar) * 2 * half / size, half * np.cos(np.linspace(0, math.pi, 41))])
