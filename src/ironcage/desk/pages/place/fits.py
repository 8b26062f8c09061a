"""Who fits: several statures in every seat, in the job as it is and in its variants, side by side in one list."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QLabel, QLineEdit, QWidget

from ironcage.core.answers.place.compared import Compared
from ironcage.core.calc.car.mannequin import STATURES, Limbs
from ironcage.desk.pages.page import column, row
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words
from ironcage.problem import Problem
from ironcage.units.shown import angle

USUAL_MM = (1510.0, 1740.0, 1860.0)
SHOWN = ("helmet to hoop line", "helmet to tubes", "shoulder room", "elbow room", "knee room", "foot room")


class FitList(QWidget):
    """Statures to be typed, and the list of everybody compared. Signal: asked() when the statures have changed."""

    asked = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.statures: tuple[float, ...] = ()  # mm
        self.line = QLineEdit()
        self.line.setAccessibleName("Statures to compare")
        self.line.returnPressed.connect(self._take)
        self.refused = Words(name="refused", wrap=True)
        self.refused.hide()
        self.list = Grid("Who fits", self._columns(), lambda c: f"{c.state} {c.seat} {c.stature}", needs=4)
        box = column(row(QLabel("Compare statures"), self.line, stretch=False), self.refused, self.list)
        box.setStretch(2, 1)
        box.setContentsMargins(0, 0, 0, 0)
        self.setLayout(box)
        self.show_compared(())

    def _columns(self) -> tuple[Column, ...]:
        def length(mm: float | None) -> str:
            return "" if mm is None else self.session.units.length(mm, unit=False)

        def reading(name: str) -> Column:
            return Column(name, lambda c: length(_value(c, name)), True, unit=self._length_name)

        return (
            Column("state", lambda c: c.state),
            Column("seat of", lambda c: c.seat),
            Column("stature", lambda c: length(c.stature), True, unit=self._length_name),
            Column("least room", lambda c: length(c.room), True, tip="The least of the rooms", unit=self._length_name),
            Column("does not reach", lambda c: ", ".join(c.told.short) or ""),
            *map(reading, SHOWN),
            Column("eyes over nose", _angle, True),
        )

    def _length_name(self) -> str:
        return self.session.units.length_name

    def show_job(self) -> None:
        """What is said in the empty line, in the builder's units."""
        units = self.session.units
        usual = ", ".join(units.length(mm, unit=False) for mm in USUAL_MM)
        self.line.setPlaceholderText(f"for example {usual}, then Enter")

    def _take(self) -> None:
        """Compare the statures that are typed; none of them ends it."""
        units = self.session.units
        try:
            self.statures = tuple(units.read_length(word) for word in self.line.text().split(",") if word.strip())
            for mm in self.statures:
                Limbs.of_stature(mm)
        except Problem as problem:
            least, most = (units.length(mm) for mm in STATURES)
            self.refused.setText(f"{problem.read_in(units)} Statures are from {least} to {most}, with commas between.")
            self.refused.show()
            return
        self.refused.hide()
        self.asked.emit()

    def show_compared(self, compared: tuple[Compared, ...]) -> None:
        """Show everybody; those who do not fit as wrong."""
        wrong = frozenset(self.list.key(c) for c in compared if c.told.short or (c.room is not None and c.room < 0))
        self.list.setVisible(bool(compared))
        self.list.show_rows(compared, wrong)


def _value(compared: Compared, name: str) -> float | None:
    found = compared.told.reading(name)
    return found.value if found else None


def _angle(compared: Compared) -> str:
    value = _value(compared, "eyes over nose")
    return "" if value is None else angle(value)
