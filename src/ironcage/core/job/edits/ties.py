"""Tie joints to holes, joints and lines, put them where tubes cross or on a plane, and let them go."""

from __future__ import annotations

import math

import numpy as np

from ironcage.core.calc.tubes.segments import distances
from ironcage.core.job.edits.following import CENTRE_MM, place_of_tie, settled
from ironcage.core.job.edits.joints import Place, add_joint, demand_room
from ironcage.core.job.edits.placed import find_part, hole_place
from ironcage.core.job.edits.tubes import CROSS_MM, split, split_at
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job, Joint
from ironcage.core.job.values.ties import AnyTie, ToHole
from ironcage.problem import Problem
from ironcage.units import said

OPPOSITE_MM = CENTRE_MM  # a hole so near to another's mirror image is on the other side of it


def tie(job: Job, name: str, to: AnyTie) -> Job:
    """Let a joint follow something; its mirror follows opposite. It goes there at once.

    A mirror that follows something itself keeps that where both then stand as mirror images; else it is refused. Where
    the part has a hole at the mirror's place, as an engine has on its other side, the mirror is tied to that.
    """
    joint = job.joint(name)
    ties = {joint.id: to}
    if isinstance(to, ToHole) and (opposite := _opposite(job, joint, to)):
        ties[str(joint.twin)] = opposite
    made = job.but(joints=tuple(j.but(tie=ties[j.id]) if j.id in ties else j for j in job.joints))
    made = settled(made)
    if joint.twin == joint.id and abs(place_of_tie(made, to)[1]) > CENTRE_MM:
        raise Problem(
            f"{joint.id} is on the centreline and can't follow something off it.",
            where=joint.id,
            hint="Part it from its mirror first.",
        )
    demand_room(made, {n: made.joint_by_id[n].place for n in (joint.id, joint.twin) if n})
    return made


def _opposite(job: Job, joint: Joint, to: ToHole) -> ToHole | None:
    """The tie of a joint's mirror to the hole on the other side of the same part; None where it has none there, or
    the mirror follows something already."""
    twin = job.joint_by_id.get(joint.twin or "")
    if twin is None or twin.id == joint.id or twin.tie:
        return None
    part = find_part(job, to.thing)
    x, y, z = place_of_tie(job, to.but(offset=(0.0, 0.0, 0.0)))
    for hole in part.holes:
        if hole.name != to.hole and math.dist(hole_place(part, hole), (x, -y, z)) < OPPOSITE_MM:
            dx, dy, dz = to.offset
            return ToHole(thing=part.id, hole=hole.name, offset=(dx, -dy, dz))
    return None


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
