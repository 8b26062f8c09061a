"""Prove: the live figures of a drag, what every tube is worth, braces, thirty cases, modes, and one solve of a large
frame."""

import random
import time
from collections.abc import Callable, Iterator

from ironcage.bench.frames import truss
from ironcage.bench.measure import BenchLine, median, seconds
from ironcage.bench.solving import ours
from ironcage.core.answers.prove import (
    braces,
    cases,
    stiffness,
    strength,
    vibration,
    worth,
)
from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.answers.tally import readout
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job

TUBES, LARGE, MOVES = 150, 2000, 120


def run() -> Iterator[BenchLine]:
    """The figures of Prove at some 150 tubes."""
    job = truss(TUBES)
    yield _dragged(job)
    for words, act, most in (
        ("the worth of every tube, with a size up and down", worth.tube_worth, 0.060),
        ("every brace that could be added, and what is in its way", braces.rank_braces, 1.0),
    ):
        took = _anew(job, act)
        yield BenchLine(
            f"{words}, {len(job.tubes)} tubes", f"{took * 1e3:.0f} ms", f"{most * 1e3:.0f} ms", took <= most
        )
    many = _with_cases(job, 30)
    took = _anew(many, strength.tube_strength)
    yield BenchLine(
        f"{len(cases.load_cases(many))} load cases with every margin, {len(job.tubes)} tubes",
        f"{took * 1e3:.0f} ms",
        "150 ms",
        took <= 0.150,
    )
    took = _anew(job, vibration.frame_vibration) / 2
    yield BenchLine(
        f"{vibration.MODES} modes, {len(job.tubes)} tubes, two beams each",
        f"{took * 1e3:.0f} ms",
        "150 ms",
        took <= 0.150,
    )
    large = truss(LARGE)
    took = median(lambda: ours(large), 5)
    yield BenchLine(f"one solve of {len(large.tubes)} tubes", f"{took * 1e3:.0f} ms", "250 ms", took <= 0.250)


def _dragged(job: Job) -> BenchLine:
    """A joint moved, then twist and tally, again and again."""
    rng, times = random.Random(4), []
    readout.quick(job)
    for _ in range(MOVES):
        name = rng.choice(job.joints).id
        start = time.perf_counter()
        job = edits.move(job, [name], dz=rng.choice((-3, 3)))
        readout.quick(job)
        times.append(time.perf_counter() - start)
    p95 = sorted(times)[int(0.95 * len(times))]
    return BenchLine(
        f"a joint moved until twist and tally are new, {len(job.tubes)} tubes, 95th percentile of {MOVES}",
        f"{p95 * 1e3:.1f} ms",
        "16 ms",
        p95 <= 0.016,
    )


def _anew(job: Job, act: Callable[[Job], object]) -> float:
    """Median seconds of an answer to a job that nothing has been kept for but its factorised frame."""

    def once() -> float:
        fresh = job.but(joints=(*job.joints,))
        beam_frame(fresh)
        stiffness.rigged(fresh).rig.free.factor.solve  # noqa: B018 - worked out before the clock starts
        return seconds(lambda: act(fresh))

    once()
    return sorted(once() for _ in range(7))[3]


def _with_cases(job: Job, count: int) -> Job:
    made = job
    while len(cases.load_cases(made)) < count:
        made = understand(
            f"case Own {len(made.proving.cases)}: {made.joints[len(made.proving.cases)].id} z "
            f"{900 + len(made.proving.cases)}",
            made,
        ).job
    return made
