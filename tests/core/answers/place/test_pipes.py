"""Pipes, hoses and exhausts: where they run, what they touch, and how they are made."""

import math

import numpy as np
import pytest

from ironcage.core.answers.place.clashes import find_clashes
from ironcage.core.job.geometry.bodies import part_body, pipe_route
from ironcage.core.job.text import understand
from ironcage.core.job.text.fields import read_shape, shape_text
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from tests.core.lines import typed

CORNER = "place exhaust Header pipe 40 clr 100 through 0 300 400; -500 300 400; -500 300 900 mass 3"


def test_a_square_corner_takes_a_quarter_of_a_circle_and_the_body_follows_it() -> None:
    part = typed(Job(), CORNER).parts[0]
    route = pipe_route(part.shape)
    assert part.place == (0.0, 300.0, 400.0)
    assert route.length == pytest.approx(400 + math.pi / 2 * 100 + 400)
    assert [(b.start, math.degrees(b.angle)) for b in route.bends] == [(pytest.approx(400), pytest.approx(90))]
    low, high = part_body(part).bounds
    assert high - low == pytest.approx([540, 40, 540], abs=0.5)  # the pipe and half its diameter on each side
    corner = np.array([-500.0, 300.0, 400.0])
    middle = np.array([-400.0, 300.0, 500.0])  # of the bend
    nearest = min(float(np.linalg.norm(s.points - corner, axis=1).min()) for s in part_body(part).solids)
    assert nearest == pytest.approx(np.linalg.norm(corner - middle) - 100, abs=1.0)


def test_a_hose_that_runs_into_a_tube_clashes_and_one_that_passes_keeps_its_gap() -> None:
    rail = typed(Job(), "joint -250 300 200", "joint -250 300 700", "tube J1L J2L 30 x 2")
    hit = typed(rail, CORNER)
    assert {(n.first, n.second) for n in find_clashes(hit).near if n.state == "overlap"} == {("B1", "T1L")}
    beside = typed(
        rail, CORNER.replace("0 300 400; -500 300 400; -500 300 900", "0 365 400; -500 365 400; -500 365 900")
    )
    near = next(n for n in find_clashes(beside).near if n.second == "T1L")
    assert near.gap == pytest.approx(65 - 20 - 15, abs=0.05)


def test_its_mirror_image_runs_on_the_other_side() -> None:
    job = typed(Job(), "place hose Coolant pipe 28 through 0 300 400; -500 350 400; -900 300 420")
    both = understand("mirror", job, ("B1",)).job
    there, here = (part_body(p).bounds for p in (both.parts[1], both.parts[0]))
    assert there[0] == pytest.approx(here[0] * [1, 0, 1] - [0, here[1][1], 0])
    assert there[1] == pytest.approx(here[1] * [1, 0, 1] - [0, here[0][1], 0])


def test_a_pipe_is_typed_as_it_is_shown() -> None:
    job = typed(Job(), CORNER)
    text = shape_text(job.parts[0].shape, units_of(job))
    assert read_shape(text, units_of(job)) == job.parts[0].shape


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("place exhaust X pipe 45 through 1 2 3", "A pipe needs two places"),
        ("place hose pipe 28 clr 400 through 0 0 0; 100 0 0; 100 100 0", "bends of 400 mm radius need"),
        ("place hose pipe 28 through 0 0 0; 0 0 0", "in one place|no length"),
        ("place exhaust X pipe 45 at 1 2 3", "is not a pipe"),
        ("place moon X pipe 45 through 1 2 3; 4 5 6", "‘moon’ is no kind of part"),
        ("place exhaust X pipe 45 through 1 2; 4 5 6", "‘1 2’ is not a place"),
    ],
)
def test_what_is_no_pipe_is_refused_with_the_culprit(line: str, says: str) -> None:
    with pytest.raises(Problem, match=says):
        understand(line, Job())
