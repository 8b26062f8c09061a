"""Sheet and fittings: made on both sides, weighed by hand, following their tubes, and refused where they do not fit."""

import math

import numpy as np
import pytest

from ironcage.core.answers.brief import rules
from ironcage.core.answers.cut import pieces
from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.prove import stiffness
from ironcage.core.answers.prove.holes import twist_costs
from ironcage.core.answers.shared import fittings
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.answers.weld.states import tube_ends
from ironcage.core.calc.plane.flats import Flat, flattened
from ironcage.core.calc.sections import Rect
from ironcage.core.calc.sections.holed import net_section
from ironcage.core.exchange.drawing import Path as SheetPath
from ironcage.core.exchange.drawing import SheetCircle
from ironcage.core.exchange.kinds import kind
from ironcage.core.exchange.plate import fitting_plate
from ironcage.core.job import edits
from ironcage.core.job.geometry.flanges import comes_off
from ironcage.core.job.text import understand
from ironcage.core.job.values.fittings import EXAMPLES, KINDS
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed

STEEL = 7850e-9
CAP = 36 * 15**2 * math.sin(2 * math.pi / 72)  # 72 sides round a circle of 30


def _tube(job: Job, a: str, b: str) -> str:
    return job.tube_by_ends[frozenset((a, b))].id


@pytest.mark.parametrize(
    ("line", "kg"),
    [
        ("add panel joints J1L J2L J4L J3L, thickness 1.5", 1200 * 300 * 1.5 * STEEL),
        ("add gusset tubes {up} {rail}, leg 75, thickness 2, plates 2", 2 * 2 * STEEL * (75 - 15) ** 2 / 2),
        ("add haunch tubes {up} {rail}, leg 75, thickness 2", 2 * STEEL * (60**2 + math.hypot(60, 60) * 30)),
        (
            "add fish plate tube {rail}, at 400, length 200, depth 40, thickness 3, ends square",
            2 * 200 * 40 * 3 * STEEL,
        ),
        ("add doubler tube {rail}, at 400, length 120, wall 2", math.pi * 32 * 2 * 120 * STEEL),
        ("add insert tube {rail}, at 400, od 26.5, wall 2, depth 60, gap 2", math.pi * 24.5 * 2 * 122 * STEEL),
        ("add crush tube tube {rail}, at 400, od 16, bore 10", math.pi / 4 * (256 - 100) * 30 * STEEL),
        (
            "add tab tube {rail}, at 400, width 40, height 45, thickness 4, hole 10, reach 25, tabs 2",
            2
            * 4
            * (40 * (45 + 15 - math.sqrt(15**2 - 2**2)) - math.pi * 25)
            * STEEL,  # 2 mm beside the top of the tube
        ),
        ("add cap joint J1L, tube {rail}, thickness 2, hole 6", 2 * (CAP - math.pi * 9) * STEEL),
        ("add slip joint tube {rail}, at 400, od 26.5, wall 2, engaged 60", math.pi * 24.5 * 2 * 120 * STEEL),
    ],
)
def test_every_kind_weighs_what_a_pencil_says_and_is_made_on_both_sides(box: Job, line: str, kg: float) -> None:
    job = understand(line.format(up=_tube(box, "J1L", "J2L"), rail=_tube(box, "J1L", "J3L")), box).job
    made = fittings.fitting_facts(job)
    assert [f.id for f in made] == ["F1L", "F1R"]
    assert made[0].kg == pytest.approx(kg, rel=1e-6)
    assert made[1].kg == pytest.approx(kg, rel=1e-6)
    np.testing.assert_allclose(made[0].place * [1, -1, 1], made[1].place, atol=1e-6)
    assert weigh(job).frame.mass == pytest.approx(weigh(box).frame.mass + 2 * kg)
    assert typed(job, "add F1R gone") == box.but(last_fitting=1, shelf=job.shelf)
    assert b"F1L" in kind("fittings-csv").make(job, "")


def test_every_kind_has_an_example_that_is_read(box: Job) -> None:
    assert set(EXAMPLES) == set(KINDS)
    assert all(KINDS[k].__doc__ for k in KINDS)


