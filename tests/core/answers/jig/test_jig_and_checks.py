"""Stands, diagonals, snags and the next thing to do."""

import math
import re

import pytest

from ironcage.core.answers.cut import pieces
from ironcage.core.answers.findings import advice, checks, step_progress
from ironcage.core.answers.jig import stands
from ironcage.core.answers.shared.snag import RANK
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job, Joint
from ironcage.told import plain
from tests.core.lines import typed


def test_saddles_carry_the_underside_of_level_tubes(box: Job) -> None:
    job = edits.toggle_stands(box, ["J1L", "J4L"])
    a = stands.answer(job)
    by_joint = {s.joint: s for s in a.stands}
    assert set(by_joint) == {"J1L", "J1R", "J4L", "J4R"}
    low = by_joint["J1L"]
    assert low.saddle == pytest.approx(200 - 15 - job.table.top_z)
    assert (low.x, low.y) == (0 - job.table.corner_x, 300 - job.table.corner_y)
    assert a.best_top_z == pytest.approx(200 - 15 - job.table.least_saddle)
    assert stands.answer(edits.set_table(job, top_z=a.best_top_z)).lowest == pytest.approx(job.table.least_saddle)


def test_a_sloping_tube_hangs_lower_than_its_radius() -> None:
    job = understand("joint -500 0 400", understand("joint 0 0 300", Job()).job).job
    job = edits.toggle_stands(edits.add_tube(job, "J1", "J2", "38 x 2 round", "Drawn mild steel tube"), ["J1"])
    stand = stands.answer(job).stands[0]
    assert stand.saddle == pytest.approx(300 - 19 / math.cos(math.atan2(100, 500)))
    assert math.degrees(stand.slope) == pytest.approx(math.degrees(math.atan2(100, 500)))


@pytest.mark.parametrize(
    ("section", "roll", "drop"),
    [
        (
            "40 x 40 x 4 angle",
            0.0,
            (40 * 4 * 2 + 36 * 4 * 22) / (40 * 4 + 36 * 4),
        ),  # the heel is under the centroid, 11.47
        ("60 x 30 x 2 rectangular", 45.0, (30 + 15) * math.sqrt(0.5)),  # its lowest corner, were it sharp
    ],
)
def test_a_saddle_is_under_the_true_outline(section: str, roll: float, drop: float) -> None:
    job = understand("joint -500 0 500", understand("joint 0 0 500", Job()).job).job
    job = edits.add_tube(job, "J1", "J2", "38 x 2 round", "Drawn mild steel tube")
    job = edits.change_tubes(understand(f"section {section}", job, ("T1",)).job, ["T1"], roll=math.radians(roll))
    shape = job.section(job.tube("T1").section).shape
    corner = getattr(shape, "corner_mm", 0.0)
    stand = stands.answer(edits.toggle_stands(job, ["J1"])).stands[0]
    assert stand.saddle == pytest.approx(500 - drop + (math.sqrt(2) - 1) * corner)


@pytest.mark.parametrize(("end", "lower"), [("J1", 6.0), ("J2", 0.0)])
def test_a_saddle_follows_a_tube_that_lands_below_its_joint_at_that_end_alone(end: str, lower: float) -> None:
    job = understand("joint -500 100 300", understand("joint 0 100 300", Job()).job).job
    job = edits.unpair(job, [j.id for j in job.joints])
    near, far = job.joints[0].id, next(j.id for j in job.joints if j.x < 0 and j.y > 0)
    job = edits.add_tube(job, near, far, "38 x 2 round", "Drawn mild steel tube")
    job = edits.land_beside(job, job.tubes[0].id, near if end == "J1" else far, (0.0, 0.0, -6.0))
    stand = stands.answer(edits.toggle_stands(job, [near])).stands[0]
    slope = math.atan2(6, 500)
    assert stand.saddle == pytest.approx(300 - 19 / math.cos(slope) - lower, abs=1e-6)


def test_a_foot_that_runs_past_its_joint_stands_on_the_saddle() -> None:
    """A 45 leg that a 38 rail lands on at its lower end: upright it ends level with the rail's underside, leaning it
    reaches lower."""
    job = Job()
    for line in ("joint 0 0 300", "joint 0 0 900", "joint -700 0 300"):
        job = understand(line, job).job
    job = edits.add_tube(job, "J1", "J2", "45 x 2.5 round", "Drawn mild steel tube")
    job = edits.set_through(edits.add_tube(job, "J1", "J3", "38 x 2 round", "Drawn mild steel tube"), "J1", "T1")
    leaning = edits.put(job, ["J2"], x=200.0)
    for made, lowest_tube in ((job, "T2"), (leaning, "T1")):
        stand = stands.answer(edits.toggle_stands(made, ["J1"])).stands[0]
        end = pieces.answer(made).piece("T1").first
        points = end.shape.contour.lines(720)[1] @ pieces.answer(made).piece("T1").axes[1:]
        lowest = (points[:, 2] + end.profile.shoulder * pieces.answer(made).piece("T1").axes[0][2]).min()
        assert stand.tube == lowest_tube
        assert stand.saddle == pytest.approx(300 + lowest, abs=1e-3)
    assert stand.saddle < 300 - 19 - 3


