"""Compare: this frame beside the mark and every variant, and the log of stiffness and mass through the job's life."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout

from ironcage.core.answers.prove import measured, stiffness, strength
from ironcage.core.job.text import Done
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.pages.page import button, column, heading, row
from ironcage.desk.pages.prove.tab import ProveTab
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.problem import Problem


@dataclass(frozen=True)
class StateBeside:
    """A state of the job: its name, its answer to Prove or why there is none, and how much its hardest worked tube
    uses."""

    name: str
    told: stiffness.ProveAnswer | None
    why: str
    used: float | None
    tubes: int


class CompareTab(ProveTab):
    """States side by side, and the log."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.states = Grid(
            "States side by side",
            self._state_columns(),
            lambda b: b.name,
        )
        self.log = Grid(
            "Log",
            self._log_columns(),
            lambda e: f"{e.when} {e.note}",
        )
        self.note = QLineEdit()
        self.note.setPlaceholderText("what was done, such as: hoop braces in")
        self.note.setAccessibleName("What was done to the frame")
        self.note.returnPressed.connect(self._log)
        left = column(heading("This frame, the mark, and variants"), self.empty)
        left.addWidget(self.states, 1)
        right = QVBoxLayout()
        right.addLayout(column(heading("Through the job's life")))
        right.addWidget(self.log, 1)
        writing = row(
            self.note,
            button("Log", self._log, "Write down today's twist stiffness and mass with this note"),
            stretch=False,
        )
        writing.setStretch(0, 1)
        right.addLayout(writing)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(12)
        box.addLayout(left, 7)
        box.addLayout(right, 5)

    def _state_columns(self) -> tuple[Column, ...]:
        """What is told of a state of the job."""
        figure = self._figure
        return (
            Column("state", lambda b: b.name),
            Column(
                "twist",
                figure(lambda t: f"{self.units.in_torsional_stiffness(t.torsion):,.1f}"),
                True,
                tip=lambda: f"Twist stiffness, {self.units.torsional_stiffness_name}",
            ),
            Column(
                "bending",
                figure(lambda t: self._linear(t.bending)),
                True,
                tip=lambda: f"Bending stiffness, {self.units.linear_stiffness_name}",
            ),
            Column(
                "sideways",
                figure(lambda t: self._linear(t.lateral)),
                True,
                tip=lambda: f"Sideways stiffness, {self.units.linear_stiffness_name}",
            ),
            Column("frame", figure(lambda t: self.units.mass(t.mass, unit=False)), True, unit=self.mass_name),
            Column(
                lambda: f"per {self.units.mass_unit}",
                figure(lambda t: self.units.torsional_stiffness_per_mass(t.per_kg)),
                True,
                tip=lambda: (
                    "Twist stiffness by mass of the frame, "
                    f"{self.units.torsional_stiffness_name} per {self.units.mass_unit}"
                ),
            ),
            Column(
                "used",
                lambda b: "" if b.used is None else f"{b.used:.0%}",
                True,
                tip="How much the hardest worked tube is loaded, of what it can carry",
            ),
            Column("tubes", lambda b: str(b.tubes), True),
            Column("why not", lambda b: b.why),
        )

    def _log_columns(self) -> tuple[Column, ...]:
        """What is told of a day of the log."""
        return (
            Column("day", lambda e: e.when.isoformat()),
            Column(
                lambda: f"twist {self.units.torsional_stiffness_name}",
                lambda e: f"{self.units.in_torsional_stiffness(e.torsion):,.1f}",
                True,
            ),
            Column("frame", lambda e: self.units.mass(e.mass, unit=False), True, unit=self.mass_name),
            Column("what was done", lambda e: e.note, below=True),
        )

    def _linear(self, stiffness: float | None) -> str:
        return "–" if stiffness is None else f"{self.units.in_linear_stiffness(stiffness):,.0f}"

    @staticmethod
    def _figure(text: Callable[[stiffness.ProveAnswer], str]) -> Callable[[StateBeside], str]:
        return lambda b: text(b.told) if b.told else ""

    def question(self) -> Question:
        return partial(_all_beside, f"mark: {self.session.mark_name}", self.session.mark)

    def show_job(self, job: Job) -> None:
        self.log.show_rows(tuple(reversed(job.proving.log)))

    def show_result(self) -> None:
        self.states.show_rows(self.result or ())
        self.show_job(self.session.job)

    def _log(self) -> None:
        note = self.note.text()
        try:
            self.session.do(
                lambda job: _kept(measured.logged(job, note, date.today()), self.session.chosen), f"log {note}"
            )
        except Problem as problem:
            self.session.told.emit(str(problem), True)
            return
        self.note.clear()


def _kept(done: Done, chosen: tuple[str, ...]) -> Done:
    return Done(done.name, done.job, chosen)


def _all_beside(name: str, mark: Job, job: Job) -> tuple[StateBeside, ...]:
    """The job, the mark by its name, and the job's variants."""
    states = (("now", job), (name, mark), *((v.name, v.job) for v in job.variants))
    return tuple(_beside(name, state) for name, state in states)


def _beside(name: str, job: Job) -> StateBeside:
    try:
        told = stiffness.answer(job)
    except Problem as problem:
        return StateBeside(name, None, str(problem.read_in(units_of(job))), None, len(job.tubes))
    worst = strength.tube_strength(job).worst
    return StateBeside(name, told, "", worst.use if worst else None, len(job.tubes))
