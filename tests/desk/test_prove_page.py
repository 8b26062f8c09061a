"""Prove's lists in the real window: what a builder reads, types and presses, and what comes of it."""

import math
from pathlib import Path
from threading import Event
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QPushButton

from ironcage.core.answers.prove import balance, stiffness, strength, worth
from ironcage.core.job.store.file import read
from ironcage.core.job.values.model import Job
from ironcage.desk import questions
from ironcage.desk.pages.prove.page import ORDER
from ironcage.samples import sample
from ironcage.units import METRIC
from tests.core.lines import typed
from tests.desk.conftest import Driver

PER_DEGREE = math.pi / 180e3


@pytest.fixture(scope="module")
def skerry() -> Job:
    return sample("skerry")


def _open(drive: Driver, job: Job, words: str):
    window = drive.start(job).window
    drive.key(Qt.Key.Key_5)
    window.page.open(words)
    drive.settle()
    return window, window.page.here


def _press(here, words: str) -> None:
    next(b for b in here.findChildren(QPushButton) if b.text() == words).click()


def _row(grid, key: str) -> int:
    return next(n for n, r in enumerate(grid.model.rows) if grid.key(r) == key)


def _cells(grid, row: int) -> list[str]:
    return [grid.model.index(row, n).data() for n in range(len(grid.model.columns))]


