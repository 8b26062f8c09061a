"""Pieces that are cut: what is measured against what it should be, what else one makes, and what changed since."""

import math

import pytest

from ironcage.core.answers.cut.bars import find_bars
from ironcage.core.answers.cut.pieces import Piece, answer
from ironcage.core.answers.cut.progress import PieceProgress, cut_share, progress
from ironcage.core.answers.findings import find_snags
from ironcage.core.exchange.kinds import kind
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed


@pytest.fixture
def upright(box: Job) -> Piece:
    """An upright of the box, 300 mm from joint to joint between two rails of its own 30 mm: copes at both ends."""
    return answer(box).piece(box.tube_by_ends[frozenset(("J1L", "J2L"))].id)


@pytest.fixture
def tee_rail() -> Job:
    """A rail of two tubes in line, with a stub between them."""
    job = typed(Job(), "joint 0 0 300 alone", "joint -1000 0 300 alone", "joint -500 0 300 alone")
    job = typed(job, "joint -500 0 700 alone", "tube J1 J3 38 x 2 round", "tube J3 J2 38 x 2 round")
    return typed(job, "tube J3 J4 30 x 1.5 round")


def _far(job: Job, piece: Piece) -> PieceProgress:
    return progress(job)[piece.id]


@pytest.mark.parametrize(
    ("off", "usable", "words"),
    [
        (0.3, True, "fits, 0.30 mm long"),
        (-0.5, True, "fits, 0.50 mm short"),
        (2.4, True, "2.40 mm too long: take that off an end again"),
        (-1.4, True, "1.40 mm short: can be used, with 0.70 mm more gap at each end"),
        (-1.6, False, "1.60 mm too short for its place"),
    ],
)
def test_what_is_measured_says_whether_it_can_be_used(
    box: Job, upright: Piece, off: float, usable: bool, words: str
) -> None:
    tip = upright.template_tip if off > 0 else upright.saddle_tip
    job = typed(box, f"piece {upright.id} checked {tip + off:.3f} on 2026-11-02")
    far = _far(job, upright)
    assert (far.state, far.usable, plain(far.words)) == ("checked", usable, words)
    assert far.off == pytest.approx(off, abs=1e-3)
    assert str(far.when) == "2026-11-02"
    wider = typed(job, "piece gap 3", "piece within 2")
    assert _far(wider, upright).usable


def test_a_piece_too_short_names_what_its_straight_part_would_make(box: Job, upright: Piece) -> None:
    """A rail of 1200 that came out 20 short still makes uprights; one cut from it is no longer offered."""
    rail = answer(box).piece(box.tube_by_ends[frozenset(("J1L", "J3L"))].id)
    job = typed(box, f"piece {rail.id} cut {rail.saddle_tip - 20:.2f}")
    far = _far(job, rail)
    depth = sum(e.profile.shoulder - e.profile.template_tip for e in (rail.first, rail.second))
    made = answer(job)
    assert not far.usable
    assert far.elsewhere
    longest = max(made.pieces, key=lambda p: p.bar if p.bar <= far.length - depth and p.id != rail.id else 0.0)
    assert made.piece(far.elsewhere[0]).bar == pytest.approx(longest.bar)
    done = typed(job, *(f"piece {name} cut" for name in far.elsewhere))
    assert not set(_far(done, rail).elsewhere) & set(far.elsewhere)
    said = [plain(s.what) for s in find_snags(job) if s.code == "too short"]
    assert said[0].startswith(f"{rail.id} is 20.00 mm too short for its place. It would make {far.elsewhere[0]}")


def test_cut_pieces_are_left_out_of_the_bars_and_rejected_ones_are_not(box: Job, upright: Piece) -> None:
    def waiting(job: Job) -> set[str]:
        return {name for of in find_bars(job).sections for name in of.pieces}

    everything = waiting(box)
    cut = typed(box, f"piece {upright.id} cut")
    assert waiting(cut) == everything - {upright.id}
    assert find_bars(cut).done == 1
    assert cut_share(box) is None
    assert cut_share(cut) == pytest.approx(1 / len(everything))
    rejected = typed(cut, f"piece {upright.id} rejected: kerf on the wrong side")
    assert waiting(rejected) == everything
    assert _far(rejected, upright).why == "kerf on the wrong side"
    assert b"rejected,,kerf on the wrong side" in kind("cut-csv").make(rejected, "")
    assert typed(rejected, f"piece {upright.id} open").cutting == box.cutting


def test_a_tube_that_grew_since_its_piece_was_cut_is_a_snag(box: Job, upright: Piece) -> None:
    job = typed(box, f"piece {upright.id} cut")
    grown = edits.move(job, ["J2L"], dz=12.0)
    found = [plain(s.what) for s in find_snags(grown) if s.code == "cut before it changed"]
    assert found == [f"{upright.id} is cut, and its tube is 12.0 mm longer now than it was then."]
    assert not [s for s in find_snags(edits.move(job, ["J2L"], dz=0.2)) if s.code == "cut before it changed"]


