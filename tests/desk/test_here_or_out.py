"""Here or out: the stand-in is started, asked and stopped from the screen, and its answer is read beside the hours."""

from ironcage.core.job.values.model import Job
from tests.desk.conftest import Driver


def _settled(drive: Driver, window) -> None:
    for _ in range(200):
        drive.settle()
        if window.strip.worker is None:
            return


def test_the_shop_is_asked_and_what_it_says_stands_beside_the_hours_here(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    drive.type("quotes")
    drive.settle()
    page = window.page
    tab = page.here
    assert tab.sum.text().startswith("112 pieces to cut, ")
    assert tab.answer.text() == "Nobody has been asked for this job as it is now."
    drive.press("Ask")
    _settled(drive, window)
    assert "is no address to ask at" in window.entry.said.text()
    drive.press("Start the stand-in")
    assert tab.address.text().startswith("http://127.0.0.1:")
    drive.press("Ask")
    _settled(drive, window)
    assert "They are even where an hour costs" in tab.answer.text()
    drive.type("piece rate 45")
    drive.settle()
    assert tab.answer.text().startswith("Nobody has been asked")  # the job is another one now
    drive.press("Ask")
    _settled(drive, window)
    assert "Sending it out is" in tab.answer.text()
    assert "for setting up" in tab.answer.text()
    row = next(n for n, w in enumerate(tab.works_list.model.rows) if w.work == "cope")
    column = next(n for n, c in enumerate(tab.works_list.model.columns) if c.name == "minutes each")
    before = tab.here.hours
    assert tab.works_list.take("20", tab.works_list.model.index(row, column))
    drive.settle()
    assert tab.here.hours > before
    window.session.choose(("T35L",))
    drive.type("laser")
    drive.settle()
    assert tab.sum.text().endswith("1 more for the tube laser.")
    drive.press("Ask")
    _settled(drive, window)
    assert f"Here it takes {tab.here.ordered_hours:.1f} hours." in tab.answer.text()
    assert tab.here.ordered_hours < 1 < tab.here.hours
    drive.press("Stop the stand-in")
    drive.press("Ask")
    _settled(drive, window)
    assert "nothing listens there" in window.entry.said.text()
