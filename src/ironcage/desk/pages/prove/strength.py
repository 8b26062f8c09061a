"""Strength: every tube's worst place, case and cause with what is left, and how far things move that matter."""

import math

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from ironcage.core.answers.prove import strength
from ironcage.core.job.geometry.names import name_of
from ironcage.desk.asker import Question
from ironcage.desk.look import ramp
from ironcage.desk.pages.page import Card, button, column, heading, row
from ironcage.desk.pages.prove.tab import ProveTab
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column, name_column
from ironcage.desk.words import SmallPrint, Words

CAUTION = (
    "An estimate of stress, not of a crash, and no judgement of a roll structure: for that ask your sanctioning body "
    "and a licensed engineer."
)


class StrengthTab(ProveTab):
    """Tubes by what they use, and what moves."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.tubes = Grid(
            "Tubes by what they use",
            (
                Column("tube", lambda t: t.tube),
                name_column(lambda t: name_of(self.job, t.tube)),
                Column(
                    "used",
                    lambda t: f"{t.use:.0%}",
                    True,
                    tip="How much it is loaded, of what it can carry, in its worst case",
                ),
                Column(
                    "how", lambda t: t.cause if t.check == "column" else f"{t.cause} {t.check}".removesuffix(" yield")
                ),
                Column("case", lambda t: t.case),
                Column("at", lambda t: t.at),
                Column("section", self._section),
                Column("MPa", lambda t: f"{t.stress:.0f}", True, tip="Von Mises there; the mean push for a column"),
                *map(_left_on, range(len(strength.MEMBER_CHECKS))),
            ),
            lambda t: t.tube,
        )
        self.moves = Grid(
            "What moves",
            (
                Column("what", lambda m: m.what),
                Column(lambda: self.units.length_name, lambda m: self.units.fine(m.mm, unit=False), True),
                Column("°", lambda m: "" if m.angle is None else f"{math.degrees(m.angle):.2f}", True),
                Column("worst in", lambda m: m.case),
            ),
            lambda m: m.what,
            needs=2,
        )
        self.tubes.chose.connect(session.choose)
        self.moves.chose.connect(self._pick_move)
        self.sum = Words(name="quiet", wrap=True)
        self.caution = SmallPrint(CAUTION, "An estimate, not of a crash", " ".join(strength.ASSUMED))
        left = column(self.sum, self.empty)
        left.addWidget(self.tubes, 1)
        right = QVBoxLayout()
        right.addLayout(column(heading("What moves, at worst")))
        right.addWidget(self.moves, 1)
        right.addWidget(self.caution)
        right.addLayout(
            row(
                button(
                    "Report…",
                    lambda: self.export.emit("report-pdf", ""),
                    "The whole of Prove as PDF, with every assumption",
                ),
                button("List…", lambda: self.export.emit("strength-csv", ""), "These tubes as CSV"),
                button("Shape…", lambda: self.export.emit("shape-vtu", ""), "Shape and stress for other viewers (VTU)"),
                button(
                    "Solver…",
                    lambda: self.export.emit("solver-inp", ""),
                    "The model as text that a general solver reads",
                ),
            )
        )
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.addLayout(left, 8)
        box.addLayout(right, 4)

    def question(self) -> Question:
        return strength.tube_strength

    def _section(self, t: strength.TubeStrength) -> str:
        tube = self.job.tube_by_id.get(t.tube)
        return tube.section if tube else ""

    def in_a_word(self) -> str:
        worst = self.result.worst
        return f"{worst.use:.0%}" if worst else ""

    def show_result(self) -> None:
        told: strength.StrengthAnswer | None = self.result
        if told is None:
            for grid in (self.tubes, self.moves):
                grid.show_rows(())
            self.sum.setText("")
            return
        ranked = sorted(told.tubes, key=lambda t: -t.use)
        self.tubes.show_rows(ranked, wrong=frozenset(t.tube for t in ranked if t.use > 1))
        moves = strength.moves(self.job, told)
        self.moves.show_rows(moves, wrong=frozenset(m.what for m in moves if m.too_far))
        untold = f"; {len(told.refused)} cases can't be worked out, see Cases" if told.refused else ""
        worst = told.worst
        over = sum(t.use > 1 for t in told.tubes)
        says = (
            f"{over} tubes are loaded beyond what they carry. "
            if over
            else f"Least left: {_left(worst.margin)} on {worst.tube}. "
            if worst
            else ""
        )
        self.sum.setText(f"{says}{len(told.cases)} cases{untold}.")

    def show_chosen(self) -> None:
        self.tubes.show_chosen(self.session.chosen)

    def _pick_move(self, keys: tuple[str, ...]) -> None:
        if self.result:
            self.session.choose(
                tuple(n for m in strength.moves(self.job, self.result) if m.what in keys for n in m.where)
            )

    def decor(self) -> Decor:
        if not self.result.tubes:
            return Decor()
        return Decor(colours=ramp(self.look, np.clip([t.use for t in self.result.tubes], 0, 1)))

    def cards(self) -> list[Card]:
        worst = self.result.worst if self.result else None
        if worst is None:
            return []
        return [
            Card(
                "Least left",
                _left(worst.margin),
                (f"{worst.tube}, {worst.cause} {worst.check}", f"in {worst.case} at {worst.at}"),
            )
        ]


def _left_on(check: int) -> Column:
    """What is left on one check."""
    words = strength.MEMBER_CHECKS[check]
    return Column(
        f"left, {words}", lambda t: _left(t.margins[check]), True, tip=f"What is left on {words}: 1 / used − 1"
    )


def _left(margin: float) -> str:
    return f"{margin:+.0%}" if math.isfinite(margin) and margin < 99 else "plenty"