@pytest.mark.parametrize(
    ("line", "says"),
    [
        (
            "add insert tube {rail}, at 400, od 28, wall 2, depth 60",
            "An insert of 28 mm does not go into {rail}: its bore is 27 mm. One of 26.8 mm slides in",
        ),
        (
            "add insert tube {rail}, at 400, od 20, wall 2, depth 60",
            "An insert of 20 mm is loose in {rail}: its bore is 27 mm",
        ),
        ("add slip joint tube {rail}, at 400, od 26.5, wall 20, engaged 60", "A wall of 20 mm is over half of 26.5 mm"),
        (
            "add insert tube {rail}, at 4000, od 26.5, wall 2, depth 60",
            "{rail} is 1200.0 mm long, and 4000 lies beyond it",
        ),
        ("add crush tube tube {rail}, at 400, od 40, bore 10", "does not go through {rail}, 30 mm across"),
        (
            "add tab tube {rail}, at 400, width 40, height 20, thickness 4, hole 25, reach 10",
            "A hole of 25 mm does not fit in a tab 40 x 20",
        ),
        ("add gusset tubes {up} {far}, leg 60, thickness 2", "{up} and {far} do not meet"),
        ("add panel joints J1L J2L J1L, thickness 1", "A panel's corners are named twice"),
        (
            "add panel joints J1L J4L J2L J3L, thickness 1",
            "The panel's outline crosses itself, or encloses nothing. Name its joints in order round it",
        ),
        ("add panel joints J1L J2L J4L, thickness 1, material cheese", "There is no material ‘cheese’"),
        ("add panel joints J1L J2L J4L, thickness 1, fixing glued", "‘glued’ is no fixing"),
        ("add cap joint J2L, tube {rail}, thickness 2", "{rail} does not end at J2L. It ends at J1L and J3L"),
        ("add cap joint J1L, tube {rail}, thickness 2, hole 40", "A hole of 40 mm leaves nothing of a cap on {rail}"),
        ("add holes host F9, count 2, diameter 5", "There is no fitting ‘F9’"),
        ("add cheese thickness 3", "‘cheese thickness’ is no kind of fitting"),
        ("add doubler tube {rail}, at 400", "The doubler lacks length, wall. Write for example"),
        ("add doubler tube {rail}, at 400, colour red", "A doubler has no ‘colour red’. It has tube, at, length, wall"),
    ],
)
def test_what_does_not_fit_is_refused_in_one_sentence(box: Job, line: str, says: str) -> None:
    names = {"up": _tube(box, "J1L", "J2L"), "rail": _tube(box, "J1L", "J3L"), "far": _tube(box, "J3L", "J4L")}
    with pytest.raises(Problem) as no:
        understand(line.format(**names), box)
    assert says.format(**names) in str(no.value)


def test_what_is_chosen_stands_for_what_is_not_typed(box: Job) -> None:
    up, rail = _tube(box, "J1L", "J2L"), _tube(box, "J1L", "J3L")
    gusset = understand("add gusset leg 60, thickness 2", box, (up, rail)).job.fittings[0]
    assert (gusset.joint, gusset.tubes) == ("J1L", (up, rail))  # type: ignore[union-attr]
    panel = understand("add panel thickness 1", box, ("J1L", "J2L", "J4L", "J3L"))
    assert panel.job.fittings[0].joints == ("J1L", "J2L", "J4L", "J3L")  # type: ignore[union-attr]
    holed = understand("add holes count 3, diameter 60", panel.job, panel.chosen).job
    assert holed.fittings[-1].host == "F1R"  # type: ignore[union-attr]
    changed = understand("add F1L thickness 2", holed, ()).job
    assert [f.thickness for f in changed.fittings[:2]] == [2, 2]  # type: ignore[union-attr]


def test_lightening_holes_save_what_they_cut_and_stay_clear_of_the_edge(box: Job) -> None:
    job = typed(box, "add panel joints J1L J2L J4L J3L, thickness 1.5", "add holes host F1L, count 5, diameter 80")
    panel, _, holes, _ = fittings.fitting_facts(job)
    assert holes.saved == pytest.approx(5 * math.pi * 1600 * 1.5 * STEEL)
    assert panel.kg == pytest.approx((1200 * 300 - 5 * math.pi * 1600) * 1.5 * STEEL)
    places = np.array([h[:2] for h in panel.flat.holes])  # type: ignore[union-attr]
    gaps = np.linalg.norm(places[:, None] - places[None], axis=2)[~np.eye(5, dtype=bool)]
    assert gaps.min() >= 120 - 1e-6  # half a diameter between any two
    assert np.abs(places).max(axis=0)[1] <= 150 - 80 + 1e-6
    crowd = typed(box, "add panel joints J1L J2L J4L J3L, thickness 1.5", "add holes host F1L, count 90, diameter 80")
    assert "90 holes of 80 mm do not fit in F1L" in plain(fittings.fitting_facts(crowd)[2].problem)
    assert set(twist_costs(crowd).values()) == {0.0}  # and are not cut
    without = stiffness.answer(edits.remove_fittings(job, ["F2L"])).torsion
    assert stiffness.answer(job).torsion < without
    assert twist_costs(job) == pytest.approx(
        {h: without / stiffness.answer(job).torsion - 1 for h in ("F2L", "F2R")}, rel=1e-6
    )
    assert f"{5 * math.pi * 80:.0f} to cut" in plain(holes.words)
    cornered = typed(job, "add gusset tubes T1L T3L, leg 120, thickness 2", "add holes count 1, diameter 20")
    assert set(twist_costs(cornered)) == {"F2L", "F2R"}  # a plate in a corner stiffens by its outline


