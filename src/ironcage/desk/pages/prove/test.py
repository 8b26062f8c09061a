"""Twist test: how to twist the real frame, the readings, what they tell with how sure that is, and the joint factor
that makes the model agree."""

import math
from html import escape

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QTextBrowser, QVBoxLayout

from ironcage.core.answers.prove import measured
from ironcage.core.calc.frames.load_distribution import G
from ironcage.core.job.text.proving import READING_EXAMPLE
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.proving import Reading
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.look import text_font
from ironcage.desk.pages.page import Card, button, column, heading, row
from ironcage.desk.pages.prove.tab import ProveTab
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words


class TestTab(ProveTab):
    """The card, the readings and the result."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.card = QTextBrowser()
        self.card.setAccessibleName("How to twist the real frame")
        self.card.setHtml(
            "<ol style='margin-left: -18px'>"
            + "".join(f"<li style='margin-bottom: 4px'>{escape(line)}</li>" for line in measured.CARD)
            + "</ol>"
        )
        self.readings = Grid(
            "Readings",
            (
                Column("no.", lambda r: str(r[0]), True),
                Column("weight", lambda r: self.units.mass(r[1].mass, unit=False), True, unit=self.mass_name),
                Column("torque", self._torque, True, unit=self.torque_name),
                Column("front °", lambda r: f"{math.degrees(r[1].front):.3f}", True),
                Column("rear °", lambda r: f"{math.degrees(r[1].rear):.3f}", True),
                Column("twist °", lambda r: f"{math.degrees(r[1].front - r[1].rear):.3f}", True),
            ),
            lambda r: str(r[0]),
        )
        self.lever = QLineEdit()
        self.lever.setAccessibleName("Lever")
        self.lever.setMaximumWidth(90)
        self.lever.setMinimumWidth(80)
        self.lever.returnPressed.connect(lambda: session.press(f"reading lever {self.lever.text()}"))
        self.stiffness, self.said = Words("–"), Words(name="hint", wrap=True)
        self.stiffness.setFont(text_font(13, bold=True))
        self.use = button("Use this factor", self._use, "Model the welds as rigid as the test says (welds)")
        left = column(heading("How to do it (F11 shows it large)"))
        left.addWidget(self.card, 1)
        middle = QVBoxLayout()
        middle.addLayout(
            row(
                QLabel("Lever"),
                self.lever,
                button(
                    "Add…",
                    lambda: self.typing.emit(READING_EXAMPLE),
                    "By a level in degrees, or by dials (reading)",
                ),
                button("Take out", self._take_out, "Take the picked reading out"),
            )
        )
        middle.addWidget(self.readings, 1)
        right = column(heading("The real frame"), self.stiffness, self.said, self.empty, self.use)
        right.addStretch(1)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(12)
        box.addLayout(left, 4)
        box.addLayout(middle, 5)
        box.addLayout(right, 3)

    def question(self) -> Question:
        return measured.measured_frame

    def _torque(self, r: tuple[int, Reading]) -> str:
        return self.units.in_torque(r[1].mass * G * self.session.job.proving.test.lever / 1000)

    def show_job(self, job: Job) -> None:
        self.readings.show_rows(tuple(enumerate(job.proving.test.readings, 1)))
        if not self.lever.hasFocus() or not self.lever.isModified():
            self.lever.setText(units_of(job).length(job.proving.test.lever))
            self.lever.setCursorPosition(0)

    def show_result(self) -> None:
        self.show_job(self.session.job)
        told: measured.TestAnswer | None = self.result
        self.use.setEnabled(bool(told and told.factor))
        if told is None:
            self.stiffness.setText("–")
            self.said.setText("")
            return
        units = units_of(self.job)
        self.stiffness.setText(
            f"{units.torsional_stiffness(told.measured.stiffness)} ± {units.torsional_stiffness(told.measured.spread)}"
        )
        agrees = told.why
        if told.factor:
            low, high = ("–" if f is None else f"{f:.2f}" for f in told.between)
            agrees = f"A joint factor of {told.factor:.3f} makes the model agree (between {low} and {high})."
        self.said.setText(
            f"The model says {units.torsional_stiffness(told.model)}, with rigid welds "
            f"{units.torsional_stiffness(told.rigid)}. {agrees} Slack {math.degrees(told.measured.slack):.3f}°."
        )

    def _use(self) -> None:
        if self.result and self.result.factor:
            self.session.press(f"welds {self.result.factor:.4f}")

    def _take_out(self) -> None:
        if self.readings.picked is None:
            self.session.told.emit("Pick a reading in the list first.", True)
            return
        self.session.press(f"reading {self.readings.picked[0]} gone")

    def cards(self) -> list[Card]:
        return [
            Card("Twist test", f"step {n + 1} of {len(measured.CARD)}", (line,)) for n, line in enumerate(measured.CARD)
        ]
