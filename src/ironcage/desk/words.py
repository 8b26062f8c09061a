"""A label for words that may hold what a builder typed."""

from PyQt6.QtCore import Qt
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
