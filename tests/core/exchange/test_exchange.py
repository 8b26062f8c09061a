"""What is printed and written, measured as the builder would: with a rule, by wrapping it, by opening it elsewhere."""

import csv
import io
import math
import re
import xml.etree.ElementTree as ET

import ezdxf
import numpy as np
import pytest
from pypdf import PdfReader

from ironcage.core.answers.cut import pieces
from ironcage.core.answers.jig import stands
from ironcage.core.exchange import lists, pdf
from ironcage.core.exchange.drawing import Path, Sheet, SheetCircle
from ironcage.core.exchange.dxf import to_dxf
from ironcage.core.exchange.kinds import ARM, AXLE, END, FITTING, FOLDED, KINDS, PATTERN, PIPE, STRAIGHT, TUBE, kind
from ironcage.core.exchange.plan import plan
from ironcage.core.exchange.svg import to_svg
from ironcage.core.exchange.templates import MARK_WORD_MM, PAPER_MM, template, templates
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample


def printed(sheet: Sheet) -> tuple[np.ndarray, float, list[np.ndarray]]:
    """From the SVG alone: the cut line (n, 2), the x of the index mark, and all lines."""
    root = ET.fromstring(to_svg(sheet))
    assert root.get("width") == f"{sheet.width:.3f}mm"
    lines = [
        np.array([[float(v) for v in p.split(",")] for p in e.get("points", "").split()])
        for e in root.iter()
        if e.tag.endswith("polyline")
    ]
    words = {e.text: float(e.get("x", "nan")) for e in root.iter() if e.tag.endswith("text")}
    curve = max(lines, key=len)
    curve = np.column_stack([curve[:, 0], sheet.height - curve[:, 1]])
    return curve, words["INDEX"] - MARK_WORD_MM, lines


