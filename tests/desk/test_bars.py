"""Bars: what to buy is read in Cut, and follows what is on sale, the saw and the rack."""

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt

from ironcage.core.job.store.rack import read_rack
from ironcage.core.job.values.model import Job
from tests.desk.conftest import Driver


def texts(grid, column: str) -> list[str]:
    shown = next(c for c in grid.model.columns if c.name == column)
    return [shown.text(row) for row in grid.model.rows]


def test_bars_are_bought_by_what_is_on_sale_and_an_offcut_is_used_first(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    drive.type("what to buy")  # other people's words open the list
    drive.settle()
    tab = window.page.bars
    assert tab.isVisible()
    assert texts(tab.buy, "buy") == ["1 × 6000.0", "3 × 6000.0", "4 × 6000.0", "4 × 6000.0"]
    assert tab.sum.text().startswith("12 bars to buy, ")
    assert tab.sum.text().endswith("none could be fewer.")
    cut = [name for row in tab.bars.model.rows for name in row.pieces]
    assert sorted(cut) == sorted(p.id for p in window.page.result.pieces)
    drive.type("offcut 1450 of 38 x 2 round")
    drive.settle()
    assert [o.id for o in tab.offcuts.model.rows] == ["K1"]
    assert texts(tab.bars, "from").count("rack") == 1
    drive.type("bars 7500")
    drive.settle()
    assert texts(tab.buy, "buy")[0] == "1 × 7500.0"
    drive.type("bars 900 for 45 x 2.5 round")
    drive.settle()
    assert texts(tab.buy, "buy")[0] == "✗"
    assert "longer than the longest bar, 900.0 mm" in texts(tab.buy, "why not")[0]
    drive.key(Qt.Key.Key_Z, window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert texts(tab.buy, "buy")[0] == "1 × 7500.0"
    tab.offcuts.list.selectRow(0)
    drive.press("Take away")
    drive.settle()
    assert window.session.job.buying.offcuts == ()


def test_a_picked_bar_chooses_its_pieces_and_a_turn_is_typed_into_the_list(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.go("cut")
    drive.settle()
    page = window.page

    def lands(name: str, joint: str) -> bool:
        """Whether a tube is cut to another at a joint, as those are not that run through it."""
        other = page.result.piece(name)
        return any(end.joint == joint and end.kind == "cope" for end in (other.first, other.second))

    row = next(
        n for n, p in enumerate(page.pieces.model.rows) if any(lands(name, p.first.joint) for name in p.first.trims)
    )
    piece, before = page.pieces.model.rows[row], page.pieces.model.rows[row].first.trims
    column = next(n for n, c in enumerate(page.pieces.model.columns) if c.name == "turn")
    page.pieces.list.setCurrentIndex(page.pieces.model.index(row, column))
    assert page.pieces.take("-1")
    drive.settle()
    assert window.session.job.tube(piece.id).sequence == -1
    assert page.result.piece(piece.id).first.trims != before
    page.tabs.setCurrentIndex(1)
    drive.settle()
    page.bars.bars.list.selectRow(0)
    assert set(page.bars.bars.model.rows[0].pieces) <= set(window.session.chosen)


def test_a_piece_is_marked_in_its_cell_and_by_the_menu_and_says_what_to_do(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.go("cut")
    drive.settle()
    page = window.page
    row = next(n for n, p in enumerate(page.pieces.model.rows) if not p.bends and p.first.kind == "cope")
    piece = page.pieces.model.rows[row]
    column = next(n for n, c in enumerate(page.pieces.model.columns) if c.name == "state")
    page.pieces.list.selectRow(row)
    drive.settle()
    assert page.pieces.take(
        f"checked {min(piece.saddle_tip, piece.template_tip) - 5:.1f}", page.pieces.model.index(row, column)
    )
    drive.settle()
    assert texts(page.pieces, "state")[row].startswith(("checked −5.0", "checked −4.9"))
    assert "mm too short for its place" in page.detail.text()
    assert "(1 checked)" in page.bill.text()
    assert not page.pieces.take("sawn", page.pieces.model.index(row, column))
    cut = next(a for a in page.marks.actions() if a.text() == "Cut")
    cut.trigger()
    drive.settle()
    assert texts(page.pieces, "state")[row].startswith(("cut −5.0", "cut −4.9"))  # what was measured stays
    assert len(window.session.job.cutting.pieces) == 1
    next(a for a in page.marks.actions() if a.text() == "Rejected…").trigger()
    assert window.entry.line.text() == f"piece {piece.id} rejected: "
    drive.type("bars")
    drive.settle()
    assert page.bars.sum.text().endswith("1 cut already and left out.")


def test_plates_are_laid_out_on_the_sheet_that_is_typed(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.go("cut")
    drive.settle()
    page = window.page
    drive.type("plates")
    drive.settle()
    assert page.sheets.isVisible()
    assert page.sheets.buy.model.rowCount() == 0
    drive.type("add gusset tubes T13L T6L, leg 90, thickness 3, plates 2")
    drive.settle()
    assert texts(page.sheets.buy, "plates") == ["4"]
    assert page.sheets.sum.text().startswith("1 sheets of 2000.0 x 1000.0 mm, 47.1 kg; ")
    drive.type("plates 100 x 60")
    drive.settle()
    assert texts(page.sheets.buy, "sheets") == ["✗"]
    assert "does not fit a sheet of 100 x 60" in texts(page.sheets.buy, "why not")[0]


def test_the_shops_rack_keeps_rests_from_one_job_to_the_next(drive: Driver, sandpiper: Job, own_home: Path) -> None:
    window = drive.start(sandpiper).window
    drive.type("what to buy")
    drive.settle()
    tab = window.page.bars
    take, keep = tab.shops.actions()
    take.trigger()
    assert "The shop's rack has 0 offcuts" in window.entry.said.text()
    keep.trigger()
    drive.settle()
    kept = read_rack()
    assert kept
    assert all(rest.length >= sandpiper.buying.least for rest in kept)
    take.trigger()  # the next job begins with what the last one left
    drive.settle()
    assert sorted(o.length for o in tab.offcuts.model.rows) == pytest.approx(sorted(r.length for r in kept), abs=0.01)
    assert "rack" in texts(tab.bars, "from")
    drive.key(Qt.Key.Key_Z, window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert not tab.offcuts.model.rows
    assert read_rack() == kept  # taking is undone, and the shop's rack was not touched by it
    take.trigger()
    drive.settle()
    keep.trigger()
    drive.settle()
    assert window.session.job.buying.offcuts == ()
    (own_home / "rack.json").write_text("{}")
    take.trigger()
    assert "can't be read. Move it away to begin a new one." in window.entry.said.text()


def test_bars_for_several_cars_are_laid_out_together(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    drive.type("what to buy")
    drive.settle()
    tab = window.page.bars
    one = [int(n) for n in texts(tab.buy, "pieces")]
    drive.type("cars 3")
    drive.settle()
    assert [int(n) for n in texts(tab.buy, "pieces")] == [3 * n for n in one]
    row = next(n for n, r in enumerate(tab.bars.model.rows) if any("·2" in name for name in r.pieces))
    tab.bars.list.selectRow(row)
    drive.settle()
    assert window.session.chosen
    assert all("·" not in name for name in window.session.chosen)


def test_a_card_that_says_much_gets_smaller_type_and_cuts_no_line(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.go("cut")
    drive.settle()
    drive.key(Qt.Key.Key_F11, window)
    card = window.card
    card.resize(1280, 800)
    drive.settle()
    sizes = set()
    for _ in range(40):
        assert card.lines.heightForWidth(card.lines.width()) <= card.lines.height(), card.title.text()
        sizes.add(card.lines.font().pointSizeF() or card.lines.font().pixelSize())
        drive.key(Qt.Key.Key_Space, card)
        drive.settle()
    assert len(sizes) > 1
    assert "40 of 112" in card.foot.text() or "41 of 112" in card.foot.text()
    drive.key(Qt.Key.Key_Escape, card)
