"""Weld and True: the order of putting in, the forecast of what welds move, and the adjustment of a survey."""

import random
from collections.abc import Iterator

import numpy as np

from ironcage.bench.frames import truss
from ironcage.bench.measure import BenchLine, median, seconds
from ironcage.core.answers.weld import assembly, movement
from ironcage.core.calc.adjust.survey import Observed, adjusted
from ironcage.core.calc.welding.forecast import forecast
from ironcage.core.job import edits

TUBES, JOINTS, READINGS = 150, 60, 200


def run() -> Iterator[BenchLine]:
    """The figures of Weld and True."""
    job = truss(TUBES)
    took = seconds(lambda: assembly.put_in_order(job))
    yield BenchLine(f"an order of putting in, {len(job.tubes)} tubes", f"{took:.1f} s", "5 s", took <= 5)
    job = edits.toggle_stands(job, [job.joints[0].id, job.joints[-1].id])
    now = movement.left_to_weld(job)
    took = median(lambda: forecast(now.frame, now.rigid, now.welds, job.welding.tack, now.held), 5)
    yield BenchLine(f"the forecast of {len(now.welds)} welds", f"{took * 1e3:.0f} ms", "300 ms", took <= 0.300)
    drawn, readings = survey()
    took = median(lambda: adjusted(drawn, readings))
    yield BenchLine(
        f"the adjustment of {JOINTS} joints and {READINGS} readings", f"{took * 1e3:.0f} ms", "80 ms", took <= 0.080
    )


def survey() -> tuple[np.ndarray, list[Observed]]:
    """Points of a frame's size (60, 3) in mm and two hundred readings of them, a little off: heights of all, and
    distances to others near by."""
    rng, noise = random.Random(6), np.random.default_rng(6)
    drawn = noise.uniform((-2500, -500, 100), (0, 500, 1100), (JOINTS, 3))
    built = drawn + noise.normal(0, 1.0, drawn.shape)
    readings = [Observed("height", n, n, float(built[n, 2] + noise.normal(0, 0.5)), 0.5) for n in range(JOINTS)]
    near = np.argsort(np.linalg.norm(drawn[:, None] - drawn[None], axis=2), axis=1)
    pairs = sorted({(min(a, int(b)), max(a, int(b))) for a in range(JOINTS) for b in near[a, 1:9]})
    for a, b in rng.sample(pairs, READINGS - JOINTS):
        size = float(np.linalg.norm(built[a] - built[b]) + noise.normal(0, 0.5))
        readings.append(Observed("distance", a, b, size, 0.5))
    return drawn, readings
