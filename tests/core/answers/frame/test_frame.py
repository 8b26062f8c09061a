"""Frame's answers: bays and what closes them, folds, comparison, stations, sections, and the frame's snags."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings import checks
from ironcage.core.answers.frame import bays, materials, sections, stations
from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.answers.tally import compare
from ironcage.core.calc.frames.beams import Frame
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import SAMPLES, sample
from ironcage.told import plain
from tests.core.lines import typed


def _codes(job: Job) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for s in checks.find_snags(job):
        found.setdefault(s.code, []).append(plain(s.what))
    return found


@pytest.mark.parametrize("name", SAMPLES)
def test_no_tube_of_a_demo_runs_through_another_and_braces_stop_its_folds(name: str) -> None:
    job = sample(name)
    codes = _codes(job)
    assert not {
        "tube through tube",
        "not joined",
        "end in the air",
        "can't be fitted",
        "not mirrored",
        "one side only",
    } & set(codes)
    made = bays.find_bays(job)
    assert made.open
    braced = job
    for way in made.folding:
        a, _, c, *_ = made.bays[way.bay].corners
        try:
            braced = edits.add_tube(braced, a, c, job.tubes[0].section, job.tubes[0].material)
        except Problem:
            continue  # another fold's brace is there already
    assert len(bays.find_bays(braced).folding) < len(made.folding)


def test_a_box_has_six_open_bays_and_closing_each_as_told_leaves_none(box: Job) -> None:
    made = bays.find_bays(box)
    assert [b.state for b in made.bays] == ["open"] * 6
    assert len(made.folding) == len(made.folds) == 6
    assert made.bays[0].area == pytest.approx(1200 * 600)
    job = box
    while open_bays := bays.find_bays(job).open:
        best = bays.closings(job, open_bays[0])[0]
        assert (best.kind, best.blocked) == ("diagonal", ())
        assert best.length == pytest.approx(math.dist(*(job.joint(j).place for j in best.joints)))
        job = understand(best.line, job).job
    done = bays.find_bays(job)
    assert not done.folds
    assert {b.state for b in done.bays} == {"triangulated"}
    assert beam_frame(job).condensed == {}


def test_a_panel_closes_a_bay_and_haunches_do_not_stop_a_fold(box: Job) -> None:
    job = understand("add panel joints J1L J2L J4L J3L, thickness 1", box).job
    made = bays.find_bays(job)
    assert sorted(b.state for b in made.bays).count("panelled") == 2
    assert len(made.folding) == 4
    tubes = {frozenset(t.ends): t.id for t in box.tubes}
    corner = [tubes[frozenset(p)] for p in (("J1L", "J2L"), ("J2L", "J4L"), ("J3L", "J4L"))]
    stiff = typed(
        box,
        f"add haunch tubes {corner[0]} {corner[1]}, leg 90, thickness 2",
        f"add haunch tubes {corner[1]} {corner[2]}, leg 90, thickness 2",
    )
    assert [b.state for b in bays.find_bays(stiff).bays].count("haunched") == 2
    assert len(bays.find_bays(stiff).folding) == 6  # they hold by bending, which hinges leave out


def test_what_stands_in_a_bay_blocks_its_diagonal_then_its_panel_and_leaves_haunches(box: Job) -> None:
    side = next(b for b in bays.find_bays(box).bays if set(b.corners) == {"J1L", "J2L", "J3L", "J4L"})
    job = typed(box, "place tank Tank box 200 x 100 x 80 at -600 300 350")
    ways = bays.closings(job, side)
    assert [(w.kind, w.blocked) for w in ways] == [
        ("haunches", ()),
        ("diagonal", ("B5",)),
        ("diagonal", ("B5",)),
        ("panel", ("B5",)),
    ]
    beside = typed(box, "place tank Tank box 200 x 100 x 80 at -600 300 430")
    assert [(w.kind, w.blocked) for w in bays.closings(beside, side)][1:] == [
        ("diagonal", ()),
        ("panel", ("B5",)),
    ]  # both pass below it
    low = typed(box, "place tank Tank box 60 x 100 x 60 at -300 300 420")
    first = bays.closings(low, side)[0]
    assert (first.kind, first.blocked) == ("diagonal", ())
    ends = [np.array(box.joint(j).place) for j in first.joints]
    at = ends[0] + (ends[1] - ends[0]) * (-300 - ends[0][0]) / (ends[1] - ends[0])[0]
    assert at[2] < 330  # the one that passes below it


def test_a_warped_bay_says_by_how_much_and_a_panel_in_it_is_a_snag(box: Job) -> None:
    job = edits.move(edits.unpair(box, ["J4L"]), ["J4L"], dy=40)
    assert max(b.warp for b in bays.find_bays(job).bays) == pytest.approx(10, rel=0.02)
    job = understand("add panel joints J1L J2L J4L J3L, thickness 1", job).job
    assert any("not flat" in w for w in _codes(job)["warped panel"])


@pytest.mark.parametrize(
    ("lines", "code", "says"),
    [
        (
            ("joint -600 300 200.2", "joint -600 300 900", "tube J5L J6L 30 x 1.5"),
            "not joined",
            "J5L stands in T3L and is not joined to it",
        ),
        (
            ("joint -600 310 350", "joint -600 310 150", "tube J5L J6L 30 x 1.5"),
            "tube through tube",
            "runs 20.0 mm into",
        ),
        (("joint -600 332 350", "joint -600 332 150", "tube J5L J6L 30 x 1.5"), "nearly meeting", "passes 2.0 mm from"),
        (("joint 60 300 900", "tube J5L J1L 30 x 1.5"), "end in the air", "One tube ends at J5L and J5R"),
        (
            ("joint -1500 0 900", "tube J5 J1L 30 x 1.5", "material aluminium"),
            "unlike materials",
            "They do not weld to each other",
        ),
        (("joint -4000 300 200", "tube J5L J3L 20 x 1.5"), "slender", "times the radius of gyration"),
        (("joint -900 300 290", "tube J1L J5L 30 x 1.5"), "tight angle", "meet at 6° at J1L"),
    ],
)
def test_each_thing_wrong_with_the_frame_is_a_snag(box: Job, lines: tuple[str, ...], code: str, says: str) -> None:
    assert code not in _codes(box)
    assert any(says in what for what in _codes(typed(box, *lines)).get(code, ())), _codes(typed(box, *lines))


def test_seven_tubes_at_a_joint_are_a_crowd(box: Job) -> None:
    job = box
    for n in range(4):
        job = typed(job, f"joint {300 + n} {500 + 100 * n} {300 + 120 * n}", f"tube J{5 + n}L J1L 25 x 1.5")
    assert _codes(job)["crowded joint"] == [
        "Many tubes meet at J1L (7) and J1R (7); more than 6 are hard to fit and to weld all round."
    ]


def test_a_comparison_tells_added_gone_moved_and_figures(box: Job) -> None:
    after = typed(edits.move(box, ["J2L"], dz=50), "tube J1L J4L 25 x 1.5", "name Other")
    after = edits.delete(after, [next(t.id for t in box.tubes if set(t.ends) == {"J3L", "J3R"})])
    made = compare.compare_jobs(box, after)
    said = {t.tube: t.what for t in made.tubes}
    up = next(t.id for t in box.tubes if set(t.ends) == {"J1L", "J2L"})
    assert said[up] == "longer"
    assert "gone" in said.values()
    assert sorted(w for w in said.values() if w.startswith("added")) == ["added: 25 x 1.5"] * 2
    assert {(p.name, p.by) for p in made.joints} == {("J2L", (0.0, 0.0, 50.0)), ("J2R", (0.0, 0.0, 50.0))}
    assert made.circle == (None, None)
    assert compare.compare_jobs(box, box).tubes == ()


def test_widths_at_a_station_are_what_a_rule_across_reads() -> None:
    job = typed(
        Job(),
        "joint 0 200 300",
        "joint -1000 400 300",
        "tube J1L J2L 60 x 40 x 3",
        "joint 0 600 500",
        "joint -1000 600 500",
        "tube J3L J4L 38 x 2",
    )
    low, high = stations.widths(job, -500)
    flat = math.hypot(1000, 200) / 1000
    assert (low.centre, low.outside, low.inside) == pytest.approx((600, 600 + 40 * flat, 600 - 40 * flat))
    assert math.degrees(low.splay) == pytest.approx(-math.degrees(math.atan2(200, 1000)))
    assert (high.outside, high.splay) == pytest.approx((1238, 0))
    assert stations.widths(job, 500) == ()


def test_what_a_cut_leaves_of_a_donor_and_a_warning_where_it_is_too_little() -> None:
    job = typed(
        Job(),
        "joint 300 300 300",
        "joint -900 300 300",
        "tube J1L J2L 80 x 50 x 3",
        "donor",
        "joint -900 300 500",
        "tube J2L J3L",
    )
    ahead = stations.stubs(job, -400, ahead=True)
    assert {s.tube for s in ahead} == {"T1L", "T1R"}
    assert (ahead[0].joint, ahead[0].left, ahead[0].weld, ahead[0].warning) == (
        "J1L",
        pytest.approx(700),
        pytest.approx(260),
        "",
    )
    assert "only 60 mm left to weld to; 120 mm is the least" in plain(stations.stubs(job, 240, ahead=True)[0].warning)
    kept = understand("sever at -400 keep ahead", job).job
    assert {t.id for t in kept.tubes if t.donor} == {"T1L", "T1R"}
    assert min(
        j.x for j in kept.joints if kept.tubes_at.get(j.id) and any(t.donor for t in kept.tubes_at[j.id])
    ) == pytest.approx(-400)
    assert len([t for t in kept.tubes if not t.donor]) == 2  # what is not of the donor stays
    with pytest.raises(Problem, match="cuts nothing off the donor"):
        understand("sever at -2000 keep ahead", job)
    with pytest.raises(Problem, match="The cut is incomplete"):
        understand("sever here", job)


def test_a_slanted_cut_warns_of_its_long_weld() -> None:
    job = typed(Job(), "joint 0 100 300", "joint -300 600 300", "tube J1L J2L 40 x 2", "donor")
    stub = stations.stubs(job, -150, ahead=True)[0]
    assert "the weld runs far along it" in stub.warning
    angle = math.asin(300 / math.hypot(300, 500))
    around = np.array(
        [[20 * math.cos(v), 20 / math.sin(angle) * math.sin(v)] for v in np.linspace(0, 2 * math.pi, 20001)]
    )
    assert stub.weld == pytest.approx(float(np.linalg.norm(np.diff(around, axis=0), axis=1).sum()), rel=1e-4)


def test_a_cut_almost_along_a_tube_is_as_long_as_its_slant_says() -> None:
    """4° to the cut: an ellipse fourteen times as long as the tube is wide."""
    job = typed(Job(), "joint 0 100 300", "joint -21 400 300", "tube J1L J2L 40 x 2", "donor")
    stub = stations.stubs(job, -10, ahead=True)[0]
    angle = math.atan2(21, 300)
    around = np.array(
        [[20 * math.cos(v), 20 / math.sin(angle) * math.sin(v)] for v in np.linspace(0, 2 * math.pi, 20001)]
    )
    assert stub.weld == pytest.approx(float(np.linalg.norm(np.diff(around, axis=0), axis=1).sum()), rel=1e-3)


def test_the_turning_circle_is_that_of_the_outer_front_wheel() -> None:
    """2·L / sin δ; none without a lock, and none without wheels."""
    job = typed(Job(), "wheels front 0 650 290 dia 580 width 165", "wheels rear -2000 650 290 dia 580 width 165")
    locked = job.but(brief=job.brief.but(lock=math.radians(30)))
    assert compare.compare_jobs(job, locked).circle == (None, pytest.approx(2 * 2000 / 0.5))
    assert compare.turning_circle(Job().but(brief=locked.brief)) is None


def test_equals_are_as_stiff_and_lightest_first(box: Job) -> None:
    held, steel = box.section("30 x 1.5 round"), box.material("Drawn mild steel tube")
    mine, found = sections.figures(held, steel), sections.equals(box, held, steel)
    assert found
    assert all(f.bending >= 0.995 * mine.bending and f.torsion >= 0.995 * mine.torsion for f in found)
    assert [f.kg for f in found] == sorted(f.kg for f in found)
    assert mine.kg == pytest.approx(mine.area * 7850e-6)
    i = math.pi / 64 * (30**4 - 27**4)
    assert (mine.bending, mine.torsion) == (pytest.approx(steel.e * i), pytest.approx(steel.g * 2 * i))
    assert mine.moment == pytest.approx(steel.yield_strength * i / 15)
    assert mine.torque == pytest.approx(steel.yield_strength / math.sqrt(3) * 2 * i / 15)
    assert mine.welded == pytest.approx(steel.as_welded_yield * i / 15)
    strong = sections.equals(box, held, steel, sections.STRONG)
    assert all(f.moment >= 0.995 * mine.moment and f.torque >= 0.995 * mine.torque for f in strong)
    assert {f.name for f in found} != {f.name for f in strong}  # a thin wide tube is stiff before it is strong
    priced = understand("price 30 x 1.5 round 4.25", box).job
    assert sections.figures(priced.section("30 x 1.5 round"), steel).price == 4.25


def test_the_frames_answer_weighs_fittings_with_it(box: Job) -> None:
    job = understand("add panel joints J1L J2L J4L J3L, thickness 1", box).job
    made = materials.answer(job)
    assert made.fittings_mass == pytest.approx(2 * 1.2 * 0.3 * 7.85)
    assert made.mass == pytest.approx(materials.answer(box).mass + made.fittings_mass)
    assert (made.joints, made.tubes, len(made.fittings)) == (8, 12, 2)
    assert isinstance(beam_frame(job), Frame)


def test_a_bend_that_a_later_edit_spoils_is_a_snag_with_the_radius_that_fits() -> None:
    job = typed(Job(), "die 38 clr 114", "hoop main 38 x 2 height 500 width 600 at -800 200")
    assert not {"can't be bent", "no die"} & set(_codes(job))
    narrow = typed(job, "y 100", chosen=("J1L",))
    assert [plain(what) for what in _codes(narrow)["can't be bent"]] == [
        "T1: corner 1 and corner 2 are 200.0 mm apart, and bends of 114 mm radius need 228.0 mm there."
    ]
    other = typed(job, "section 45 x 2.5", chosen=("T1",))
    assert _codes(other)["no die"] == ["T1 is bent to 114 mm, and there is no such die for 45 mm tube on the shelf."]
    folded = typed(
        Job(),
        "joint 0 300 300",
        "joint -900 300 300",
        "tube J1L J2L 60 x 40 x 3",
        "taper 40 x 40 x 3",
        "section 38 x 2",
        chosen=(),
    )
    assert "can't taper" in _codes(folded)


def test_a_cut_down_tube_given_another_section_is_bought_as_that(box: Job) -> None:
    job = typed(box, "section 60 x 40 x 3", "lower to 40", "section 38 x 2", chosen=(box.tubes[0].id,))
    assert {t.cut_from for t in job.tubes} == {""}


def test_a_panel_over_several_bays_panels_each_of_them(box: Job) -> None:
    job = typed(box, "joint -600 300 200", "joint -600 300 500", "tube J5L J6L 25 x 1.5")
    rails = [box.tube_by_ends[frozenset(p)].id for p in (("J1L", "J3L"), ("J2L", "J4L"))]
    for rail, joint in zip(rails, ("J5L", "J6L"), strict=True):
        job = typed(job, f"meet {joint}", chosen=(rail,))
    whole = understand("add panel joints J1L J2L J4L J3L, thickness 1", job).job
    assert sorted(b.panel for b in bays.find_bays(whole).bays if b.state == "panelled") == ["F1L", "F1L", "F1R", "F1R"]
    high = edits.move(whole, ["J6L"], dy=30)
    assert sum(b.state == "panelled" for b in bays.find_bays(high).bays) == 0  # a joint that has left it is not on it
