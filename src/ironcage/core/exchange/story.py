"""A document on A4 as it is written from top to bottom: headings, paragraphs, tables and photos, then the PDF."""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

from ironcage.units import Units

MARGIN_MM, PHOTO_WIDE_MM, PHOTO_HIGH_MM = 15.0, 80.0, 60.0
Row = Sequence[str]


class Story:
    """A document as it grows, every sentence in the job's units."""

    def __init__(self, units: Units) -> None:
        from reportlab.lib.styles import ParagraphStyle

        self.units = units
        self.flow: list[Any] = []
        self._named = ""
        self._plain = ParagraphStyle("plain", fontName="Helvetica", fontSize=8.5, leading=11, spaceAfter=3)
        self._head = ParagraphStyle(
            "head", fontName="Helvetica-Bold", fontSize=11, leading=14, spaceBefore=8, spaceAfter=3, keepWithNext=1
        )
        self._title = ParagraphStyle("title", fontName="Helvetica-Bold", fontSize=15, leading=19, spaceAfter=5)

    def _add(self, text: str, style: Any) -> None:
        from reportlab.platypus import Paragraph

        self.flow.append(Paragraph(escape(self.units.say(text)), style))

    def title(self, text: str) -> None:
        """The document's title, which its file carries too."""
        self._named = text
        self._add(text, self._title)

    def heading(self, text: str) -> None:
        """A heading of a section."""
        self._add(text, self._head)

    def words(self, text: str) -> None:
        """A paragraph."""
        self._add(text, self._plain)

    def table(self, head: Row, rows: Iterable[Row]) -> None:
        """A table of short words, its head again on every page."""
        from reportlab.lib.colors import HexColor
        from reportlab.platypus import LongTable, TableStyle

        made = LongTable([[self.units.say(cell) for cell in row] for row in (head, *rows)], repeatRows=1, hAlign="LEFT")
        made.setStyle(
            TableStyle(
                [
                    ("FONT", (0, 0), (-1, -1), "Helvetica", 7.5),
                    ("FONT", (0, 0), (-1, 0), "Helvetica-Bold", 7.5),
                    ("LINEBELOW", (0, 0), (-1, 0), 0.6, HexColor("#333333")),
                    ("TOPPADDING", (0, 0), (-1, -1), 1),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 1),
                    ("LEFTPADDING", (0, 0), (-1, -1), 3),
                    ("RIGHTPADDING", (0, 0), (-1, -1), 6),
                ]
            )
        )
        self.flow.append(made)

    def photo(self, path: Path) -> None:
        """A photo from a file, in its own proportions."""
        from reportlab.lib.units import mm
        from reportlab.platypus import Image

        wide, high = PHOTO_WIDE_MM * mm, PHOTO_HIGH_MM * mm
        self.flow.append(Image(str(path), width=wide, height=high, kind="proportional", hAlign="LEFT"))

    def pdf(self, foot: str, caution: str) -> bytes:
        """The document as PDF, A4. foot: what stands under every page, with its number and a word of caution."""
        from reportlab.lib.pagesizes import A4
        from reportlab.lib.units import mm
        from reportlab.platypus import SimpleDocTemplate

        def below(canvas: Any, page: Any) -> None:
            canvas.setFont("Helvetica", 7)
            canvas.drawString(page.leftMargin, 20, f"{foot} · page {page.page} · {caution}")

        stream, edge = io.BytesIO(), MARGIN_MM * mm
        page = SimpleDocTemplate(
            stream,
            pagesize=A4,
            leftMargin=edge,
            rightMargin=edge,
            topMargin=edge,
            bottomMargin=edge,
            title=self._named,
            invariant=1,
        )
        page.build(self.flow, onFirstPage=below, onLaterPages=below)
        return stream.getvalue()
