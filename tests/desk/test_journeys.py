"""Whole pieces of work through the real window, asserting what a person reads."""

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QLabel, QMessageBox

from ironcage.core.answers.cut import pieces
from ironcage.core.answers.prove import stiffness
from ironcage.core.job.store import file
from ironcage.core.job.values.model import Job
from ironcage.told import plain
from ironcage.units import METRIC
from tests.desk.conftest import Driver

SHIFT, CONTROL = Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier


def test_a_frame_from_an_empty_table_by_keyboard_alone(drive: Driver) -> None:
    window = drive.window
    assert "Type the first joint" in window.next.button.text()
    for line in (
        "joint 0 300 200",
        "joint 0 300 500",
        "joint -1200 300 200",
        "joint -1200 300 500",
        "tube J1L J2L 30 x 1.5",
        "tube J3L J4L",
        "tube J1L J3L",
        "tube J2L J4L",
        "tube J1L J1R",
        "tube J2L J2R",
        "tube J3L J3R",
        "tube J4L J4R",
    ):
        drive.type(line)
        assert window.entry.said.objectName() == "hint", drive.said
    drive.settle()
    assert drive.tally("torsion") == "–"
    assert "no pickup" in window.found_snags[0].what
    window.session.choose(("J1L",))
    drive.type("pickup front")
    window.session.choose(("J3L",))
    drive.type("pickup rear")
    drive.settle()
    expected = METRIC.torsional_stiffness(stiffness.answer(window.session.job).torsion)
    assert drive.tally("torsion").startswith(expected.split()[0])
    assert window.route.undo.toolTip() == "Undo Make J3L a pickup   Ctrl+Z"
    for _ in range(14):
        drive.key(Qt.Key.Key_Z, window, CONTROL)
    assert not window.session.job.joints
    for _ in range(14):
        drive.key(Qt.Key.Key_Z, window, CONTROL | SHIFT)
    drive.settle()
    assert drive.tally("torsion").startswith(expected.split()[0])


