"""Plates of bolt patterns and the mock-up pack: true sizes on the sheet."""

import csv
import io
import math
from itertools import pairwise

import ezdxf
import numpy as np
import pytest

from ironcage.core.answers.place import mockup
from ironcage.core.exchange.drawing import SheetCircle
from ironcage.core.exchange.kinds import kind
from ironcage.core.exchange.mockup import mockup_sheet
from ironcage.core.exchange.plate import plate
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from tests.core.lines import typed


def test_a_plate_has_its_holes_where_they_were_taped() -> None:
    job = typed(Job(), 'pattern Hub 1-2 4", 2-3 100, 3-4 101.6, 4-1 100, 1-3 142.56 dia 12.5')
    holes = [i for i in plate(job, "hub").items if isinstance(i, SheetCircle)]
    assert {h.radius for h in holes} == {6.25}
    sides = [math.dist((a.x, a.y), (b.x, b.y)) for a, b in pairwise([*holes, holes[0]])]
    assert sides == pytest.approx([101.6, 100, 101.6, 100], abs=0.01)
    drawn = ezdxf.read(io.StringIO(kind("plate-dxf").make(job, "H1").decode()))
    assert len(drawn.modelspace().query("CIRCLE")) == 4
    assert not typed(job, "pattern Hub gone").patterns
    with pytest.raises(Problem, match="no bolt pattern ‘Hob’"):
        plate(job, "Hob")
    with pytest.raises(Problem, match="need 5 distances"):
        typed(Job(), "pattern Hub 1-2 100, 2-3 100, 3-4 100, 4-1 100 dia 12")


def test_a_bolt_line_says_sizes_and_changes_nothing() -> None:
    assert understand('bolt 1/2" through 2" wall 1/8"', Job()).name.startswith('Bolt 1/2", class 5, through')
    assert understand("bolt 25 through 60", Job()).name.startswith("Shaft 25.0 mm through")
    done = understand("bolt M10 through 50 wall 3 lean 12", Job())
    assert done.job == Job()
    along = 11 / math.cos(math.radians(12)) + 3 * math.tan(math.radians(12))
    assert f"holes 11.00 mm by {along:.2f} mm along the lean" in done.name
    assert "clear 18.48 mm for the head" in done.name


def test_sticks_are_tubes_less_half_a_stick_where_they_butt(sandpiper: Job) -> None:
    made = mockup.timber_mockup(sandpiper)
    across = next(
        s for s in made.sticks if s.tubes == ("T34",)
    )  # the bar across behind the seats, square onto both hoop legs
    assert across.length == pytest.approx(2 * 560 - mockup.STICK_MM)
    assert across.angles == pytest.approx((0, 0), abs=1e-9)
    assert not any("T9L" in s.tubes and s.length > 1400 for s in made.sticks)
    assert made.total == pytest.approx(sum(s.length for s in made.sticks))
    listed = list(csv.reader(io.StringIO(kind("mockup-csv").make(sandpiper, "").decode())))
    assert len(listed) == 1 + len(made.sticks)
    sheet = mockup_sheet(sandpiper)
    spots = np.array([p for i in sheet.items if hasattr(i, "points") for p in i.points])
    assert (spots >= 0).all()
    assert (spots <= [sheet.width, sheet.height]).all()
    with pytest.raises(Problem, match="Nobody is aboard"):
        mockup.timber_mockup(sandpiper.but(people=()))


def test_joints_laid_to_a_line_follow_it_and_leave_it_when_they_go(box: Job) -> None:
    job = typed(box, "line roof z 520", "lay roof", chosen=("J2L", "J4L"))
    assert {job.joint(n).z for n in ("J2L", "J2R", "J4L", "J4R")} == {520}
    lower = understand("line roof z 480", job)
    assert "4 joints follow" in lower.name
    assert {lower.job.joint(n).z for n in ("J2L", "J4R")} == {480}
    assert edits.delete(job, ["J2L"]).lines[0].joints == ("J4L",)
    assert not typed(job, "line roof gone").lines
    for line, words in (
        ("line roof x 5", "a line along z"),
        ("lay floor", "no line ‘floor’"),
        ("line z 5", "is incomplete"),
    ):
        with pytest.raises(Problem, match=words):
            understand(line, job, ("J2L",))


def test_a_bent_hoop_is_a_stick_a_leg_in_the_mock_up() -> None:
    job = typed(
        Job(),
        "die 38 clr 114",
        "hoop main 38 x 2 height 1000 width 1000 at -1400 200",
        "person Bryn 1780 at -1200 0 320 mass 78",
    )
    made = mockup.timber_mockup(job)
    assert sorted(round(s.length, 6) for s in made.sticks) == [1000, 1000, 1000]
    top = next(s for s in made.sticks if s.ends == ("corner 1", "corner 2"))
    assert [math.degrees(a) for a in top.angles] == pytest.approx([45, 45])
    assert top.places == ((-1400, 500, 1200), (-1400, -500, 1200))
    assert len(mockup_sheet(job).items) > 20


def test_a_panel_with_folded_edges_has_its_bends_on_a_layer_of_their_own() -> None:
    job = understand("add panel joints J4L J4R J3R J3L, thickness 1.5, fold 20", sample("skerry")).job
    name = job.fittings[-1].id
    drawing = ezdxf.read(io.StringIO(kind("fitting-dxf").make(job, name).decode()))
    bends = drawing.modelspace().query('LINE[layer=="BEND"]')
    assert sorted(round((b.dxf.end - b.dxf.start).magnitude, 1) for b in bends) == [324.0, 324.0, 484.0, 484.0]
    laid = ezdxf.read(io.StringIO(kind("plates-dxf").make(job, "").decode()))
    assert len(laid.modelspace().query('LINE[layer=="BEND"]')) == 4
