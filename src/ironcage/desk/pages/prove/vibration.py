"""Vibration: the frame's first modes, bare and with the masses on, each shown as a shape on the table."""

from dataclasses import dataclass

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from ironcage.core.answers.prove import vibration
from ironcage.core.calc.frames.vibration import Mode
from ironcage.desk.asker import Question
from ironcage.desk.pages.page import Card, column, heading
from ironcage.desk.pages.prove.tab import ProveTab, deflected
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import SmallPrint, Words

SHARE = 0.7
MEANS = {
    "twist": "twists",
    "bending": "bends up and down",
    "sideways": "bends sideways",
    "local": "a part of it rings",
}


@dataclass(frozen=True)
class ModeRow:
    """A mode as it is listed: of the bare frame or with the masses, and its number."""

    words: str
    number: int
    mode: Mode


class VibrationTab(ProveTab):
    """One list for both."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.modes = Grid(
            "Modes",
            (
                Column("frame", lambda r: r.words),
                Column("no.", lambda r: str(r.number), True),
                Column("Hz", lambda r: f"{r.mode.hz:.1f}", True),
                Column("what it does", lambda r: MEANS[r.mode.kind], room="bends up and down"),
                Column("moves most at", self._where),
            ),
            lambda r: f"{r.words} {r.number}",
        )
        self.modes.chose.connect(lambda _: self.decorated.emit())
        self.said, self.how = Words(name="hint", wrap=True), SmallPrint(" ".join(vibration.ASSUMED))
        left = column(heading("First of the whole frame"), self.said, self.empty, self.how)
        left.addStretch(1)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(14)
        box.addLayout(left, 4)
        right = QVBoxLayout()
        right.addWidget(self.modes)
        box.addLayout(right, 7)

    def question(self) -> Question:
        return vibration.frame_vibration

    def _where(self, r: ModeRow) -> str:
        count = len(self.job.joints)
        travel = (r.mode.shape[:count, :3] ** 2).sum(axis=1)
        return self.job.joints[int(travel.argmax())].id if count else ""

    def in_a_word(self) -> str:
        first = self.result.first(self.result.bare, "twist")
        return f"{first.hz:.1f} Hz" if first else ""

    def show_result(self) -> None:
        told: vibration.VibrationAnswer | None = self.result
        rows = (
            [
                ModeRow(words, n + 1, m)
                for words, found in (("bare", told.bare), ("with masses", told.loaded))
                for n, m in enumerate(found)
            ]
            if told
            else []
        )
        self.modes.show_rows(rows)
        lines = []
        for words, found in (("Bare", told.bare), ("With its masses", told.loaded)) if told else ():
            for kind in ("twist", "bending"):
                first = told.first(found, kind)
                lines.append(
                    f"{words}: first {kind} {first.hz:.1f} Hz."
                    if first
                    else f"{words}: no pure {kind} among the first {len(found)}."
                )
        self.said.setText("\n".join(lines))
        if rows and self.modes.picked is None:
            self.modes.pick(next((r for r in rows if r.mode.kind == "twist"), rows[0]))

    @property
    def shown(self) -> ModeRow | None:
        """The mode that the table shows."""
        found: ModeRow | None = self.modes.picked
        return found

    def decor(self) -> Decor:
        shown = self.shown
        if shown is None:
            return Decor()
        shape, _ = deflected(self.job, shown.mode.shape[: len(self.job.joints)], SHARE)
        return Decor(shape=shape)

    def cards(self) -> list[Card]:
        shown = self.shown
        return (
            [Card(f"Mode {shown.number}, {shown.words}", f"{shown.mode.hz:.1f} Hz", (MEANS[shown.mode.kind],))]
            if shown
            else []
        )
