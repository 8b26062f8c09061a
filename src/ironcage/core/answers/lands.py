"""What lands on what: at each joint the tube that runs through, and what every other end is cut to.

The builder's own choice comes first. Otherwise the one that runs through is, in this order: a straight pair
over a single end, the larger section, the role that is built first (hoops, rails, ...), the longer tube. Two
ends of equal section and role at a corner are mitred when they are rectangular or hoops, and any two of one
make that meet nearly in line.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import get_args

import numpy as np

from ironcage.core.calc.beams import Floats
from ironcage.core.calc.sections import AnySection
from ironcage.core.job.model import Job, Role, Tube
from ironcage.core.job.routes import route_of

STRAIGHT = math.radians(1.0)
_FIRST = {role: n for n, role in enumerate([*get_args(Role)[1:], ""])}


@dataclass(frozen=True)
class JointPlan:
    """How a joint is made. `runs` has one tube that ends here, or the two of a straight pair, or the two of a
    mitre (`mitred`); every other tube is cut to the one of `runs` named in `onto`."""

    joint: str
    runs: tuple[str, ...]
    mitred: bool
    onto: Mapping[str, str]

    @property
    def continues(self) -> bool:
        """Whether a straight pair runs through, to be cut from one piece."""
        return len(self.runs) == 2 and not self.mitred


def plans(job: Job, axes: Mapping[tuple[str, str], Floats]) -> dict[str, JointPlan]:
    """The plan of every joint that has tubes, by the axes that `end_axes` gives."""
    lengths = {t.id: route_of(job, t).length for t in job.tubes}
    shapes = {s.name: s.shape for s in job.shelf.sections}
    made = {}
    for joint in job.joints:
        tubes = job.tubes_at.get(joint.id, ())
        if tubes:
            ways = {t.id: axes[t.id, joint.id][0] * (1 if t.a == joint.id else -1) for t in tubes}
            made[joint.id] = _plan(joint.id, joint.through, tubes, ways, lengths, shapes)
    return made


def _plan(
    joint: str, chosen: str | None, tubes: tuple[Tube, ...], ways: Mapping[str, Floats],
    lengths: Mapping[str, float], shapes: Mapping[str, AnySection],
) -> JointPlan:  # fmt: skip
    straight = {t.id: _straight_on(t, tubes, ways) for t in tubes}

    def rank(t: Tube) -> tuple[object, ...]:
        return (
            t.id != chosen,
            -max(shapes[t.section].size),
            straight[t.id] is None,
            _FIRST[t.role],
            -round(lengths[t.id], 3),
            _order(t.id),
        )

    first = min(tubes, key=rank)
    partner = straight[first.id]
    mitred = False
    runs: tuple[str, ...] = (first.id, partner) if partner else (first.id,)
    sharp = 0.75 if first.role.endswith("hoop") or shapes[first.section].kind == "rect" else -0.7
    if not partner and (corner := _corner(first, tubes, ways, sharp)):
        runs, mitred = (first.id, corner), True
    onto = {t.id: max(runs, key=lambda r: _crossing(ways[r], ways[t.id])) for t in tubes if t.id not in runs}
    return JointPlan(joint, runs, mitred, onto)


def _order(name: str) -> tuple[int, str]:
    digits = "".join(c for c in name if c.isdigit())
    return int(digits or 0), name


def _crossing(one: Floats, other: Floats) -> float:
    return round(float(np.linalg.norm(np.cross(one, other))), 9)


def _straight_on(tube: Tube, tubes: tuple[Tube, ...], ways: Mapping[str, Floats]) -> str | None:
    """The tube of the same make that carries straight on through the joint."""
    for other in tubes:
        same = other.id != tube.id and (other.section, other.material) == (tube.section, tube.material)
        if same and float(ways[tube.id] @ ways[other.id]) < -math.cos(STRAIGHT):
            return other.id
    return None


def _corner(tube: Tube, tubes: tuple[Tube, ...], ways: Mapping[str, Floats], sharpest: float) -> str | None:
    """The tube of the same make to mitre with, the straightest on, no sharper than a cosine between the two."""
    make = tube.section, tube.material
    near = [
        (float(ways[tube.id] @ ways[t.id]), t) for t in tubes if t.id != tube.id and (t.section, t.material) == make
    ]
    alike = [(cosine, t.id) for cosine, t in near if cosine < sharpest and (cosine < -0.7 or t.role == tube.role)]
    return min(alike)[1] if alike else None
