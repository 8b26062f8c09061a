"""Help: the page of the open step, links from page to page, and what is found of a word."""

from PyQt6.QtCore import Qt, QUrl

from ironcage.desk.guide import other_guides, step_guide
from ironcage.desk.pages import STEPS
from tests.desk.conftest import Driver


def test_every_step_has_its_page_and_help_opens_at_the_open_one(drive: Driver) -> None:
    assert all(step_guide(step.name).path.exists() for step in STEPS)
    assert all(guide.path.exists() for guide in other_guides())
    drive.window.go("cut")
    drive.key(Qt.Key.Key_F1, drive.window)
    page = drive.window._help
    assert page.about.currentText() == "6 Cut"
    assert page.text.toPlainText().startswith("Cut: what do I buy and how do I cut it?")
    page.close()
    drive.window.go("frame")
    drive.key(Qt.Key.Key_F1, drive.window)
    assert page.text.toPlainText().startswith("Frame: which tubes join the points?")
    page.about.setCurrentText("Every line and key")
    assert "Lines to type" in page.text.toPlainText()
    page.close()


def test_a_word_is_looked_for_in_the_lines_and_in_the_pages_and_one_goes_back_to_what_was_found(drive: Driver) -> None:
    drive.key(Qt.Key.Key_F1, drive.window)
    page = drive.window._help
    drive.qtbot.keyClicks(page.search, "clocking")
    found = page.text.toPlainText()
    assert "In the pages" in found
    assert "Clocking is how far the second end’s mark".replace("’", "'") in found
    page.text.setSource(QUrl.fromLocalFile(str(step_guide("Cut").path)))  # as a click on the link does
    assert page.about.currentText() == "6 Cut"
    page.back.click()
    assert page.text.toPlainText() == found
    page.search.clear()
    assert page.text.toPlainText().startswith("Cut: what do I buy")
    page.close()


def test_an_inch_job_reads_its_help_in_inches(drive: Driver) -> None:
    drive.window.go("place")
    drive.key(Qt.Key.Key_F1, drive.window)
    page = drive.window._help
    assert "Tyres keep 20 mm" in page.text.toPlainText()
    page.close()
    drive.type("units inch 1/16 lb")
    drive.settle()
    drive.window.activateWindow()
    drive.qtbot.waitUntil(drive.window.isActiveWindow)
    drive.key(Qt.Key.Key_F1, drive.window)
    said = page.text.toPlainText()
    assert 'Tyres keep 13/16"' in said
    assert "line roof z 53" in said
    assert " mm" not in said
    drive.qtbot.keyClicks(page.search, "tyres keep")
    assert 'Tyres keep 13/16"' in page.text.toPlainText()
    page.search.clear()
    page.about.setCurrentText("A frame in a quarter of an hour")
    assert "This frame is laid in millimetres" in page.text.toPlainText()
    page.close()
