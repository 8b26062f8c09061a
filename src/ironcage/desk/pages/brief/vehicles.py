"""Vehicles that this one is compared with: what is known of each beside what this one is now."""

from typing import Any

from PyQt6.QtWidgets import QWidget

from ironcage.core.answers.brief.aims import Compared
from ironcage.core.job.text import Done, understand
from ironcage.core.job.text.plans import AGAINST_EXAMPLE, COMPARED
from ironcage.core.job.values.model import Job
from ironcage.desk.pages.page import button, column, row
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words
from ironcage.problem import Problem


class VehicleList(QWidget):
    """One list: this vehicle first, then the others, each figure with how much more this one has."""

    def __init__(self, session: Session, typing: Any) -> None:
        super().__init__()
        self.session = session
        self.mine: Compared | None = None
        self.list = Grid(
            "Vehicles",
            (
                Column("vehicle", lambda v: v.name),
                *(
                    Column(kind, self._shown(kind), True, self._change(kind), unit=self._unit(kind))
                    for kind in COMPARED
                ),
                Column(
                    "wheelbase / track",
                    lambda v: "" if v.slim is None else f"{v.slim:.2f}",
                    True,
                    tip="Wheelbase by front track: the larger, the calmer it runs straight and the wider it turns",
                ),
            ),
            lambda v: v.name,
            session.do,
            needs=2,
        )
        self.empty = Words(
            "No other vehicle is beside this one yet. Measure some, or take their figures from a brochure, and see how "
            "long, wide and heavy this one is among them.",
            name="hint",
            wrap=True,
        )
        tools = row(
            button(
                "Compare with…",
                lambda: typing(AGAINST_EXAMPLE),
                "Starts a line to finish (against NAME: figure, figure)",
            ),
            button("Remove it", self._let_go, "Stop comparing with the picked one (against NAME gone)"),
        )
        self.how = Words(
            "In brackets: how much more (+) or less (−) this vehicle has. Type into a cell to change it.", name="quiet"
        )
        inner = column(tools, self.empty, self.list, self.how)
        inner.setStretch(2, 1)
        inner.setContentsMargins(0, 4, 0, 0)
        self.setLayout(inner)

    def _unit(self, kind: str) -> Any:
        def read() -> str:
            units = self.session.units
            return units.mass_unit if kind == "mass" else units.length_name

        return read

    def _number(self, kind: str, value: float) -> str:
        units = self.session.units
        return units.mass(value, unit=False) if kind == "mass" else units.length(value, unit=False)

    def _shown(self, kind: str) -> Any:
        def read(v: Compared) -> str:
            value = v.values.get(kind)
            if value is None:
                return ""
            shown = self._number(kind, value)
            mine = self.mine.values.get(kind) if self.mine else None
            if v.own or mine is None:
                return shown
            more = self._number(kind, abs(mine - value))
            return f"{shown}  ({'+' if mine >= value else '−'}{more})"

        return read

    def _change(self, kind: str) -> Any:
        def change(job: Job, v: Compared, text: str) -> Done:
            if v.own:
                raise Problem(
                    f"This vehicle’s {kind} follows from the job.",
                    where=kind,
                    hint="Aims and datums says what is wanted.",
                )
            return understand(f"against {v.name}: {kind} {text.partition('(')[0].strip() or 'none'}", job)

        return change

    def _let_go(self) -> None:
        picked: Compared | None = self.list.picked
        if picked is None or picked.own:
            self.session.told.emit("Pick another vehicle in the list first.", True)
        else:
            self.session.press(f"against {picked.name} gone")

    def show_vehicles(self, vehicles: tuple[Compared, ...]) -> None:
        """Show all; nothing where there is no other."""
        self.mine = next((v for v in vehicles if v.own), None)
        self.empty.setVisible(not vehicles)
        self.list.setVisible(bool(vehicles))
        self.how.setVisible(bool(vehicles))
        self.list.show_rows(vehicles)
