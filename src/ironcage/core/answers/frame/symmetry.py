"""Symmetry: what is not the same on both sides, and by how much."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.frame_arrays import lines
from ironcage.core.job.edits.following import CENTRE_MM
from ironcage.core.job.edits.joints import SAME_PLACE_MM, flipped
from ironcage.core.job.edits.tubes import crosses, mirrored
from ironcage.core.job.geometry.routes import is_plain, route_of
from ironcage.core.job.values.model import Job, Tube

NEAR_MM = 60.0  # a joint within this of another's mirror image was most likely meant to be it


@dataclass(frozen=True)
class Odd:
    """Something that is not symmetric. where: joints or tubes; what: in words; by: how far, mm, 0 where it is no
    length."""

    where: tuple[str, ...]
    what: str
    by: float


@remembered("joints", "tubes")
def find_unlike_sides(job: Job) -> tuple[Odd, ...]:
    """Everything that differs between left and right, the furthest off first."""
    made = [*_joints(job), *_tubes(job)]
    return tuple(sorted(made, key=lambda o: (-o.by, o.where)))


def _joints(job: Job) -> list[Odd]:
    made = []
    places = lines(job).nodes
    for j in job.joints:
        other = job.joint_by_id.get(j.twin or "")
        if other is not None:
            off = math.dist(flipped(j.place), other.place)
            if off > CENTRE_MM and (j.y, j.id) >= (other.y, other.id):
                made.append(
                    Odd((j.id, other.id) if other is not j else (j.id,), "a pair that does not stand opposite", off)
                )
        elif abs(j.y) > CENTRE_MM:
            gaps = np.linalg.norm(places - flipped(j.place), axis=1)
            n = int(gaps.argmin())
            if gaps[n] < NEAR_MM and job.joints[n].id != j.id:
                if (j.y, j.id) >= (job.joints[n].y, job.joints[n].id):
                    made.append(Odd((j.id, job.joints[n].id), "parted, and nearly opposite", float(gaps[n])))
            else:
                made.append(Odd((j.id,), "no joint opposite", 0.0))
    return made


def _tubes(job: Job) -> list[Odd]:
    made = []
    for t in job.tubes:
        ends = [job.joint_by_id[e] for e in t.ends]
        twin = job.twin_tube(t)
        if any(e.twin is None for e in ends) or (twin is not t and crosses(job, t.ends)):
            continue
        if twin is None:
            made.append(Odd((t.id,), "no tube opposite", 0.0))
        elif twin.id >= t.id:
            made += _unlike(job, t, twin)
    return made


def _unlike(job: Job, t: Tube, twin: Tube) -> list[Odd]:
    """How a tube and its mirror differ; one that crosses evenly is compared with itself turned round."""
    if is_plain(t) and is_plain(twin) and (t.section, t.material, t.role) == (twin.section, twin.material, twin.role):
        return []
    image = mirrored(t, crossed=job.joint_by_id[twin.a].twin != t.a)
    where = (t.id,) if twin is t else (t.id, twin.id)
    made = [
        Odd(where, f"of another {word}", 0.0)
        for word in ("section", "material", "role")
        if image[word] != getattr(twin, word)
    ]
    if len(t.corners) != len(twin.corners) or t.radius != twin.radius:
        made.append(Odd(where, "bent otherwise", 0.0))
    elif t.corners or any(t.offset_a) or any(t.offset_b):
        mine = route_of(job, t).points * [1, -1, 1]
        theirs = route_of(job, twin).points
        off = min(float(np.linalg.norm(p - theirs, axis=1).max()) for p in (mine, mine[::-1]))
        if off > SAME_PLACE_MM / 10:
            made.append(Odd(where, "corners or ends not opposite", off))
    return made
