"""Bends, hoops, kicks, jogs, landings, tapers and sections cut down: what is typed against the drawing board."""

import math

import numpy as np
import pytest

from ironcage.core.answers.cut import pieces as cut
from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.tubes.kicks import kinked
from ironcage.core.job import edits
from ironcage.core.job.geometry.routes import landings, route_of
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed

RAILS = ("joint 0 300 300", "joint -1500 300 300", "tube J1L J2L 60 x 40 x 3")


@pytest.fixture
def rails() -> Job:
    return typed(Job(), *RAILS)


def test_a_hoop_is_as_high_and_as_wide_as_typed_and_its_top_is_level() -> None:
    job = typed(Job(), "die 38 clr 114 grip 50", "hoop main 38 x 2 height 1050 width 1100 top 900 lean 10 at -1400 200")
    tube = job.tubes[0]
    assert (tube.role, tube.radius, job.twin_tube(tube)) == ("main hoop", 114.0, tube)
    assert {job.joint(e).place for e in tube.ends} == {(-1400, 550, 200), (-1400, -550, 200)}
    route = route_of(job, tube)
    assert route.line[:, 2].max() == pytest.approx(200 + 1050 * math.cos(math.radians(10)))
    assert route.line[:, 0].min() == pytest.approx(-1400 - 1050 * math.sin(math.radians(10)))
    assert len(route.bends) == 2
    leg = math.hypot(1050, 100)
    corner = math.pi / 2 - math.atan2(100, 1050)
    assert route.length == pytest.approx(2 * leg + 900 - 4 * 114 * math.tan(corner / 2) + 2 * 114 * corner)
    assert weigh(job).frame.mass == pytest.approx(route.length * math.pi * 36 * 2 * 7850e-9, rel=1e-3)
    wider = edits.move(job, ["J1L"], dy=20)
    assert route_of(wider, wider.tubes[0]).points[1][1] == pytest.approx(450 + 20)  # the leg goes with its foot


@pytest.mark.parametrize(
    ("line", "says"),
    [
        (
            "hoop main 38 x 2 height 1050 width 1100 at -1400 200 clr 90",
            "There is no die of 90 mm radius for 38 mm tube. The nearest is 114. For 38 mm there are 114",
        ),
        (
            "hoop main 45 x 2.5 height 1050 width 1100 at -1400 200",
            "There is no die for 45 mm tube on the shelf. Add yours first, for example: die 45 clr 135",
        ),
        (
            "hoop 38 x 2 height 200 width 220 at -1400 200",
            "corner 1 and corner 2 are 220.0 mm apart, and bends of 114 mm radius need 278.0 mm there, 50 mm of it",
        ),
        ("hoop 38 x 2 width 300 at -1400 200", "A hoop needs a height"),
        ("hoop 38 x 2 height 900", "A hoop stands on two joints"),
        ("hoop 38 x 2 height 900 width 800 at -1400", "is not where a hoop can stand"),
        ("die 38", "The die is incomplete"),
        ("die 38 clr 200 gone", "There is no die for 38 mm tube to 200 mm radius"),
    ],
)
def test_hoops_and_dies_that_can_not_be_made(line: str, says: str) -> None:
    with pytest.raises(Problem) as no:
        understand(line, typed(Job(), "die 38 clr 114 grip 50"))
    assert says in str(no.value)


def test_a_tube_that_crosses_the_centreline_is_bent_on_both_sides_or_not_at_all() -> None:
    job = typed(Job(), "joint 0 400 300", "tube J1L J1R 38 x 2", "die 38 clr 100")
    with pytest.raises(
        Problem, match=r"crosses the centreline evenly, and its corner 1 is 400.0 mm from having one opposite"
    ):
        understand("bend 0 200 700 clr 100", job, ("T1",))
    bent = typed(job, "bend 0 300 700; 0 -300 700", chosen=("T1",))
    assert [round(b.angle, 6) for b in route_of(bent, bent.tubes[0]).bends] == [
        pytest.approx(math.atan2(400, -100) % math.pi, abs=1)
    ] * 2
    with pytest.raises(Problem, match="would run through itself"):
        understand("bend 0 -300 700; 0 300 500; 0 -300 500; 0 300 700 fold", job, ("T1",))
    assert typed(bent, "bend straight", chosen=("T1",)).tubes[0].corners == ()


