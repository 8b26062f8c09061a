"""One paper round a whole tube with both of its cuts, so that length and clocking can't go wrong.

The tube runs along the sheet, its first end left; wrapped with the print outside, the sheet's top comes before its
bottom as one goes round the tube from its y to its z. Where the paper is shorter than the tube, the middle is left out:
two lines that go to marks on the tube, with the distance between printed. Girth and cut lines as of `templates`.
"""

from __future__ import annotations

import math

import numpy as np

from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.exchange.drawing import Sheet
from ironcage.core.exchange.templates import GRIP_MM, MARGIN_MM, PAPER_MM, SAFETY, crease_shares
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said

WORDS_MM, FLAP_MM = 34.0, 8.0


def wrap(job: Job, piece: Piece, room_mm: float) -> Sheet:
    """The paper of a straight piece on a sheet of at most `room_mm` along it. Raises Problem for a piece that is bent,
    that has nothing to cut along a paper, or whose ends alone are longer than the sheet."""
    ends = (piece.first, piece.second)
    if piece.bends:
        raise Problem(
            f"{piece.id} is bent, and no paper lies round a bend.",
            where=piece.id,
            hint="Print a template for each of its ends.",
        )
    if problem := next((e.problem for e in ends if e.problem), ""):
        raise Problem(f"{problem[0].upper()}{problem[1:]}", where=piece.id)
    if all(e.kind == "square" for e in ends):
        raise Problem(f"{piece.id} is cut square at both ends and needs no paper.", where=piece.id)
    girth = piece.section.shape.contour.girth + math.pi * PAPER_MM
    deep = [e.profile.shoulder - e.profile.bar + GRIP_MM for e in ends]
    whole = piece.bar <= room_mm - 2 * MARGIN_MM or sum(deep) >= piece.bar
    split = 0.0 if whole else math.ceil(piece.bar - (room_mm - 2 * MARGIN_MM) + 2 * MARGIN_MM)
    if piece.bar - split < sum(deep):
        raise Problem(
            f"Both ends of {piece.id} need {said.length(sum(deep))} of paper, and the sheet has "
            f"{said.length(room_mm - 2 * MARGIN_MM)}.",
            where=piece.id,
            hint="Take a larger paper or a roll, or print a template for each end.",
        )
    gap = 2 * MARGIN_MM if split else 0.0
    length = piece.bar - split + gap
    sheet = Sheet(f"{piece.id}, both ends", length + 2 * MARGIN_MM, girth + 2 * MARGIN_MM + WORDS_MM, units_of(job))
    base = MARGIN_MM + FLAP_MM / 2
    left, right = MARGIN_MM, MARGIN_MM + length
    first, second = (_line(e, girth) for e in ends)
    sheet.path(np.column_stack([left + first[:, 0], base + first[:, 1]]), "cut")
    sheet.path(np.column_stack([right - second[:, 0], base + second[:, 1]]), "cut")
    _outline(sheet, left, right, base, girth, (first, second), deep[0] if split else None, split)
    _marks(sheet, piece, left, right, base, girth)
    words = [
        f"{piece.id} · {piece.section.name} · {job.brief.name} · {piece.first.joint} left, {piece.second.joint} right",
        f"Bar {said.fine(piece.bar)}: its square ends lie on the dashed lines. Check: up the sheet {said.fine(girth)} "
        f"from edge to edge, round the tube.",
        f"The two split lines go {said.fine(split)} apart on the tube, straight along it." if split else "",
        SAFETY,
    ]
    for share in crease_shares(piece.section.shape):
        y = base + girth * (1 - share)
        for x, way in ((left, 1), (right, -1)):
            sheet.line(x + way * GRIP_MM / 4, y, x + way * GRIP_MM, y, "fine", dashed=True)
    sheet.lines_of(left, sheet.height - 6, [w for w in words if w], 2.6)
    sheet.scale_bar(left, base + girth + 10)
    return sheet


def _line(end: EndCut, girth: float) -> Floats:
    """A cut as rows (n, 2): how far in from the square end of the bar, and how far up the sheet, from edge to edge."""
    profile = end.profile
    up = girth - np.append(profile.round_mm, profile.girth_mm) * (girth / profile.girth_mm)
    inward = np.append(profile.cut, profile.cut[0]) - profile.bar
    return np.column_stack([inward, up])


def _outline(
    sheet: Sheet,
    left: float,
    right: float,
    base: float,
    girth: float,
    cuts: tuple[Floats, Floats],
    split_at: float | None,
    split: float,
) -> None:
    """Both long edges, the flap, the square ends of the bar, and the split."""
    top = base + girth
    for x in (left, right):
        sheet.line(x, base - 4, x, top + 4, "fine", dashed=True)
    edges = [(left + cuts[0][0, 0], right - cuts[1][0, 0])]
    if split_at is not None:
        inner = left + split_at, left + split_at + 2 * MARGIN_MM
        edges = [(edges[0][0], inner[0]), (inner[1], edges[0][1])]
        for x in inner:
            sheet.line(x, base, x, top, "cut", dashed=True)
            sheet.words(
                x - 1.5, base + girth / 2, f"split: {sheet.units.fine(split)} between", 2.6, "middle", upright=False
            )
    for start, stop in edges:
        sheet.line(start, base, stop, base, "cut")
        sheet.line(start, top, stop, top, "cut")
        sheet.path(
            np.array(
                [[start + 3, base], [start + 6, base - FLAP_MM / 2], [stop - 6, base - FLAP_MM / 2], [stop - 3, base]]
            ),
            "fine",
            dashed=True,
        )


def _marks(sheet: Sheet, piece: Piece, left: float, right: float, base: float, girth: float) -> None:
    """The lines at each quarter from the first end's mark, along the tube."""
    contour = piece.section.shape.contour
    start = piece.first.profile.mark if piece.first.kind != "square" else piece.second.profile.mark
    for quarter, label in enumerate(("INDEX", "90", "180", "270")):
        y = base + girth - (contour.towards(start + quarter * math.pi / 2) / contour.girth % 1.0) * girth
        for x, way in ((left, 1), (right, -1)):
            near, far = x + way * GRIP_MM / 4, x + way * GRIP_MM
            sheet.line(near, y, far, y, "fine" if quarter else "mark", dashed=bool(quarter))
        sheet.words(left + GRIP_MM / 4, y + 1.0, label, 2.4)
