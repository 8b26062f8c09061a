"""Tabs: their hole where it is wanted, their bolt where it points, their foot cut to the tube, on both sides."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.frame import find_pivots
from ironcage.core.answers.shared.fitted.shop import Fitted
from ironcage.core.answers.shared.fittings import fitting_facts
from ironcage.core.exchange.drawing import SheetCircle
from ironcage.core.exchange.plate import fitting_plate
from ironcage.core.job import edits
from ironcage.core.job.edits.joints import put_at
from ironcage.core.job.geometry.tabs import tab_stand
from ironcage.core.job.text import understand
from ironcage.core.job.values.fittings import Tab
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed

LOW = "width 26, height 40, thickness 4, hole 10"
PLATE = "width 24, height 90, thickness 4, hole 10"


@pytest.fixture
def rails(box: Job) -> Job:
    """The box with two loose joints outside its lower rail, which is 30 mm round: J5L, and J6L further back."""
    return edits.add_joint(edits.add_joint(box, (-300.0, 350.0, 215.0)), (-420.0, 345.0, 220.0))


def _rail(job: Job) -> str:
    return job.tube_by_ends[frozenset(("J1L", "J3L"))].id


def _tab(job: Job, name: str) -> Tab:
    tab = job.fitting_by_id[name]
    assert isinstance(tab, Tab)
    return tab


def _made(job: Job, name: str) -> Fitted:
    return next(f for f in fitting_facts(job) if f.id == name)


def _off_surface(made: Fitted) -> np.ndarray:
    """How far the foot of a tab on the lower left rail is off the rail's surface: it runs along x at y 300, z 200."""
    foot = np.array(made.shown)[:-2]
    return np.hypot(foot[:, 1] - 300, foot[:, 2] - 200) - 15


def test_a_tab_carries_a_hole_in_space_and_follows_it_with_its_foot_on_the_tube(rails: Job) -> None:
    job = typed(rails, f"add tab tube {_rail(rails)}, carries J5L, axis J6L, {PLATE}")
    for place in ((-300.0, 350.0, 215.0), (-250.0, 340.0, 170.0)):
        job = put_at(job, {"J5L": place})
        stand, made = tab_stand(job, _tab(job, "F1L")), _made(job, "F1L")
        np.testing.assert_allclose(stand.hole, place)
        towards = np.array([-420.0, 345.0, 220.0]) - place
        np.testing.assert_allclose(stand.bolt, towards / np.linalg.norm(towards))
        corners = np.array(made.shown)
        np.testing.assert_allclose((corners - stand.hole) @ stand.bolt, 0, atol=1e-9)  # all in the plane of the plate
        np.testing.assert_allclose(_off_surface(made), 0, atol=1e-9)
        assert made.flat is not None
        x, y, _ = made.flat.holes[0]
        foot = made.flat.outline[np.abs(made.flat.outline[:-2, 0]).argmin()]
        assert (x, y) == (0, pytest.approx(stand.reach))
        assert foot[1] == pytest.approx(0, abs=1e-9)  # reach is told from the face under the hole
        other = tab_stand(job, _tab(job, "F1R"))
        np.testing.assert_allclose(other.hole, stand.hole * [1, -1, 1])
        np.testing.assert_allclose(np.abs(other.bolt), np.abs(stand.bolt))


@pytest.mark.parametrize(
    ("words", "off", "bolt"),
    [
        ("", (0, 0, 1), (0, 1, 0)),
        ("clock 90", (0, 1, 0), (0, 0, 1)),  # the rail runs back from its first joint, so clockwise is to the left
        ("clock -90°", (0, -1, 0), (0, 0, 1)),
        ("clock 180, bolt along", (0, 0, -1), (1, 0, 0)),
    ],
)
def test_a_tab_stands_at_its_clock_round_the_tube(
    box: Job, words: str, off: tuple[float, ...], bolt: tuple[float, ...]
) -> None:
    job = typed(box, f"add tab tube {_rail(box)}, at 400, width 24, height 45, thickness 4, hole 10, reach 25, {words}")
    stand = tab_stand(job, _tab(job, "F1L"))
    np.testing.assert_allclose(stand.off, off, atol=1e-12)
    np.testing.assert_allclose(np.abs(stand.bolt), bolt, atol=1e-12)
    np.testing.assert_allclose(stand.hole, np.array([-400, 300, 200]) + 40 * np.array(off), atol=1e-9)
    np.testing.assert_allclose(_off_surface(_made(job, "F1L")), 0, atol=1e-9)
    right = tab_stand(job, _tab(job, "F1R"))
    np.testing.assert_allclose(right.hole, stand.hole * [1, -1, 1], atol=1e-9)


