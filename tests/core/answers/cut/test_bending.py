"""Bend cards: marks, angles and turns against shapes worked out by hand, the end to start from, and their paper."""

import math

import numpy as np
import pytest

from ironcage.core.answers.cut.bending import BendCard, bend_cards, words
from ironcage.core.answers.cut.markout import marks, spots
from ironcage.core.answers.cut.pieces import answer
from ironcage.core.calc.tubes.centreline import Route, from_card
from ironcage.core.exchange.bending import bend_sheet, outside_sheet
from ironcage.core.exchange.drawing import Path, Sheet, SheetWords
from ironcage.core.exchange.piecewords import spot_words
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from ironcage.units import Units
from tests.core.lines import typed

STUFF = "38 x 2 round", "Drawn mild steel tube"
DIE = "die 45 clr 135 grip 90 springback 4%"


@pytest.fixture
def hoop() -> Job:
    """A hoop of 45, 900 between its feet and 1100 high, leaning back 8°, with two right bends of 135."""
    return typed(Job(), DIE, "hoop main 45 x 2.5 height 1100 width 900 lean 8 at -1200 200")


def _card(job: Job) -> BendCard:
    (card,) = bend_cards(job)
    return card


def _apart(route: Route) -> np.ndarray:
    """How far the corners of a route are from each other."""
    return np.linalg.norm(route.points[:, None] - route.points, axis=2)


def _drawn(sheet: Sheet) -> np.ndarray:
    """Every point of what is cut or laid on, mm on the paper."""
    return np.vstack([i.points for i in sheet.items if isinstance(i, Path) and i.weight == "cut"])


def _read(sheet: Sheet) -> str:
    return " ".join(i.text for i in sheet.items if isinstance(i, SheetWords))


def test_a_card_makes_the_shape_that_it_was_taken_from() -> None:
    rng = np.random.default_rng(3)
    for _ in range(30):
        corners = int(rng.integers(1, 6))
        points = np.cumsum(rng.uniform(-1, 1, (corners + 2, 3)) * 100 + [400, 0, 0], axis=0)
        route = Route(points, float(rng.uniform(20, 60)))
        if min(route.straights) < 0:
            continue
        made = from_card([float(s) for s in route.straights], [(b.angle, b.clock) for b in route.bends], route.radius)
        np.testing.assert_allclose(_apart(made), _apart(route), atol=1e-6)
        assert (
            np.linalg.det(np.diff(made.points, axis=0)[:3])
            == pytest.approx(  # and not its mirror image
                np.linalg.det(np.diff(route.points, axis=0)[:3]), abs=1e-3 * 400**3
            )
            if corners >= 2
            else True
        )
        assert made.length == pytest.approx(route.length)


def test_a_hoop_is_marked_and_turned_as_by_hand(hoop: Job) -> None:
    card = _card(hoop)
    quarter = 135 * math.pi / 2
    one, two = card.steps
    leg = card.line.straights[0]
    assert one.mark == pytest.approx(leg)
    assert two.mark == pytest.approx(leg + quarter + 900 - 2 * 135)
    assert [math.degrees(s.machine) for s in card.steps] == pytest.approx([90 / 0.96] * 2)
    assert (math.degrees(two.rotate), card.below) == (pytest.approx(0, abs=1e-6), pytest.approx(0, abs=1e-6))
    assert card.length == pytest.approx(2 * leg + 2 * quarter + 630)
    assert leg == pytest.approx(card.line.straights[-1])
    assert leg == pytest.approx(1100 - 135)  # the height is along its plane
    assert card.swing == pytest.approx(math.hypot(leg, 630 + 135))  # of the first foot from the second bend's middle
    read = [plain(w) for w in words(card)]
    assert read[0] == f"Cut to {card.length:.1f} mm. Start from {card.start}."
    assert read[1] == f"1: mark {one.mark:.1f} mm, bend 90.0° (machine to 93.8°)"
    assert read[-1].startswith("What is bent swings ")


