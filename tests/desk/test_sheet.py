"""The sheet of offsets through the window: filled by keys, seen as it is typed, laid by a button, changed after."""

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit, QPushButton

from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.desk.pages.frame.sheet import SheetTab
from tests.desk.conftest import Driver


def opened(drive: Driver, *lines: str) -> SheetTab:
    drive.key(Qt.Key.Key_4)
    page = drive.window.page
    page.open("Sheet")
    for line in lines:
        drive.type(line)
    drive.settle()
    return page.tab("Sheet")


def cells(tab: SheetTab) -> list[list[str]]:
    model = tab.grid.model
    return [[model.data(model.index(r, c)) for c in range(model.columnCount())] for r in range(model.rowCount())]


def fill(drive: Driver, tab: SheetTab, row: int, *texts: str) -> None:
    """Type a row from its first cell on, Tab between cells, as in any list of figures."""
    tab.grid.list.setFocus()
    tab.grid.list.setCurrentIndex(tab.grid.model.index(row, 0))
    for n, text in enumerate(texts):
        if n == 0:
            drive.qtbot.keyClick(tab.grid.list, text[0])
        editor = tab.grid.list.viewport().findChild(QLineEdit)
        assert editor is not None, (row, n)
        if n:
            editor.selectAll()
        drive.qtbot.keyClicks(editor, text[1:] if n == 0 else text)
        last = n == len(texts) - 1
        drive.qtbot.keyClick(editor, Qt.Key.Key_Return if last else Qt.Key.Key_Tab)
        drive.qtbot.wait(5)


def test_a_sheet_is_filled_by_keys_seen_and_laid(drive: Driver) -> None:
    drive.start(Job())
    tab = opened(drive)
    assert "New sheet" in tab.grid.nothing.text()
    drive.type("sheet line lower rail 40 x 40 x 2")
    drive.type("sheet line upper rail 30 x 30 x 2")
    fill(drive, tab, 0, "300", "200, 150", "210, 450")
    fill(drive, tab, 1, "-500", "300, 150", "310")
    drive.settle()
    assert cells(tab)[:3] == [
        ["300.0", "200.0, 150.0", "210.0, 450.0"],
        ["-500.0", "300.0, 150.0", "310.0, 450.0"],
        ["new station", "", ""],
    ]
    lay = next(b for b in tab.findChildren(QPushButton) if b.text().startswith("Lay"))
    assert lay.text() == "Lay 14 tubes"
    # what is to be laid is drawn and in the picture, and the hint of the empty table is out of its way
    drawn = drive.window.page.decor.places
    table = drive.window.table
    spots = table.camera.project(drawn)[:, :2]
    assert (spots >= 0).all()
    assert (spots <= [table.width(), table.height()]).all()
    assert np.isclose(drawn[:, 0].min(), -500)
    assert "Lay the sheet of offsets: sheet lay" in drive.window.next.button.text()
    drive.qtbot.mouseClick(lay, Qt.MouseButton.LeftButton)
    drive.settle()
    assert drive.said == "Lay the sheet: 8 joints, 14 tubes."
    assert drive.tally("frame mass") != "–"
    assert not lay.isEnabled()
    assert "all laid" in tab.summary.text()
    # a changed cell takes the frame along, in one step that undo takes back
    tab.grid.list.setCurrentIndex(tab.grid.model.index(1, 1))
    tab.grid.list.setFocus()
    drive.qtbot.keyClicks(tab.grid.list, "3")
    editor = tab.grid.list.viewport().findChild(QLineEdit)
    drive.qtbot.keyClicks(editor, "50, 140")
    drive.qtbot.keyClick(editor, Qt.Key.Key_Return)
    joint = next(j for j in drive.window.session.job.joints if (j.x, j.z) == (-500.0, 140.0))
    assert abs(joint.y) == 350.0
    drive.key(Qt.Key.Key_Z, modifier=Qt.KeyboardModifier.ControlModifier)
    assert cells(tab)[1][1] == "300.0, 150.0"


def test_a_refused_cell_says_why_below_and_keeps_what_was_typed(drive: Driver) -> None:
    drive.start(Job())
    tab = opened(drive, "sheet line lower rail 40 x 40 x 2", "sheet 0: 200, 150")
    tab.grid.list.setFocus()
    tab.grid.list.setCurrentIndex(tab.grid.model.index(0, 1))
    drive.qtbot.keyClick(tab.grid.list, Qt.Key.Key_F2)
    editor = tab.grid.list.viewport().findChild(QLineEdit)
    editor.setText("200, 150, 30")
    drive.qtbot.keyClick(editor, Qt.Key.Key_Return)
    assert editor.text() == "200, 150, 30"
    assert tab.grid.refusal.text().startswith("lower rail of station 0.0: ‘200, 150, 30’ is 3 figures")
    assert cells(tab)[0][1] == "200.0, 150.0"


def test_a_roof_below_a_helmet_is_told_and_a_person_in_inches_fits_the_starting_sheet(drive: Driver) -> None:
    job = understand("units inch 1/16 lb", Job()).job
    job = understand("person Bo 77 at -51, 0, 12", job).job
    drive.start(job)
    tab = opened(drive, "sheet single seat")
    assert not tab.faults.isVisible()
    assert cells(tab)[-3][1:] == ["1-1/2 x .083 in round"] * 3
    roof = next(n for n, row in enumerate(cells(tab)) if len(row) > 3 and row[3] and not row[0][0].isalpha())
    x = cells(tab)[roof][0]
    drive.type(f"sheet {x}: -; -; 20, 36")
    drive.type(f"sheet {cells(tab)[roof + 1][0]}: -; -; 20, 36")
    drive.settle()
    assert "Bo's helmet is" in tab.faults.text()
    assert "higher than the underside of roof rail there." in tab.faults.text()


def test_the_menus_change_how_it_is_read_and_take_lines_off(drive: Driver) -> None:
    drive.start(Job())
    tab = opened(drive, "sheet line sill 40 x 40 x 2", "sheet 0: 200, 150")
    menus = {b.text(): b.menu() for b in tab.findChildren(QPushButton) if b.menu()}
    menus["Change"].aboutToShow.emit()
    faces = next(a.menu() for a in menus["Change"].actions() if a.text() == "Widths to the")
    assert [a.text() for a in faces.actions() if a.isChecked()] == ["centre"]
    next(a for a in faces.actions() if a.text() == "outside").trigger()
    assert cells(tab)[0][1] == "220.0, 150.0"
    assert "half widths to the outside" in tab.summary.text()
    menus["Take off"].aboutToShow.emit()
    next(a for a in menus["Take off"].actions() if a.text() == "Line sill").trigger()
    assert not tab.session.job.offsets.lines
    drive.settle()
    assert tab.grid.nothing.isVisible()
