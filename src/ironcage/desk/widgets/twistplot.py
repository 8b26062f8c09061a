"""Twist against length: one line, the softest bay shaded, the ends written out.

Painted here rather than by a plotting package: it follows a joint as it moves, and redrawing one line must cost
a millisecond, not the twenty that a general plot takes.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ironcage.core.answers.prove import Station
from ironcage.desk.look import LIGHT, Look
from ironcage.units import METRIC, Units
from ironcage.units.tables import INCH

_ROUND = (1.0, 2.0, 5.0)
LEFT_PX, RIGHT_PX, TOP_PX, FOOT_PX = 46, 16, 16, 20


@dataclass(frozen=True)
class Scale:
    """A run of values along an axis: `least` lies at pixel `start`, `most` at pixel `stop`."""

    least: float
    most: float
    start: float
    stop: float

    def px(self, value: float) -> float:
        """The pixel of a value."""
        return self.start + (value - self.least) / (self.most - self.least) * (self.stop - self.start)

    def ticks(self, apart_px: float) -> Iterator[float]:
        """Round values at least so many pixels apart."""
        raw = abs((self.most - self.least) / (self.stop - self.start)) * apart_px
        power = 10.0 ** math.floor(math.log10(raw))
        step = next((r * power for r in _ROUND if r * power >= raw), 10 * power)
        for n in range(math.ceil(self.least / step), math.floor(self.most / step) + 1):
            yield n * step


class TwistPlot(QWidget):
    """Twist in degrees under 1,000 N·m at each station; nose to the left, as in the side view."""

    def __init__(self) -> None:
        super().__init__()
        self.look: Look = LIGHT
        self.setMinimumHeight(90)
        self.setAccessibleName("Twist along the frame")
        self.stations: tuple[Station, ...] = ()
        self.soft: tuple[Station, Station] | None = None
        self.units: Units = METRIC

    def show_look(self, look: Look) -> None:
        """Use other colours."""
        self.look = look
        self.update()

    def show_twist(self, stations: tuple[Station, ...], soft: tuple[Station, Station] | None, units: Units) -> None:
        """Show another result."""
        self.stations, self.soft, self.units = stations, soft, units
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self.look.chalk))
        if len(self.stations) > 1:
            self._paint(painter)
        painter.end()

    def _paint(self, p: QPainter) -> None:
        look = self.look
        unit = INCH if self.units.length_unit == "inch" else 1.0
        xs, ys = [s.x / unit for s in self.stations], [math.degrees(s.twist) for s in self.stations]
        room_x, room_y = 0.05 * (max(xs) - min(xs)) or 1.0, 0.15 * (max(ys) - min(ys)) or 0.1
        foot = self.height() - FOOT_PX - p.fontMetrics().height()
        across = Scale(max(xs) + room_x, min(xs) - room_x, LEFT_PX, self.width() - RIGHT_PX)
        up = Scale(min(ys) - room_y, max(ys) + room_y, foot, TOP_PX)
        self._bay(p, across, unit, foot)
        self._grid(p, across, up, foot, "in" if unit != 1.0 else "mm")
        spots = [QPointF(across.px(x), up.px(y)) for x, y in zip(xs, ys, strict=True)]
        p.setPen(QPen(QColor(look.blue), 2))
        p.drawPolyline(QPolygonF(spots))
        p.setBrush(QColor(look.blue))
        for spot in spots:
            p.drawEllipse(spot, 3, 3)
        p.setPen(QColor(look.ink))
        for n, above in ((ys.index(max(ys)), True), (ys.index(min(ys)), False)):
            text = f"{ys[n]:.3f}°"
            wide = p.fontMetrics().horizontalAdvance(text)
            x = min(max(spots[n].x() - wide / 2, LEFT_PX), self.width() - wide - 2)
            p.drawText(QPointF(x, spots[n].y() + (-7 if above else p.fontMetrics().ascent() + 5)), text)

    def _bay(self, p: QPainter, across: Scale, unit: float, foot: float) -> None:
        """The softest bay, shaded and named."""
        if self.soft is None:
            return
        start, stop = sorted(across.px(s.x / unit) for s in self.soft)
        shade = QColor(self.look.tube_hot)
        shade.setAlpha(50)
        p.fillRect(QRectF(start, TOP_PX, stop - start, foot - TOP_PX), shade)
        p.setPen(QColor(self.look.oxide))
        p.drawText(QRectF(start - 60, TOP_PX, stop - start + 120, 18), Qt.AlignmentFlag.AlignCenter, "softest")

    def _grid(self, p: QPainter, across: Scale, up: Scale, foot: float, unit: str) -> None:
        line, ink = QPen(QColor(self.look.line), 1), QColor(self.look.ink)
        metrics = p.fontMetrics()
        reverse = Scale(across.most, across.least, across.stop, across.start)  # ticks count upwards
        for value in reverse.ticks(80):
            x = across.px(value)
            p.setPen(line)
            p.drawLine(QPointF(x, TOP_PX), QPointF(x, foot))
            p.setPen(ink)
            text = f"{value:g}"
            p.drawText(QPointF(x - metrics.horizontalAdvance(text) / 2, foot + metrics.ascent() + 3), text)
        for value in up.ticks(28):
            y = up.px(value)
            p.setPen(line)
            p.drawLine(QPointF(LEFT_PX, y), QPointF(self.width() - RIGHT_PX, y))
            p.setPen(ink)
            text = f"{value:g}°"
            p.drawText(QPointF(LEFT_PX - 5 - metrics.horizontalAdvance(text), y + metrics.ascent() / 3), text)
        p.drawText(QPointF(LEFT_PX, self.height() - 5), f"x, {unit}")
