"""The room that wheels take on their way, and how low the frame comes."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.run import keep_out, swept_bodies
from ironcage.core.answers.run.clearance import clearances
from ironcage.core.calc.solids.outsides import outside
from ironcage.core.job.values.model import Job
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
