"""Prove: stiff enough, strong enough, and what to change; one list after the other under tabs, each with its own
question."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial
from typing import Any

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QVBoxLayout

from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.look import Look
from ironcage.desk.pages.latertabs import LaterTabs
from ironcage.desk.pages.page import Card, Page
from ironcage.desk.pages.prove.stiffness import StiffnessTab
from ironcage.desk.pages.prove.tab import ProveTab
from ironcage.desk.session import Session
from ironcage.desk.words import AWAITED, Words
from ironcage.problem import Problem

LATER = {
    "Cases": ("prove.cases", "CasesTab"),
    "Strength": ("prove.strength", "StrengthTab"),
    "Next": ("prove.next", "NextTab"),
    "Lightest": ("prove.lightest", "LightestTab"),
    "Balance": ("prove.balance", "BalanceTab"),
    "Mounts": ("prove.mounts", "MountsTab"),
    "Vibration": ("prove.vibration", "VibrationTab"),
    "Compare": ("prove.compare", "CompareTab"),
    "Twist test": ("prove.test", "TestTab"),
}
ORDER = ("Stiffness", *LATER)
RARE = ("Lightest", "Mounts", "Vibration", "Compare", "Twist test")
LATE_MS = 300  # an answer that takes longer is said to be awaited


@dataclass(frozen=True)
class TabAnswer:
    """The answer to an open list's question: which list, and the result or why there is none."""

    words: str
    result: Any
    problem: Problem | None


class ProvePage(Page):
    """The lists of Prove."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.stiffness = StiffnessTab(session)
        self.waiting = Words(f"Working it out{AWAITED}", name="quiet")
        self.waiting.hide()
        self.tabs = LaterTabs(session, ORDER, {"Stiffness": self.stiffness}, LATER, rare=RARE, aside=self.waiting)
        self.tabs.made.connect(self._made)
        self._made(self.stiffness)
        self.open, self.tab = self.tabs.open, self.tabs.tab
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 4, 8, 4)
        box.addWidget(self.tabs)
        self.tabs.currentChanged.connect(lambda _: self._opened())
        self._late = QTimer(self)
        self._late.setSingleShot(True)
        self._late.setInterval(LATE_MS)
        self._late.timeout.connect(self.waiting.show)

    def _made(self, made: ProveTab) -> None:
        made.decorated.connect(self._decorate)
        made.typing.connect(self.typing)
        made.export.connect(self.export)
        made.works.connect(self.works)
        made.wants.connect(self.wants)

    @property
    def here(self) -> ProveTab:
        """The list that is open."""
        found: ProveTab = self.tabs.here or self.stiffness
        return found

    def question(self) -> Question:
        """The open list's own."""
        if not self.waiting.isVisible():
            self._late.start()
        return partial(_told, self.tabs.words, self.here.question())

    def show_job(self, job: Job) -> None:
        self.tabs.show_job(job)
        self.here.show_job(job)

    def show_marks(self, marks: Mapping[str, str]) -> None:
        self.tabs.show_marks(marks)

    def show_answer(self, job: Job, result: TabAnswer | None, problem: Problem | None) -> None:
        if result is None or result.words != self.tabs.words:
            return  # of a list that is no longer open
        self._late.stop()
        self.waiting.hide()
        self.result = result.result
        self.here.take(job, result.result, result.problem)
        self.tabs.answer(self.tabs.words, self.here.in_a_word() if result.result is not None else "")

    def _opened(self) -> None:
        self.tabs.leave_others()
        self.here.show_job(self.session.job)
        self.here.show_chosen()
        self._decorate()
        self.wants.emit()

    def _decorate(self) -> None:
        here = self.here
        current = (
            here.result is not None
            and here.job.tubes is self.session.job.tubes
            and here.job.joints is self.session.job.joints
        )
        if current:
            self.put_decor(here.decor())
        elif here.result is None:
            self.put_decor(here.decor_of_motion())

    def show_chosen(self, chosen: tuple[str, ...]) -> None:
        self.here.show_chosen()

    def show_look(self, look: Look) -> None:
        super().show_look(look)
        self.stiffness.show_look(look)
        self.tabs.show_look(look)
        self._decorate()

    def cards(self) -> list[Card]:
        return self.here.cards() or self.stiffness.cards()


def _told(words: str, question: Question, job: Job) -> TabAnswer:
    """What the list of a tab is told, or why it is not."""
    try:
        return TabAnswer(words, question(job), None)
    except Problem as problem:
        return TabAnswer(words, None, problem.read_in(units_of(job)))
