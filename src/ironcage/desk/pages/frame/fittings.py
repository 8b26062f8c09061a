"""Sheet and fittings: the list, what each is cut from, and the start of a new one."""

from collections.abc import Mapping

from PyQt6.QtWidgets import QMenu, QPushButton, QVBoxLayout

from ironcage.core.answers import prove
from ironcage.core.answers.frame import find_pivots, materials
from ironcage.core.answers.frame.pivots import Pivot
from ironcage.core.answers.shared.fitted.shop import Fitted
from ironcage.core.answers.shared.fittings import ASSUMED
from ironcage.core.job.text import Done, understand
from ironcage.core.job.text.fitting import fitting_text
from ironcage.core.job.values.fittings import EXAMPLES, KINDS
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.pages.frame.tab import FrameShown, FrameTab
from ironcage.desk.pages.page import button, row
from ironcage.desk.pick import Pick
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words
from ironcage.units.shown import angle


class FittingsTab(FrameTab):
    """Sheet and fittings, and the start of a line for a new one."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.costs: Mapping[str, float] = {}
        self.list = Grid("Sheet and fittings", self._columns(), lambda f: f.id, session.do)
        self.list.chose.connect(session.choose)
        self.pivots = Words(name="quiet")
        self.kinds = Pick()
        self.kinds.setAccessibleName("Kind of a new fitting")
        for kind, form in KINDS.items():
            self.kinds.addItem(kind)
            self.kinds.setItemData(
                self.kinds.count() - 1, " ".join((form.__doc__ or "").split()), 3
            )  # Qt.ItemDataRole.ToolTipRole
        self.new = button(
            "Start its line",
            lambda: self.typing.emit(EXAMPLES[self.kinds.currentText()]),
            "Put an example of that kind below, to be changed",
        )
        self.gone = button(
            "Take away", lambda: session.press("delete"), "Take the chosen fittings away, on both sides (delete)"
        )
        self.files = QPushButton("Files")
        menu = QMenu(self.files)
        menu.addAction("List of sheet and fittings…", lambda: self.export.emit("fittings-csv", ""))
        menu.addAction("Plate of the chosen fitting, DXF…", lambda: self._plate("fitting-dxf"))
        menu.addAction("Plate of the chosen fitting on paper, 1:1…", lambda: self._plate("fitting-pdf"))
        self.files.setObjectName("menu")
        self.files.setMenu(menu)
        self.sum = Words(name="quiet")
        self.hint = Words(name="hint", wrap=True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row(self.kinds, self.new, self.gone, self.files, self.sum, self.pivots))
        box.addWidget(self.hint)
        box.addWidget(self.list, 1)

    def _columns(self) -> tuple[Column, ...]:
        return (
            Column("fitting", lambda f: f.id),
            Column("kind", lambda f: f.kind),
            Column(
                "as typed",
                self._told,
                change=self._change,
                tip="What was typed; type it again with other figures",
                room="joints J1L J2L J2R J1R, thickness 1.5, pitch 40",
            ),
            Column("cut or buy", self._cut, room="8 holes of 80, 2011 to cut, twist −0.01 %  "),
            Column("mass", lambda f: self.session.units.fine_mass(f.kg, unit=False), True, unit=self.mass_name),
            Column(
                "saved",
                lambda f: self.session.units.fine_mass(f.saved, unit=False) if f.saved else "",
                True,
                tip="What lightening holes save",
                unit=self.mass_name,
            ),
            Column(
                "weld",
                lambda f: units_of(self.session.job).length(f.weld, unit=False) if f.weld else "",
                True,
                unit=self.length_name,
            ),
        )

    def _pivots(self, found: tuple[Pivot, ...]) -> str:
        """How the holes on one pivot that are furthest out of line lie."""
        if not found:
            return ""
        p, binds = found[0], sum(p.binds for p in found)
        worst = f"{p.first} {p.second} {self.session.units.fine(p.off)} and {angle(p.lean)} out of line"
        return f"{len(found)} pivots, {f'{binds} bind' if binds else 'in line'}; at most {worst}"

    def _cut(self, fitted: Fitted) -> str:
        """What it is cut from; of holes in a panel also the share of twist stiffness that goes with them."""
        cost = self.costs.get(fitted.id)
        lost = "" if cost is None else f", twist −{100 * cost:.2f} %"
        return self.session.units.say(fitted.problem or fitted.words + lost)

    def _told(self, fitted: Fitted) -> str:
        held = self.session.job.fitting_by_id.get(fitted.id)
        return fitting_text(held, units_of(self.session.job)) if held else ""

    @staticmethod
    def _change(job: Job, fitted: Fitted, text: str) -> Done:
        return understand(f"add {fitted.id} {text}", job, (fitted.id,))

    def _plate(self, kind: str) -> None:
        chosen = [c for c in self.session.chosen if c in self.session.job.fitting_by_id]
        if chosen:
            self.export.emit(kind, chosen[0])
        else:
            self.session.told.emit("Pick a fitting of plate in the list first.", True)

    def show_chosen(self) -> None:
        self.list.show_chosen(self.session.chosen)

    def question(self) -> Question:
        return _with_costs

    def show_result(self, job: Job, shown: FrameShown) -> None:
        made, self.costs = shown.frame.fittings, shown.hole_costs
        self.list.show_rows(made, frozenset(f.id for f in made if f.problem))
        self.list.show_chosen(self.session.chosen)
        units = units_of(self.session.job)
        self.pivots.setText(self._pivots(shown.pivots))
        self.pivots.setToolTip("Two tabs whose bolts point at each other's holes are on one pivot (answer frame: all)")
        self.sum.setText(f"{len(made)} fittings, {units.mass(sum(f.kg for f in made))}" if made else "")
        self.sum.setToolTip(" ".join(ASSUMED))
        self.hint.setVisible(not made)
        self.hint.setText(
            "No sheet and no fittings yet. Choose joints or tubes, pick a kind and start its line: what is chosen "
            "need not be typed."
        )


def _with_costs(job: Job) -> FrameShown:
    return FrameShown(materials.answer(job), hole_costs=prove.twist_costs(job), pivots=find_pivots(job))
