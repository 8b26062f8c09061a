"""Ends that are pressed flat or slotted: how long the bar is, how wide the flat, and where the slots are on paper."""

import math

import numpy as np
import pytest

from ironcage.core.answers.cut import pieces
from ironcage.core.answers.cut.markout import spots
from ironcage.core.answers.shared.fittings import fitting_facts
from ironcage.core.exchange.drawing import Path
from ironcage.core.exchange.templates import MARGIN_MM, template
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed


def _strut(job: Job) -> str:
    return job.tube_by_ends[frozenset(("J1L", "J2L"))].id


def test_a_flattened_end_is_square_past_its_joint_and_as_wide_as_half_the_girth(box: Job) -> None:
    up = _strut(box)
    job = typed(box, f"add flattened end joint J1L, tube {up}, length 45, hole 10.5, past 16")
    piece = pieces.answer(job).piece(up)
    end = piece.first if piece.first.joint == "J1L" else piece.second
    assert (end.kind, end.trims, end.profile.bar) == ("square", (), pytest.approx(-16))
    assert any("pressed flat over" in plain(note) for note in end.notes)
    made = fitting_facts(job)[0]
    assert f"{round(math.pi * 27 / 2 + 2 * 1.5)} wide" in plain(made.words)  # half the bore's girth, and two walls
    hole = next(spot for spot in spots(job, piece) if spot.fitting == made.id)
    assert hole.at[0] == pytest.approx(16 if end is piece.first else piece.bar - 16)
    for line, says in (
        ("length 45, hole 30, past 16", "does not fit on a flat"),
        ("length 20, hole 10.5, past 16", "does not fit on a flat"),
    ):
        with pytest.raises(Problem, match=says):
            understand(f"add flattened end joint J1L, tube {up}, {line}", box)


def test_slots_are_on_the_paper_opposite_each_other_and_as_deep_as_typed(box: Job) -> None:
    rail = box.tube_by_ends[frozenset(("J1L", "J3L"))].id
    job = typed(box, f"add slot joint J1L, tube {rail}, depth 40, thickness 4")
    piece = pieces.answer(job).piece(rail)
    end = piece.first if piece.first.joint == "J1L" else piece.second
    assert any("slotted 4.5 mm wide and 40 mm deep" in plain(note) for note in end.notes)
    sheet = template(job, piece, end)
    slots = [
        np.array(i.points) for i in sheet.items if isinstance(i, Path) and len(i.points) == 4 and i.weight == "cut"
    ]
    slots = [s for s in slots if np.ptp(s[:, 0]) < 10]
    assert len(slots) == 2
    assert [np.ptp(s, axis=0).tolist() for s in slots] == [pytest.approx([4.5, 40])] * 2
    girth = math.pi * (30 + 0.1)
    middles = sorted(float(s[:, 0].mean()) - MARGIN_MM for s in slots)
    assert middles[1] - middles[0] == pytest.approx(girth / 2)
    shapes = piece.section.shape.contour
    top = piece.axes[2] @ [0, 0, 1], piece.axes[1] @ [0, 0, 1]
    at = shapes.towards(math.atan2(*top)) / shapes.girth * girth
    at = girth - at if end is piece.second else at
    assert min(abs(m - at % girth) for m in middles) < 0.01
    with pytest.raises(Problem, match="leaves too little"):
        understand(f"add slot joint J1L, tube {rail}, depth 40, thickness 16", box)


def test_a_leaning_hoop_s_foot_is_cut_to_its_level_plate() -> None:
    job = typed(
        Job(),
        "joint 0 400 100",
        "joint -140 400 1100",  # leans 8 degrees back
        "tube J1L J2L 45 x 2.5",
        "tube J2L J2R 45 x 2.5",
        "add foot plate joint J1L, tube T1L, width 120, height 120, thickness 4, bolts 4, hole 10.5",
    )
    piece = pieces.answer(job).piece("T1L")
    end = piece.first if piece.first.joint == "J1L" else piece.second
    lean = math.atan2(140, 1000)
    assert (end.kind, end.saw_angle) == ("mitre", pytest.approx(lean))
    assert plain(end.words) == f"saw {math.degrees(lean):.1f}° to its foot plate"
    assert np.ptp(end.profile.outer) == pytest.approx(45 * math.tan(lean), abs=0.01)
    made = fitting_facts(job)[0]
    assert made.kg == pytest.approx(4 * (120 * 120 - 4 * math.pi * 10.5**2 / 4) * 7850e-9, rel=1e-4)
    assert {p[2] for p in made.shown} == {100.0}
    square = pieces.answer(typed(job, "add F1L lies square")).piece("T1L")
    assert (square.first if square.first.joint == "J1L" else square.second).kind == "square"
    with pytest.raises(Problem, match="do not fit beside"):
        understand("add foot plate joint J1L, tube T1L, width 50, height 50, thickness 4, bolts 4, hole 10.5", job)


def test_a_taper_says_which_wedge_is_cut_out_and_over_which_length() -> None:
    job = typed(
        Job(),
        "joint 0 300 200",
        "joint -460 300 200",
        "joint -900 300 200",
        "tube J1L J2L 76 x 50 x 3",
        "tube J2L J3L 50 x 50 x 3",
        "T1L",
        "taper 50 x 50 x 3 at J2L",
    )
    note = plain(pieces.answer(job).piece("T1L").notes[0])
    assert note.startswith("tapers to 50 x 50 x 3 at J2L: cut a wedge of 26 mm at J2L, to nothing at J1L over 460.0 mm")
    assert note.endswith("out of both sides, close and weld")
