"""Place: clashes after one part moved, beside a plain loop over every pair; posing a figure."""

import random
import statistics
import time
from collections.abc import Iterator

from ironcage.bench.measure import BenchLine, median, seconds
from ironcage.core.answers.place import clashes, mends
from ironcage.core.calc.car.mannequin import pose
from ironcage.core.calc.solids.gaps import gaps
from ironcage.core.job import edits
from ironcage.core.job.geometry.bodies import bodies
from ironcage.core.job.text import measure
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Box, Cylinder
from ironcage.samples import sample

PARTS, TUBES, MOVES = 40, 150, 60


def crowded() -> Job:
    """The demo with tubes split until there are 150 and parts strewn about until there are 40."""
    job, rng = sample("sandpiper"), random.Random(3)
    while len(job.tubes) < TUBES:
        longest = max(job.tubes, key=lambda t: _length(job, t.id))
        job = edits.split(job, longest.id, 0.5)
    while len(job.parts) < PARTS:
        place = (rng.uniform(-2400, 300), rng.uniform(-450, 450), rng.uniform(260, 900))
        n = len(job.parts)
        shape = Box(length=120, width=90, height=80) if n % 2 else Cylinder(diameter=90, length=160)
        job = edits.add_part(
            job, f"Part {n}", "other", shape, place, 2.0, yaw=rng.uniform(-3, 3), pitch=rng.uniform(-1, 1)
        )
    return job


def _length(job: Job, tube: str) -> float:
    t = job.tube_by_id[tube]
    a, b = (job.joint_by_id[e].place for e in t.ends)
    return sum((p - q) ** 2 for p, q in zip(a, b, strict=True))


def every_pair(job: Job) -> int:
    """A plain loop: each pair of pieces on its own, whatever lies between them; how many overlap."""
    things, found = bodies(job), 0
    for i, a in enumerate(things):
        for b in things[i + 1 :]:
            if not clashes.may_touch(a, b):
                rows = [(s, o) for s in a.solids for o in b.solids]
                found += bool((gaps([r[0] for r in rows], [r[1] for r in rows]).distance < 0).any())
    return found


def _mends(job: Job) -> Iterator[BenchLine]:
    """What clears the ten worst clashes of a crowded car, all at once and one alone."""
    found = clashes.find_clashes(job).clashes[: mends.MOST_CLASHES]
    count = iter(range(1000))
    all_s = median(lambda: mends.find_mends(_again(job, next(count))), 3)
    one_s = median(lambda: mends.mend_pair(job, found[0].first, found[0].second), 3)
    yield BenchLine(
        f"mends for {len(found)} clashes among {len(job.tubes)} tubes and {len(job.parts)} parts",
        f"{all_s * 1e3:.0f} ms; the worst alone {one_s * 1e3:.0f} ms",
        "500 ms",
        all_s <= 0.500,
    )


def _tape(job: Job) -> Iterator[BenchLine]:
    """The tape measure between two tubes, and between a tube and a part."""
    tubes, part = [t.id for t in job.tubes[:2]], job.parts[0].id
    taping = median(lambda: (measure.read(job, tubes), measure.read(job, (tubes[0], part))), 25) / 2
    yield BenchLine("a tape from surface to surface", f"{taping * 1e3:.1f} ms", "5 ms", taping <= 0.005)


def _again(job: Job, n: int) -> Job:
    """The same job with something in it that mends read, so that what was kept does not answer."""
    return job.but(brief=job.brief.but(vehicle=f"again {n}"))


def run() -> Iterator[BenchLine]:
    """The figures of Place."""
    job = crowded()
    clashes.find_clashes(job)
    yield from _mends(job)
    yield from _tape(job)
    rng, times = random.Random(5), []
    for _ in range(MOVES):
        name = rng.choice(job.parts).id
        job = edits.move_things(job, [name], dx=rng.choice((-5, 5)), dz=rng.choice((-5, 5)))
        start = time.perf_counter()
        clashes.find_clashes(job)
        times.append(time.perf_counter() - start)
    p95 = sorted(times)[int(0.95 * len(times))]
    plain = seconds(lambda: every_pair(job))
    yield BenchLine(
        f"clashes after one part moved: {len(job.tubes)} tubes, {len(job.parts)} parts, {len(job.people)} people, "
        f"{len(job.wheels)} wheels, 95th percentile "
        f"of {MOVES}",
        f"{p95 * 1e3:.1f} ms (median {statistics.median(times) * 1e3:.1f} ms)",
        "30 ms",
        p95 <= 0.030,
    )
    yield BenchLine(
        "the same beside a plain loop over every pair",
        f"{plain / statistics.median(times):.0f} × as fast ({plain * 1e3:.0f} ms)",
        "20 ×",
        plain >= 20 * statistics.median(times),
    )
    person = job.people[0]
    posing = median(lambda: pose(person.limbs, person.seat, person.mass), 25)
    yield BenchLine("posing a figure", f"{posing * 1e3:.2f} ms", "10 ms", posing <= 0.010)
