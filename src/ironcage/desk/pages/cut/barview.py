"""Bars drawn to scale, each with its pieces in the order in which they are cut and what is left of it."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ironcage.core.answers.cut.bars import SectionBars
from ironcage.core.calc.nest.bars import Bar
from ironcage.core.job.values.buying import Buying
from ironcage.desk.look import LIGHT, Look
from ironcage.units import METRIC, Units

MOST_HIGH, LEAST_HIGH, GAP = 26.0, 13.0, 0.45  # of a bar, px; between two, as a share of one


class BarView(QWidget):
    """The bars of some sections; those for which there is no room are counted below."""

    def __init__(self) -> None:
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(200, 120)
        self.look: Look = LIGHT
        self.sections: tuple[SectionBars, ...] = ()
        self.units: Units = METRIC
        self.saw = Buying()
        self.setAccessibleName("Bars as they are cut")

    def show_look(self, look: Look) -> None:
        """Use other colours."""
        self.look = look
        self.update()

    def show_bars(self, sections: Sequence[SectionBars], units: Units, saw: Buying) -> None:
        """Show the bars of some sections, or nothing."""
        self.sections, self.units, self.saw = tuple(s for s in sections if s.layout and s.layout.bars), units, saw
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setPen(QColor(self.look.ink))
        bars = [bar for s in self.sections if s.layout for bar in s.layout.bars]
        if not bars:
            words = "Bars show here when there are any."
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)
            painter.end()
            return
        line = self.fontMetrics().height() + 4.0
        room = self.height() - line * (len(self.sections) + 1)
        high = min(max(room / (len(bars) * (1 + GAP)), LEAST_HIGH), MOST_HIGH)
        scale = (self.width() - 2) / max(bar.length for bar in bars)
        top, left = 0.0, len(bars)
        for of in self.sections:
            if top + line + high > self.height() - line:
                break
            painter.setPen(QColor(self.look.ink))
            painter.drawText(QRectF(0, top, self.width(), line), of.section)
            top += line
            for bar in of.layout.bars if of.layout else ():
                if top + high > self.height() - line:
                    break
                self._bar(painter, of, bar, QRectF(0.5, top, bar.length * scale, high), scale)
                top, left = top + high * (1 + GAP), left - 1
        if left:
            painter.setPen(QColor(self.look.quiet))
            painter.drawText(QRectF(0, self.height() - line, self.width(), line), f"and {left} more; pick a section")
        painter.end()

    def _bar(self, painter: QPainter, of: SectionBars, bar: Bar, place: QRectF, scale: float) -> None:
        """One bar: pieces with their names where there is room for these, the rest in outline."""
        metrics = self.fontMetrics()
        names = metrics.height() <= place.height() + 4
        painter.setPen(QColor(self.look.quiet))
        painter.drawRect(place)
        x = place.left()
        for n in bar.parts:
            cell = QRectF(x, place.top(), of.lengths[n] * scale, place.height())
            painter.fillRect(cell, QColor(self.look.tube))
            painter.setPen(QColor(self.look.chalk))
            painter.drawLine(cell.topRight(), cell.bottomRight())
            if names and metrics.horizontalAdvance(of.pieces[n]) < cell.width() - 4:
                painter.drawText(cell, Qt.AlignmentFlag.AlignCenter, of.pieces[n])
            x += cell.width() + self.saw.kerf * scale
        rest, left = self.units.length(bar.rest), QRectF(x, place.top(), place.right() - x, place.height())
        if names and bar.rest >= self.saw.least and metrics.horizontalAdvance(rest) < left.width() - 4:
            painter.setPen(QColor(self.look.ink))
            painter.drawText(left, Qt.AlignmentFlag.AlignCenter, rest)
