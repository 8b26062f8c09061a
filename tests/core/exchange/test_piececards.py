"""Cards on paper: one a piece, two on a page, with what the screen says, and cuts drawn in proportion."""

import io
from itertools import pairwise

import numpy as np
import pytest
from pypdf import PdfReader
from reportlab.pdfbase.pdfmetrics import stringWidth

from ironcage.core.answers.cut.pieces import answer
from ironcage.core.exchange.drawing import BY_CAPITALS, FONT, Path, Sheet, SheetWords
from ironcage.core.exchange.kinds import kind
from ironcage.core.exchange.piececards import DRAWN_HIGH_MM, HIGH_MM, LEAST_TYPE_MM, WIDE_MM, card_sheets
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import SAMPLES, sample
from tests.core.lines import typed


def _beside_the_piece(sheet: Sheet) -> list[SheetWords]:
    """The figures above a drawn piece and the names below it."""
    return [i for i in sheet.items if isinstance(i, SheetWords) and i.align == "middle"]


@pytest.mark.parametrize("demo", SAMPLES)
def test_every_piece_has_a_card_that_holds_all_that_is_said(demo: str) -> None:
    job = sample(demo)
    sheets = card_sheets(job, "")
    assert [s.title for s in sheets] == [p.id for p in answer(job).pieces]
    for sheet in sheets:
        for item in sheet.items:
            if isinstance(item, SheetWords):
                assert item.size >= LEAST_TYPE_MM - 1e-9, item.text
                assert 2 <= item.y <= HIGH_MM, item.text
                assert stringWidth(item.text, FONT, item.size * BY_CAPITALS) <= WIDE_MM - 6, item.text
        for one, other in pairwise(sorted(_beside_the_piece(sheet), key=lambda i: (i.y, i.x))):
            apart = (stringWidth(one.text + other.text, FONT, one.size * BY_CAPITALS)) / 2
            assert one.y != other.y or other.x - one.x >= apart, (sheet.title, one.text, other.text)
    data = PdfReader(io.BytesIO(kind("cards-pdf").make(job, "")))
    assert len(data.pages) == -(-len(sheets) // 2)


def test_a_card_says_both_cuts_its_mirror_image_and_what_lands_where(sandpiper: Job) -> None:
    sheet = card_sheets(sandpiper, "T1L")[0]
    words = "\n".join(i.text for i in sheet.items if isinstance(i, SheetWords))
    assert "T1R is its mirror image" in words
    assert "bar, cut square" in words
    assert all(box in words for box in ("cut", "checked", "measured"))
    piece = answer(sandpiper).piece("T35L")
    drawn = card_sheets(sandpiper, "T35L")[0]
    curves = [np.array(i.points) for i in drawn.items if isinstance(i, Path) and len(i.points) == 41]
    deep = (piece.first.profile.shoulder - piece.first.profile.bar) * DRAWN_HIGH_MM / max(piece.section.shape.size)
    assert np.ptp(curves[0][:, 0]) <= deep + 1e-6
    assert np.ptp(curves[0][:, 1]) == pytest.approx(DRAWN_HIGH_MM)
    inches = card_sheets(typed(sandpiper, "units inch 1/16 lb"), "T35L")[0]
    told = " ".join(i.text for i in inches.items if isinstance(i, SheetWords))
    assert "mm" not in told
    assert '42 3/4"' in told  # the bar, 1086.46 mm
    drilled = typed(sandpiper, "add tube holes tube T35L, at 150, diameter 12, count 9, pitch 18")
    figures = [i.text for i in _beside_the_piece(card_sheets(drilled, "T35L")[0])]
    assert {"133.2", "151.2", "277.2", "F1L"} <= {*figures}  # 150 from J19L, which is 16.8 outside the bar
    with pytest.raises(Problem, match="no pieces to make cards of"):
        card_sheets(Job(), "")
