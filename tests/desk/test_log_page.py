"""Log at the window: what was done, what is to do, what is on order, the day, and what writes itself."""

from datetime import date
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt

from ironcage.core.job.values.model import Job
from ironcage.samples import sample
from tests.desk.test_pages import retype
from tests.desk.test_true_page import cells


@pytest.fixture
def page(drive):
    drive.start(sample("skerry"))
    drive.key(Qt.Key.Key_0)
    drive.settle()
    return drive.window.pages["log"]


def test_the_demo_tells_its_days_and_what_is_ahead(drive, page) -> None:
    assert cells(page.entries, 1) == [
        "E2",
        "2026-11-21",
        "9",
        "84",
        "Base rails and cross members cut, mitred and tacked",
    ]
    assert cells(page.tasks, 2)[2] == "D2, O2"
    assert cells(page.orders, 0)[-1] == "Chain and master links"
    assert "23 h to do" in drive.read()
    assert "13 h, cost 208 logged." in drive.read()
    assert "Measured: J1L–J1R 300.0 mm" in page.day.toPlainText()
    drive.press("Day before")
    assert "Came: Sprocket 54 teeth, and its carrier (O1)" in page.day.toPlainText()
    assert page.cards()[0].number == "6 h"


def test_what_is_typed_stands_in_the_list_and_is_corrected_there(drive, page) -> None:
    drive.window.session.choose(("J7L",))
    drive.type("did Bead ground back by mistake; 1 h")
    drive.settle()
    assert cells(page.entries, 0)[1:] == [date.today().isoformat(), "1", "", "Bead ground back by mistake"]
    assert "J7L · 1 h" in page.day.toPlainText()
    retype(drive, page.entries, 0, "h", "2.5")
    drive.settle()
    assert cells(page.entries, 0)[2] == "2.5"
    retype(drive, page.entries, 0, "h", "-2")
    assert page.entries.refusal.text() == "h of E4: ‘log E4 hours -2’ gives hours -2 h, but it must be at least 0 h."
    drive.key(Qt.Key.Key_Escape, page.entries.list)
    page.entries.list.selectRow(0)
    drive.press("Take out")
    drive.settle()
    assert cells(page.entries, 0)[0] == "E3"


def test_a_task_is_finished_and_an_order_comes_in(drive, page) -> None:
    drive.press("Finish")
    assert drive.said == "Pick a task in the list first."
    page.tasks.list.selectRow(0)
    drive.press("Finish")
    drive.settle()
    assert drive.said == "D1 is done: Weld the base, turned over after every other joint."
    assert cells(page.tasks, 0)[2] == "can begin"
    assert cells(page.entries, 0)[4] == "Weld the base, turned over after every other joint"
    page.orders.list.selectRow(0)
    drive.press("Has come")
    drive.settle()
    assert page.orders.nothing.isVisible()
    drive.key(Qt.Key.Key_Z, drive.window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert len(page.orders.model.rows) == 1


def test_an_empty_log_says_what_to_type(drive, box: Job) -> None:
    drive.start(box)
    drive.key(Qt.Key.Key_0)
    drive.settle()
    assert "Nothing is logged yet. Type did and what was done" in drive.read()
    assert "Nothing logged." in drive.read()


def test_saving_logs_what_was_done_that_day_and_a_photo_is_shown(
    drive, box: Job, tmp_path: Path, answer_dialog
) -> None:
    from PIL import Image

    drive.start(box)
    drive.window.session.path = tmp_path / "a.cage"
    drive.window.session.choose(("T1L",))
    drive.type("role rail")
    drive.window.session.save(tmp_path / "a.cage")
    drive.key(Qt.Key.Key_0)
    drive.settle()
    page = drive.window.pages["log"]
    assert cells(page.entries, 0)[4] == "Make T1L rail"
    assert "kept by the program" in page.day.toPlainText()
    photo = Image.new("RGB", (60, 40), "red")
    exif = photo.getexif()
    exif.get_ifd(0x8769)[0x9003] = "2026:10:05 09:00:00"
    photo.save(tmp_path / "hoop foot.jpg", exif=exif)
    answer_dialog(str(tmp_path / "hoop foot.jpg"))
    drive.press("Photo…")
    drive.qtbot.waitUntil(lambda: len(page.entries.model.rows) == 2, timeout=60_000)
    drive.settle()
    assert cells(page.entries, 1)[1:] == ["2026-10-05", "", "", "hoop foot (photo)"]
    page.entries.list.selectRow(1)
    assert "<img" in page.day.toHtml()
    drive.window.session.save()
    assert list((tmp_path / "a.cage.scans").glob("*.jpg"))
