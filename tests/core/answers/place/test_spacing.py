"""The spacing of rails: what is between them and outside of them, by hand."""

import pytest

from ironcage.core.answers.place import Spacing, rail_spacing
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from tests.core.lines import typed


def _of(job: Job, a: str, b: str) -> Spacing | None:
    name = job.tube_by_ends[frozenset((a, b))].id
    return next((s for s in rail_spacing(job) if s.left == name), None)


def test_what_is_between_and_beside_rails_says_how_far_apart_they_must_be_and_may_be(box: Job) -> None:
    job = typed(
        box,
        "place radiator Cooler box 60 x 420 x 300 at -600 0 200 mass 5",
        "place tank Tank box 200 x 160 x 200 at -600 450 200 mass 5",
        "place battery High box 60 x 900 x 100 at -600 0 900 mass 5",
    )
    for part, margin in zip(job.parts, ("margin 12", "margin 30"), strict=False):
        job = typed(job, f"set {margin}", chosen=(part.id,))
    lower, upper = _of(job, "J1L", "J3L"), _of(job, "J2L", "J4L")
    assert lower is not None
    assert lower.inside == pytest.approx(600 - 30)
    assert lower.least is not None
    assert (lower.least.name, lower.least.width) == ("Cooler", pytest.approx(420 + 2 * 12, abs=0.02))
    assert lower.most is not None
    assert (lower.most.name, lower.most.width) == ("Tank", pytest.approx(2 * (450 - 80 - 30 - 30), abs=0.02))
    assert lower.fixed == ("J1L is a front pickup", "J3L is a rear pickup")
    assert upper is None  # the radiator ends below it, and the high box is above


def test_a_pair_that_is_too_narrow_and_one_that_tapers_are_told_where_they_are_nearest(box: Job) -> None:
    job = edits.move(box, ["J3L"], dy=-100.0)  # from 300 at x 0 to 200 at x -1200
    wide = typed(job, "place radiator Cooler box 2 x 600 x 20 at -600 0 200 mass 5")
    found = _of(wide, "J1L", "J3L")
    assert found is not None
    assert found.least is not None
    assert found.least.width > found.inside  # it runs through the rails as they are
    spread = (found.least.width - found.inside) / 2
    widened = edits.move(wide, ["J1L", "J3L"], dy=spread)
    again = _of(widened, "J1L", "J3L")
    assert again is not None
    assert again.least is not None
    assert again.least.width == pytest.approx(again.inside, abs=0.02)
    aside = edits.move_things(wide, [wide.parts[0].id], dy=140.0)  # the left rail has to give 140 more
    moved = _of(aside, "J1L", "J3L")
    assert moved is not None
    assert moved.least is not None
    assert moved.least.width == pytest.approx(found.least.width + 280, abs=0.02)
    touching = typed(wide, "set touches tubes", chosen=(wide.parts[0].id,))
    assert _of(touching, "J1L", "J3L") is None
