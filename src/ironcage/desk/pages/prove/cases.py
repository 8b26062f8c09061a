"""Cases: what pushes on the car in each, that it balances, and the tube it works hardest; levels typed into; pushes
and shape drawn on the table."""

from dataclasses import dataclass
from functools import partial

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from ironcage.core.answers.prove import cases, strength, vibration
from ironcage.core.answers.prove.car import Loaded, drive_level
from ironcage.core.job.text import Done, understand
from ironcage.core.job.text.proving import CASE_EXAMPLE
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.proving import LEVELS, PULLS
from ironcage.desk.asker import Question
from ironcage.desk.look import ramp
from ironcage.desk.pages.page import Card, button, column, heading, row
from ironcage.desk.pages.prove.tab import ProveTab, arrow, deflected, foot
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import SmallPrint
from ironcage.units import Units

BUCKLED_TUBES = 600  # of more the list tells no buckling: each case would take a second and more
DRAWN, LABELLED = 1e-3, 0.1  # of the largest push of a case, from which one has an arrow, and words beside it
SHARE = 0.5  # of the largest swing that a case's shape is drawn with


@dataclass(frozen=True)
class CaseRow:
    """A case as it is listed. use: of the tube that works hardest, and which; buckles: at so many times its loads,
    None where that is not told; row: its place among the cases told, None where it is not."""

    case: Loaded
    tube: str
    use: float
    buckles: float | None
    row: int | None


@dataclass(frozen=True)
class CasesResult:
    """Strength, and the cases with their worst; buckled: whether buckling is told already."""

    strength: strength.StrengthAnswer
    rows: tuple[CaseRow, ...]
    buckled: bool


def _level(job: Job, what: str, text: str) -> Done:
    return understand(f"level {what} {text}", job)


