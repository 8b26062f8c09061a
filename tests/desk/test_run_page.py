"""Run at the window: points typed, the wheel moved by the sliders, figures and curves read."""

import math
import re
from pathlib import Path

import pytest
from PyQt6.QtCore import QItemSelectionModel, QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from ironcage.core.answers.run import swept_bodies
from ironcage.core.job.store.file import read
from ironcage.core.job.values.model import Job
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.plot import Plot
from ironcage.samples import sample
from tests.core.answers.run.test_fork import FRAME
from tests.core.lines import typed
from tests.desk.conftest import Driver
from tests.desk.test_drawing import pixel
from tests.desk.test_pages import retype
from tests.desk.test_true_page import cells


@pytest.fixture
def page(drive, sandpiper: Job):
    drive.start(sandpiper)
    drive.key(Qt.Key.Key_3)
    drive.settle()
    return drive.window.pages["run"]


def row(page, name: str) -> int:
    return next(n for n, r in enumerate(page.points.model.rows) if r.name == name)


def figure(page, name: str) -> list[str]:
    n = next(n for n, r in enumerate(page.reads.model.rows) if r.name == name)
    return cells(page.reads, n)


def worked(drive: Driver) -> None:
    """Wait until slow work has ended."""
    for _ in range(400):
        drive.settle()
        if drive.window.strip.worker is None:
            break
    drive.settle()


def test_figures_at_ride_height_and_with_the_wheel_up(drive, page) -> None:
    assert cells(page.points, row(page, "lower ball joint")) == ["lower ball joint", "6.0, 585.0, 170.0"]
    assert figure(page, "camber") == ["camber", "-0.80°", "+0.00°"]
    assert "0.0 mm up, rack 0.0 mm left, steer 0.0° left" in drive.read()
    page.travel.setFocus()
    drive.key(Qt.Key.Key_End, page.travel)
    drive.settle()
    assert "50.0 mm up" in drive.read()
    assert figure(page, "camber")[1] == "-2.04°"
    assert figure(page, "camber")[2] == "−1.24°"
    assert "camber -2.04°" in page.cards()[0].title + " " + page.cards()[0].number


def test_a_point_typed_in_its_cell_moves_the_curve_and_the_mark_stays_behind(drive, page) -> None:
    retype(drive, page.points, row(page, "upper ball joint"), "x, y, z or value, mm", "-22, 530, 440")
    drive.settle()
    assert figure(page, "camber")[1] == "-0.80°"  # as set: the points are where it stands
    chart = page.findChild(Plot).chart
    assert [c.ghost for c in chart.curves] == [True, False]
    retype(drive, page.points, row(page, "lower arm, front"), "x, y, z or value, mm", "1, 2, 3")
    assert "J4L (front lower pickup 1, left) is a joint of the frame" in page.points.refusal.text()
    drive.key(Qt.Key.Key_Escape, page.points.list)


