"""The columns of a list in the room it has: their widths, and what has no room."""

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QHeaderView

from ironcage.desk.widgets.cells import KeyedList
from ironcage.desk.widgets.rowmodel import Column, RowModel
from ironcage.desk.widgets.widths import AWAY, Wish, widths

MOST_PX = 480  # no column is wider by itself
EDGES_PX = 18  # beside the words of a cell
FIRST_ROWS = 60  # are measured


class ColumnRoom:
    """Gives a list's columns their widths. The first `needs` never make way; `wraps` is the number of the column that
    takes what room is left, its words going on below, None where no column does."""

    def __init__(self, shown: KeyedList, model: RowModel, *, needs: int, wraps: int | None) -> None:
        self.list, self.model, self.needs, self.wraps = shown, model, needs, wraps
        count = len(model.columns)
        self._letters = [0] * count  # of the longest words that each column is wide enough for
        self._wishes = [Wish(0, 0, needed=False)] * count
        self._out: frozenset[int] = frozenset()  # columns that are not to be shown
        self.measured = False
        self.whole = False  # whether all columns are shown whole, to be scrolled sideways
        self._by_hand = False  # whether the builder has drawn a column to a width
        header = shown.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        header.setMinimumSectionSize(EDGES_PX)  # so that a column of few letters is as narrow as it is counted
        header.setStretchLastSection(wraps is None)
        if wraps is not None:
            header.setSectionResizeMode(wraps, QHeaderView.ResizeMode.Stretch)
        header.sectionResized.connect(self._resized)

    def leave_out(self, n: int, *, out: bool) -> None:
        """Do not show a column at all, or show it again where there is room."""
        self._out = self._out - {n} if not out else self._out | {n}
        self.share()

    def left_out(self, n: int) -> bool:
        """Whether a column is not to be shown at all."""
        return n in self._out

    def forget(self) -> None:
        """The words, or the size of their type, are new."""
        self.measured = self._by_hand = False

    def measure(self) -> None:
        """What the columns need, from the first rows and the headings. Once there are rows a column only grows, when
        longer words come, so that columns do not jump while numbers change."""
        rows = self.model.rows[:FIRST_ROWS]
        for n, column in enumerate(self.model.columns):
            wide = max([column.heading, column.room, *(column.text(r) for r in rows)], key=len)
            if self.measured and len(wide) <= self._letters[n]:
                continue
            self._letters[n] = len(wide)
            self._wishes[n] = self._wish(n, column, wide)
        self.measured = bool(rows)
        self.share()

    def _wish(self, n: int, column: Column, wide: str) -> Wish:
        """What a column with these longest words would like."""
        metrics = self.list.fontMetrics()
        heading = round(metrics.horizontalAdvance(column.heading) * 1.12) + EDGES_PX
        whole = min(max(metrics.horizontalAdvance(wide) + EDGES_PX, heading), MOST_PX)
        short = max(metrics.averageCharWidth() * column.letters + EDGES_PX, heading)
        return Wish(whole, whole if column.number or column.whole else min(whole, short), needed=n < self.needs)

    def share(self) -> None:
        """Give the columns their widths in the room there is."""
        if self._by_hand:
            return
        room = self.list.viewport().width()
        shared, below = self._shared(room), None
        if AWAY in shared:
            gone = [n for n, c in enumerate(self.model.columns) if c.below and shared[n] == AWAY and n not in self._out]
            below = gone[0] if gone else None
            shared = self._shared(room, below)
        there = [n for n, width in enumerate(shared) if width != AWAY]
        last_grows = self.wraps is None and bool(there) and not self.model.columns[there[-1]].number
        self.list.horizontalHeader().setStretchLastSection(last_grows)  # a number stays beside what it belongs to
        for n, width in enumerate(shared):
            self.list.setColumnHidden(n, width == AWAY)
            if width != AWAY and n != self.wraps:
                self.list.setColumnWidth(n, width)
        if below != self.list.below:
            self.list.show_below(below)

    def _shared(self, room: int, below: int | None = None) -> Sequence[int]:
        """The width of each column, pixels. below: one that takes no room, for its words stand on a second line."""
        none = Wish(0, 0, needed=False)
        wishes = [none if n in self._out or n == below else w for n, w in enumerate(self._wishes)]
        return [w.whole for w in wishes] if self.whole else widths(wishes, room)

    def show_whole(self, *, on: bool) -> None:
        """Show all columns whole, to be scrolled sideways, or as many as there is room for."""
        self.whole, self._by_hand = on, False
        self.share()

    def _away(self) -> list[int]:
        """The columns that have no room."""
        return [n for n, _ in enumerate(self.model.columns) if self.list.isColumnHidden(n) and n not in self._out]

    def _resized(self, _column: int, _before: int, _after: int) -> None:
        """A column that is drawn to a width by the mouse stays so."""
        drawn = QGuiApplication.mouseButtons() & Qt.MouseButton.LeftButton
        self._by_hand = self._by_hand or bool(drawn and self.list.horizontalHeader().underMouse())

    def rest(self, row: Any | None) -> str:
        """What a row says that has no room in the list; without a row, the headings of those columns."""
        away = [self.model.columns[n] for n in self._away() if n != self.list.below]
        if row is None:
            return f"F12 shows {', '.join(c.name for c in away)} too." if away else ""
        seen = [n for n, _ in enumerate(self.model.columns) if not self.list.isColumnHidden(n)]
        cut = [c for n in seen if self._is_cut(n, (c := self.model.columns[n]).text(row))]
        return " · ".join(f"{c.name}: {c.text(row) or '–'}" for c in (*cut, *away))

    def _is_cut(self, n: int, text: str) -> bool:
        """Whether words are shortened in a column."""
        need = self.list.fontMetrics().horizontalAdvance(text) + EDGES_PX // 2
        return n != self.wraps and need > self.list.columnWidth(n)
