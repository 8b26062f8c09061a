"""The papers of a pipe's segments at 1:1: each different one, wrapped round the pipe with the print outside."""

from __future__ import annotations

import math

import numpy as np

from ironcage.core.answers.shared.segments import pipe_segments
from ironcage.core.calc.tubes.mitred import LINES, Segment
from ironcage.core.exchange.drawing import Sheet
from ironcage.core.exchange.templates import MARGIN_MM, PAPER_MM, SAFETY
from ironcage.core.job.edits import find_part
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said

WORDS_MM = 22.0


def segment_sheets(job: Job, name: str) -> list[Sheet]:
    """A sheet for each different segment of a pipe. Refuses a part that is no pipe, one that is bent, and one that
    can't be made so."""
    part = find_part(job, name)
    if part.shape.kind != "pipe" or not part.shape.mitres:
        raise Problem(
            f"{part.name} is not made of segments.",
            where=part.id,
            hint=said.example("Give a pipe so many mitres a bend: set shape pipe [45] clr [90] mitres 3: …"),
        )
    made = pipe_segments(part, part.shape)
    if made.problem:
        raise Problem(made.problem, where=part.id)
    order = " ".join(chr(ord("a") + k) if k < 26 else str(k) for k in made.order)
    return [
        _sheet(job, part.name, chr(ord("a") + n) if n < 26 else str(n), segment, count, made.diameter, order)
        for n, (segment, count) in enumerate(made.kinds)
    ]


def _sheet(job: Job, name: str, letter: str, s: Segment, count: int, diameter: float, order: str) -> Sheet:
    girth = math.pi * (diameter + PAPER_MM)
    high = s.longest
    sheet = Sheet(
        f"{name}, segment {letter}", max(girth + 2 * MARGIN_MM, 190.0), high + WORDS_MM + 2 * MARGIN_MM, units_of(job)
    )
    around = np.linspace(0, 2 * math.pi, LINES + 1)
    rise = diameter / 2 * math.tan(s.first) * np.cos(around)
    top = s.centre - diameter / 2 * math.tan(s.second) * np.cos(around - s.turn)
    base = MARGIN_MM - float(rise.min())
    x = MARGIN_MM + around / (2 * math.pi) * girth
    sheet.path(np.column_stack([x, base + rise]), "cut")
    sheet.path(np.column_stack([x, base + top]), "cut")
    for n in (0, -1):
        sheet.line(float(x[n]), float(base + rise[n]), float(x[n]), float(base + top[n]), "cut")
    for angle, word in ((0.0, "inside, first cut"), (s.turn % (2 * math.pi), "inside, second cut")):
        at = MARGIN_MM + angle / (2 * math.pi) * girth
        low = base + diameter / 2 * math.tan(s.first) * math.cos(angle)
        sheet.line(at, low + 2, at, low + max(s.shortest / 2, 4), "mark")
        sheet.words(at + 1.2, low + 3, word, 2.2, upright=False)
    words = [
        f"{name}, segment {letter}: {count} off · pipe {said.size(diameter)} · order {order}",
        f"Middle {said.fine(s.centre)}, longest {said.fine(s.longest)}, shortest {said.fine(s.shortest)} · saw turned "
        f"{math.degrees(s.first):.2f}° and {math.degrees(s.second):.2f}°, the second cut turned "
        f"{math.degrees(s.turn) % 360:.1f}° · {SAFETY}",
        f"Check: round the pipe {said.fine(girth)}. First end below, print outside.",
    ]
    sheet.lines_of(MARGIN_MM, sheet.height - 6, words, 2.4)
    return sheet
