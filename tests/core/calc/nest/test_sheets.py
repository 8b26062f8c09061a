"""Plates on sheets: none over another or over the rim, every one there, and as few sheets as can be told by hand."""

import random
from itertools import combinations

import pytest

from ironcage.core.answers.cut.sheets import find_sheets
from ironcage.core.calc.nest.sheets import SheetLayout, lay_on_sheets
from ironcage.core.exchange.drawing import Path, SheetCircle
from ironcage.core.exchange.plate import plates_drawing
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed


def _boxes(layout: SheetLayout, sizes: list[tuple[float, float]]) -> list[list[tuple[float, float, float, float]]]:
    """Left, low, right and high of every plate, by sheet."""
    made = []
    for sheet in layout.sheets:
        here = []
        for p in sheet:
            w, h = sizes[p.plate][::-1] if p.turned else sizes[p.plate]
            here.append((p.x, p.y, p.x + w, p.y + h))
        made.append(here)
    return made


@pytest.mark.parametrize("seed", range(12))
def test_plates_keep_the_gap_and_the_edge_and_none_is_lost(seed: int) -> None:
    rng = random.Random(seed)
    sizes = [(rng.uniform(20, 900), rng.uniform(20, 400)) for _ in range(60)]
    layout = lay_on_sheets(sizes, (2000, 1000), 6, 10)
    assert sorted(p.plate for sheet in layout.sheets for p in sheet) == list(range(60))
    for sheet in _boxes(layout, sizes):
        for left, low, right, high in sheet:
            assert left >= 10 - 1e-6
            assert low >= 10 - 1e-6
            assert right <= 1990 + 1e-6
            assert high <= 990 + 1e-6
        for a, b in combinations(sheet, 2):
            apart = max(b[0] - a[2], a[0] - b[2], b[1] - a[3], a[1] - b[3])
            assert apart >= 6 - 1e-6
    assert layout.bound <= len(layout.sheets) <= layout.bound + 2


def test_what_fills_a_sheet_exactly_takes_one_and_what_is_too_large_is_refused() -> None:
    eight = [(480.0, 490.0)] * 8
    assert len(lay_on_sheets(eight, (2000, 1020), 20, 10).sheets) == 1
    assert len(lay_on_sheets([*eight, (10.0, 10.0)], (2000, 1020), 20, 10).sheets) == 2
    upright = lay_on_sheets([(900.0, 1900.0)], (2000, 1000), 6, 10)
    assert upright.sheets[0][0].turned
    with pytest.raises(Problem, match=r"A plate of 2100.0 mm x 100.0 mm does not fit a sheet of 2000 x 1000"):
        lay_on_sheets([(2100, 100)], (2000, 1000), 6, 10)
    assert lay_on_sheets([], (2000, 1000), 6, 10).sheets == ()


def test_the_plates_of_a_frame_are_counted_by_thickness_and_drawn_with_their_holes(box: Job) -> None:
    up, rail = (box.tube_by_ends[frozenset(ends)].id for ends in (("J1L", "J2L"), ("J1L", "J3L")))
    job = typed(
        box,
        f"add gusset tubes {up} {rail}, leg 75, thickness 2, plates 2",
        f"add tab tube {rail}, at 400, width 30, height 60, thickness 5, hole 10, reach 40, tabs 2, gap 20",
        "add panel joints J1L J2L J4L J3L, thickness 2",
    )
    thick, thin = find_sheets(job)
    assert (thick.thickness, len(thick.plates), len(thin.plates)) == (5, 4, 2 * 2 + 2)
    assert thick.layout is not None
    assert thick.kg == pytest.approx(2000 * 1000 * 5 * 7850e-9)
    drawing = plates_drawing(job)
    assert sum(isinstance(i, SheetCircle) for i in drawing.items) == 4
    assert sum(isinstance(i, Path) and i.weight == "cut" for i in drawing.items) == 10
    gusset = next(p for p in thin.plates if p.kind == "gusset")
    assert gusset.size[0] * gusset.size[1] == pytest.approx(60 * 60)  # two legs of 60: half of it is plate
    small = typed(job, "plates 500 x 400")
    assert any("does not fit a sheet of 500 x 400" in plain(of.problem) for of in find_sheets(small))
    with pytest.raises(Problem, match="There are no plates to lay out"):
        plates_drawing(box)