def test_cases_list_every_case_and_show_the_hardest(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Cases")
    told = strength.tube_strength(skerry)
    assert here.cases.model.rowCount() == len(told.cases) + len(told.refused)
    shown = here.shown
    assert shown.use == pytest.approx(max(told.worst_in(n)[1] for n in range(len(told.cases))))
    assert window.table.decor.shape is not None
    window.table.grab()  # paints its pushes
    cells = _cells(here.cases, _row(here.cases, "static"))
    assert cells[-1] == "the masses' inertia"
    assert cells[1].split() == ["0.00", "0.00", f"{told.cases[0].applied[2] / 1000:.2f}"]
    here.cases.list.selectRow(_row(here.cases, "braking"))
    drive.settle()
    assert here.shown.case.name == "braking"
    assert window.page.cards()[0].title == "braking"


def test_a_level_is_typed_into_its_cell_and_undone(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Cases")
    row = list(here.levels.model.rows).index("bump")
    before = next(r.use for r in here.result.rows if r.case.name == "bump front")
    here.levels.list.setCurrentIndex(here.levels.model.index(row, 1))
    drive.key(Qt.Key.Key_F2, here.levels.list)
    from PyQt6.QtWidgets import QLineEdit

    editor = here.levels.list.findChildren(QLineEdit)[-1]
    editor.setText("6")
    drive.key(Qt.Key.Key_Return, editor)
    drive.settle()
    assert window.session.job.proving.levels.bump == 6
    assert next(r.use for r in here.result.rows if r.case.name == "bump front") > before
    drive.key(Qt.Key.Key_Z, window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert window.session.job.proving.levels.bump == skerry.proving.levels.bump


def test_a_case_from_the_book_is_started_by_a_button_and_typed(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Cases")
    _press(here, "New case…")
    assert window.entry.line.text().startswith("case Rollover")
    drive.key(Qt.Key.Key_Escape, window.entry.line)
    drive.type("case Post: J11L z-3 kN, J11R z-3 kN held J1L J1R J7L J7R")
    drive.settle()
    row = _row(here.cases, "Post")
    assert _cells(here.cases, row)[-1].startswith("held at J1L J1R J7L J7R")
    drive.type("case Slip: J11L z-3 kN held J1L J1R")
    drive.settle()
    assert any("can still turn" in c for c in _cells(here.cases, _row(here.cases, "Slip")))


def test_strength_is_worst_first_and_colours_the_table(drive: Driver) -> None:
    job = sample("fell-litter")
    window, here = _open(drive, job, "Strength")
    told = strength.tube_strength(job)
    assert here.tubes.model.rows[0].tube == told.worst.tube
    assert f"on {told.worst.tube}. {len(told.cases)} cases" in here.sum.text()
    assert "licensed engineer" in here.caution.text()
    colours = window.table.decor.colours
    assert len(colours) == len(job.tubes)
    here.tubes.list.selectRow(0)
    assert window.session.chosen == (told.worst.tube,)
    here.moves.list.selectRow(0)
    assert set(window.session.chosen) <= set(job.joint_by_id)
    assert window.page.cards()[0].lines[0].startswith(told.worst.tube)


def test_tubes_that_give_way_are_said_and_marked(drive: Driver, skerry: Job) -> None:
    weak = typed(skerry, "level landing 20")
    window, here = _open(drive, weak, "Strength")
    over = [t for t in strength.tube_strength(weak).tubes if t.use > 1]
    assert over
    assert f"{len(over)} tubes are loaded beyond what they carry" in here.sum.text()
    assert here.tubes.model.wrong == frozenset(t.tube for t in over)
    assert window.tally.dials  # the rest of the window goes on


def test_the_report_is_written_from_its_button(drive: Driver, skerry: Job, tmp_path: Path, answer_dialog) -> None:
    window, here = _open(drive, skerry, "Strength")
    answer_dialog(str(tmp_path / "r.pdf"))
    _press(here, "Report…")
    drive.qtbot.waitUntil(lambda: window.strip.worker is None, timeout=60_000)
    assert (tmp_path / "r.pdf").read_bytes().startswith(b"%PDF")


def test_following_the_first_advised_brace_gives_what_was_promised(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Next")
    before = stiffness.answer(skerry).torsion
    brace = here.picked
    assert not brace.blocked
    promised = _cells(here.braces, _row(here.braces, brace.line))[1]
    assert promised == f"{brace.change.torsion * PER_DEGREE:+.0f}"
    window.table.grab()
    _press(here, "Add it")
    drive.settle()
    after = stiffness.answer(window.session.job).torsion
    assert after - before == pytest.approx(brace.change.torsion, rel=1e-3)
    assert window.session.job.tubes[-1].role == "diagonal"
    assert drive.tally("torsion").startswith(METRIC.torsional_stiffness(after).split()[0])
    drive.key(Qt.Key.Key_Z, window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert window.session.job.tubes == skerry.tubes


def test_braces_can_come_by_what_they_give_for_their_money(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Next")
    here.first.setFocus()
    drive.key(Qt.Key.Key_Down, here.first)
    here.first.activated.emit(here.first.currentIndex())
    drive.settle()
    assert "No section of the frame has a price" in here.unranked.text()
    assert here.braces.model.rowCount() == 0
    drive.type("price 30 x 30 x 2 square 5.10")
    drive.settle()
    assert not here.unranked.isVisible()
    cells = _cells(here.braces, 0)
    assert cells[-1] == "30 x 30 x 2 square"
    assert float(cells[4]) == pytest.approx(float(cells[1]) / float(cells[7]), abs=1)
    assert here.braces.list.isColumnHidden(3)  # what a kg gives is not what they are ranked by
    _press(here, "Add it")
    assert window.session.job.tubes[-1].section == "30 x 30 x 2 square"


def test_tubes_go_a_size_up_down_and_out_from_their_list(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Next")
    told = worth.tube_worth(skerry)
    assert [w.tubes for w in here.tubes.model.rows] == [w.tubes for w in told]
    one = next(w for w in told if w.up and w.down and not w.gone.falls)
    row = _row(here.tubes, " ".join(one.tubes))
    here.tubes.list.selectRow(row)
    assert window.session.chosen == one.tubes
    _press(here, "Size up")
    drive.settle()
    assert {window.session.job.tube(t).section for t in one.tubes} == {one.up.what}
    drive.key(Qt.Key.Key_Z, window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert window.session.chosen == one.tubes  # still picked
    _press(here, "Take out")
    drive.settle()
    assert not set(one.tubes) & set(window.session.job.tube_by_id)


def test_nothing_picked_is_said_and_changes_nothing(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Next")
    window.session.choose(())
    _press(here, "Size up")
    assert "Pick tubes" in drive.said
    here.braces.list.clearSelection()
    _press(here, "Add it")
    assert "Pick a brace" in drive.said
    window.page.open("Twist test")
    _press(window.page.here, "Take out")
    assert "Pick a reading" in drive.said
    assert window.session.job is skerry


def test_the_lightest_sections_are_searched_taken_and_undone(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Lightest")
    assert here.target.text() == f"{math.floor(stiffness.answer(skerry).torsion * PER_DEGREE)}"
    drive.key(Qt.Key.Key_Return, here.target)
    drive.qtbot.waitUntil(lambda: here.found is not None, timeout=60_000)
    assert "at most" in here.said.text()
    count = here.swaps.model.rowCount()
    assert count == len(here.found.swaps) > 1
    here.swaps.list.selectRow(0)
    first = here.swaps.model.rows[0]
    _press(here, "Take these")
    drive.settle()
    assert {window.session.job.tube(t).section for t in first.tubes} == {first.new}
    assert here.swaps.model.rowCount() == count - 1
    _press(here, "Take all")
    drive.settle()
    assert stiffness.answer(window.session.job).torsion * PER_DEGREE >= float(here.target.text()) * 0.9998
    assert here.swaps.model.rowCount() == 0


@pytest.mark.parametrize(
    ("text", "says"),
    [("stiff", "is no stiffness"), ("-3", "more than nothing"), ("90000", "Nothing on the shelf makes this frame")],
)
def test_a_target_that_can_not_be_is_refused_where_it_was_typed(
    drive: Driver, skerry: Job, text: str, says: str
) -> None:
    window, here = _open(drive, skerry, "Lightest")
    here.target.setText(text)
    _press(here, "Search")
    drive.qtbot.waitUntil(lambda: window.strip.worker is None, timeout=60_000)
    assert says in here.said.text() + drive.said


def test_a_search_is_stopped_by_its_button(drive: Driver) -> None:
    window, here = _open(drive, sample("sandpiper"), "Lightest")
    _press(here, "Search")
    window.strip.button.click()
    drive.qtbot.waitUntil(lambda: window.strip.worker is None, timeout=60_000)
    assert here.found is None
    assert "Stopped" in drive.said


def test_balance_follows_what_is_typed_and_asks_for_it(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Balance")
    assert "roll stiffness of both axles is not known" in here.empty.text()
    assert here.share.text() == "–"
    here.front.setText("300")
    drive.key(Qt.Key.Key_Return, here.front)
    here.rear.setText("260")
    drive.key(Qt.Key.Key_Return, here.rear)
    drive.settle()
    told = balance.roll_balance(window.session.job)
    assert here.share.text() == f"{told.share:.0%}"
    assert "95% takes" in here.said.text()
    here.curve.grab()
    here.front.setText("a lot")
    drive.key(Qt.Key.Key_Return, here.front)
    assert "is no stiffness" in drive.said


def test_a_mode_is_picked_and_shown_as_a_shape(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Vibration")
    assert here.modes.model.rowCount() == 12
    assert "Hz" in here.said.text()
    first = window.table.decor.shape
    assert first is not None
    here.modes.list.selectRow(11)
    drive.settle()
    assert not np.allclose(window.table.decor.shape.stop, first.stop)
    assert window.page.cards()[0].number.endswith("Hz")


def test_mounts_say_what_they_carry_once_a_part_is_tied_by_its_holes(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Mounts")
    assert "Give one its mount holes" in here.said.text()
    assert not here.list.isVisible()
    engine = next(p.id for p in skerry.parts if p.kind == "engine")
    drive.type(engine)
    for line in (
        "hole left foot at 0, 150, -150 dia 10",
        "hole right foot at 0, -150, -150 dia 10",
        f"joint at {engine} left foot",
    ):
        drive.type(line)
    left, right = (j.id for j in window.session.job.joints[-2:])
    for line in ("part", right, f"tie to {engine} right foot", f"tube {left} J5L", f"tube {right} J5R"):
        drive.type(line)
    drive.settle()
    assert here.list.isVisible()
    assert {_cells(here.list, n)[2] for n in range(2)} <= {"left foot", "right foot"}
    assert "at most, at" in here.said.text()
    assert "it is turned with" in here.said.text()  # by the chain, in acceleration
    assert window.page.cards()[0].number == _cells(here.list, 0)[4] + " kN"


def test_states_stand_side_by_side_and_the_log_grows(drive: Driver, skerry: Job) -> None:
    _window, here = _open(drive, typed(skerry, "variant keep Before: as drawn", "welds 0.6"), "Compare")
    names = [r.name for r in here.states.model.rows]
    assert names[0] == "now"
    assert names[-1] == "Before"
    assert float(_cells(here.states, 0)[1].replace(",", "")) < float(
        _cells(here.states, len(names) - 1)[1].replace(",", "")
    )
    _press(here, "Log")
    assert "What was done" in drive.said
    drive.qtbot.keyClicks(here.note, "hoop braces in")
    drive.key(Qt.Key.Key_Return, here.note)
    drive.settle()
    assert _cells(here.log, 0)[-1] == "hoop braces in"
    assert here.note.text() == ""


def test_a_list_opened_while_figures_are_worked_out_is_answered(
    drive: Driver, skerry: Job, monkeypatch: pytest.MonkeyPatch
) -> None:
    window, _ = _open(drive, skerry, "Stiffness")
    figures, on, free = questions.figures, Event(), Event()

    def late(job: Job, mark: Job) -> Any:
        on.wait(20)
        return figures(job, mark)

    monkeypatch.setattr(questions, "figures", late)
    window.slow.ask("busy", lambda _: free.wait(20), skerry)
    window.session.press("welds 0.9", ())
    window.page.open("Strength")
    on.set()
    drive.qtbot.waitUntil(lambda: window.asker.idle)
    free.set()
    drive.settle()
    assert window.page.here.result is not None
    assert window.page.here.job is window.session.job


def test_saving_writes_the_log_when_the_frame_has_changed(drive: Driver, skerry: Job, tmp_path: Path) -> None:
    window, here = _open(drive, skerry, "Compare")
    session = window.session
    session.save(tmp_path / "boat.cage")
    drive.settle()
    assert _cells(here.log, 0)[-1] == "as it was"
    drive.type("welds 0.7")
    drive.type("welds 0.6")
    session.save()
    drive.settle()
    assert "0.6" in _cells(here.log, 0)[-1]
    assert "0.7" in _cells(here.log, 0)[-1]
    assert float(_cells(here.log, 0)[1].replace(",", "")) < float(_cells(here.log, 1)[1].replace(",", ""))
    drive.type("deadline 2027-08-01")
    session.save()
    assert len(session.job.proving.log) == 2
    assert not session.dirty
    assert read(tmp_path / "boat.cage").proving.log == session.job.proving.log
    for _ in range(3):
        session.undo()
    session.save()  # as at first: the line of what was undone went with it
    assert len(session.job.proving.log) == 1


def test_the_twist_test_is_entered_read_and_used(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Twist test")
    assert "nobody reaches under it" in here.card.toPlainText()
    assert not here.use.isEnabled()
    here.lever.setText("800")
    drive.key(Qt.Key.Key_Return, here.lever)
    real = 0.9 * stiffness.answer(skerry).torsion
    for kg in (10, 25, 40):
        drive.type(f"reading {kg} kg front {math.degrees(kg * 9.80665 * 800 / real):.5f}")
    drive.settle()
    assert here.readings.model.rowCount() == 3
    assert METRIC.torsional_stiffness(real).split()[0] in here.stiffness.text()
    assert "makes the model agree" in here.said.text()
    _press(here, "Use this factor")
    drive.settle()
    assert stiffness.answer(window.session.job).torsion == pytest.approx(real, rel=1e-3)
    here.readings.list.selectRow(1)
    _press(here, "Take out")
    drive.settle()
    assert [r.mass for r in window.session.job.proving.test.readings] == [10, 40]
    assert len(window.page.cards()) == 6


def test_an_answer_for_a_list_that_was_left_is_not_shown_in_another(drive: Driver, skerry: Job) -> None:
    window = drive.start(skerry).window
    drive.key(Qt.Key.Key_5)
    for words in ORDER:
        window.page.open(words)  # each asks before the one before has been answered
    drive.settle()
    assert window.page.here.readings.model.rowCount() == 0
    window.page.open("Stiffness")
    drive.settle()
    assert METRIC.torsional_stiffness(stiffness.answer(skerry).torsion) in drive.read()


def test_every_list_says_why_it_is_empty_when_the_frame_can_not_be_twisted(drive: Driver, skerry: Job) -> None:
    window = drive.start(skerry.but(pickups=())).window
    drive.key(Qt.Key.Key_5)
    for words in ("Stiffness", "Cases", "Strength", "Next", "Lightest", "Balance"):
        window.page.open(words)
        drive.settle()
        assert "There is no pickup" in window.page.here.empty.text() or "not known" in window.page.here.empty.text(), (
            words
        )
        window.table.grab()


def _full() -> Job:
    job = typed(
        sample("fell-litter"),
        "variant keep The one before the long weekend: with notes",
        "case A case with a very long name from the book: J19L z-5 kN held J3L J3R J5L J5R",
    )
    for kg in (10, 30):
        job = typed(job, f"reading {kg} kg front 0.1 rear 0.01")
    return job


@pytest.mark.parametrize("words", ORDER)
def test_every_list_fits_a_small_window_in_the_dark_and_every_word_is_whole(drive: Driver, words: str) -> None:
    window, here = _open(drive, _full(), words)
    window.resize(1024, 700)
    drive.settle()
    assert window.width() <= 1024, f"{words} widens the window"
    assert window.height() <= 700
    for button in (b for b in here.findChildren(QPushButton) if b.isVisible()):
        assert button.width() >= button.fontMetrics().horizontalAdvance(button.text()), button.text()
    for label in (w for w in here.findChildren(QLabel) if w.isVisible() and w.text() and not w.wordWrap()):
        assert label.width() > 20, label.text()
    window.toggle_dark()
    drive.settle()
    window.grab()


def test_larger_type_does_not_widen_the_window(drive: Driver) -> None:
    window, _ = _open(drive, _full(), "Stiffness")
    window.resize(1280, 800)
    for _ in range(3):
        drive.key(Qt.Key.Key_Plus, window, Qt.KeyboardModifier.ControlModifier)
    for words in ORDER:
        window.page.open(words)
        drive.settle()
        assert window.width() <= 1280, words


def test_work_is_told_by_tube_bay_or_region(drive: Driver, skerry: Job) -> None:
    window, here = _open(drive, skerry, "Stiffness")
    here.by.button(2).click()
    drive.settle()
    told = stiffness.answer(skerry)
    assert here.shares.model.rowCount() == len(told.regions)
    assert "° a metre" in _cells(here.shares, 0)[2]
    here.by.button(1).click()
    drive.settle()
    shares = [r[1] for r in here.shares.model.rows]
    assert shares == sorted(shares, reverse=True)
    assert 0 < sum(shares) <= 1 + 1e-9
    here.shares.list.selectRow(0)
    assert set(window.session.chosen) == set(here.shares.model.rows[0][0].split())
    here.by.button(0).click()
    assert here.stack.currentWidget() is here.tubes


def test_a_mechanism_is_named_and_shown_moving(drive: Driver, skerry: Job) -> None:
    loose = skerry.but(tubes=tuple(t.but(pinned_a=True, pinned_b=True) for t in skerry.tubes), fittings=())
    one = loose.tubes[0].but(pinned_a=False)
    window, here = _open(drive, loose.but(tubes=(one, *loose.tubes[1:])), "Stiffness")
    assert "is a mechanism" in here.empty.text()
    assert window.table.decor.shape is not None
    window.table.grab()


def test_a_case_that_is_held_by_more_than_needed_says_so(drive: Driver, skerry: Job) -> None:
    _, here = _open(drive, typed(skerry, "case Post: J11L z-3 kN held J1L J1R J7L J7R"), "Cases")
    assert "6 holds more than needed" in _cells(here.cases, _row(here.cases, "Post"))[-1]


def test_how_the_frame_is_modelled_stands_beside_its_stiffness(drive: Driver, skerry: Job) -> None:
    _, here = _open(drive, skerry, "Stiffness")
    assert here.limits.text().startswith("Welds are rigid; bends keep their section.")
    drive.type("welds 0.8")
    drive.type("ovalise on")
    drive.settle()
    assert here.limits.text().startswith("Welds give (joint factor 0.8); bends go oval.")
    assert "licensed engineer" in here.limits.text()
