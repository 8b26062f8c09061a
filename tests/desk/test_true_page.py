"""True at the window: readings typed and corrected, what is suspect, where the joints stand."""

import pytest
from PyQt6.QtCore import Qt

from ironcage.core.job.values.model import Job
from ironcage.samples import sample
from tests.desk.test_pages import retype


@pytest.fixture
def page(drive):
    drive.start(sample("skerry"))
    drive.key(Qt.Key.Key_9)
    drive.settle()
    return drive.window.pages["true"]


def cells(grid, row: int) -> list[str]:
    return [column.text(grid.model.rows[row]) for column in grid.model.columns]


def test_readings_and_where_the_joints_stand_are_told(drive, page) -> None:
    assert "No joints stand further off than 1.50 mm. 5 readings to spare." in drive.read()
    assert cells(page.readings, 0)[:3] == ["M1", "J1L–J1R", "300.0 mm"]
    assert cells(page.joints, 0) == [
        "J7L",
        "1.18 mm ± 1.00",
        "rear pickup 2, left",
        "1.0 mm high, 0.6 mm back, 0.2 mm left",
    ]
    assert page.cards()[0].number == "0 out of place"


def test_a_reading_typed_wrong_is_called_suspect_and_corrected_in_its_cell(drive, page) -> None:
    retype(drive, page.readings, 17, "read", "1527")
    drive.settle()
    assert "M18 (tape, J1R to J7L) is most likely wrong" in drive.read()
    assert cells(page.readings, 17)[-1] == "✗ suspect: read again"
    assert any(s.code == "suspect reading" for s in drive.window.found_snags)
    drive.key(Qt.Key.Key_Z, drive.window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert cells(page.readings, 17)[-1] == ""


def test_readings_that_can_not_be_adjusted_stay_in_the_list_to_be_corrected(drive, page) -> None:
    retype(drive, page.readings, 17, "read", "15170")
    drive.settle()
    assert "M18 is furthest from the drawing, by 13653.5 mm" in drive.read()
    assert cells(page.readings, 17)[2] == "15170.0 mm"
    retype(drive, page.readings, 17, "read", "1517")
    drive.settle()
    assert "No joints stand further off than 1.50 mm" in drive.read()


def test_a_reading_of_the_chosen_joints_is_typed(drive, page) -> None:
    drive.window.session.choose(("J11L", "J11R"))
    drive.type("tape 501.5")
    drive.settle()
    assert drive.said == "Tape J11L to J11R: 501.5 mm."
    assert cells(page.readings, 26)[1:3] == ["J11L–J11R", "501.5 mm"]
    assert cells(page.readings, 26)[-1] == "nothing checks it"


def test_the_datum_is_chosen_and_the_limit_typed(drive, page) -> None:
    drive.window.session.choose(("J1L", "J3L", "J1R"))
    drive.type("true datum chosen")
    drive.settle()
    assert "Laid on J1L, J3L, J1R." in drive.read()
    retype(drive, page.settings, 0, "value", "1")
    drive.settle()
    assert "further off than 1.00 mm" in drive.read()
    assert drive.window.session.job.truing.within == 1.0
    retype(drive, page.settings, 0, "value", "-1")
    assert "must be more than 0.0 mm" in page.settings.refusal.text()


def test_a_frame_that_was_not_measured_says_what_to_type(drive, box: Job) -> None:
    drive.start(box)
    drive.key(Qt.Key.Key_9)
    drive.settle()
    assert "Nothing was measured yet. Choose two joints and type what the tape reads" in drive.read()
