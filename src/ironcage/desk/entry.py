"""The line where a builder types, with what it would do shown as it is typed."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence, QPainter, QPaintEvent, QPalette
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QSizePolicy, QWidget

from ironcage.core.job import text as lines
from ironcage.core.job.edits import place_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.look import text_font
from ironcage.desk.session import Session
from ironcage.desk.spoken import wish
from ironcage.desk.words import Words
from ironcage.problem import Problem
from ironcage.units import UnitProblem, said

if TYPE_CHECKING:
    from ironcage.core.job.text.completion import Completion

MOST_KEPT = 100
LINE_POINTS = 11.0


TEACHING = said.example("type here:  joint [0] [250] [300]   ·   z+[25]   ·   tube   ·   F1 lists all")


class TypedLine(QLineEdit):
    """An input that shows quietly, after what has been typed, the letters that Tab would add. Signal: many() when
    several lines, or things of a job, are pasted into it."""

    many = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.adds = ""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if not self.adds or self.cursorPosition() != len(self.text()):
            return
        at = self.cursorRect().center().x()
        if at + self.fontMetrics().horizontalAdvance(self.adds) < self.width():
            painter = QPainter(self)
            painter.setPen(self.palette().color(QPalette.ColorRole.PlaceholderText))
            painter.drawText(self.rect().adjusted(at, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, self.adds)
            painter.end()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        text = (
            QGuiApplication.clipboard().text().strip()
            if event and event.matches(QKeySequence.StandardKey.Paste)
            else ""
        )
        if "\n" in text:
            self.many.emit()
        else:
            super().keyPressEvent(event)

    def take(self) -> bool:
        """Put in the letters that are shown; whether there were any."""
        if not self.adds:
            return False
        self.setText(f"{self.text()}{self.adds} ")
        return True


class Entry(QWidget):
    """An input and, beside it, what it would do or why it can't, and what can be typed next. Tab finishes a word that
    is begun, up and down recall earlier lines. Signals: left when the builder is done typing, pasted when several
    lines are pasted into it, wished(wish) when a line wants something of the window."""

    left = pyqtSignal()
    pasted = pyqtSignal()
    wished = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.line = TypedLine()
        self.line.setAccessibleName("Type a line")
        self.line.setFont(text_font(LINE_POINTS))
        self.line.setMinimumWidth(300)
        self.said = Words(wrap=True)
        self.said.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.said.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.said.setAccessibleName("What was said")
        box = QHBoxLayout(self)
        box.setContentsMargins(8, 3, 8, 3)
        box.addWidget(self.line, 4)
        box.addWidget(self.said, 5)
        self.line.textEdited.connect(self._preview)
        self.line.many.connect(self.pasted)
        self.line.installEventFilter(self)
        session.told.connect(self.tell)
        session.started.connect(lambda: self.tell("", False))
        session.changed.connect(self._teach)
        self._teach()
        self._kept: list[str] = []
        self._at = 0

    def _teach(self) -> None:
        """What the empty line says, in the builder's units."""
        self.line.setPlaceholderText(self.session.units.say(TEACHING))

    def begin(self, text: str) -> None:
        """Start a line with what was typed elsewhere."""
        self.line.setFocus()
        self.line.setText(self.session.units.say(text))
        self._preview()

    def tell(self, text: str, refused: bool) -> None:
        """Say something beside the line."""
        self.said.setText(self.session.units.say(text))
        name = "refused" if refused else "hint"
        if name != self.said.objectName():
            self.said.setObjectName(name)
            self.said.style().polish(self.said)

    def restyle(self, scale: float) -> None:
        """Use another size of type."""
        self.line.setFont(text_font(LINE_POINTS * scale))

    def eventFilter(self, watched: object, event: object) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QKeyEvent.Type.ShortcutOverride and not self.line.text():
            undoes = QKeySequence.StandardKey.Undo, QKeySequence.StandardKey.Redo
            if any(event.matches(key) for key in undoes):  # with nothing typed, they are for the job
                event.ignore()
                return True
        if isinstance(event, QKeyEvent) and event.type() == QKeyEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._enter()
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.line.clear()
                self.tell("", False)
                self.left.emit()
                return True
            if event.key() == Qt.Key.Key_Tab and self.line.take():
                self._preview()
                return True
            if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
                self._recall(-1 if event.key() == Qt.Key.Key_Up else 1)
                return True
        return False

    def _enter(self) -> None:
        text = self.line.text()
        if not text.strip():
            self.left.emit()
            return
        try:
            self.session.type(text)
        except Problem as problem:
            if wanted := wish(text):
                self._keep(text)
                self.wished.emit(wanted)
                return
            self.tell(problem.sentence, True)
            if isinstance(problem, UnitProblem) and problem.text in text:
                self.line.setCursorPosition(text.index(problem.text) + problem.at)
            return
        self._keep(text)
        if not self.session.chosen:
            return
        self.left.emit()

    def _keep(self, text: str) -> None:
        """Keep a line that was carried out, to be recalled, and begin the next."""
        if text not in self._kept[-1:]:
            self._kept = [*self._kept, text][-MOST_KEPT:]
        self._at = len(self._kept)
        self.line.clear()

    def _recall(self, step: int) -> None:
        self._at = min(max(self._at + step, 0), len(self._kept))
        self.line.setText(self._kept[self._at] if self._at < len(self._kept) else "")
        self._preview()

    def _preview(self) -> None:
        line = self.line.text()
        text = line.strip()
        if not text:
            self._offer("")
            self.tell("", False)
            return
        from ironcage.core.job.text.completion import (
            completion,
        )  # with the first letter, not before the window is there

        goes_on = completion(line, self.session.job)
        self._offer(goes_on.adds)
        try:
            done = self.session.understood(text)
        except Problem as problem:
            self.tell(self._unfinished(text, goes_on, problem), False)
            return
        self.tell(f"Enter: {done.name}{self._moved(done.job)}", False)

    def _offer(self, adds: str) -> None:
        """The letters that Tab would add stand behind the line."""
        self.line.adds = adds
        self.line.update()

    def _unfinished(self, text: str, goes_on: "Completion", problem: Problem) -> str:
        """What is said of a line that can't be carried out as it is: what the window would do, what can be typed next,
        or why it is refused."""
        if wanted := wish(text):
            return f"Enter: {wanted.words}"
        ways = [f"Tab: {text.rsplit(maxsplit=1)[-1]}{goes_on.adds}"] * bool(goes_on.adds)
        ways += [f"or {', '.join(goes_on.others)}"] * bool(goes_on.others)
        ways += [f"then {goes_on.fields}"] * bool(goes_on.fields)
        if command := next((c for c in lines.COMMANDS if c.word == text.lower()), None):
            return f"{command.says}. For example: {command.example}"
        if goes_on.fields or goes_on.adds:
            return f"{'; '.join(ways)}."
        return self.session.named(problem).sentence

    def _moved(self, after: Job) -> str:
        """From where to where, for the first thing that would move."""
        job = self.session.job
        for name in self.session.chosen:
            before, then = (_place(j, name) for j in (job, after))
            if before and then and before != then:
                units, d = units_of(job), job.datum
                old, new = ((p[0] - d.x, p[1] - d.y, p[2] - d.z) for p in (before, then))
                return f":  {units.point(old)}  →  {units.point(new)}"
        return ""


def _place(job: Job, name: str) -> tuple[float, float, float] | None:
    if name in job.placed:
        return place_of(job.placed[name])
    return job.joint_by_id[name].place if name in job.joint_by_id else None
