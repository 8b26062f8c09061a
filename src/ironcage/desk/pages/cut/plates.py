"""Plates: every plate of the fittings, laid out on the sheets that are bought for them."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout

from ironcage.core.answers.cut.sheets import HOW, Plate, SheetPlates, find_sheets
from ironcage.core.exchange.plate import nested
from ironcage.core.job.text.buying import PLATES_EXAMPLE
from ironcage.desk.asker import Question
from ironcage.desk.pages.latertabs import ListTab
from ironcage.desk.pages.page import button, column, heading, row
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.widgets.sheetview import SheetView
from ironcage.desk.words import SmallPrint, Words


class PlatesTab(ListTab):
    """What sheet to buy and its plates on the left, the sheets drawn on the right."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.groups: tuple[SheetPlates, ...] = ()
        self.buy = Grid("Sheet to buy", self._buy_columns(), _key)
        self.plates = Grid("Plates to cut", self._plate_columns(), lambda p: p.name)
        self.buy.say_when_empty("No plates yet: gussets, tabs, panels and fish plates of Frame are cut from sheet.")
        self.buy.chose.connect(lambda keys: self._show(keys[-1] if keys else ""))
        self.plates.chose.connect(lambda keys: session.choose(tuple(key.split(".")[0] for key in keys)))
        self.sum = Words(name="hint", wrap=True)
        self.view = SheetView()
        left = column(
            heading("Sheet to buy"),
            self.buy,
            self.sum,
            heading("Plates to cut"),
            self.plates,
            SmallPrint(HOW),
            row(
                button(
                    "Sheet size…",
                    lambda: self.typing.emit(PLATES_EXAMPLE),
                    "In which size sheet is bought, gap and edge (plates)",
                ),
                button(
                    "All as DXF…", lambda: self.export.emit("plates-dxf", ""), "Every sheet with its plates, at 1:1"
                ),
            ),
        )
        left.setStretch(1, 1)
        left.setStretch(4, 2)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(10)
        box.addLayout(left, 5)
        box.addLayout(column(self.view), 6)

    def _buy_columns(self) -> tuple[Column, ...]:
        return (
            Column("thick", lambda s: self.session.units.sizes(s.thickness), True, unit=self.length_name),
            Column("material", lambda s: s.material),
            Column("plates", lambda s: str(len(s.plates)), True),
            Column("sheets", lambda s: str(len(s.layout.sheets)) if s.layout else "✗", True),
            Column("used", lambda s: f"{s.used:.0%}" if s.layout else "", True, tip="What of the sheets is plate"),
            Column("mass", lambda s: self.units.mass(s.kg, unit=False) if s.layout else "", True, unit=self.mass_name),
            Column("why not", lambda s: self.units.say(s.problem)),
        )

    def _plate_columns(self) -> tuple[Column, ...]:
        def size(plate: Plate) -> str:
            return " x ".join(self.units.length(side, unit=False) for side in plate.size)

        return (
            Column("plate", lambda p: p.name),
            Column("kind", lambda p: p.kind),
            Column("round it", size, tip="The smallest rectangle round the plate", unit=self.length_name),
            Column("holes", lambda p: str(len(p.holes) or ""), True),
        )

    def question(self) -> Question:
        return find_sheets

    def show_result(self, groups: tuple[SheetPlates, ...]) -> None:
        """The sheets, or nothing where there are none."""
        self.groups = groups
        self.buy.show_rows(groups, frozenset(_key(s) for s in groups if s.problem))
        laid = [s for s in groups if s.layout]
        least = sum(s.layout.bound for s in laid if s.layout)
        count = sum(len(s.layout.sheets) for s in laid if s.layout)
        width, height = (self.units.length(side, unit=False) for side in self.session.job.buying.sheet)
        self.sum.setText(
            f"{count} sheets of {width} x {height} {self.units.length_name}, "
            f"{self.units.mass(sum(s.kg for s in laid))}; by area alone at least {least}."
            if laid
            else ""
        )
        picked = self.buy.picked
        self._show(_key(picked) if picked else "")

    def _show(self, key: str) -> None:
        """List and draw the plates of a picked material and thickness, or of the first."""
        found = next((s for s in self.groups if _key(s) == key), self.groups[0] if self.groups else None)
        self.plates.show_rows(found.plates if found else ())
        drawn = nested(self.session.job, found) if found and found.layout else None
        self.view.show_sheet(drawn, "Sheets show here when there are plates.")


def _key(of: SheetPlates) -> str:
    return f"{of.material} {of.thickness}"