def test_plates_of_a_stack_that_stand_unlike_are_each_cut_to_their_own_foot(rails: Job) -> None:
    job = typed(rails, f"add tab tube {_rail(rails)}, carries J5L, axis J6L, {PLATE}, tabs 2, gap 12")
    made = _made(job, "F1L")
    assert made.flat is not None
    assert len(made.unlike) == 1
    assert made.kg == pytest.approx(4 * 7850e-9 * (made.flat.area + made.unlike[0].area))
    holes = [i for i in fitting_plate(job, "F1L").items if isinstance(i, SheetCircle)]
    assert len(holes) == 2
    straight = typed(rails, f"add tab tube {_rail(rails)}, at 400, {PLATE}, tabs 2, gap 12")
    assert not _made(straight, "F1L").unlike
    assert len([i for i in fitting_plate(straight, "F1L").items if isinstance(i, SheetCircle)]) == 1


def test_holes_on_one_pivot_are_told_from_holes_that_would_bind(rails: Job) -> None:
    rail = _rail(rails)
    both = typed(
        rails,
        f"add tab tube {rail}, carries J5L, axis J6L, {PLATE}",
        f"add tab tube {rail}, carries J6L, axis J5L, {PLATE}",
    )
    left = next(p for p in find_pivots(both) if p.first.endswith("L"))
    assert {left.first, left.second} == {"F1L", "F2L"}
    assert left.apart == pytest.approx(math.dist((-300, 350, 215), (-420, 345, 220)))
    assert left.off == pytest.approx(0, abs=1e-9)
    assert not left.binds
    moved = put_at(both, {"J5L": (-310.0, 360.0, 225.0)})
    assert not any(p.binds for p in find_pivots(moved))  # they follow
    along = "bolt along, width 20, height 50, thickness 4, hole 10"
    crooked = typed(
        rails,
        f"add tab tube {rail}, at 200, {along}, reach 30",
        f"add tab tube {rail}, at 500, {along}, reach 32",
    )
    found = next(p for p in find_pivots(crooked) if p.first.endswith("L"))
    assert (found.apart, found.off, found.lean) == (pytest.approx(300), pytest.approx(2), pytest.approx(0))
    assert found.binds
    said = [plain(s.what) for s in find_snags(crooked) if s.code == "pivot binds"]
    assert said[0].startswith("The holes of F1L and F2L are on one pivot but 2.00 mm and 0.0° out of line")
    assert not [s for s in find_snags(both) if s.code in ("pivot binds", "loose joint")]
    assert find_pivots(rails) == ()


@pytest.mark.parametrize(
    ("line", "says"),
    [
        (
            f"carries J5L, {LOW}",
            "J5L is 37.2 mm off {rail}, and a tab of 40.0 mm does not reach round it. Write for example: height 51",
        ),
        (f"carries J1L, {LOW}", "J1L is inside {rail}, or less than half a hole off its face"),
        (f"at 400, axis J6L, {LOW}", "The bolt points at J6L, and no joint is named that its hole is at"),
        (f"carries J5L, axis J5L, {PLATE}", "J5L and J5L are at one place"),
        (f"carries J99, {PLATE}", "There is no joint ‘J99’"),
        (f"at 400, clock round, {PLATE}", "‘round’"),
    ],
)
def test_a_tab_that_can_not_be_made_is_refused(rails: Job, line: str, says: str) -> None:
    with pytest.raises(Problem) as no:
        understand(f"add tab tube {_rail(rails)}, {line}", rails)
    assert says.format(rail=_rail(rails)) in str(no.value)


def test_a_tab_that_no_longer_reaches_is_a_snag_and_goes_with_the_joint_that_it_carries(rails: Job) -> None:
    job = typed(rails, f"add tab tube {_rail(rails)}, carries J5L, axis J6L, {PLATE}")
    away = put_at(job, {"J5L": (-300.0, 450.0, 215.0)})
    assert "F1L is 90.0 mm high and does not reach round its hole" in plain(_made(away, "F1L").problem)
    inside = put_at(job, {"J5L": (-300.0, 301.0, 200.0)})
    assert "J5L is inside" in plain(_made(inside, "F1L").problem)
    assert {f.id for f in edits.delete(job, ["J6L"]).fittings} == set()


def test_a_braced_tab_has_two_triangles_more_to_cut_and_to_weld(box: Job) -> None:
    rail = box.tube_by_ends[frozenset(("J1L", "J3L"))].id
    line = f"add tab tube {rail}, at 400, width 40, height 50, thickness 4, hole 10, reach 30, tabs 2, gap 30"
    plain_tab, braced = (fitting_facts(typed(box, line + more))[0] for more in ("", ", brace 25"))
    assert braced.count == plain_tab.count + 2
    assert braced.kg - plain_tab.kg == pytest.approx(2 * 25 * 25 / 2 * 4 * 7850e-9)
    assert "braced by 2 triangles 25 x 25" in plain(braced.words)
    with pytest.raises(Problem, match="higher than its tab"):
        typed(box, line + ", brace 80")
