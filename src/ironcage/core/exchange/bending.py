"""Paper for bent tubes: the card with a drawing at 1:1 to lay the tube on, and a sheet for one that is bent outside."""

from __future__ import annotations

import math
import textwrap
from collections.abc import Iterator

import numpy as np

from ironcage.core.answers.cut.bending import HOW, BendCard, bend_cards, words
from ironcage.core.answers.cut.markout import marks
from ironcage.core.answers.cut.pieces import Piece, answer
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.tubes.centreline import Route
from ironcage.core.exchange.drawing import Sheet
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import said
from ironcage.units.shown import angle

MARGIN_MM, LINE_MM, LETTERS = 12.0, 4.6, 92
SENT_LETTERS = 84  # of a line on a sheet that is sent out
FLAT_MM = 0.5  # a tube that leaves the plane of its first bend by less is drawn from one side
PAGE_MM = (190.0, 277.0)  # of a sheet that is sent out: A4 less what a printer leaves blank
ANGLE_WITHIN = math.radians(0.5)  # how far off a bend of a tube that comes back may be


def card_of(job: Job, tube: str) -> tuple[BendCard, Piece]:
    """The card and the piece of a bent tube. Refuses one that is not bent."""
    piece = answer(job).piece(job.tube(tube).id)
    cards = {card.piece: card for card in bend_cards(job)}
    if piece.id not in cards:
        folded = " but notched and folded" if piece.bends else ""
        raise Problem(
            f"{piece.id} is not bent{folded}.",
            where=tube,
            hint=nearest(tube, cards, 0.0) if cards else "No tube of this job is bent at a radius.",
        )
    return cards[piece.id], piece


def bend_sheet(job: Job, tube: str) -> Sheet:
    """The card of a bent tube over its outline at 1:1, from the side of its first bend and, where it leaves that plane,
    from beside it as well."""
    card, piece = card_of(job, tube)
    told = [
        f"{piece.id}, {name_of(job, piece.id)} · {piece.section.name} · bends of {said.size(card.radius)} radius · "
        f"{job.brief.name}",
        *words(card),
        HOW,
    ]
    rows = [part for line in told for part in textwrap.wrap(units_of(job).say(line), LETTERS)]
    half = max(piece.section.shape.size) / 2
    views = [card.line.line[:, :2]]
    if np.abs(card.line.line[:, 2]).max() > FLAT_MM:
        views.append(card.line.line[:, [0, 2]])
    lows, sizes = [v.min(axis=0) - half for v in views], [np.ptp(v, axis=0) + 2 * half for v in views]
    head = LINE_MM * len(rows) + 22
    width = max(max(float(s[0]) for s in sizes) + 2 * MARGIN_MM, PAGE_MM[0])
    sheet = Sheet(
        f"{piece.id}, bends", width, head + sum(float(s[1]) + MARGIN_MM for s in sizes) + MARGIN_MM, units_of(job)
    )
    top = sheet.height - 8
    sheet.lines_of(MARGIN_MM, top, rows, 3.0)
    sheet.scale_bar(MARGIN_MM, sheet.height - head + 4)
    y = sheet.height - head
    for nth, (view, low, size) in enumerate(zip(views, lows, sizes, strict=True)):
        y -= float(size[1]) + MARGIN_MM
        shift = np.array([MARGIN_MM, y]) - low
        _outline(sheet, view + shift, half)
        for n, bend in enumerate(card.line.bends if not nth else (), 1):
            for along, word in ((bend.start, f"{n}"), (bend.stop, "")):
                _tick(sheet, card.line, along, shift, half, word)
    return sheet


def _outline(sheet: Sheet, line: Floats, half: float) -> None:
    """A tube seen from a side: its centreline (n, 2) dashed, both edges, both ends."""
    way = np.gradient(line, axis=0)
    size = np.linalg.norm(way, axis=1, keepdims=True)
    normal = np.column_stack([-way[:, 1], way[:, 0]]) / np.where(size > 0, size, 1.0)
    left, right = line + half * normal, line - half * normal
    sheet.path(line, "fine", dashed=True)
    sheet.path(np.vstack([left, right[::-1], left[:1]]), "cut")


def _tick(sheet: Sheet, line: Route, along: float, shift: Floats, half: float, word: str) -> None:
    """A mark across the tube where a bend begins or ends."""
    at, way = line.at(along)
    across = np.array([-way[1], way[0]])
    (x1, y1), (x2, y2) = at[:2] + shift - 1.2 * half * across, at[:2] + shift + 1.2 * half * across
    sheet.line(float(x1), float(y1), float(x2), float(y2), "mark")
    if word:
        sheet.words(float(x2) + 1, float(y2) + 1, word, 3.5)


