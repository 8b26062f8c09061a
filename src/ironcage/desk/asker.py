"""Answers worked out off the GUI thread, from a snapshot, the newest question of a kind winning.

A question is a function of something that does not change (a job, a view of the table); its answer comes back by
signal with what it was asked for, so that what is old can be told from what is new. One asker is one thread: the
window has one for the core, whose answers share caches, and the table one for its picture.
"""

import sys
import threading
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QObject, QThread, pyqtSignal

from ironcage.problem import Problem

# What is asked about a job or another snapshot: a plain function, or a partial one that holds plain values.
Question = Callable[[Any], Any]


@dataclass(frozen=True)
class Answered:
    """An answer: the kind of question, the snapshot (a job, for most) it is for, and the result or why there is
    none."""

    kind: str
    job: Any
    result: Any
    problem: Problem | None = None


class Asker(QObject):
    """Works through questions in the order of their first asking; a newer one of the same kind replaces it."""

    answered = pyqtSignal(object)
    broke = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        # A short switch interval keeps the window answering while Python code runs on the other thread.
        sys.setswitchinterval(0.0005)
        self._asked: dict[str, tuple[Question, Any, Callable[[Any], None] | None]] = {}
        self._last: Callable[[], None] | None = None
        self._change = threading.Condition()
        self._ending = False
        self._busy = False
        self._held = False
        self._thread = _Worker(self)
        self._thread.start()

    def ask(self, kind: str, question: Question, job: Any, then: Callable[[Any], None] | None = None) -> None:
        """Ask, taking the place of an unanswered question of the same kind; `then` is called with the job, on the
        thread, once it is answered."""
        with self._change:
            self._asked[kind] = (question, job, then)
            self._change.notify()

    def hold(self) -> None:
        """Keep what is asked until `release`."""
        with self._change:
            self._held = True

    def release(self) -> None:
        """Answer what was asked meanwhile, and from now on at once."""
        with self._change:
            self._held = False
            self._change.notify()

    def drop(self, kind: str) -> None:
        """Forget a question that nobody looks at any more."""
        with self._change:
            self._asked.pop(kind, None)

    @property
    def idle(self) -> bool:
        """Whether everything asked has been answered."""
        with self._change:
            return not self._asked and not self._busy

    def close(self, last: Callable[[], None] | None = None) -> None:
        """Stop after the question in hand; `last` is done on the thread before it ends."""
        with self._change:
            self._last = last
            self._ending = True
            self._asked.clear()
            self._change.notify()
        self._thread.wait()

    def work(self) -> None:
        """The thread's loop."""
        while True:
            with self._change:
                self._busy = False
                while (self._held or not self._asked) and not self._ending:
                    self._change.wait()
                if self._ending:
                    break
                kind = next(iter(self._asked))
                question, job, then = self._asked.pop(kind)
                self._busy = True
            try:
                self.answered.emit(Answered(kind, job, question(job)))
            except Problem as problem:
                self.answered.emit(Answered(kind, job, None, problem))
            except Exception as error:
                self.broke.emit(error)
            if then:
                then(job)
        if self._last:
            self._last()


class FollowUp:
    """A question that is asked as soon as another one is answered, without a way round by the window: put on the GUI
    thread, asked from the thread that answered."""

    def __init__(self, asker: Asker) -> None:
        self._asker = asker
        self._asks: tuple[str, Question, Any] | None = None

    def put(self, kind: str, question: Question, job: Any) -> None:
        """What is to follow the answer for a job, in place of what was to follow before."""
        self._asks = kind, question, job

    def __call__(self, job: Any) -> None:
        """The answer for a job is there."""
        if self._asks is not None and self._asks[2] is job:
            self._asker.ask(*self._asks)


class _Worker(QThread):
    def __init__(self, asker: Asker) -> None:
        super().__init__()
        self._asker = asker

    def run(self) -> None:
        self._asker.work()
