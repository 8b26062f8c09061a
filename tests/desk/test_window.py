"""The window as a whole: what stays right when the job changes under it, keys that mean one thing, lists that agree."""

import re
import sys
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QImage
from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog, QMessageBox, QPushButton

from ironcage.core.job import edits
from ironcage.core.job.geometry.names import spoken
from ironcage.core.job.store import file
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.desk.helppage import HelpPage
from ironcage.desk.menus import TableMenu
from ironcage.desk.settings import SCALES
from ironcage.desk.words import AWAITED
from ironcage.told import plain
from tests.conftest import sample
from tests.desk.conftest import Driver

CONTROL = Qt.KeyboardModifier.ControlModifier


def test_type_grows_while_a_closed_page_still_lists_the_tubes_of_the_job_before(drive: Driver, sandpiper: Job) -> None:
    window, skerry = drive.start(sandpiper).window, sample("skerry")
    window.go("frame")
    window.page.open("Tubes")
    drive.settle()
    window.go("cut")
    drive.start(skerry)
    window.qactions["larger"].trigger()
    drive.settle()
    window.go("frame")
    drive.settle()
    assert len(window.page.tubes.model.rows) == len(skerry.tubes)


def test_digits_go_into_the_cell_that_has_the_keys_and_open_steps_elsewhere(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.go("place")
    bryn = next(p for p in sandpiper.people if p.name == "Bryn")
    window.session.choose((bryn.id,))
    drive.settle()
    card = window.page.card
    row = next(n for n, cell in enumerate(card.model.rows) if cell.name == "thigh")
    where = card.list.visualRect(card.model.index(row, 1)).center()
    card.list.scrollTo(card.model.index(row, 1))
    where = card.list.visualRect(card.model.index(row, 1)).center()
    drive.qtbot.mouseClick(card.list.viewport(), Qt.MouseButton.LeftButton, pos=where)
    drive.qtbot.keyClick(card.list, "4")
    editor = QApplication.focusWidget() or card.list.viewport().focusWidget()
    assert window.step == "place"
    drive.qtbot.keyClicks(editor, "80")
    drive.key(Qt.Key.Key_Return, editor)
    drive.settle()
    assert next(p for p in window.session.job.people if p.id == bryn.id).limbs.thigh == 480
    drive.key(Qt.Key.Key_4)
    assert window.step == "frame"


def test_a_line_typed_after_a_tab_was_clicked_goes_into_the_line(drive: Driver, sandpiper: Job) -> None:
    """The drop-down of rules took its letters before, and Return added a rule of another kind."""
    window = drive.start(sandpiper).window
    window.go("brief")
    drive.settle()
    tabs = window.page.tabs.tabBar()
    drive.qtbot.mouseClick(tabs, Qt.MouseButton.LeftButton, pos=tabs.tabRect(1).center())
    words = "rule ground clearance least 60: Nothing lower than 60"
    window.page.kind.setFocus()
    drive.qtbot.keyClick(window.page.kind, words[0])
    drive.qtbot.keyClicks(window.entry.line, words[1:])
    assert window.entry.line.text() == words
    drive.key(Qt.Key.Key_Return, window.entry.line)
    assert len(window.session.job.rules.rules) == len(sandpiper.rules.rules) + 1
    drive.key(Qt.Key.Key_Z, window.entry.line, CONTROL)
    assert window.session.job is sandpiper


def test_snags_stay_open_when_one_is_picked_and_lead_to_their_mend(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.tally.count.click()
    listing = window.snags.grid.list
    row = next(n for n, s in enumerate(window.found_snags) if s.where)
    spot = listing.visualRect(window.snags.grid.model.index(row, 0)).center()
    drive.qtbot.mouseClick(listing.viewport(), Qt.MouseButton.LeftButton, pos=spot)
    assert window.tray.currentWidget() is window.snags
    assert window.session.chosen == window.found_snags[row].where
    for code, step, tab in (
        ("rule failed", "brief", "Rules"),
        ("bays fold", "frame", "Bays"),
        ("out of line", "place", "Drives"),
    ):
        snags = window.found_snags
        mended = next(n for n, s in enumerate(snags) if s.code == code)
        listing.setCurrentIndex(window.snags.grid.model.index(mended, 0))
        drive.key(Qt.Key.Key_Return, listing)
        assert window.step == step
        assert window.page.tabs.tabText(window.page.tabs.currentIndex()).startswith(tab)
        assert window.session.chosen == snags[mended].where
        window.tally.count.click()
    window.session.start(Job(), None)
    drive.type("joint 0 250 300")
    drive.settle()
    window.tally.count.click()
    mended = next(n for n, s in enumerate(window.found_snags) if s.code == "no wheels")
    listing.setCurrentIndex(window.snags.grid.model.index(mended, 0))
    drive.key(Qt.Key.Key_Return, listing)
    assert window.step == "frame"
    assert window.entry.line.text().startswith("wheels front 0 650 290")


@pytest.mark.parametrize("name", ["sandpiper", "fell-litter", "skerry"])
def test_every_count_of_snags_is_the_same_count(drive: Driver, name: str) -> None:
    window = drive.start(sample(name)).window
    for step, button in window.route.buttons.items():
        worst = next((s for s in window.found_snags if s.step == step), None)
        assert worst is None or spoken(window.session.job, plain(worst.what)) in button.toolTip()
        assert worst is None or worst.code in button.text()
    marked = sum(int(count) for b in window.route.buttons.values() for count in re.findall(r"[✗?](\d+)", b.text()))
    assert marked == int(window.tally.count.number.text()) == len(window.snags.grid.model.rows)


def test_badges_next_and_snags_say_that_they_are_awaited_while_the_job_changes(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.session.choose(("J12L",))
    before = {step: b.text() for step, b in window.route.buttons.items()}
    drive.key(Qt.Key.Key_PageUp)
    drive.qtbot.waitUntil(lambda: window.next.button.text().endswith(AWAITED), timeout=20_000)
    assert all(window.route.buttons[step].text() == f"{text}{AWAITED}" for step, text in before.items())
    assert window.snags.help.text().endswith(AWAITED)
    assert not window.tally.count.number.isEnabled()
    drive.settle()
    assert not any(b.text().endswith(AWAITED) for b in window.route.buttons.values())
    assert not window.next.button.text().endswith(AWAITED)
    assert window.tally.count.number.isEnabled()


def test_what_the_person_sees_is_what_a_click_picks(drive: Driver, sandpiper: Job) -> None:
    """Joints behind a head were picked through it, and the head never."""
    window = drive.start(sandpiper).window
    window.go("place")
    drive.settle()
    bryn = next(p for p in sandpiper.people if p.name == "Bryn")
    head = next(b for b in window.table.decor.bodies if b.id == bryn.id)
    helmet = head.solids[head.labels.index("helmet")].points[0]
    x, y, depth = window.table.camera.project(helmet[None])[0]
    hidden = edits.add_joint(sandpiper, tuple(helmet - 400 * window.table.camera.basis[2]), mirrored=False)
    window.session.edit("Add a joint", lambda job: hidden)
    drive.settle()
    spots = window.table.shown.spots
    assert min(abs(spots[:, 0] - x) + abs(spots[:, 1] - y)) < 30
    drive.qtbot.mouseClick(window.table, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(y)))
    assert window.session.chosen == (bryn.id,)
    assert spots[-1, 2] < depth


def test_a_card_of_nothing_says_what_to_choose(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.go("place")
    drive.settle()
    window.page.tabs.setCurrentWidget(window.page.card)
    assert "Choose a part, a person" in drive.read()
    window.session.choose((sandpiper.people[0].id,))
    assert "Choose a part, a person" not in drive.read()


def test_a_seated_person_can_be_another_stature_and_the_next_one_gets_a_free_seat(
    drive: Driver, sandpiper: Job
) -> None:
    window = drive.start(sandpiper).window
    bryn = next(p for p in sandpiper.people if p.name == "Bryn")
    window.session.choose((bryn.id,))
    drive.type("set stature 1900")
    taller = next(p for p in window.session.job.people if p.id == bryn.id)
    assert taller.limbs.stature == pytest.approx(1900)
    assert taller.seat == bryn.seat
    window.go("place")
    menu = window.page.findChildren(type(window.menu.recent))
    start = next(a for m in menu for a in m.actions() if a.text() == "A person, by stature")
    for _ in range(3):
        start.trigger()
        drive.key(Qt.Key.Key_Return, window.entry.line)
    hips = [p.seat.hip for p in window.session.job.people]
    assert len(hips) == len(sandpiper.people) + 3
    assert all(
        sum((a - b) ** 2 for a, b in zip(one, two, strict=True)) ** 0.5 > 300
        for n, one in enumerate(hips)
        for two in hips[:n]
    )


def test_an_answer_that_takes_long_is_said_to_be_awaited(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.go("prove")
    window.page.open("Next")
    drive.settle()
    page = window.page
    assert not page.waiting.isVisible()
    page._late.setInterval(0)
    next(b for b in page.here.findChildren(QPushButton) if b.text() == "Add it").click()
    assert len(window.session.job.tubes) > len(sandpiper.tubes)
    drive.qtbot.waitUntil(page.waiting.isVisible, timeout=20_000)
    assert "Working it out" in drive.read()
    drive.settle()
    assert not page.waiting.isVisible()


def test_no_words_are_drawn_over_each_other_in_a_small_window(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.resize(1011, 600)
    window.go("prove")
    drive.settle()
    page = window.page.stiffness
    assert page.limits.geometry().top() > page.plot.geometry().bottom()
    for label in (*page.figures.values(), page.limits):  # a label that wraps anew is laid out with the next events
        drive.qtbot.waitUntil(lambda shown=label: shown.height() >= shown.heightForWidth(shown.width()))


def test_the_split_of_a_step_is_kept_for_it(drive: Driver, sandpiper: Job, own_home: Path) -> None:
    window = drive.start(sandpiper).window
    window.go("cut")
    below = window.split.sizes()[1]
    handle = window.split.handle(1)
    drive.qtbot.mousePress(handle, Qt.MouseButton.LeftButton, pos=QPoint(20, 2))
    drive.qtbot.mouseMove(handle, QPoint(20, 72))
    drive.qtbot.mouseRelease(handle, Qt.MouseButton.LeftButton, pos=QPoint(20, 72))
    moved = window.split.sizes()
    assert moved[1] < below - 40
    window.go("frame")
    window.go("cut")
    assert window.split.sizes() == pytest.approx(moved, abs=3)


def test_f8_again_looks_from_where_it_began(drive: Driver, sandpiper: Job) -> None:
    table = drive.start(sandpiper).window.table
    began = table.camera.azimuth, table.camera.elevation
    drive.qtbot.mousePress(table, Qt.MouseButton.RightButton, pos=QPoint(300, 200))
    drive.qtbot.mouseMove(table, QPoint(420, 230))
    drive.qtbot.mouseRelease(table, Qt.MouseButton.RightButton, pos=QPoint(420, 230))
    assert (table.camera.azimuth, table.camera.elevation) != began
    drive.window.qactions["view_free"].trigger()
    assert (table.camera.azimuth, table.camera.elevation) == began


def test_larger_type_is_larger_in_the_typed_line_too_and_hides_no_marks(drive: Driver, sandpiper: Job) -> None:
    window = drive.window
    before = window.entry.line.font().pointSizeF()
    window.qactions["larger"].trigger()
    assert window.entry.line.font().pointSizeF() == pytest.approx(before * SCALES[2])
    for _ in SCALES:
        window.qactions["larger"].trigger()
    drive.start(sandpiper)
    for button in window.route.buttons.values():
        for line in button.text().splitlines():
            assert button.fontMetrics().horizontalAdvance(line) < button.width() - 8, button.text()


def test_a_new_job_does_not_show_what_was_said_of_the_old_one(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    drive.type("nonsense")
    assert drive.said
    window.session.start(Job(), None)
    assert drive.said == ""


def test_a_joint_typed_beyond_any_frame_is_refused(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.session.choose(("J12L",))
    drive.type("x 999999")
    assert "no frame reaches beyond 50 m" in drive.said
    assert "another unit" in drive.said
    assert window.session.job is sandpiper


def test_names_offered_for_files_hold_nothing_that_a_file_system_refuses(
    drive: Driver, box: Job, monkeypatch: pytest.MonkeyPatch
) -> None:
    offered = []
    monkeypatch.setattr(
        QFileDialog,
        "getSaveFileName",
        staticmethod(lambda parent, title, start, *a: (offered.append(start), ("", ""))[1]),
    )
    window = drive.start(understand("name Sled 1:5 <draft>?", box, ()).job).window
    window.files.save_as()
    window.files.export("plan-pdf", "")
    names = [Path(start).name for start in offered]
    assert len(names) == 2
    assert not any(letter in name for name in names for letter in '\\/:*?"<>|')
    assert names[0] == "Sled 1-5 -draft--.cage"


def test_where_from_stays_on_the_screen(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    room = window.screen().availableGeometry()
    window.move(room.right() - window.width() // 2, room.top())
    for key in window.tally.dials:
        window.tally.explain(key)
        card = window.tally._card
        assert room.contains(card.geometry()), key
        window.tally.hide_card()


def test_help_leaves_the_table_in_sight(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.qactions["show_help"].trigger()
    help_page = window.findChild(HelpPage)
    left = window.table.mapToGlobal(QPoint(0, 0)).x()
    assert help_page.geometry().left() >= left + window.table.width() * 0.4
    drive.qtbot.waitUntil(lambda: window.table.painted and window.table.drawn, timeout=60_000)
    help_page.close()


def answer_box(monkeypatch: pytest.MonkeyPatch, starts: str) -> list[str]:
    """Press the button of the next question that starts with some words; what the question said is kept."""
    said: list[str] = []

    def answered(box: QMessageBox) -> int:
        said.append(box.text())
        next(b for b in box.buttons() if b.text().startswith(starts)).click()
        return 0

    monkeypatch.setattr(QMessageBox, "exec", answered)
    return said


def test_a_file_changed_by_another_is_asked_about_and_both_stay(
    drive: Driver, box: Job, tmp_path: Path, answer_dialog, monkeypatch: pytest.MonkeyPatch
) -> None:
    path, window = tmp_path / "sled.cage", drive.start(box).window
    window.session.save(path)
    theirs = understand("name Theirs", box, ()).job
    path.write_text(file.to_text(theirs), encoding="utf-8")
    drive.type("name Mine")
    said = answer_box(monkeypatch, "Save mine under another")
    answer_dialog(str(tmp_path / "mine"))
    drive.key(Qt.Key.Key_S, window, CONTROL)
    assert "sled.cage" in said[0]
    assert file.read(path).brief.name == "Theirs"
    assert file.read(tmp_path / "mine.cage").brief.name == "Mine"
    window.session.path = None
    window.session.open(path)
    path.write_text(file.to_text(understand("name Again", box, ()).job), encoding="utf-8")
    drive.type("name Mine too")
    answer_box(monkeypatch, "Save mine here")
    drive.key(Qt.Key.Key_S, window, CONTROL)
    assert file.read(path).brief.name == "Mine too"
    kept = {file.read(p).brief.name for p in tmp_path.glob("sled*.cage*")}
    assert "Again" in kept


def test_an_ending_is_added_and_what_is_there_is_asked_about(
    drive: Driver, box: Job, tmp_path: Path, answer_dialog, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = drive.start(box).window
    answer_dialog(str(tmp_path / "Car v1.2"))
    window.files.save_as()
    assert file.read(tmp_path / "Car v1.2.cage").joints == box.joints
    there = tmp_path / "car.cage"
    there.write_text(file.to_text(sample("skerry")), encoding="utf-8")
    asked = []
    monkeypatch.setattr(
        QMessageBox,
        "question",
        staticmethod(lambda parent, title, words, *a: (asked.append(words), QMessageBox.StandardButton.No)[1]),
    )
    answer_dialog(str(tmp_path / "car"))
    window.files.save_as()
    assert asked == ["car.cage is there already. Write over it?"]
    assert file.read(there).brief.name == sample("skerry").brief.name


def test_a_fault_in_the_logs_own_solve_does_not_stop_the_save(
    drive: Driver, box: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from ironcage.core.answers import prove

    window = drive.start(box).window
    drive.type("name Kept")
    reported = []

    def breaks(*_: object) -> None:
        raise ZeroDivisionError

    # Only the log's own question breaks: the window's other questions are still being worked out in their threads.
    monkeypatch.setattr(prove, "logged_if_changed", breaks)
    monkeypatch.setattr(sys, "excepthook", lambda kind, fault, trace: reported.append(kind))
    window.session.save(tmp_path / "kept.cage")
    assert file.read(tmp_path / "kept.cage").brief.name == "Kept"
    drive.qtbot.waitUntil(lambda: reported == [ZeroDivisionError], timeout=60_000)


def test_files_dropped_on_the_window_are_opened_brought_in_or_refused(
    drive: Driver, sandpiper: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(QInputDialog, "getItem", staticmethod(lambda *_: ("mm", True)))
    window = drive.start(Job()).window

    def drop(*paths: Path) -> None:
        held = QMimeData()
        held.setUrls([QUrl.fromLocalFile(str(p)) for p in paths])
        over = (Qt.DropAction.CopyAction, held, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
        entered = QDragEnterEvent(QPoint(300, 200), *over)
        QApplication.sendEvent(window, entered)
        assert entered.isAccepted()
        QApplication.sendEvent(window, QDropEvent(QPointF(300, 200), *over))
        drive.qtbot.waitUntil(lambda: not window.strip.isVisible(), timeout=60_000)
        drive.settle()

    file.save(sandpiper, tmp_path / "car.cage")
    drop(tmp_path / "car.cage")
    assert window.session.job == sandpiper
    (tmp_path / "points.csv").write_text("name,x,y,z\nP1,100,200,300\n")
    drop(tmp_path / "points.csv")
    assert len(window.session.job.joints) > len(sandpiper.joints)
    picture = QImage(60, 40, QImage.Format.Format_RGB32)
    picture.fill(0)
    assert picture.save(str(tmp_path / "side.png"))
    drop(tmp_path / "side.png")
    assert len(window.session.job.pictures) == 1
    window.go("log")
    drop(tmp_path / "side.png")
    assert window.session.job.logbook.entries[-1].photos
    drop(tmp_path / "notes.docx")
    assert drive.said.startswith("notes.docx can't be brought in. What can ends in .cage, .stl")
    assert window.entry.said.objectName() == "refused"


def test_a_click_of_the_right_button_offers_what_can_be_done_with_what_is_there(
    drive: Driver, sandpiper: Job, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = drive.start(sandpiper).window
    offered: list[str] = []
    wanted = ""

    def choose(menu: TableMenu, at: QPoint) -> None:
        offered[:] = [a.text().partition("\t")[0] for a in menu.actions() if a.text()]
        found = next((a for a in menu.actions() if a.text().startswith(wanted)), None) if wanted else None
        if found:
            found.trigger()

    monkeypatch.setattr(TableMenu, "exec", choose)
    camera = window.table.camera

    def right_click(at: QPoint) -> None:
        drive.qtbot.mouseClick(window.table, Qt.MouseButton.RightButton, pos=at)

    right_click(QPoint(4, 4))
    assert offered[0] == "Joint…"
    assert window.table.camera == camera  # a click does not turn the view
    wanted = "Stand on or off"
    right_click(drive.spot("J12L"))
    assert window.session.chosen == ("J12L",)
    assert "Split in the middle" not in offered
    assert "J12L" in window.session.job.table.stands
    wanted = "Join with a tube"
    window.session.choose(("J12L", "J15L"))
    right_click(drive.spot("J15L"))
    assert len(window.session.job.tubes) > len(sandpiper.tubes)
    wanted = "Section…"
    window.session.choose(("T12L",))
    right_click(QPoint(4, 4))
    assert window.entry.line.text() == "section "
    wanted = "Undo"
    right_click(QPoint(4, 4))
    assert len(window.session.job.tubes) == len(sandpiper.tubes)