def outside_sheet(job: Job, tube: str) -> Sheet:
    """A sheet for whoever bends a tube outside: what it is, its sizes, what lands where along it, the rules that its
    role is under as the builder has typed them, and a list to fill in when it comes back."""
    card, piece = card_of(job, tube)
    units, (width, height) = units_of(job), PAGE_MM
    sheet = Sheet(f"{piece.id}, to be bent", width, height, units)
    sheet.words(MARGIN_MM, height - 10, f"{job.brief.name}: {piece.id}, {name_of(job, piece.id)}, to be bent", 5)
    low = _drawn(sheet, card, piece, height - 16)
    rows = [
        f"{piece.section.name}, {piece.material}; cut to {said.length(card.length)}; bends of "
        f"{said.size(card.radius)} radius of the centreline",
        *words(card),
        *_lean(job, piece),
    ]
    for mark in marks(job, piece):
        rows.append(
            f"{said.length(mark.at)} from the end at {piece.first.joint}: {mark.tube} lands ({name_of(job, mark.tube)})"
        )
    rules = [r.clause for r in job.rules.rules if getattr(r, "role", "") and getattr(r, "role", "") == piece.role]
    rows += [f"Rule, as typed by the builder: {clause}" for clause in rules]
    rows.append("Your sanctioning body's book decides; this sheet only repeats what was typed of it.")
    told = [part for line in rows for part in textwrap.wrap(units.say(line), SENT_LETTERS)]
    low = sheet.lines_of(MARGIN_MM, low - 6, told, 2.8) - 4
    _to_fill_in(sheet, low, list(_asked(job, card, piece)))
    return sheet


def _lean(job: Job, piece: Piece) -> Iterator[str]:
    """How far the plane of a flat bent tube leans from plumb in the car."""
    points = np.vstack([route_of(job, job.tube_by_id[name]).line for name in piece.tubes])
    off = points - points.mean(axis=0)
    _, sizes, ways = np.linalg.svd(off, full_matrices=False)
    if sizes[2] / math.sqrt(len(points)) < FLAT_MM:
        yield f"In the car its plane leans {angle(math.asin(min(1.0, abs(float(ways[2][2])))))} from plumb."


def _drawn(sheet: Sheet, card: BendCard, piece: Piece, top: float) -> float:
    """The tube in its own plane, smaller; the y below it."""
    half = max(piece.section.shape.size) / 2
    line = card.line.line[:, :2]
    low, size = line.min(axis=0) - half, np.ptp(line, axis=0) + 2 * half
    scale = min((sheet.width - 4 * MARGIN_MM) / float(size[0]), 80.0 / float(size[1]))
    shift = np.array([2 * MARGIN_MM, top - 4 - scale * float(size[1])])
    _outline(sheet, (line - low) * scale + shift, half * scale)
    return float(shift[1])


def _asked(job: Job, card: BendCard, piece: Piece) -> Iterator[tuple[str, str, str]]:
    """What is measured when the tube comes back: what, as asked, and how far off it may be."""
    within = f"± {said.fine(job.truing.within)}"
    line, half = card.line.line, max(piece.section.shape.size) / 2
    ends = float(np.linalg.norm(line[-1] - line[0]))
    yield "from end to end, middle to middle", said.length(ends), within
    if np.abs(line[:, 2]).max() <= FLAT_MM:
        chord = (line[-1, :2] - line[0, :2]) / max(ends, 1e-9)
        over = (line[:, :2] - line[0, :2]) @ np.array([-chord[1], chord[0]])
        along = (line[:, :2] - line[0, :2]) @ chord
        yield "over all, square to that, outside", said.length(float(np.ptp(over)) + 2 * half), within
        yield "over all, along that, outside", said.length(float(np.ptp(along)) + 2 * half), within
        yield "flat on a table, gap at most", said.fine(0.0), within
    for n, step in enumerate(card.steps, 1):
        yield f"bend {n}", angle(step.angle), f"± {angle(ANGLE_WITHIN)}"
    yield "least diameter in a bend", said.size(2 * half), "as your book says"
    yield "wall outside of a bend, thinnest", said.size(piece.section.shape.wall_mm), "as your book says"
    yield "wrinkles, kinks, cracks", "none", ""


def _to_fill_in(sheet: Sheet, top: float, rows: list[tuple[str, str, str]]) -> None:
    """A table with room for what is measured."""
    columns, step = (MARGIN_MM, 78.0, 104.0, 142.0, sheet.width - MARGIN_MM), 7.0
    for x, word in zip(columns, ("On return", "asked", "allowed", "measured"), strict=False):
        sheet.words(x + 1, top - 5, word, 2.8)
    for n, row in enumerate(rows, 1):
        for x, word in zip(columns, row, strict=False):
            sheet.words(x + 1, top - 5 - n * step, word, 2.6)
    for n in range(len(rows) + 2):
        sheet.line(columns[0], top - n * step, columns[-1], top - n * step)
    for x in columns:
        sheet.line(x, top, x, top - (len(rows) + 1) * step)
    sheet.words(columns[0], top - (len(rows) + 2) * step, "Measured by, day:", 2.8)