def test_a_kick_takes_the_far_joint_with_it_on_both_sides(rails: Job) -> None:
    done = understand("kick up 120 angle 30 at 600 by fold", rails, ("T1L",))
    job = done.job
    assert job.joint("J2L").z == job.joint("J2R").z == pytest.approx(420)
    run = 120 / math.tan(math.radians(30))
    left = route_of(job, job.tube("T1L")).points
    np.testing.assert_allclose(
        left, [[0, 300, 300], [-600, 300, 300], [-600 - run, 300, 420], [-1500, 300, 420]], atol=1e-9
    )
    np.testing.assert_allclose(route_of(job, job.tube("T1R")).points, left * [1, -1, 1], atol=1e-9)
    cost = kinked((40, 60), 3, math.radians(30), 2, "fold")
    assert "4 cuts" in done.name
    assert f"{cost.weld:.1f}" in done.name
    piece = cut.answer(job).piece("T1L")
    assert [round(math.degrees(b.angle), 3) for b in piece.bends] == [30, 30]
    assert piece.bends[0].mouth == pytest.approx(
        2 * 57 * math.tan(math.radians(15))
    )  # hinged on the inside of the outer wall
    assert piece.centre == pytest.approx(
        600 + 120 / math.sin(math.radians(30)) + 900 - run + 4 * 27 * math.tan(math.radians(15)), abs=1e-6
    )
    back = typed(job, "bend straight", chosen=("T1L",))
    assert back.tube("T1R").corners == ()


@pytest.mark.parametrize(("roll", "way", "deep"), [(0, "up", 60), (0, "out", 40), (90, "up", 40), (90, "in", 60)])
def test_a_fold_is_reckoned_across_the_side_it_is_folded_over(rails: Job, roll: int, way: str, deep: float) -> None:
    job = typed(rails, f"roll {roll}", chosen=("T1L",))
    done = understand(f"kick {way} 80 angle 30 at 600 by fold", job, ("T1L",))
    half = math.tan(math.radians(15))
    cost = kinked((100 - deep, deep), 3, math.radians(30), 2, "fold")
    assert f"notches {cost.mouth:.1f} mm wide, {cost.weld:.1f} mm of weld" in done.name
    for side in "LR":
        piece = cut.answer(done.job).piece(f"T1{side}")
        assert [b.mouth for b in piece.bends] == pytest.approx([2 * (deep - 3) * half] * 2)
        route = route_of(done.job, done.job.tube(f"T1{side}"))
        assert piece.centre - route.length == pytest.approx(4 * (deep / 2 - 3) * half)


def test_a_kick_told_from_the_other_end_and_a_kick_by_mitre(rails: Job) -> None:
    from_behind = understand("kick down 80 angle 45 at 500 from J2L by fold", rails, ("T1L",)).job
    assert from_behind.joint("J1L").z == pytest.approx(220)
    assert route_of(from_behind, from_behind.tube("T1L")).points[-2] == pytest.approx([-1000, 300, 300])
    mitred = understand("kick up 120 angle 30 at 600 by mitre", rails, ("T1L",)).job
    assert len(mitred.tubes) == 6
    assert all(not t.corners for t in mitred.tubes)
    assert [j.twin is not None for j in mitred.joints] == [True] * 8
    kinds = [(p.first.kind, p.second.kind) for p in cut.answer(mitred).pieces if p.id.endswith("L")]
    assert kinds == [("square", "mitre"), ("mitre", "mitre"), ("mitre", "square")]


def test_a_jog_comes_back_and_leaves_its_joints(rails: Job) -> None:
    job = understand("jog out 60 angle 45 at 400 to 900 by fold", rails, ("T1R",)).job
    assert job.joint("J2R").place == rails.joint("J2R").place
    assert route_of(job, job.tube("T1R")).points[2] == pytest.approx(
        [-460, -360, 300]
    )  # outward is to the right on the right
    assert route_of(job, job.tube("T1L")).points[2] == pytest.approx([-460, 360, 300])


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("kick fore 80 angle 30 at 600 by fold", "T1L runs fore, so it can't be kicked that way"),
        (
            "kick up 900 angle 30 at 600 by fold",
            "The kick does not fit in T1L, which is 1500.0 mm long. It takes 1558.8 mm",
        ),
        ("kick up 80 angle 120 at 600 by fold", "A kick of 120° can't be made"),
        ("kick up 80 at 600 by magic", "A kick can't be made by magic"),
        ("jog up 80 angle 45 at 600 by fold", "A jog comes back"),
        ("kick up 80", "The kick is incomplete"),
        ("kick over 80 at 600 by fold", "‘over’ is no direction"),
        ("kick up 80 at 600 from J9 by fold", "There is no joint ‘J9’"),
        ("kick up 80 at 600 by bend", "There is no die for 60 mm tube"),
        ("land J9L z-20", "There is no joint ‘J9L’"),
        ("land J1L", "How far beside J1L?"),
        ("taper 38 x 2 round", "can't taper to 38 x 2 round"),
        ("lower to 70", "can't be cut down to 70 mm. Give a height over 7 and under 60 mm"),
        ("price 60 x 40 x 3 dear", "‘dear’ is no price"),
    ],
)
def test_shapes_that_can_not_be_made_leave_the_job_and_say_why(rails: Job, line: str, says: str) -> None:
    with pytest.raises(Problem) as no:
        understand(line, rails, ("T1L",))
    assert says in str(no.value)