@pytest.mark.parametrize(
    ("line", "chosen", "says"),
    [
        ("piece T1L sawn", (), "‘sawn’ is neither a tube nor a state of a piece"),
        ("piece T1L chekced 300", (), "The nearest is checked"),
        ("piece cut", (), "This needs a piece, and no tube of one is chosen"),
        ("piece cut 300", ("T1L", "T2L"), "A length is of one piece, and several are named"),
        ("piece T99 cut", (), "There is no tube ‘T99’"),
        ("piece T1L cut -4", (), "‘-4’ is not the length of a piece"),
        ("piece T1L cut wide", (), "‘wide’"),
        ("piece within", (), "Write for example"),
    ],
)
def test_what_can_not_be_marked_is_refused(box: Job, line: str, chosen: tuple[str, ...], says: str) -> None:
    with pytest.raises(Problem) as no:
        understand(line, box, chosen)
    assert says in str(no.value)
    donor = typed(box, "donor", chosen=("T1L",))
    with pytest.raises(Problem, match="of the donor and is not cut"):
        understand("piece T1L cut", donor)


def test_an_inch_shop_measures_in_inches(box: Job, upright: Piece) -> None:
    job = typed(box, "units inch", f"piece {upright.id} checked {upright.template_tip / 25.4:.4f}")
    far = _far(job, upright)
    assert far.length == pytest.approx(upright.template_tip, abs=0.02)
    assert abs(far.off or 0.0) < 0.02


def test_a_root_gap_takes_as_much_off_every_end_square_to_what_it_lands_on(box: Job, upright: Piece) -> None:
    """An upright between two rails loses the gap at both ends; a brace at 45° loses more along itself; a mitre half."""
    job = typed(box, "piece root 1.5")
    shorter = answer(job).piece(upright.id)
    assert shorter.shoulder == pytest.approx(upright.shoulder - 2 * 1.5, abs=1e-3)
    assert _far(typed(job, f"piece {upright.id} checked {shorter.template_tip:.3f}"), upright).off == pytest.approx(
        0, abs=1e-3
    )
    braced = edits.add_tube(box, "J1L", "J4L", "20 x 1.5 round", "Drawn mild steel tube")
    name = braced.tubes[-2].id
    before = answer(braced).piece(name)
    after = answer(typed(braced, "piece root 1.5")).piece(name)
    lean = min(before.first.angle, before.second.angle)
    assert before.shoulder - after.shoulder == pytest.approx(2 * 1.5 / math.sin(lean), rel=0.25)
    square = typed(Job(), "joint 0 0 300 alone", "joint 600 0 300 alone", "joint 600 0 900 alone")
    for a, b in (("J1", "J2"), ("J2", "J3")):
        square = typed(square, f"tube {a} {b} 30 x 30 x 2")
    long, short = (answer(of).piece("T1").shoulder for of in (square, typed(square, "piece root 2")))
    assert long - short == pytest.approx(2 / 2 * math.sqrt(2))


def test_a_piece_of_several_tubes_is_what_was_said_of_it_last(tee_rail: Job) -> None:
    (rail,) = (p for p in answer(tee_rail).pieces if len(p.tubes) == 2)
    by_second = typed(tee_rail, f"piece {rail.tubes[1]} cut")
    assert _far(by_second, rail).state == "cut"
    both = typed(by_second, f"piece {rail.tubes[0]} checked")
    assert _far(both, rail).state == "checked"
    assert _far(typed(by_second, f"piece {rail.tubes[0]} open"), rail).state == "open"
    assert _far(typed(by_second, f"piece {rail.tubes[1]} open"), rail).state == "open"


def test_a_cut_piece_whose_neighbours_turned_or_left_is_told_although_it_is_as_long(box: Job) -> None:
    tube = box.tube_by_ends[frozenset(("J1L", "J2L"))].id
    cut = typed(box, f"piece {tube} cut")
    assert not progress(cut)[tube].turned
    moved = typed(cut, "z+60", chosen=("J4L",))  # the rail that meets it at J2L leans now
    rail = box.tube_by_ends[frozenset(("J2L", "J4L"))].id
    assert f"{rail} meets it at" in progress(moved)[tube].turned
    assert any("and since then" in s.what for s in find_snags(moved))
    assert "no longer meets" in progress(typed(cut, f"delete {rail}"))[tube].turned
    other = typed(cut, "section 25 x 1.5", chosen=(tube,))
    assert "and is 25 x 1.5" in progress(other)[tube].turned