def test_diagonals_come_with_the_one_they_must_equal(sandpiper: Job) -> None:
    a = stands.answer(sandpiper)
    by_pair = {(d.first, d.second): d for d in a.diagonals} | {(d.second, d.first): d for d in a.diagonals}
    for d in a.diagonals:
        one, two = (sandpiper.joint(n).place for n in (d.first, d.second))
        assert d.space == pytest.approx(math.dist(one, two))
        assert d.equals
        assert by_pair[d.equals].space == pytest.approx(d.space)
        assert d.plan <= d.space


@pytest.mark.parametrize(
    ("spoil", "severity", "says", "where"),
    [
        (lambda j: edits.add_joint(j, (500, 100, 900)), "wrong", "J5L and J5R are on no tube", "J5L"),
        (lambda j: edits.delete(j, ["T3L", "T4L"]), "wrong", "joined to each other but not to the rest", "J"),
        (lambda j: j.but(pickups=()), "unknown", "no pickup at the front left, front right", ""),
        (
            lambda j: edits.change_tubes(j, ["T3L", "T4L", "T1L", "T2L"], pinned_a=True, pinned_b=True),
            "wrong",
            "is a mechanism",
            "J",
        ),
        (
            lambda j: j.but(joints=tuple(x.but(z=520) if x.id == "J2L" else x for x in j.joints)),
            "wrong",
            "20.0 mm from being mirror images",
            "J2L",
        ),
        (
            lambda j: j.but(tubes=tuple(t for t in j.tubes if t.id != "T3R")),
            "look",
            "T3L has no partner on the other side",
            "T3L",
        ),
        (
            lambda j: edits.toggle_stands(edits.set_table(j, top_z=150.0), ["J1L"]),
            "wrong",
            "lower than the least height",
            "J1L",
        ),
        (
            lambda j: edits.toggle_stands(edits.set_table(j, corner_x=500.0), ["J1L"]),
            "wrong",
            "stand off the table",
            "J1L",
        ),
        (lambda j: j, "unknown", "no front wheels", ""),
        (
            lambda j: edits.add_wheel(
                edits.add_wheel(j, "front", (-900, 600, 300), 600, 200), "rear", (0, 600, 300), 600, 200
            ),
            "wrong",
            "front wheels do not stand ahead",
            "",
        ),
        (lambda j: j, "unknown", "three or more hold a frame", ""),
        (
            lambda j: j.but(tubes=(*j.tubes, j.tubes[0].but(id="T99"))),
            "wrong",
            "T1L and T99 join the same two joints",
            "T1L",
        ),
        (lambda j: j.but(joints=(*j.joints, Joint(id="J77", x=0, y=300, z=200))), "wrong", "stand at one place", "J1L"),
    ],
)
def test_each_thing_wrong_is_a_snag_that_names_the_culprit(
    spoil, severity: str, says: str, where: str, box: Job
) -> None:
    found = [s for s in checks.find_snags(spoil(box)) if re.search(says, plain(s.what))]
    assert found, [s.what for s in checks.find_snags(spoil(box))]
    assert found[0].severity == severity
    assert any(name.startswith(where) for name in found[0].where) or not where
    ranks = [RANK[s.severity] for s in checks.find_snags(spoil(box))]
    assert ranks == sorted(ranks)


def test_the_next_thing_follows_the_work(box: Job, bare: Job) -> None:
    def next_of(job: Job) -> str:
        return advice.next_step(job, checks.find_snags(job)).what

    assert "Type the first joint" in next_of(Job())
    assert "tube" in next_of(understand("joint 0 250 300", Job()).job)
    assert "wheels front" in next_of(box)
    assert "Stiffen the bay" in next_of(bare)
    assert not any(s.severity == "wrong" for s in checks.find_snags(bare))


def test_once_steel_is_tacked_the_next_thing_is_the_shops(bare: Job) -> None:
    def next_of(job: Job) -> tuple[str, str]:
        told = advice.next_step(job, ())
        return told.step, told.what

    tubes = " ".join(t.id for t in bare.tubes)
    job = typed(bare, f"tacked {tubes}")
    assert next_of(job) == ("true", "Tape what is tacked, both diagonals of each bay")
    job = typed(job, "tape J1L J1R 300")
    assert next_of(job)[0] == "weld"
    job = typed(job, "order Springs; due in 4 weeks", "todo Corners up; after O1", "todo Weld the base; of J1L")
    assert next_of(job) == ("log", "Weld the base")
    job = typed(job, "log D2 gone", f"welded {tubes}")
    assert next_of(job) == ("weld", "Look at the welds and type: checked")
    assert next_of(typed(job, f"checked {tubes}"))[0] in ("prove", "cut", "jig")


def test_how_far_each_step_is(bare: Job) -> None:
    assert not any(p.begun for p in step_progress(Job()).values())
    told = step_progress(typed(bare, "tacked J1L", "tape J1L J1R 300", "todo Rails; hours 2", "todo Hoops; hours 3"))
    assert [step for step, p in told.items() if not p.begun] == ["run"]
    assert told["weld"].share == told["log"].share == 0
    later = step_progress(typed(bare, "welded J1L", "todo Rails; hours 2", "todo Hoops; hours 3", "done D1"))
    assert later["log"].share == 0.5
    assert 0 < later["weld"].share < 1
    assert later["true"].share is None
