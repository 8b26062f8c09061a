"""Wrap-around paper templates at 1:1 for the ends of tubes.

The paper is wrapped round the tube with the overlap meeting itself. The cut line is the governing one of
outer and inner surface, laid on the circumference at half the paper's thickness. Where along the tube the paper sits is
told, and drawn, from the square end of a bar cut to the piece's bar length. Printed distances let the
builder check the sheet with a rule before cutting.
"""

import math
import textwrap

import numpy as np

from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.markout import end_tube, mouths
from ironcage.core.answers.cut.pieces import CutAnswer, Piece
from ironcage.core.calc.sections import AnySection, Rect
from ironcage.core.exchange.drawing import Sheet
from ironcage.core.job.geometry.flanges import slots
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem

PAPER_MM = 0.1  # office paper; it lengthens the girth by π times this
GRIP_MM = 35.0  # paper beyond the deepest point of the cut, to wrap and hold by
MARGIN_MM = 12.0
CAPTION_MM, CAPTION_LETTERS = 190.0, 96  # room for the words, and how many letters fit it
BAR_MM, LINE_MM = 16.0, 3.9  # the scale bar's height over the paper, and a line of words
MARK_WORD_MM = 1.2  # a mark's word stands so far right of it
SAFETY = "Eye protection for grinding and sawing; deburr before handling. Check the first end on scrap."


def end_of(piece: Piece, end: str) -> EndCut:
    """The end called 'first' or 'second', or by its joint."""
    for name, cut in (("first", piece.first), ("second", piece.second)):
        if end.lower() in (name, cut.joint.lower()):
            return cut
    raise Problem(
        f"{piece.id} has no end ‘{end}’.", where=end, hint=f"It ends at {piece.first.joint} and {piece.second.joint}."
    )


def template(job: Job, piece: Piece, end: EndCut, paper_mm: float = PAPER_MM) -> Sheet:
    """A sheet for one end of a piece. The tube's body is above the cut line, the joint below.

    Raises Problem for an end that needs no template (a square one of a round tube) or can't be cut.
    """
    if end.problem:
        raise Problem(f"{end.problem[0].upper()}{end.problem[1:]}", where=piece.id)
    if (
        end.kind == "square"
        and not isinstance(end.shape, Rect)
        and not slots(job).get((end_tube(piece, end), end.joint))
    ):
        raise Problem(
            f"{piece.id} is cut square at {end.joint} and needs no template.",
            where=piece.id,
            hint="The others have one.",
        )
    profile = end.profile
    piece_shape = end.shape
    stretch = (
        profile.girth_mm + math.pi * paper_mm
    ) / profile.girth_mm  # round anything, half the paper's thickness further out
    girth = profile.girth_mm * stretch
    along = np.append(profile.round_mm * stretch, girth)
    if end is piece.second:
        along = girth - along  # looking from the other end, the outline runs the other way round
    cut = np.append(profile.cut, profile.cut[0])
    low, high = profile.bar, profile.shoulder
    words = _caption(job, piece, end, girth)
    x0, base = MARGIN_MM, MARGIN_MM - low  # the joint lies at y = base
    paper_top = base + high + GRIP_MM
    words_top = paper_top + BAR_MM + LINE_MM * len(words)
    sheet = Sheet(
        f"{piece.id} at {end.joint}", max(girth + 2 * MARGIN_MM + 12, CAPTION_MM), words_top + 5, units_of(job)
    )
    order = np.argsort(along, kind="stable")
    line = np.column_stack([x0 + along[order], base + cut[order]])
    sheet.path(line, "cut")
    right, foot = x0 + girth, line[-1, 1]
    sheet.path(np.array([[x0, line[0, 1]], [x0, paper_top], [right, paper_top], [right, foot]]), "cut")
    flap = np.array([[right, foot], [right + 8, foot + 3], [right + 8, paper_top - 3], [right, paper_top]])
    sheet.path(flap, "fine", dashed=True)
    sheet.words(right + 5, (foot + paper_top) / 2, "glue", 2.4, "middle", upright=False)
    square = base + profile.bar
    sheet.line(x0 - 6, square, right + 8, square, "fine", dashed=True)
    sheet.words(right + 11.5, square, "square end of the bar", 2.4, upright=False)
    contour, turned = piece_shape.contour, -1 if end is piece.second else 1
    for quarter, label in enumerate(("INDEX", "90", "180", "270")):
        share = contour.towards(profile.mark + turned * quarter * math.pi / 2) / contour.girth
        x = x0 + ((turned * share) % 1.0) * girth
        sheet.line(x, base + high + 4, x, paper_top, "fine" if quarter else "mark", dashed=bool(quarter))
        sheet.words(x + MARK_WORD_MM, paper_top - 4, label, 2.6)
    for share in crease_shares(piece_shape):
        x = x0 + ((turned * share) % 1.0) * girth
        sheet.line(x, base + high + 2, x, paper_top, "fine", dashed=True)
        sheet.words(x + MARK_WORD_MM, base + high + 3, "corner", 2.0, upright=False)
    for mouth in mouths(job, piece, end):
        x = x0 + ((turned * mouth.middle / contour.girth) % 1.0) * girth
        left, right_of, top, foot = x - mouth.half, x + mouth.half, base + mouth.foot, base + low
        sheet.path(np.array([[left, foot], [left, top], [right_of, top], [right_of, foot]]), "cut")
        sheet.words(x, top + 1.5, "slot", 2.4, "middle")
    sheet.scale_bar(x0, paper_top + 11)
    sheet.lines_of(x0, words_top, words, 2.6)
    return sheet


