"""The parts that no page shows: questions from another thread, remembered settings, charts."""

import threading
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtWidgets import QApplication

from ironcage.desk.asker import Answered, Asker
from ironcage.desk.settings import MOST_RECENT, Settings
from ironcage.desk.widgets.plot import Axis, Band, Chart, Curve, Plot, Scale
from ironcage.problem import Problem


@pytest.fixture
def asker(qapp):
    made = Asker()
    yield made
    made.close()


def test_the_newest_question_of_a_kind_wins_and_others_keep_their_turn(asker: Asker, qtbot) -> None:
    gate, answers = threading.Event(), []
    asker.answered.connect(answers.append)
    asker.ask("slow", lambda _: gate.wait(10), "first")
    for n in range(5):
        asker.ask("tally", lambda n: n * 10, n)
    asker.ask("page", lambda job: f"page of {job}", "b")
    asker.ask("gone", lambda job: job, "c")
    asker.drop("gone")
    assert not asker.idle
    gate.set()
    qtbot.waitUntil(lambda: len(answers) == 3, timeout=60_000)
    assert [(a.kind, a.job, a.result) for a in answers] == [
        ("slow", "first", True),
        ("tally", 4, 40),
        ("page", "b", "page of b"),
    ]
    qtbot.waitUntil(lambda: asker.idle, timeout=60_000)


def test_a_refusal_is_an_answer_and_a_fault_is_told_apart(asker: Asker, qtbot) -> None:
    answers: list[Answered] = []
    faults: list[Exception] = []
    asker.answered.connect(answers.append)
    asker.broke.connect(faults.append)

    def refuse(_: object) -> None:
        raise Problem("It cannot be.", where="J1L", hint="Do it otherwise.")

    asker.ask("a", refuse, 1)
    asker.ask("b", lambda n: 1 / n, 0)
    asker.ask("c", lambda n: n, 7)
    qtbot.waitUntil(lambda: len(answers) == 2 and len(faults) == 1, timeout=60_000)
    assert str(answers[0].problem) == "It cannot be. Do it otherwise."
    assert answers[0].result is None
    assert isinstance(faults[0], ZeroDivisionError)
    assert answers[1].result == 7, "the thread goes on after a fault"


def test_the_last_thing_is_done_on_the_askers_own_thread(qapp) -> None:
    made, where = Asker(), []
    made.close(lambda: where.append(threading.current_thread()))
    assert where
    assert where[0] is not threading.current_thread()


def test_recent_files_are_the_latest_first_without_those_gone(tmp_path: Path) -> None:
    settings = Settings(tmp_path)
    paths = [tmp_path / f"{n}.cage" for n in range(MOST_RECENT + 3)]
    for path in paths:
        path.write_text("{}")
        settings.opened(path)
    settings.opened(paths[4])
    paths[-1].unlink()
    again = Settings(tmp_path).recent
    assert again[0] == paths[4]
    assert paths[-1] not in again
    assert len(again) == MOST_RECENT - 1
    assert len(set(again)) == len(again)


def test_settings_that_were_spoiled_by_hand_fall_back(tmp_path: Path) -> None:
    (tmp_path / "window.ini").write_text("[General]\nscale=enormous\ndark=perhaps\ngeometry=42\n")
    settings = Settings(tmp_path)
    assert (settings.scale, settings.dark, settings.geometry.isEmpty(), settings.recent) == (1.0, False, True, [])


@pytest.mark.parametrize(("least", "most", "apart"), [(0, 0.217, 28), (-2480, 330, 80), (0, 1e-6, 40), (5, 5000, 200)])
def test_ticks_are_round_inside_and_far_enough_apart(least: float, most: float, apart: float) -> None:
    scale = Scale(least, most, 40, 600)
    ticks = list(scale.ticks(apart))
    assert ticks
    places = [scale.px(t) for t in ticks]
    assert all(40 - 1e-6 <= p <= 600 + 1e-6 for p in places)
    assert all(b - a >= apart - 1e-6 for a, b in pairwise(places))
    step = ticks[1] - ticks[0] if len(ticks) > 1 else 1.0
    digits = f"{step:.0e}".split("e")[0]
    assert digits in ("1", "2", "5")


CURVE = Chart(
    Axis("x, mm", lambda x: f"{x:g}", lambda x: f"x {x:.0f}"),
    Axis("twist, °", lambda y: f"{y:g}°", lambda y: f"{y:.2f}°"),
    (
        Curve("twist", np.array([0.0, 100.0, 200.0]), np.array([0.0, 1.0, 4.0])),
        Curve("mark", np.array([0.0, 100.0]), np.array([2.0, 3.0]), ghost=True),
    ),
    (Band("softest", 100.0, 200.0),),
)


@pytest.fixture
def plot(qtbot) -> Plot:
    made = Plot("Twist")
    qtbot.addWidget(made)
    made.resize(400, 240)
    made.show_chart(CURVE)
    made.show()
    return made


def test_a_chart_is_read_under_the_pointer_on_straight_lines_between_its_points(plot: Plot, qtbot) -> None:
    assert plot.reading == ""
    across, _ = plot._scales(CURVE)
    for x, says in ((50.0, "x 50:  twist 0.50°,  mark 2.50°"), (150.0, "x 150:  twist 2.50°")):
        qtbot.mouseMove(plot, QPoint(round(across.px(x)), 100))
        assert plot.reading == CURVE.reading(plot.read_at)
        assert plot.read_at == pytest.approx(x, abs=1)
        assert CURVE.reading(x) == says
    QApplication.sendEvent(plot, QEvent(QEvent.Type.Leave))
    assert plot.reading == ""


def test_a_chart_is_read_and_copied_by_keys(plot: Plot, qtbot) -> None:
    plot.setFocus()
    qtbot.keyClick(plot, Qt.Key.Key_Right)
    first = plot.read_at
    qtbot.keyClick(plot, Qt.Key.Key_Right)
    assert plot.read_at > first > 100
    qtbot.keyClick(plot, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert QApplication.clipboard().text() == '"x, mm",twist,mark\n0,0,2\n100,1,3\n200,4,\n'
    plot.copy_picture()
    assert QApplication.clipboard().pixmap().width() == plot.grab().width()


def test_a_turned_axis_has_its_larger_values_to_the_left_and_every_tick_within_it() -> None:
    scale = Scale(210.0, -10.0, 40.0, 380.0)
    assert scale.px(200.0) < scale.px(0.0)
    assert list(scale.ticks(80)) == [0.0, 100.0, 200.0]
    assert scale.value(scale.px(137.0)) == pytest.approx(137.0)
