"""Tie joints to holes, joints and lines, put them where tubes cross or on a plane, and let them go."""

from __future__ import annotations

import numpy as np

from ironcage.core.calc.tubes.segments import distances
from ironcage.core.job.edits.following import CENTRE_MM, place_of_tie, settled
from ironcage.core.job.edits.joints import Place, add_joint, demand_room
from ironcage.core.job.edits.placed import find_part
from ironcage.core.job.edits.tubes import CROSS_MM, split, split_at
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Hole, Part
from ironcage.core.job.values.ties import AnyTie
from ironcage.problem import Problem, nearest
from ironcage.units import said


def find_hole(part: Part, name: str) -> Hole:
    """A part's mount hole by its name."""
    for hole in part.holes:
        if hole.name.lower() == name.strip().lower():
            return hole
    known = [h.name for h in part.holes]
    raise Problem(
        f"{part.name or part.id} has no hole ‘{name.strip()}’.",
        where=name,
        hint=nearest(name, known)
        or (
            f"It has {', '.join(known)}." if known else said.example("Give it one first: hole foot at 0, 0, 0 dia [10]")
        ),
    )


def part_and_hole(job: Job, text: str) -> tuple[Part, Hole]:
    """A part and one of its holes from their names in a row, either of which may be of several words."""
    words = text.split()
    for n in range(len(words), 0, -1):
        name = " ".join(words[:n]).lower()
        part = next((p for p in job.parts if name in (p.id.lower(), p.name.lower())), None)
        if part is not None:
            return part, find_hole(part, " ".join(words[n:]))
    return find_part(job, words[0] if words else ""), find_hole(job.parts[0], "")


def tie(job: Job, name: str, to: AnyTie) -> Job:
    """Let a joint follow something; its mirror follows opposite. It goes there at once.

    A mirror that follows something itself keeps that where both then stand as mirror images, such as at the two feet
    of an engine; else it is refused.
    """
    joint = job.joint(name)
    made = job.but(joints=tuple(j.but(tie=to) if j.id == joint.id else j for j in job.joints))
    made = settled(made)
    if joint.twin == joint.id and abs(place_of_tie(made, to)[1]) > CENTRE_MM:
        raise Problem(
            f"{joint.id} is on the centreline and can't follow something off it.",
            where=joint.id,
            hint="Part it from its mirror first.",
        )
    demand_room(made, {n: made.joint_by_id[n].place for n in (joint.id, joint.twin) if n})
    return made


def tied_joint(job: Job, place: Place, to: AnyTie) -> Job:
    """Add a joint (and its mirror) that follows something from the start."""
    made = add_joint(job, place)
    new = made.joints[len(job.joints) :]
    own = min(new, key=lambda j: abs(j.y - place[1]))
    return tie(made, own.id, to)


def untie(job: Job, name: str) -> Job:
    """Let a joint follow nothing any more; it stays where it is."""
    joint = job.joint(name)
    both = {joint.id, joint.twin}
    if all(job.joint_by_id[n].tie is None for n in both if n):
        raise Problem(f"{joint.id} follows nothing.", where=joint.id)
    return job.but(joints=tuple(j.but(tie=None) if j.id in both else j for j in job.joints))


def cross(job: Job, one: str, other: str) -> tuple[Job, str]:
    """Put one joint into two tubes where they cross, on both sides; its id. Refuses tubes that pass by each other,
    saying by how much."""
    first, second = route_of(job, job.tube(one)), route_of(job, job.tube(other))
    a, b = first.line[:-1], first.line[1:]
    c, d = second.line[:-1], second.line[1:]
    n, m = (g.ravel() for g in np.meshgrid(np.arange(len(a)), np.arange(len(c)), indexing="ij"))
    gap, _, t = distances(a[n], b[n], c[m], d[m])
    k = int(gap.argmin())
    if gap[k] > CROSS_MM:
        raise Problem(
            f"{one} and {other} pass {said.length(gap[k])} apart, centre to centre.",
            where=one,
            hint="Move one of them until they meet, or join them with a short tube.",
        )
    place = c[m[k]] + t[k] * (d - c)[m[k]]
    along = second.nearest(place)
    tube = job.tube(other)
    ends = [e for e, v in ((tube.a, along), (tube.b, second.length - along)) if v < CROSS_MM]
    if ends:
        return split_at(job, one, ends[0]), ends[0]
    first_ends = [
        e for e in job.tube(one).ends if np.linalg.norm(np.array(job.joint_by_id[e].place) - place) < CROSS_MM
    ]
    if first_ends:
        return split_at(job, other, first_ends[0]), first_ends[0]
    made = split(job, other, along / second.length)
    new = [j for j in made.joints if j.id not in job.joint_by_id]
    joint = min(new, key=lambda j: float(np.linalg.norm(np.array(j.place) - place))).id
    return split_at(made, one, joint), joint
