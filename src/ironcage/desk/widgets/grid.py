"""A list of things with columns: what each column shows, and for some how a typed cell becomes an edit."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import (
    QAbstractTableModel,
    QItemSelection,
    QItemSelectionModel,
    QModelIndex,
    QObject,
    QPoint,
    Qt,
    QTimer,
    pyqtSignal,
)
from PyQt6.QtGui import QBrush, QColor, QFontMetrics, QGuiApplication, QKeyEvent, QKeySequence, QShowEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QLineEdit,
    QMenu,
    QStyledItemDelegate,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from ironcage.core.job.text import Done
from ironcage.core.job.values.model import Job
from ironcage.desk.look import LIGHT, Look
from ironcage.desk.widgets.rows import as_csv, worth
from ironcage.desk.words import Words
from ironcage.problem import Problem

Row = Any
_BEGINS = (*"0123456789.+-−",)  # what a number begins with
MOST_PX = 480  # no column starts wider
MOST_PAINTED = 3000  # cells, more than a screen holds


@dataclass(frozen=True)
class Column:
    """A column. head, tip: words, or what gives them where they tell the builder's units. text: a row to what is
    shown. change: a typed cell as an edit of the job; None for a column that
    can't be changed. number: right-aligned in tabular figures. room: words that must fit in, where the first rows
    say too little."""

    head: str | Callable[[], str]
    text: Callable[[Row], str]
    number: bool = False
    change: Callable[[Job, Row, str], Done] | None = None
    tip: str | Callable[[], str] = ""
    room: str = ""

    @property
    def heading(self) -> str:
        """What stands over it now."""
        return self.head if isinstance(self.head, str) else self.head()

    @property
    def hint(self) -> str:
        """What is said of it now where the pointer rests."""
        return self.tip if isinstance(self.tip, str) else self.tip()


_ROLES = frozenset(
    int(role)
    for role in (
        Qt.ItemDataRole.DisplayRole,
        Qt.ItemDataRole.EditRole,
        Qt.ItemDataRole.TextAlignmentRole,
        Qt.ItemDataRole.ForegroundRole,
        Qt.ItemDataRole.ToolTipRole,
    )
)


class _Model(QAbstractTableModel):
    def __init__(self, columns: Sequence[Column], parent: QObject) -> None:
        super().__init__(parent)
        self.columns, self.look = columns, LIGHT
        self.rows: tuple[Row, ...] = ()
        self.wrong: frozenset[str] = frozenset()
        self.key: Callable[[Row], str] = str
        self._painted: dict[tuple[int, int], tuple[str, bool]] = {}  # what cells have been painted with

    def show(self, rows: Sequence[Row]) -> None:
        if len(rows) == len(self.rows):
            self.rows = tuple(rows)
            for row in self._other_rows():
                self.dataChanged.emit(self.index(row, 0), self.index(row, len(self.columns) - 1))
            return
        self._painted.clear()
        self.beginResetModel()
        self.rows = tuple(rows)
        self.endResetModel()

    def _other_rows(self) -> list[int]:
        """The rows on which something was painted that is other now: painting all of a list takes as long as proving
        a frame."""
        cells = [cell for cell, before in self._painted.items() if self._shown(*cell) != before]
        for cell in cells:
            del self._painted[cell]
        return sorted({row for row, _ in cells})

    def _shown(self, row: int, column: int) -> tuple[str, bool]:
        """What a cell says, and whether as wrong."""
        return self.columns[column].text(self.rows[row]), self.key(self.rows[row]) in self.wrong

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent and parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        return len(self.columns)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role not in _ROLES:  # most of what a view asks for
            return None
        return self._value(role, self.columns[index.column()], *self._shown(index.row(), index.column()))

    def _value(self, role: int, column: Column, text: str, wrong: bool) -> Any:
        """What a view is told of a cell that says `text`."""
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return text
        if role == Qt.ItemDataRole.TextAlignmentRole and column.number:
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        if role == Qt.ItemDataRole.ForegroundRole and wrong:
            return QBrush(QColor(self.look.oxide))
        if role == Qt.ItemDataRole.ToolTipRole:
            return column.hint or text
        return None

    def multiData(self, index: QModelIndex, roleDataSpan: Any) -> None:
        """All that a cell is painted with in one go: a call from Qt waits for the interpreter each time, while other
        threads work."""
        cell, column = (index.row(), index.column()), self.columns[index.column()]
        self._painted.pop(cell, None)
        self._painted[cell] = shown = self._shown(*cell)
        if len(self._painted) > MOST_PAINTED:
            del self._painted[next(iter(self._painted))]  # the one painted longest ago, out of sight by now
        for n in range(len(roleDataSpan)):
            asked = roleDataSpan[n]
            value = self._value(asked.role(), column, *shown)
            if value is None:
                asked.clearData()
            else:
                asked.setData(value)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return self.columns[section].heading
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignRight if self.columns[section].number else Qt.AlignmentFlag.AlignLeft
            return side | Qt.AlignmentFlag.AlignVCenter
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.ToolTipRole:
            return self.columns[section].hint or self.columns[section].heading
        return None


class _Typed(_Model):
    """One with columns that can be typed into."""

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        can = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return can | Qt.ItemFlag.ItemIsEditable if self.columns[index.column()].change else can


class _CellDelegate(QStyledItemDelegate):
    """A cell's editor stays open with its text when what was typed is refused."""

    def __init__(self, grid: "Grid") -> None:
        super().__init__(grid)
        self.grid = grid

    def createEditor(self, parent: QWidget | None, option: Any, index: QModelIndex) -> QWidget:
        return QLineEdit(parent)

    def eventFilter(self, editor: QObject | None, event: Any) -> bool:
        if isinstance(editor, QLineEdit) and isinstance(event, QKeyEvent) and event.type() == QKeyEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Tab):
                cell = self.grid.cell
                if self.grid.take(editor.text()):
                    self.closeEditor.emit(editor)
                    if event.key() == Qt.Key.Key_Tab:
                        self.grid.go_on(cell)
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.grid.refuse("")
        return super().eventFilter(editor, event)

    def setModelData(self, editor: QWidget | None, model: Any, index: QModelIndex) -> None:
        """Leaving a cell by a click takes what was typed as well; a refusal is told below the list."""
        if isinstance(editor, QLineEdit):
            self.grid.take(editor.text(), index)


