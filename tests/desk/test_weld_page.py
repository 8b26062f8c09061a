"""Weld at the window: ends said to be welded, the next weld, two orders, pieces put in."""

import pytest
from PyQt6.QtCore import Qt

from ironcage.core.job.values.model import Job
from ironcage.desk.widgets.plot import Plot
from ironcage.samples import sample
from tests.desk.test_pages import retype
from tests.desk.test_true_page import cells


@pytest.fixture
def page(drive):
    drive.start(sample("skerry"))
    drive.key(Qt.Key.Key_8)
    drive.settle()
    return drive.window.pages["weld"]


def test_the_demo_says_how_far_it_is_and_what_comes_next(drive, page) -> None:
    assert "40 open, 43 tacked, 1 welded, 0 checked" in drive.read()
    assert drive.tally("welded") == "1.2 %"
    assert "Next: " in drive.read()
    assert "give or take 40%" in drive.read()
    chart = page.findChild(Plot).chart
    assert [(c.name, c.ghost) for c in chart.curves] == [("nose to tail", True), ("balanced", False)]
    first = cells(page.steps, 0)[0]
    assert page.cards()[0].number == first
    assert len(page.cards()) == 83


def test_a_picked_end_is_welded_by_its_button_and_the_log_has_it(drive, page) -> None:
    page.ends.list.selectRow(1)
    assert drive.window.session.chosen == ("T1L", "J2L")
    drive.press("Welded")
    drive.settle()
    assert drive.said == "T1L at J2L is welded."
    assert cells(page.ends, 1)[1] == "welded"
    assert "2 welded" in drive.read()
    drive.key(Qt.Key.Key_Z, drive.window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert cells(page.ends, 1)[1] == "tacked"


def test_the_other_order_is_looked_at(drive, page) -> None:
    before = cells(page.steps, 0)[0]
    drive.press("Nose to tail")
    assert cells(page.steps, 0)[0] != before
    assert page.findChild(Plot).chart.curves[-1].name == "nose to tail"


def test_pieces_are_put_in_order_off_the_windows_thread(drive, page) -> None:
    drive.press("Work out")
    drive.qtbot.waitUntil(lambda: len(page.pieces.model.rows) == 36, timeout=60_000)
    assert "36 pieces, each by one straight slide past what is there." in drive.read()
    assert cells(page.pieces, 0)[1].startswith("from ")
    page.pieces.list.selectRow(0)
    assert drive.window.session.chosen == page.pieces.model.rows[0].tubes
    drive.window.session.choose(("J7L",))
    drive.type("z+5")
    drive.settle()
    assert "The frame has changed since: work it out again." in drive.read()


def test_how_it_is_welded_is_typed(drive, page) -> None:
    retype(drive, page.settings, 1, "value", "0.4")
    drive.settle()
    assert drive.window.session.job.welding.shrink_of(1.5) == 0.4
    retype(drive, page.settings, 0, "value", "laser")
    assert "How much laser shrinks is not known" in page.settings.refusal.text()
    drive.key(Qt.Key.Key_Escape, page.settings.list)


def test_a_frame_in_pieces_and_none_at_all_say_why(drive, page, box: Job) -> None:
    drive.start(Job())
    drive.key(Qt.Key.Key_8)
    drive.settle()
    assert "There is nothing to weld. Join joints with tubes in Frame first." in drive.read()