def test_panels_gussets_and_sleeves_stiffen_and_a_slip_joint_softens(box: Job) -> None:
    base = stiffness.answer(box).torsion
    names = {"up": _tube(box, "J1L", "J2L"), "rail": _tube(box, "J1L", "J3L")}

    def with_(line: str) -> float:
        return stiffness.answer(understand(line.format(**names), box).job).torsion

    welded, riveted = (
        with_(f"add panel joints J1L J2L J4L J3L, thickness 1, fixing {f}") for f in ("welded", "riveted")
    )
    assert welded > riveted > 1.1 * base
    assert (
        with_("add haunch tubes {up} {rail}, leg 90, thickness 2")
        > with_("add gusset tubes {up} {rail}, leg 90, thickness 2")
        > base
    )
    assert with_("add doubler tube {rail}, at 600, length 300, wall 2") > base
    assert with_("add slip joint tube {rail}, at 600, od 26.5, wall 2, engaged 60") < base


def test_fittings_follow_a_split_a_merge_and_a_deletion(box: Job) -> None:
    rail = _tube(box, "J1L", "J3L")
    job = typed(
        box, f"add doubler tube {rail}, at 900, length 100, wall 2", "add panel joints J1L J2L J4L J3L, thickness 1"
    )
    cut = understand("split 400 from J1L", job, (rail,)).job
    moved = cut.fitting_by_id["F1L"]
    assert (moved.tube != rail, moved.at) == (True, pytest.approx(500))  # type: ignore[union-attr]
    np.testing.assert_allclose(fittings.fitting_facts(cut)[0].place, fittings.fitting_facts(job)[0].place, atol=1e-9)
    assert {f.kind for f in edits.delete(cut, [moved.tube]).fittings} == {"panel"}  # type: ignore[union-attr]
    assert {f.kind for f in edits.delete(cut, ["J2L"]).fittings} == {"doubler"}
    merged = edits.merge(job, "J1L", "J2L")
    assert merged.fitting_by_id["F2L"].joints == ("J1L", "J4L", "J3L")  # type: ignore[union-attr]


def test_a_plate_goes_to_the_cutter_with_its_holes(box: Job) -> None:
    job = typed(
        box,
        f"add tab tube {_tube(box, 'J1L', 'J3L')}, at 400, width 40, height 45, thickness 4, hole 10.5, reach 25, "
        f"tabs 2, gap 30",
    )
    sheet = fitting_plate(job, "f1l")
    assert [round(i.radius, 3) for i in sheet.items if isinstance(i, SheetCircle)] == [5.25]
    assert b"LWPOLYLINE" in kind("fitting-dxf").make(job, "F1L") or b"POLYLINE" in kind("fitting-dxf").make(job, "F1L")
    plain = typed(box, f"add doubler tube {_tube(box, 'J1L', 'J3L')}, at 400, length 90, wall 2")
    with pytest.raises(Problem, match="F1L is a doubler: tube 34 x 2, 90 long, bore 30, and no plate"):
        fitting_plate(plain, "F1L")


@pytest.mark.parametrize(
    ("rule", "fit", "state", "by"),
    [
        ("rule sleeve role rail, depth 60, hole 6: x", "od 26.5, wall 2, depth 60, hole 6", "pass", 0),
        ("rule sleeve role rail, depth 60, hole 6: x", "od 26.5, wall 2, depth 45, hole 8", "fail", -15),
        ("rule sleeve role rail, gap 3: x", "od 26.5, wall 2, depth 45, gap 2", "fail", -1),
        ("rule sleeve role rail, depth 60: x", "", "not known", None),
    ],
)
def test_rules_judge_real_inserts(box: Job, rule: str, fit: str, state: str, by: float | None) -> None:
    rail = _tube(box, "J1L", "J3L")
    job = typed(box, rule)
    job = typed(job, "role rail", chosen=(rail,))
    if fit:
        job = typed(job, f"add insert tube {rail}, at 600, {fit}")
    verdict = rules.judge_rules(job)[0]
    assert (verdict.state, verdict.by) == (state, by if by is None else pytest.approx(by))