def test_the_end_from_which_less_swings_is_started_from_and_short_ends_are_cut_longer() -> None:
    job = typed(Job(), "die 38 clr 100 grip 120", "joint 0 0 300 alone", "joint -1500 600 300 alone")
    job = edits.add_tube(job, "J1", "J2", "38 x 2 round", "Drawn mild steel tube")
    job = edits.shape(job, "T1", np.array([(-150.0, 0.0, 300.0), (-150.0, 600.0, 300.0)]), 100.0)
    card = _card(job)
    assert card.start == "J1"  # its first leg is 50, the other 1250
    assert card.head == pytest.approx(120 - 50)
    assert card.tail == 0
    assert card.steps[0].mark == pytest.approx(120)
    assert card.length == pytest.approx(50 + 70 + 400 + 1250 + 100 * math.pi)
    assert "70.0 mm more at J1 to hold it by" in plain(next(words(card)))
    assert math.degrees(card.steps[1].rotate) % 360 == pytest.approx(180)  # a step: the other way
    tight = typed(job, "die 38 clr 100 grip 450")
    assert plain(_card(tight).problems[0]) == "400.0 mm between bends 1 and 2, and the die needs 450 mm"
    none = typed(job, "die 38 clr 100 gone")
    assert plain(_card(none).problems[0]) == "no die of 100 mm radius for 38 x 2 round is on the shelf"


def test_a_tube_is_started_from_the_end_from_which_it_clears_the_bender() -> None:
    """A step of 600. At its second bend 400 of straight, the first bend and a leg of 120 are bent already, and the die
    stands 100 aside of the tube, away from that leg. From J2 the leg is 1250."""
    job = typed(Job(), "die 38 clr 100 grip 120", "joint 0 0 300 alone", "joint -1500 600 300 alone")
    job = edits.add_tube(job, "J1", "J2", "38 x 2 round", "Drawn mild steel tube")
    job = edits.shape(job, "T1", np.array([(-150.0, 0.0, 300.0), (-150.0, 600.0, 300.0)]), 100.0)
    free = _card(job)
    assert free.swing == pytest.approx(math.hypot(400 + 100, 100 + 100 + 120))
    roomy = _card(typed(job, "die 38 clr 100 room 1000"))
    assert (roomy.start, roomy.problems) == ("J1", ())
    assert "From the other end what is bent swings" in "".join(plain(line) for line in words(roomy))
    tight = _card(typed(job, "die 38 clr 100 room 500"))
    assert "and there is room for 500 mm" in plain(tight.problems[-1])


def test_a_tube_that_would_reach_the_floor_is_started_from_its_other_end() -> None:
    """Two bends in planes at right angles, a long leg and a short one: one leg goes below the plane of bending."""
    job = typed(Job(), "die 38 clr 100", "joint 0 0 300 alone", "joint -700 800 1100 alone")
    job = edits.add_tube(job, "J1", "J2", "38 x 2 round", "Drawn mild steel tube")
    job = edits.shape(job, "T1", np.array([(-700.0, 0.0, 300.0), (-700.0, 800.0, 300.0)]), 100.0)
    free = _card(job)
    flush = _card(typed(job, "die 38 clr 100 under 0"))
    assert flush.below <= free.below
    assert bool(flush.blocked) == (flush.below > 1)
    deep = typed(job, f"die 38 clr 100 under {max(flush.below, 1):.0f}")
    assert _card(deep).problems == ()


def test_the_outline_is_drawn_as_large_as_the_tube_and_the_sheet_for_outside_asks_for_the_same(hoop: Job) -> None:
    name = _card(hoop).piece
    size = np.ptp(_drawn(bend_sheet(hoop, name)), axis=0)
    assert sorted(size) == pytest.approx(sorted([945.0, _card(hoop).line.straights[0] + 135 + 22.5]), abs=0.1)
    job = typed(hoop, "rule tube size role main hoop, od 45, wall 2.5: the hoop is of one piece")
    said = _read(outside_sheet(job, name))
    assert "In the car its plane leans 8.0° from plumb." in said
    assert "the hoop is of one piece" in said
    assert "over all, along that, outside 945.0 mm" in said
    assert "bend 2 90.0° ± 0.5°" in said
    inches = _read(outside_sheet(typed(job, "units inch"), name))
    assert '37 3/16"' in inches
    with pytest.raises(Problem, match="is not bent"):
        bend_sheet(edits.add_tube(edits.add_joint(job, (0.0, 300.0, 200.0)), "J1L", "J2L", *STUFF), "T2L")


