"""Jig: where each stand goes and how high, the diagonals to tape, and the table itself."""

import math
from dataclasses import dataclass, replace
from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from ironcage.core.answers.jig import stands as jig
from ironcage.core.job import edits
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.text import Done, understand
from ironcage.core.job.values.model import Job
from ironcage.desk.asker import Question
from ironcage.desk.pages.page import Card, Page, button, column, heading, row
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column, length_column, name_column
from ironcage.desk.words import Words
from ironcage.problem import Problem

CAUTION = "Anchor stands and clamps before tacking; a frame that falls off its stands crushes hands and feet."
MOST_TAGS = 40


@dataclass(frozen=True)
class Setting:
    """A measure of the jig table: its word in `table WORD SIZE`, what it is called, its value in mm."""

    word: str
    words: str
    mm: float


def _settings(job: Job) -> tuple[Setting, ...]:
    t = job.table
    return (
        Setting("top", "top above the ground", t.top_z),
        Setting("saddle", "least saddle height", t.least_saddle),
        Setting("length", "length along x", t.length),
        Setting("width", "width along y", t.width),
        Setting("x", "rear right corner, x", t.corner_x),
        Setting("y", "rear right corner, y", t.corner_y),
    )


def _set(job: Job, setting: Setting, text: str) -> Done:
    return understand(f"table {setting.word} {text}", job)


