"""Labels that say which end is which and where the front is, and notches drawn as large as they are cut."""

import io
import math

import numpy as np
import pytest
from pypdf import PdfReader

from ironcage.core.answers.cut.pieces import answer
from ironcage.core.exchange.drawing import Path, Sheet, SheetWords
from ironcage.core.exchange.folds import fold_sheets
from ironcage.core.exchange.kinds import kind
from ironcage.core.exchange.labels import HIGH_MM, WIDE_MM, label_sheets
from ironcage.core.exchange.templates import template
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from tests.core.lines import typed


def _words(sheet: Sheet) -> list[str]:
    return [i.text for i in sheet.items if isinstance(i, SheetWords)]


def test_every_piece_has_a_label_whose_arrow_points_to_the_front() -> None:
    job = sample("fell-litter")
    pieces = answer(job).pieces
    sheets = label_sheets(job)
    said = [w for sheet in sheets for w in _words(sheet)]
    assert all(p.id in said for p in pieces)
    rail = next(n for n, p in enumerate(pieces) if p.role == "rail")
    row, column = divmod(rail, 3)
    x, y = column * WIDE_MM, sheets[0].height - (row + 1) * HIGH_MM
    low, high = [x, y], [x + WIDE_MM, y + HIGH_MM]
    marks = [i.points for i in sheets[0].items if isinstance(i, Path) and i.weight == "mark"]
    inside = [points for points in marks if (points > low).all() and (points < high).all()]
    shaft, *barbs = inside
    tip = next(end for end in shaft if all((end == b[0]).all() for b in barbs))
    first, second = (job.joint_by_id[e.joint].x for e in (pieces[rail].first, pieces[rail].second))
    assert (tip[0] == shaft[:, 0].min()) == (first > second)  # the label's left edge goes to the first end
    text = PdfReader(io.BytesIO(kind("labels-pdf").make(job, ""))).pages[0].extract_text()
    assert f"this end at {pieces[rail].first.joint}" in text
    with pytest.raises(Problem, match="no pieces to label"):
        label_sheets(Job())


def test_a_notch_is_drawn_as_deep_and_as_wide_as_it_is_cut() -> None:
    job = sample("fell-litter")
    piece = next(p for p in answer(job).pieces if p.bends)
    sheets = fold_sheets(job, piece.id)
    assert len(sheets) == len(piece.bends) == 2
    bend = piece.bends[0]
    upper, lower = (i.points for i in sheets[0].items if isinstance(i, Path) and i.weight == "cut")
    assert (upper - lower)[1:3, 1] == pytest.approx(bend.mouth)
    assert (upper - lower)[[0, 3], 1] == pytest.approx(0)
    deep = float(upper[1, 0] - upper[0, 0])
    lean = math.atan2(bend.mouth / 2, deep)
    assert lean == pytest.approx(bend.angle / 2)
    assert deep == pytest.approx(80 - 3)  # 80 high, a wall of 3 stays
    assert float(upper[2, 0] - upper[1, 0]) == pytest.approx(40)
    straight = next(p for p in answer(job).pieces if not p.bends)
    with pytest.raises(Problem, match="is not folded"):
        fold_sheets(job, straight.id)


def test_both_ends_of_a_tube_print_on_one_page(sandpiper: Job) -> None:
    made = PdfReader(io.BytesIO(kind("template-pdf").make(sandpiper, "T35L:both")))
    assert len(made.pages) == 1
    text = made.pages[0].extract_text()
    assert "T35L at J19L" in text
    assert "T35L at J19R" in text
    lone = typed(Job(), "joint 0 0 300 alone", "joint -500 0 300 alone", "tube J1 J2 38 x 2 round")
    with pytest.raises(Problem, match="cut square at both ends"):
        kind("template-pdf").make(lone, "T1:both")


def test_the_paper_of_a_box_is_creased_at_its_corners_and_square_ends_have_one_too() -> None:
    job = typed(Job(), "joint 0 300 200", "joint -500 300 200", "tube J1L J2L 60 x 40 x 3")  # 60 high, 40 wide
    piece = answer(job).pieces[0]
    sheet = template(job, piece, piece.first)
    corners = sorted(i.x for i in sheet.items if isinstance(i, SheetWords) and i.text == "corner")
    shape = piece.section.shape
    arc = math.pi / 2 * shape.corner_mm  # type: ignore[union-attr]
    flats = [40 - 2 * shape.corner_mm + arc, 60 - 2 * shape.corner_mm + arc]  # type: ignore[union-attr]
    stretch = 1 + math.pi * 0.1 / shape.contour.girth
    assert np.diff(corners) == pytest.approx([flats[0] * stretch, flats[1] * stretch, flats[0] * stretch])
    cut = next(np.array(i.points) for i in sheet.items if isinstance(i, Path) and len(i.points) > 100)
    assert np.ptp(cut[:, 1]) == pytest.approx(0)
