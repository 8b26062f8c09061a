"""Run: a corner over its whole travel and steer, and what swept wheels and links come near to in a crowded car."""

from collections.abc import Iterator
from itertools import count

import numpy as np

from ironcage.bench.measure import BenchLine, median
from ironcage.bench.placing import crowded
from ironcage.core.answers.place import clashes
from ironcage.core.answers.run.corner import corner_of
from ironcage.core.calc.linkage.wishbone import poses
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.samples import sample

TRAVELS, STEERS = 41, 11


def run() -> Iterator[BenchLine]:
    """The figures of Run."""
    job = sample("sandpiper")
    hung = job.wishbones[0]
    corner = corner_of(job, hung)
    travel, rack = np.linspace(-hung.down, hung.up, TRAVELS), np.linspace(-hung.rack, hung.rack, STEERS)
    took = median(lambda: poses(corner, travel, rack))
    yield BenchLine(
        f"a corner at {TRAVELS} × {STEERS} positions of travel and rack", f"{took * 1e3:.0f} ms", "40 ms", took <= 0.040
    )
    car = crowded()
    size = f"{len(car.tubes)} tubes, {len(car.parts)} parts, {len(car.people)} people"
    took = median(lambda: clashes.find_clashes(_fresh(car)), 5)
    yield BenchLine(
        f"every clash, wheels and links swept, {size}, all worked out anew",
        f"{took * 1e3:.0f} ms",
        "500 ms",
        took <= 0.5,
    )
    moved = _moved(car)
    took = median(lambda: clashes.find_clashes(next(moved)), 15)
    yield BenchLine(f"the same after one outer point moved, {size}", f"{took * 1e3:.0f} ms", "150 ms", took <= 0.150)


def _fresh(job: Job) -> Job:
    """An equal job that nothing has been kept for."""
    return job.but(
        joints=(*job.joints,),
        tubes=(*job.tubes,),
        parts=tuple(p.but() for p in job.parts),
        wheels=tuple(w.but() for w in job.wheels),
        wishbones=tuple(w.but() for w in job.wishbones),
    )


def _moved(job: Job) -> Iterator[Job]:
    """The job with an outer point a little further each time."""
    hung = job.wishbones[0]
    x, y, z = hung.lower_out
    for n in count(1):
        yield edits.set_wishbones(job, hung.axle, lower_out=(x, y, z + 0.25 * n))
