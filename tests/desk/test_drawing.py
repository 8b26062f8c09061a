"""Tubes drawn on the table: what a click snaps to, and what a builder reads while drawing."""

import math

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt

from ironcage.core.job import edits
from ironcage.core.job.edits import Spot
from ironcage.core.job.values.model import Job
from ironcage.desk.table.snapping import snap
from ironcage.problem import Problem
from ironcage.samples import sample


@pytest.fixture
def drawn(drive):
    """A window with two joints and a tube between them, looked at from the side, while tubes are drawn."""
    drive.start(Job())
    drive.type("joint 0 250 300")
    drive.type("joint -1000 250 300")
    drive.type("tube J1L J2L 38 x 2")
    drive.settle()
    drive.key(Qt.Key.Key_F5)
    drive.window.session.choose(())
    drive.settle()
    return drive


def pixel(drive, place) -> QPoint:
    x, y, _ = drive.window.table.camera.project(np.array([place], dtype=float))[0]
    return QPoint(round(x), round(y))


def click(drive, place) -> None:
    drive.qtbot.mouseMove(drive.window.table, pixel(drive, place))
    drive.qtbot.mouseClick(
        drive.window.table, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, pixel(drive, place)
    )
    drive.settle()


def test_tubes_go_from_joint_to_place_to_tube_by_clicks_and_each_is_one_step(drawn) -> None:
    session = drawn.window.session
    drawn.key(Qt.Key.Key_D, modifier=Qt.KeyboardModifier.ControlModifier)
    click(drawn, (0, 250, 300))
    click(drawn, (2, 250, 551))  # near to plumb over the first
    job = session.job
    assert [j.id for j in job.joints[4:]] == ["J3L", "J3R"]
    top = job.joint_by_id["J3L"]
    assert (top.x, top.y) == (0.0, 250.0)
    assert top.z == pytest.approx(550, abs=5)
    assert {t.ends for t in job.tubes} >= {("J1L", "J3L"), ("J1R", "J3R")}
    assert job.tubes[-1].section == job.tubes[0].section

    click(drawn, (-500, 250, 302))  # on the rail, near to its middle
    job = session.job
    middle = job.joint_by_id["J4L"]
    assert middle.place == pytest.approx((-500, 250, 300))
    assert any(t.ends == ("J3L", "J4L") for t in job.tubes)
    assert session.history.undo_name == "Draw a tube"
    for key in "200":
        drawn.qtbot.keyClick(drawn.window.table, key)
    assert drawn.window.table.drawing.aim is None  # the mouse is still where the last tube ended
    drawn.key(Qt.Key.Key_Escape)
    drawn.key(Qt.Key.Key_Backspace)  # takes the last one back
    assert "J4L" not in session.job.joint_by_id
    drawn.key(Qt.Key.Key_Escape)
    drawn.key(Qt.Key.Key_Escape)
    assert drawn.window.table.drawing is None


def test_an_arrow_a_length_and_enter_draw_by_keys_alone(drawn) -> None:
    session = drawn.window.session
    session.choose(("J2L",))
    drawn.type("draw")
    table = drawn.window.table
    for key in "450":
        drawn.qtbot.keyClick(table, key)
    drawn.key(Qt.Key.Key_Return)
    assert "press an arrow" in table.drawing.said  # nothing says where to
    assert len(session.job.tubes) == 2
    drawn.key(Qt.Key.Key_Up)
    for key in "450":
        drawn.qtbot.keyClick(table, key)
    assert table.drawing.aim.spot.place == pytest.approx((-1000, 250, 750))
    drawn.key(Qt.Key.Key_Return)
    drawn.settle()
    assert session.job.joint_by_id["J3L"].place == pytest.approx((-1000, 250, 750))
    drawn.key(Qt.Key.Key_Left)  # the nose is to the left
    for key in "300":
        drawn.qtbot.keyClick(table, key)
    drawn.key(Qt.Key.Key_Return)
    drawn.settle()
    assert session.job.joint_by_id["J4L"].place == pytest.approx((-700, 250, 750))


