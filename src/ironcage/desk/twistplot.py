"""Twist against length: one line, the softest bay shaded, the ends written out."""

import math
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ironcage.core.answers.prove import Station
from ironcage.desk.look import LIGHT, Look, text_font
from ironcage.units import Units
from ironcage.units.tables import INCH


class TwistPlot(QWidget):
    """The plot, made when it first has something to show."""

    def __init__(self) -> None:
        super().__init__()
        self.look: Look = LIGHT
        self.setMinimumHeight(90)
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(0, 0, 0, 0)
        self._plot: Any = None
        self._shown: tuple[tuple[Station, ...], tuple[Station, Station] | None, Units] | None = None

    def show_look(self, look: Look) -> None:
        """Use other colours."""
        self.look = look
        if self._shown and self._plot is not None:
            self.show_twist(*self._shown)

    def show_twist(self, stations: tuple[Station, ...], soft: tuple[Station, Station] | None, units: Units) -> None:
        """Plot twist in degrees under 1,000 N·m at each station; nose to the left, as in the side view."""
        self._shown = stations, soft, units
        if self._plot is None:
            if not stations:
                return
            self._make()
        import pyqtgraph as pg

        plot, look = self._plot, self.look
        plot.clear()
        plot.setBackground(look.chalk)
        item = plot.getPlotItem()
        unit = INCH if units.length_unit == "inch" else 1.0
        for side, words in (("bottom", f"x, {'in' if unit != 1 else 'mm'}"), ("left", "twist, °")):
            axis = item.getAxis(side)
            axis.enableAutoSIPrefix(False)
            axis.setPen(look.line)
            axis.setTextPen(look.ink)
            axis.setStyle(tickFont=text_font(8))
            axis.setLabel(words, color=look.ink, **{"font-size": "9pt"})
        if not stations:
            return
        xs, ys = [s.x / unit for s in stations], [math.degrees(s.twist) for s in stations]
        if soft:
            band = pg.LinearRegionItem(
                (soft[1].x / unit, soft[0].x / unit),
                movable=False,
                brush=QColor(*_rgba(look.tube_hot, 50)),
                pen=pg.mkPen(None),
            )
            plot.addItem(band)
            label = pg.TextItem("softest", color=look.oxide, anchor=(0.5, 0))
            label.setPos((soft[0].x + soft[1].x) / 2 / unit, max(ys))
            plot.addItem(label)
        plot.plot(
            xs, ys, pen=pg.mkPen(look.blue, width=2), symbol="o", symbolSize=6, symbolBrush=look.blue, symbolPen=None
        )
        for n in (ys.index(max(ys)), ys.index(min(ys))):
            text = pg.TextItem(f"{ys[n]:.3f}°", color=look.ink, anchor=(0.5, 1.1 if ys[n] == min(ys) else -0.1))
            text.setPos(xs[n], ys[n])
            plot.addItem(text)

    def _make(self) -> None:
        import pyqtgraph as pg

        self._plot = pg.PlotWidget()
        self._plot.setMouseEnabled(False, False)
        self._plot.hideButtons()
        self._plot.setMenuEnabled(False)
        self._plot.getPlotItem().invertX(True)
        self._plot.showGrid(x=True, y=True, alpha=0.2)
        self._plot.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._plot.getPlotItem().getViewBox().setDefaultPadding(0.12)
        self._box.addWidget(self._plot)


def _rgba(colour: str, alpha: int) -> tuple[int, int, int, int]:
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16), alpha
