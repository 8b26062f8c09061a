"""A box to choose from that leaves letters and digits to the line and the steps, as everything else in the window
does."""

from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QComboBox


class Pick(QComboBox):
    """Arrows, Space and Return work as usual; a letter does not choose what begins with it, for it was meant for the
    line."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event and event.text().strip() and event.text().isprintable():
            event.ignore()
        else:
            super().keyPressEvent(event)
