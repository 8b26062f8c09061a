"""Shafts over the travel of the wheels they drive: their lengths and angles pose by pose, and the joint that bends."""

import numpy as np
import pytest

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.place.clashes import find_clashes
from ironcage.core.answers.run import liveaxle, swept_bodies
from ironcage.core.answers.run.corner import stand_at
from ironcage.core.answers.run.shafts import shaft_runs
from ironcage.core.job.values.model import Job
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed


def bent(shaft: np.ndarray, axis: np.ndarray) -> float:
    return float(np.degrees(np.arccos(shaft @ axis / np.linalg.norm(shaft) / np.linalg.norm(axis))))


def test_a_propshaft_follows_the_axle_that_it_drives() -> None:
    job = sample("fell-litter")
    (told,) = shaft_runs(job)
    shaft, hung = job.shafts[0], job.live_axles[0]
    start, stop, drive, driven = (np.array(v, float) for v in (shaft.start, shaft.stop, shaft.drive, shaft.driven))
    lengths, first, second = [], [], []
    for travel in np.linspace(-hung.down, hung.up, 21):
        for roll in (-hung.roll, 0.0, hung.roll):
            found = liveaxle.axle_at(job, "rear", travel, roll).found
            place = found.at(stop)[0, 0]
            lengths.append(np.linalg.norm(place - start) - np.linalg.norm(stop - start))
            first.append(bent(place - start, drive))
            second.append(bent(place - start, found.poses.turn[0] @ driven))
    assert told.axle == "rear"
    assert (-told.shorter, told.longer) == pytest.approx((min(lengths), max(lengths)), abs=0.05)
    assert np.degrees([told.first, told.second]) == pytest.approx([max(first), max(second)], abs=0.05)
    assert told.first_at == -hung.down
    (said,) = [plain(s.what) for s in find_snags(job) if s.code == "shaft bends"]
    assert said == f"A joint of Propshaft is bent {max(second):.0f}° at 70.0 mm down."


def test_a_propshaft_clashes_where_its_axle_takes_it() -> None:
    job = sample("fell-litter")
    shaft, hung = job.shafts[0], job.live_axles[0]
    (body,) = [b for b in swept_bodies(job) if b.kind == "shaft"]
    assert len(body.solids) == 9 * 3
    for n, (travel, roll) in enumerate((t, r) for t in np.linspace(-hung.down, hung.up, 9) for r in (-1, 0, 1)):
        if travel not in (-hung.down, hung.up):
            continue  # between them the travels that are looked at are those of the run, nearly even
        end = liveaxle.axle_at(job, "rear", travel, roll * hung.roll).found.at(np.array(shaft.stop))[0, 0]
        assert np.linalg.norm(body.solids[n].points - end, axis=1).min() == pytest.approx(0, abs=1e-6)
    low = liveaxle.axle_at(job, "rear", -hung.down, 0.0).found.at(np.array(shaft.stop))[0, 0]
    x, _, z = (np.array(shaft.start) + low) / 2
    under = typed(job, f"joint {x:.0f} 120 {z:.0f}", f"tube J{job.last_joint + 1}L J{job.last_joint + 1}R 25 x 2")
    (hit,) = [n for n in find_clashes(under).clashes if shaft.id in (n.first, n.second)]
    assert hit.gap < 0
    assert "down" in plain(hit.part)


@pytest.mark.parametrize(
    ("lines", "most"), [(("axle rear down 40",), 23.5), (("choose S31", "set from -1652 0 380"), 22.4)]
)
def test_either_cure_of_the_documentation_bends_the_propshaft_less(lines: tuple[str, ...], most: float) -> None:
    job = typed(sample("fell-litter"), *lines)
    (told,) = shaft_runs(job)
    assert np.degrees(max(told.first, told.second)) == pytest.approx(most, abs=0.05)
    assert not [s for s in find_snags(job) if s.code == "shaft bends"]


def test_a_half_shaft_of_either_side_goes_with_its_upright(sandpiper: Job) -> None:
    z = sandpiper.wheels[0].z
    told = []
    for side in (1, -1):
        line, along = f"shaft Half from 0 {side * 120} {z} to 0 {side * 560} {z}", f"0 {side} 0"
        job = typed(sandpiper, line, f"set drive {along}", f"set driven {along}")
        told += shaft_runs(job)
    found = stand_at(sandpiper, "front", 50, 0).found
    place = found.at(np.array([0.0, 560, z]))[0, 0]
    assert told[0].longer >= np.linalg.norm(place - [0, 120, z]) - 440 - 1e-6
    assert np.degrees(told[0].first) >= bent(place - [0, 120, z], np.array([0.0, 1, 0])) - 1e-6
    assert (told[0].longer, told[0].first, told[0].second) == pytest.approx(
        (told[1].longer, told[1].first, told[1].second)
    )


def test_a_shaft_that_ends_on_no_wheel_that_moves_is_left_out(sandpiper: Job) -> None:
    assert shaft_runs(sandpiper) == ()
    assert shaft_runs(typed(sandpiper, "shaft Column from 400 0 500 to 0 0 700")) == ()
    assert shaft_runs(sample("skerry")) == ()
