"""A chart: curves over one axis, bands and strips, named points, the curve of the mark behind, and the reading under
the pointer.

Painted here rather than by a plotting package: a chart follows a joint as it moves, and redrawing a line costs one
millisecond here and twenty with a general package. A right click copies the chart as a picture or its figures as CSV.
"""

import csv
import io
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFocusEvent,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from ironcage.desk.look import LIGHT, Look

_ROUND = (1.0, 2.0, 5.0)
LEFT_PX, RIGHT_PX, TOP_PX = 46, 16, 16
BEFORE_PX = 8  # between a tick's words, the axis and the edge
LEAST_LINES = 5  # of type that a chart is high
TICK_ACROSS_PX, TICK_UP_PX = 80, 28
LEAST_TICKS = 2.5  # heights that there is room for on a low chart
STEPS = 40  # of the arrow keys from one end of the chart to the other

Values = NDArray[np.float64]


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

    def value(self, px: float) -> float:
        """The value at a pixel."""
        return self.least + (px - self.start) / (self.stop - self.start) * (self.most - self.least)

    def ticks(self, apart_px: float) -> Iterator[float]:
        """Round values at least so many pixels apart."""
        low, high = sorted((self.least, self.most))
        raw = abs((high - low) / (self.stop - self.start)) * apart_px
        power = 10.0 ** math.floor(math.log10(raw))
        step = next((r * power for r in _ROUND if r * power >= raw), 10 * power)
        for n in range(math.ceil(low / step), math.floor(high / step) + 1):
            yield n * step


@dataclass(frozen=True)
class Axis:
    """name: with its unit; tick, reading: how a value is written on the axis and where it is read; span: both ends,
    None for what the curves need and a little more; turned: the larger values lie to the left."""

    name: str
    tick: Callable[[float], str]
    reading: Callable[[float], str]
    span: tuple[float, float] | None = None
    turned: bool = False


@dataclass(frozen=True)
class Curve:
    """xs (n,) ascending, ys (n,); dotted: with its points; ghost: of the mark, drawn thin behind."""

    name: str
    xs: Values
    ys: Values
    dotted: bool = False
    ghost: bool = False

    def at(self, x: float) -> float | None:
        """The value at a place, between its points on a straight line; None beyond its ends."""
        return float(np.interp(x, self.xs, self.ys)) if self.xs[0] <= x <= self.xs[-1] else None


@dataclass(frozen=True)
class Band:
    """A stretch of the axis across that is shaded and named."""

    name: str
    start: float
    stop: float


@dataclass(frozen=True)
class Strip:
    """A stretch of the axis up that is shaded and named, between two places across; without a low or a high end it
    goes on."""

    name: str
    low: float | None
    high: float | None
    start: float
    stop: float


@dataclass(frozen=True)
class Spot:
    """A point with words beside it. above: whether the words stand over it; dot: whether it is drawn large."""

    words: str
    x: float
    y: float
    above: bool = True
    dot: bool = False