class _List(QTableView):
    """A list in which letters and digits mean what they mean everywhere: they start a line or open a step. On a cell
    that can be typed into, digits go into the cell. Signal: copied() by the usual key."""

    copied = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event and event.matches(QKeySequence.StandardKey.Copy):
            self.copied.emit()
        elif event and self._types(event):
            self.edit(self.currentIndex())
            editor = self.viewport().findChild(QLineEdit)
            if editor:
                editor.setText(event.text())
        elif event and event.text().isalnum() and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            event.ignore()
        else:
            super().keyPressEvent(event)

    def _types(self, event: QKeyEvent) -> bool:
        """Whether a key is the first of a number for the cell that the keys are on."""
        index = self.currentIndex()
        here = index.isValid() and self.selectionModel().isRowSelected(index.row(), QModelIndex())
        plain = not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        return here and plain and event.text() in _BEGINS and bool(index.flags() & Qt.ItemFlag.ItemIsEditable)


class _Sought(QLineEdit):
    """Words that a row must have to be shown; hidden until it is asked for."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setPlaceholderText("show rows with these words; Esc shows all")
        self.setAccessibleName(f"Words that rows of {name} must have")
        self.hide()

    def words(self) -> list[str]:
        """Each word by itself, in small letters."""
        return self.text().lower().split()


class Grid(QWidget):
    """Signal: chose(keys) when the builder picks rows.

    `run` carries out the edit of a changed cell and may raise Problem, which is shown under the list. `wraps` names a
    column by number that takes what room is left, its words going on below: for short lists of sentences.
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
    ) -> None:
        super().__init__()
        self.model = (_Typed if any(c.change for c in columns) else _Model)(columns, self)
        self.model.key = key
        self.key, self.run = key, run
        self.list = _List()
        self.list.setAccessibleName(name)
        self.list.setModel(self.model)
        self.list.setItemDelegate(_CellDelegate(self))
        self.list.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.list.setEditTriggers(
            QAbstractItemView.EditTrigger.DoubleClicked | QAbstractItemView.EditTrigger.EditKeyPressed
        )
        self.list.setAlternatingRowColors(True)
        self.list.setShowGrid(False)
        self.list.setTabKeyNavigation(False)
        self.list.setWordWrap(False)
        self.list.verticalHeader().hide()
        self.list.verticalHeader().setDefaultSectionSize(24)
        header = self.list.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        header.setStretchLastSection(True)
        header.setSectionsClickable(True)
        header.sectionClicked.connect(self._sort_by)
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        self.list.selectionModel().selectionChanged.connect(self._selected)
        self.refusal = Words(name="refused", wrap=True)
        self.refusal.hide()
        self.finding = _Sought(name)
        self.finding.textChanged.connect(lambda _: self.show_rows(self._given, self.model.wrong))
        self.finding.returnPressed.connect(self.list.setFocus)
        self.nothing = Words(name="quiet", wrap=True)  # what to do where there is no row
        self.nothing.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.nothing.hide()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addWidget(self.finding)
        box.addWidget(self.nothing, 1)
        box.addWidget(self.list)
        box.addWidget(self.refusal)
        self._when_empty = ""
        self._wraps = wraps
        if wraps is not None:
            header.setStretchLastSection(False)
            header.setSectionResizeMode(wraps, QHeaderView.ResizeMode.Stretch)
            self.list.setWordWrap(True)
            self.list.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
            self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._given: Sequence[Row] = ()  # the rows in their own order
        self._by: tuple[int, bool] | None = None  # the column they are sorted by, and whether downwards
        self.list.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.list.customContextMenuRequested.connect(self._offer)
        self.list.copied.connect(self.copy)
        self._sized = False
        self._letters = [0] * len(columns)  # of the longest words that each column is wide enough for
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
        if rows:
            self._fit_columns()
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

    def _show_headings(self) -> None:
        """Ask for the words over the columns again, and fit the columns, where they have changed with the units."""
        headings = [column.heading for column in self.model.columns]
        if headings != self._headings:
            self._headings, self._sized = headings, False
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

    def _fit_columns(self) -> None:
        """Widths from the first rows, once there are any. Then a column only grows, when longer words come, so that
        columns do not jump while numbers change."""
        for n, column in enumerate(self.model.columns):
            if n == self._wraps:
                continue
            wide = max([column.heading, column.room, *(column.text(r) for r in self.model.rows[:60])], key=len)
            if self._sized and len(wide) <= self._letters[n]:
                continue
            self._letters[n] = len(wide)
            metrics = QFontMetrics(self.list.font())
            width = max(metrics.horizontalAdvance(wide), round(metrics.horizontalAdvance(column.heading) * 1.12)) + 18
            self.list.setColumnWidth(n, min(width, MOST_PX))
        self._sized = bool(self.model.rows)

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
            self.refuse(f"{column.heading} of {self.key(row)}: {problem}")
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
        typed = [n for n, c in enumerate(self.model.columns) if c.change]
        after = next((n for n in typed if n > column), None)
        index = self.model.index(row if after is not None else row + 1, after if after is not None else typed[0])
        if index.isValid():
            self.list.setCurrentIndex(index)
            self.list.scrollTo(index)
            self.list.edit(index)

    def restyle(self, look: Look) -> None:
        """Use other colours and size of type."""
        self.model.look = look
        self.list.verticalHeader().setDefaultSectionSize(self.list.fontMetrics().height() + 8)
        self._sized = False
        self._size_shown()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        if not self._sized:
            QTimer.singleShot(0, self._size_shown)  # by then its page has put in the rows of the present job

    def _size_shown(self) -> None:
        """Fit the columns of a list that is open. One that is not may still hold the rows of a job before, whose
        words can't be asked for any more."""
        if not self._sized and self.model.rows and self.isVisible():
            self._fit_columns()

    def refuse(self, why: str) -> None:
        """Show why a cell was refused, or nothing."""
        self.refusal.setText(why)
        self.refusal.setVisible(bool(why))
