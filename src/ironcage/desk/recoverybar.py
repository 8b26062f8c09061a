"""A strip that offers work left behind by a program that stopped without saving."""

from datetime import datetime

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from ironcage.core.job.store.journal import Recovered
from ironcage.desk.words import Words


class RecoveryBar(QWidget):
    """Signals: opened(what was found), dropped(what was found)."""

    opened = pyqtSignal(object)
    dropped = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("steel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.words = Words()
        self.open, self.drop = QPushButton("Open it"), QPushButton("Throw it away")
        box = QHBoxLayout(self)
        box.setContentsMargins(8, 3, 8, 3)
        box.addWidget(self.words, 1)
        box.addWidget(self.open)
        box.addWidget(self.drop)
        self.open.clicked.connect(lambda: self.opened.emit(self._found[0]))
        self.drop.clicked.connect(lambda: self.dropped.emit(self._found[0]))
        self._found: list[Recovered] = []
        self.hide()

    def offer(self, found: list[Recovered]) -> None:
        """Offer the newest of several, or go away."""
        self._found = found
        self.setVisible(bool(found))
        if found:
            newest = found[0]
            at = datetime.fromtimestamp(newest.when).strftime("%d %B, %H:%M")
            more = f" ({len(found) - 1} older)" if len(found) > 1 else ""
            edits = "1 edit" if newest.edits == 1 else f"{newest.edits} edits"
            self.words.setText(f"‘{newest.job.brief.name}’ was left unsaved on {at}, {edits} ahead of its file{more}.")
