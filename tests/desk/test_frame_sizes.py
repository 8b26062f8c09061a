"""Frame's lists on a small screen, in the dark, with large type and with long names: nothing asks for more room than
there is."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QPushButton

from ironcage.core.job.values.model import Job
from ironcage.desk.pages.frame.page import ORDER
from ironcage.samples import sample
from tests.core.lines import typed
from tests.desk.conftest import Driver


def _full() -> Job:
    """A frame with something in every list, and a long name in most."""
    job = sample("fell-litter")
    name = "Structural hollow section from the long bar at the back of the shop"
    job = typed(
        job,
        f"stock {name} = 80 x 40 x 3",
        "die 38 clr 114 grip 60",
        "lock 30",
        "variant keep The one before the long weekend: with notes",
    )
    return typed(job, "donor", chosen=("T3L",))


@pytest.mark.parametrize("words", ORDER)
def test_every_list_fits_a_small_window_and_every_word_is_whole(drive: Driver, words: str) -> None:
    window = drive.start(_full()).window
    window.resize(1024, 700)
    drive.key(Qt.Key.Key_4)
    window.page.open(words)
    drive.settle()
    assert window.width() <= 1024, f"{words} widens the window"
    assert window.height() <= 700
    for button in (b for b in window.page.findChildren(QPushButton) if b.isVisible()):
        assert button.width() >= button.fontMetrics().horizontalAdvance(button.text()), button.text()
    for label in (w for w in window.page.findChildren(QLabel) if w.isVisible() and w.text() and not w.wordWrap()):
        assert label.width() > 20, label.text()
    window.toggle_dark()
    drive.settle()
    window.grab()


def test_larger_type_does_not_widen_the_window_past_a_laptop(drive: Driver) -> None:
    window = drive.start(_full()).window
    window.resize(1280, 800)
    for _ in range(3):
        drive.key(Qt.Key.Key_Plus, window, Qt.KeyboardModifier.ControlModifier)
    for words in ORDER:
        window.page.open(words)
        drive.settle()
        assert window.width() <= 1280, words


def test_a_list_that_is_open_stays_open_while_things_are_picked_on_the_table(drive: Driver) -> None:
    window = drive.start(sample("sandpiper")).window
    for words in ("Fittings", "Bays", "Changes", "Stations", "Swap"):
        window.page.open(words)
        drive.settle()
        drive.click("J12L")
        assert window.page.tabs.words == words
        window.session.choose(("T9L",))
        assert window.page.tabs.words == words
    window.page.open("Joints")
    window.session.choose(("T10L",))
    assert window.page.tabs.words == "Tubes"
