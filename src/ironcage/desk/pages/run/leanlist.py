"""What an end does as the car leans: a row for each lean."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ironcage.core.answers.run.clearance import Clearance
from ironcage.core.answers.run.leans import LeanAnswer
from ironcage.core.answers.run.tyreroom import TyreRoom
from ironcage.core.calc.linkage.leaning import Leaning
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import ScrolledWords

BOTH = "Of the left and of the right wheel"


@dataclass(frozen=True)
class LeanRow:
    """An end at one lean, by its place in what was worked out."""

    of: Leaning
    n: int

    @property
    def words(self) -> str:
        """Which way the car leans, and how far."""
        lean = math.degrees(float(self.of.lean[self.n]))
        return f"{abs(lean):.1f}°{'' if abs(lean) < 1e-9 else ' left' if lean > 0 else ' right'}"


class LeanList(QWidget):
    """The leans of one end, and under them how far the car leans in a turn."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.list = Grid("The end as the car leans", self._columns(), lambda r: r.words, wraps=0, needs=3)
        self.list.say_when_empty("These wheels can’t lean against the car: a carrier, a fork, or a beam that stays.")
        self.said = ScrolledWords("How far the car leans, and what room there is")
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.list, 1)
        box.addWidget(self.said, 1)

    def _columns(self) -> tuple[Column, ...]:
        return (
            Column("leans", lambda r: r.words, tip="With its left side down, or its right side"),
            Column("camber", lambda r: _both(r.of.camber[r.n], 1), True, tip=f"{BOTH}, against the ground, degrees"),
            Column("roll centre", lambda r: self._length(r.of.height[r.n]), True, tip="Over the ground"),
            Column("aside", lambda r: self._length(r.of.aside[r.n]), True, tip="The roll centre, left of the middle"),
            Column("toe in", lambda r: _both(r.of.toe_in[r.n], 2), True, tip=f"{BOTH}, degrees"),
        )

    def _length(self, value: float) -> str:
        return "–" if math.isnan(value) else self.session.units.length(round(float(value), 3) + 0.0, unit=False)

    def show_leans(
        self, found: LeanAnswer | None, axle: str, clear: Sequence[Clearance], room: TyreRoom | None
    ) -> None:
        """The leans of an end; nothing where none are worked out."""
        of = found.ends.get(axle) if found else None
        self.list.show_rows([LeanRow(of, n) for n in range(len(of.lean))] if of else [])
        words = (self._words(found), self._clear(clear), self._room(room)) if found else ()
        self.said.setText(" ".join(filter(None, words)))

    def _room(self, room: TyreRoom | None) -> str:
        """What a tub or an arch has to leave free."""
        if room is None:
            return ""
        length = self.session.units.length
        return (
            f"The {room.name} takes {length(room.ahead)} ahead and {length(room.behind)} behind its axle, "
            f"{length(room.inside)} to {length(room.outside)} beside the middle, {length(room.top)} over the ground, "
            f"and {length(room.margin)} around."
        )

    def _clear(self, clear: Sequence[Clearance]) -> str:
        """What is lowest over the ground, at ride height and at full travel up."""
        if not clear:
            return ""
        units, least = self.session.units, min(clear, key=lambda of: of.height)
        told = f"Over the ground {units.length(clear[0].height)} ({clear[0].lowest})"
        if least is clear[0]:
            return f"{told}."
        return f"{told}; {least.which}, {units.length(least.height)} ({least.lowest})."

    def _words(self, found: LeanAnswer) -> str:
        if found.car is None:
            return "Lean for each g: both ends’ springs and weights are needed."
        units, car = self.session.units, found.car
        moved = " and ".join(
            f"{units.force(force)} at the {end}" for force, end in zip(car.transfer, ("front", "rear"), strict=True)
        )
        return f"Leans {math.degrees(car.per_g):.2f}° for each g, which moves {moved} outwards."


def _both(pair: tuple[float, float], places: int) -> str:
    """The left and the right wheel's angle."""
    return " / ".join("–" if math.isnan(v) else f"{round(math.degrees(v), places) + 0.0:.{places}f}" for v in pair)
