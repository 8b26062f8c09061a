"""The route card: the steps in the order of work, each with its snags; the job's name, its menu, undo and redo."""

from collections.abc import Mapping
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QResizeEvent
from PyQt6.QtWidgets import QPushButton, QSizePolicy, QVBoxLayout, QWidget

from ironcage.core.job.store.history import History
from ironcage.core.job.values.model import Job
from ironcage.desk.look import text_font
from ironcage.desk.pages import Step
from ironcage.desk.snags import count_marks, read
from ironcage.desk.words import AWAITED, Words

if TYPE_CHECKING:
    from ironcage.core.answers.findings import Progress
    from ironcage.core.answers.shared.snag import Snag

WIDTH_PX = 168
INDENT = "     "  # under the step's name
BESIDE_PX = 24  # what stands beside the words of a step: its edge and margins


class RouteCard(QWidget):
    """Signal: went(step). The menus are set by the window."""

    went = pyqtSignal(str)

    def __init__(self, steps: tuple[Step, ...]) -> None:
        super().__init__()
        self.setObjectName("paper")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(WIDTH_PX)
        box = QVBoxLayout(self)
        box.setContentsMargins(6, 6, 0, 6)
        box.setSpacing(2)
        self.name, self.builder = Words(name="head", wrap=True), Words(name="quiet", wrap=True)
        self.menu = QPushButton("Job")
        self.menu.setAccessibleName("Job menu")
        box.addWidget(self.name)
        box.addWidget(self.builder)
        box.addWidget(self.menu)
        box.addSpacing(8)
        self.buttons: dict[str, QPushButton] = {}
        self._marks: dict[str, str] = {}
        self._awaited = ""  # after the marks while newer ones are looked for
        self._worst: dict[str, Snag | None] = {}
        self._steps = {step.id: step for step in steps}
        for step in steps:
            button = QPushButton()
            button.setObjectName("step")
            button.setCheckable(True)
            button.setText(f"{step.number}  {step.name}")
            button.setToolTip(f"{step.question}   key {step.number}")
            button.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
            button.clicked.connect(lambda _=False, s=step.id: self.went.emit(s))
            self.buttons[step.id] = button
            box.addWidget(button)
        box.addStretch(1)
        self.mark = Words(name="quiet", wrap=True)
        self.undo, self.redo = QPushButton("Undo"), QPushButton("Redo")
        for part in (self.mark, self.undo, self.redo):
            box.addWidget(part)

    def show_step(self, step: str) -> None:
        """Mark the step that is open."""
        for name, button in self.buttons.items():
            button.setChecked(name == step)

    def show_job(self, name: str, builder: str, mark: str, history: History) -> None:
        """Show the job's name, the mark and what can be undone."""
        self.name.setText(name)
        self.builder.setText(builder)
        self.builder.setVisible(bool(builder))
        self.mark.setText(f"mark: {mark}")
        for button, word, what, key in (
            (self.undo, "Undo", history.undo_name, "Ctrl+Z"),
            (self.redo, "Redo", history.redo_name, "Ctrl+Y"),
        ):
            full = f"{word} {what}".strip()
            room = self.width() - 34
            button.setText(button.fontMetrics().elidedText(full, Qt.TextElideMode.ElideRight, room))
            button.setToolTip(f"{full}   {key}")
            button.setEnabled(bool(what))

    def restyle(self, points: float) -> None:
        """Be wide enough for a step with a good many snags in a size of type."""
        wide = QFontMetrics(text_font(points, bold=True)).horizontalAdvance("4  Frame  ✗9 ?9")
        self.setFixedWidth(max(WIDTH_PX, wide + BESIDE_PX))

    def show_old(self) -> None:
        """Show that newer marks are awaited."""
        self._awaited = AWAITED
        self._show_marks()

    def show_snags(self, snags: "tuple[Snag, ...]", far: "Mapping[str, Progress]", job: Job) -> None:
        """Mark each step: how many snags it holds, or that it holds none, and what share of it is done where that is
        counted; nothing for one that has not begun. Where the pointer rests, the worst of them is told."""
        for step, button in self.buttons.items():
            here = [s for s in snags if s.step == step]
            wrong = sum(s.severity == "wrong" for s in here)
            name, number = self._steps[step].name, self._steps[step].number
            progress = far[step]
            counted = [] if progress.share is None else [f"{progress.share:.0%}"]
            mark = " ".join(filter(None, [count_marks(wrong, len(here) - wrong), *counted])) or (
                "✓" if progress.begun else ""
            )
            self._marks[step] = f"{number}  {name}  {mark}"
            self._worst[step] = here[0] if here else None  # the worst stands first
            words = (
                f"{wrong} wrong, {len(here) - wrong} to look at"
                if here
                else "no snags"
                if progress.begun
                else "not begun"
            )
            button.setAccessibleName(f"{name}: {', '.join([words, *counted])}")
            worst = f"\n{read(here[0].what, job)}" if here else ""
            button.setToolTip(f"{self._steps[step].question}   key {number}{worst}")
        self._awaited = ""
        self._show_marks()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._show_marks()

    def _show_marks(self) -> None:
        """The marks, and under each what is worst there, where the card is high enough for all of them."""
        line = self.mark.fontMetrics().height()
        lines = sum(worst is not None for worst in self._worst.values())
        spare = self.height() - self.layout().sizeHint().height() if self.layout() else 0
        shown = sum("\n" in button.text() for button in self.buttons.values())
        roomy = spare + (shown - lines) * line >= 0
        for step, mark in self._marks.items():
            worst = self._worst.get(step)
            text = f"{mark}\n{self._brief(worst)}" if worst and roomy else mark
            self.buttons[step].setText(f"{text}{self._awaited}")

    def _brief(self, snag: "Snag") -> str:
        """What is worst in a few words that fit: its kind, and where."""
        metrics = self.buttons[snag.step].fontMetrics()
        whole = INDENT + snag.code + (f", {snag.where[0]}" if snag.where else "")
        return whole if metrics.horizontalAdvance(whole) < self.width() - BESIDE_PX else INDENT + snag.code
