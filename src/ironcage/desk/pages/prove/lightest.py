"""Lightest: the lightest sections from the shelf that keep a twist stiffness, every margin and the rules; a list
that is taken line by line."""

import math
from collections.abc import Callable

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout

from ironcage.core.answers.prove import lightest, stiffness
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.pages.page import button, column, row
from ironcage.desk.pages.prove.tab import ProveTab
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import SmallPrint, Words
from ironcage.problem import Problem

HOW = (
    "Sections are those on this job's shelf, of each tube's own kind; stock puts more there. The bound takes account "
    "of the stiffness and the least sizes of your rules, not of the margins, "
    "so the gap is at most what is shown."
)


class LightestTab(ProveTab):
    """A target, a search that can be stopped, and what it found."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.keep, self.target = QLabel("Keep"), QLineEdit()
        self.target.setAccessibleName("Twist stiffness to keep")
        self.target.setMaximumWidth(120)
        self.target.returnPressed.connect(self._search)
        self.swaps = Grid(
            "Sections to change",
            (
                Column("tubes", lambda s: " ".join(s.tubes)),
                Column("has", lambda s: s.old),
                Column("would have", lambda s: s.new),
                Column("mass", lambda s: self._mass(s.kg), True, unit=self.mass_name),
            ),
            lambda s: " ".join(s.tubes),
        )
        self.swaps.chose.connect(lambda keys: session.choose(tuple(n for key in keys for n in key.split())))
        self.said = Words(name="hint", wrap=True)
        self.said.setText("Type the twist stiffness to keep, and search.")
        self.how = SmallPrint(HOW, "How it looks for them")
        self.found: lightest.Lightest | None = None
        self.of: Job | None = None
        left = column(
            row(
                self.keep,
                self.target,
                button("Search", self._search, "Search for the lightest sections; it can be stopped"),
            ),
            self.said,
            self.empty,
            row(
                button("Take these", self._take_picked, "Change the sections of the picked lines"),
                button("Take all", self._take_all, "Change the sections of all lines"),
            ),
            self.how,
        )
        left.addStretch(1)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(12)
        box.addLayout(left, 4)
        right = QVBoxLayout()
        right.addWidget(self.swaps)
        box.addLayout(right, 7)

    def question(self) -> Question:
        return _wanted

    def show_job(self, job: Job) -> None:
        self.keep.setText(f"Keep {units_of(job).torsional_stiffness_name}")

    def show_result(self) -> None:
        if self.result and not self.target.text():
            self.target.setText(f"{math.floor(self.units.in_torsional_stiffness(self.result))}")
        if self.found and self.of is not None and self.of.tubes is not self.session.job.tubes:
            left = tuple(
                s
                for s in self.found.swaps
                if all(
                    t in self.session.job.tube_by_id and self.session.job.tube_by_id[t].section == s.old
                    for t in s.tubes
                )
            )
            self.swaps.show_rows(left)

    def _mass(self, kg: float) -> str:
        return self.units.change_of_mass(kg, unit=False)

    def _search(self) -> None:
        job = self.session.job
        try:
            target = self.units.read_torsional_stiffness(self.target.text())
        except Problem as problem:
            self.said.setText(str(problem.read_in(self.units)))
            return
        if not target > 0:
            self.said.setText("The stiffness to keep must be more than nothing.")
            return

        def act(say: Callable[[float], None]) -> lightest.Lightest:
            return lightest.search(job, target, lambda share, _: say(share))

        self.works.emit("Searching for", "the lightest sections", act, lambda found: self._show_found(job, found))

    def _show_found(self, job: Job, found: lightest.Lightest) -> None:
        self.found, self.of = found, job
        units = units_of(job)
        self.swaps.show_rows(found.swaps)
        used = "no case can be worked out" if found.used is None else f"the hardest worked tube uses {found.used:.0%}"
        self.said.setText(
            f"{units.mass(found.kg)} of tube instead of {units.mass(found.before)}, "
            f"{units.torsional_stiffness(found.torsion)}, {used}. Nothing as stiff weighs less than "
            f"{units.mass(found.bound)}: at most {found.gap:.1%} from the best."
            + (f" Left alone: {', '.join(found.untouched[:6])}." if found.untouched else "")
        )

    def _take_all(self) -> None:
        self._change(self.swaps.model.rows)

    def _take_picked(self) -> None:
        self._change(tuple(s for s in self.swaps.model.rows if set(s.tubes) & set(self.session.chosen)))

    def _change(self, swaps: tuple[lightest.Swap, ...]) -> None:
        if not swaps:
            self.session.told.emit("Search first, and pick lines to take.", True)
            return

        def act(job: Job) -> Job:
            for s in swaps:
                job = edits.change_tubes(job, list(s.tubes), section=job.section(s.new))
            return job

        self.session.edit(f"Change the sections of {sum(len(s.tubes) for s in swaps)} tubes", act)


def _wanted(job: Job) -> float:
    """The stiffness to keep, N·mm/rad: the brief's, else what the frame has."""
    aim = next((t.value for t in job.brief.targets if t.kind == "twist stiffness"), None)
    return aim or stiffness.twist(job).stiffness
