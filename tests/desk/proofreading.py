"""What a proof reader says of the window as it is seen: words that are cut, and labels that cover each other."""

import re
from collections.abc import Iterator
from itertools import combinations

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSpinBox,
    QComboBox,
    QLabel,
    QMenu,
    QPushButton,
    QTabBar,
    QToolButton,
    QWidget,
)

from ironcage.desk.table.view import TableView
from ironcage.desk.widgets.grid import Grid

SLACK_PX = 1
EDGE_PX = 4
MIXED = (  # lists of rows that measure unlike things
    "Aims",
    "Rules",
    "At this travel and steer",
    "Levels",
    "How it is welded",
    "How it is measured",
    "Readings",
)
UNIT = re.compile(r"\d ?(?:mm|m|in|ft|kg|lb|g|N·m|lbf·ft|kN|N|lbf|kW|hp|h|min)$")


def complaints(window: QWidget) -> Iterator[str]:
    """Everything on the window that can't be read to its end."""
    for widget in window.findChildren(QWidget):
        if not widget.isVisible() or widget.visibleRegion().isEmpty():
            continue
        yield from _unspoken(widget)
        if isinstance(widget, QLabel):
            yield from _label(widget)
        elif isinstance(widget, QAbstractButton):
            yield from _button(widget)
        elif isinstance(widget, QComboBox):
            yield from _choice(widget)
        elif isinstance(widget, QTabBar):
            yield from _tabs(widget)
        elif isinstance(widget, Grid):
            yield from _grid(widget)
        elif isinstance(widget, TableView):
            yield from _table(widget)


def _unspoken(widget: QWidget) -> Iterator[str]:
    """A control that keys reach and that a screen reader could not name."""
    if widget.focusPolicy() & Qt.FocusPolicy.TabFocus and not isinstance(widget.parent(), QComboBox | QAbstractSpinBox):
        words = widget.accessibleName() or (widget.text() if isinstance(widget, QAbstractButton | QLabel) else "")
        if not words and not isinstance(widget, QTabBar | QMenu):
            yield f"{type(widget).__name__} in {type(widget.parent()).__name__} has no name"


def _label(label: QLabel) -> Iterator[str]:
    if not label.text():
        return
    room, metrics = label.contentsRect(), label.fontMetrics()
    flags = Qt.TextFlag.TextWordWrap if label.wordWrap() else Qt.TextFlag.TextExpandTabs
    need = metrics.boundingRect(QRect(0, 0, room.width() if label.wordWrap() else 10_000, 10_000), flags, label.text())
    if need.width() > room.width() + SLACK_PX or need.height() > room.height() + SLACK_PX + metrics.descent():
        yield f"label ‘{label.text()[:60]}’ needs {need.width()}x{need.height()}, has {room.width()}x{room.height()}"
    yield from _covered(label, label.text())


def _covered(widget: QWidget, text: str) -> Iterator[str]:
    """A widget that reaches out of what it lies in."""
    seen = widget.visibleRegion().boundingRect()
    if seen.width() < widget.width() - SLACK_PX or seen.height() < widget.height() - SLACK_PX:
        yield f"‘{text[:60]}’ is seen {seen.width()}x{seen.height()} of {widget.width()}x{widget.height()}"


def _button(button: QAbstractButton) -> Iterator[str]:
    if isinstance(button.parent(), QTabBar) or not button.text():
        return
    if "…" in button.text()[:-1]:
        yield f"button ‘{button.text()}’ is shortened"
    if isinstance(button, QPushButton | QToolButton) and button.layout() is None:
        need = button.sizeHint()
        if need.width() > button.width() + SLACK_PX or need.height() > button.height() + 4:
            yield f"button ‘{button.text()}’ needs {need}, has {button.size()}"
    yield from _covered(button, button.text())


def _choice(choice: QComboBox) -> Iterator[str]:
    text = choice.currentText()
    if text and choice.fontMetrics().horizontalAdvance(text) > choice.width() - 16:
        yield f"choice ‘{text}’ has {choice.width()}"


def _tabs(bar: QTabBar) -> Iterator[str]:
    for n in range(bar.count()):
        rect = bar.tabRect(n)
        if not bar.isTabVisible(n):
            continue
        if not bar.rect().contains(rect):
            yield f"tab ‘{bar.tabText(n)}’ is out of sight"
        elif bar.fontMetrics().horizontalAdvance(bar.tabText(n)) > rect.width():
            yield f"tab ‘{bar.tabText(n)}’ is cut"


def _grid(grid: Grid) -> Iterator[str]:
    """Columns that a decision needs, headings, and numbers; words may be shortened in the middle, and are read whole
    under the list."""
    name = grid.list.accessibleName()
    if not grid.list.isVisible():
        return
    header, metrics, wide = grid.list.horizontalHeader(), grid.list.fontMetrics(), grid.list.viewport().width()
    for n, column in enumerate(grid.model.columns):
        left, width = header.sectionViewportPosition(n), header.sectionSize(n)
        if grid.list.isColumnHidden(n):
            named = column.below and n != grid.list.below
            if (n < grid.room.needs or named) and not grid.room.left_out(n):
                yield f"column ‘{column.heading}’ of {name} is away"
            continue
        if left + width > wide + SLACK_PX:
            yield f"column ‘{column.heading}’ of {name} ends at {left + width} of {wide}"
        if header.fontMetrics().horizontalAdvance(column.heading) > width - EDGE_PX:
            yield f"heading ‘{column.heading}’ of {name} has {width}"
        cells = [column.text(row) for row in grid.model.rows[: grid.list.rowAt(grid.list.viewport().height() - 1)]]
        if column.number and name not in MIXED and (said := next((c for c in cells if UNIT.search(c)), "")):
            yield f"number ‘{said}’ under ‘{column.heading}’ of {name} says a unit, which its heading should"
        if column.number and (cut := next((c for c in cells if metrics.horizontalAdvance(c) > width - EDGE_PX), "")):
            yield f"number ‘{cut}’ under ‘{column.heading}’ of {name} has {width}"


def _table(table: TableView) -> Iterator[str]:
    for one, other in combinations(table.labels, 2):
        if one.intersects(other):
            yield f"labels at {one} and {other} cover each other"
    for one in table.labels:
        if not table.rect().toRectF().contains(one):
            yield f"a label at {one} leaves the table"
