"""Pieces that inserts join from several lengths: how they are cut, bought, ordered and labelled."""

import json

import pytest

from ironcage.core.answers.cut.bars import find_bars, piece_named
from ironcage.core.answers.cut.here import cut_here
from ironcage.core.answers.cut.markout import lengths
from ironcage.core.answers.cut.pieces import answer
from ironcage.core.exchange.labels import label_sheets
from ironcage.core.exchange.piecewords import piece_lines
from ironcage.core.exchange.quoting import order
from ironcage.core.job.values.model import Job
from ironcage.told import plain
from ironcage.units import Units
from tests.core.lines import typed


def test_what_an_insert_joins_is_cut_as_two_lengths() -> None:
    """A rail of 7 m does not come off bars of 6 m until an insert joins it from two lengths."""
    job = typed(Job(), "joint 0 0 300 alone", "joint -7000 0 300 alone", chosen=())
    job = typed(job, "tube J1 J2 38 x 2")
    assert "join it from two lengths (add insert)" in plain(find_bars(job).sections[0].problem)
    job = typed(job, "add insert at 5000, od 34, wall 2, depth 40, gap 3", chosen=("T1",))
    piece = answer(job).piece("T1")
    assert [of.length for of in lengths(job, piece)] == pytest.approx([4998.5, 1998.5])
    bars = find_bars(job).sections[0]
    assert (bars.pieces, bars.problem) == (("T1/1", "T1/2"), "")
    assert {piece_named(name) for name in (*bars.pieces, "T1/2·2")} == {"T1"}
    assert bars.lengths == pytest.approx((4998.5, 1998.5))
    card = " ".join(map(plain, piece_lines(job, piece, (), None, Units())))
    assert "Cut 2 lengths, from J1: T1/1 4998.5 mm, T1/2 1998.5 mm." in card
    asked = json.loads(order(job))["pieces"]
    assert [(p["piece"], p["length_mm"]) for p in asked] == [("T1/1", 4998.5), ("T1/2", 1998.5)]
    counted = {w.work: w.count for w in cut_here(job).works}
    assert (counted["piece"], counted["square"]) == (2, 4)
    labels = [i.text for sheet in label_sheets(job) for i in sheet.items if hasattr(i, "text")]
    assert "T1/1" in labels
    assert "this end towards J1" in labels
