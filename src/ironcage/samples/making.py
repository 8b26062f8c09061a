"""What the demo jobs share: frames from readable tables, parts, people and drives by the lines that a builder would
type."""

import math
from collections.abc import Iterable, Mapping, Sequence
from itertools import cycle, pairwise
from typing import Any

from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job

Settings = Mapping[str, str]


Joints = Mapping[str, tuple[float, float, float]]


def framed(job: Job, joints: Joints, tubes: Iterable[Any], material: str) -> tuple[Job, dict[str, str]]:
    """A job with joints by name (the left side or y = 0, mm; mirrored) and tubes (role, section, chains of names; a
    name ending in an apostrophe is the joint on the right); and the ids by name."""
    ids = {}
    for name, (x, y, z) in joints.items():
        job = edits.add_joint(job, (float(x), float(y), float(z)))
        ids[name] = job.joints[-1 if y == 0 else -2].id
        ids[name + "'"] = job.joints[-1].id
    for role, section, chains in tubes:
        for chain in chains:
            along = [ids[name.strip()] for name in chain.split(">")]
            for a, b in pairwise(along):
                job = edits.add_tube(job, a, b, section, material, role)
    return job, ids


def standing(
    job: Job,
    ids: Mapping[str, str],
    pickups: Iterable[tuple[str, str]],
    masses: Iterable[tuple[str, float, tuple[float, float, float]]],
    table: Mapping[str, float],
    stands: Iterable[str],
) -> Job:
    """A job with pickups (joint by name, end), weights (name, kg, place), its jig table and the joints that stand on
    it."""
    for name, end in pickups:
        job = edits.add_pickup(job, ids[name], end)
    for name, kg, (x, y, z) in masses:
        job = edits.add_mass(job, name, kg, (float(x), float(y), float(z)))
    return edits.toggle_stands(edits.set_table(job, **table), [ids[name] for name in stands])


def _set(job: Job, thing: str, settings: Settings) -> Job:
    for field, text in settings.items():
        job = understand(f"set {field} {text}", job, (thing,)).job
    return job


def furnished(
    job: Job, parts: Iterable[Any], people: Iterable[Any], drives: Iterable[tuple[str, Settings]], lines: Iterable[str]
) -> Job:
    """A job with parts (kind, name, shape, place, kg, settings), people (name, stature, kg, hip, settings), chains
    and shafts (line, settings), and then some lines typed. People name the parts they use; a part may name the kinds
    and roles it may touch."""
    for kind, name, shape, place, kg, settings in parts:
        at = ", ".join(str(v) for v in place)
        done = understand(f"place {kind} {name} {shape} at {at} mass {kg}", job)
        job = _set(done.job, done.chosen[0], settings)
    by_name = {p.name: p.id for p in job.parts}
    for name, stature, kg, hip, settings in people:
        at = ", ".join(str(v) for v in hip)
        done = understand(f"person {name} {stature} at {at} mass {kg}", job)
        uses = ", ".join(by_name[n.strip()] for n in settings.get("uses", "").split(",") if n.strip())
        others = {field: text for field, text in settings.items() if field != "uses"}
        job = _set(done.job, done.chosen[0], others)
        if uses:  # last, so that putting the person right moves no part
            job = _set(job, done.chosen[0], {"uses": uses})
    for line, settings in drives:
        done = understand(line, job)
        job = _set(done.job, done.chosen[0], settings)
    for line in lines:
        job = understand(line, job).job
    return job


def tacked(job: Job, below: float, day: str, welded: str = "") -> Job:
    """A job whose tubes with both joints below a height (mm) were tacked on a day, and some ends of them welded."""
    low = [t.id for t in job.tubes if all(job.joint_by_id[j].z < below for j in t.ends)]
    job = understand(f"tacked {' '.join(low)} on {day}", job).job
    return understand(f"welded {welded} on {day}", job).job if welded else job


def measured(job: Job, stands: Iterable[str], slips: Sequence[float], day: str) -> Job:
    """A job whose base was taped on a day: across and along its stands and both ways over, and their heights.
    stands: names of left joints, front to rear; slips: how far the readings are off in turn, mm."""
    off = cycle(slips)
    pairs = []
    left = [job.joint(name) for name in stands]
    for front, rear in pairwise([(j, job.joint(j.twin or "")) for j in left]):
        pairs += [(front[0], rear[0]), (front[1], rear[1]), (front[0], rear[1]), (front[1], rear[0])]
    pairs += [(j, job.joint(j.twin or "")) for j in left]
    for a, b in pairs:
        read = round(2 * (math.dist(a.place, b.place) + next(off))) / 2
        job = understand(f"tape {a.id} {b.id} {read} on {day}", job).job
    for joint in (j for pair in zip(left, (job.joint(j.twin or "") for j in left), strict=True) for j in pair):
        read = round(2 * (joint.z - job.table.top_z + next(off))) / 2
        job = understand(f"height {joint.id} {read} on {day}", job).job
    return job
