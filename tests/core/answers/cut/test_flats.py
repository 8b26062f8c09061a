"""Flat parts of the builder's own, and which plates are of one hand."""

import math

import numpy as np
import pytest

from ironcage.core.answers.cut.sheets import find_sheets
from ironcage.core.answers.shared.fittings import fitting_facts
from ironcage.core.calc.plane.flats import Flat
from ironcage.core.exchange.drawing import SheetCircle, SheetWords
from ironcage.core.exchange.plate import fitting_plate, plate
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed

BRACKET = (
    "flat Bracket 0 0; 80 0; 80 40; 0 40 holes 15 20 dia 8; 65 20 dia 8 nut M8 thickness 4 count 2 handed "
    "of Drawn mild steel tube"
)


@pytest.mark.parametrize(
    ("outline", "holes", "handed"),
    [
        ([[0, 0], [80, 0], [80, 40], [0, 40]], (), False),
        ([[0, 0], [80, 0], [80, 40], [0, 40]], ((15.0, 20.0, 8.0),), False),  # on the middle line: turns over
        ([[0, 0], [80, 0], [80, 40], [0, 40]], ((15.0, 10.0, 8.0),), True),
        ([[0, 0], [80, 0], [80, 40], [0, 40]], ((15.0, 10.0, 8.0), (15.0, 30.0, 8.0)), False),
        ([[0, 0], [80, 0], [80, 40], [0, 40]], ((15.0, 10.0, 8.0), (15.0, 30.0, 6.0)), True),
        ([[0, 0], [80, 0], [30, 40]], (), True),  # no two sides alike
        ([[0, 0], [80, 0], [40, 40]], (), False),
    ],
)
def test_a_plate_is_handed_where_no_turning_makes_its_mirror_image(
    outline: list[list[float]], holes: tuple[tuple[float, float, float], ...], handed: bool
) -> None:
    turn = np.array([[0.8, -0.6], [0.6, 0.8]])
    places = np.array(outline, dtype=float) @ turn.T + [7, -3]
    turned = tuple((*(np.array([x, y]) @ turn.T + [7, -3]).tolist(), d) for x, y, d in holes)
    assert Flat(places, turned).handed is handed


def test_a_flat_part_goes_to_the_sheet_and_the_cutter_with_its_nuts(box: Job) -> None:
    job = typed(box, BRACKET)
    sheet = find_sheets(job)[0]
    assert sorted(p.name for p in sheet.plates) == [
        "Bracket.1",
        "Bracket.1, mirrored",
        "Bracket.2",
        "Bracket.2, mirrored",
    ]
    assert sheet.plates[0].size == pytest.approx((80, 40))
    drawn = plate(job, "bracket")
    assert len([i for i in drawn.items if isinstance(i, SheetCircle)]) == 2
    words = [plain(i.text) for i in drawn.items if isinstance(i, SheetWords)]
    assert "weld nuts M8: 4" in words
    assert "nut M8" in words
    assert not find_sheets(typed(job, "flat bracket gone"))


def test_a_shock_mount_has_holes_for_other_ride_heights(box: Job) -> None:
    rail = box.tube_by_ends[frozenset(("J1L", "J3L"))].id
    plain_tab = f"add tab tube {rail}, at 400, width 40, height 90, thickness 5, hole 10, reach 30"
    (one,) = [f for f in fitting_facts(typed(box, plain_tab)) if f.kind == "tab" and not f.id.endswith("R")]
    made = typed(box, f"{plain_tab}, more 2, pitch 18")
    (tab,) = [f for f in fitting_facts(made) if f.kind == "tab" and not f.id.endswith("R")]
    assert [round(y, 6) for _, y, _ in tab.flat.holes] == [30.0, 48.0, 66.0]
    assert one.kg - tab.kg == pytest.approx(2 * math.pi * 5**2 * 5 * 7.85e-6, rel=0.01)
    assert "hole 10, 2 more 18 apart" in plain(tab.words)
    for line, why in (
        ("more 2, pitch 9", "Holes of 10 mm that are 9 mm apart run into each other."),
        ("more 4, pitch 18", "A hole of 10 mm does not fit in a tab 40 x 90."),
    ):
        with pytest.raises(Problem) as refused:
            typed(box, f"{plain_tab}, {line}")
        assert plain(refused.value.what) == why
    high = typed(box, f"add tab tube {rail}, at 400, width 40, height 90, thickness 5, hole 10, more 2, pitch 18")
    (by_height,) = [f for f in fitting_facts(high) if f.kind == "tab" and not f.id.endswith("R")]
    assert [round(y, 6) for _, y, _ in by_height.flat.holes] == [34.0, 52.0, 70.0]  # the last as far in as it is wide


