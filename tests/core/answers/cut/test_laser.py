"""Pieces for a tube laser: what is said of them, what they are measured by, and what they take here."""

from ironcage.core.answers.cut.here import cut_here
from ironcage.core.answers.cut.pieces import answer
from ironcage.core.answers.cut.progress import progress
from ironcage.core.exchange.lists import cut_csv
from ironcage.core.exchange.piecewords import piece_lines
from ironcage.core.exchange.quoting import order
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.units import Units
from tests.core.lines import typed


def test_the_card_of_a_piece_for_the_laser_tells_no_settings_of_a_saw(sandpiper: Job) -> None:
    def card(job: Job, name: str) -> str:
        return " ".join(piece_lines(job, answer(job).piece(name), (), None, Units()))

    coped = next(p for p in answer(sandpiper).pieces if p.first.hole_saw and p.first.trims)
    by_hand = card(sandpiper, coped.id)
    assert "hole saw" in by_hand
    assert "Along the paper: it goes to several tubes." in by_hand
    assert "cut along the paper: a saw set to" in by_hand
    lasered = typed(sandpiper, "laser", chosen=(coped.id,))
    card_of = card(lasered, coped.id)
    assert "saw" not in card_of
    assert "paper" not in card_of
    assert f"from square, onto {coped.first.onto}, then to {coped.first.trims[0]}. Tube laser." in card_of
    row = next(row for row in cut_csv(lasered, answer(lasered)).decode().splitlines() if row.startswith(f"{coped.id},"))
    assert row.count("tube laser") == 2
    assert card(typed(lasered, "laser no", chosen=(coped.id,)), coped.id) == by_hand


def test_one_tube_in_line_sends_the_whole_piece(box: Job) -> None:
    piece = max(answer(box).pieces, key=lambda p: len(p.tubes))
    sent = typed(box, "laser", chosen=piece.tubes[-1:])
    assert answer(sent).piece(piece.tubes[0]).laser


def test_a_lasered_piece_is_held_against_the_cut_square_through_the_wall(sandpiper: Job) -> None:
    piece = next(p for p in answer(sandpiper).pieces if p.saddle_tip - p.template_tip > 1)
    line = f"piece {piece.id} cut {piece.saddle_tip:.3f}"
    assert abs(progress(understand(line, sandpiper).job)[piece.id].off) < 0.001
    sent = typed(sandpiper, "laser", line, chosen=(piece.id,))
    assert abs(progress(sent)[piece.id].off - (piece.saddle_tip - piece.template_tip)) < 0.001


def test_what_the_laser_cuts_is_neither_counted_here_nor_is_the_rest_ordered(box: Job) -> None:
    before = cut_here(box)
    assert (before.lasered, before.ordered_hours) == (0, before.hours)
    piece = answer(box).pieces[0]
    sent = typed(box, "laser", chosen=(piece.id,))
    gone = [p for p in answer(sent).pieces if p.laser]
    here = cut_here(sent)
    assert (here.pieces, here.lasered) == (before.pieces - len(gone), len(gone))
    assert abs(here.hours + here.ordered_hours - before.hours) < 1e-9
    assert [f'"piece": "{p.id}"' in order(sent).decode() for p in answer(sent).pieces] == [
        p.laser for p in answer(sent).pieces
    ]


def test_the_bends_of_a_lasered_piece_are_made_here() -> None:
    rail = typed(Job(), "joint 0 300 300", "joint -800 300 300", "tube J1L J2L 38 x 2", "die 38 clr 114 grip 60")
    rail = typed(rail, "bend -300 420 300 clr 114", "laser", chosen=("T1L",))
    assert {w.work: w.count for w in cut_here(rail).works} == {"bend": 2}
    assert '"bends": 0' in order(rail).decode()
    card = " ".join(piece_lines(rail, answer(rail).pieces[0], (), None, Units()))
    assert "the laser cuts it straight, before it is bent" in card
