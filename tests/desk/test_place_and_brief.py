"""Brief and Place through the window: typed, picked, dragged, and read."""

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QInputDialog

from ironcage.core.answers.place import people
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from tests.core.meshes import ball_corners, write_stl


def rows(grid) -> list[str]:
    """What a person reads in a list, row by row."""
    model = grid.model
    return [" | ".join(model.columns[c].text(r) for c in range(model.columnCount())) for r in model.rows]


def cell(drive, grid, key: str, head: str, text: str) -> None:
    """Type into a cell, as a double click and Enter do."""
    column = next(n for n, c in enumerate(grid.model.columns) if c.name == head)
    row = next(n for n, r in enumerate(grid.model.rows) if grid.key(r) == key)
    index = grid.model.index(row, column)
    grid.list.setCurrentIndex(index)
    grid.list.edit(index)
    editor = grid.list.indexWidget(index) or grid.list.focusWidget()
    editor.selectAll()
    drive.qtbot.keyClicks(editor, text)
    drive.qtbot.keyClick(editor, Qt.Key.Key_Return)
    drive.settle()


def test_limbs_typed_knees_foul_pedals_moved_knees_clear(drive, sandpiper: Job) -> None:
    """The day's job: measure the driver, see that he does not fit, move the pedals by typing, see that he does."""
    drive.start(sandpiper)
    drive.qtbot.keyClick(drive.window.table, Qt.Key.Key_2)
    drive.settle()
    page = drive.window.page
    drive.window.session.choose(("D32",))
    cell(drive, page.card, "thigh", "value", "480")
    cell(drive, page.card, "lower leg", "value", "470")
    knee = next(r for r in rows(page.people) if r.startswith("Bryn: knee to wheel"))
    assert "| -" in knee
    assert any("overlap" in r and "Steering wheel" in r and "thigh" in r for r in rows(page.clashes))
    drive.window.session.choose(("D32",))
    drive.type("set pedals x+90")
    drive.settle()
    assert drive.said == "Set pedals of D32 (Pedals with it)."
    knee = next(r for r in rows(page.people) if r.startswith("Bryn: knee to wheel"))
    assert "| -" not in knee
    assert not any("Steering wheel" in r and "thigh" in r and "clear" not in r for r in rows(page.clashes))
    told = people.people_seated(drive.window.session.job)[0].reading("knee to wheel").value
    assert f"{told:.1f} mm to Steering wheel" in knee
    drive.key(Qt.Key.Key_Z, modifier=Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert "| -" in next(r for r in rows(page.people) if r.startswith("Bryn: knee to wheel"))


def test_a_chain_that_fouls_a_diagonal_is_seen_and_mended(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.window.go("place")
    drive.settle()
    page = drive.window.page
    assert drive.tally("clashes").startswith("3")
    assert rows(page.clashes)[0].startswith("✗ overlap | -15.1 | Final drive | T68L | driven wheel at droop | 12.0")
    assert any(r.startswith("✗ trapped by | -18.5 | Battery | T62L") for r in rows(page.clashes))
    page.clashes.list.selectRow(0)
    assert drive.window.session.chosen == ("C34", "T68L")
    assert any("out of line" in r for r in rows(page.drives))
    assert any(r.startswith("Final drive: mend | right block 2.23 mm forward") for r in rows(page.drives))
    drive.window.session.choose(("C34",))
    for line in ("set down 0", "set driven yaw 0", "set driven teeth 36"):
        drive.type(line)
    drive.settle()
    assert not any("Final drive" in r and "T68L" in r and "overlap" in r for r in rows(page.clashes))
    assert not any("out of line" in r for r in rows(page.drives))


def test_a_part_is_picked_dragged_nudged_and_removed_on_the_table(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.window.go("place")
    drive.settle()
    drive.window.table.turn_to("side")
    drive.settle()
    table = drive.window.table
    engine = edits.find_part(sandpiper, "Engine, transverse triple")
    x, y, _ = table.camera.project([[engine.x, engine.y, engine.z + 150]])[0]
    spot = QPoint(round(x), round(y))
    drive.qtbot.mouseClick(table, Qt.MouseButton.LeftButton, pos=spot)
    assert drive.window.session.chosen == (engine.id,)
    drive.key(Qt.Key.Key_PageUp)
    drive.settle()
    assert drive.window.session.job.placed[engine.id].z == engine.z + 5
    drive.qtbot.mousePress(table, Qt.MouseButton.LeftButton, pos=spot)
    drive.qtbot.mouseMove(table, spot + QPoint(20, 0))
    drive.qtbot.mouseRelease(table, Qt.MouseButton.LeftButton, pos=spot + QPoint(40, 0))
    drive.settle()
    moved = drive.window.session.job.placed[engine.id]
    assert moved.x != engine.x
    assert moved.y == engine.y
    drive.key(Qt.Key.Key_Delete)
    drive.settle()
    assert engine.id not in drive.window.session.job.placed
    assert not any("Engine" in r for r in rows(drive.window.page.things))


def test_the_first_part_of_an_empty_job(drive) -> None:
    drive.window.go("place")
    drive.settle()
    assert "Nothing is placed yet" in drive.read()
    drive.window.page.typing.emit("place tank 14 at -1500 0 330")
    drive.qtbot.keyClick(drive.window.entry.line, Qt.Key.Key_Return)
    drive.settle()
    assert rows(drive.window.page.things)[0].startswith("B1 | Tank | nothing near | -1500.0 | 0.0 | 330.0 | 13.5")
    assert "Nothing is placed yet" not in drive.read()
    cell(drive, drive.window.page.things, "B1", "mass", "-4")
    assert "mass of B1" in drive.read()
    assert drive.window.session.job.parts[0].mass == 13.5


def test_aims_are_typed_met_and_dropped(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.qtbot.keyClick(drive.window.table, Qt.Key.Key_1)
    drive.settle()
    page = drive.window.page
    assert any(r.startswith("mass at most | 530.0 kg | 535.3 kg | +5.3 kg") for r in rows(page.aims))
    cell(drive, page.aims, "mass", "wanted", "540 kg")
    assert any(r.startswith("mass at most | 540.0 kg | 535.3 kg | met") for r in rows(page.aims))
    cell(drive, page.aims, "ride height", "wanted", "200")
    cell(drive, page.aims, "ride height", "give or take", "25")
    assert any(r.startswith("ride height | 200.0 mm | 220.0 mm | met | 25.0 mm") for r in rows(page.aims))
    cell(drive, page.aims, "front tyre", "wanted", "205-50")
    assert "‘205-50’ is not a tyre size" in drive.read()
    drive.qtbot.keyClick(page.aims.list.focusWidget() or page.aims.list, Qt.Key.Key_Escape)
    cell(drive, page.aims, "deadline", "wanted", "2027-01-01")
    assert str(drive.window.session.job.brief.deadline) == "2027-01-01"


def test_rules_are_added_judged_and_lead_to_the_place(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.window.go("brief")
    drive.settle()
    page = drive.window.page
    page.tabs.setCurrentIndex(1)
    failing = next(n for n, r in enumerate(rows(page.rules)) if "✗ fail" in r)
    assert rows(page.rules)[failing].startswith("R10 | ✗ fail | -15.6° | -15.6°")
    page.rules.list.selectRow(failing)
    assert "T35L" in drive.window.session.chosen
    page.kind.setCurrentText("ground clearance")
    page.kind.activated.emit(page.kind.currentIndex())
    assert drive.window.entry.line.text().startswith("rule ground clearance least 90")
    drive.qtbot.keyClick(drive.window.entry.line, Qt.Key.Key_Return)
    drive.settle()
    assert any(r.startswith("R16 | ✓ pass") for r in rows(page.rules))
    cell(drive, page.rules, "R16", "asks", "least 200")
    assert any(r.startswith("R16 | ✗ fail") for r in rows(page.rules))
    assert "2 fail" in drive.read()
    page.rules.list.selectRow(14)
    page.rules.list.setCurrentIndex(page.rules.model.index(14, 0))
    page._with_rule(lambda n: drive.window.session.press(f"tick {n}"))
    drive.settle()
    assert any(r.startswith("R15 | ✓ pass") for r in rows(page.rules))


def test_a_lower_roof_is_kept_beside_and_measured_against(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.window.go("brief")
    drive.type("variant keep As drawn: roof at 1340")
    drive.settle()
    page = drive.window.page
    drive.window.session.choose(("J18L", "J19L"))
    drive.type("z-60")
    drive.settle()
    (row,) = rows(page.variants)
    assert row.startswith("As drawn | roof at 1340 | 2300.0 mm")
    assert "N·m/deg  (+" in row
    page.variants.list.setCurrentIndex(page.variants.model.index(0, 0))
    page._with_variant(page._measure)
    drive.settle()
    assert "−" in drive.tally("torsion")
    assert "As drawn" in drive.window.route.mark.text()
    drive.type("variant open As drawn")
    drive.settle()
    assert drive.window.session.job.joints == sandpiper.joints


def test_a_scan_is_read_off_the_window_asked_for_its_unit_and_chosen(
    drive, tmp_path, monkeypatch, answer_dialog
) -> None:
    asked: list[str] = []

    def ask(parent, title, words, units, at, editable):  # what the builder is shown, and that they agree
        asked.append(words)
        return units[at], True

    monkeypatch.setattr(QInputDialog, "getItem", staticmethod(ask))
    answer_dialog(str(write_stl(tmp_path / "Pump.stl", ball_corners(0.09, 200))))
    drive.window.go("place")
    drive.window.page.bring.emit("scan")
    assert drive.window.strip.isVisible()
    drive.qtbot.waitUntil(lambda: drive.window.strip.worker is None, timeout=60_000)
    drive.settle()
    assert asked == ["What does Pump count in? Its size suggests m."]
    assert rows(drive.window.page.things)[0].startswith("B1 | Pump | nothing near | -1000.0")
    assert drive.window.session.chosen == ("B1",)
    assert "Pose it with three points" in drive.said
    drive.window.table.turn_to("side")
    drive.settle()
    table, pump = drive.window.table, drive.window.session.job.parts[0]
    u, v, _ = table.camera.project([[pump.x, 0.0, pump.z + 20]])[0]
    drive.qtbot.mouseDClick(table, Qt.MouseButton.LeftButton, pos=QPoint(round(u), round(v)))
    at = drive.window.entry.line.text().removeprefix("fit hole 1 at ").split(" within")[0].split(", ")
    off = [float(t) - p for t, p in zip(at, (pump.x, pump.y, pump.z), strict=True)]
    assert abs(sum(d * d for d in off) ** 0.5 - 90) < 1.5  # on the ball's own surface, on the near side
    assert off[1] > 80
    answer_dialog(str(tmp_path / "none.stl"))
    drive.window.page.bring.emit("scan")
    drive.qtbot.waitUntil(lambda: drive.window.strip.worker is None, timeout=60_000)
    assert "There is no file" in drive.said
    assert "none.stl" in drive.said


def test_reading_a_scan_is_stopped_and_nothing_comes_of_it(drive, tmp_path, answer_dialog) -> None:
    answer_dialog(str(write_stl(tmp_path / "Large.stl", ball_corners(90, 500))))
    drive.window.go("place")
    drive.window.page.bring.emit("scan")
    drive.window.strip.button.click()
    drive.qtbot.waitUntil(lambda: drive.window.strip.worker is None, timeout=60_000)
    assert drive.said == "Stopped: nothing came of Large.stl."
    assert not drive.window.session.job.parts


def test_cards_page_through_the_limbs_of_whoever_is_chosen(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.window.go("place")
    drive.settle()
    drive.window.session.choose(("D32",))
    drive.key(Qt.Key.Key_F11)
    card = drive.window.card
    seen = []
    for _ in range(20):
        seen.append((card.title.text(), card.number.text()))
        assert card.picture.isVisible()
        drive.qtbot.keyClick(card, Qt.Key.Key_Space)
    assert ("Bryn: thigh", "436.1 mm") in seen
    assert len(set(seen)) == 11
    drive.qtbot.keyClick(card, Qt.Key.Key_Escape)


def test_a_bolt_pattern_and_a_line_are_typed_read_and_written(drive, sandpiper: Job, tmp_path, answer_dialog) -> None:
    drive.start(sandpiper)
    drive.window.go("place")
    for line in ("pattern Hub 1-2 100, 2-3 100, 3-4 100, 4-1 100, 1-3 151.4, 2-4 141.4 dia 12.5", "line roof z 1340"):
        drive.type(line)
    drive.window.session.choose(("J18L",))
    drive.type("bolt M10 through 50")
    assert "crush tube 50.0 mm long" in drive.said
    drive.type("bolt 25 through 60 wall 3 lean 10 clearance 1")
    assert drive.said.startswith("Shaft 25.0 mm through 60.0 mm at 10°: holes 26.00 mm by 26.93 mm along the lean")
    drive.settle()
    page = drive.window.page
    assert any(r.startswith("Hub | 4 holes of 12.5 mm, worst reading 1-3") for r in rows(page.shop))
    assert "Hub" in page.shop.model.wrong
    roof = next(row for row in rows(page.shop) if row.startswith("line roof"))
    assert "z 1340.0 mm: 152.9 mm over Bryn (helmet); 206.7 mm over Ottilie (helmet)" in roof
    assert "over Engine" in roof
    assert roof.endswith("no joint is laid to it")
    page.writing.aboutToShow.emit()
    plate = next(a for a in page.writing.actions() if a.text() == "Plate for Hub (DXF)…")
    answer_dialog(str(tmp_path / "hub.dxf"))
    plate.trigger()
    drive.qtbot.waitUntil(lambda: drive.window.strip.worker is None, timeout=60_000)
    assert (tmp_path / "hub.dxf").stat().st_size > 1000
    drive.window.go("cut")
    drive.settle()
    assert drive.window.page.plates.isVisible()
    drive.window.page.plating.aboutToShow.emit()
    assert [a.text() for a in drive.window.page.plating.actions()] == ["Plate for Hub (DXF)…", "Plate for Hub (PDF)…"]


def test_a_photo_is_laid_on_the_side_plane_and_scaled_by_two_clicks(
    drive, sandpiper: Job, tmp_path, answer_dialog
) -> None:
    photo = QImage(600, 200, QImage.Format.Format_RGB32)
    photo.fill(0x336699)
    assert photo.save(str(tmp_path / "donor.png"))
    drive.start(sandpiper)
    drive.window.go("place")
    drive.settle()
    drive.window.table.turn_to("side")
    answer_dialog(str(tmp_path / "donor.png"))
    drive.window.page.bring.emit("picture")
    drive.qtbot.waitUntil(lambda: drive.window.strip.worker is None, timeout=60_000)
    drive.settle()
    picture = drive.window.session.job.pictures[0]
    assert drive.window.session.chosen == (picture.id,)
    assert (picture.width, picture.height) == (3000, 1000)
    assert "Scale it by two known distances" in drive.said
    drive.window.page.typing.emit("scale ")
    table = drive.window.table
    for x in (0.0, -1500.0):
        u, v, _ = table.camera.project([[x, 0.0, 700.0]])[0]
        drive.qtbot.mouseClick(table, Qt.MouseButton.LeftButton, pos=QPoint(round(u), round(v)))
    assert drive.window.entry.line.text().endswith(" apart ")
    drive.qtbot.keyClicks(drive.window.entry.line, "2300")
    drive.qtbot.keyClick(drive.window.entry.line, Qt.Key.Key_Return)
    drive.settle()
    pinned = drive.window.session.job.pictures[0]
    assert abs(pinned.width - 3000 * 2300 / 1500) < 40  # as near as a click is
    assert abs(pinned.width / pinned.height - 3) < 1e-6
    colour = (
        table.grab().toImage().pixelColor(*(round(v) for v in table.camera.project([[-2600.0, 0.0, 1000.0]])[0][:2]))
    )
    assert colour.blue() > colour.red() + 15
    answer_dialog(str(tmp_path / "none.png"))
    (tmp_path / "none.png").write_text("hello")
    drive.window.page.bring.emit("picture")
    drive.qtbot.waitUntil(lambda: drive.window.strip.worker is None, timeout=60_000)
    assert "none.png can't be read as a picture" in drive.said


def test_everything_placed_is_saved_opened_and_recovered(drive, sandpiper: Job, tmp_path, own_home) -> None:
    drive.start(sandpiper)
    for line in (
        "variant keep One: as opened",
        "pattern Hub 1-2 80, 2-3 80, 1-3 80 dia 8",
        "line roof z 1340",
        "shaft Half from -2300 100 295 to -2300 500 300",
    ):
        drive.type(line)
    session = drive.window.session
    session.save(tmp_path / "s.cage")
    saved = session.job
    drive.type("place tank 9 at -1000 0 800")
    session.start(Job(), None)
    drive.settle()
    assert drive.window.files.open_path(tmp_path / "s.cage")
    drive.settle()
    assert session.job == saved
    drive.window.go("brief")
    drive.settle()
    assert rows(drive.window.page.variants)[0].startswith("One | as opened")


def test_undo_in_the_middle_of_everything_leaves_no_trace(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.window.go("place")
    for who, line in (
        ("D32", "set pedals x+40"),
        ("B22", "drop"),
        ("C34", "set driven teeth 36"),
        ("B29", "x-20"),
        ("", "rule note: Look"),
        ("", "variant keep One"),
    ):
        drive.window.session.choose((who,) if who else ())
        drive.type(line)
    for _ in range(6):
        drive.key(Qt.Key.Key_Z, modifier=Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert drive.window.session.job == sandpiper
    for _ in range(6):
        drive.window.redo()
    drive.settle()
    assert [v.name for v in drive.window.session.job.variants] == ["One"]


def test_statures_typed_under_people_are_compared_in_every_seat(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.window.go("place")
    drive.settle()
    page = drive.window.page
    page.open_list("People")
    drive.qtbot.keyClicks(page.fits.line, "1510, 1860")
    drive.key(Qt.Key.Key_Return, page.fits.line)
    drive.settle()
    told = rows(page.fits.list)
    assert [r.split(" | ")[:3] for r in told] == [
        ["as it is", name, stature] for name in ("Bryn", "Ottilie") for stature in ("1510.0", "1860.0")
    ]
    assert "left leg" in told[0]
    page.fits.line.setText("1510, tall")
    drive.key(Qt.Key.Key_Return, page.fits.line)
    assert "Statures are from 900.0 mm to 2200.0 mm" in page.fits.refused.text()
    assert rows(page.fits.list) == told  # what was there stays
    page.fits.line.clear()
    drive.key(Qt.Key.Key_Return, page.fits.line)
    drive.settle()
    assert not page.fits.list.isVisible()


def test_other_vehicles_stand_beside_this_one(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.type("vehicles")
    page = drive.window.page
    assert "No other vehicle is beside this one yet" in page.vehicles.empty.text()
    drive.type("against Kestrel: wheelbase 2540, front track 1270")
    drive.settle()
    shown = page.vehicles.list

    def cells(row: int) -> list[str]:
        return [str(shown.model.index(row, n).data()) for n in range(shown.model.columnCount())]

    assert cells(0)[:2] == ["Sandpiper", "2300.0"]
    assert cells(1)[:3] == ["Kestrel", "2540.0  (−240.0)", "1270.0  (+50.0)"]
    assert cells(1)[-1] == "2.00"
    cell(drive, shown, "Kestrel", "mass", "700")
    assert cells(1)[7].startswith("700.0")
    drive.type("against Kestrel: colour 3")
    assert "is not a figure to compare by" in drive.said
    drive.type("against kestrel gone")
    drive.settle()
    assert not shown.isVisible()
