"""A list of things with columns, some of which can be typed into: the widget."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QItemSelection, QItemSelectionModel, QModelIndex, QPoint, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QShowEvent
from PyQt6.QtWidgets import QMenu, QVBoxLayout, QWidget

from ironcage.core.job.text import Done
from ironcage.core.job.values.model import Job
from ironcage.desk.look import Look
from ironcage.desk.widgets.cells import CellDelegate, KeyedList, Sought
from ironcage.desk.widgets.columnroom import ColumnRoom
from ironcage.desk.widgets.rowmodel import Column, Row, RowModel, TypedModel
from ironcage.desk.widgets.rows import as_csv, cells_of, worth
from ironcage.desk.words import Words
from ironcage.problem import Problem


class Grid(QWidget):
    """Signal: chose(keys) when the builder picks rows.

    `run` carries out the edit of a changed cell and may raise Problem, which is shown under the list. `wraps` names a
    column by number that takes what room is left, its words going on below: for short lists of sentences. Columns stand
    in the order of their worth: where there is no room for all, words are shortened in the middle, then the last
    columns make way, down to the first `needs`; what the picked row says there is read under the list.
    """

    chose = pyqtSignal(tuple)

    def __init__(
        self,
        name: str,
        columns: Sequence[Column],
        key: Callable[[Row], str],
        run: Callable[[Callable[[Job], Done]], None] | None = None,
        *,
        wraps: int | None = None,
        needs: int = 3,
    ) -> None:
        super().__init__()
        self.model = (TypedModel if any(c.change for c in columns) else RowModel)(columns, self)
        self.model.key = key
        self.key, self.run = key, run
        self.list = KeyedList(name, self.model, wraps=wraps is not None)
        self.list.setItemDelegate(CellDelegate(self))
        self.room = ColumnRoom(self.list, self.model, needs=needs, wraps=wraps)
        self.refusal, self.rest = Words(name="refused", wrap=True), Words(name="quiet", wrap=True)
        self.finding = Sought(name)
        self.nothing = Words(name="quiet", wrap=True)  # what to do where there is no row
        self.nothing.setAlignment(Qt.AlignmentFlag.AlignCenter)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        for part in (self.finding, self.nothing, self.list, self.rest, self.refusal):
            box.addWidget(part, 1 if part is self.nothing else 0)
            part.setVisible(part is self.list)
        self.list.horizontalHeader().sectionClicked.connect(self._sort_by)
        self.list.selectionModel().selectionChanged.connect(self._selected)
        self.list.customContextMenuRequested.connect(self._offer)
        self.list.copied.connect(self.copy)
        self.list.pasted.connect(self.paste)
        self.list.resized.connect(self._resized)
        self._settling = QTimer(self)
        self._settling.setSingleShot(True)
        self._settling.timeout.connect(self._settled)
        # a scroll bar that comes takes room only once the list is laid out
        self.list.verticalScrollBar().rangeChanged.connect(lambda *_: self._settling.start())
        self.finding.textChanged.connect(lambda _: self.show_rows(self._given, self.model.wrong))
        self.finding.returnPressed.connect(self.list.setFocus)
        self._when_empty = ""
        self._in_sight = -1  # the row that was chosen elsewhere
        self._given: Sequence[Row] = ()  # the rows in their own order
        self._by: tuple[int, bool] | None = None  # the column they are sorted by, and whether downwards
        self._quiet = False
        self._headings = [column.heading for column in columns]

    def show_rows(self, rows: Sequence[Row], wrong: frozenset[str] = frozenset()) -> None:
        """Show other rows, keeping place and choice."""
        self.model.wrong = wrong
        self._given = rows
        rows = self._sorted(self._found(rows))
        self._show_headings()
        same = len(rows) == len(self.model.rows)
        self._quiet = True
        self.model.show(rows)
        self._quiet = False
        self.room.measure()
        self._show_rest()
        self._show_empty()
        if not same:
            self.refuse("")

    def seek(self) -> None:
        """Let words be typed that the rows shown must have."""
        self.finding.show()
        self.finding.setFocus()
        self.finding.selectAll()

    def _found(self, rows: Sequence[Row]) -> Sequence[Row]:
        """The rows that have all the words that are looked for, in any of their columns."""
        words = self.finding.words()
        if not words:
            return rows
        columns = self.model.columns
        return [row for row in rows if all(w in " ".join(c.text(row) for c in columns).lower() for w in words)]

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event and event.key() == Qt.Key.Key_Escape and self.finding.isVisible():
            self.finding.clear()
            self.finding.hide()
            self.list.setFocus()
        else:
            super().keyPressEvent(event)

    def _sorted(self, rows: Sequence[Row]) -> Sequence[Row]:
        if self._by is None:
            return rows
        n, down = self._by
        text = self.model.columns[n].text
        return sorted(rows, key=lambda row: worth(text(row)), reverse=down)

    def _sort_by(self, column: int) -> None:
        """Sort by a column, again downwards, and the third time in the list's own order."""
        before, chosen = (
            self._by,
            [self.key(self.model.rows[i.row()]) for i in self.list.selectionModel().selectedRows()],
        )
        self._by = (column, False) if before is None or before[0] != column else None if before[1] else (column, True)
        header = self.list.horizontalHeader()
        header.setSortIndicatorShown(self._by is not None)
        if self._by:
            order = Qt.SortOrder.DescendingOrder if self._by[1] else Qt.SortOrder.AscendingOrder
            header.setSortIndicator(column, order)
        self.show_rows(self._given, self.model.wrong)
        self.show_chosen(chosen)

    def _offer(self, at: QPoint) -> None:
        """What can be done with the list, by the right button."""
        menu = QMenu(self)
        menu.addAction("Find rows by their words\tCtrl+F", self.seek)
        menu.addAction("Copy what is picked as CSV\tCtrl+C", self.copy)
        menu.addAction("Copy the whole list as CSV", lambda: self.copy(whole=True))
        menu.exec(self.list.viewport().mapToGlobal(at))

    def copy(self, *, whole: bool = False) -> None:
        """Put the picked rows, or all where none is, on the clipboard as CSV."""
        picked = sorted({i.row() for i in self.list.selectionModel().selectedRows()})
        rows = self.model.rows if whole or not picked else [self.model.rows[n] for n in picked]
        columns = self.model.columns
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(as_csv([c.heading for c in columns], [[c.text(r) for c in columns] for r in rows]))

    def paste(self) -> None:
        """Type the cells on the clipboard into the list as one step, from the cell on that the keys are on, over the
        columns that are shown."""
        clipboard, index, run = QGuiApplication.clipboard(), self.list.currentIndex(), self.run
        block = cells_of(clipboard.text()) if clipboard is not None else []
        if run is None or not block:
            return
        if len(block) == 1 and len(block[0]) == 1:
            self.take(block[0][0])
            return
        header = self.list.horizontalHeader()
        shown = sorted(
            (n for n in range(len(self.model.columns)) if not self.list.isColumnHidden(n)), key=header.visualIndex
        )
        columns = [self.model.columns[n] for n in shown[shown.index(index.column()) :]]
        rows = self.model.rows[index.row() :]
        try:
            run(lambda job: _typed_over(job, block, rows, columns, self.key))
        except Problem as problem:
            self.refuse(str(problem))
            return
        self.refuse("")

    def _show_headings(self) -> None:
        """Ask for the words over the columns again, and fit the columns, where they have changed with the units."""
        headings = [column.heading for column in self.model.columns]
        if headings != self._headings:
            self._headings = headings
            self.room.forget()
            self.model.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, len(headings) - 1)

    def say_when_empty(self, words: str) -> None:
        """What to say in place of a list without rows."""
        self._when_empty = words
        self._show_empty()

    def _show_empty(self) -> None:
        """Say what to do where there is no row, or that none has the words that are looked for."""
        sought = self.finding.text().strip() if self._given else ""
        told = f"No row has ‘{sought}’: Esc shows all." if sought else self._when_empty
        empty = not self.model.rows and bool(told)
        self.nothing.setText(told)
        self.nothing.setVisible(empty)
        self.list.setVisible(not empty)

    def show_whole(self, *, on: bool) -> None:
        """Show all columns whole, to be scrolled sideways, or as many as there is room for."""
        self.room.show_whole(on=on)
        self._show_rest()

    def _show_rest(self) -> None:
        """Under the list, what the picked row says that has no room in it."""
        said = self.room.rest(self.picked)
        self.rest.setText(said)
        self.rest.setVisible(bool(said))

    def show_chosen(self, keys: Sequence[str]) -> None:
        """Select rows by key without saying so."""
        wanted = set(keys)
        rows = [n for n, r in enumerate(self.model.rows) if self.key(r) in wanted]
        selection = QItemSelection()
        last = len(self.model.columns) - 1
        for n in rows[:2000]:
            selection.select(self.model.index(n, 0), self.model.index(n, last))
        self._quiet = True
        self.list.selectionModel().select(selection, QItemSelectionModel.SelectionFlag.ClearAndSelect)
        self._quiet = False
        if rows and not self.list.hasFocus():
            self._in_sight = rows[0]
            self.list.scrollTo(self.model.index(rows[0], 0))

    def pick(self, row: Row) -> None:
        """Pick a row as a click does, and bring it into sight."""
        key = self.key(row)
        n = next((n for n, r in enumerate(self.model.rows) if self.key(r) == key), None)
        if n is not None:
            self.list.selectRow(n)
            self.list.scrollTo(self.model.index(n, 0))

    @property
    def picked(self) -> Row | None:
        """The row that is picked, the first of several; None where there is none."""
        rows = sorted(i.row() for i in self.list.selectionModel().selectedRows())
        return self.model.rows[rows[0]] if rows and rows[0] < len(self.model.rows) else None

    def _selected(self, *_: object) -> None:
        self._show_rest()
        if not self._quiet:
            rows = sorted({i.row() for i in self.list.selectionModel().selectedRows()})
            current = self.list.currentIndex().row()
            rows.sort(key=lambda n: n == current)  # the one picked last comes last
            self.chose.emit(tuple(self.key(self.model.rows[n]) for n in rows if n < len(self.model.rows)))

    def take(self, text: str, index: QModelIndex | None = None) -> bool:
        """Carry out a cell's new text; False and the reason shown when it is refused."""
        index = index or self.list.currentIndex()
        if not index.isValid() or index.row() >= len(self.model.rows):
            return True
        column, row = self.model.columns[index.column()], self.model.rows[index.row()]
        change = column.change
        if change is None or self.run is None or text == column.text(row):
            self.refuse("")
            return True
        try:
            self.run(lambda job: change(job, row, text))
        except Problem as problem:
            self.refuse(f"{column.name} of {self.key(row)}: {problem}")
            return False
        self.refuse("")
        return True

    @property
    def cell(self) -> tuple[tuple[str, ...], int, int]:
        """Where the keys are: the rows that are listed, and the numbers of row and column."""
        index = self.list.currentIndex()
        return tuple(map(self.key, self.model.rows)), index.row(), index.column()

    def go_on(self, cell: tuple[tuple[str, ...], int, int]) -> None:
        """Type into the next cell that can be typed into: after one where the keys were, or of the row that was added
        by what was typed there."""
        before, row, column = cell
        keys = tuple(map(self.key, self.model.rows))
        row = next((n for n, key in enumerate(keys) if key not in before), row) if len(keys) > len(before) else row
        typed = [n for n, c in enumerate(self.model.columns) if c.change and not self.list.isColumnHidden(n)]
        after = next((n for n in typed if n > column), None)
        index = self.model.index(row if after is not None else row + 1, after if after is not None else typed[0])
        if index.isValid():
            self.list.setCurrentIndex(index)
            self.list.scrollTo(index)
            self.list.edit(index)

    def restyle(self, look: Look) -> None:
        """Use other colours and size of type."""
        self.model.look = look
        self.list.show_below(self.list.below)
        self.room.forget()
        self._size_shown()

    def _settled(self) -> None:
        """Fit the columns to a scroll bar that came or went, of a list that is open: another may hold the rows of a job
        before."""
        if self.isVisible():
            self._resized()

    def _resized(self) -> None:
        self.room.share()
        if 0 <= self._in_sight < self.model.rowCount() and self.list.selectionModel().isRowSelected(self._in_sight):
            self.list.scrollTo(self.model.index(self._in_sight, 0))  # what is told below may have taken its room
        self._show_rest()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        if not self.room.measured:
            QTimer.singleShot(0, self._size_shown)  # by then its page has put in the rows of the present job

    def _size_shown(self) -> None:
        """Fit the columns of a list that is open. One that is not may still hold the rows of a job before, whose
        words can't be asked for any more."""
        if not self.room.measured and self.isVisible():
            self.room.measure()
            self._show_rest()

    def refuse(self, why: str) -> None:
        """Show why a cell was refused, or nothing."""
        self.refusal.setText(why)
        self.refusal.setVisible(bool(why))


