"""A question is asked on another thread than the window's: it must not touch anything of the window."""

import sys
from collections.abc import Callable
from typing import Any, ClassVar

import pytest
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QTabWidget

from ironcage.core.job.values.model import Job
from ironcage.desk.asker import Asker, Question
from ironcage.desk.pages import STEPS


class Watched:
    """A question that notes what it calls of the window while it is being answered."""

    touched: ClassVar[list[str]] = []

    def __init__(self, question: Question) -> None:
        self.question = question

    def _look(self, frame: Any, event: str, called: Any) -> None:
        owner = frame.f_locals.get("self") if event == "call" else getattr(called, "__self__", None)
        if event in ("call", "c_call") and isinstance(owner, QObject):
            name = frame.f_code.co_name if event == "call" else called.__name__
            self.touched.append(f"{type(owner).__name__}.{name}")

    def __call__(self, job: Any) -> Any:
        sys.setprofile(self._look)
        try:
            return self.question(job)
        finally:
            sys.setprofile(None)


@pytest.fixture
def watched(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    ask: Callable[..., None] = Asker.ask
    monkeypatch.setattr(Watched, "touched", [])
    monkeypatch.setattr(Asker, "ask", lambda self, kind, question, *rest: ask(self, kind, Watched(question), *rest))
    return Watched.touched


def test_no_question_of_any_list_touches_a_widget(watched: list[str], drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    for step in STEPS:
        drive.window.go(step.id)
        drive.settle()
        tabs = drive.window.page.findChild(QTabWidget)
        for words in [tabs.tabText(n) for n in range(tabs.count())] if tabs else []:
            drive.window.page.open_list(words)
            drive.settle()
    assert watched == []


def test_a_question_that_looks_at_a_widget_is_found(watched: list[str], drive, sandpiper: Job) -> None:
    drive.window.slow.ask("page", lambda job: drive.window.isVisible(), sandpiper)
    drive.qtbot.waitUntil(lambda: drive.window.slow.idle, timeout=60_000)
    assert "Window.isVisible" in watched
