"""Pocket: one key from anywhere, typed into, copied."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from tests.reading import in_inches

CTRL = Qt.KeyboardModifier.ControlModifier


def test_a_sum_is_a_key_away_and_works_as_it_is_typed(drive, sandpiper) -> None:
    drive.start(sandpiper)
    drive.key(Qt.Key.Key_K, drive.window, CTRL)
    pocket = drive.window._pocket
    assert pocket.isVisible()
    assert pocket.sum.name == "diagonal"
    drive.key(Qt.Key.Key_Return, pocket.list)
    field = pocket.fields["length"]
    field.selectAll()
    drive.qtbot.keyClicks(field, "3000")
    pocket.fields["width"].selectAll()
    drive.qtbot.keyClicks(pocket.fields["width"], "4000")
    model = pocket.results.model
    assert [c.text(model.rows[0]) for c in model.columns] == ["diagonal", "5000.00 mm", '196.850" · 196 7/8" ±1/32']
    drive.key(Qt.Key.Key_C, pocket, CTRL)
    assert "= diagonal 5000.00 mm = 196.850" in QApplication.clipboard().text()
    assert "d = √(length² + width²)" in QApplication.clipboard().text()


def test_what_was_typed_stays_while_another_sum_is_open_and_a_refusal_is_told(drive, sandpiper) -> None:
    drive.start(sandpiper)
    drive.window.show_pocket()
    pocket = drive.window._pocket
    drive.qtbot.keyClicks(pocket.fields["length"], "x")
    assert "‘x’" in pocket.refusal.text()
    assert pocket.results.model.rows == ()
    drive.key(Qt.Key.Key_Down, pocket.list)
    assert pocket.sum.name == "slope"
    assert pocket.refusal.text() == ""
    drive.key(Qt.Key.Key_Up, pocket.list)
    assert pocket.fields["length"].text().endswith("x")
    drive.key(Qt.Key.Key_Escape, pocket)
    assert not pocket.isVisible()


def test_bare_figures_count_as_the_job_does(drive, sandpiper) -> None:
    drive.start(in_inches(sandpiper))
    drive.window.show_pocket()
    pocket = drive.window._pocket
    for name, text in (("length", "30"), ("width", "40")):
        pocket.fields[name].selectAll()
        drive.qtbot.keyClicks(pocket.fields[name], text)
    assert pocket.results.model.columns[1].text(pocket.results.model.rows[0]) == "1270.00 mm"