def crease_shares(shape: AnySection) -> list[float]:
    """Where the corners of a rectangular tube are round its outline, as shares of its girth: where its paper is
    creased."""
    if not isinstance(shape, Rect):
        return []
    in_by = shape.corner_mm * (1 - math.sqrt(0.5))  # the middle of a rounded corner
    far_y, far_z = shape.width_mm / 2 - in_by, shape.height_mm / 2 - in_by
    contour = shape.contour
    return [
        contour.towards(math.atan2(z, y)) / contour.girth
        for y, z in ((far_y, far_z), (-far_y, far_z), (-far_y, -far_z), (far_y, -far_z))
    ]


def placing(job: Job, piece: Piece, end: EndCut) -> str:
    """Where along the tube the paper of an end sits, in a sentence."""
    fine, profile = units_of(job).fine, end.profile
    return (
        f"From the square end of a bar cut to {fine(piece.bar)}: the paper's longest point "
        f"{fine(profile.template_tip - profile.bar)}, "
        f"its deepest (shoulder) {fine(profile.shoulder - profile.bar)}."
    )


def _caption(job: Job, piece: Piece, end: EndCut, girth: float) -> list[str]:
    """The words over a template, wrapped to the sheet."""
    fine = units_of(job).fine
    lines = [
        f"{piece.id} at {end.joint} · {piece.section.name} · {job.brief.name}",
        f"{units_of(job).say(end.words)}. Wrap with this side out, line INDEX on the tube's mark.",
        placing(job, piece, end),
        f"Check: around the tube {fine(girth)} · longest to deepest point "
        f"{fine(end.profile.shoulder - end.profile.template_tip)} · a quarter {fine(girth / 4)}",
        f"Saddle tip to tip {fine(piece.saddle_tip)} · template tip to tip {fine(piece.template_tip)} · shoulder "
        f"{fine(piece.shoulder)}{_clocking(piece, end)}",
        SAFETY,
    ]
    return [part for line in lines for part in textwrap.wrap(line, CAPTION_LETTERS)]


def _clocking(piece: Piece, end: EndCut) -> str:
    """Where the other end's mark is, as seen looking from this end to the other."""
    if piece.clock is None:
        return ""
    turn = piece.clock if end is piece.first else -piece.clock
    return f" · other end's mark {math.degrees(turn) % 360:.1f}° clockwise from here"


def templates(job: Job, made: CutAnswer) -> list[Sheet]:
    """A sheet for each end that needs one and can be cut, piece by piece."""
    slotted = slots(job)
    return [
        template(job, piece, end)
        for piece in made.pieces
        for end in (piece.first, piece.second)
        if (end.kind != "square" or (end_tube(piece, end), end.joint) in slotted) and not end.problem
    ]
