"""Next: the braces that would stiffen most, what every tube is worth, and each a size up or down; every figure
exact, every line one press away from being done."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from ironcage.core.answers.prove import braces, worth
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.pages.page import Card, button, column, heading, row
from ironcage.desk.pages.prove.tab import ProveTab
from ironcage.desk.pick import Pick
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words
from ironcage.problem import Problem

RANKED: dict[str, Callable[[Job], tuple[braces.Brace, ...]]] = {
    "the most for its mass": braces.rank_braces,
    "the most for its money": braces.for_money,
}
AGAINST = "the most against "  # a load case, for its mass
MEASURES = (3, 4, 5)  # the columns of what they are ranked by: mass, money, a case


@dataclass(frozen=True)
class NextResult:
    """Braces or why there are none, tubes, and how much the hardest worked tube uses without each pair of tubes."""

    braces: tuple[braces.Brace, ...]
    why: str
    tubes: tuple[worth.Worth, ...]
    without: dict[tuple[str, ...], float]
    cases: tuple[str, ...]


class NextTab(ProveTab):
    """Two lists: what to add, and what is there."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.braces = Grid(
            "Braces",
            self._brace_columns(),
            lambda b: b.line,
        )
        self.first = Pick()
        self.first.setAccessibleName("Which brace comes first")
        self.first.addItems(list(RANKED))
        self.first.activated.connect(lambda _: self._rank())
        self._show_measure()
        self.unranked = Words(name="hint", wrap=True)
        self.unranked.hide()
        self.tubes = Grid(
            "What tubes are worth",
            self._tube_columns(),
            lambda w: " ".join(w.tubes),
        )
        self.braces.chose.connect(lambda _: self.decorated.emit())
        self.tubes.chose.connect(lambda keys: session.choose(tuple(n for key in keys for n in key.split())))
        self.said = Words(name="quiet", wrap=True)
        left = column(row(heading("Add a brace, first"), self.first), self.empty, self.unranked)
        left.addWidget(self.braces, 1)
        left.addLayout(row(button("Add it", self._add, "Add the brace that is picked, both sides; undo takes it back")))
        right = QVBoxLayout()
        right.addLayout(column(heading("What every tube is worth, the least first")))
        right.addWidget(self.tubes, 1)
        right.addLayout(
            row(
                button("Size up", lambda: self._size("up"), "Give the picked tubes the next larger section"),
                button("Size down", lambda: self._size("down"), "Give the picked tubes the next smaller section"),
                button("Take out", self._take_out, "Delete the picked tubes on both sides; undo brings them back"),
                self.said,
                stretch=False,
            )
        )
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(12)
        box.addLayout(left, 5)
        box.addLayout(right, 7)

    def _brace_columns(self) -> tuple[Column, ...]:
        """What is told of a brace."""
        return (
            Column("brace", lambda b: "–".join(b.joints), room="J12R–J21L"),
            Column(
                lambda: self.units.torsional_stiffness_name,
                lambda b: self._gain(b.change.torsion),
                True,
                tip="By how much the twist stiffness rises: exact",
            ),
            Column("mass", lambda b: self._mass(b.change.kg), True, unit=self.mass_name),
            Column(
                lambda: f"per {self.units.mass_unit}",
                lambda b: f"{self.units.in_torsional_stiffness(b.change.per_kg * self.units.bare_kg):.0f}",
                True,
                tip=lambda: f"{self.units.torsional_stiffness_name} for each {self.units.mass_unit}",
            ),
            Column(
                "per 1",
                self._per_money,
                True,
                tip=lambda: f"{self.units.torsional_stiffness_name} for each 1 of your money; needs a price",
            ),
            Column("gives less", self._eases, True, tip="By how much the frame gives less in the case: exact"),
            Column("in the way", lambda b: ", ".join(b.blocked) or "nothing"),
            Column(
                "money",
                lambda b: "" if b.change.money is None else f"{b.change.money:.2f}",
                True,
                tip="At the shelf's price a metre; ‘price’ sets one",
            ),
            Column("section", lambda b: b.section),
        )

    def _tube_columns(self) -> tuple[Column, ...]:
        """What is told of the tubes that are there."""
        return (
            Column("tubes", lambda w: " ".join(w.tubes)),
            Column(
                "without",
                lambda w: "falls" if w.gone.falls else self._gain(w.gone.torsion),
                True,
                tip=lambda: f"Twist stiffness without them, {self.units.torsional_stiffness_name}",
            ),
            Column("mass", lambda w: self._mass(w.gone.kg), True, unit=self.mass_name),
            Column(
                "hardest",
                self._hardest,
                True,
                tip="How much the hardest worked tube of the frame would use without them",
            ),
            *self._sized("up"),
            *self._sized("down"),
        )

    def question(self) -> Question:
        by = self.first.currentText()
        case = by.removeprefix(AGAINST) if by.startswith(AGAINST) else ""
        return partial(_advised, partial(braces.against_case, name=case) if case else RANKED[by])

    def _rank(self) -> None:
        """Another brace comes first: the pick was of the old order."""
        self.braces.list.clearSelection()
        self._show_measure()
        self.wants.emit()

    def _show_measure(self) -> None:
        """Of the columns that braces are ranked by, the one that they are."""
        shown = MEASURES[min(self.first.currentIndex(), len(MEASURES) - 1)]
        for number in MEASURES:
            self.braces.room.leave_out(number, out=number != shown)

    def _offer_cases(self, cases: tuple[str, ...]) -> None:
        """Let braces be ranked by each load case that there is, and keep what they are ranked by."""
        offered = [*RANKED, *(f"{AGAINST}{case}" for case in cases)]
        if offered != [self.first.itemText(n) for n in range(self.first.count())]:
            now = self.first.currentText()
            self.first.clear()
            self.first.addItems(offered)
            self.first.setCurrentIndex(offered.index(now) if now in offered else 0)
            self._show_measure()

    @staticmethod
    def _eases(brace: braces.Brace) -> str:
        return "" if brace.eases is None else f"{brace.eases:.1%}"

    def _sized(self, way: str) -> tuple[Column, ...]:
        """What a size up or down is, gives and weighs."""

        def told(what: Callable[[worth.Change], str]) -> Callable[[worth.Worth], str]:
            def text(w: worth.Worth) -> str:
                change = w.up if way == "up" else w.down
                return what(change) if change else ""

            return text

        return (
            Column(f"size {way}", told(lambda c: c.what)),
            Column(
                "gives",
                told(lambda c: self._gain(c.torsion)),
                True,
                tip=lambda: f"A size {way}: twist stiffness, {self.units.torsional_stiffness_name}",
            ),
            Column("for", told(lambda c: self._mass(c.kg)), True, tip=f"A size {way}: mass", unit=self.mass_name),
        )

    def _mass(self, kg: float) -> str:
        return self.units.change_of_mass(kg, unit=False)

    def _gain(self, n_mm_per_rad: float) -> str:
        return f"{self.units.in_torsional_stiffness(n_mm_per_rad):+.0f}"

    def _per_money(self, brace: braces.Brace) -> str:
        gain = brace.change.per_money
        return "" if gain is None else f"{self.units.in_torsional_stiffness(gain):.0f}"

    def _hardest(self, w: worth.Worth) -> str:
        use = self.result.without.get(w.tubes) if self.result else None
        return "" if use is None else "falls" if not np.isfinite(use) else f"{use:.0%}"

    def show_result(self) -> None:
        result: NextResult | None = self.result
        if result:
            self._offer_cases(result.cases)
        self.braces.show_rows(
            sorted(result.braces, key=lambda b: bool(b.blocked)) if result else ()
        )  # the clear ones first
        self.tubes.show_rows(result.tubes if result else ())
        self.unranked.setText(result.why if result else "")
        self.unranked.setVisible(bool(result and result.why))
        if result:
            clear = next((b for b in result.braces if not b.blocked), None)
            self.said.setText("Both sides at once.")
            if clear and self.braces.picked is None:
                self.braces.list.selectRow(0)

    @property
    def picked(self) -> braces.Brace | None:
        """The brace that is picked in the list."""
        found: braces.Brace | None = self.braces.picked
        return found

    def _add(self) -> None:
        if self.picked is None:
            self.session.told.emit("Pick a brace in the list first.", True)
            return
        brace = self.picked
        self.session.edit(
            f"Add brace {'–'.join(brace.joints)}",
            lambda job: edits.add_tube(job, *brace.joints, brace.section, brace.material, "diagonal"),
        )

    def _chosen(self) -> list[worth.Worth]:
        return [w for w in (self.result.tubes if self.result else ()) if set(w.tubes) & set(self.session.chosen)]

    def _size(self, way: str) -> None:
        changes = [(w, w.up if way == "up" else w.down) for w in self._chosen()]
        known = [(w, c) for w, c in changes if c is not None]
        if not known:
            self.session.told.emit("Pick tubes that have another size in the list first.", True)
            return

        def act(job: Job) -> Job:
            sections = {s.name: s for s in worth.stock(job)}
            for w, c in known:
                job = edits.change_tubes(job, list(w.tubes), section=sections[c.what])
            return job

        self.session.edit(
            f"{known[0][1].what} for {' '.join(known[0][0].tubes)}"
            if len(known) == 1
            else f"Size {way} {len(known)} tubes",
            act,
        )

    def _take_out(self) -> None:
        names = [t for w in self._chosen() for t in w.tubes]
        if not names:
            self.session.told.emit("Pick tubes in the list first.", True)
            return
        self.session.edit(f"Take out {' '.join(names[:3])}", lambda job: edits.delete(job, names))

    def show_chosen(self) -> None:
        chosen = self.session.chosen
        keys = tuple(" ".join(w.tubes) for w in self.tubes.model.rows if set(w.tubes) & set(chosen))
        self.tubes.show_chosen(keys)

    def decor(self) -> Decor:
        brace = self.picked
        return Decor(paint=lambda brush: self._paint(brush, brace)) if brace else Decor()

    def _paint(self, brush: Brush, brace: braces.Brace) -> None:
        job = self.job
        colour = brush.look.oxide if brace.blocked else brush.look.blue
        for n, pair in enumerate(brace.pairs):
            if all(j in job.joint_by_id for j in pair):
                brush.pen(colour, 2 if n else 4)
                brush.line(*(job.joint_by_id[j].place for j in pair))
        one, other = (np.array(job.joint_by_id[j].place) for j in brace.joints)
        brush.tag(
            tuple((one + other) / 2),
            f"{self._gain(brace.change.torsion)} {self.units.torsional_stiffness_name}",
            colour,
        )

    def cards(self) -> list[Card]:
        brace = self.picked
        if brace is None:
            return []
        cost = [self.units.change_of_mass(brace.change.kg)]
        if brace.change.money is not None:
            cost.append(f"{brace.change.money:.2f} of your money")
        return [
            Card(
                "Next brace",
                f"{self._gain(brace.change.torsion)} {self.units.torsional_stiffness_name}",
                (brace.line, ", ".join(cost), f"in the way: {', '.join(brace.blocked) or 'nothing'}"),
            )
        ]


def _advised(ranked: Callable[[Job], tuple[braces.Brace, ...]], job: Job) -> NextResult:
    """Braces as they are `ranked`, or why there are none, and what each tube is worth."""
    try:
        found, why = ranked(job), ""
    except Problem as problem:
        found, why = (), str(problem.read_in(units_of(job)))
    cases = braces.cases_to_rank_by(job)
    return NextResult(found, why, worth.tube_worth(job), worth.strength_without(job), cases)
