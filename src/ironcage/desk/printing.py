"""Printing: a paper that is made as PDF, seen page by page before it goes to a printer, at its true size."""

from __future__ import annotations

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QRectF, QSize, QSizeF
from PyQt6.QtGui import QPageLayout, QPageSize, QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPrintSupport import QPrinter, QPrintPreviewDialog
from PyQt6.QtWidgets import QWidget

from ironcage.problem import Problem

POINTS_PER_INCH = 72.0
FINEST_DPI = 300  # of what is sent to the printer: a template's line is 0.2 mm


class Paper:
    """A PDF that can be laid on a printer's pages."""

    def __init__(self, title: str, data: bytes) -> None:
        self.title = title
        self._bytes = QByteArray(data)
        self._buffer = QBuffer(self._bytes)
        self._buffer.open(QIODevice.OpenModeFlag.ReadOnly)
        self.document = QPdfDocument(None)
        self.document.load(self._buffer)
        if self.document.pageCount() < 1:
            raise Problem(f"{title} has no page to print.", where=title)

    @property
    def pages(self) -> int:
        """How many pages there are."""
        return self.document.pageCount()

    def set_up(self, printer: QPrinter) -> None:
        """The size and way round of the first page, to its edges, so that nothing is scaled to fit."""
        size = self.document.pagePointSize(0)
        wide = size.width() > size.height()
        upright = QSizeF(min(size.width(), size.height()), max(size.width(), size.height()))
        page = QPageSize(upright, QPageSize.Unit.Point, "", QPageSize.SizeMatchPolicy.FuzzyOrientationMatch)
        way = QPageLayout.Orientation.Landscape if wide else QPageLayout.Orientation.Portrait
        printer.setFullPage(True)
        printer.setPageLayout(QPageLayout(page, way, QMarginsF(0, 0, 0, 0)))
        printer.setDocName(self.title)

    def lay(self, printer: QPrinter) -> None:
        """Every page, at its true size."""
        painter = QPainter(printer)
        dpi = min(printer.resolution(), FINEST_DPI)
        for n in range(self.pages):
            if n:
                printer.newPage()
            points = self.document.pagePointSize(n)
            pixels = QSize(
                round(points.width() / POINTS_PER_INCH * dpi), round(points.height() / POINTS_PER_INCH * dpi)
            )
            scale = printer.resolution() / POINTS_PER_INCH
            room = QRectF(0, 0, points.width() * scale, points.height() * scale)
            painter.drawImage(room, self.document.render(n, pixels))
        painter.end()


def preview(parent: QWidget, title: str, data: bytes) -> None:
    """Show a PDF's pages as they will be printed, with the system's own way to a printer or a file."""
    paper = Paper(title, data)
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    paper.set_up(printer)
    dialog = QPrintPreviewDialog(printer, parent)
    dialog.setWindowTitle(f"Print: {title}")
    dialog.resize(900, 700)
    dialog.paintRequested.connect(paper.lay)
    dialog.exec()
