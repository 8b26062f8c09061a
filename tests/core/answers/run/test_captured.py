"""A corner that is measured on a donor comes back as it was: by its card, settled by its slope, under a wider track."""

import math
from pathlib import Path

import numpy as np
import pytest

from ironcage.core.answers.run.captured import INNER, OUTER, captured
from ironcage.core.answers.run.corner import corner_of, run_of
from ironcage.core.calc.linkage.wishbone import carried_end, poses
from ironcage.core.exchange.capture import to_capture
from ironcage.core.exchange.incoming import incoming
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed

Place = tuple[float, float, float]


def on_the_table(car: Job, drooped: float) -> tuple[dict[str, Place], float]:
    """Sandpiper's front corner as someone would measure it with its wheel hanging, from lines and a height of their
    own; and how steeply its lower arm falls at ride height."""
    corner = corner_of(car, car.wishbones[0].but(camber=0.0))
    found = poses(corner, np.array([-drooped]), np.zeros(1))
    zero = np.array([-300.0, 0.0, 45.0])
    inner = (*corner.lower, *corner.upper, corner.spring_in)
    outer = [found.at(p)[0, 0] for p in (corner.lower_out, corner.upper_out)]
    outer += [corner.tie_in, found.at(corner.tie_out)[0, 0], carried_end(found)[0][0, 0], found.at(corner.wheel)[0, 0]]
    middle = corner.lower.mean(axis=0)
    fall = math.atan2(middle[2] - corner.lower_out[2], corner.lower_out[1] - middle[1])
    places = [tuple(float(v) for v in p - zero) for p in (*inner, *outer)]
    return dict(zip((*INNER, *OUTER), places, strict=True)), fall


def bare(car: Job, y: float = 660.0) -> Job:
    return typed(Job(), f"wheels front 0 {y} {car.wheels[0].z} dia {car.wheels[0].diameter} width 165")


def test_a_corner_measured_hanging_is_settled_and_moves_as_on_the_donor(sandpiper: Job) -> None:
    measured, fall = on_the_table(sandpiper, 28.0)
    made = captured(bare(sandpiper), "front", measured, fall)
    assert made.settled == pytest.approx(28.0, abs=1e-3)
    assert made.joints == 8  # the coil-over and the upper arm share a joint; four of either side
    one, other = made.job.wishbones[0], sandpiper.wishbones[0]
    for name in ("lower_out", "upper_out", "tie_in", "tie_out", "spring_out"):
        assert getattr(one, name) == pytest.approx(getattr(other, name), abs=2e-3)
    for mine, theirs in zip((*one.lower, *one.upper), (*other.lower, *other.upper), strict=True):
        assert made.job.joint(mine).place == pytest.approx(sandpiper.joint(theirs).place, abs=2e-3)


def test_a_wider_track_moves_the_whole_corner_out(sandpiper: Job) -> None:
    measured, fall = on_the_table(sandpiper, 28.0)
    wide = captured(bare(sandpiper, 700.0), "front", measured, fall)
    assert wide.moved[1] == pytest.approx(40.0, abs=1e-3)
    there = typed(sandpiper.but(wishbones=()), "corner front lower J4L J8L upper J5L J9L spring J9L")
    assert wide.job.joint(wide.job.wishbones[0].lower[0]).y == pytest.approx(there.joint("J4L").y + 40, abs=2e-3)
    toe = [
        run_of(job, "front").told.toe_in for job in (wide.job, captured(bare(sandpiper), "front", measured, fall).job)
    ]
    size = min(len(t) for t in toe)
    np.testing.assert_allclose(toe[0][:size], toe[1][:size], atol=1e-6)  # its motion is the donor's


def test_the_card_is_printed_filled_in_and_brought_back(sandpiper: Job, tmp_path: Path) -> None:
    assert to_capture(sandpiper, "Front").startswith(b"%PDF")
    with pytest.raises(Problem, match="‘middle’ is no end"):
        to_capture(sandpiper, "middle")
    measured, fall = on_the_table(sandpiper, 28.0)
    rows = [f"front {name}, {x / 25.4:.5f}, {y / 25.4:.5f}, {z / 25.4:.5f}" for name, (x, y, z) in measured.items()]
    path = tmp_path / "donor.csv"
    path.write_text(
        "\n".join(["name, x inch, y inch, z inch", *rows, f"front lower arm slope, {math.degrees(fall)}, 0, 0"])
    )
    kind = incoming("corner")
    read = kind.read(path, lambda share: None)
    assert read.unit == "inch"
    job, said = kind.bring(bare(sandpiper), read, "inch")
    assert job.wishbones[0].upper_out == pytest.approx(sandpiper.wishbones[0].upper_out, abs=5e-3)
    assert "8 joints came, settled 28.0 mm to its slope" in plain(said)
    path.write_text("name, x mm, y mm, z mm\nfront lower bal joint, 0, 1, 2\n")
    with pytest.raises(Problem, match=r"no ‘lower bal joint’\. The nearest is lower ball joint"):
        kind.bring(bare(sandpiper), kind.read(path, lambda share: None), "mm")
    path.write_text("name, x mm, y mm, z mm\nlower ball joint, 0, 1, 2\n")
    with pytest.raises(Problem, match="begin with the end"):
        kind.bring(bare(sandpiper), kind.read(path, lambda share: None), "mm")


def test_what_can_not_be_hung_is_refused(sandpiper: Job) -> None:
    measured, fall = on_the_table(sandpiper, 28.0)
    few = {name: place for name, place in measured.items() if "upper" not in name}
    one = {**measured, "tie rod inner": measured["tie rod outer"]}
    for job, points, slope, why in (
        (bare(sandpiper), few, None, "lacks upper arm front, upper arm rear, upper ball joint"),
        (bare(sandpiper), one, None, "Two ends of a link of the front corner are at one place"),
        (bare(sandpiper), measured, math.radians(60), "does not fall by 60.0° anywhere on its way"),
        (Job(), measured, fall, "There are no front wheels"),
        (understand("beam front", bare(sandpiper)).job, measured, fall, "are on a beam axle"),
    ):
        with pytest.raises(Problem) as refused:
            captured(job, "front", points, slope)
        assert why in plain(refused.value.sentence)
