"""Frame: what a pair of rails must leave room for, and tabs' holes on one pivot, as they are read in its lists."""

from PyQt6.QtCore import Qt

from ironcage.core.answers.place import rail_spacing
from ironcage.core.job.values.model import Job
from tests.desk.conftest import Driver


def _texts(grid, column: str) -> list[str]:
    shown = next(c for c in grid.model.columns if c.name == column)
    return [shown.text(row) for row in grid.model.rows]


def test_the_spacing_of_rails_is_read_and_a_picked_pair_tells_all_that_it_leaves_room_for(
    drive: Driver, sandpiper: Job
) -> None:
    window = drive.start(sandpiper).window
    drive.type("rail spacing")  # its name opens it, from any step
    drive.settle()
    tab = window.page.here
    found = {s.left: s for s in rail_spacing(sandpiper)}
    names = _texts(tab.list, "rails")
    assert [n.split()[0] for n in names] == list(found)
    row = next(n for n, words in enumerate(names) if words.startswith("T16L"))
    assert _texts(tab.list, "for")[row] == "Final drive"
    assert _texts(tab.list, "at least")[row] == f"{found['T16L'].least.width:.1f}"
    assert _texts(tab.list, "fixed by")[row] == "J26L is a rear pickup"
    tab.list.list.selectRow(row)
    drive.settle()
    assert set(window.session.chosen) == {"T16L", "T16R"}
    told = tab.all.text()
    assert told.startswith("T16L T16R: ")
    assert "for Final drive (margin 12.0 mm)" in told
    assert "at most" in told
    drive.type("units inch")
    drive.settle()
    assert '"' in tab.all.text()


def test_tabs_that_would_bind_are_told_beside_the_list_until_both_carry_the_pivot(
    drive: Driver, sandpiper: Job
) -> None:
    window = drive.start(sandpiper).window
    window.go("frame")
    window.page.open_list("Fittings")
    plate = "width 30, height 85, thickness 4, hole 10"
    for at, reach in ((200, 55), (350, 57)):
        drive.type(f"add tab tube T13L, at {at}, clock 75, bolt along, reach {reach}, {plate}")
    drive.settle()
    tab = window.page.here
    assert tab.pivots.text().startswith("2 pivots, 2 bind; at most F")
    assert "2.00 mm and 0.0° out of line" in tab.pivots.text()
    drive.type("add F2L reach 55")
    drive.settle()
    assert tab.pivots.text().startswith("2 pivots, in line; at most F")
    drive.key(Qt.Key.Key_Z, window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert "2 bind" in tab.pivots.text()