@pytest.mark.parametrize(
    ("rule", "state", "measured"),
    [
        ("rule bend role main hoop, radius 110: x", "pass", 114),
        ("rule bend role main hoop, radius 120: x", "fail", 114),
        ("rule bend role main hoop, radius 100, count 1: x", "fail", 2),
        ("rule brace angle role main hoop, least 0, most 80: x", "fail", math.pi / 2),
        ("rule attachment role hoop brace, to main hoop, most 50: x", "pass", 0),
    ],
)
def test_rules_judge_real_bends_and_what_is_joined_to_them(rule: str, state: str, measured: float) -> None:
    job = typed(
        Job(), "die 38 clr 114", "hoop main 38 x 2 height 1050 width 1100 at -1400 200", "joint -2200 400 250", rule
    )
    job = typed(job, "split 1300", chosen=("T1",))
    high = max((j for j in job.joints if j.y > 0), key=lambda j: j.z)
    job = typed(job, f"tube J2L {high.id} 32 x 2", "role hoop brace")
    verdict = rules.judge_rules(job)[0]
    assert (verdict.state, verdict.measured) == (state, pytest.approx(measured, abs=0.01))


def test_a_plate_laid_flat_keeps_its_lengths_and_tells_its_warp() -> None:
    corners = np.array([[0, 0, 0], [300.0, 0, 0], [300, 200, 40], [0, 200, 0]])
    flat, warp = flattened(corners)
    assert warp == pytest.approx(10, rel=0.05)
    plate = Flat(np.array([[0, 0], [30.0, 0], [0, 40]]))
    assert (plate.area, plate.edge) == (600, pytest.approx(120))
    np.testing.assert_allclose(plate.middle, [10, 40 / 3])
    assert Flat(flat).gross == pytest.approx(300 * 200, rel=0.02)


def test_an_insert_that_joins_two_tubes_must_go_into_both(box: Job) -> None:
    rail = _tube(box, "J1L", "J3L")
    job = typed(box, "joint -2000 300 200", "tube J3L J5L 30 x 2.5")
    with pytest.raises(
        Problem, match=r"An insert of 26.8 mm does not go into T\d+L: its bore is 25 mm. One of 24.8 mm slides in"
    ):
        understand(f"add insert tube {rail}, at 1200, od 26.8, wall 2, depth 50", job)
    assert understand(f"add insert tube {rail}, at 1100, od 26.8, wall 2, depth 50", job).job.fittings
    square = typed(job, "section 30 x 30 x 2", chosen=(job.tubes[-1].id,))
    with pytest.raises(Problem, match="and an insert is round"):
        understand(f"add insert tube {rail}, at 1200, od 26.8, wall 2, depth 50", square)


def test_a_cap_stays_at_its_end_when_its_tube_is_split_and_goes_with_its_joint(box: Job) -> None:
    rail = _tube(box, "J1L", "J3L")
    job = typed(box, f"add cap joint J3L, tube {rail}, thickness 2")
    split = understand("split", job, (rail,)).job
    cap = split.fitting_by_id["F1L"]
    assert cap.tube != rail  # type: ignore[union-attr]
    assert "J3L" in split.tube_by_id[cap.tube].ends  # type: ignore[union-attr]
    np.testing.assert_allclose(fittings.fitting_facts(split)[0].place, box.joint_by_id["J3L"].place)
    assert edits.delete(job, ["J3L"]).fittings == ()


def test_pieces_in_one_place_and_a_plate_longer_than_its_tube_are_snags(box: Job) -> None:
    rail = _tube(box, "J1L", "J3L")
    job = typed(
        box,
        f"add insert tube {rail}, at 400, od 26.5, wall 2, depth 60",
        f"add crush tube tube {rail}, at 450, od 16, bore 10",
        f"add slip joint tube {rail}, at 700, od 26.5, wall 2, engaged 60",
        f"add fish plate tube {rail}, at 600, length 1400, depth 30, thickness 3",
    )
    said = [plain(s.what) for s in find_snags(job) if s.code in ("in one place", "too long a plate")]
    assert f"Insert F1L and crush tube F2L are in one place in {rail}, over 16.0 mm." in said
    assert f"Fish plate F4L is 1400.0 mm long and reaches past both ends of {rail}, which is 1200.0 mm." in said
    assert not any("F3L" in words for words in said)
    mended = typed(job, "add F2L at 480", "add F4L length 900")
    assert not [s for s in find_snags(mended) if s.code in ("in one place", "too long a plate")]


