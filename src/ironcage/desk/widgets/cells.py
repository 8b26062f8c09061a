"""How a list takes keys: what is typed into its cells, and the words that its rows are looked for by."""

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QEvent, QModelIndex, QObject, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontMetrics, QKeyEvent, QKeySequence, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QLineEdit,
    QStyle,
    QStyledItemDelegate,
    QTableView,
    QWidget,
)

from ironcage.desk.widgets.rowmodel import RowModel

if TYPE_CHECKING:
    from ironcage.desk.widgets.grid import Grid

LEADING_PX = 8  # of a row over the height of its letters
SECOND_SHARE = 0.85  # of the size of type, of a second line
SECOND_IN_PX = 6  # how far in it begins
_COPY, _PASTE = QKeySequence.StandardKey.Copy, QKeySequence.StandardKey.Paste
_BEGINS = (*"0123456789.+-−",)  # what a number begins with


class CellDelegate(QStyledItemDelegate):
    """A cell's editor stays open with its text when what was typed is refused. Where rows have a second line, cells
    have the first."""

    def __init__(self, grid: "Grid") -> None:
        super().__init__(grid)
        self.grid = grid

    def createEditor(self, parent: QWidget | None, option: Any, index: QModelIndex) -> QWidget:
        return QLineEdit(parent)

    def paint(self, painter: QPainter | None, option: Any, index: QModelIndex) -> None:
        if self.grid.list.below is not None:
            style = option.widget.style()
            style.drawPrimitive(QStyle.PrimitiveElement.PE_PanelItemViewItem, option, painter, option.widget)
            option.rect.setHeight(self.grid.list.line_height)
        super().paint(painter, option, index)

    def updateEditorGeometry(self, editor: QWidget | None, option: Any, index: QModelIndex) -> None:
        if editor is not None:
            option.rect.setHeight(self.grid.list.line_height)
            editor.setGeometry(option.rect)

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


class KeyedList(QTableView):
    """A list in which letters and digits mean what they mean everywhere: they start a line or open a step. On a cell
    that can be typed into, digits go into the cell. Signals: copied() and pasted() by the usual keys; resized() when
    its columns have another room, as when it gets a scroll bar."""

    copied = pyqtSignal()
    pasted = pyqtSignal()
    resized = pyqtSignal()

    def __init__(self, name: str, model: RowModel, *, wraps: bool) -> None:
        """`wraps`: words go on below, each row as high as it needs to be; else they are shortened in the middle."""
        super().__init__()
        self.rows = model
        self.below: int | None = None  # the column whose words stand on a second line
        self.setAccessibleName(name)
        self.setModel(model)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setEditTriggers(QAbstractItemView.EditTrigger.DoubleClicked | QAbstractItemView.EditTrigger.EditKeyPressed)
        self.setAlternatingRowColors(True)
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        self.setWordWrap(wraps)
        self.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.verticalHeader().hide()
        if wraps:
            self.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
            self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        header = self.horizontalHeader()
        header.setSectionsClickable(True)
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)

    @property
    def line_height(self) -> int:
        """Of a line of a row, pixels."""
        return self.fontMetrics().height() + LEADING_PX

    def show_below(self, column: int | None) -> None:
        """Put a column's words on a second line of each row, over all its width; None: one line a row."""
        self.below = column
        second = 0 if column is None else QFontMetrics(self._second_font).height()
        self.verticalHeader().setDefaultSectionSize(self.line_height + second)
        self.viewport().update()

    @property
    def _second_font(self) -> QFont:
        """Of words on a second line."""
        font = QFont(self.font())
        font.setPointSizeF(font.pointSizeF() * SECOND_SHARE)
        return font

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        first = self.rowAt(0)
        if self.below is None or first < 0:
            return
        painter = QPainter(self.viewport())
        painter.setFont(self._second_font)
        picked, room = self.selectionModel(), self.viewport().rect()
        for row in range(first, self.rows.rowCount()):
            top = self.rowViewportPosition(row)
            if top > room.bottom():
                break
            line = QRect(SECOND_IN_PX, top, room.width() - 2 * SECOND_IN_PX, self.rowHeight(row) - LEADING_PX // 4)
            text, _ = self.rows.painted(row, self.below)
            shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideMiddle, line.width())
            chosen = picked is not None and picked.isRowSelected(row, QModelIndex())
            painter.setPen(QColor(self.rows.look.ink if chosen else self.rows.look.quiet))
            painter.drawText(line, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom, shown)
        painter.end()

    def event(self, event: QEvent | None) -> bool:
        asked = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride
        if (
            isinstance(event, QKeyEvent)
            and asked
            and (event.matches(_COPY) or (event.matches(_PASTE) and self._on_typed))
        ):
            event.accept()  # its rows are copied, not what is chosen on the table; cells are pasted, not lines
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event and event.matches(_COPY):
            self.copied.emit()
        elif event and event.matches(_PASTE) and self._on_typed:
            self.pasted.emit()
        elif event and self._types(event):
            self.edit(self.currentIndex())
            editor = self.viewport().findChild(QLineEdit)
            if editor:
                editor.setText(event.text())
        elif event and event.text().isalnum() and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            event.ignore()
        else:
            super().keyPressEvent(event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.resized.emit()

    @property
    def _on_typed(self) -> bool:
        """Whether the keys are on a cell that can be typed into."""
        index = self.currentIndex()
        return index.isValid() and bool(index.flags() & Qt.ItemFlag.ItemIsEditable)

    def _types(self, event: QKeyEvent) -> bool:
        """Whether a key is the first of a number for the cell that the keys are on."""
        index = self.currentIndex()
        here = index.isValid() and self.selectionModel().isRowSelected(index.row(), QModelIndex())
        plain = not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        return here and plain and event.text() in _BEGINS and self._on_typed


class Sought(QLineEdit):
    """Words that a row must have to be shown; hidden until it is asked for."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setPlaceholderText("show rows with these words; Esc shows all")
        self.setAccessibleName(f"Words that rows of {name} must have")
        self.hide()

    def words(self) -> list[str]:
        """Each word by itself, in small letters."""
        return self.text().lower().split()