@dataclass(frozen=True)
class Chart:
    """What a plot shows."""

    across: Axis
    up: Axis
    curves: tuple[Curve, ...]
    bands: tuple[Band, ...] = ()
    spots: tuple[Spot, ...] = ()
    strips: tuple[Strip, ...] = ()

    def spans(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Both ends of both axes."""
        drawn = [c for c in self.curves if c.xs.size]
        return (
            self.across.span or _roomy(np.concatenate([c.xs for c in drawn]), 0.05, 1.0),
            self.up.span or _roomy(np.concatenate([*(c.ys for c in drawn), self._edges()]), 0.15, 0.1),
        )

    def _edges(self) -> Values:
        """Where strips start and end on the axis up."""
        return np.array([v for s in self.strips for v in (s.low, s.high) if v is not None])

    def rows(self) -> list[list[str]]:
        """Its figures as a table with a heading: one place across a row, an empty cell where a curve has none."""
        places = sorted({float(x) for c in self.curves for x in c.xs})
        heading = [self.across.name, *(c.name for c in self.curves)]
        values = [[c.at(x) for c in self.curves] for x in places]
        return [
            heading,
            *(
                [f"{x:.6g}", *("" if v is None else f"{v:.6g}" for v in row)]
                for x, row in zip(places, values, strict=True)
            ),
        ]

    def reading(self, x: float) -> str:
        """What all curves say at a place across."""
        said = [(c, c.at(x)) for c in self.curves]
        known = [f"{c.name} {self.up.reading(v)}" for c, v in said if v is not None]
        return f"{self.across.reading(x)}:  {',  '.join(known)}" if known else ""


def _roomy(values: Values, share: float, least: float) -> tuple[float, float]:
    room = share * float(np.ptp(values)) or least
    return float(values.min()) - room, float(values.max()) + room


def _passes(box: QRectF, curve: Curve, across: Scale, up: Scale) -> bool:
    """Whether a curve passes through a box, in pixels."""
    xs = [across.value(box.left() + n / 4 * box.width()) for n in range(5)]
    heights = [curve.at(x) for x in xs] if curve.xs.size else []
    return any(h is not None and box.top() - 4 <= up.px(h) <= box.bottom() + 4 for h in heights)


def _up_ticks(up: Scale) -> Iterator[float]:
    return up.ticks(min(TICK_UP_PX, (up.start - up.stop) / LEAST_TICKS))


class Plot(QWidget):
    """One chart. The pointer, or the arrow keys once it has been clicked or tabbed to, reads it."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.look: Look = LIGHT
        self.chart: Chart | None = None
        self.read_at: float | None = None  # where across it is being read
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)

    def show_look(self, look: Look) -> None:
        """Use other colours."""
        self.look = look
        self.update()

    def show_chart(self, chart: Chart | None) -> None:
        """Show another chart, or none."""
        self.chart = chart if chart and any(c.xs.size > 1 for c in chart.curves) else None
        self.update()

    def minimumSizeHint(self) -> QSize:
        return QSize(LEFT_PX + TICK_ACROSS_PX, LEAST_LINES * self.fontMetrics().height())

    @property
    def reading(self) -> str:
        """What is read where the pointer or the keys are; empty where they are not on it."""
        return "" if self.chart is None or self.read_at is None else self.chart.reading(self.read_at)

    def copy_picture(self) -> None:
        """Put the chart on the clipboard as it is seen."""
        QApplication.clipboard().setPixmap(self.grab())

    def copy_figures(self) -> None:
        """Put the chart's figures on the clipboard as CSV."""
        if self.chart is not None:
            text = io.StringIO()
            csv.writer(text, lineterminator="\n").writerows(self.chart.rows())
            QApplication.clipboard().setText(text.getvalue())

    # reading

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.chart is not None:
            self._read(self._scales(self.chart)[0].value(event.position().x()))

    def leaveEvent(self, event: QEvent | None) -> None:
        self._read(None)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self._read(None)
        super().focusOutEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None and self.chart is not None:
            scale = self._scales(self.chart)[0]
            middle = scale.px((scale.least + scale.most) / 2)
            here = middle if self.read_at is None else scale.px(self.read_at)
            self._read(scale.value(here + step * abs(scale.stop - scale.start) / STEPS))
        elif event.matches(QKeySequence.StandardKey.Copy):
            self.copy_figures()
        else:
            event.ignore()

    def _read(self, place: float | None) -> None:
        self.read_at = place
        self.update()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is None or self.chart is None:
            return
        menu = QMenu(self)
        menu.addAction("Copy as a picture", self.copy_picture)
        menu.addAction("Copy figures (CSV)", self.copy_figures)
        menu.popup(event.globalPos())

    # painting

    def _scales(self, chart: Chart) -> tuple[Scale, Scale]:
        (least, most), (low, high) = chart.spans()
        if chart.across.turned:
            least, most = most, least
        metrics = self.fontMetrics()
        up = Scale(low, high, self.height() - 2 * metrics.height() - 6, TOP_PX)
        wide = max((metrics.horizontalAdvance(chart.up.tick(v)) for v in _up_ticks(up)), default=0)
        return Scale(least, most, max(LEFT_PX, wide + BEFORE_PX), self.width() - RIGHT_PX), up

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self.look.chalk))
        if self.chart is not None:
            across, up = self._scales(self.chart)
            self._strips(painter, self.chart, across, up)
            self._grid(painter, self.chart, across, up)
            self._curves(painter, self.chart.curves, across, up)
            taken = self._bands(painter, self.chart.bands, across, up)
            for spot in self.chart.spots:
                taken = (*taken, self._spot(painter, spot, across, up, taken))
            if self.read_at is not None:
                self._reading(painter, self.chart, self.read_at, across, up)
        painter.end()

    def _bands(self, p: QPainter, bands: Sequence[Band], across: Scale, up: Scale) -> tuple[QRectF, ...]:
        """Shade and name them; where their names stand."""
        taken = []
        for band in bands:
            start, stop = sorted((across.px(band.start), across.px(band.stop)))
            shade = QColor(self.look.tube_hot)
            shade.setAlpha(50)
            p.fillRect(QRectF(start, TOP_PX, stop - start, up.start - TOP_PX), shade)
            p.setPen(QColor(self.look.oxide))
            wide, high = p.fontMetrics().horizontalAdvance(band.name), p.fontMetrics().height()
            taken.append(QRectF((start + stop - wide) / 2, TOP_PX, wide, high))
            p.drawText(taken[-1], Qt.AlignmentFlag.AlignCenter, band.name)
        return tuple(taken)

    def _strips(self, p: QPainter, chart: Chart, across: Scale, up: Scale) -> None:
        """Shade them, with a line along each end, and name them in a corner that no curve passes."""
        left, right = sorted((across.start, across.stop))
        for strip in chart.strips:
            start, stop = (min(max(across.px(v), left), right) for v in (strip.start, strip.stop))
            low = up.start if strip.low is None else up.px(strip.low)
            high = up.stop if strip.high is None else up.px(strip.high)
            shade = QColor(self.look.blue)
            shade.setAlpha(30)
            p.fillRect(QRectF(start, high, stop - start, low - high), shade)
            p.setPen(QPen(QColor(self.look.blue), 1, Qt.PenStyle.DotLine))
            for end, at in ((strip.low, low), (strip.high, high)):
                if end is not None:
                    p.drawLine(QPointF(start, at), QPointF(stop, at))
            p.setPen(QColor(self.look.quiet))
            wide, tall = p.fontMetrics().horizontalAdvance(strip.name), p.fontMetrics().height()
            corners = [QRectF(x, y, wide, tall) for y in (high, low - tall) for x in (start + 6, stop - 6 - wide)]
            free = (c for c in corners if not any(_passes(c, curve, across, up) for curve in chart.curves))
            p.drawText(next(free, corners[0]), Qt.AlignmentFlag.AlignCenter, strip.name)

    def _grid(self, p: QPainter, chart: Chart, across: Scale, up: Scale) -> None:
        line, ink, metrics = QPen(QColor(self.look.line), 1), QColor(self.look.ink), p.fontMetrics()
        for value in across.ticks(TICK_ACROSS_PX):
            x, text = across.px(value), chart.across.tick(value)
            p.setPen(line)
            p.drawLine(QPointF(x, TOP_PX), QPointF(x, up.start))
            p.setPen(ink)
            p.drawText(QPointF(x - metrics.horizontalAdvance(text) / 2, up.start + metrics.ascent() + 3), text)
        for value in _up_ticks(up):
            y, text = up.px(value), chart.up.tick(value)
            p.setPen(line)
            left = min(across.start, across.stop)
            p.drawLine(QPointF(left, y), QPointF(self.width() - RIGHT_PX, y))
            p.setPen(ink)
            p.drawText(QPointF(left - 5 - metrics.horizontalAdvance(text), y + metrics.ascent() / 3), text)
        p.drawText(QPointF(across.start, self.height() - 5), chart.across.name)

    def _curves(self, p: QPainter, curves: Sequence[Curve], across: Scale, up: Scale) -> None:
        for curve in sorted(curves, key=lambda c: not c.ghost):
            if not curve.xs.size:
                continue
            colour = QColor(self.look.quiet if curve.ghost else self.look.blue)
            spots = [QPointF(across.px(float(x)), up.px(float(y))) for x, y in zip(curve.xs, curve.ys, strict=True)]
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(colour, 1, Qt.PenStyle.DashLine) if curve.ghost else QPen(colour, 2))
            p.drawPolyline(QPolygonF(spots))
            if curve.dotted:
                p.setBrush(colour)
                for spot in spots:
                    p.drawEllipse(spot, 3, 3)
            if curve.ghost:
                last = max(spots, key=lambda s: s.x())
                wide = p.fontMetrics().horizontalAdvance(curve.name)
                p.drawText(QPointF(min(last.x(), self.width() - RIGHT_PX) - wide, last.y() - 4), curve.name)

    def _spot(self, p: QPainter, spot: Spot, across: Scale, up: Scale, taken: Sequence[QRectF]) -> QRectF:
        """A point and its words, clear of words that are there before; where they stand."""
        at = QPointF(across.px(spot.x), up.px(spot.y))
        p.setPen(QColor(self.look.oxide if spot.dot else self.look.ink))
        if spot.dot:
            p.setBrush(QColor(self.look.oxide))
            p.drawEllipse(at, 5, 5)
        metrics = p.fontMetrics()
        wide = metrics.horizontalAdvance(spot.words)
        x = min(max(at.x() + 10 if spot.dot else at.x() - wide / 2, LEFT_PX), self.width() - wide - 2)
        over = QRectF(x, at.y() - 7 - metrics.ascent(), wide, metrics.height())
        under = over.translated(0, metrics.ascent() + 12)
        fits_under = under.bottom() <= up.start + metrics.descent()
        ways = [over, under] if spot.above or not fits_under else [under, over]
        ways += [way.translated(side * (wide + 6), 0) for way in ways for side in (-1, 1)]
        box = next((w for w in ways if w.top() >= 0 and not any(w.intersects(t) for t in taken)), ways[0])
        p.drawText(QPointF(box.left(), box.top() + metrics.ascent()), spot.words)
        return box

    def _reading(self, p: QPainter, chart: Chart, place: float, across: Scale, up: Scale) -> None:
        words = chart.reading(place)
        if not words:
            return
        x, metrics = across.px(place), p.fontMetrics()
        p.setPen(QPen(QColor(self.look.ink), 1, Qt.PenStyle.DotLine))
        p.drawLine(QPointF(x, TOP_PX), QPointF(x, up.start))
        wide = metrics.horizontalAdvance(words)
        left = min(max(x + 6, LEFT_PX), self.width() - wide - 8)
        box = QRectF(left - 3, 1, wide + 6, metrics.height() + 2)
        p.fillRect(box, QColor(self.look.steel))
        p.setPen(QColor(self.look.ink))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