def _typed_over(
    job: Job, block: Sequence[Sequence[str]], rows: Sequence[Row], columns: Sequence[Column], key: Callable[[Row], str]
) -> Done:
    """A block of cells typed over rows and columns from their first on. Raises Problem where it does not fit there, or
    with the first cell that is refused."""
    wide = max(map(len, block))
    if len(block) > len(rows) or wide > len(columns):
        raise Problem(
            f"{len(block)} × {wide} cells were copied, and there are {len(rows)} rows and {len(columns)} columns from "
            "here on.",
            hint="Begin further up or to the left.",
        )
    count, chosen = 0, tuple[str, ...]()
    for texts, row in zip(block, rows, strict=False):
        for text, column in zip(texts, columns, strict=False):
            if text.strip() == column.text(row).strip():
                continue
            if column.change is None:
                raise Problem(
                    f"‘{column.name}’ of {key(row)} can't be typed into.", hint="Copy the other columns alone."
                )
            try:
                done = column.change(job, row, text.strip())
            except Problem as problem:
                problem.what = f"{column.name} of {key(row)}, ‘{text.strip()}’: {problem.what}"
                raise
            job, chosen, count = done.job, done.chosen, count + 1
    return Done(f"Paste {count} cell{'s' * (count != 1)}", job, chosen)