def test_a_joint_moved_by_key_shows_in_list_tally_and_difference(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    drive.click("J12L")
    assert window.session.chosen == ("J12L",)
    drive.key(Qt.Key.Key_PageUp)
    drive.settle()
    assert window.session.job.joint("J12R").z == 905
    assert drive.said == "Move J12L z+5.0."
    assert drive.tally("frame mass").startswith("78.3 kg")
    drive.type("z+95")
    drive.settle()
    assert "+" in drive.tally("frame mass")
    assert window.session.job.joint("J12L").z == 1000
    rows = window.pages["frame"].joints.model.rows
    assert next(j.z for j in rows if j.id == "J12R") == 1000
    drive.key(Qt.Key.Key_M, window, CONTROL)
    drive.settle()
    assert "+" not in drive.tally("frame mass")
    assert window.route.mark.text() == "mark: after Move J12L z+95"


def test_the_line_shows_what_it_would_do_and_keeps_a_refused_text(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.session.choose(("J12L",))
    drive.qtbot.keyClicks(window.table, "z")
    drive.qtbot.keyClicks(window.entry.line, "+25")
    assert "z 900.0  →  x -660.0  y 430.0  z 925.0" in drive.said
    drive.qtbot.keyClicks(window.entry.line, " mn")
    drive.key(Qt.Key.Key_Return, window.entry.line)
    assert "‘mn’" in drive.said
    assert window.entry.said.objectName() == "refused"
    assert window.entry.line.text() == "z+25 mn"
    assert window.session.job is sandpiper
    drive.key(Qt.Key.Key_Escape, window.entry.line)
    assert window.table.hasFocus()


def test_mouse_picks_boxes_and_drags(drive: Driver, sandpiper: Job) -> None:
    window, qtbot, table = drive.start(sandpiper).window, drive.qtbot, drive.window.table
    drive.key(Qt.Key.Key_F6, window)
    drive.click("J1L")
    drive.click("J4L", SHIFT)
    assert len(window.session.chosen) == 2  # from above, the upper joint of two hides the lower
    drive.key(Qt.Key.Key_Escape)
    assert window.session.chosen == ()
    drive.key(Qt.Key.Key_F5, window)
    drive.click("J1L")
    assert window.session.chosen
    held = window.session.chosen[0]
    before = window.session.job.joint(held).place
    start = drive.spot(held)
    per_mm = 1 / table.camera.mm_per_px
    qtbot.mousePress(table, Qt.MouseButton.LeftButton, pos=start)
    for part in (0.5, 1.0):
        there = QPoint(start.x(), round(start.y() - part * 50 * per_mm))
        qtbot.mouseMove(table, there)
    qtbot.mouseRelease(table, Qt.MouseButton.LeftButton, pos=there)
    after = window.session.job.joint(held).place
    assert after[2] - before[2] == pytest.approx(50, abs=10)
    assert after[2] % 5 == pytest.approx(0)
    assert window.session.job.joint(window.session.job.joint(held).twin).z == after[2]
    window.undo()
    assert window.session.job == sandpiper
    drive.key(Qt.Key.Key_Escape)
    top_left, bottom_right = QPoint(3, 3), table.rect().bottomRight() - QPoint(3, 3)
    qtbot.mousePress(table, Qt.MouseButton.LeftButton, pos=top_left)
    qtbot.mouseMove(table, bottom_right)
    qtbot.mouseRelease(table, Qt.MouseButton.LeftButton, pos=bottom_right)
    assert len(window.session.chosen) == len(sandpiper.joints) + len(sandpiper.tubes)


def test_joints_and_splits_by_double_click_and_picks_by_key(drive: Driver, sandpiper: Job) -> None:
    window, qtbot, table = drive.start(sandpiper).window, drive.qtbot, drive.window.table

    def double_click(at: QPoint) -> None:
        for act in (qtbot.mouseClick, qtbot.mouseDClick):
            act(table, Qt.MouseButton.LeftButton, pos=at)

    drive.key(Qt.Key.Key_F5, window)
    window.session.choose(("J18L",))
    double_click(drive.spot("J12L") - QPoint(0, 60))
    added = window.session.job.joint(window.session.chosen[0])
    assert added.y == sandpiper.joint("J18L").y
    assert added.x % 5 == pytest.approx(0)
    assert added.z > 1000
    assert added.twin
    drive.key(Qt.Key.Key_Escape)
    middle = (drive.spot("J14L") + drive.spot("J17L")) / 2
    double_click(middle)
    assert len(window.session.job.tubes) == len(sandpiper.tubes) + 2
    assert drive.said.startswith("Split ")
    drive.key(Qt.Key.Key_Escape)
    drive.key(Qt.Key.Key_Period)
    assert window.session.chosen[0] in ("J1L", "J1R")
    drive.key(Qt.Key.Key_Period)
    drive.key(Qt.Key.Key_Comma)
    assert window.session.chosen[0] in ("J1L", "J1R")


def test_many_tubes_get_a_section_at_once_from_the_list_and_back(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    page = window.pages["frame"]
    window.session.choose(("T50L", "T51L", "T52L"))
    assert page.tabs.currentWidget() is page.tubes
    page.section.setEditText('1" x 16 ga')
    drive.key(Qt.Key.Key_Return, page.section.lineEdit())
    job = window.session.job
    assert {job.tube(t).section for t in ("T50L", "T50R", "T51R", "T52R")} == {'1" x 16 ga'}
    page.section.setEditText("walnut")
    drive.key(Qt.Key.Key_Return, page.section.lineEdit())
    assert "‘walnut’ is not a section" in drive.said
    assert window.session.job is job


def test_a_cell_is_typed_into_and_a_wrong_one_is_refused_there(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    grid = window.pages["frame"].joints
    window.pages["frame"].open("Joints")
    index = grid.model.index(0, 2)
    grid.list.setCurrentIndex(index)
    grid.list.edit(index)
    editor = grid.list.indexWidget(index) or grid.list.findChild(type(window.entry.line))
    editor.setText("340 mn")
    drive.key(Qt.Key.Key_Return, editor)
    assert "x of J1L" in grid.refusal.text()
    assert "‘mn’" in grid.refusal.text()
    assert editor.text() == "340 mn"
    editor.setText("2000000")
    drive.key(Qt.Key.Key_Return, editor)
    assert "no frame reaches beyond 50 m" in grid.refusal.text()
    editor.setText('13 1/2"')
    drive.key(Qt.Key.Key_Return, editor)
    assert window.session.job.joint("J1R").x == pytest.approx(342.9)
    assert grid.refusal.text() == ""


def test_prove_cut_and_jig_say_what_the_core_says(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    drive.key(Qt.Key.Key_5)
    drive.settle()
    answer = stiffness.answer(sandpiper)
    assert METRIC.torsional_stiffness(answer.torsion) in drive.read()
    assert METRIC.linear_stiffness(answer.bending) in drive.read()
    assert f"Softest between {answer.soft[0].left}" in drive.read()
    assert "licensed engineer" in drive.read()
    assert window.table.decor.shape is not None
    page = window.pages["prove"].here
    scale = page.scale.text()
    page.slider.setValue(90)
    assert page.scale.text() != scale
    page.slider.setValue(0)
    assert window.table.decor.shape is None
    drive.key(Qt.Key.Key_6)
    drive.settle()
    page = window.pages["cut"]
    window.session.choose(("T35L",))
    piece = pieces.answer(sandpiper).piece("T35L")
    assert page.preview.sheet.title == f"T35L at {piece.first.joint}"
    assert plain(piece.first.words) in drive.read()
    shown = page.pieces.model
    row = next(n for n, p in enumerate(shown.rows) if p.id == "T35L")
    assert shown.data(shown.index(row, 1)) == METRIC.length(piece.bar, unit=False)
    drive.key(Qt.Key.Key_7)
    drive.settle()
    page = window.pages["jig"]
    assert len(page.stands.model.rows) == 12
    assert "With its top at 121.0 mm" in drive.read()
    page.set_top.click()
    drive.settle()
    assert "as high as the least saddle allows" in drive.read()
    assert len(window.table.decor.stands) == 12


def test_a_deflected_shape_of_fewer_tubes_is_not_drawn_on_more(drive: Driver, sandpiper: Job) -> None:
    """Split a tube while Prove shows, and again from another step: its old shape was drawn on the new tubes and
    broke."""
    window = drive.start(sandpiper).window
    drive.key(Qt.Key.Key_5)
    drive.settle()
    window.session.choose(("T9L",))
    drive.type("split")
    assert window.table.decor.shape is None
    drive.settle()
    assert window.table.decor.shape.owner[-1] == len(sandpiper.tubes) + 1
    drive.key(Qt.Key.Key_4)
    drive.key(Qt.Key.Key_Z, window, CONTROL)
    drive.key(Qt.Key.Key_5)
    assert window.table.decor.shape is None
    drive.settle()


def test_steps_say_what_is_missing_on_an_empty_table(drive: Driver) -> None:
    for key, words in (
        (Qt.Key.Key_5, "There are no tubes"),
        (Qt.Key.Key_6, "no tubes to cut yet"),
        (Qt.Key.Key_7, "No joint stands on the table"),
    ):
        drive.key(key)
        drive.settle()
        assert words in drive.read()
    drive.key(Qt.Key.Key_F11, drive.window)
    assert "has no bench card yet" in drive.said


def test_a_mechanism_is_told_where_the_person_looks_and_snags_lead_there(drive: Driver, box: Job) -> None:
    window = drive.start(box).window
    window.session.choose(("T3L", "T4L", "T1L", "T2L"))
    drive.type("pin both")
    drive.settle()
    drive.key(Qt.Key.Key_5)
    drive.settle()
    assert "The frame is a mechanism" in drive.read()
    assert window.tally.dials["torsion"].number.text() == "–"
    assert "wrong" in window.tally.count.unit.text()
    drive.key(Qt.Key.Key_F3, window)
    window.snags.grid.list.selectRow(0)
    drive.key(Qt.Key.Key_Return, window.snags.grid.list)
    assert window.session.chosen
    window.undo()
    drive.settle()
    assert window.tally.dials["torsion"].number.text() != "–"


def test_a_joint_dragged_beyond_all_sense_is_refused_in_words(drive: Driver, sandpiper: Job) -> None:
    """A place beyond a kilometre came through the mouse as a fault of the program."""
    window = drive.start(sandpiper).window
    window.table.placed.emit(0.0, 2e6, 0.0)
    assert "‘Add a joint’ gives y 2000000.0 mm, but" in drive.said
    assert window.session.job is sandpiper


def test_where_from_names_formula_and_source(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.tally.dials["torsion"].click()
    words = " ".join(label.text() for label in window.tally._card.findChildren(QLabel))
    assert "atan" in words
    assert "Cowper 1966" in words
    assert window.step == "prove"
    window.tally.hide_card()


def test_bench_card_pages_with_one_key(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    drive.key(Qt.Key.Key_6)
    drive.settle()
    drive.key(Qt.Key.Key_F11, window)
    card = window.card
    first = card.title.text()
    assert first.startswith("T1L")
    drive.key(Qt.Key.Key_Space, card)
    assert card.title.text().startswith("T1R")
    drive.key(Qt.Key.Key_Backspace, card)
    assert card.title.text() == first
    assert card.foot.text().startswith("1 of 112")
    drive.key(Qt.Key.Key_Escape, card)
    assert not card.isVisible()


def test_save_open_recent_and_a_bad_file(drive: Driver, sandpiper: Job, tmp_path: Path, answer_dialog) -> None:
    window = drive.start(sandpiper).window
    drive.type("name Tern")
    assert "not saved" in window.windowTitle()
    answer_dialog(str(tmp_path / "tern"))
    window.files.save_file()
    assert file.read(tmp_path / "tern.cage").brief.name == "Tern"
    assert "not saved" not in window.windowTitle()
    bad = tmp_path / "bad.cage"
    bad.write_text((tmp_path / "tern.cage").read_text()[:400])
    assert not window.files.open_path(bad)
    assert "bad.cage ends too early" in drive.said
    assert window.session.job.brief.name == "Tern"
    window.menu.fill_recent()
    assert [a.text() for a in window.menu.recent.actions()] == [str(tmp_path / "tern.cage")]
    answer_dialog("/proc/nowhere/tern.cage")
    window.files.save_as()
    assert "could not be saved" in drive.said
    assert window.session.path == tmp_path / "tern.cage"


def test_files_are_written_off_the_screen_thread_and_can_be_stopped(
    drive: Driver, sandpiper: Job, tmp_path: Path, answer_dialog
) -> None:
    window = drive.start(sandpiper).window
    answer_dialog(str(tmp_path / "list.csv"))
    window.files.export("cut-csv", "")
    drive.qtbot.waitUntil(lambda: window.strip.worker is None, timeout=60_000)
    assert (tmp_path / "list.csv").stat().st_size > 1000
    assert drive.said == f"Wrote {tmp_path / 'list.csv'}."
    window.menu.fill_writing()
    words = {action.text(): action for action in window.menu.writing.actions()}
    answer_dialog(str(tmp_path / "points"))
    words["List of joints (CSV)…"].trigger()
    drive.qtbot.waitUntil(lambda: window.strip.worker is None, timeout=60_000)
    assert (tmp_path / "points.csv").read_text("utf-8").startswith("joint,x mm from front axle line")
    answer_dialog(str(tmp_path / "all.pdf"))
    window.files.export("templates-pdf", "A4")
    assert window.strip.isVisible()
    window.strip.button.click()
    drive.qtbot.waitUntil(lambda: window.strip.worker is None, timeout=60_000)
    assert "Stopped: nothing came of all.pdf" in drive.said
    assert not (tmp_path / "all.pdf").exists()


def test_unsaved_work_is_asked_about_and_staying_keeps_it(
    drive: Driver, box: Job, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = drive.start(box).window
    drive.type("name Tern")
    monkeypatch.setattr(QMessageBox, "exec", lambda box: 0)
    monkeypatch.setattr(
        QMessageBox, "clickedButton", lambda box: next(b for b in box.buttons() if b.text() == "Stay here")
    )
    assert not window.close()
    assert window.session.job.brief.name == "Tern"
    window.files.new_job()
    assert window.session.job.brief.name == "Tern"


def test_look_and_size_of_type_are_remembered(drive: Driver, qtbot, own_home: Path) -> None:
    from ironcage.desk.window import Window

    window = drive.window
    window.toggle_dark()
    window.larger()
    again = Window(own_home)
    assert again.look.name == "dark"
    assert again.settings.scale == 1.15
    again.smaller()
    again.close()


def test_keys_are_each_bound_once_and_help_lists_them_all(drive: Driver) -> None:
    from ironcage.core.job.text import COMMANDS
    from ironcage.desk.actions import ACTIONS
    from ironcage.desk.helppage import help_text

    keys = [a.key for a in ACTIONS if a.key]
    assert len(keys) == len(set(keys))
    for declared in ACTIONS:
        assert hasattr(drive.window, declared.id) or hasattr(drive.window.files, declared.id), declared.id
        assert declared.words in help_text(METRIC)
    for command in COMMANDS:
        assert plain(command.says) in help_text(METRIC).replace("&quot;", '"').replace("&#x27;", "'")
    drive.key(Qt.Key.Key_F1, drive.window)
    assert drive.window._help.isVisible()
    drive.window._help.close()


def test_work_left_by_a_killed_program_is_offered_and_comes_back(qtbot, own_home: Path, box: Job) -> None:
    from ironcage.core.job import edits
    from ironcage.core.job.store.journal import Journal
    from ironcage.desk.window import Window

    journal = Journal(own_home / "recovery", box, None)
    moved = edits.move(box, ["J1L"], dz=40)
    journal.record(moved)
    journal.close(discard=False)
    journal.path.rename(journal.path.with_name("999999999-1.journal"))
    window = Window(own_home)
    window.show()
    assert "left unsaved" in window.recovery.words.text()
    window.recovery.open.click()
    assert window.session.job == moved
    assert window.session.dirty
    assert not window.recovery.isVisible()
    window.session._saved_job = window.session.job
    window.close()