def test_what_is_drawn_snaps_and_says_to_what(drawn) -> None:
    drawn.type("line roof z 900")
    drawn.settle()
    shown, job = drawn.window.table.shown, drawn.window.session.job
    depth, last = np.array((0.0, 250.0, 300.0)), np.array((-200.0, 250.0, 420.0))

    def at(*place: float) -> QPointF:
        return QPointF(pixel(drawn, place))

    def words(*place: float, way=None) -> str:
        return snap(shown, at(*place), depth, last, way).words

    assert words(0, 250, 300).startswith("on J1")
    assert "in the middle of T1" in words(-505, 250, 300)
    assert "on the line roof" in words(-600, 250, 902)
    assert words(-203, 250, 700) == "plumb"
    assert words(-650, 250, 423) == "straight along the car"
    way = np.array((1.0, 0.0, 1.0))
    square = snap(shown, at(-400, 250, 622), depth, last, way)
    assert square.words == "square to the tube before"
    x, _, z = np.array(square.spot.place) - last
    assert math.isclose(x + z, 0.0, abs_tol=1e-6)
    round_place = snap(shown, at(-613, 250, 777), depth, last)
    assert round_place.words == ""
    assert all(v % 5 == 0 for v in round_place.spot.place)
    assert job is drawn.window.session.job


def test_what_cannot_be_drawn_is_refused_and_nothing_is_lost(drawn) -> None:
    job = drawn.window.session.job
    drawn.key(Qt.Key.Key_D, modifier=Qt.KeyboardModifier.ControlModifier)
    click(drawn, (0, 250, 300))
    click(drawn, (0, 250, 300))
    assert "needs two places" in drawn.said
    click(drawn, (-1000, 250, 300))
    assert "already joins" in drawn.said
    assert drawn.window.session.job is job
    drawn.start(Job())
    assert drawn.window.table.drawing is None


def test_a_line_between_two_places_of_the_sandpiper_is_laid_on_both_sides() -> None:
    job = sample("sandpiper")
    tube = next(t for t in job.tubes if t.id.endswith("L"))
    made = edits.draw(job, Spot(job.joint_by_id[tube.a].place, joint=tube.a), Spot((100.0, 700.0, 900.0)))
    assert len(made.job.tubes) == len(job.tubes) + 2
    assert made.job.joint_by_id[made.stop].twin
    assert made.job.tube_by_id[made.tube].section == job.tubes[-1].section
    with pytest.raises(Problem, match="Both places are on"):
        edits.draw(job, Spot((0, 0, 0), tube=tube.id, share=0.3), Spot((0, 0, 0), tube=tube.id, share=0.6))


def test_what_is_chosen_and_the_table_go_on_the_clipboard(drawn, qapp) -> None:
    board = qapp.clipboard()
    session = drawn.window.session
    session.choose(("J1L", "J2L"))
    drawn.key(Qt.Key.Key_C, modifier=Qt.KeyboardModifier.ControlModifier)
    assert board.text().splitlines() == ['what,name,"x, mm","y, mm","z, mm"', *board.text().splitlines()[1:]]
    assert [line.split(",")[0::2][:1] for line in board.text().splitlines()[1:]] == [["J1L"], ["J2L"]]
    assert board.text().splitlines()[1].endswith(",0.0,250.0,300.0")
    session.choose(("T1L",))
    drawn.key(Qt.Key.Key_C, modifier=Qt.KeyboardModifier.ControlModifier)
    assert board.text().splitlines()[1].endswith(",J1L,J2L,38 x 2,1000.0")
    session.choose(())
    drawn.key(Qt.Key.Key_C, modifier=Qt.KeyboardModifier.ControlModifier)
    assert drawn.said == "Choose what to copy first."
    drawn.key(Qt.Key.Key_C, modifier=Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert board.pixmap().width() == drawn.window.table.width()
