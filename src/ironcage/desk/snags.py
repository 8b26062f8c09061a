"""The next thing to do in one line, and the list of snags."""

import re
from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from ironcage.core.job.geometry.names import spoken
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import AWAITED, Words

if TYPE_CHECKING:
    from ironcage.core.answers.findings import Advice
    from ironcage.core.answers.shared.snag import Snag

CLICKS = "Click to see it on the table; double click or Return to go and mend it."
# where a step shows more of a snag: its code and the step's list
LISTS = {
    "clash": "Clashes",
    "too near": "Clashes",
    "can't come out": "Clashes",
    "can't reach": "People",
    "falls over": "Stance",
    "lifts its front": "Stance",
    "chain can't run": "Drives",
    "out of line": "Drives",
    "no guard": "Drives",
    "shaft can't turn": "Drives",
    "shaft shakes": "Drives",
    "rule failed": "Rules",
    "rule not judged": "Rules",
    "bays fold": "Bays",
    "no wheels": "Wheels",
    "no die": "Shelf",
    "loose joint": "Joints",
    "crowded joint": "Joints",
    "not mirrored": "Joints",
    "doubled tube": "Tubes",
    "tight angle": "Tubes",
    "slender": "Tubes",
    "too weak": "Strength",
    "little left": "Strength",
    "opens under load": "Strength",
    "case unknown": "Cases",
}
BESIDE_PX = 24  # margins of the line and of its button
_SHAPES = {"wrong": "✗ wrong", "unknown": "? unknown", "look": "○ look"}


def marks(snags: "Sequence[Snag]", step: str) -> dict[str, str]:
    """How many of a step's snags each of its lists tells more of, by the list's words: ✗ for wrong, ? for the rest."""
    by_list: dict[str, list[bool]] = {}
    for snag in snags:
        if snag.step == step and snag.code in LISTS:
            by_list.setdefault(LISTS[snag.code], []).append(snag.severity == "wrong")
    return {words: count_marks(sum(wrong), len(wrong) - sum(wrong)) for words, wrong in by_list.items()}


def count_marks(wrong: int, others: int) -> str:
    """`✗2 ?1`: two that are wrong and one to look at."""
    return " ".join([f"✗{wrong}"] * bool(wrong) + [f"?{others}"] * bool(others))


class NextLine(QWidget):
    """One line: what to do next and why. Signal: went(step, what to choose)."""

    went = pyqtSignal(str, tuple)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("steel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.button = QPushButton("Next:")
        self.button.setObjectName("plain")
        self.why = Words(name="quiet")
        self.why.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        box = QHBoxLayout(self)
        box.setContentsMargins(8, 1, 8, 1)
        box.addWidget(self.button)
        box.addWidget(self.why, 1)
        self.button.clicked.connect(self._go)
        self._advice: Advice | None = None
        self._whats: tuple[str, ...] = ()  # what to do, with names in words and without
        self._why = ""
        self.button.setMinimumWidth(1)  # a long sentence makes no window wider

    def show_advice(self, advice: "Advice", job: Job) -> None:
        """Show other advice."""
        self._advice, say = advice, units_of(job).say
        self._whats = tuple(f"Next: {text}".rstrip(".") for text in (read(advice.what, job), say(advice.what)))
        why = read(advice.why, job)
        self._why = f"{why[:1].upper()}{why[1:]}"
        self.button.setToolTip(f"{self._whats[0]}\n{self._why}")
        self._fill()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fill()

    def _fill(self) -> None:
        """What to do, with names in words where there is room for them, and why where there is room for all of it; the
        tip says both in any case."""
        if not self._whats:
            return
        metrics, room = self.button.fontMetrics(), self.width() - BESIDE_PX
        fits = [text for text in self._whats if metrics.horizontalAdvance(text) <= room]
        elided = metrics.elidedText(self._whats[-1], Qt.TextElideMode.ElideRight, room)
        self.button.setText(fits[0] if fits else elided)
        room -= metrics.horizontalAdvance(self.button.text()) + BESIDE_PX
        self.why.setText(self._why if self.why.fontMetrics().horizontalAdvance(self._why) <= room else "")

    def show_old(self) -> None:
        """Show that newer advice is awaited."""
        if not self.button.text().endswith(AWAITED):
            self.button.setText(f"{self.button.text()}{AWAITED}")

    def _go(self) -> None:
        if self._advice:
            self.went.emit(self._advice.step, self._advice.where)


class SnagList(QWidget):
    """Every snag, worst first. Picking one chooses on the table what it is about; a double click or Return goes to
    its step, and starts the line that mends it where there is one. Signals: picked(what to choose), went(snag)."""

    picked = pyqtSignal(tuple)
    went = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        columns = (
            Column("kind", lambda s: _SHAPES[s.severity]),
            Column("step", lambda s: s.step.capitalize()),
            Column("where", lambda s: " ".join(s.where[:4]) + (" …" if len(s.where) > 4 else "")),
            Column("what is wrong or unknown", lambda s: s.what),
            Column("a mend", lambda s: s.hint),
        )
        self.grid = Grid("Snags", columns, lambda s: f"{s.code} {s.where}")
        self.none = QLabel("No snags: nothing is known to be wrong or missing.")
        self.none.setAlignment(Qt.AlignmentFlag.AlignCenter)
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 6, 8, 6)
        box.addWidget(self.none)
        box.addWidget(self.grid, 1)
        self.help = Words(CLICKS, name="quiet")
        box.addWidget(self.help)
        self.grid.list.clicked.connect(lambda index: self._pick(index.row()))
        self.grid.list.activated.connect(lambda index: self._go(index.row()))

    def show_snags(self, found: "tuple[Snag, ...]", job: Job) -> None:
        """Show other snags."""
        units = units_of(job)
        snags = tuple(replace(s, what=read(s.what, job), hint=units.say(s.hint)) for s in found)
        self.help.setText(CLICKS)
        self.none.setVisible(not snags)
        self.help.setVisible(bool(snags))
        self.grid.setVisible(bool(snags))
        self.grid.show_rows(snags, frozenset(self.grid.key(s) for s in snags if s.severity == "wrong"))

    def show_old(self) -> None:
        """Show that newer ones are awaited."""
        self.help.setText(f"The job was changed: these are being looked for again{AWAITED}")

    def _pick(self, row: int) -> None:
        self.picked.emit(self.grid.model.rows[row].where)

    def _go(self, row: int) -> None:
        self.went.emit(self.grid.model.rows[row])


def read(text: str, job: Job) -> str:
    """A sentence of the core as it is read: in the job's units, with the names of joints and tubes in words."""
    return spoken(job, units_of(job).say(text))


def mending(snag: "Snag") -> str:
    """The line that a mend says to type; empty where it says something else."""
    said = re.match(r"Type:? (?:for example:? )?(.+?)\.?$", snag.hint)
    return said[1] if said else ""