def test_holes_in_a_tube_leave_what_a_drill_leaves_and_strength_knows_it(box: Job) -> None:
    rail = _tube(box, "J1L", "J3L")  # 30 x 1.5 round
    job = understand(f"add tube holes tube {rail}, at 100, diameter 10, count 3, pitch 50", box).job
    made = fittings.fitting_facts(job)[0]
    inner, outer, d = 13.5, 15.0, 10.0

    def segment(r: float) -> float:  # what a slot as wide as the drill takes of a disc, through both sides of it
        return 2 * (d / 2 * math.sqrt(r * r - d * d / 4) + r * r * math.asin(d / 2 / r))

    share = 1 - (segment(outer) - segment(inner)) / (math.pi * (outer**2 - inner**2))
    assert made.left < share  # bending across the holes loses more than pull does
    assert f"leaves {share:.0%} of the strength in pull" in plain(made.words)
    assert made.kg == pytest.approx(-3 * 2 * math.pi * 25 * 1.5 * STEEL, rel=1e-6)
    assert stiffness.torsion_of(job) < stiffness.torsion_of(box)
    assert fittings.strength_left(job)[rail] == made.left


@pytest.mark.parametrize("walls", [1, 2])
def test_a_section_with_a_hole_is_the_rectangles_that_are_left(walls: int) -> None:
    whole, d = (40.0, 60.0, 2.0), 12.0  # width, height, wall
    net = net_section(Rect(*whole), d, (0.0, 1.0), walls)
    area = 40 * 60 - 36 * 56 - walls * d * 2
    gross = 40 * 60 - 36 * 56
    middle = -d * 2 * 29 / area if walls == 1 else 0.0
    about = (40 * 60**3 - 36 * 56**3) / 12 - walls * (d * 2**3 / 12 + d * 2 * 29**2) - area * middle**2
    assert net.area == pytest.approx(area / gross, rel=1e-9)
    assert net.i_y == pytest.approx(about / ((40 * 60**3 - 36 * 56**3) / 12), rel=1e-9)
    assert net.bending <= about / (30 - middle) / ((40 * 60**3 - 36 * 56**3) / 12 / 30) + 1e-9


def test_a_fish_plate_follows_its_kick_into_the_next_tube() -> None:
    job = typed(
        Job(),
        "joint 0 300 200",
        "joint -400 300 200",
        "joint -700 300 400",
        "tube J1L J2L 60 x 40 x 3",
        "tube J2L J3L 60 x 40 x 3",
        "add fish plate tube T1L, at 400, length 300, depth 50, thickness 4, ends square",
    )
    made = fittings.fitting_facts(job)[0]
    kick = math.degrees(math.atan2(200, 300))
    assert made.flat
    assert made.flat.area == pytest.approx(300 * 50, rel=1e-9)  # what the mitre takes inside it gives outside
    assert f"kicked {kick:.1f}°" in made.words
    assert {(s.tube, round(s.start), round(s.stop)) for s in made.stiffens} == {("T1L", 250, 400), ("T2L", 0, 150)}
    corners = np.array(made.shown)
    assert corners[:, 1] == pytest.approx(300)  # in the plane of the kick
    way = np.array([-300, 200]) / math.hypot(300, 200)
    end = np.array([-400, 200]) + 150 * way
    far = corners[np.argsort(corners[:, 0])[:2]][:, [0, 2]]
    np.testing.assert_allclose(far.mean(axis=0), end, atol=1e-6)
    tight = fittings.fitting_facts(typed(job, "add F1L length 12"))[0]
    assert "has no room to turn" in plain(tight.problem)


