"""Turned: bushes, spacers, adapters and pins for the lathe, and what fittings ask for, in batches."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from ironcage.core.answers.cut.turned import HOW, TurnedAnswer, TurnedRow, find_turned
from ironcage.core.calc.tubes.fits import Limits
from ironcage.core.job.text.cutting import TURNED_EXAMPLE
from ironcage.desk.asker import Question
from ironcage.desk.pages.latertabs import ListTab
from ironcage.desk.pages.page import button, column, row
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import SmallPrint, Words

WIDEST = "H7 25.022–25.035"


class TurnedTab(ListTab):
    """One list of batches."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.list = Grid("Turned parts", self._columns(), lambda r: r.name, needs=5)
        self.list.say_when_empty(
            "Nothing to turn yet: crush tubes and stepped inserts of Frame come here by themselves, bushes and spacers "
            "by a line."
        )
        self.list.chose.connect(self._choose)
        self.sum = Words(name="hint")
        inner = column(
            row(
                button("Turn…", lambda: self.typing.emit(TURNED_EXAMPLE), "Starts a line to finish (turned)"),
                button("Take off", self._take_off, "Take the picked part off the list (turned NAME gone)"),
                button("List…", lambda: self.export.emit("turned-csv", ""), "Every batch as CSV"),
                button("Drawings…", lambda: self.export.emit("turned-pdf", ""), "Every batch at 1:1 with its limits"),
                self.sum,
            ),
            self.list,
            SmallPrint(HOW),
        )
        inner.setStretch(1, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.addLayout(inner)

    def _columns(self) -> tuple[Column, ...]:
        fine = self.units_fine
        return (
            Column("part", lambda r: r.name),
            Column("pieces", lambda r: str(r.count * r.cars), True, tip="For all cars"),
            Column("outside", lambda r: fine(r.od), True, unit=self.length_name),
            Column(
                "fit", lambda r: self._limits(r.od_limits), tip="What the outside may measure", room=WIDEST, whole=True
            ),
            Column("bore", lambda r: fine(r.bore) if r.bore else "", True, unit=self.length_name),
            Column(
                "reamed",
                lambda r: self._limits(r.bore_limits),
                tip="What the bore may measure",
                room=WIDEST,
                whole=True,
            ),
            Column("length", lambda r: self.units.length(r.length, unit=False), True, unit=self.length_name),
            Column("step", self._step, tip="Another outside over so much of its length"),
            Column("material", lambda r: r.material),
            Column("bar", lambda r: self.units.length(r.stock, unit=False), True, unit=self.length_name),
            Column("for", lambda r: ", ".join(r.of) or self.units.say(r.problem)),
        )

    def units_fine(self, mm: float) -> str:
        """A size without its unit."""
        return self.units.fine(mm, unit=False)

    def _limits(self, limits: Limits | None) -> str:
        if limits is None:
            return ""
        least, most = (self.units.limit(v, unit=False) for v in (limits.least, limits.most))
        return f"{limits.name} {least}–{most}"

    def _step(self, r: TurnedRow) -> str:
        if r.step is None:
            return ""
        return f"{self.units_fine(r.step[0])} over {self.units.length(r.step[1], unit=False)}"

    def question(self) -> Question:
        return find_turned

    def show_result(self, told: TurnedAnswer | None) -> None:
        """The batches, or nothing where there are none."""
        rows = told.rows if told else ()
        self.list.show_rows(rows, frozenset(r.name for r in rows if r.problem))
        many = sum(r.count * r.cars for r in rows)
        self.sum.setText(
            f"{many} pieces, about {told.hours:.1f} h at {told.minutes:g} minutes each" if told and rows else ""
        )

    def _choose(self, keys: tuple[str, ...]) -> None:
        """Choose the fittings that a batch is for."""
        picked: TurnedRow | None = self.list.picked
        if picked and picked.of:
            self.session.choose(picked.of)

    def _take_off(self) -> None:
        picked: TurnedRow | None = self.list.picked
        if picked is None or picked.of:
            said = (
                "Pick a part that was typed." if picked is None else f"{picked.name} come with {', '.join(picked.of)}."
            )
            self.session.told.emit(said, True)
        else:
            self.session.press(f"turned {picked.name} gone")
