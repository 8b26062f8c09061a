"""What a list shows: its columns, and its rows as they are painted."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QObject, Qt
from PyQt6.QtGui import QBrush, QColor

from ironcage.core.job.text import Done
from ironcage.core.job.values.model import Job
from ironcage.desk.look import LIGHT
from ironcage.units import Units

Row = Any
NAME_LETTERS = 16  # that are left of a joint's or a tube's name in words
MOST_PAINTED = 3000  # cells, more than a screen holds


@dataclass(frozen=True)
class Column:
    """A column. head, tip: words, or what gives them where they tell the builder's units. text: a row to what is
    shown. change: a typed cell as an edit of the job; None for a column that can't be changed. number: right-aligned in
    tabular figures. room: words that must fit in, where the first rows say too little. whole: its words are never
    shortened, others down to `letters`. unit: gives what its figures count in, for the heading. below: where it has no
    room as a column, its words stand on a second line of their row."""

    head: str | Callable[[], str]
    text: Callable[[Row], str]
    number: bool = False
    change: Callable[[Job, Row, str], Done] | None = None
    tip: str | Callable[[], str] = ""
    room: str = ""
    whole: bool = False
    letters: int = 9
    unit: Callable[[], str] | None = None
    below: bool = False

    @property
    def name(self) -> str:
        """What it is called, without its unit."""
        return self.head if isinstance(self.head, str) else self.head()

    @property
    def heading(self) -> str:
        """What stands over it now."""
        return f"{self.name}, {self.unit()}" if self.unit else self.name

    @property
    def hint(self) -> str:
        """What is said of it now where the pointer rests."""
        return self.tip if isinstance(self.tip, str) else self.tip()


def name_column(text: Callable[[Row], str], change: Callable[[Job, Row, str], Done] | None = None) -> Column:
    """A column of what joints or tubes are called in words. A row is found by it, so it is seen in every list."""
    return Column(
        "name",
        text,
        change=change,
        letters=NAME_LETTERS,
        tip="What it is called: your name for it, or by role and place",
        below=True,
    )


def length_column(
    units: Callable[[], Units],
    head: str,
    mm: Callable[[Row], float],
    change: Callable[[Job, Row, str], Done] | None = None,
    tip: str = "",
) -> Column:
    """A column of lengths, mm, as figures in the builder's units, which its heading names."""
    return Column(
        head,
        lambda row: units().length(mm(row), unit=False),
        True,
        change,
        tip,
        unit=lambda: units().length_name,
    )


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


class RowModel(QAbstractTableModel):
    """The rows of a list and their columns, as a view asks for them."""

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
        """The rows with something painted that has changed since: painting all of a list takes as long as proving a
        frame."""
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
        column, shown = self.columns[index.column()], self.painted(index.row(), index.column())
        for n in range(len(roleDataSpan)):
            asked = roleDataSpan[n]
            value = self._value(asked.role(), column, *shown)
            if value is None:
                asked.clearData()
            else:
                asked.setData(value)

    def painted(self, row: int, column: int) -> tuple[str, bool]:
        """What a cell is painted with, its words and whether as wrong; it is painted again when that changes."""
        cell = (row, column)
        self._painted.pop(cell, None)
        self._painted[cell] = shown = self._shown(*cell)
        if len(self._painted) > MOST_PAINTED:
            del self._painted[next(iter(self._painted))]  # the one painted longest ago, out of sight by now
        return shown

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return self.columns[section].heading
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignRight if self.columns[section].number else Qt.AlignmentFlag.AlignLeft
            return side | Qt.AlignmentFlag.AlignVCenter
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.ToolTipRole:
            return self.columns[section].hint or self.columns[section].heading
        return None


class TypedModel(RowModel):
    """Rows with columns that can be typed into."""

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        can = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return can | Qt.ItemFlag.ItemIsEditable if self.columns[index.column()].change else can
