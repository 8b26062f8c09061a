"""Each page's lists, buttons and drawings, as a person works with them."""

import csv
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QGuiApplication, QImage, QWheelEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from ironcage.core.answers.cut import pieces
from ironcage.core.answers.jig import stands
from ironcage.core.answers.prove import stiffness
from ironcage.core.job.geometry.names import names
from ironcage.core.job.values.model import Job
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rows import worth
from ironcage.units import METRIC
from tests.desk.conftest import Driver

SHIFT, NONE = Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.NoModifier


def retype(drive: Driver, grid: Grid, row: int, head: str, text: str, key: Qt.Key = Qt.Key.Key_Return) -> QLineEdit:
    """Open a cell by F2 and type something else."""
    column = [c.name for c in grid.model.columns].index(head)
    index = grid.model.index(row, column)
    grid.list.setCurrentIndex(index)
    grid.list.setFocus()
    drive.key(Qt.Key.Key_F2, grid.list)
    editor = grid.list.findChildren(QLineEdit)[-1]
    editor.setText(text)
    drive.key(key, editor)
    return editor


def test_wheels_and_weights_are_typed_into_their_list(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    page = window.page
    page.tabs.setCurrentWidget(page.parts)
    rows = page.parts.model.rows
    retype(drive, page.parts, 0, "x", "-20")
    assert [w.x for w in window.session.job.wheels[:2]] == [-20, -20]
    retype(drive, page.parts, 0, "tyre diameter", '22 1/2"')
    assert window.session.job.wheels[1].diameter == pytest.approx(571.5)
    engine = next(n for n, p in enumerate(rows) if p.id.startswith("M"))
    retype(drive, page.parts, engine, "mass", "200 lb")
    assert window.session.job.masses[0].mass == pytest.approx(90.718474)
    retype(drive, page.parts, engine, "what", "Triple <b>")
    assert window.session.job.masses[0].name == "Triple <b>"
    retype(drive, page.parts, engine, "mass", "nothing")
    assert "mass of M" in page.parts.refusal.text()
    assert "‘nothing’" in page.parts.refusal.text()
    retype(drive, page.parts, engine, "tyre width", "7")
    assert "has no width" in page.parts.refusal.text()
    drive.key(Qt.Key.Key_Escape, page.parts.list.findChildren(QLineEdit)[-1])
    drive.settle()
    assert drive.tally("car mass").split()[2].startswith("+")
    page.parts.list.selectRow(engine)
    page.parts.list.setFocus()
    window.delete_chosen()
    assert len(window.session.job.masses) == len(sandpiper.masses) - 1


def test_the_shelf_is_typed_into_and_every_tube_follows(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    page = window.page
    page.open("Shelf")
    names = [s.name for s in page.tab("Shelf").sections.model.rows]
    row = names.index("30 x 1.5 round")
    retype(drive, page.tab("Shelf").sections, row, "size, mm", "30 x 2.5")
    assert window.session.job.section("30 x 1.5 round").shape.wall_mm == 2.5
    drive.settle()
    assert "+" in drive.tally("frame mass")
    assert "+" in drive.tally("torsion")
    retype(drive, page.tab("Shelf").materials, 0, "E, MPa", "205,000")
    assert window.session.job.shelf.materials[0].e == 205_000
    retype(drive, page.tab("Shelf").materials, 0, "yield, MPa", "strong")
    assert "‘strong’ is not a number" in page.tab("Shelf").materials.refusal.text()


def test_tubes_are_typed_into_and_picked_in_their_list(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    page = window.page
    page.tabs.setCurrentWidget(page.tubes)
    row = next(n for n, t in enumerate(page.tubes.model.rows) if t.id == "T50L")
    page.tubes.list.selectRow(row)
    assert window.session.chosen == ("T50L",)
    assert page.section.currentText() == sandpiper.tube("T50L").section
    retype(drive, page.tubes, row, "roll", "30")
    assert window.session.job.tube("T50L").roll == pytest.approx(np.radians(30))
    retype(drive, page.tubes, row, "pinned", "second")
    assert window.session.job.tube("T50R").pinned_b
    retype(drive, page.tubes, row, "role", "brace", Qt.Key.Key_Tab)
    assert "is not a role" in page.tubes.refusal.text()
    drive.key(Qt.Key.Key_Escape, page.tubes.list.findChildren(QLineEdit)[-1])
    retype(drive, page.tubes, row, "section", "20 x 1.5")
    assert window.session.job.tube("T50R").section in ("20 x 1.5", "20 x 1.5 round")


def test_letters_and_digits_in_a_list_start_a_line_and_open_a_step(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.page.joints.list.selectRow(3)
    window.page.joints.list.setFocus()
    drive.qtbot.keyClicks(window.page.joints.list, "z")
    assert window.entry.line.text() == "z"
    assert window.entry.line.hasFocus()
    drive.key(Qt.Key.Key_Escape, window.entry.line)
    window.page.joints.list.setFocus()
    drive.key(Qt.Key.Key_7, window.page.joints.list)
    assert window.step == "jig"


def test_a_recovery_folder_that_cannot_be_written_is_told_once(qtbot, tmp_path: Path, box: Job) -> None:
    from ironcage.desk.session import Session

    (tmp_path / "taken").write_text("a file where the folder should be")
    session, told = Session(tmp_path / "taken"), []
    session.told.connect(lambda text, refused: told.append((text, refused)))
    session.start(box, None)
    session.choose(("J1L",))
    session.type("z+5")
    session.type("z+5")
    assert "Recovery is off" in told[0][0]
    assert told[1] == ("Move J1L z+5.", False)
    assert session.job.joint("J1R").z == 210
    session.close(discard=True)


def test_buttons_do_what_their_words_say(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    press = {b.text(): b for b in window.page.findChildren(type(window.route.undo)) if b.text()}
    window.session.choose(("J1L", "J5R"))
    press["Tube"].click()
    assert frozenset(("J1L", "J5R")) in window.session.job.tube_by_ends
    assert frozenset(("J1R", "J5L")) not in window.session.job.tube_by_ends  # its mirror would run through it
    press["Split"].click()
    assert drive.said.startswith("Split")
    window.session.choose(("J18L", "J19L"))
    press["Merge"].click()
    assert "J19R" not in window.session.job.joint_by_id
    window.session.choose(("J12L",))
    drive.from_menu(press["More"], "Part:")
    assert "Part J12L from the mirror" in drive.said
    for words, said in (("Pickup", "a pickup"), ("Delete", "Delete J12L")):
        press[words].click()
        assert said in drive.said
    drive.from_menu(press["More"], "Pair")
    assert "This needs 2 joints" in drive.said
    assert window.entry.said.objectName() == "refused"
    window.session.choose(("T50L",))
    assert window.page.material.currentText() == sandpiper.tube("T50L").material
    window.page.material.setCurrentText("Aluminium 6061-T6")
    window.page.material.activated.emit(window.page.material.currentIndex())
    assert window.session.job.tube("T50R").material == "Aluminium 6061-T6"


def test_prove_shows_twist_bending_and_the_frame_unloaded(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    drive.key(Qt.Key.Key_5)
    drive.settle()
    page, answer = window.page.here, stiffness.answer(sandpiper)
    drawn = {}
    for n in range(3):
        page.test.button(n).click()
        drive.settle()
        drawn[n] = window.table.decor.shape
        window.table.grab()  # paints the loads, holds and words of each test
    assert drawn[2] is None
    assert not np.allclose(drawn[0].stop, drawn[1].stop)
    first = np.flatnonzero(drawn[0].share[:, 0] == 0)  # where each tube starts
    places = np.array([[sandpiper.joint(t.a).place, sandpiper.joint(t.b).place] for t in sandpiper.tubes])
    sunk = places[:, 0, 2] - drawn[1].start[first, 2]
    assert sunk.max() > 20, "under its load the middle of the frame is drawn lower"
    rises = drawn[0].start[first, 2] - places[:, 0, 2]
    front_left = [n for n, t in enumerate(sandpiper.tubes) if sandpiper.joint(t.a).x > 0 and sandpiper.joint(t.a).y > 0]
    assert rises[front_left].min() > 0, "the front left is pushed up"
    ranked = [row[1] for row in page.tubes.model.rows]
    assert ranked == sorted(ranked, reverse=True)
    assert ranked[0] == pytest.approx(float(answer.energy.max()))
    page.tubes.list.selectRow(0)
    assert window.session.chosen == (page.tubes.model.rows[0][0].id,)
    assert METRIC.mass(answer.mass) in drive.read()
    assert window.page.cards()[0].number == METRIC.torsional_stiffness(answer.torsion)


def test_a_piece_chosen_on_the_table_is_in_sight_in_the_list_and_its_card_is_printed(
    drive: Driver, sandpiper: Job
) -> None:
    window = drive.start(sandpiper).window
    window.resize(1280, 800)
    drive.key(Qt.Key.Key_6)
    drive.settle()
    window.session.choose(("T35L",))
    drive.settle()
    grid = window.page.pieces
    row = next(n for n, p in enumerate(grid.model.rows) if p.id == "T35L")
    seen = grid.list.visualRect(grid.model.index(row, 0))
    assert grid.list.viewport().rect().contains(seen)
    printed: list[tuple[str, str]] = []
    window.page.prints.disconnect()  # else a preview opens, which waits for somebody
    window.page.prints.connect(lambda kind, word: printed.append((kind, word)))
    for words in ("Print its card…", "Print the cards of all…"):
        next(a for a in window.page.ones.actions() if a.text() == words).trigger()
    assert printed == [("cards-pdf", "T35L"), ("cards-pdf", "")]


def test_cut_writes_one_template_and_names_what_has_none(
    drive: Driver, sandpiper: Job, tmp_path: Path, answer_dialog
) -> None:
    window = drive.start(sandpiper).window
    drive.key(Qt.Key.Key_6)
    drive.settle()
    page = window.page
    row = next(n for n, p in enumerate(page.pieces.model.rows) if p.id == "T1L")
    page.pieces.list.selectRow(row)
    assert set(window.session.chosen) == {"T1L", "T2L", "T3L"}
    page.ends.button(0).click()
    assert "cut square at J17L and needs no template" in page.preview.words
    assert not any(action.isEnabled() for action in page.wraps)
    page.ends.button(1).click()
    assert all(action.isEnabled() for action in page.wraps)
    answer_dialog(str(tmp_path / "t.svg"))
    page.ones.actions()[2].trigger()  # as SVG
    drive.qtbot.waitUntil(lambda: window.strip.worker is None, timeout=60_000)
    assert b"T1L at J20L" in (tmp_path / "t.svg").read_bytes()
    answer_dialog("/nowhere/at/all.svg")
    page.ones.actions()[2].trigger()  # as SVG
    drive.qtbot.waitUntil(lambda: window.strip.worker is None, timeout=60_000)
    assert "could not be saved" in drive.said
    card = page.cards()[page.first_card()]
    assert card.number == METRIC.length(pieces.answer(sandpiper).piece("T1L").bar)


def test_a_diagonal_chosen_in_its_list_is_shown_on_the_table(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    drive.key(Qt.Key.Key_7)
    drive.settle()
    page = window.page
    plain = window.table.grab().toImage()
    page.diagonals.list.selectRow(2)
    chosen = page.diagonals.model.rows[2]
    assert set(window.session.chosen) == {chosen.first, chosen.second}
    assert window.table.grab().toImage() != plain
    retype(drive, page.table, 1, "size", "4 in")
    assert window.session.job.table.least_saddle == pytest.approx(101.6)
    retype(drive, page.table, 1, "size", "-4")
    assert page.table.refusal.text()
    drive.settle()
    low = [s for s in stands.answer(window.session.job).stands if s.saddle < 101.6]
    assert len(page.stands.model.wrong) == len(low) == 12


def test_the_wheel_zooms_at_the_pointer_and_drags_turn_and_push(drive: Driver, sandpiper: Job) -> None:
    window, table = drive.start(sandpiper).window, drive.window.table
    at = drive.spot("J12L")
    before = table.camera
    wheel = QWheelEvent(
        QPointF(at),
        QPointF(table.mapToGlobal(at)),
        QPoint(),
        QPoint(0, 240),
        Qt.MouseButton.NoButton,
        NONE,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    window.table.wheelEvent(wheel)
    assert table.camera.mm_per_px < before.mm_per_px
    assert (drive.spot("J12L") - at).manhattanLength() < 40
    for button, modifier, same in (
        (Qt.MouseButton.RightButton, NONE, "centre"),
        (Qt.MouseButton.RightButton, SHIFT, "azimuth"),
        (Qt.MouseButton.MiddleButton, NONE, "azimuth"),
    ):
        before = table.camera
        drive.qtbot.mousePress(table, button, modifier, QPoint(300, 200))
        drive.qtbot.mouseMove(table, QPoint(340, 230))
        drive.qtbot.mouseRelease(table, button, modifier, QPoint(340, 230))
        assert table.camera != before
        assert getattr(table.camera, same) == getattr(before, same)
    before = table.camera
    drive.qtbot.mousePress(table, Qt.MouseButton.RightButton, NONE, QPoint(300, 200))
    drive.qtbot.mouseMove(table, QPoint(400, 100))
    drive.key(Qt.Key.Key_Escape)
    assert table.camera == before


def test_a_dragged_joint_shows_where_it_would_go_and_escape_leaves_it(drive: Driver, sandpiper: Job) -> None:
    window, table, qtbot = drive.start(sandpiper).window, drive.window.table, drive.qtbot
    drive.key(Qt.Key.Key_F5, window)
    window.session.choose(("J12L", "J12R"))
    start = drive.spot("J12L")
    qtbot.mousePress(table, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(table, start + QPoint(0, -40))
    assert len(table.gesture.names) == 1, "both of a pair would pull against each other"
    assert table.gesture.delta[2] > 0
    assert table.gesture.delta[1] == 0
    drive.settle()
    assert "+" in drive.tally("frame mass"), "figures follow before the button is up"
    assert window.session.job is sandpiper
    resting = QImage(table.grab().toImage())
    qtbot.mouseMove(table, start + QPoint(30, -60))
    assert table.grab().toImage() != resting
    drive.key(Qt.Key.Key_Escape)
    qtbot.mouseRelease(table, Qt.MouseButton.LeftButton, pos=start + QPoint(30, -60))
    assert window.session.job is sandpiper
    drive.settle()
    assert "+" not in drive.tally("frame mass")
    qtbot.mousePress(table, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(table, start + QPoint(0, -40))
    window.undo()
    drive.type("name Tern")
    qtbot.mouseRelease(table, Qt.MouseButton.LeftButton, pos=start + QPoint(0, -40))
    assert window.session.job.joint("J12L") == sandpiper.joint("J12L")


def test_what_is_under_the_mouse_is_named(drive: Driver, sandpiper: Job) -> None:
    table = drive.start(sandpiper).window.table
    drive.key(Qt.Key.Key_F5, drive.window)
    drive.qtbot.mouseMove(table, drive.spot("J12L"))
    assert table.hovered in ("J12L", "J12R")
    middle = (drive.spot("J14L") + drive.spot("J17L")) / 2
    drive.qtbot.mouseMove(table, middle)
    assert table.hovered in sandpiper.tube_by_id
    drive.qtbot.mouseMove(table, QPoint(5, 5))
    assert table.hovered == ""


def test_earlier_lines_come_back_by_the_arrow(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.session.choose(("J12L",))
    drive.type("z+5")
    drive.type("z+10")
    line = window.entry.line
    drive.key(Qt.Key.Key_Up, line)
    assert line.text() == "z+10"
    drive.key(Qt.Key.Key_Up, line)
    assert line.text() == "z+5"
    drive.key(Qt.Key.Key_Down, line)
    drive.key(Qt.Key.Key_Down, line)
    assert line.text() == ""
    line.setText("tube")
    line.textEdited.emit("tube")
    assert "For example: tube J1L J2L 38 x 2" in drive.said


def on_screen(drive: Driver, widget: QWidget) -> np.ndarray:
    """The pixels (h, w, 3) of a widget as they stand on the screen, painted when something said that they had to be."""
    drive.qtbot.wait(60)
    corner = widget.mapTo(drive.window, QPoint(0, 0))
    shot = drive.window.screen().grabWindow(
        drive.window.winId(), corner.x(), corner.y(), widget.width(), widget.height()
    )
    return pixels(shot.toImage())


def pixels(image: QImage) -> np.ndarray:
    image = image.convertToFormat(QImage.Format.Format_RGB32)
    raw = np.frombuffer(image.constBits().asarray(image.sizeInBytes()), dtype=np.uint8)
    return raw.reshape(image.height(), -1, 4)[:, : image.width(), :3].copy()


@pytest.mark.parametrize(
    ("name", "lines"),
    [
        ("Joints", ("J9L", "z+5", "x-2", "units inch 1/32 lb", "datum post at 100 0 0", "undo", "z+1")),
        ("Tubes", ("T2L", "section 25 x 2 round", "roll 10", "units inch 1/32 lb", "undo", "role side")),
        ("Bays", ("J9L", "z+5", "T2L", "section 25 x 2 round", "units inch 1/32 lb", "undo", "J12L", "x+1")),
    ],
)
def test_a_list_paints_what_says_something_else_and_leaves_the_rest(
    drive: Driver, sandpiper: Job, name: str, lines: tuple[str, ...]
) -> None:
    """What stands on the screen after each edit is what painting the whole list would show, and only other rows were
    painted."""
    window = drive.start(sandpiper).window
    drive.key(Qt.Key.Key_F7)
    window.page.open(name)
    drive.settle()
    grid = next(g for g in window.page.findChildren(Grid) if g.list.accessibleName() == name)
    told: list[int] = []
    grid.model.dataChanged.connect(lambda first, last: told.extend(range(first.row(), last.row() + 1)))
    rows, repainted = range(len(grid.model.rows)), set[int]()
    for line in lines:
        told.clear()
        words = [[column.text(row) for column in grid.model.columns] for row in grid.model.rows]
        if line == "undo":
            window.undo()
        else:
            drive.type(line)
        drive.settle()
        now = [[column.text(row) for column in grid.model.columns] for row in grid.model.rows]
        other = {n for n in rows if now[n] != words[n]}
        assert set(told) <= other, line
        repainted |= set(told)
        view = grid.list.viewport()
        np.testing.assert_array_equal(on_screen(drive, view), pixels(view.grab().toImage()), err_msg=line)
    assert repainted
    grid.list.scrollToBottom()  # rows that changed out of sight
    np.testing.assert_array_equal(on_screen(drive, view), pixels(view.grab().toImage()))


def test_a_list_is_sorted_by_its_headings_and_copied_as_csv(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    drive.key(Qt.Key.Key_6)
    drive.settle()
    grid = window.page.pieces
    names = [c.heading for c in grid.model.columns]
    bar, before = names.index("bar, mm"), [p.id for p in grid.model.rows]
    header = grid.list.horizontalHeader()

    def click(column: int) -> None:
        spot = QPoint(header.sectionViewportPosition(column) + 8, header.height() // 2)
        drive.qtbot.mouseClick(header.viewport(), Qt.MouseButton.LeftButton, pos=spot)

    def shown(column: int) -> list[str]:
        return [grid.model.data(grid.model.index(n, column)) for n in range(len(before))]

    click(bar)
    lengths = [float(text) for text in shown(bar)]
    assert lengths == sorted(lengths)
    click(bar)
    assert [float(text) for text in shown(bar)] == sorted(lengths, reverse=True)
    grid.list.selectRow(0)
    longest = grid.model.rows[0]
    assert set(longest.tubes) == set(window.session.chosen)
    drive.key(Qt.Key.Key_C, grid.list, Qt.KeyboardModifier.ControlModifier)
    head, row = csv.reader(QGuiApplication.clipboard().text().splitlines())
    assert head == names
    assert row[0] == longest.id
    drive.window.session.press("role side", longest.tubes)
    drive.settle()
    after = [float(text) for text in shown(bar)]
    assert after != sorted(lengths, reverse=True)  # what runs through has changed, and the list stays sorted
    assert after == sorted(after, reverse=True)
    click(bar)
    assert [p.id for p in grid.model.rows] == before
    click(0)
    numbers = [int(name.strip("TLR")) for name in shown(0)]
    assert numbers == sorted(numbers)
    grid.copy(whole=True)
    assert len(QGuiApplication.clipboard().text().splitlines()) == 1 + len(before)


def test_cells_are_sorted_by_size_fractions_among_them_then_words_then_nothing() -> None:
    cells = ["", "T10L", '1 1/2"', '3/4"', "T2L", "-4.5 mm", "1,200.0", "✓ 12.5", "rail"]
    assert sorted(cells, key=worth) == ["-4.5 mm", '3/4"', '1 1/2"', "✓ 12.5", "1,200.0", "rail", "T2L", "T10L", ""]


def test_words_typed_after_ctrl_f_leave_only_the_rows_that_have_them(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.go("frame")
    window.page.open("Tubes")
    grid = window.page.tubes
    drive.key(Qt.Key.Key_F, modifier=Qt.KeyboardModifier.ControlModifier)
    assert grid.finding.hasFocus()
    drive.qtbot.keyClicks(grid.finding, "rear 38 rail")
    rows = [grid.model.data(grid.model.index(n, 1)) for n in range(grid.model.rowCount())]
    assert rows
    assert all("rear" in row and "rail" in row for row in rows)
    assert len(rows) == sum("rail" in n and n.startswith("rear") for n in names(sandpiper).values())
    window.session.press("section 25 x 2", (grid.model.rows[0].id,))
    assert grid.model.rowCount() == len(rows) - 2  # both sides are of another section now
    drive.qtbot.keyClicks(grid.finding, " zebra")
    assert "No row has ‘rear 38 rail zebra’" in grid.nothing.text()
    assert grid.nothing.isVisible()
    drive.key(Qt.Key.Key_Escape, grid.finding)
    assert not grid.finding.isVisible()
    assert grid.model.rowCount() == len(window.session.job.tubes)