def test_a_tube_that_leaves_its_plane_is_drawn_from_two_sides(hoop: Job) -> None:
    job = edits.shape(
        hoop, "T1", np.array([(-1200.0, 450.0, 900.0), (-1500.0, 0.0, 1100.0), (-1200.0, -450.0, 900.0)]), 135.0
    )
    assert bend_sheet(job, "T1").height > bend_sheet(hoop, "T1").height * 0.4
    outlines = [i for i in bend_sheet(job, "T1").items if isinstance(i, Path) and i.weight == "cut"]
    assert len(outlines) == 2


def test_what_lands_on_a_piece_is_marked_from_its_square_end() -> None:
    job = typed(Job(), "joint 0 0 300 alone", "joint -1000 0 300 alone", "joint -400 0 300 alone")
    job = typed(job, "joint -400 0 700 alone", "joint -400 500 300 alone")
    for a, b, section in (
        ("J1", "J3", "38 x 2 round"),
        ("J3", "J2", "38 x 2 round"),
        ("J3", "J4", "30 x 1.5 round"),
        ("J3", "J5", "30 x 1.5 round"),
    ):
        job = edits.add_tube(job, a, b, section, "Drawn mild steel tube")
    up, left = marks(job, answer(job).piece("T1"))
    assert (up.joint, up.tube, left.tube) == ("J3", "T3", "T4")
    assert (up.at, left.at) == (pytest.approx(400), pytest.approx(400))
    assert up.clock == 0  # the first that is marked
    assert math.degrees(left.clock or 0) == pytest.approx(90)  # the rail runs back: left is a quarter clockwise from up
    assert marks(job, answer(job).piece("T3")) == ()


def test_holes_and_fittings_are_marked_from_the_square_end_of_their_piece() -> None:
    job = typed(Job(), "joint 0 0 300 alone", "joint -1000 0 300 alone", "joint -400 0 300 alone")
    for a, b in (("J1", "J3"), ("J2", "J3")):  # one piece, whose second tube runs against it
        job = edits.add_tube(job, a, b, "38 x 2 round", "Drawn mild steel tube")
    job = typed(job, "add tube holes tube T2, at 100, diameter 12, count 3, pitch 50")
    job = typed(job, "add tube holes tube T1, at 150, diameter 6, clock 90, walls 1")
    job = typed(job, "add tab tube T1, at 250, width 30, height 45, thickness 5, hole 10, clock -90")
    job = typed(job, "add crush tube tube T2, at 450, od 15, bore 10, clock 180")
    piece = answer(job).piece("T1")
    assert piece.tubes == ("T1", "T2")
    drain, tab, crush, lightened = spots(job, piece)
    assert drain.at == (pytest.approx(150),)
    assert tab.at == (pytest.approx(250),)
    assert crush.at == (pytest.approx(550),)  # 450 from the far end of 1000
    assert lightened.at == pytest.approx((800, 850, 900))
    assert (drain.zero, drain.clock) == (drain.fitting, 0)  # both ends square and nothing lands
    assert math.degrees(crush.clock or 0) == pytest.approx(90)
    assert math.degrees(tab.clock or 0) == pytest.approx(180)
    assert math.degrees(lightened.clock or 0) == pytest.approx(270)  # on top, and the drain a quarter clockwise of it
    shown = spot_words(job, piece, Units())
    assert "from the square end at J1" in shown
    assert "at 800.0 850.0 900.0: 12 mm holes through, 270° clockwise from" in shown


def test_a_die_keeps_what_is_not_typed_anew() -> None:
    job = typed(Job(), DIE, "die 45 clr 135 springback 5%")
    assert (job.shelf.dies[0].grip, job.shelf.dies[0].springback) == (90, 0.05)
    with pytest.raises(Problem):
        understand("die 45 clr 135 springback 90%", job)
