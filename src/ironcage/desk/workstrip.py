"""Slow work with files off the GUI thread: says how it goes, and can be stopped."""

import threading
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt, QThread, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from ironcage.desk.words import Words
from ironcage.problem import Problem

Say = Callable[[float], None]


class Stopping(Exception):
    """The builder has pressed Stop."""


class _Worker(QThread):
    """One piece of work; `result` or `refusal` or `error` holds the outcome once it has ended, none of them when it
    was stopped."""

    share = pyqtSignal(int)

    def __init__(self, act: Callable[[Say], Any]) -> None:
        super().__init__()
        self.act = act
        self.stopped = threading.Event()
        self.result: Any = None
        self.refusal = ""
        self.error: Exception | None = None

    def _say(self, share: float) -> None:
        if self.stopped.is_set():
            raise Stopping
        self.share.emit(round(100 * share))

    def run(self) -> None:
        try:
            self.result = self.act(self._say)
        except Stopping:
            pass
        except Problem as problem:
            self.refusal = problem.sentence  # its quantities are written out where it is read
        except Exception as error:
            self.error = error


class WorkStrip(QWidget):
    """A strip that shows while work goes on, one piece at a time. Signal: told(text, whether refused)."""

    told = pyqtSignal(str, bool)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("steel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.words, self.bar, self.button = Words(), QProgressBar(), QPushButton("Stop")
        self.bar.setMaximumWidth(180)
        box = QHBoxLayout(self)
        box.setContentsMargins(8, 2, 8, 2)
        for part in (self.words, self.bar, self.button):
            box.addWidget(part, 1 if part is self.words else 0)
        self.button.clicked.connect(self._stop)
        self.worker: _Worker | None = None
        self._name, self._done = "", lambda result: None
        self.hide()

    def start(self, doing: str, name: str, act: Callable[[Say], Any], done: Callable[[Any], None]) -> None:
        """Do something slow: `act` is told how to say its share and when to stop, `done` takes what it made on the
        GUI thread."""
        if self.worker is not None:
            self.told.emit(f"{self._name} is still being worked on; wait or stop it.", True)
            return
        self.worker, self._name, self._done = _Worker(act), name, done
        self.words.setText(f"{doing} {name} …")
        self.bar.setRange(0, 0)
        self.show()
        self.worker.share.connect(self._show_share)
        self.worker.finished.connect(self._finished)
        self.worker.start()

    def _show_share(self, share: int) -> None:
        self.bar.setRange(0, 100)
        self.bar.setValue(share)

    def _stop(self) -> None:
        if self.worker:
            self.worker.stopped.set()
            self.words.setText(f"Stopping {self._name} …")

    def _finished(self) -> None:
        worker, self.worker = self.worker, None
        self.hide()
        if worker is None:
            return
        if worker.error:
            raise worker.error
        if worker.refusal:
            self.told.emit(worker.refusal, True)
        elif worker.result is None or worker.stopped.is_set():
            self.told.emit(f"Stopped: nothing came of {self._name}.", False)
        else:
            self._done(worker.result)

    def stop(self) -> None:
        """Stop and wait, when the window closes."""
        if self.worker:
            self.worker.stopped.set()
            self.worker.wait()
            self.worker = None