def test_laminated_tabs_have_a_second_plate_of_its_own_thickness_and_say_their_hand(box: Job) -> None:
    rail = box.tube_by_ends[frozenset(("J1L", "J3L"))].id
    line = f"add tab tube {rail}, at 400, width 40, height 50, thickness 6.35, hole 10, reach 30, laminate 3.175"
    job = typed(box, line)
    made = fitting_facts(job)[0]
    assert made.flat
    assert made.kg == pytest.approx(made.flat.area * (6.35 + 3.175) * 7850e-9)
    assert "laminated with 3.175 to 9.525" in plain(made.words)
    assert [s.thickness for s in find_sheets(job)] == [6.35, 3.175]
    up, across = (box.tube_by_ends[frozenset(ends)].id for ends in (("J1L", "J2L"), ("J1L", "J3L")))
    gusset = typed(box, f"add gusset joint J1L, tubes {up} {across}, leg 60, thickness 2")
    words = [plain(i.text) for i in fitting_plate(gusset, "F1L").items if isinstance(i, SheetWords)]
    assert not any("mirror image" in w for w in words)  # both legs alike: it can be turned over


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("flat Bracket 0 0; 80 0; 80 40", "is incomplete"),
        ("flat Bracket 0 0; 80 40; 80 0; 0 40 thickness 4", "crosses itself"),
        ("flat Bracket 0 0; 80 0; 80 40; 0 40 holes 2 20 dia 8 thickness 4", "reaches past"),
        ("flat Bracket 0 0; 80; 80 40 thickness 4", "is no corner"),
        ("flat Bracket 0 0; 80 0; 80 40 holes 15 20 thickness 4", "is no hole"),
        ("flat Bracket gone", "no flat part called"),
        (BRACKET.replace("Drawn mild steel tube", "Unobtainium"), "no material"),
    ],
)
def test_what_is_no_flat_part_is_refused(box: Job, line: str, says: str) -> None:
    with pytest.raises(Problem, match=says):
        understand(line, box)


def test_a_part_that_is_a_plate_carries_pickups_at_its_angle_and_is_cut_with_its_holes(box: Job) -> None:
    job = typed(
        box,
        "place plate Pickup plate outline -60 -40, 60 -40, 60 40, -60 40 by 6 at -200 250 300 mass 0.4",
        "set pitch 10",
        "hole upper at 0, 0, 25 dia 12",
        "hole lower at -40, 0, -25 dia 12",
    )
    part = job.parts[-1]
    made = next(p for of in find_sheets(job) for p in of.plates if p.kind == "part")
    assert made.size == pytest.approx((120, 80))
    assert len(made.holes) == 2
    joint = typed(job, f"joint at {part.id} upper").joints[-2]
    turn = np.radians(10)
    assert (joint.x, joint.z) == (pytest.approx(-200 + 25 * np.sin(turn)), pytest.approx(300 + 25 * np.cos(turn)))
    circles = [i for i in plate(job, part.id).items if isinstance(i, SheetCircle)]
    assert [round(2 * c.radius, 6) for c in circles] == [12, 12]
    assert len(find_sheets(typed(job, "mirror", chosen=(part.id,)))[0].plates) == 2
