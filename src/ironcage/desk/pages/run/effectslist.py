"""What moving each point does to the figure whose curve is shown; and points that may move so that bands are met."""

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QLabel, QLineEdit, QVBoxLayout, QWidget

from ironcage.core.answers.run.effects import PointEffect
from ironcage.core.answers.run.figures import Figure
from ironcage.core.answers.run.tuning import Move, Tuned
from ironcage.desk.pages.page import button, row
from ironcage.desk.pages.run.quantities import by_mm
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.units import Units

USUAL_BOX_MM = 10.0


class EffectsList(QWidget):
    """A row for each point. Signal: meets(points by their words, box as typed) asks for points to be moved so that the
    bands of this end are met. figure: gives the one whose curve is shown."""

    meets = pyqtSignal(tuple, str)

    def __init__(self, session: Session, figure: Callable[[], Figure]) -> None:
        super().__init__()
        self.session, self.figure = session, figure
        self.picked: tuple[str, ...] = ()
        self.list = Grid("What each point does", self._columns(), lambda e: e.point, wraps=0, needs=4)
        self.list.chose.connect(self._choose)
        self.list.say_when_empty(
            "What moving each point does is told where wheels hang and their links reach. An axle that slides has none."
        )
        self.reach, self.box = QLabel(), QLineEdit()
        self.box.setAccessibleName("How far a point may move along each axis")
        self.box.setFixedWidth(72)
        self.box.returnPressed.connect(self._meet)
        self.button = button(
            "Meet the bands",
            self._meet,
            "Move the picked points, each within so far along each axis, by as little as brings the figures into their "
            "bands; it can be stopped, and undone",
        )
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.list, 1)
        box.addLayout(row(self.reach, self.box, self.button))
        self.show_units(session.units)

    def _columns(self) -> tuple[Column, ...]:
        """What a millimetre of each point along each axis does to the figure whose curve is shown."""
        ways = (("x", "forward"), ("y", "to the left"), ("z", "up"))
        return (
            Column("point", lambda e: f"{e.point} {e.joint}".strip()),
            *(
                Column(axis, partial(self._effect, n), True, tip=partial(self._tip, way))
                for n, (axis, way) in enumerate(ways)
            ),
        )

    def _effect(self, axis: int, effect: PointEffect) -> str:
        figure = self.figure()
        return "" if figure.sprung else by_mm(figure, self.session.units, float(figure.value(effect.per_mm)[axis]))

    def _tip(self, way: str) -> str:
        return (
            f"What {self.session.units.length(1.0)} {way} does to the figure whose curve is shown, as it counts there"
        )

    def show_units(self, units: Units) -> None:
        """Ask for the box in the builder's units; a size that was typed stays."""
        self.reach.setText(f"Within, {units.length_name}")
        if not self.box.isModified():
            self.box.setText(units.length(USUAL_BOX_MM, unit=False))

    def _choose(self, keys: tuple[str, ...]) -> None:
        self.picked = keys
        joints = tuple(e.joint for e in self.list.model.rows if e.point in keys and e.joint)
        if joints:
            self.session.choose(joints)

    def _meet(self) -> None:
        self.meets.emit(self.picked, self.box.text())


def tuned_words(found: Tuned, units: Units) -> str:
    """What was moved, and which bands are met by it."""
    left = [k for k in found.after if k.off > 0]
    told = [f"{k.figure.name} is still {units.say(k.figure.words(k.value))}, not {units.say(k.words)}" for k in left]
    return f"{_moved(found.moves, units)}. {'; '.join(told).capitalize() if told else 'All bands are kept'}."


def _moved(moves: Sequence[Move], units: Units) -> str:
    if not moves:
        return "Nothing was moved"
    told = []
    for move in moves:
        ways = (
            f"{axis}{'−' if v < 0 else '+'}{units.fine(abs(v), unit=False)}"
            for axis, v in zip("xyz", move.by, strict=True)
            if v
        )
        told.append(f"{move.point} {' '.join(ways)}")
    return f"Moved {'; '.join(told)}"
