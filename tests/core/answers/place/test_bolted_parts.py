"""What is bolted to what: adapters with the holes of two patterns, shafts that go with parts, parts hole to hole."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.shared.patterns import adapters, flat_patterns
from ironcage.core.exchange.drawing import SheetCircle
from ironcage.core.exchange.plate import plate
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed

TWO = ("pattern Hub 5 on 100 dia 12", "pattern Motor 4 on 60 dia 8")
ENGINE = ("place engine Twin box 400 x 400 x 400 at -1000 0 500", "hole out at 100, 150, -50 dia 20")
AXLE = ("place other Axle box 60 x 800 x 60 at -1600 0 300", "hole hub at 0, 300, 10 dia 20")


def test_an_adapter_has_both_patterns_about_one_middle_and_goes_to_the_cutter(box: Job) -> None:
    job = typed(box, *TWO, "adapter Motor plate of Hub and Motor turn 36 bore 30 thickness 10")
    hub, motor = flat_patterns(job)
    assert (hub.circle and hub.circle.diameter, motor.circle and motor.circle.off) == (
        pytest.approx(100),
        pytest.approx(0, abs=1e-9),
    )
    made = adapters(job)[0]
    at = np.array([h[:2] for h in made.flat.holes])
    np.testing.assert_allclose(np.linalg.norm(at, axis=1), [50] * 5 + [30] * 4 + [0], atol=1e-9)
    bore_to_motor = 30 - 4 - 15
    apart = min(math.dist(p, q) - 10 for p in at[:5] for q in at[5:9])
    assert made.web == pytest.approx(min(bore_to_motor, apart))
    circles = [i for i in plate(job, "motor plate").items if isinstance(i, SheetCircle)]
    assert len(circles) == 10
    assert not adapters(typed(job, "pattern Hub gone"))


def test_an_adapter_whose_holes_run_into_each_other_says_between_which(box: Job) -> None:
    job = typed(box, *TWO, "adapter of Hub and Motor at 20, 0 thickness 8")
    made = adapters(job)[0]
    assert made.name == "Hub to Motor"
    assert "between Motor" in plain(made.problem)
    assert "holes too near" in {s.code for s in find_snags(job)}
    with pytest.raises(Problem, match="The nearest is Motor"):
        understand("adapter of Hub and Motors thickness 8", job)


def test_a_shaft_goes_with_the_parts_that_its_ends_are_on(box: Job) -> None:
    job = typed(box, *ENGINE, "shaft Prop from -1210 0 500 to -1600 0 300")
    engine, shaft = job.parts[-1].id, job.shafts[-1].id
    job = typed(job, f"set from on {engine}", chosen=(shaft,))
    moved = typed(job, "y+40", chosen=(engine,)).shafts[-1]
    assert moved.start == pytest.approx((-1210, 40, 500))
    assert moved.stop == (-1600, 0, 300)
    turned = typed(job, "set yaw 90", chosen=(engine,)).shafts[-1]
    assert turned.start == pytest.approx((-1000, -210, 500))  # it was 210 behind the engine's middle
    assert turned.drive == pytest.approx((0, -1, 0))
    both = typed(job, "y+40", chosen=(engine, shaft)).shafts[-1]
    assert both.start == pytest.approx((-1210, 40, 500))  # once, not twice
    assert typed(job, "delete", chosen=(engine,)).shafts[-1].start_on == ""


def test_parts_are_laid_hole_to_hole_and_square(box: Job) -> None:
    job = typed(box, *AXLE, *ENGINE)
    engine, axle = job.parts[-1].id, job.parts[-2].id
    level = typed(job, f"align level out to {axle} hub", chosen=(engine,)).placed[engine]
    assert level.z - 50 == pytest.approx(300 + 10)  # type: ignore[union-attr]
    crooked = typed(job, "set pitch 3", chosen=(engine,))
    told = understand(f"align level {axle}", crooked, (engine,))
    assert told.name.endswith("it stands 3.0° off square: align square")
    assert understand("align square", told.job, (engine,)).job.placed[engine].pitch == 0  # type: ignore[union-attr]
    with pytest.raises(Problem, match="has no hole"):
        understand(f"align level in to {axle} hub", job, (engine,))


def test_a_pair_at_an_engine_s_two_feet_is_tied_on_both_sides(box: Job) -> None:
    job = typed(box, *ENGINE, "hole left foot at 0, 200, -200 dia 10", "hole right foot at 0, -200, -200 dia 10")
    made = typed(job, f"joint at {job.parts[-1].id} left foot")
    left, right = made.joints[-2:]
    assert {j.tie.hole for j in (left, right) if j.tie and j.tie.kind == "hole"} == {"left foot", "right foot"}
    lower = typed(made, "z-30", chosen=(job.parts[-1].id,))
    assert [j.z for j in lower.joints[-2:]] == [270, 270]


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("bolt M10 through 50 x 30 x 3 race 52 at 45", "9.00 mm between its washer and the race"),
        ("bolt M10 through 50 wall 3 race 52 at 35", "in the way of each other by 1.00 mm"),
    ],
)
def test_a_bolt_beside_a_bearing_says_how_far_its_washer_is_from_the_race(box: Job, line: str, says: str) -> None:
    assert says in understand(line, box).name