def test_a_second_kick_needs_the_first_straightened(rails: Job) -> None:
    job = understand("kick up 120 angle 30 at 600 by fold", rails, ("T1L",)).job
    with pytest.raises(Problem, match="T1L is bent already"):
        understand("kick up 20 angle 30 at 100 by fold", job, ("T1L",))


def test_an_end_that_lands_beside_is_softer_and_is_cut_where_it_lands(box: Job) -> None:
    done = understand("land J1L z-25", box, (box.tubes_at["J1L"][-1].id,))
    assert "each kN along it bends the joint by" in done.name
    tube = next(t for t in done.job.tubes if any(t.offset_a) or any(t.offset_b))
    assert landings(done.job, tube) != landings(box, box.tube(tube.id))
    row = done.job.tubes.index(tube)
    assert row in beam_frame(done.job).condensed
    back = understand("land J1L on", done.job, (tube.id,)).job
    assert back.tubes == box.tubes


def test_a_taper_weighs_the_mean_and_bends_between_both(box: Job) -> None:
    name = box.tubes[4].id
    job = understand("taper 20 x 1.5", box, (name,)).job
    t = job.tube(name)
    row = job.tubes.index(t)
    ends = [job.section(s).shape.properties(0.3) for s in (t.section, t.taper)]
    assert weigh(job).tube_masses[row] == pytest.approx(
        weigh(job).lengths[row] * (ends[0].area + ends[1].area) / 2 * 7850e-9, rel=1e-3
    )
    stiff = beam_frame(job).local_stiffness[row]
    length = weigh(job).lengths[row]
    # a bar whose area runs evenly from A to B stretches by F·L/E·ln(A/B)/(A − B); eight steps come within half a
    # percent
    assert stiff[0, 0] == pytest.approx(
        210e3 * (ends[0].area - ends[1].area) / math.log(ends[0].area / ends[1].area) / length, rel=0.005
    )
    with pytest.raises(Problem, match="tapers and can't be split"):
        understand("split", job, (name,))
    assert understand("taper none", job, (name,)).job.tube(name).taper == ""


def test_a_cross_member_cut_down_is_bought_high_and_counted_low(rails: Job) -> None:
    job = understand("lower to 40", rails, ("T1L",)).job
    t = job.tube("T1L")
    assert job.section(t.section).shape.size == (40, 40)
    piece = cut.answer(job).piece("T1L")
    assert piece.stock.shape.size == (40, 60)
    assert "3.00 m of weld" in plain(piece.notes[0])
    assert job.tube("T1R").cut_from == t.cut_from


def test_splitting_a_hoop_leaves_the_same_hoop_and_one_piece_to_cut(box: Job) -> None:
    job = typed(Job(), "die 38 clr 114", "hoop main 38 x 2 height 1050 width 1100 at -1400 200")
    whole = cut.answer(job).pieces[0]
    parted = typed(job, "split 950 from J1L", chosen=("T1",))  # within the first bend; its mirror too
    assert len(parted.tubes) == 3
    assert sum(route_of(parted, t).length for t in parted.tubes) == pytest.approx(whole.centre)
    pieces = cut.answer(parted).pieces
    assert len(pieces) == 1
    assert pieces[0].centre == pytest.approx(whole.centre)
    assert [(round(b.start, 3), round(math.degrees(b.angle), 6)) for b in pieces[0].bends] == [
        (round(b.start, 3), 90.0) for b in whole.bends
    ]
    assert weigh(parted).frame.mass == pytest.approx(weigh(job).frame.mass)


def test_what_is_bent_is_stiff_as_many_small_beams_are(box: Job) -> None:
    """A bent tube as one element against the same tube split at joints into its chords."""
    job = typed(
        Job(), "joint 0 400 300", "tube J1L J1R 38 x 2", "die 38 clr 120", "bend 0 300 700; 0 -300 700", chosen=("T1",)
    )
    one = beam_frame(job).global_stiffness[0]
    line = route_of(job, job.tubes[0]).line
    many = Job(shelf=job.shelf)
    for p in line:
        many = edits.add_joint(many, (float(p[0]), float(p[1]), float(p[2])), mirrored=False)
    for n in range(1, len(line)):
        many = edits.add_tube(many, f"J{n}", f"J{n + 1}", job.tubes[0].section, job.tubes[0].material)
    frame = beam_frame(many)
    whole = np.zeros((6 * len(line), 6 * len(line)))
    for k, dofs in zip(frame.global_stiffness, frame.dofs, strict=True):
        whole[np.ix_(dofs, dofs)] += k
    ends = np.r_[0:6, whole.shape[0] - 6 : whole.shape[0]]
    flexible = np.linalg.inv(whole[6:, 6:])[-6:, -6:]
    np.testing.assert_allclose(np.linalg.inv(one[6:, 6:]), flexible, rtol=1e-6, atol=1e-12)
    assert ends.size == 12
