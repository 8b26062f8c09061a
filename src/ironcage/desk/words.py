"""A label for words that may hold what a builder typed."""

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QLabel

AWAITED = " …"  # behind what is being worked out again


class Words(QLabel):
    """Shows text as it is: a job called `<b>` is not taken for mark-up."""

    def __init__(self, text: str = "", *, name: str = "", wrap: bool = False) -> None:
        """`name` is the style sheet's name for it; `wrap` lets it take several lines."""
        super().__init__(text)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setObjectName(name)
        self.setWordWrap(wrap)


class SmallPrint(Words):
    """Words that take the room that is left and give way where there is none; all of them where the pointer rests."""

    def __init__(self, text: str) -> None:
        super().__init__(text, name="quiet", wrap=True)
        self.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.setToolTip(text)

    def hasHeightForWidth(self) -> bool:
        return False

    def minimumSizeHint(self) -> QSize:
        return QSize(0, 0)
