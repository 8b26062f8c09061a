"""The room that wheels take on their way, and how low the frame comes."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.run import keep_out, swept_bodies
from ironcage.core.answers.run.clearance import clearances
from ironcage.core.answers.run.corner import link_lines, runs
from ironcage.core.answers.run.inwheel import in_wheels
from ironcage.core.calc.linkage.wishbone import poses
from ironcage.core.calc.solids.outsides import outside
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed


def test_the_room_holds_every_place_that_a_wheel_or_a_link_takes(sandpiper: Job) -> None:
    rooms = {b.id: b for b in keep_out(sandpiper)}
    swept = swept_bodies(sandpiper)
    assert set(rooms) == {b.id for b in swept}
    tyre = next(b for b in swept if b.kind == "tyre")
    (room,) = rooms[tyre.id].solids
    every = np.concatenate([outside(solid) for solid in tyre.solids])
    assert len(tyre.solids) > 9
    rng = np.random.default_rng(3)
    for way in rng.normal(size=(40, 3)):
        assert (every @ way).max() == pytest.approx((room.points @ way).max())


def test_the_frame_comes_as_low_as_its_wheels_rise() -> None:
    job = typed(Job(), "joint -2000 300 200", "joint 100 300 400", "joint -1500 300 400", chosen=())
    job = typed(job, "wheels front 0 650 300 dia 600 width 165", "wheels rear -2000 650 300 dia 600 width 165")
    job = typed(job, "tube 40 x 2", chosen=("J1L", "J1R"))
    assert [c.which for c in clearances(job)] == ["at ride height"]
    job = typed(job, "axle rear ladder J3L", "axle rear up 60")
    rest, rear = clearances(job)
    assert (rest.height, rest.lowest) == (pytest.approx(180), "T1")
    assert rear.which == "rear at full travel up"
    assert rear.height == pytest.approx(140 * math.cos(math.atan2(60, 2000)) - 20)  # off the line under the tyres
    assert "grounds" not in {s.code for s in find_snags(job)}
    deep = typed(job, "axle rear up 220")
    snags = {s.code: plain(s.what) for s in find_snags(deep)}
    assert snags["grounds"] == "With rear at full travel up T1 is 39.9 mm under the ground."
    assert clearances(Job()) == ()


def test_links_that_run_into_their_own_wheel_are_found_when_its_rim_is_known(sandpiper: Job) -> None:
    assert in_wheels(sandpiper) == ()  # no rim is known
    job = typed(sandpiper, "wheels front rim 330")
    (of,) = in_wheels(job)
    run = runs(job)[0]
    wheel = job.wheels[0]
    found = poses(run.corner, np.array([of.travel]), np.array([of.rack]))
    centre, axis = found.at(run.corner.wheel)[0, 0], found.turn[0, 0] @ run.corner.axis
    line = next(line for line in link_lines(found) if line.name == of.link)
    one, other = line.inner[0, 0], line.outer[0, 0]

    def off(share: float) -> float:
        """From a place on the link to the nearest of the ring, by search over its cross-section."""
        along = (one + share * (other - one) - centre) @ axis
        radius = np.linalg.norm(one + share * (other - one) - centre - along * axis)
        half, low, high = wheel.width / 2, 165.0, wheel.diameter / 2
        near = (np.clip(along, -half, half), np.clip(radius, low, high))
        if near == (along, radius):
            return -min(half - abs(along), radius - low, high - radius)
        return math.hypot(along - near[0], radius - near[1])

    least = min(off(s) for s in np.linspace(0, 1, 4001))
    assert of.gap == pytest.approx(least - run.hung.link / 2, abs=1.0)
    assert of.gap >= 0
    tight = typed(sandpiper, "wheels front rim 240")
    (nearer,) = in_wheels(tight)
    assert nearer.gap < of.gap
    said = {s.code: plain(s.what) for s in find_snags(tight)}
    assert said["in its wheel"].startswith(f"The front {nearer.link} ")
    assert "the rim or the tyre of its own wheel at " in said["in its wheel"]
    for line, why in (("wheels front rim 900", "no smaller than its tyre"), ("wheels rear rim 0", "")):
        if why:
            with pytest.raises(Problem, match=why):
                understand(line, sandpiper)
        else:
            assert typed(sandpiper, line).wheels[2].rim == 0
