"""A real window, off screen, driven by keys and clicks; it must leave no thread behind."""

import threading
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QCoreApplication, QEvent, QPoint, Qt
from PyQt6.QtWidgets import QLabel, QPushButton

from ironcage.core.job.values.model import Job
from ironcage.desk.app import application
from ironcage.desk.window import Window

LAYOUT_ROUNDS = 3  # as deep as our layouts lie within each other


@pytest.fixture(scope="session")
def qapp():
    return application()


class Driver:
    """What a person does at the window, and what they read."""

    def __init__(self, window: Window, qtbot) -> None:
        self.window, self.qtbot = window, qtbot

    def settle(self) -> None:
        """Until every answer is on the screen and all words have their places."""
        window = self.window
        self.qtbot.waitUntil(lambda: window.at_rest, timeout=60_000)
        self.qtbot.wait(20)
        for _ in range(
            LAYOUT_ROUNDS
        ):  # a slow drawing takes all of that wait, and layouts within layouts come after it
            QCoreApplication.sendPostedEvents(None, QEvent.Type.LayoutRequest)

    def start(self, job: Job) -> "Driver":
        self.window.session.start(job, None)
        self.settle()
        self.window.table.fit()
        return self

    def key(self, key: Qt.Key, widget=None, modifier=Qt.KeyboardModifier.NoModifier) -> None:
        self.qtbot.keyClick(widget or self.window.table, key, modifier)

    def type(self, line: str) -> None:
        """Start on the table, type, press Enter."""
        self.window.table.setFocus()
        self.qtbot.keyClicks(self.window.table, line[0])
        self.qtbot.keyClicks(self.window.entry.line, line[1:])
        self.qtbot.keyClick(self.window.entry.line, Qt.Key.Key_Return)

    def spot(self, joint: str) -> QPoint:
        """Where a joint is on the table's screen."""
        window = self.window
        n = [j.id for j in window.session.job.joints].index(joint)
        x, y, _ = window.table.shown.spots[n]
        return QPoint(round(x), round(y))

    def click(self, joint: str, modifier=Qt.KeyboardModifier.NoModifier) -> None:
        self.qtbot.mouseClick(self.window.table, Qt.MouseButton.LeftButton, modifier, self.spot(joint))

    def press(self, words: str) -> None:
        """Click the button of the open page that bears these words."""
        button = next(b for b in self.window.page.findChildren(QPushButton) if b.text() == words)
        assert button.isVisible(), words
        assert button.isEnabled(), words
        self.qtbot.mouseClick(button, Qt.MouseButton.LeftButton)

    def from_menu(self, button: QPushButton, start: str) -> None:
        """Open a button's menu and take the line that starts so."""
        menu = button.menu()
        menu.popup(button.mapToGlobal(QPoint(0, 0)))
        taken = next(action for action in menu.actions() if action.text().startswith(start))
        menu.close()
        taken.trigger()

    @property
    def said(self) -> str:
        return self.window.entry.said.text()

    def tally(self, key: str) -> str:
        dial = self.window.tally.dials[key]
        return " ".join(filter(None, (dial.number.text(), dial.unit.text().strip(), dial.change.text())))

    def read(self) -> str:
        """Every label on the open page."""
        return "\n".join(label.text() for label in self.window.page.findChildren(QLabel) if label.isVisible())


@pytest.fixture
def drive(qtbot, own_home: Path) -> Iterator[Driver]:
    before = set(threading.enumerate())
    window = Window(own_home)
    window.setWindowState(Qt.WindowState.WindowNoState)  # the screen that is not there is small
    window.resize(1280, 800)
    window.show()
    qtbot.waitUntil(window.isVisible, timeout=60_000)
    driver = Driver(window, qtbot)
    driver.settle()
    yield driver
    window.session._saved_job = window.session.job
    window.close()
    window.deleteLater()
    left = [t for t in threading.enumerate() if t not in before and not isinstance(t, threading._DummyThread)]
    assert not left, f"threads left behind: {left}"


@pytest.fixture
def answer_dialog(monkeypatch: pytest.MonkeyPatch) -> Callable[[str], None]:
    """Answers file dialogs with a path, as if it had been typed there."""
    from PyQt6.QtWidgets import QFileDialog

    def answer(path: str) -> None:
        for name in ("getSaveFileName", "getOpenFileName"):
            monkeypatch.setattr(QFileDialog, name, staticmethod(lambda *a, **k: (path, "")))

    return answer
