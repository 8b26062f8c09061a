"""Frame: an edit of a 300-tube frame until everything is worked out and drawn again; folds; a drawing of lines read
in."""

import random
import statistics
import tempfile
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np

from ironcage.bench.frames import truss, unbraced
from ironcage.bench.measure import BenchLine, median, seconds
from ironcage.core.answers.frame import bays, materials
from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.answers.tally import readout
from ironcage.core.calc.plane.mechanisms import find_mechanisms
from ironcage.core.exchange.incoming import incoming
from ironcage.core.exchange.wireframe import to_frame_dxf
from ironcage.core.job import edits
from ironcage.core.job.shelf.library import read_section
from ironcage.core.job.values.model import Job
from ironcage.desk.look import LIGHT
from ironcage.desk.table.camera import Camera
from ironcage.desk.table.picture import Pencil, Subject
from ironcage.units import METRIC

TUBES, LINES, MOVES = 300, 2000, 60
SHEET = 12, 4  # stations and lines
WIDE, HIGH, COARSE = 1090, 370, 0.5  # the table of a window of 1280 by 800, drawn as coarsely as while something moves


def run() -> Iterator[BenchLine]:
    """The figures of Frame."""
    job = unbraced(TUBES)
    camera = replace(Camera(), width=WIDE, height=HIGH).fitted(np.array([j.place for j in job.joints]))
    pencil, rng, times, parts = Pencil(), random.Random(3), [], []

    def draw(job: Job) -> None:
        pencil.draw(Subject(job, camera, LIGHT, (), None, None, (), (), frozenset(), COARSE, False))

    draw(job)
    materials.answer(job)
    bays.find_bays(job)
    readout.quick(job)
    for _ in range(MOVES):
        name = rng.choice(job.joints).id
        start = time.perf_counter()
        job = edits.move(job, [name], dz=rng.choice((-3, 3)))
        readout.quick(job)
        worked = time.perf_counter()
        materials.answer(job)
        bays.find_bays(job)
        told = time.perf_counter()
        draw(job)
        stop = time.perf_counter()
        times.append(stop - start)
        parts.append((worked - start, told - worked, stop - told))
    p95 = sorted(times)[int(0.95 * len(times))]
    figures, rest, drawn = (statistics.median(p[n] for p in parts) * 1e3 for n in range(3))
    made = bays.find_bays(job)
    yield BenchLine(
        f"one mirrored edit of {len(job.tubes)} tubes until tally, {len(made.bays)} bays, {len(made.folds)} folds and "
        f"picture are new, 95th percentile of {MOVES}, one "
        "after the other on one thread",
        f"{p95 * 1e3:.0f} ms (median: tally {figures:.0f}, bays and lists {rest:.0f}, picture {drawn:.0f})",
        "a control: in the window they go side by side",
        True,
    )
    pencil.drop()
    yield from _sheet()
    arrays = beam_frame(job)
    across = np.array([(b.corners[0], b.corners[2]) for b in made.open])
    row = {j.id: n for n, j in enumerate(job.joints)}
    diagonals = np.array([[row[a], row[c]] for a, c in across]).reshape(-1, 2)
    hinged = median(lambda: find_mechanisms(arrays.nodes, arrays.ends, diagonals))
    yield BenchLine(
        f"the ways {len(job.tubes)} tubes fold if joints were hinges",
        f"{hinged * 1e3:.1f} ms, {len(made.folds)} ways",
        "100 ms",
        hinged <= 0.100,
    )
    yield from _lines()


def _lines() -> Iterator[BenchLine]:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "frame.dxf"
        big = truss(LINES)
        path.write_bytes(to_frame_dxf(big))
        kind = incoming("frame")
        came: list[int] = []

        def bring() -> None:
            read = kind.read(path, lambda share: None)
            came.append(len(kind.bring(Job(), read, read.unit)[0].tubes))

        bring()  # the reader itself is loaded
        took = seconds(bring)
        yield BenchLine(
            f"a DXF of {came[-1]} lines read and brought in",
            f"{took:.2f} s",
            "2 s",
            took <= 2 and came[-1] == len(big.tubes),
        )


def _sheet() -> Iterator[BenchLine]:
    """A sheet of offsets laid, and a cell of it changed with what hangs on it."""
    job, section = Job(), read_section("40 x 40 x 2", METRIC)
    for n in range(SHEET[1]):
        job = edits.add_sheet_line(job, f"line {n}", section)
    for s in range(SHEET[0]):
        job = edits.add_station(job, 300.0 - 250.0 * s)
        for n in range(SHEET[1]):
            job = edits.put_cell(job, s, n, 250.0 + 20 * n + s, 150.0 + 250.0 * n)
    laying = median(lambda: edits.lay(job))
    laid = edits.lay(job)
    heights = iter(range(100_000))
    changing = median(lambda: edits.put_cell(laid, 5, 2, 300.0, 700.0 + next(heights) % 20))
    yield BenchLine(
        f"a sheet of {SHEET[0]} stations by {SHEET[1]} lines laid: {len(laid.joints)} joints, {len(laid.tubes)} tubes",
        f"{laying * 1e3:.0f} ms",
        "200 ms",
        laying <= 0.200,
    )
    yield BenchLine(
        "a cell of it changed, with what hangs on it", f"{changing * 1e3:.1f} ms", "60 ms", changing <= 0.060
    )
