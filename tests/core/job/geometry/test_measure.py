"""The tape measure against sums done by hand."""

import pytest

from ironcage.core.job.store.file import from_text, to_text
from ironcage.core.job.text import understand
from ironcage.core.job.text.measure import read, short
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from tests.core.lines import typed


@pytest.fixture
def box() -> Job:
    """A 3-4-12 corner: J1L at 0 300 0, J2L 300 ahead, 400 in plan to the left of it, 1200 up; a level tube below."""
    return typed(
        Job(),
        "joint 0 300 0",
        "joint 300 700 1200",
        "joint 0 700 0",
        "tube J1L J2L 40 x 2",
        "tube J1L J3L 40 x 2",
        "place battery Cell box 100 x 100 x 100 at 500 700 0 mass 5",
    )


def test_joints_are_taped_with_parts_lean_and_heading(box: Job) -> None:
    # 300² + 400² = 500², 500² + 1200² = 1300²; atan(1200 / 500) = 67.38°, atan(400 / 300) = 53.13°
    assert read(box, ("J1L", "J2L")) == (
        "J1L to J2L: 1300.0 mm as drawn (x 300.0 mm, y 400.0 mm, z 1200.0 mm); it rises 67.38° and heads 53.13° to "
        "the left of ahead"
    )
    assert read(box, ("J1L", "J1R")).endswith("it is level and heads 90.00° to the right of ahead")
    assert read(box, ("T1L",)).startswith("T1L is 1300.0 mm long between its joints, 40 x 2; it rises 67.38°")
    inch = typed(box, "units inch 1/16 lb")
    assert read(inch, ("J3L", "J1L")).startswith('J3L to J1L: 15 3/4"')


def test_surfaces_and_angles(box: Job) -> None:
    # the box's near face is at x 450, the upright tube's axis at x 0 and y 300 to 700: 450 less its radius of 20
    assert read(box, ("T2L", "B1")).startswith("T2L to B1: 430.0 mm from surface to surface")
    assert read(box, ("J3L", "B1")).startswith("J3L to B1: 450.0 mm from surface to surface")
    assert read(box, ("T1L", "T2L")).startswith("T1L to T2L: overlap by ")
    # at J1L: to J3L along y, to J2L (300, 400, 1200): cos = 400 / 1300
    assert read(box, ("J3L", "J1L", "J2L")) == "The angle at J1L between J3L and J2L is 72.08°"
    assert read(box, ("J1L", "T1L", "J2L")) == ""


def test_tapes_stay_follow_and_outlive_what_they_are_held_to(box: Job) -> None:
    kept = understand("tape J1L J2L stays", box)
    assert kept.name.startswith("Keep a tape: J1L to J2L: 1300.0 mm")
    job = typed(kept.job, "tape J3L J1L J2L stays")
    assert [short(job, t.things) for t in job.tapes] == ["1300.0 mm", "72.08°"]
    moved = typed(job, "z-1200", chosen=("J2L",))
    assert short(moved, moved.tapes[0].things) == "500.0 mm"
    gone = typed(job, "delete J2L")
    assert gone.tapes == job.tapes  # not drawn until it is back
    assert from_text(to_text(job)).tapes == job.tapes
    assert len(typed(job, "tape J3L gone").tapes) == 1
    assert typed(job, "tape all gone").tapes == ()
    with pytest.raises(Problem, match="goes between J1L and J2L already"):
        typed(job, "tape J1L J2L stays")
    with pytest.raises(Problem, match="There is no such tape"):
        typed(job, "tape J3R gone")
