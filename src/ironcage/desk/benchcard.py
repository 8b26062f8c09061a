"""The bench card: one thing at a time, full screen, in type that is read from two metres."""

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from ironcage.desk.look import Look, style, text_font
from ironcage.desk.pages.page import Card
from ironcage.desk.words import Words

FORWARD = (
    Qt.Key.Key_Space,
    Qt.Key.Key_Right,
    Qt.Key.Key_Down,
    Qt.Key.Key_PageDown,
    Qt.Key.Key_Return,
    Qt.Key.Key_Enter,
)
BACK = (Qt.Key.Key_Backspace, Qt.Key.Key_Left, Qt.Key.Key_Up, Qt.Key.Key_PageUp)


EDGES_PX = 84  # of the card, to both sides and between its parts
SIZES = ((7, 1.4), (5, 1.4), (4, 1.2), (3.5, 1.05), (3, 0.9), (2.6, 0.78), (2.2, 0.66))  # of the number, of the lines


class _Picture(QWidget):
    """The picture of a card, as large as there is room."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self.look = look
        self.paint: Callable[[QPainter, QRectF, Look], None] | None = None

    def show_picture(self, paint: "Callable[[QPainter, QRectF, Look], None] | None") -> None:
        """Show another picture, or none."""
        self.paint = paint
        self.setVisible(paint is not None)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.paint:
            painter = QPainter(self)
            self.paint(painter, QRectF(self.rect()), self.look)
            painter.end()


class BenchCard(QWidget):
    """Pages through cards: a key, a foot switch that sends one, or a click. Escape closes. Signal: closed."""

    closed = pyqtSignal()

    def __init__(self, cards: list[Card], first: int, look: Look) -> None:
        super().__init__()
        self.setWindowTitle("Bench card")
        self.setObjectName("paper")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setStyleSheet(style(look))
        self.cards, self.at = cards, first
        self.title, self.number, self.lines, self.foot = Words(), Words(), Words(), Words(name="quiet")
        self.picture = _Picture(look)
        below = QHBoxLayout()
        below.addWidget(self.lines, 3)
        below.addWidget(self.picture, 2)
        box = QVBoxLayout(self)
        box.setContentsMargins(40, 24, 40, 18)
        for label in (self.title, self.number, self.lines, self.foot):
            label.setWordWrap(label is not self.number)
        box.addWidget(self.title)
        box.addWidget(self.number)
        box.addLayout(below, 1)
        box.addWidget(self.foot)
        self.lines.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._show()

    def _show(self) -> None:
        card = self.cards[self.at]
        self.title.setText(card.title)
        self.number.setText(card.number)
        self.lines.setText("\n".join(line for line in card.lines if line))
        self.picture.show_picture(card.picture)
        self.foot.setText(
            f"{self.at + 1} of {len(self.cards)}   ·   Space: next   ·   Backspace: back   ·   Esc: close"
        )
        self._size()

    def _size(self) -> None:
        """Type as large as the width allows for this number and the height for its lines: of a card that says much, the
        number makes way first, then the lines get smaller."""
        unit = max(self.height() / 40, 8)
        self.title.setFont(text_font(unit * 1.6, bold=True))
        self.foot.setFont(text_font(unit * 0.6))
        wide = (self.width() - 80) / max(len(self.number.text()), 4) * 1.15
        for number, lines in SIZES:
            self.number.setFont(text_font(min(unit * number, wide), bold=True))
            self.lines.setFont(text_font(unit * lines))
            if self._fits():
                break

    def _fits(self) -> bool:
        """Whether all lines can be read in the room that the rest of the card leaves."""
        across = (self.width() - EDGES_PX) * (0.6 if self.picture.paint else 1.0)
        heights = [self.title.heightForWidth(self.width() - EDGES_PX), self.number.sizeHint().height()]
        room = self.height() - sum(heights) - self.foot.sizeHint().height() - EDGES_PX
        return self.lines.heightForWidth(round(across)) <= room

    def turn(self, step: int) -> None:
        """Another card, staying at the ends."""
        self.at = min(max(self.at + step, 0), len(self.cards) - 1)
        self._show()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._size()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self.closed.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() in FORWARD:
            self.turn(1)
        elif event.key() in BACK:
            self.turn(-1)
        elif event.key() in (Qt.Key.Key_Escape, Qt.Key.Key_F11):
            self.close()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.turn(1 if event.button() == Qt.MouseButton.LeftButton else -1)
