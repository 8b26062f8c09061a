"""Pieces: what is cut to what, how long, at which angle, and the same on both sides."""

import math
import random

import numpy as np
import pytest

from ironcage.core.answers.cut import pieces as cut
from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.frame import materials
from ironcage.core.answers.shared.kept import Kept, Latest
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.exchange.drawing import SheetWords
from ironcage.core.exchange.templates import template
from ironcage.core.job import edits
from ironcage.core.job.store import file
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import SAMPLES, sample
from ironcage.told import plain
from ironcage.units import METRIC
from tests.core.job.edits import walk
from tests.core.lines import typed

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


def figures(answer: cut.CutAnswer) -> dict[str, list[float]]:
    """Every length that each piece is cut to, and every tenth line of its cuts."""
    made = {}
    for piece in answer.pieces:
        ends = (piece.first, piece.second)
        cuts = [v for e in ends for v in (*e.profile.cut[::10], *e.profile.outer[::10])]
        made[f"{piece.id} {ends[0].words} {ends[1].words}"] = [piece.bar, piece.shoulder, piece.mass, *cuts]
    return made


@pytest.mark.parametrize("seed", range(3))
def test_what_is_taken_from_the_frame_before_is_what_it_would_be_anew(
    sandpiper: Job, seed: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    rng, job, compared = random.Random(seed), sandpiper, 0
    for _ in range(40):
        done = walk.step(job, rng)
        if done is None:
            continue
        job = done.job if rng.random() < 0.8 else with_root(job, rng.choice((0.0, 1.5)))
        try:
            warm = cut.answer(job)
        except Problem:
            continue
        if compared % 4 == 0:
            with monkeypatch.context() as cold:
                cold.setattr(cut, "_PIECES", Kept())
                cold.setattr(cut, "_LAST", Latest(16))
                anew = figures(cut.answer(file.from_text(file.to_text(job))))
            assert figures(warm).keys() == anew.keys()
            for piece, made in figures(warm).items():
                assert made == pytest.approx(anew[piece], abs=1e-6), piece
        compared += 1
    assert compared > 12


def with_root(job: Job, gap: float) -> Job:
    """The job with another gap left for the weld."""
    return understand(f"piece root {gap:g}", job).job


def test_a_straight_rail_is_one_piece_and_the_stub_is_coped_to_it(tee: Job) -> None:
    a = cut.answer(tee)
    rail, stub = a.pieces
    assert rail.tubes == ("T1", "T2")
    assert (rail.bar, rail.shoulder, rail.first.kind) == (pytest.approx(1000), pytest.approx(1000), "square")
    end = stub.first
    assert (end.kind, end.onto, end.hole_saw) == ("cope", "T1", 38)
    assert math.degrees(end.angle) == pytest.approx(60)
    assert math.degrees(end.saw_angle) == pytest.approx(30)
    # by hand, at 60°: deepest on the acute side, outer wall: (19 + 15·cos 60°)/sin 60°; tip beside it
    assert stub.centre - stub.shoulder == pytest.approx((19 + 15 * 0.5) / math.sin(math.pi / 3), abs=1e-3)
    assert stub.saddle_tip == pytest.approx(400 - float(end.profile.outer.min()), abs=1e-3)
    assert a.by_section == {"38 x 2 round": pytest.approx(1000), "30 x 1.5 round": pytest.approx(stub.bar)}
    assert a.piece("T2") is rail
    assert (rail.first.how, end.how) == ("saw, square", "hole saw in a notcher")
    assert not stub.sealed  # its other end is open


def test_what_is_hard_or_impossible_to_cut_is_a_snag_with_its_mend(tee: Job) -> None:
    def snags(job: Job) -> list[tuple[str, str, str]]:
        return [(s.severity, s.code, s.what) for s in find_snags(job) if s.step == "cut"]

    assert snags(tee) == []
    for (severity, code, said), piece in zip(snags(edits.set_through(tee, "J3", "T3")), ("T1", "T2"), strict=True):
        assert (severity, code) == ("look", "hard to cut")
        assert said.startswith(f"{piece} at J3 is wider than T3")
    flat = edits.move(tee, ["J4"], dz=15 - 400 * math.sin(math.pi / 3))
    ((severity, code, said),) = snags(flat)
    assert (severity, code) == ("wrong", "can't be cut")
    assert "too flat to cut" in said


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
    assert one.saddle_tip == pytest.approx(520)  # to the outer corner
    assert one.shoulder == pytest.approx(480)
    assert one.mass == pytest.approx(other.mass * 500 / 400, rel=1e-6)


def test_left_and_right_pieces_of_the_demo_are_the_same_to_the_saw(sandpiper: Job) -> None:
    pieces = {p.id: p for p in cut.answer(sandpiper).pieces}
    pairs = [(pieces[n], pieces[n[:-1] + "R"]) for n in pieces if n.endswith("L") and n[:-1] + "R" in pieces]
    assert len(pairs) > 30
    for left, right in pairs:
        for length in ("bar", "saddle_tip", "template_tip", "shoulder"):
            assert getattr(left, length) == pytest.approx(getattr(right, length), abs=2e-5), left.id
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


def framed(sections: dict[str, str], *tubes: tuple[str, tuple[float, ...], tuple[float, ...]], chosen: str = "") -> Job:
    """A job of tubes by the short name of their section and both ends; joints where ends meet. `chosen`: the tube of
    T1's first joint that runs through."""
    job = Job()
    for kind, *ends in tubes:
        names = []
        for end in ends:
            found = next((j.id for j in job.joints if math.dist(j.place, end) < 1e-6), None)
            if found is None:
                job = edits.add_joint(job, end, mirrored=False)
                found = job.joints[-1].id
            names.append(found)
        job = edits.add_tube(job, names[0], names[1], sections[kind], STEEL)
    return edits.set_through(job, job.tubes[0].a, chosen) if chosen else job


@pytest.mark.parametrize("name", SAMPLES)
def test_shoulder_and_both_template_depths_are_the_template_tip(name: str) -> None:
    """What the sheets say of their depths adds up to what the list says, for every piece of every demo; and no
    saddle tip is of a line that misses."""
    job = sample(name)
    for piece in cut.answer(job).pieces:
        depths = [e.profile.shoulder - e.profile.template_tip for e in (piece.first, piece.second)]
        assert piece.shoulder + sum(depths) == pytest.approx(piece.template_tip, abs=1e-6), piece.id
        assert piece.bar >= max(piece.saddle_tip, piece.template_tip) - 1e-9
        for end in (piece.first, piece.second):
            if end.kind != "square" and not end.problem:
                sheet = " ".join(i.text for i in template(job, piece, end).items if isinstance(i, SheetWords))
                assert f"longest to deepest point {METRIC.fine(depths[end is piece.second])}" in sheet
                assert f"shoulder) {METRIC.fine(end.profile.shoulder - end.profile.bar)}." in sheet


def test_600_between_two_crossing_tubes_of_one_size() -> None:
    """38 x 2 on 38 x 2 at both ends: 600 over the feather edges, 562 between shoulders, 562 + 2 x 10.51 along the
    paper."""
    made = framed(
        {"o": "38 x 2 round"},
        ("o", (0, -500, 0), (0, 0, 0)),
        ("o", (0, 0, 0), (0, 500, 0)),
        ("o", (600, -500, 0), (600, 0, 0)),
        ("o", (600, 0, 0), (600, 500, 0)),
        ("o", (0, 0, 0), (600, 0, 0)),
    )
    piece = cut.answer(made).piece("T5")
    assert (piece.bar, piece.saddle_tip, piece.shoulder) == tuple(pytest.approx(v, abs=2e-3) for v in (600, 600, 562))
    assert piece.template_tip == pytest.approx(562 + 2 * (19 - math.sqrt(19**2 - 17**2)), abs=2e-3)


def test_a_diagonal_at_the_corner_of_a_kinked_rail_is_cut_to_the_tube_it_leans_over() -> None:
    """The rail's front half rises 12.6°, the diagonal forward at 58.5°: it stands on the front half, at 45.9° to it."""
    kink, lean = math.radians(12.6), math.radians(58.5)
    made = framed(
        {"o": "38 x 2 round", "s": "30 x 1.5 round"},
        ("o", (0, 0, 0), (-800, 0, 0)),
        ("o", (0, 0, 0), (800 * math.cos(kink), 0, 800 * math.sin(kink))),
        ("s", (0, 0, 0), (500 * math.cos(lean), 0, 500 * math.sin(lean))),
    )
    end = cut.answer(made).piece("T3").first
    assert (end.onto, math.degrees(end.angle)) == ("T2", pytest.approx(45.9))


def test_two_sizes_in_line_butt_square_and_carry_what_crosses_them() -> None:
    made = framed(
        {"o": "38 x 2 round", "s": "30 x 1.5 round"},
        ("o", (0, 0, 0), (-500, 0, 0)), ("s", (0, 0, 0), (500, 0, 0)), ("s", (0, 0, 0), (0, 0, 400)),
    )  # fmt: skip
    pieces = {p.id: p for p in cut.answer(made).pieces}
    for name, other in (("T1", "T2"), ("T2", "T1")):
        assert pieces[name].first.words == f"square, against {other}"
        assert pieces[name].bar == pytest.approx(500)
        assert not pieces[name].problems
    assert pieces["T3"].first.onto == "T1"


def test_a_taper_is_bought_at_its_large_end_whichever_end_that_is() -> None:
    """Small at the first joint, large at the second: bought large, each end cut in its own size, weighed by its mean
    area."""
    ways = {}
    for small_first in (True, False):
        ends = ((0, 0, 0), (1000, 0, 0)) if small_first else ((1000, 0, 0), (0, 0, 0))
        job = framed({"s": "40 x 40 x 3 square"}, ("s", *ends))
        job = understand("section 20 x 40 x 3" if small_first else "section 80 x 40 x 3", job, ("T1",)).job
        job = understand("taper 80 x 40 x 3" if small_first else "taper 20 x 40 x 3", job, ("T1",)).job
        piece = cut.answer(job).piece("T1")
        ways[small_first] = (piece.mass, weigh(job).frame.mass, float(weigh(job).frame.cg[0]))
        assert max(piece.stock.shape.size) == 80
        assert {max(piece.first.shape.size), max(piece.second.shape.size)} == {80, 40}
    assert ways[True] == pytest.approx(ways[False])
    assert ways[True][0] == pytest.approx(ways[True][1])
    assert ways[True][2] > 510  # balances towards its large end


def test_tubes_of_a_donor_are_not_billed(tee: Job) -> None:
    of_donor = edits.change_tubes(tee, ["T3"], donor=True)
    assert [b.section for b in materials.answer(of_donor).bill] == ["38 x 2 round"]
    assert materials.answer(of_donor).donors == 1


def test_a_piece_that_is_not_quite_straight_says_how_far_it_is_off() -> None:
    turn = math.radians(0.64)
    job = framed(
        {"o": "38 x 2 round"},
        ("o", (-600, 0, 0), (0, 0, 0)),
        ("o", (0, 0, 0), (500 * math.cos(turn), 0, 500 * math.sin(turn))),
    )
    (piece,) = cut.answer(job).pieces
    assert tuple(map(plain, piece.notes)) == ("turns 0.64° at J2: laid straight it is 5.6 mm off at J3",)


def test_an_angle_folded_over_its_leg_hinges_at_that_legs_inside() -> None:
    """40 x 40 x 4 folded 90° half way along 1000: the centroid lies 11.47 from the heel, 7.47 from the hinge, so
    1000 + 2 x 7.47."""
    job = framed({"l": "40 x 40 x 4 angle"}, ("l", (0, 0, 300), (500, 500, 300)))
    job = edits.shape(job, "T1", np.array([[500.0, 0, 300]]))
    lengths = []
    for quarter in range(4):
        lengths.append(cut.answer(edits.change_tubes(job, ["T1"], roll=quarter * math.pi / 2)).piece("T1").centre)
    assert min(lengths) == pytest.approx(1014.95, abs=0.01)


def test_a_tube_that_is_cut_down_says_how_much_is_slit_and_welded() -> None:
    """Both sides along the whole piece: twice its length each."""
    job = typed(Job(), "joint 0 200 300 alone", "joint -1200 200 300 alone", "tube J1 J2 60 x 40 x 2")
    job = typed(job, "lower to 40", chosen=("T1",))
    (piece,) = cut.answer(job).pieces
    assert [plain(n) for n in piece.notes] == ["cut down from 60 x 40 x 2: 2.40 m of slitting and 2.40 m of weld"]


def test_a_later_turn_is_cut_to_an_earlier_one_at_a_crowded_joint_and_back_when_the_turns_change() -> None:
    """Two braces of one size on a rail, 40° to each other: the second stops at the first, whichever that is."""
    job = Job()
    for place in ((0, 300, 0), (600, 300, 0), (300, 300, 0), (500, 300, 300), (200, 300, 300)):
        job = edits.add_joint(job, tuple(map(float, place)))
    for a, b, role in (("J1L", "J3L", "rail"), ("J3L", "J2L", "rail"), ("J3L", "J4L", ""), ("J3L", "J5L", "")):
        job = edits.add_tube(job, a, b, "30 x 2 round", STEEL, role)

    def end(name: str) -> EndCut:
        piece = cut.answer(job).piece(name)
        return piece.first if piece.first.joint == "J3L" else piece.second

    assert end("T3L").trims == ()
    assert end("T4L").trims == ("T3L",)
    assert "then to T3L" in str(end("T4L").words)
    assert any("along the paper" in str(note) for note in end("T4L").by_hand)
    longer = end("T4L").profile.shoulder
    job = understand("sequence -1", job, ("T4L",)).job
    assert job.tube("T4R").sequence == -1
    assert (end("T4L").trims, end("T3L").trims) == ((), ("T4L",))
    assert end("T4L").profile.shoulder < longer
    for line in ("sequence soon", "sequence 100", "sequence"):
        with pytest.raises(Problem, match="Write a whole number from -99 to 99"):
            understand(line, job, ("T4L",))


def test_no_end_of_a_demo_is_left_to_be_trimmed_by_eye_and_nothing_is_lost() -> None:
    for name in SAMPLES:
        made = cut.answer(sample(name))
        ends = [e for p in made.pieces for e in (p.first, p.second)]
        assert not [note for e in ends for note in e.notes if "trim where" in str(note)]
        assert any(e.trims for e in ends)
        assert not [problem for p in made.pieces for problem in p.problems]
        for p in made.pieces:  # what is cut away for others makes a piece no longer
            assert p.shoulder < p.saddle_tip + 1e-6


def test_the_saws_middle_is_told_from_the_square_end_of_the_bar_and_how_far_beside_the_tube() -> None:
    """A 30 tube at 60° onto a 40 one whose axis passes 4 mm beside it: by hand, along the axis from the joint."""
    job = Job()
    for place in ((0, 300, 0), (600, 300, 0), (300, 300, 0), (400, 300, 173.205)):
        job = edits.add_joint(job, tuple(map(float, place)))
    for a, b, section in (
        ("J1L", "J3L", "40 x 2 round"),
        ("J3L", "J2L", "40 x 2 round"),
        ("J3L", "J4L", "30 x 2 round"),
    ):
        job = edits.add_tube(job, a, b, section, STEEL)
    job = edits.change_tubes(job, ["T3L"], offset_a=(0.0, 4.0, 0.0), offset_b=(0.0, 4.0, 0.0))
    piece = cut.answer(job).piece("T3L")
    end = piece.first if piece.first.joint == "J3L" else piece.second
    assert end.offset == pytest.approx(4.0, abs=1e-3)
    assert end.centre == pytest.approx(-end.profile.bar, abs=1e-6)  # the axes pass at the joint itself


def test_the_tool_and_a_vent_follow_from_both_ends(box: Job) -> None:
    """An upright between two rails is closed at both ends; a flat brace is too slanting for a hole saw."""
    upright = cut.answer(box).piece(box.tube_by_ends[frozenset(("J1L", "J2L"))].id)
    assert upright.sealed
    assert upright.first.how == "along the paper: it goes to several tubes"
    job = lines(
        Job(), "joint 0 0 300 alone", "joint -1000 0 300 alone", "joint -500 0 300 alone", "joint 0 0 400 alone"
    )
    for ends in (("J1", "J3"), ("J3", "J2")):
        job = edits.add_tube(job, *ends, "38 x 2 round", STEEL)
    brace = cut.answer(edits.add_tube(job, "J3", "J4", "25 x 1.5 round", STEEL)).piece("T3")
    assert brace.first.how == "along the paper: 79° is too slanting for a hole saw"
