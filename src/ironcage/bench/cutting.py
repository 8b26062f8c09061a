"""Cut: the ends of three hundred tubes, what one moved joint costs, and parts laid out on bars."""

import random
import statistics
import time
from collections.abc import Iterator

from ironcage.bench.frames import truss
from ironcage.bench.measure import BenchLine, seconds
from ironcage.core.answers.cut import pieces
from ironcage.core.calc.nest.bars import Saw, lay_out
from ironcage.core.job import edits

TUBES, MOVES, PARTS = 300, 12, 300


def run() -> Iterator[BenchLine]:
    """The figures of Cut."""
    job = truss(TUBES)
    pieces.answer(truss(12))  # what is imported is not counted
    took = seconds(lambda: pieces.answer(job))
    made = pieces.answer(job)
    ends = [end for piece in made.pieces for end in (piece.first, piece.second)]
    yield BenchLine(
        f"the ends of {len(job.tubes)} tubes, {sum(bool(e.trims) for e in ends)} of {len(ends)} cut to several",
        f"{took * 1e3:.0f} ms",
        "300 ms",
        took <= 0.300,
    )
    rng, times = random.Random(4), []
    for _ in range(MOVES):
        job = edits.move(job, [rng.choice(job.joints).id], dz=rng.choice((-3.0, 3.0)))
        start = time.perf_counter()
        pieces.answer(job)
        times.append(time.perf_counter() - start)
    moved = statistics.median(times)
    yield BenchLine("the same after one joint moved, median", f"{moved * 1e3:.0f} ms", "30 ms", moved <= 0.030)
    lengths = [rng.uniform(120, 2400) for _ in range(PARTS)]
    took = seconds(lambda: lay_out(lengths, [6000.0, 7500.0], [], Saw(2.5, 50.0)))
    laid = lay_out(lengths, [6000.0, 7500.0], [], Saw(2.5, 50.0))
    over = laid.bought / laid.bound - 1
    yield BenchLine(
        f"{PARTS} parts on bars of two lengths",
        f"{took:.1f} s, {over:.2%} over the bound",
        "3 s, 1 %",
        took <= 3 and over <= 0.01,
    )