class JigPage(Page):
    """Stands, diagonals and the table."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._length = partial(length_column, lambda: self.units)
        self.stands = Grid("Stands", self._stand_columns(), lambda s: s.joint, needs=4)
        self.diagonals = Grid("Diagonals to tape", self._diagonal_columns(), lambda d: f"{d.first} {d.second}")
        sizes = (Column("table", lambda s: s.words), self._length("size", lambda s: s.mm, _set))
        self.table = Grid("The jig table", sizes, lambda s: s.word, session.do, wraps=0)
        self.stands.chose.connect(session.choose)
        self.diagonals.chose.connect(lambda keys: session.choose(tuple(n for k in keys for n in k.split())))
        self.advice = Words(wrap=True)
        caution = Words(CAUTION, name="quiet", wrap=True)
        self.set_top = button("Set it so", self._best_top)
        tools = row(
            button(
                "Stand on or off",
                lambda: session.press("stand"),
                "Put the chosen joints on stands, or take them off (stand)",
            ),
            button("Plan as DXF…", lambda: self.export.emit("plan-dxf", "")),
            button("Plan as PDF, 1:1…", lambda: self.export.emit("plan-pdf", "A4"), "Tiled on A4, with trim lines"),
            button("Stands as CSV…", lambda: self.export.emit("stands-csv", "")),
        )
        # the tools stand over all three lists: over one they would make it too wide for a small window
        tools.setStretch(tools.count() - 1, 0)
        tools.addWidget(caution, 1)
        left = column(heading("Stands"), self.empty, self.stands)
        left.setStretch(2, 1)
        middle = column(heading("Diagonals to tape"), self.diagonals)
        middle.setStretch(1, 1)
        right = column(heading("The jig table"), self.table, row(self.set_top, self.advice, stretch=False))
        right.setStretch(1, 1)
        right.itemAt(2).layout().setStretch(1, 1)
        lists = QHBoxLayout()
        lists.setSpacing(10)
        for part, share in ((left, 11), (middle, 10), (right, 8)):
            lists.addLayout(part, share)
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 6, 8, 6)
        box.addLayout(tools)
        box.addLayout(lists, 1)
        self.result: jig.JigAnswer | None = None

    def _stand_columns(self) -> tuple[Column, ...]:
        """What is told of a stand, its place from the table's rear right corner."""
        corner = "From the table's rear right corner"
        return (
            Column("joint", lambda s: s.joint),
            self._length("x", lambda s: s.x, tip=f"{corner}, forward"),
            self._length("y", lambda s: s.y, tip=f"{corner}, to the left"),
            self._length("saddle", lambda s: s.saddle, tip="Underside of the carried tube above the table top"),
            name_column(lambda s: name_of(self.session.job, s.joint)),
            Column("carries", lambda s: s.tube or "nothing level"),
            Column("slope", lambda s: f"{math.degrees(s.slope):.1f}°", True),
        )

    def _diagonal_columns(self) -> tuple[Column, ...]:
        """What is told of a diagonal."""
        return (
            Column("from", lambda d: d.first),
            Column("to", lambda d: d.second),
            self._length("in space", lambda d: d.space, tip="Joint centre to joint centre"),
            self._length("in plan", lambda d: d.plan, tip="Between plumb lines on the table"),
            Column("must equal", lambda d: "–".join(d.equals) if d.equals else ""),
        )

    def question(self) -> Question:
        return jig.answer

    def show_job(self, job: Job) -> None:
        self.table.show_rows(_settings(job))

    def show_answer(self, job: Job, result: jig.JigAnswer | None, problem: Problem | None) -> None:
        self.result = result
        none = Problem("No joint stands on the table yet.", hint="Choose joints and press ‘Stand on or off’.")
        stands = result.stands if result else ()
        self.tell_empty(problem or (None if stands else none))
        low = frozenset(s.joint for s in stands if not s.on_table or s.saddle < job.table.least_saddle - 0.05)
        self.stands.show_rows(stands, low)
        self.diagonals.show_rows(result.diagonals if result else ())
        best = result.best_top_z if result else None
        off = best is not None and abs(best - job.table.top_z) > 0.05
        if best is None:
            self.advice.setText("")
        elif off:
            self.advice.setText(
                f"With its top at {self.units.length(best)} the lowest saddle is just "
                f"{self.units.length(job.table.least_saddle)} high."
            )
        else:
            self.advice.setText("The table is as high as the least saddle allows.")
        self.set_top.setVisible(off)
        self.put_decor(Decor(stands=stands, paint=lambda brush: self._paint(brush, job)))

    def _best_top(self) -> None:
        best = self.result.best_top_z if self.result else None
        if best is not None:
            self.session.edit("Set table top", lambda job: edits.set_table(job, top_z=round(best, 2)))

    def _paint(self, brush: Brush, job: Job) -> None:
        """Heights beside the stands, the diagonals of the chosen joints."""
        stands = self.result.stands if self.result else ()
        chosen = set(self.session.chosen)
        if len([c for c in chosen if c in job.joint_by_id]) == 2:
            for d in self.result.diagonals if self.result else ():
                if {d.first, d.second} <= chosen:
                    a, b = job.joint_by_id[d.first].place, job.joint_by_id[d.second].place
                    brush.pen(brush.look.blue, 2)
                    brush.line(a, b)
                    brush.tag(
                        [(p + q) / 2 for p, q in zip(a, b, strict=True)],
                        self.units.length(d.space),
                        brush.look.blue,
                        filled=True,
                    )
        t = job.table
        for s in stands[:MOST_TAGS]:
            if s.joint not in chosen:
                foot = (s.x + t.corner_x, s.y + t.corner_y, t.top_z)
                brush.tag(foot, f"{s.joint}  {self.units.length(s.saddle, unit=False)}", brush.look.ink, offset=(8, 16))

    def show_chosen(self, chosen: tuple[str, ...]) -> None:
        self.stands.show_chosen(chosen)
        self.decor = replace(self.decor)
        self.decorated.emit()

    def cards(self) -> list[Card]:
        units = self.units
        return [
            Card(
                f"Stand at {s.joint}, {name_of(self.session.job, s.joint)}",
                units.length(s.saddle),
                (
                    f"x {units.length(s.x)} forward, y {units.length(s.y)} to the left of the table's rear right "
                    f"corner",
                    f"saddle under {s.tube}, slope {math.degrees(s.slope):.1f}°"
                    if s.tube
                    else "nothing level to carry",
                    CAUTION,
                ),
            )
            for s in (self.result.stands if self.result else ())
        ]
