"""Every list of every step in every demo, read as it stands on the screen: nothing on it may be cut or covered."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QApplication, QLabel, QPushButton, QVBoxLayout, QWidget

from ironcage.core.job.values.model import Job
from ironcage.desk.look import text_font
from ironcage.desk.table.picture import Pencil
from ironcage.desk.tour import ALL_STEPS, WAYS, tour
from ironcage.samples import SAMPLES, sample
from tests.desk.proofreading import complaints

WORST_SHOWN = 20
LOOKED_AT = [way for way in WAYS if not way.dark]  # dark is laid out as light is


@pytest.mark.parametrize("half", ["first", "second"])
@pytest.mark.parametrize("demo", SAMPLES)
def test_nothing_is_cut_or_covered_in_any_list_of_any_step(drive, monkeypatch, demo: str, half: str) -> None:
    blank = QImage(8, 8, QImage.Format.Format_RGBX8888)
    monkeypatch.setattr(Pencil, "draw", lambda _pencil, _subject: (blank, 0.0))  # words alone are read here

    def settle(_window: QWidget) -> None:
        drive.qtbot.waitUntil(lambda: drive.window.at_rest, timeout=60_000)
        for _ in range(3):
            QApplication.processEvents()
        drive.window.table.repaint()  # its labels as they stand in the size that it has now

    steps = ALL_STEPS[:4] if half == "first" else ALL_STEPS[4:]
    found: dict[str, str] = {}
    stops = 0
    for stop in tour(drive.window, settle, demos=(demo,), steps=steps, ways=LOOKED_AT):
        stops += 1
        assert (drive.window.width(), drive.window.height()) == stop.way.size, stop.name
        found |= dict.fromkeys(complaints(drive.window), stop.name)
    assert stops >= 5 * len(steps)
    assert not found, "\n".join(f"{where}: {what}" for what, where in list(found.items())[:WORST_SHOWN])


def test_the_proof_reader_finds_what_is_cut_and_what_is_away(drive, qtbot) -> None:
    sheet = QWidget()
    qtbot.addWidget(sheet)
    box = QVBoxLayout(sheet)
    label, button = QLabel("A sentence that is longer than its label"), QPushButton("Words longer than the button")
    for part in (label, button):
        part.setFixedWidth(60)
        box.addWidget(part)
    sheet.show()
    said = "\n".join(complaints(sheet))
    assert "label ‘A sentence" in said
    assert "button ‘Words longer" in said

    drive.start(Job())
    assert not list(complaints(drive.window))
    drive.window.page.joints.list.setColumnHidden(1, True)
    assert "column ‘name’ of Joints is away" not in list(complaints(drive.window))  # an empty list says what to do
    drive.type("joint 0 250 300")
    drive.settle()
    drive.window.page.joints.list.setColumnHidden(1, True)
    assert "column ‘name’ of Joints is away" in list(complaints(drive.window))
    drive.window.tally.dials["wheelbase"].name.setFont(text_font(40))
    assert any("label ‘wheelbase’" in c for c in complaints(drive.window))


def test_a_list_with_too_little_room_keeps_names_and_numbers_and_says_the_rest_below(drive) -> None:
    drive.start(sample("sandpiper"))
    window = drive.window
    window.go("cut")
    drive.settle()
    pieces = window.page.pieces
    heads = [c.name for c in pieces.model.columns]
    away = [h for n, h in enumerate(heads) if pieces.list.isColumnHidden(n) and h != "name"]
    assert heads[:3] == [h for h in heads[:3] if h not in away]
    assert away
    assert pieces.rest.text() == f"F12 shows {', '.join(away)} too."

    window.session.choose(("T35L",))
    pieces.pick(next(p for p in pieces.model.rows if p.id == "T35L"))
    for heading in away:
        assert f"{heading}: " in pieces.rest.text()

    drive.key(Qt.Key.Key_F12)
    drive.settle()
    assert not any(pieces.list.isColumnHidden(n) for n in range(len(heads)))
    assert pieces.list.horizontalScrollBar().maximum() > 0
    drive.key(Qt.Key.Key_F12)
    assert [h for n, h in enumerate(heads) if pieces.list.isColumnHidden(n) and h != "name"] == away


def test_names_without_room_for_a_column_stand_on_a_second_line(drive) -> None:
    drive.start(sample("sandpiper"))
    window = drive.window
    window.go("cut")
    pieces = window.page.pieces
    name = [c.name for c in pieces.model.columns].index("name")

    def painted() -> list[str]:
        """The words that rows in sight are painted with beside their columns."""
        kept: list[str] = []
        draw = QPainter.drawText
        with pytest.MonkeyPatch.context() as patch:
            patch.setattr(QPainter, "drawText", lambda self, *given: (kept.append(given[-1]), draw(self, *given))[1])
            pieces.list.viewport().repaint()
        return kept

    window.resize(1024, 700)
    drive.settle()
    assert pieces.list.isColumnHidden(name)
    assert painted()[:2] == ["main hoop 1, left", "main hoop 1, right"]
    assert "name" not in pieces.rest.text()
    one_line = pieces.list.line_height
    assert pieces.list.rowHeight(0) > one_line * 1.4
    drive.type("call T1L the left leg")
    drive.settle()
    assert painted()[0] == "left leg, left"
    window.resize(2200, 1000)
    drive.settle()
    assert not pieces.list.isColumnHidden(name)
    assert "left leg, left" not in painted()  # in its column, by the list itself
    assert pieces.list.rowHeight(0) == one_line


def test_seldom_used_lists_are_opened_by_a_button_and_tabs_say_their_answer(drive) -> None:
    drive.start(sample("sandpiper"))
    window = drive.window
    tabs = window.page.tabs

    def seen() -> list[str]:
        return [tabs.tabText(n) for n in range(tabs.count()) if tabs.isTabVisible(n)]

    assert seen() == ["Sheet", "Joints 52", "Tubes 136", "Bays ?1", "Fittings"]
    assert [a.text() for a in tabs.more.menu().actions()] == [
        "Wheels",
        "Stations",
        "Spacing",
        "Changes",
        "Shelf",
        "Swap",
    ]
    tabs.more.menu().actions()[4].trigger()
    drive.settle()
    assert seen()[-1] == "Shelf"
    window.page.open("Bays")
    drive.settle()
    assert any(t.startswith("Bays ") and t.endswith(" open") for t in seen())

    window.go("prove")
    drive.settle()
    shown = window.page.tabs
    assert shown.tabText(0).startswith("Stiffness 4,628 N·m/")
    window.page.open("Strength")
    drive.settle()
    assert shown.tabText(2).endswith("%")


@pytest.mark.parametrize(
    ("step", "grid", "wanted"),
    [
        ("cut", "pieces", ["piece", "bar", "saddle tip", "template tip"]),
        ("jig", "stands", ["joint", "x", "y", "saddle"]),
        ("jig", "diagonals", ["from", "to", "in space"]),
        ("true", "joints", ["joint", "off"]),
        ("place", "clashes", ["state", "gap", "one", "other"]),
        ("frame", "joints", ["joint", "name", "x", "y", "z"]),
    ],
)
def test_what_is_set_cut_or_moved_by_is_seen_in_a_small_window(drive, step: str, grid: str, wanted: list[str]) -> None:
    drive.start(sample("sandpiper"))
    drive.window.go(step)
    drive.window.resize(1024, 700)
    drive.settle()
    shown = getattr(drive.window.page, grid)
    columns = shown.model.columns
    seen = [c.name for n, c in enumerate(columns) if not shown.list.isColumnHidden(n)]
    assert seen[: len(wanted)] == wanted
    assert shown.room.needs >= min(len(wanted), len(seen))
