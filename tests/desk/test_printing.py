"""What is printed: every page of a paper, at its true size, seen before it is sent."""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QSize, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPrintSupport import QPrinter, QPrintPreviewDialog, QPrintPreviewWidget
from PyQt6.QtWidgets import QMenu

from ironcage.core.exchange.kinds import kind
from ironcage.core.job.values.model import Job
from ironcage.desk.menus import PrintMenu
from ironcage.desk.printing import Paper
from ironcage.problem import Problem
from ironcage.samples import sample
from tests.core.lines import typed

DPI = 100


def ink(document: QPdfDocument, page: int) -> np.ndarray:
    """The box (left, top, right, bottom) round everything dark on a page, mm."""
    points = document.pagePointSize(page)
    image = document.render(page, QSize(round(points.width() / 72 * DPI), round(points.height() / 72 * DPI)))
    image = image.convertToFormat(QImage.Format.Format_RGBA8888)
    held = image.bits()
    held.setsize(image.sizeInBytes())
    pixels = np.frombuffer(held, np.uint8).reshape(image.height(), image.width(), 4)
    dark = (pixels[..., 3] > 100) & (pixels[..., :3].max(axis=2) < 128)
    rows, columns = np.flatnonzero(dark.any(axis=1)), np.flatnonzero(dark.any(axis=0))
    return np.array([columns[0], rows[0], columns[-1], rows[-1]]) / DPI * 25.4


@pytest.mark.parametrize(("name", "word"), [("template-pdf", "T35L:J19L"), ("report-pdf", ""), ("plan-pdf", "A4")])
def test_a_paper_comes_out_of_the_printer_as_large_as_it_is_drawn(qapp, tmp_path, name: str, word: str) -> None:
    rail = ("joint 0 100 250", "joint -250 100 250", "tube J1L J2L 30 x 2")
    table = ("table length 420", "table width 320", "table x -330", "table y -160")  # a few sheets do as well as fifty
    plan = typed(Job(), *rail, "J1L J2L", "stand", *table)
    job = {"plan-pdf": lambda: plan, "report-pdf": lambda: sample("skerry")}.get(name, lambda: sample("sandpiper"))()
    data = kind(name).make(job, word)
    paper, out = Paper(name, data), tmp_path / "printed.pdf"
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(out))
    paper.set_up(printer)
    paper.lay(printer)
    printed = QPdfDocument(None)
    printed.load(str(out))
    assert printed.pageCount() == paper.pages
    for page in range(min(paper.pages, 2)):
        size, asked = printed.pagePointSize(page), paper.document.pagePointSize(page)
        assert (size.width(), size.height()) == pytest.approx((asked.width(), asked.height()), abs=1.5)
        assert ink(printed, page) == pytest.approx(ink(paper.document, page), abs=0.6)


def test_what_is_no_paper_is_refused(qapp) -> None:
    with pytest.raises(Problem, match="Build book has no page to print"):
        Paper("Build book", b"not a PDF")


def test_cut_shows_a_template_as_it_will_be_printed_and_ctrl_p_offers_every_paper(drive, monkeypatch) -> None:
    seen: list[tuple[str, int]] = []

    def look(dialog: QPrintPreviewDialog) -> int:
        shown = dialog.findChild(QPrintPreviewWidget)
        shown.updatePreview()
        seen.append((dialog.windowTitle(), shown.pageCount()))
        return 0

    monkeypatch.setattr(QPrintPreviewDialog, "exec", look)
    drive.start(sample("sandpiper"))
    window = drive.window
    window.go("cut")
    drive.settle()
    window.page.pieces.pick(next(p for p in window.page.pieces.model.rows if p.id == "T35L"))
    drive.settle()
    window.page.ones.actions()[0].trigger()
    drive.qtbot.waitUntil(lambda: bool(seen), timeout=60_000)
    assert seen == [("Print: One wrap template at 1:1, to print", 1)]

    window.menu.printing.fill()
    papers = [a.text() for a in window.menu.printing.actions()]
    assert "Build book…" in papers
    assert "All wrap templates at 1:1…" in papers
    assert window.qactions["print_paper"].shortcut().toString() == "Ctrl+P"


def test_from_the_first_joint_to_a_printed_card_by_keys_alone(drive, monkeypatch) -> None:
    """A joint, a rail, a brace onto it; Ctrl+P, the cards of all, down the menu to them, Enter."""
    seen: list[str] = []

    def look(dialog: QPrintPreviewDialog) -> int:
        seen.append(dialog.windowTitle())
        return 0

    def by_keys(menu: QMenu, _: object) -> None:
        menu.popup(menu.parentWidget().mapToGlobal(QPoint(0, 0)))  # which fills it
        words = [a.text() for a in menu.actions()]
        for _ in range(words.index("A card for each piece, for the bench…") + 1):
            drive.qtbot.keyClick(menu, Qt.Key.Key_Down)
        assert menu.activeAction().text() == "A card for each piece, for the bench…"
        drive.qtbot.keyClick(menu, Qt.Key.Key_Return)

    monkeypatch.setattr(QPrintPreviewDialog, "exec", look)
    monkeypatch.setattr(PrintMenu, "exec", by_keys)
    rail = ("joint 0 250 300", "joint -900 250 300", "tube J1L J2L 38 x 2", "split")
    for line in (*rail, "joint -450 250 620", "tube J3L J4L 25 x 1.5"):
        drive.type(line)
        drive.settle()
    drive.key(Qt.Key.Key_6)
    drive.settle()
    assert [p.id for p in drive.window.page.pieces.model.rows] == ["T1L", "T1R", "T3L", "T3R"]
    drive.window.table.setFocus()
    drive.key(Qt.Key.Key_P, drive.window, Qt.KeyboardModifier.ControlModifier)
    drive.qtbot.waitUntil(lambda: bool(seen), timeout=60_000)
    assert seen == ["Print: A card for each piece, for the bench"]
