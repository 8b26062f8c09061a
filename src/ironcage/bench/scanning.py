"""A scan of two million triangles: reading it, the memory it takes, and clashes with it among everything else."""

import os
import random
import resource
import statistics
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from ironcage.bench.measure import BenchLine, seconds
from ironcage.bench.placing import MOVES, crowded
from ironcage.core.answers.place import clashes
from ironcage.core.exchange.incoming import incoming
from ironcage.core.job import edits

TRIANGLES = 2_000_000


def lumpy_ring(path: Path, count: int) -> None:
    """A ring with lumps, so many triangles, as binary STL."""
    around = int((count / 2) ** 0.5)
    turn = np.linspace(0, 2 * np.pi, around + 1)
    turn[-1] = 0.0
    u, v = np.meshgrid(turn, turn, indexing="ij")
    thick = 90 + 6 * np.sin(9 * u) * np.cos(7 * v)
    out = 200 + thick * np.cos(v)
    p = np.stack([out * np.cos(u), out * np.sin(u), thick * np.sin(v)], axis=2).astype("<f4")
    a, b, c, d = p[:-1, :-1], p[1:, :-1], p[1:, 1:], p[:-1, 1:]
    rows = np.zeros(2 * around**2, dtype=np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("extra", "<u2")]))
    rows["corners"][: around**2] = np.stack([a, b, c], axis=2).reshape(-1, 3, 3)
    rows["corners"][around**2 :] = np.stack([a, c, d], axis=2).reshape(-1, 3, 3)
    path.write_bytes(b"ring".ljust(80) + len(rows).to_bytes(4, "little") + rows.tobytes())


def run() -> Iterator[BenchLine]:
    """The figures of a large scan."""
    with tempfile.TemporaryDirectory() as home:
        before = os.environ.get("IRONCAGE_HOME")
        os.environ["IRONCAGE_HOME"] = home
        try:
            yield from _run(Path(home))
        finally:
            os.environ.pop("IRONCAGE_HOME")
            if before is not None:
                os.environ["IRONCAGE_HOME"] = before


def _run(home: Path) -> Iterator[BenchLine]:
    path = home / "ring.stl"
    lumpy_ring(path, TRIANGLES)
    plain = seconds(lambda: np.frombuffer(path.read_bytes(), dtype=np.uint8).sum())
    kind = incoming("scan")
    shares: list[float] = []
    start = time.perf_counter()
    read = kind.read(path, shares.append)
    job, _ = kind.bring(crowded(), read, "mm")
    took = time.perf_counter() - start
    yield BenchLine(
        f"a scan of {TRIANGLES:,} triangles is read and placed",
        f"{took:.1f} s, {took / plain:.0f} × summing its bytes, progress told {len(shares)} times",
        "6 s",
        took <= 6,
    )
    scan = job.parts[-1].id
    job = edits.put_things(job, [scan], x=-1000.0, y=0.0, z=500.0)
    first = seconds(lambda: clashes.find_clashes(job))
    rng = random.Random(5)
    times: list[float] = []
    own: list[float] = []
    for n in range(MOVES):
        name = scan if n % 6 == 0 else rng.choice(job.parts[:-1]).id
        job = edits.move_things(job, [name], dx=rng.choice((-5, 5)), dz=rng.choice((-5, 5)))
        start = time.perf_counter()
        clashes.find_clashes(job)
        (own if name == scan else times).append(time.perf_counter() - start)
    p95 = sorted(times)[int(0.95 * len(times))]
    yield BenchLine(
        "clashes after one part moved, the scan among them, 95th percentile",
        f"{p95 * 1e3:.0f} ms (median {statistics.median(times) * 1e3:.0f} ms; the first time {first:.1f} s)",
        "150 ms",
        p95 <= 0.150,
    )
    yield BenchLine(
        "the same when the scan itself moved, median",
        f"{statistics.median(own) * 1e3:.0f} ms",
        "150 ms",
        statistics.median(own) <= 0.150,
    )
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    yield BenchLine("peak memory, reading and clashes", f"{peak:.0f} MB", "1500 MB", peak <= 1500)