class CasesTab(ProveTab):
    """The list of cases, and beside it the levels."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.cases = Grid(
            "Load cases",
            self._case_columns(),
            lambda r: r.case.name,
        )
        self.levels = Grid(
            "Levels",
            (
                Column("level", lambda what: what),
                Column("value", self._value, True, _level),
                Column("in", lambda what: LEVELS[what]),
            ),
            str,
            session.do,
        )
        self.cases.chose.connect(self._pick)
        self.said = SmallPrint(
            f"Loads come from the car's own masses. {cases.ASSUMED[0]}", more=" ".join(cases.ASSUMED[1:])
        )
        start = self.typing.emit
        buttons = row(
            button(
                "New case…",
                lambda: start(CASE_EXAMPLE),
                "A case from your own book: forces on joints, held at joints or by the car's masses (case)",
            ),
            button(
                "Combine…",
                lambda: start("combine Kerb in a corner: 1 bump front + 0.8 cornering left"),
                "Cases at the same time (combine)",
            ),
            button("Tow…", lambda: start("case tow at "), "Say at which joints the car is towed (case tow at)"),
            button("Jack…", lambda: start("case jack at "), "Say at which joints it is lifted (case jack at)"),
            button("Straps…", lambda: start("case strap at "), "Say at which joints it is tied down (case strap at)"),
            button(
                "Harness…", lambda: start("case harness at "), "Say where the shoulder straps pull (case harness at)"
            ),
        )
        left = column(buttons, self.empty)
        left.addWidget(self.cases, 1)
        right = QVBoxLayout()
        right.addLayout(column(heading("How hard it is used")))
        right.addWidget(self.levels, 1)
        right.addWidget(self.said)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.addLayout(left, 8)
        box.addLayout(right, 4)

    def _case_columns(self) -> tuple[Column, ...]:
        """What is told of a case."""
        return (
            Column("case", lambda r: r.case.name, room="bump front right"),
            Column(
                lambda: f"pushes, {self.units.force_name}  x  y  z",
                lambda r: "" if r.case.problem else _three(r.case.applied, self.units),
                True,
            ),
            Column(
                "left over",
                lambda r: "" if r.row is None else "held" if r.case.held else f"{r.case.residual[0]:.0e}",
                True,
                tip="The sum of all forces on the car, N: nothing, but for rounding",
            ),
            Column("hardest", lambda r: r.tube, tip="The tube that is nearest to the most it can carry"),
            Column("used", lambda r: "" if r.row is None else f"{r.use:.0%}", True),
            Column(
                "buckles at",
                lambda r: "" if r.buckles is None else f"× {r.buckles:.1f}" if np.isfinite(r.buckles) else "never",
                True,
                tip="The whole frame buckles at so many times these loads (linear, of a perfect frame)",
            ),
            Column("held by", self._answered, tip="What answers the pushes, or why the case can't be worked out"),
        )

    def question(self) -> Question:
        """The cases; of a job whose cases are shown, with the buckling of each, which takes longer."""
        shown = self.job if self.result is not None else None
        return partial(_told, shown)

    def _answered(self, r: CaseRow) -> str:
        if r.case.problem:
            return self.units.say(r.case.problem)
        if not r.case.held:
            return "the masses' inertia"
        over = 3 * len(r.case.held) - 6
        return f"held at {' '.join(r.case.held)}" + (
            f" ({over} holds more than needed: they share as stiff as the frame is)" if over else ""
        )

    def _value(self, what: str) -> str:
        if what == "drive" and self.session.job.proving.pull is not None:
            return f"{drive_level(self.session.job):.2f} by pull"
        value = getattr(self.session.job.proving.levels, what.replace(" ", "_"))
        return self.units.small_force(value) if what in PULLS else f"{value:g}"

    def show_job(self, job: Job) -> None:
        self.levels.show_rows(tuple(LEVELS))

    def in_a_word(self) -> str:
        return str(len(self.result.rows))

    def show_result(self) -> None:
        self.cases.show_rows(self.result.rows if self.result else ())
        if self.result and self.cases.picked is None and self.result.rows:
            self.cases.pick(max(self.result.rows, key=lambda r: r.use))
        if self.result and not self.result.buckled:
            self.wants.emit()

    def _pick(self, keys: tuple[str, ...]) -> None:
        self.decorated.emit()

    @property
    def shown(self) -> CaseRow | None:
        """The case that the table shows."""
        found: CaseRow | None = self.cases.picked
        return found

    def decor(self) -> Decor:
        shown, result = self.shown, self.result
        if shown is None or shown.row is None:
            return Decor()
        shape, scale = deflected(self.job, result.strength.u[:, :, shown.row], SHARE)
        uses = result.strength.uses[:, :, shown.row].max(axis=0)
        return Decor(
            colours=ramp(self.look, np.clip(uses, 0, 1)),
            shape=shape,
            paint=lambda brush: self._paint(brush, shown, scale),
        )

    def _paint(self, brush: Brush, shown: CaseRow, scale: float) -> None:
        for name in shown.case.held:
            foot(brush, np.array(self.job.joint_by_id[name].place))
        tube = self.job.tube_by_id.get(shown.tube)
        if tube:
            middle = np.mean([self.job.joint_by_id[e].place for e in tube.ends], axis=0)
            brush.tag(tuple(middle), f"{tube.id} uses {shown.use:.0%}, shape drawn × {scale:,.0f}", brush.look.oxide)
        sizes = {n: float(np.linalg.norm(push.force)) for n, push in enumerate(shown.case.pushes)}
        most = max(sizes.values(), default=0.0)
        for n in sorted(sizes, key=lambda n: -sizes[n]):  # the largest first, so that their words find room
            push, share = shown.case.pushes[n], sizes[n] / most if most else 0.0
            if share > DRAWN:
                arrow(brush, push.at, push.force, brush.look.blue, 18 + 40 * share)
            if share > LABELLED:
                words = f"{push.what} {self.units.force(sizes[n])}"
                brush.tag(tuple(push.at), words, brush.look.blue, offset=(10, 14))

    def cards(self) -> list[Card]:
        shown = self.shown
        if shown is None or shown.row is None:
            return []
        return [
            Card(
                shown.case.name,
                f"{shown.use:.0%} used",
                (
                    f"hardest on {shown.tube}",
                    f"pushes {_three(shown.case.applied, self.units)} {self.units.force_name}",
                ),
            )
        ]


def _three(force: np.ndarray, units: Units) -> str:
    return "  ".join(units.in_force(v) for v in force)


def _told(shown: Job | None, job: Job) -> CasesResult:
    """The cases of a job; with the buckling of each where they are `shown` already."""
    with_buckling = job is shown
    told = strength.tube_strength(job)
    buckles: dict[str, float | None] = {}
    if with_buckling and len(job.tubes) <= BUCKLED_TUBES:
        buckles = {c.case: c.factor for c in vibration.collapses(job)}
    index = {c.name: n for n, c in enumerate(told.cases)}
    rows = []
    for case in cases.load_cases(job):
        n = index.get(case.name)
        if n is None:
            refused = next((c for c in told.refused if c.name == case.name), case)
            rows.append(CaseRow(refused, "", 0.0, None, None))
            continue
        tube, use = told.worst_in(n)
        rows.append(CaseRow(case, job.tubes[tube].id, use, buckles.get(case.name), n))
    return CasesResult(told, tuple(rows), with_buckling)