def test_points_are_dragged_and_pointed_at_on_the_table(drive, page, monkeypatch: pytest.MonkeyPatch) -> None:
    table, left = drive.window.table, Qt.MouseButton.LeftButton
    drive.key(Qt.Key.Key_F5)  # from the side
    drive.settle()
    start = pixel(drive, (-22, 530, 460))
    drive.qtbot.mousePress(table, left, pos=start)
    drive.qtbot.mouseMove(table, start + QPoint(0, -20))
    drive.settle()
    assert figure(page, "caster")[1] != "5.51°"  # figures follow before it is let go
    drive.qtbot.mouseRelease(table, left, pos=start + QPoint(0, -20))
    drive.settle()
    moved = cells(page.points, row(page, "upper ball joint"))[1]
    x, y, z = map(float, moved.split(", "))
    assert (x, y) == (-22.0, 530.0)
    assert z == pytest.approx(460 + 20 * table.camera.mm_per_px, abs=6)
    assert z % 5 == 0  # a round reading
    drive.key(Qt.Key.Key_Z, modifier=Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert cells(page.points, row(page, "upper ball joint"))[1] == "-22.0, 530.0, 460.0"

    drive.qtbot.mouseClick(table, left, pos=pixel(drive, (-97, 571, 270)))  # a click picks its row
    assert page.points.picked.name == "tie rod, outer"
    drive.press("Point at it…")
    drive.qtbot.mouseClick(table, left, pos=drive.spot("J9L"))
    drive.settle()
    assert cells(page.points, row(page, "tie rod, outer"))[1] == "-150.0, 230.0, 490.0"
    drive.key(Qt.Key.Key_Z, modifier=Qt.KeyboardModifier.ControlModifier)
    drive.window.session.choose(("J4L",))
    drive.settle()
    said: list[str] = []
    monkeypatch.setattr(Brush, "label", lambda _brush, _x, _y, text, *_, **__: said.append(text))
    drive.press("Point at it…")
    table.grab()
    assert any("Enter takes J4L." in words for words in said)
    monkeypatch.undo()
    drive.key(Qt.Key.Key_Return)  # by keys: the chosen joint
    drive.settle()
    assert cells(page.points, row(page, "tie rod, outer"))[1] == "150.0, 192.5, 230.0"
    drive.press("Point at it…")
    drive.key(Qt.Key.Key_Escape)
    drive.qtbot.mouseClick(table, left, pos=drive.spot("J9L"))
    drive.settle()
    assert cells(page.points, row(page, "tie rod, outer"))[1] == "150.0, 192.5, 230.0"

    page.points.pick(page.points.model.rows[row(page, "lower arm, front")])
    drive.press("Point at it…")
    assert "J4L is a joint of the frame: drag it on the table" in drive.said
    page.travel.setValue(50)
    drive.settle()
    assert not table.decor.handles  # elsewhere than at ride height its place is not the one that is typed
    drive.press("Effects")
    assert not page.pointing.isVisible()


def test_a_fork_is_hung_from_the_menu_and_read_as_it_turns(drive: Driver) -> None:
    drive.start(typed(Job(), *FRAME))
    drive.key(Qt.Key.Key_3)
    drive.settle()
    page = drive.window.page
    drive.window.session.choose(("J1", "J2"))
    drive.from_menu(page.hanging, "A single wheel in a fork")
    assert drive.window.entry.line.text() == "fork front head J1 J2"
    drive.key(Qt.Key.Key_Return, drive.window.entry.line)
    drive.settle()
    assert figure(page, "head angle")[1] == "12.99°"
    assert not page.pointing.isEnabled()  # no point of it is anything but a joint
    page.rack.setFocus()
    drive.key(Qt.Key.Key_End, page.rack)
    drive.settle()
    assert "turned 34.4° to the left" in drive.read()
    assert figure(page, "wheel leans")[2].startswith("+")
    page.reads.list.selectRow(next(n for n, r in enumerate(page.reads.model.rows) if r.name == "turning circle"))
    assert page.findChild(Plot).chart.across.name == "fork to the left, °"
    drive.press("Effects")
    drive.settle()
    assert cells(page.effects.list, 0)[0] == "head, upper bearing J1"
    page.rack.setValue(0)
    drive.settle()
    assert cells(page.effects.list, 0)[1:] == ["–", "–", "–"]  # no circle straight ahead
    retype(drive, page.points, row(page, "travel up"), "x, y, z or value, mm", "80")
    drive.settle()
    assert drive.window.session.job.forks[0].up == 80


def test_an_axle_is_set_for_its_chain_by_the_slider(drive, page) -> None:
    drive.press("Rear")
    drive.settle()
    drive.press("Take out")
    drive.settle()
    drive.from_menu(page.hanging, "An axle that slides for its chain")
    assert drive.window.entry.line.text() == "carrier rear slide -1 0 0"
    drive.key(Qt.Key.Key_Return, drive.window.entry.line)
    drive.settle()
    assert "68 links: tight set 3.9 mm forth, worn to the limit set 4.6 mm back." in drive.read()
    assert "69 links (with a half link)" in drive.read()
    assert "? 70 links: tight set 12.7 mm back, worn to the limit set 21.4 mm back." in drive.read()
    page.travel.setFocus()
    drive.key(Qt.Key.Key_End, page.travel)
    drive.settle()
    assert "Set 20.0 mm back" in drive.read()
    assert figure(page, "wheelbase change")[1] == "-20.00 mm"
    assert page.findChild(Plot).chart.across.name == "set back, mm"
    drive.press("As it stands")
    drive.settle()
    assert "As it stands" in drive.read()
    drive.window.session.choose((drive.window.session.job.chains[0].id,))
    drive.type("delete")
    drive.settle()
    assert "No chain drives this axle yet: lay one in Place" in drive.read()


def test_a_pickup_that_slides_along_its_own_axis_is_proved_to_move_its_wheel_alike(drive, page) -> None:
    proof = "✓ The pickups were moved, and the wheel moves as at the mark, to 0.001 mm and 0.001°."
    drive.settle()
    assert proof not in drive.read()
    drive.window.session.choose(("J8L",))
    drive.type("slide 20")
    drive.settle()
    assert proof in drive.read()
    drive.type("z+3")
    drive.settle()
    assert proof not in drive.read()


def test_links_tell_what_their_worst_case_takes_of_them(drive: Driver) -> None:
    drive.start(sample("fell-litter"))
    drive.key(Qt.Key.Key_3)
    drive.settle()
    page = drive.window.page
    drive.press("Links")
    drive.settle()
    assert cells(page.links.list, 0)[:2] == ["lower link", "16%"]
    assert "lower link: pushed with 7.66 kN (acceleration), 16% of its 28 x 2 round." in drive.read()
    drive.type("axle rear link 12")
    drive.settle()
    assert page.links.list.model.wrong >= {"lower link"}
    assert re.search(r"lower link: pushed with 7.66 kN \(acceleration\), \d{3}% of its 12 x 2 round.", drive.read())


def test_holes_are_rows_of_their_own(drive, page) -> None:
    drive.type("corner front hole 4, 470, 188")
    drive.type("corner front hole 4, 470, 206")
    drive.type("corner front top hole -150, 230, 478")
    drive.settle()
    rows = [n for n, r in enumerate(page.points.model.rows) if "another hole" in r.name]
    assert [cells(page.points, n)[1] for n in rows] == [
        "4.0, 470.0, 188.0",
        "4.0, 470.0, 206.0",
        "-150.0, 230.0, 478.0",
    ]
    page.points.pick(page.points.model.rows[rows[1]])
    assert page.points.picked.shown == "4.0, 470.0, 206.0"
    assert "Top hole at -150.0, 230.0, 478.0:" in drive.read()


def test_the_room_that_a_tyre_takes_is_told_beside_the_leans(drive, page) -> None:
    drive.press("Lean")
    drive.settle()
    told = re.search(r"The front left tyre takes ([\d.]+) mm ahead and ([\d.]+) mm behind its axle", drive.read())
    assert told, drive.read()
    body = next(b for b in swept_bodies(drive.window.session.job) if b.name == "front left tyre")
    reach = [float(s.points[:, 0].max()) for s in body.solids]
    assert max(reach) <= float(told[1]) <= max(reach) + 285  # within a radius of the discs' middles


def test_another_figure_is_drawn_when_its_row_is_picked(drive, page) -> None:
    page.reads.list.selectRow(next(n for n, r in enumerate(page.reads.model.rows) if r.name == "motion ratio"))
    assert page.findChild(Plot).chart.up.name == "motion ratio"


def test_links_that_lock_are_told_on_the_page(drive, page) -> None:
    drive.type("corner front tie in -97, 420, 290")
    drive.type("corner front up 400")
    drive.settle()
    assert re.search(r"✗ The links lock at [\d.]+ mm up, held by the tie rod.", drive.read())
    page.travel.setValue(100)
    drive.settle()
    assert "of travel: the links do not reach." in drive.read()
    assert figure(page, "camber")[1] == "–"


def test_an_axle_that_hangs_on_nothing_says_what_to_do(drive, page) -> None:
    drive.press("Rear")
    drive.settle()
    drive.press("Take out")
    drive.settle()
    assert "The rear axle has no wishbones yet. Type for example: corner rear lower" in drive.read()
    drive.window.session.choose(("J26L", "J29L", "J27L", "J28L", "J27L"))
    drive.from_menu(page.hanging, "On wishbones")
    assert drive.window.entry.line.text().startswith("corner rear lower ")


def test_both_wheels_of_a_steered_axle_are_told(drive, page) -> None:
    page.rack.setValue(100)
    drive.settle()
    said = drive.read()
    found = re.search(r"Inner wheel ([\d.]+)°, outer ([\d.]+)°: Ackermann (-?\d+) %, turning circle ([\d.]+) m", said)
    assert found, said
    inner, outer, ackermann, circle = map(float, found.groups())
    assert (inner - outer) * ackermann > 0  # this rack steers the outer wheel more: less than none of it
    assert circle == pytest.approx(2 * 2.3 / math.sin(math.radians(outer)), rel=0.01)  # of a wheelbase of 2.3 m
    page.rack.setValue(0)
    drive.settle()
    assert "Ackermann" not in drive.read()


def test_run_opens_on_the_end_that_is_hung(drive: Driver) -> None:
    drive.start(sample("fell-litter"))
    drive.key(Qt.Key.Key_3)
    drive.settle()
    page = drive.window.page
    assert cells(page.points, row(page, "lower link, frame"))[0] == "lower link, frame J5L"
    assert figure(page, "roll steer")
    drive.press("Front")
    drive.settle()
    assert "The front axle has no wishbones yet" in drive.read()


def test_a_live_axle_is_hung_moved_and_cured_from_the_screen(drive: Driver) -> None:
    drive.start(sample("fell-litter")).window.go("run")
    drive.press("Rear")
    drive.settle()
    page = drive.window.page
    assert figure(page, "shift")[1] == "0.00 mm"
    page.travel.setValue(100)
    drive.settle()
    assert "60.0 mm up, level from side to side" in drive.read()
    assert figure(page, "shift")[1] == "20.34 mm"
    page.rack.setValue(100)
    drive.settle()
    assert "4.0° of roll, left wheel up" in drive.read()
    drive.type("joint -2160 330 330")
    drive.type("axle rear lower J5L upper J6L rod J25R")
    page.rack.setValue(0)
    drive.settle()
    assert figure(page, "shift")[1] == "-2.99 mm"
    drive.press("Take out")
    drive.settle()
    drive.window.session.choose(("J5L", "J6L", "J25R"))
    drive.from_menu(page.hanging, "On a live axle with four links")
    assert drive.window.entry.line.text() == "axle rear lower J5L upper J6L rod J25R"
    drive.key(Qt.Key.Key_Return, drive.window.entry.line)
    drive.settle()
    assert figure(page, "roll centre")[0] == "roll centre"
    drive.window.session.choose(("J5L", "J7L"))
    drive.from_menu(page.hanging, "On leaf springs")
    assert drive.window.entry.line.text() == "axle rear leaf eyes J5L J7L"
    drive.key(Qt.Key.Key_Return, drive.window.entry.line)
    drive.settle()
    assert cells(page.points, row(page, "leaf, shackle")) == ["leaf, shackle J7L", "-2350.0, 330.0, 560.0"]
    drive.type("axle rear leaf wide 60 thick 7 stepped 4 shackle 120")
    retype(drive, page.points, row(page, "leaf, seat"), "x, y, z or value, mm", "-1980, 330, 330")
    drive.settle()
    assert "Leaf springs: " in drive.read()
    page.travel.setValue(100)
    drive.settle()
    assert figure(page, "shift")[1] == "0.00 mm"
    assert figure(page, "wheelbase change")[1].startswith("-")
    drive.window.session.choose(("J5L", "J7R"))
    drive.from_menu(page.hanging, "On ladder bars")
    drive.key(Qt.Key.Key_Return, drive.window.entry.line)
    drive.settle()
    assert cells(page.points, row(page, "ladder bar, frame"))[0] == "ladder bar, frame J5L"


def test_springs_are_typed_in_cells_and_tell_loads_rates_and_what_is_left(drive, page) -> None:
    assert cells(page.points, row(page, "spring's rate")) == ["spring's rate", "60.0 N/mm"]
    assert figure(page, "ride frequency") == ["ride frequency", "1.73 Hz", "+0.00 Hz"]
    assert "Roll stiffness 181 N·m/deg. Springs of 44.0 N/mm for 1.5 Hz" in drive.read()
    retype(drive, page.points, row(page, "spring's rate"), "x, y, z or value, mm", "81.9")
    drive.settle()
    assert figure(page, "ride frequency")[1] == "2.00 Hz"
    page.travel.setFocus()
    drive.key(Qt.Key.Key_End, page.travel)
    drive.settle()
    assert figure(page, "to solid") == ["to solid", "-5.2 mm", "−21.9 mm"]
    page.reads.list.selectRow(next(n for n, r in enumerate(page.reads.model.rows) if r.name == "wheel load"))
    chart = page.findChild(Plot).chart
    assert chart.up.name.startswith("wheel load, ")
    assert [c.ghost for c in chart.curves] == [True, False]

    drive.type("corner front spring out 4, 470, 188")
    drive.settle()
    assert figure(page, "to solid")[1] == "3.9 mm"
    retype(drive, page.points, row(page, "coils touching, length"), "x, y, z or value, mm", "200")
    assert "200.0 mm long with its coils touching" in page.points.refusal.text()
    drive.key(Qt.Key.Key_Escape, page.points.list)


def test_an_end_without_known_springs_lists_none_of_their_figures(drive, page) -> None:
    for name in ("rate", "free", "solid", "open", "closed", "stop", "unsprung"):
        drive.type(f"corner front {name} 0")
    drive.settle()
    assert "ride frequency" not in [r.name for r in page.reads.model.rows]
    assert "camber" in [r.name for r in page.reads.model.rows]
    assert "Roll stiffness" not in drive.read()


def test_a_beam_is_hung_from_the_menu_steered_by_the_slider_and_told_over_its_steering(drive) -> None:
    window = drive.start(sample("skerry")).window
    drive.key(Qt.Key.Key_3)
    drive.settle()
    page = window.pages["run"]
    assert cells(page.points, row(page, "steering arm's end")) == ["steering arm's end", "-85.0, 440.0, 165.0"]
    assert not page.travel.isVisible()
    drive.key(Qt.Key.Key_End, page.rack)
    drive.settle()
    assert "drop arm 45.0° to the left" in drive.read()
    assert figure(page, "left wheel steers")[:2] == ["left wheel steers", "26.94°"]
    assert figure(page, "Ackermann") == ["Ackermann", "-7 %", ""]
    retype(drive, page.points, row(page, "steering arm's end"), "x, y, z or value, mm", "-85, 380, 165")
    drive.settle()
    assert figure(page, "Ackermann")[1] == "98 %"
    page.reads.list.selectRow(next(n for n, r in enumerate(page.reads.model.rows) if r.name == "turning circle"))
    chart = page.findChild(Plot).chart
    assert (chart.across.name, chart.up.name) == ("drop arm to the left, °", "turning circle, mm")
    assert [c.ghost for c in chart.curves] == [True, False]

    drive.press("Take out")
    drive.settle()
    assert not page.points.model.rows
    drive.from_menu(page.hanging, "On a beam with kingpins")
    drive.settle()
    assert cells(page.points, row(page, "drop arm's pivot"))[1] == "none: a rack"
    retype(drive, page.points, row(page, "kingpin, upper end"), "x, y, z or value, mm", "0, 380, 10")
    assert "would be upside down" in page.points.refusal.text()
    drive.key(Qt.Key.Key_Escape, page.points.list)


def test_arms_are_hung_from_the_menu_and_told_over_their_travel(drive, page) -> None:
    window = drive.window
    drive.qtbot.mouseClick(page.axle.button(1), Qt.MouseButton.LeftButton)
    drive.settle()
    assert cells(page.points, row(page, "axis, one end"))[0] == "axis, one end J25L"
    drive.press("Take out")
    drive.settle()
    assert "a beam and arms, too" in page.points.nothing.text()
    window.session.choose(("J25L", "J25R"))
    drive.from_menu(page.hanging, "On swinging arms")
    assert window.entry.line.text() == "arm rear axis J25L J25R"
    drive.key(Qt.Key.Key_Return, window.entry.line)
    drive.settle()
    assert cells(page.points, row(page, "axis, one end"))[0] == "axis, one end J25L"
    assert not page.rack.isEnabled()
    page.travel.setFocus()
    drive.key(Qt.Key.Key_End, page.travel)
    drive.settle()
    assert "60.0 mm up" in drive.read()
    assert figure(page, "roll centre") == ["roll centre", "–", ""]
    near = figure(page, "sprockets apart")
    assert near[2].startswith("−")
    drive.type("arm rear spring J30L")
    retype(drive, page.points, row(page, "spring's rate"), "x, y, z or value, mm", "40")
    drive.settle()
    assert figure(page, "wheel rate")[1].endswith(" N/mm")
    page.reads.list.selectRow(next(n for n, r in enumerate(page.reads.model.rows) if r.name == "sprockets apart"))
    assert page.findChild(Plot).chart.up.name == "sprockets apart, mm"


def test_effects_tell_what_moving_each_point_does_to_the_figure_that_is_picked(drive, page) -> None:
    page.reads.list.selectRow(next(n for n, r in enumerate(page.reads.model.rows) if r.name == "toe in"))
    page.travel.setFocus()
    drive.key(Qt.Key.Key_End, page.travel)
    drive.press("Effects")
    drive.settle()
    assert page.effects.isVisible()
    assert not page.points.isVisible()
    told = {r.point: cells(page.effects.list, n)[1:] for n, r in enumerate(page.effects.list.model.rows)}
    assert told["tie rod, inner"] == ["+0.004", "+0.005", "+0.084"]
    assert told["coil-over, top"] == ["0.000", "0.000", "0.000"]
    before = figure(page, "toe in")[1]
    drive.type("corner front tie in -97, 208, 323")  # 5 higher: 5 × 0.084 more toe in at full travel
    drive.settle()
    assert float(figure(page, "toe in")[1][:-1]) == pytest.approx(float(before[:-1]) + 5 * 0.084, abs=0.02)
    drive.press("Points")
    assert page.points.isVisible()


def test_bands_are_typed_drawn_and_met_by_moving_the_picked_points(drive, page) -> None:
    window = drive.window
    drive.press("Band…")
    assert window.entry.line.text() == "band front camber -1 to 1"
    drive.type("band front camber -1.5 to 0.5")
    drive.type("band front toe in -0.05 to 0.05")
    drive.settle()
    rows = [cells(page.reads, n)[0] for n in range(2)]
    assert rows == ["camber: -1.5° to 0.5°", "toe in: -0.05° to 0.05°"]
    assert page.reads.model.wrong == {"camber", "toe in"}
    (strip,) = page.plot.chart.strips
    assert strip.name == "-1.5° to 0.5°"
    assert (strip.low, strip.high) == pytest.approx((-1.5, 0.5))
    drive.press("Effects")
    drive.settle()
    drive.press("Meet the bands")
    worked(drive)
    assert "No point that may move is picked" in window.entry.said.text()
    rows = page.effects.list.model.rows
    for n, effect in enumerate(rows):
        if effect.point in ("tie rod, inner", "tie rod, outer", "upper ball joint", "lower ball joint"):
            page.effects.list.list.selectionModel().select(
                page.effects.list.model.index(n, 0),
                QItemSelectionModel.SelectionFlag.Select | QItemSelectionModel.SelectionFlag.Rows,
            )
    page.effects.box.selectAll()
    QTest.keyClicks(page.effects.box, "15")
    before = window.session.job
    drive.key(Qt.Key.Key_Return, page.effects.box)
    worked(drive)
    assert "All bands are kept." in window.entry.said.text()
    assert "tie rod, inner" in window.entry.said.text()
    assert page.reads.model.wrong == frozenset()
    drive.key(Qt.Key.Key_Z, window.table, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert window.session.job.wishbones == before.wishbones


def test_links_tell_tubes_and_tilts_and_an_arm_is_written_as_its_own_job(
    drive, page, answer_dialog, tmp_path: Path
) -> None:
    window = drive.window
    drive.press("Links")
    drive.settle()
    assert "Type what your rod ends are" in drive.read()
    links = page.links.list
    assert links.model.rows[0].name == "tie rod"
    drive.press("Rod ends…")
    assert window.entry.line.text().startswith("corner front eye thread 12 shank 54")
    drive.type("corner front eye thread 10 shank 48 start 20 nut 5 lip 4 engaged 22 head 29 housing 10.5 ball 14")
    drive.settle()
    assert cells(links, 0) == ["tie rod", "2%", "366.2", "9.5° / 8.9°", "306.2", "364.2 to 380.2"]
    assert links.model.wrong == {"tie rod"}
    told = "tie rod, inner end: tilts 9.5°, can 7.1°: a spacer of 0.56 mm on either side lets it. 1 more."
    assert told in drive.read()
    out = tmp_path / "arm.cage"
    answer_dialog(str(out))
    next(a for a in page.links.arms if "lower" in a.text()).trigger()
    worked(drive)
    assert read(out).brief.name == "Sandpiper, front lower arm"
    drive.press("Rear")
    drive.settle()
    assert "This end hangs on no links." in drive.read()
    assert not any(a.isEnabled() for a in page.links.arms)


def test_leaf_springs_are_typed_in_a_cell_and_told_under_the_curve(drive: Driver) -> None:
    drive.start(sample("skerry"))
    drive.key(Qt.Key.Key_3)
    drive.type("beam front leaf front 300 rear 330 wide 40 thick 5 stepped 2 arch 45 shackle 60 lean 5 base 420")
    drive.settle()
    page = drive.window.pages["run"]
    assert "Leaf springs: 38.6 N/mm a wheel" in page.told.text()
    assert "Shackles lean 5°; -24° down, 13° up." in page.told.text()
    at = row(page, "leaf, thickness")
    retype(drive, page.points, at, "x, y, z or value, mm", "6")
    drive.settle()
    assert cells(page.points, at)[1] == "6.0 mm"
    assert "Leaf springs: 66.7 N/mm a wheel" in page.told.text()


def test_leans_are_listed_for_both_ends_and_the_car_is_told_when_all_is_known(drive, page) -> None:
    drive.press("Lean")
    drive.settle()
    listed = page.leans.list
    rows = {cells(listed, n)[0]: cells(listed, n) for n in range(listed.model.rowCount())}
    assert len(rows) == 9
    assert rows["0.0°"][1:4] == ["-0.8 / -0.8", "149.1", "0.0"]
    leaning = [[float(v) for v in rows[f"4.0° {side}"][1].split(" / ")] for side in ("left", "right")]
    assert leaning[0] == leaning[1][::-1]
    assert leaning[0][0] > 1.5 > -3 > leaning[0][1]  # the wheel that is pressed up leans out, the other in
    assert "Lean for each g: both ends’ springs and weights are needed." in drive.read()
    assert "Over the ground 197.5 mm (T1L); front and rear at full travel up, 150.2 mm (T6L)." in drive.read()
    drive.press("Rear")
    drive.settle()
    assert "can’t lean against the car" in listed.nothing.text()


def test_frame_shows_the_room_that_wheels_take_until_it_is_told_not_to(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.key(Qt.Key.Key_4)
    drive.settle()
    page = drive.window.pages["frame"]
    more = next(b for b in page.findChildren(QPushButton) if b.text() == "More")
    assert page.decor.bodies == ()
    drive.from_menu(more, "Keep clear")
    drive.settle()
    assert {"W1", "front left tie rod"} <= {b.id for b in page.decor.bodies}
    drive.from_menu(more, "Keep clear")
    drive.settle()
    assert page.decor.bodies == ()
