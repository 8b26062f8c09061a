"""Labels for words: those that may hold what a builder typed, and those that may need more room than there is."""

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFrame, QLabel, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

AWAITED = " …"  # behind what is being worked out again
CARD_PX = 430


class Words(QLabel):
    """Shows text as it is: a job called `<b>` is not taken for mark-up."""

    def __init__(self, text: str = "", *, name: str = "", wrap: bool = False) -> None:
        """`name` is the style sheet's name for it; `wrap` lets it take several lines."""
        super().__init__(text)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setObjectName(name)
        self.setWordWrap(wrap)


class ScrolledWords(QScrollArea):
    """Words that take the room that they need where it is there, and scroll where it is not."""

    LEAST_LINES = 2

    def __init__(self, name: str) -> None:
        """`name` is what a screen reader calls it."""
        super().__init__()
        self.words = Words(wrap=True)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.setAccessibleName(name)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setWidgetResizable(True)
        self.setWidget(self.words)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def setText(self, text: str) -> None:
        """Say something else, from its beginning."""
        self.words.setText(text)
        bar = self.verticalScrollBar()
        if bar is not None:
            bar.setValue(0)
        self.updateGeometry()

    def text(self) -> str:
        """What it says."""
        return self.words.text()

    def heightForWidth(self, width: int) -> int:
        bar = self.verticalScrollBar()  # which keeps its room once it was there, as long as the words need it beside it
        beside = bar.sizeHint().width() if bar else 0
        return self.words.heightForWidth(max(width - beside, 1)) if self.text() else 0

    def sizeHint(self) -> QSize:
        return QSize(self.words.minimumSizeHint().width(), self.heightForWidth(max(self.width(), 1)))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if event is None or event.oldSize().width() != self.width():
            self.updateGeometry()

    def minimumSizeHint(self) -> QSize:
        lines = min(self.LEAST_LINES * self.fontMetrics().lineSpacing(), self.heightForWidth(max(self.width(), 1)))
        return QSize(0, lines)


class SmallPrint(QWidget):
    """What a result takes for granted or leaves out: all of it where there is room, else a line to press for it."""

    def __init__(self, text: str, short: str = "What this takes for granted", more: str = "") -> None:
        """`short`: what the line says; `more`: what is read on the card and where the pointer rests only."""
        super().__init__()
        self.more = ""
        self.words = Words(text, name="quiet", wrap=True)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.line = QPushButton(f"{short}: read")
        self.line.setObjectName("plain")
        for part in (self.words, self.line):
            part.setParent(self)
        self.line.clicked.connect(self._open)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        self.say(text, more)

    def say(self, text: str, more: str = "") -> None:
        """Say something else."""
        self.words.setText(text)
        self.more = more
        self.setToolTip(f"{text} {more}".strip())
        self.updateGeometry()
        self._lay()

    def text(self) -> str:
        """What it says where there is room."""
        return self.words.text()

    def sizeHint(self) -> QSize:
        wide = max(self.width(), self.line.sizeHint().width())
        return QSize(wide, max(self.words.heightForWidth(wide), self.line.sizeHint().height()))

    def minimumSizeHint(self) -> QSize:
        return self.line.minimumSizeHint()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if event is None or event.oldSize().width() != self.width():
            self.updateGeometry()
        self._lay()

    def _lay(self) -> None:
        whole = self.words.heightForWidth(self.width()) <= self.height()
        for part, shown in ((self.words, whole), (self.line, not whole)):
            part.setVisible(shown)
        self.words.setGeometry(self.rect())
        self.line.setGeometry(QRect(QPoint(), QSize(self.width(), self.line.sizeHint().height())))

    def _open(self) -> None:
        card = card_over(self, tuple(filter(None, (self.text(), self.more))))
        card.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        card.move(self.mapToGlobal(QPoint(0, -card.height())))
        card.show()


def card_over(owner: QWidget, paragraphs: tuple[str, ...], head: str = "") -> QFrame:
    """A card with words to read over the window, gone at a press beside it."""
    card = QFrame(owner.window(), Qt.WindowType.Popup)
    card.setObjectName("card")
    box = QVBoxLayout(card)
    if head:
        box.addWidget(Words(head, name="head"))
    for text in paragraphs:
        label = Words(text, wrap=True)
        label.setFixedWidth(CARD_PX)
        box.addWidget(label)
    card.adjustSize()
    return card
