"""Writes a file off the GUI thread, says how it goes, and can be stopped: nothing is written then."""

import threading
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QThread, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from ironcage.core.job.file import write_atomically
from ironcage.core.job.model import Job
from ironcage.desk.words import Words
from ironcage.problem import Problem

if TYPE_CHECKING:
    from ironcage.core.exchange.kinds import Kind


class _Writer(QThread):
    """One file being made; `said` holds the outcome once it has ended."""

    def __init__(self, kind: "Kind", job: Job, word: str, path: Path) -> None:
        super().__init__()
        self.kind, self.job, self.word, self.path = kind, job, word, path
        self.stopped = threading.Event()
        self.said, self.refused = "", False
        self.error: Exception | None = None

    def run(self) -> None:
        try:
            data = self.kind.make(self.job, self.word)
            if self.stopped.is_set():
                self.said = f"Stopped: {self.path.name} was not written."
                return
            write_atomically(self.path, data)
            self.said = f"Wrote {self.path}."
        except Problem as problem:
            self.said, self.refused = str(problem), True
        except Exception as error:
            self.error = error


class Exporter(QWidget):
    """A strip that shows while a file is being made. Signal: told(text, whether refused)."""

    told = pyqtSignal(str, bool)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("steel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.words, self.bar, self.button = Words(), QProgressBar(), QPushButton("Stop")
        self.bar.setRange(0, 0)
        self.bar.setMaximumWidth(180)
        box = QHBoxLayout(self)
        box.setContentsMargins(8, 2, 8, 2)
        for part in (self.words, self.bar, self.button):
            box.addWidget(part, 1 if part is self.words else 0)
        self.button.clicked.connect(self._stop)
        self.writer: _Writer | None = None
        self.hide()

    def start(self, kind: "Kind", job: Job, word: str, path: Path) -> None:
        """Make a file from a snapshot of the job."""
        if self.writer is not None:
            self.told.emit(f"{self.writer.path.name} is still being written; wait or stop it.", True)
            return
        self.writer = _Writer(kind, job, word, path)
        self.words.setText(f"Making {path.name} …")
        self.show()
        self.writer.finished.connect(self._finished)
        self.writer.start()

    def _stop(self) -> None:
        if self.writer:
            self.writer.stopped.set()
            self.words.setText(f"Stopping {self.writer.path.name} …")

    def _finished(self) -> None:
        writer, self.writer = self.writer, None
        self.hide()
        if writer is None:
            return
        if writer.error:
            raise writer.error
        self.told.emit(writer.said, writer.refused)

    def stop(self) -> None:
        """Stop and wait, when the window closes."""
        if self.writer:
            self.writer.stopped.set()
            self.writer.wait()
            self.writer = None
