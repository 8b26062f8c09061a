"""Pieces: what is cut to what, how long, at which angle, and the same on both sides."""

import math

import pytest

from ironcage.core.answers import cut
from ironcage.core.job import edits
from ironcage.core.job.commands import understand
from ironcage.core.job.model import Job

STEEL = "Drawn mild steel tube"


def lines(job: Job, *typed: str) -> Job:
    for line in typed:
        job = understand(line, job).job
    return job


@pytest.fixture
def tee() -> Job:
    """A 38 mm rail along x, a 30 mm stub landing on it at 60° in the middle."""
    job = lines(Job(), "joint 0 0 300", "joint -1000 0 300", "joint -500 0 300")
    job = edits.add_joint(job, (-500 + 400 * math.cos(math.pi / 3), 0, 300 + 400 * math.sin(math.pi / 3)))
    job = edits.add_tube(job, "J1", "J3", "38 x 2 round", STEEL)
    job = edits.add_tube(job, "J3", "J2", "38 x 2 round", STEEL)
    return edits.add_tube(job, "J3", "J4", "30 x 1.5 round", STEEL)


def test_a_straight_rail_is_one_piece_and_the_stub_is_coped_to_it(tee: Job) -> None:
    a = cut.answer(tee)
    rail, stub = a.pieces
    assert rail.tubes == ("T1", "T2")
    assert (rail.tip, rail.shoulder, rail.first.kind) == (pytest.approx(1000), pytest.approx(1000), "square")
    end = stub.first
    assert (end.kind, end.onto, end.hole_saw) == ("cope", "T1", 38)
    assert math.degrees(end.angle) == pytest.approx(60)
    assert math.degrees(end.saw_angle) == pytest.approx(30)
    # by hand, at 60°: deepest on the acute side, outer wall: (19 + 15·cos 60°)/sin 60°; tip beside it
    assert stub.centre - stub.shoulder == pytest.approx((19 + 15 * 0.5) / math.sin(math.pi / 3), abs=1e-3)
    assert stub.tip == pytest.approx(400 - float(end.profile.outer.min()))
    assert a.by_section == {"38 x 2 round": pytest.approx(1000), "30 x 1.5 round": pytest.approx(stub.tip)}
    assert a.piece("T2") is rail


def test_the_builders_choice_runs_through(tee: Job) -> None:
    chosen = edits.set_through(tee, "J3", "T3")
    ends = {p.id: p for p in cut.answer(chosen).pieces}
    assert ends["T3"].first.kind == "square"
    assert ends["T1"].second.kind == "cope"
    assert ends["T1"].second.onto == "T3"
    assert "wider than T3" in ends["T1"].second.notes[0]


def test_square_tube_corner_is_mitred_half_each() -> None:
    job = lines(Job(), "joint 0 0 300", "joint -500 0 300", "joint -500 0 700")
    job = edits.add_tube(job, "J1", "J2", "40 x 40 x 2 square", STEEL)
    job = edits.add_tube(job, "J2", "J3", "40 x 40 x 2 square", STEEL)
    one, other = cut.answer(job).pieces
    assert one.second.kind == other.first.kind == "mitre"
    assert math.degrees(one.second.saw_angle) == pytest.approx(45)
    assert one.tip == pytest.approx(520)  # to the outer corner
    assert one.shoulder == pytest.approx(480)
    assert one.mass == pytest.approx(other.mass * 500 / 400, rel=1e-6)


def test_left_and_right_pieces_of_the_demo_are_the_same_to_the_saw(sandpiper: Job) -> None:
    pieces = {p.id: p for p in cut.answer(sandpiper).pieces}
    pairs = [(pieces[n], pieces[n[:-1] + "R"]) for n in pieces if n.endswith("L") and n[:-1] + "R" in pieces]
    assert len(pairs) > 30
    for left, right in pairs:
        assert left.tip == pytest.approx(right.tip, abs=1e-6), left.id
        assert left.shoulder == pytest.approx(right.shoulder, abs=1e-6)
        assert (left.first.kind, left.second.kind) == (right.first.kind, right.second.kind)
        assert left.first.angle == pytest.approx(right.first.angle)
        assert (left.clock is None) == ("square" in (left.first.kind, left.second.kind))
        turn = ((left.clock or 0) + (right.clock or 0)) % (2 * math.pi)  # mirrored: turned as far the other way
        assert min(turn, 2 * math.pi - turn) == pytest.approx(0, abs=1e-6), left.id
    assert sum(len(p.tubes) for p in pieces.values()) == len(sandpiper.tubes)
    assert not any(p.problems for p in pieces.values())


def test_too_flat_and_nothing_left_are_told_with_the_tube() -> None:
    job = lines(Job(), "joint 0 0 300", "joint -1000 0 300", "joint -400 0 302", "joint -500 0 300")
    for a, b in (("J1", "J4"), ("J4", "J2"), ("J4", "J3")):
        job = edits.add_tube(job, a, b, "38 x 2 round", STEEL)
    flat = cut.answer(job).piece("T3")
    assert "too flat to cut" in flat.problems[0]
    short = lines(Job(), "joint 0 0 300", "joint -800 0 300", "joint 0 0 330", "joint -800 0 330")
    for a, b in (("J1", "J2"), ("J3", "J4"), ("J1", "J3")):
        short = edits.add_tube(short, a, b, "38 x 2 round", STEEL)
    assert "nothing is left of T3" in cut.answer(short).piece("T3").problems[0]
