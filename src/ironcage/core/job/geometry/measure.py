"""The tape measure: how far two things of the drawing are apart, the angle at a joint between two others, and how a
tube lies."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.solids.convex import Solid, ball
from ironcage.core.calc.solids.gaps import gaps
from ironcage.core.job.geometry.bodies import placed_bodies, tube_body
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

LEVEL_MM = 1e-6  # along the ground; shorter, a way has no heading


class Measured(NamedTuple):
    """start, stop (3,): where the tape lies, mm; distance between them, negative for an overlap; faces: it is from
    surface to surface, and not between joints."""

    start: Floats
    stop: Floats
    distance: float
    faces: bool

    @property
    def parts(self) -> Floats:
        """Along x, y and z (3,), mm."""
        return self.stop - self.start

    @property
    def lean(self) -> float:
        """Of the way to the ground, rad, up positive."""
        x, y, z = self.parts
        return math.atan2(z, math.hypot(x, y))

    @property
    def heading(self) -> float | None:
        """Of the way seen from above, rad, 0 straight ahead and left positive; None for one that stands upright."""
        x, y, _ = self.parts
        return math.atan2(y, x) if math.hypot(x, y) > LEVEL_MM else None


def known(job: Job, things: Sequence[str]) -> bool:
    """Whether all things that a tape is held to are there."""
    return all(t in job.joint_by_id or t in job.tube_by_id or t in job.placed for t in things)


def between(job: Job, one: str, other: str) -> Measured:
    """From joint to joint, or else between the nearest places of two surfaces; a joint is then a point."""
    if one in job.joint_by_id and other in job.joint_by_id:
        a, b = (np.array(job.joint_by_id[name].place) for name in (one, other))
        return Measured(a, b, float(np.linalg.norm(b - a)), False)
    pairs = [(p, q) for p in _solids(job, one) for q in _solids(job, other)]
    found = gaps([p for p, _ in pairs], [q for _, q in pairs])
    n = int(found.distance.argmin())
    return Measured(found.on_first[n], found.on_second[n], float(found.distance[n]), True)


def along(job: Job, tube: str) -> Measured:
    """A tube from end to end: its distance is the length of its centreline, mm."""
    route = route_of(job, job.tube_by_id[tube])
    return Measured(route.points[0], route.points[-1], route.length, False)


def angle_at(job: Job, one: str, corner: str, other: str) -> float:
    """The angle at a joint between the ways to two others, rad."""
    a, c, b = (np.array(job.joint_by_id[name].place) for name in (one, corner, other))
    u, v = a - c, b - c
    return math.atan2(float(np.linalg.norm(np.cross(u, v))), float(u @ v))


def _solids(job: Job, name: str) -> Sequence[Solid]:
    if name in job.joint_by_id:
        return [ball(0.0, np.array(job.joint_by_id[name].place))]
    if name in job.tube_by_id:
        tube = job.tube_by_id[name]
        return tube_body(name, route_of(job, tube), job.section(tube.section).shape, tube.roll, tube.role).solids
    body = next((b for b in placed_bodies(job) if b.id == name), None)
    if body is None:
        raise Problem(f"No tape can be held to {name}.", where=name, hint="Joints, tubes, parts, people and chains do.")
    return body.solids
