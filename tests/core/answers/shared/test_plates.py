"""Panels and plates take up room: what runs into them is a clash, by hand."""

import pytest

from ironcage.core.answers.findings import checks
from ironcage.core.answers.place import clashes, people
from ironcage.core.job.values.model import Job
from tests.core.lines import typed


def bulkhead() -> Job:
    """Four tubes round an upright opening at x −1000, 600 wide and 500 high, closed by a sheet of 2."""
    job = typed(Job(), "joint -1000 300 200", "joint -1000 300 700")
    for ends in ("J1L J2L", "J1L J1R", "J2L J2R"):
        job = typed(job, f"tube {ends} 25 x 1.5")
    return typed(job, "add panel joints J1L J1R J2R J2L, thickness 2")


def test_an_engine_through_a_firewall_clashes_with_it() -> None:
    job = typed(bulkhead(), "place engine Triple box 500 x 200 x 200 at -900 0 450 mass 60")
    part, panel = job.parts[0].id, job.fittings[0].id
    (hit,) = [n for n in clashes.find_clashes(job).clashes if {n.first, n.second} == {part, panel}]
    # 350 ahead of the sheet's middle, 150 behind: the shorter way out is forward, through 150 and half of the sheet
    assert hit.gap == pytest.approx(-151, abs=0.05)
    assert any("panel" in s.what and "Triple" in s.what for s in checks.find_snags(job) if s.code == "clash")


@pytest.mark.parametrize(("x", "gap"), [(-744, 5.0), (-690, 59.0)])
def test_the_gap_to_a_sheet_is_to_its_face(x: float, gap: float) -> None:
    job = typed(bulkhead(), f"place engine Triple box 500 x 200 x 200 at {x} 0 450 mass 60")
    panel = job.fittings[0].id
    (near,) = [n for n in clashes.find_clashes(job).near if panel in (n.first, n.second)]
    assert near.gap == pytest.approx(gap, abs=1e-3)


def test_a_warped_panel_is_where_its_corners_are() -> None:
    job = typed(
        Job(),
        "joint 0 300 200 alone",
        "joint -600 300 200 alone",
        "joint -600 -300 260 alone",
        "joint 0 -300 200 alone",
    )
    for ends in ("J1 J2", "J2 J3", "J3 J4", "J1 J4"):
        job = typed(job, f"tube {ends} 25 x 1.5")
    job = typed(job, "add panel joints J1 J2 J3 J4, thickness 1")
    corner = typed(job, "place tank Can box 20 x 20 x 20 at -580 -280 285 mass 5")
    (hit,) = [n for n in clashes.find_clashes(corner).near if job.fittings[0].id in (n.first, n.second)]
    assert hit.gap < 20  # through the middle of the panel the flat plane would pass 30 lower there


def test_feet_may_stand_on_a_floor_and_not_in_a_firewall() -> None:
    floor = typed(Job(), "joint 0 300 200", "joint -900 300 200")
    for ends in ("J1L J2L", "J1L J1R", "J2L J2R"):
        floor = typed(floor, f"tube {ends} 25 x 1.5")
    floor = typed(floor, "add panel joints J1L J1R J2R J2L, thickness 1.5", "person Bryn 1780 at -900 0 300 mass 82")
    feet = [n.part for n in clashes.find_clashes(floor).clashes if floor.fittings[0].id in (n.first, n.second)]
    assert not any("foot" in part for part in feet)
    assert people.people_seated(floor)[0].reading("foot room") is not None
