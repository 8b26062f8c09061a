"""Run: a corner over its whole travel and steer, and what swept wheels and links come near to in a crowded car."""

from collections.abc import Iterator
from itertools import count

import numpy as np
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from ironcage.bench.measure import BenchLine, median, seconds
from ironcage.bench.placing import crowded
from ironcage.core.answers.place import clashes
from ironcage.core.answers.run.corner import corner_of, stand_at
from ironcage.core.answers.run.effects import effects_at
from ironcage.core.answers.run.leans import leans as leans_of
from ironcage.core.answers.run.liveaxle import axle_of
from ironcage.core.calc.linkage.axle import LiveAxle, axle_poses
from ironcage.core.calc.linkage.wishbone import DoubleWishbone, poses
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
    some = np.linspace(0, TRAVELS * STEERS - 1, 12).astype(int)
    places = [(float(travel[n // STEERS]), float(rack[n % STEERS])) for n in some]
    plain = seconds(lambda: [_corner_by_general_solver(corner, *p) for p in places]) * TRAVELS * STEERS / len(some)
    yield BenchLine(
        "the same beside a general least-squares solver, position by position",
        f"{plain / took:.0f} × as fast ({plain * 1e3:.0f} ms)",
        "30 ×",
        plain >= 30 * took,
    )
    still = stand_at(job, "front", hung.up, 0.0)
    took = median(lambda: effects_at(job, still))
    yield BenchLine("what a millimetre of each of ten points does", f"{took * 1e3:.0f} ms", "300 ms", took <= 0.300)
    leans_of(job)  # imports
    took = median(lambda: [leans_of(job, hung.up / 2, 5.0) for _ in ("front", "rear")])
    yield BenchLine("both ends of a car on wishbones at nine leans", f"{took * 1e3:.0f} ms", "150 ms", took <= 0.150)
    yield from _live_axle()
    car = crowded()
    size = f"{len(car.tubes)} tubes, {len(car.parts)} parts, {len(car.people)} people"
    took = median(lambda: clashes.find_clashes(_fresh(car)), 5)
    yield BenchLine(
        f"every clash, wheels and links swept, {size}, all worked out anew",
        f"{took * 1e3:.0f} ms",
        "300 ms",
        took <= 0.3,
    )
    moved = _moved(car)
    took = median(lambda: clashes.find_clashes(next(moved)), 15)
    yield BenchLine(f"the same after one outer point moved, {size}", f"{took * 1e3:.0f} ms", "100 ms", took <= 0.100)


def _live_axle() -> Iterator[BenchLine]:
    """A live axle over its travel and roll, beside a general solver for each position."""
    axle = axle_of(sample("fell-litter"), sample("fell-litter").live_axles[0])
    travel, roll = np.linspace(-70, 60, TRAVELS), np.linspace(-40, 40, STEERS)
    left, right = (np.repeat(travel, STEERS) + side * np.tile(roll, TRAVELS) for side in (1, -1))
    took = median(lambda: axle_poses(axle, left, right))
    some = np.linspace(0, len(left) - 1, 12).astype(int)
    plain = seconds(lambda: [_by_general_solver(axle, left[n], right[n]) for n in some]) * len(left) / len(some)
    yield BenchLine(
        f"a live axle at {TRAVELS} × {STEERS} positions of travel and roll",
        f"{took * 1e3:.0f} ms",
        "40 ms",
        took <= 0.040,
    )
    yield BenchLine(
        "the same beside a general least-squares solver, position by position",
        f"{plain / took:.0f} × as fast ({plain * 1e3:.0f} ms)",
        "30 ×",
        plain >= 30 * took,
    )


def _by_general_solver(axle: LiveAxle, left: float, right: float) -> np.ndarray:
    def misses(v: np.ndarray) -> np.ndarray:
        turn, place = Rotation.from_rotvec(v[3:] / 500).as_matrix(), axle.middle + v[:3]
        at = (axle.outer - axle.middle) @ turn.T + place
        wheels = [
            1e3 * (float((turn @ (w - axle.middle) + place)[2] - w[2]) - t)
            for w, t in ((axle.left, left), (axle.right, right))
        ]
        return np.array([*(np.linalg.norm(at - axle.inner, axis=1) - axle.lengths), *wheels])

    return least_squares(misses, np.zeros(6), xtol=1e-10, ftol=1e-10, gtol=1e-10).x


def _corner_by_general_solver(corner: DoubleWishbone, travel: float, rack: float) -> np.ndarray:
    outer = np.array([corner.lower_out, corner.lower_out, corner.upper_out, corner.upper_out, corner.tie_out])
    inner = np.array([*corner.lower, *corner.upper, corner.tie_ends(np.array([rack]))[0]])

    def misses(v: np.ndarray) -> np.ndarray:
        turn, place = Rotation.from_rotvec(v[3:] / 300).as_matrix(), corner.lower_out + v[:3]
        at = (outer - corner.lower_out) @ turn.T + place
        high = float((turn @ (corner.wheel - corner.lower_out) + place)[2] - corner.wheel[2] - travel)
        return np.array([*(np.linalg.norm(at - inner, axis=1) - corner.lengths), high])

    return least_squares(misses, np.zeros(6), xtol=1e-10, ftol=1e-10, gtol=1e-10).x


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