@pytest.mark.parametrize("end", ["first", "second"])
@pytest.mark.parametrize("receiver", ["38 x 2 round", "40 x 60 x 3"])
def test_a_template_wrapped_round_its_tube_lies_on_what_it_lands_on(receiver: str, end: str) -> None:
    """Roll the printed sheet round the tube, print side out, index on the mark: every point of the cut line must lie
    on the receiver's surface, or just outside where the inner wall governs. A sheet printed the wrong way round
    fails."""
    job = Job()
    for line in ("joint 0 0 300", "joint -1000 0 300", "joint -500 0 300", "joint -300 220 640 alone"):
        job = understand(line, job).job
    for a, b in (("J2", "J3"), ("J3", "J1")):
        job = understand(f"tube {a} {b} {receiver}", job).job
    job = understand("roll 20", job, ("T1", "T2")).job
    a, b = ("J3", "J4") if end == "first" else ("J4", "J3")
    job = edits.add_tube(job, a, b, "20 x 1.5 round", "Drawn mild steel tube")
    piece = pieces.answer(job).piece("T3")
    here = piece.first if end == "first" else piece.second
    curve, index_x, _ = printed(template(job, piece, here))
    at = np.array(job.joint("J3").place)
    into = np.array(job.joint("J4").place) - at
    into /= np.linalg.norm(into)
    rail = np.array([1.0, 0, 0])
    mark = rail * np.sign(rail @ into) - (rail @ into) * np.sign(rail @ into) * into
    mark /= np.linalg.norm(mark)
    girth = math.pi * (20 + PAPER_MM)
    turn = (curve[:, 0] - index_x) / girth * 2 * math.pi
    side = np.cross(into, mark)  # to the right of the mark, seen from outside with the body up
    # the sheet's zero in height is not printed, so find it from one number that is: the shoulder
    heights = (
        curve[:, 1]
        - curve[:, 1].max()
        + (piece.centre - piece.shoulder - (piece.second if end == "first" else piece.first).profile.shoulder)
    )
    points = at + heights[:, None] * into + 10 * (np.cos(turn)[:, None] * mark + np.sin(turn)[:, None] * side)
    local = points - at
    if receiver.endswith("round"):
        out = np.hypot(local[:, 1], local[:, 2]) - 19
    else:
        c, s = math.cos(math.radians(20)), math.sin(math.radians(20))
        y, z = c * local[:, 1] + s * local[:, 2], -s * local[:, 1] + c * local[:, 2]
        y, z = np.abs(y) - 30 + 4.5, np.abs(z) - 20 + 4.5  # 60 x 40 with corners of one and a half walls
        out = np.where(np.minimum(y, z) > 0, np.hypot(y, z), np.maximum(y, z)) - 4.5
    assert out.min() > -0.05
    assert np.sort(out)[: len(out) // 10].max() < 0.05  # part of the line is the outer wall itself
    assert out.max() < 2.0


def test_check_distances_and_scale_bar_are_true(sandpiper: Job) -> None:
    piece = pieces.answer(sandpiper).piece("T35L")
    sheet = template(sandpiper, piece, piece.first)
    curve, _, lines = printed(sheet)
    words = " ".join(getattr(i, "text", "") for i in sheet.items)
    girth = float(re.search(r"around the tube ([\d.]+)", words)[1])
    depth = float(re.search(r"longest to deepest point ([\d.]+)", words)[1])
    assert np.ptp(curve[:, 0]) == pytest.approx(girth, abs=0.06)
    assert girth == pytest.approx(math.pi * 30.1, abs=0.06)
    assert np.ptp(curve[:, 1]) == pytest.approx(depth, abs=0.06)
    assert any(
        np.ptp(line[:, 0]) == pytest.approx(100) and np.ptp(line[:, 1]) == pytest.approx(0, abs=1e-9) for line in lines
    )
    assert "100 mm when printed at 100 %" in words
    assert "Eye protection" in words
    assert all(0 < i.y < sheet.height - i.size for i in sheet.items if hasattr(i, "text"))


def test_pdf_is_at_true_scale(sandpiper: Job) -> None:
    """A bare sheet with one 100 mm line: its coordinates in the PDF are 100 mm of points apart."""
    sheet = Sheet("bar", 120, 30)
    sheet.line(10, 10, 110, 10)
    page = PdfReader(io.BytesIO(pdf.to_pdf([sheet], "bar"))).pages[0]
    assert float(page.mediabox.width) == pytest.approx(210 * 72 / 25.4, abs=0.01)
    scales, ends = [], []

    def see(operator, arguments, matrix, text_matrix) -> None:
        if operator in (b"m", b"l"):
            x, y = (float(v) for v in arguments)
            ends.append((matrix[0] * x + matrix[2] * y + matrix[4], matrix[1] * x + matrix[3] * y + matrix[5]))
            scales.append(matrix[0])

    page.extract_text(visitor_operand_before=see)
    assert math.dist(ends[0], ends[1]) == pytest.approx(100 * 72 / 25.4, abs=0.01)
    made = PdfReader(io.BytesIO(pdf.to_pdf(templates(sandpiper, pieces.answer(sandpiper))[:6], "some")))
    assert "T4L at J20L" in made.pages[0].extract_text() + made.pages[1].extract_text()


def test_a_plan_larger_than_the_paper_is_tiled_to_meet_edge_to_edge(sandpiper: Job) -> None:
    sheet = plan(sandpiper, stands.answer(sandpiper))
    across, up = pdf.tiles(sheet, "A3")
    reader = PdfReader(io.BytesIO(pdf.to_pdf([sheet], "plan", "A3")))
    told = [page.extract_text() for page in reader.pages]
    assert len(told) < across * up
    assert all(any(item.text in text for text in told) for item in sheet.items if hasattr(item, "text"))
    assert across * (297 - 16) >= sheet.width > (across - 1) * (297 - 16)
    with pytest.raises(Problem, match=r"no paper ‘A9’. There is A4, A3, Letter"):
        pdf.to_pdf([sheet], "plan", "A9")


def test_pages_of_a_plan_with_nothing_on_them_are_not_printed() -> None:
    """Nine fields of A4, 194 x 281 mm each. The table's edge alone makes no page; a ring round the middle field
    leaves that one out."""

    def printed(sheet: Sheet) -> set[tuple[int, int]]:
        pages = PdfReader(io.BytesIO(pdf.to_pdf([sheet], "bare"))).pages
        found = (re.search(r"row (\d) of 3, column (\d) of 3", page.extract_text()) for page in pages)
        return {(int(m[1]), int(m[2])) for m in found}

    sheet = Sheet("bare", 582, 843)
    sheet.box(0, 0, 582, 843, "table")
    sheet.line(10, 200, 100, 400)
    sheet.words(570, 830, "J1L", align="right")
    assert printed(sheet) == {(1, 1), (2, 1), (3, 3)}
    sheet.items = [SheetCircle(291, 421.5, 190)]
    assert printed(sheet) == {(r, c) for r in (1, 2, 3) for c in (1, 2, 3)} - {(2, 2)}


def test_plan_as_dxf_has_every_stand_where_the_list_says(sandpiper: Job) -> None:
    made = stands.answer(sandpiper)
    document = ezdxf.read(io.StringIO(to_dxf(plan(sandpiper, made)).decode("utf-8")))
    assert document.units == ezdxf.units.MM
    assert not document.audit().errors
    circles = sorted(
        (round(c.dxf.center.x, 3), round(c.dxf.center.y, 3)) for c in document.modelspace().query("CIRCLE")
    )
    assert circles == sorted((round(s.x, 3), round(s.y, 3)) for s in made.stands)
    texts = {t.dxf.text for t in document.modelspace().query("TEXT")}
    assert {s.joint for s in made.stands} <= texts


def test_lists_open_in_a_spreadsheet_in_the_builders_unit(sandpiper: Job) -> None:
    rows = list(csv.DictReader(io.StringIO(lists.cut_csv(sandpiper, pieces.answer(sandpiper)).decode("utf-8"))))
    piece = pieces.answer(sandpiper).piece("T35L")
    row = next(r for r in rows if r["piece"] == "T35L")
    assert float(row["saddle tip mm"]) == pytest.approx(piece.saddle_tip, abs=0.005)
    inches = understand("units inch", sandpiper).job
    row = next(
        r
        for r in csv.DictReader(io.StringIO(lists.cut_csv(inches, pieces.answer(inches)).decode("utf-8")))
        if r["piece"] == "T35L"
    )
    assert float(row["template tip in"]) == pytest.approx(piece.template_tip / 25.4, abs=5e-5)
    shown = understand("datum firewall", sandpiper).job
    first = next(csv.DictReader(io.StringIO(lists.joint_csv(shown).decode("utf-8"))))
    assert float(first["x mm from firewall"]) == pytest.approx(shown.joints[0].x + 1620)


def test_every_kind_is_made_and_refuses_in_words(sandpiper: Job) -> None:
    job = understand("pattern Hub 1-2 100, 2-3 100, 1-3 100 dia 10", sandpiper).job
    job = understand("add panel joints J9L J9R J12R J12L, thickness 1", job).job
    job = understand("turned bush Arm bush od 25 press length 40", job).job
    job = understand(
        "place exhaust Duct pipe 60 clr 90 mitres 3 through -1900 0 900; -2200 0 900; -2200 0 500", job
    ).job
    top = np.array([(-800.0, 300.0, 900.0), (-800.0, -300.0, 900.0)])
    job = edits.shape(job, "T8", top, 100.0)
    for k in KINDS:
        word = {
            END: "T35L:J19L",
            TUBE: "T8",
            FOLDED: "T1L",
            PATTERN: "Hub",
            FITTING: "F1",
            STRAIGHT: "T35L",
            PIPE: "Duct",
            ARM: "front lower",
            AXLE: "front",
        }.get(k.takes, "")
        assert len(k.make(sample("fell-litter") if k.takes == FOLDED else job, word)) > 100, k.name
    with pytest.raises(Problem, match=r"The nearest is plan-"):
        kind("plan-pfd")
    with pytest.raises(Problem, match="No joint stands on the table"):
        kind("plan-dxf").make(understand("joint 0 250 300", Job()).job, "")
    with pytest.raises(Problem, match="cut square at J17L and needs no template"):
        kind("template-svg").make(sandpiper, "T1L:J17L")
    with pytest.raises(Problem, match=r"T35L has no end ‘J1L’. It ends at J19L and J19R"):
        kind("template-svg").make(sandpiper, "T35L:J1L")
    assert isinstance(plan(sandpiper, stands.answer(sandpiper)).items[0], Path)


def test_tapes_that_stay_are_on_the_plan_and_in_the_build_book(sandpiper: Job) -> None:
    kept = understand("tape J12L J12R stays", sandpiper).job
    plain, taped = (to_dxf(plan(job, stands.answer(job))).decode("utf-8") for job in (sandpiper, kept))
    assert "860.0 mm" in taped
    assert "860.0 mm" not in plain
    book = PdfReader(io.BytesIO(kind("book-pdf").make(kept, "")))
    assert "860.0 mm" in "\n".join(page.extract_text() for page in book.pages)
    gone = edits.delete(kept, ["J12L"])
    assert "860.0 mm" not in to_dxf(plan(gone, stands.answer(gone))).decode("utf-8")
