"""The tally: figures that never leave the eye, their difference from the mark, and where each comes from."""

import re

from PyQt6.QtCore import QPoint, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QResizeEvent
from PyQt6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QLabel, QPushButton, QSizePolicy, QWidget

from ironcage.core.answers.shared.figures import Figure, difference, shown
from ironcage.desk.look import text_font
from ironcage.desk.words import card_over
from ironcage.units import Units

GREY_MS = 60
NAME_EDGES_PX = 16  # beside the name of a figure
EDGE_PX = 8  # between a card and the screen's edge


class Dial(QPushButton):
    """One figure: big number, small unit and name, difference from the mark."""

    def __init__(self, label: str) -> None:
        super().__init__()
        self.setObjectName("plain")
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._fitted: tuple[int, float, str] | None = None
        self.name, self.number, self.unit, self.change = QLabel(label), QLabel("–"), QLabel(), QLabel()
        for part in (self.name, self.number, self.unit, self.change):
            part.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.name.setObjectName("quiet")
        self.unit.setObjectName("quiet")
        self.change.setObjectName("head")
        box = QGridLayout(self)
        box.setContentsMargins(6, 3, 2, 3)
        box.setSpacing(0)
        box.addWidget(self.name, 0, 0, 1, 2)
        box.addWidget(self.number, 1, 0, 1, 2)
        box.addWidget(self.unit, 2, 0)
        box.addWidget(self.change, 2, 1)
        box.setColumnStretch(1, 1)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Expanding)
        for part in (self.name, self.number, self.change):
            part.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def sizeHint(self) -> QSize:
        return self.layout().sizeHint()

    def fit(self, room: int) -> None:
        """Make the number as large as a width in pixels allows, and the name no wider than that."""
        ideal = self.font().pointSizeF() * 2.0
        for_what = room, ideal, max(self.number.text(), "2300.00", key=len)
        if for_what != self._fitted:
            self._fitted = for_what
            wide = QFontMetrics(text_font(ideal, bold=True)).horizontalAdvance(for_what[2])
            self.number.setFont(text_font(ideal * min(1.0, max(room - 10, 40) / wide), bold=True))
            plain = self.font().pointSizeF()
            wide = QFontMetrics(text_font(plain)).horizontalAdvance(self.name.text())
            self.name.setFont(text_font(plain * min(1.0, max(room - NAME_EDGES_PX, 40) / wide)))

    def say(self, number: str, unit: str, change: str = "") -> None:
        """Show a figure."""
        self.number.setText(number)
        self.unit.setText(f"{unit}  " if unit else "")
        self.change.setText(change)
        self.number.setEnabled(True)
        self.setAccessibleName(f"{self.name.text()} {number} {unit}".strip())


def _parted(text: str) -> tuple[str, str]:
    """`78.3 kg` as number and unit, `54 3/8" ±1/32` as reading and what it may be off."""
    cut = re.match(r'^(.*") (±.*)$', text) or re.match(r"^(\S*\d) ([^\d±].*)$", text)
    return (cut[1], cut[2]) if cut else (text, "")


class Tally(QWidget):
    """Signals: went(step) when a figure is clicked; snags() when the snag count is, aged() when newer
    figures have been awaited for long enough to be missed."""

    went = pyqtSignal(str)
    snags = pyqtSignal()
    aged = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("steel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._box = QHBoxLayout(self)
        self._box.setContentsMargins(4, 0, 4, 0)
        self._box.setSpacing(0)
        self.dials: dict[str, Dial] = {}
        self._figures: dict[str, Figure] = {}
        self.count = Dial("snags")
        self.count.clicked.connect(self.snags)
        self.count.setToolTip("Everything that is wrong or unknown, the worst first   F3")
        self._box.addWidget(self.count, 1)
        self._card: QFrame | None = None
        self._old: set[str] = set()  # figures that newer ones are awaited of
        self._greying = QTimer(self)
        self._greying.setSingleShot(True)
        self._greying.setInterval(GREY_MS)
        self._greying.timeout.connect(self._grey)

    def show_figures(self, now: tuple[Figure, ...], mark: tuple[Figure, ...], units: Units) -> None:
        """Show figures and their differences from those at the mark."""
        before = {f.key: f for f in mark}
        self._old -= {f.key for f in now}
        self._figures |= {f.key: f for f in now}
        for figure in now:
            if figure.key not in self.dials:
                dial = Dial(figure.label)
                dial.clicked.connect(lambda _=False, key=figure.key: self.explain(key))
                self.dials[figure.key] = dial
                self._box.insertWidget(len(self.dials) - 1, dial, 1)
            change = difference(figure, before[figure.key], units) if figure.key in before else ""
            self.dials[figure.key].say(*_parted(shown(figure, units)), _parted(change)[0])
            self.dials[figure.key].setToolTip(figure.missing if figure.value is None else "Where from?")
        self.fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.fit()

    def fit(self) -> None:
        """Fit the numbers to the width there is."""
        room = self.width() // (len(self.dials) + 1)
        for dial in (*self.dials.values(), self.count):
            dial.fit(room)

    def show_old(self) -> None:
        """Grey the figures until newer ones come, if those take long enough to be missed."""
        self._old = set(self.dials)
        self._greying.start()

    def _grey(self) -> None:
        for key in self._old:
            self.dials[key].number.setEnabled(False)
        self.count.number.setEnabled(False)
        self.aged.emit()

    def show_count(self, wrong: int, others: int) -> None:
        """Show how many snags there are."""
        self.count.say(str(wrong + others), f"{wrong} wrong" if wrong else "none wrong")

    def explain(self, key: str) -> None:
        """Open a card that says where a figure comes from, and go to its step."""
        figure = self._figures[key]
        self.went.emit(figure.step)
        self.hide_card()
        origin = figure.origin
        lines = [
            ("formula", origin.formula),
            ("from", origin.inputs),
            ("assumed", origin.assumed),
            ("source", origin.source),
        ]
        if figure.value is None:
            lines.insert(0, ("not known", figure.missing))
        card = card_over(self, tuple(f"{name}: {text}" for name, text in lines), f"Where from: {figure.label}")
        dial = self.dials[key]
        at = dial.mapToGlobal(QPoint(0, dial.height()))
        room = self.screen().availableGeometry()
        card.move(
            max(min(at.x(), room.right() - card.width() - EDGE_PX), room.left()),
            max(min(at.y(), room.bottom() - card.height() - EDGE_PX), room.top()),
        )
        card.show()
        self._card = card

    def hide_card(self) -> None:
        """Close the open card."""
        if self._card:
            self._card.close()
            self._card.deleteLater()
            self._card = None