def test_a_bolted_tube_ends_square_short_of_its_rail_and_comes_off(box: Job) -> None:
    up, rail = _tube(box, "J1L", "J2L"), _tube(box, "J1L", "J3L")
    job = understand(f"add flange joint J1L, tube {up}, width 90, height 60, thickness 5, hole 8.5", box).job
    made = fittings.fitting_facts(job)[0]
    assert made.kg == pytest.approx(2 * 5 * (90 * 60 - 4 * math.pi * 8.5**2 / 4) * STEEL, rel=1e-6)
    piece = pieces.answer(job).piece(up)
    end = piece.first if piece.first.joint == "J1L" else piece.second
    assert (end.kind, end.trims) == ("square", ())
    assert end.profile.bar == pytest.approx(15 + 2 * 5)  # half the rail, which it meets square, and both plates
    assert not comes_off(job)
    job = understand(f"add flange joint J2L, tube {up}, width 90, height 60, thickness 5, hole 8.5", job).job
    assert comes_off(job) == {up, job.twin_tube(job.tube_by_id[up]).id}  # type: ignore[union-attr]
    assert all(e.tube != up for e in tube_ends(job))
    with pytest.raises(Problem, match="do not fit beside"):
        understand(f"add flange joint J3L, tube {rail}, width 40, height 40, thickness 5, hole 8.5", box)


def test_rows_of_crush_tubes_bolted_sheet_and_slip_joints_with_travel(box: Job) -> None:
    rail = _tube(box, "J1L", "J3L")
    row = f"add crush tube tube {rail}, at 100, od 20, bore 10, shape square, count 3, pitch 150"
    made = fittings.fitting_facts(understand(row, box).job)[0]
    assert made.kg == pytest.approx(3 * (20**2 - math.pi * 25) * 30 * STEEL, rel=1e-6)
    with pytest.raises(Problem, match="needs a pitch of more than"):
        understand(row.replace("150", "15"), box)
    sheet = understand("add panel joints J1L J2L J4L J3L, thickness 1.5, fixing bolted, pitch 150", box).job
    assert "20 bolts" in plain(fittings.fitting_facts(sheet)[0].words)  # 3000 mm round
    slip = f"add slip joint tube {rail}, at 400, od 26.5, wall 2, engaged 60, least 40, most 95"
    assert "goes from 40 to 95 in, 55 of travel" in plain(fittings.fitting_facts(understand(slip, box).job)[0].words)
    with pytest.raises(Problem, match="can't go from"):
        understand(slip.replace("engaged 60", "engaged 30"), box)


def test_fish_plates_go_over_every_chosen_joint_of_a_rail_at_once() -> None:
    job = typed(
        Job(),
        "joint 0 300 200",
        "joint -400 300 200",
        "joint -700 300 400",
        "joint -1000 300 400",
        "tube J1L J2L J3L J4L 60 x 40 x 3",
    )
    done = understand("add fish plate length 200, depth 50, thickness 4", job, ("J2L", "J2R", "J3L"))
    assert done.name == "Add 4 fish plates"
    assert {round(f.at) for f in done.job.fittings} <= {0, 361, 400}
    assert all("kicked 33.7°" in f.words for f in fittings.fitting_facts(done.job))
    with pytest.raises(Problem, match="No tube goes on through J1L"):
        understand("add fish plate length 200, depth 50, thickness 4", job, ("J1L",))


def test_sheet_is_cut_out_round_a_tube_that_passes_through_it(box: Job) -> None:
    job = typed(
        box,
        "joint -400 0 100 alone",
        "joint -500 0 700 alone",
        "tube J5 J6 30 x 2",
        "add panel joints J1L J1R J3R J3L, thickness 1.5",
    )
    made = fittings.fitting_facts(job)[0]
    assert made.flat
    lean = math.atan2(100, 600)
    ellipse = math.pi * 16 * 16 / math.cos(lean)  # 15 and 1 of room round it
    assert made.flat.area == pytest.approx(600 * 1200 - ellipse, rel=1e-5)
    assert len(made.flat.openings) == 1
    assert "cut out for T" in plain(made.words)
    cut = [i for i in fitting_plate(job, "F1").items if isinstance(i, SheetPath) and i.weight == "cut"]
    assert len(cut) == 2
    through_rim = typed(job, "x -1195", chosen=("J5",))
    through_rim = typed(through_rim, "x -1195", chosen=("J6",))
    assert fittings.fitting_facts(through_rim)[0].flat.openings == ()  # type: ignore[union-attr]
    assert fittings.fitting_facts(through_rim)[0].flat.area < 600 * 1200 - 100  # type: ignore[union-attr]


def test_one_fitting_after_another_is_put_on_the_same_tube(box: Job) -> None:
    rail = _tube(box, "J1L", "J3L")
    job = typed(box, rail, "add tube holes at 200, diameter 8", "add slot joint J1L, depth 30, thickness 3")
    assert {f.tube for f in job.fittings if f.id.endswith("L")} == {rail}  # type: ignore[union-attr]
