"""What lands on what: at each joint the tube that runs through, and what every other end is cut to.

The builder's own choice comes first. Otherwise the one that runs through is, in this order: a straight pair
over a single end, the larger section, the role that is built first (hoops, rails, ...), the longer tube. Two
ends of equal section and role at a corner are mitred when they are rectangular or hoops, and any two of one
make that meet nearly in line; two in line of different makes butt, each cut to the plane between them. What lands where
two tubes meet at a corner is cut to the one it leans over: the one on its own side of the plane between them. The rest
go in one after the other, in the builder's sequence, else the larger first, then by role and length; ends that are
bolted on by a flange last, for nothing is cut to them.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import get_args

from ironcage.core.answers.shared.kept import Kept, around
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import AnySection
from ironcage.core.calc.tubes.cope import PARALLEL
from ironcage.core.job.geometry.flanges import flanges
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job, Role, Tube

STRAIGHT = math.radians(1.0)
_FIRST = {role: n for n, role in enumerate([*get_args(Role)[1:], ""])}


@dataclass(frozen=True)
class JointPlan:
    """How a joint is made. `through` has one tube that ends here, or the two of a straight pair, or the two of a
    mitre or a butt (`mitred`); every other tube is cut to the one of `through` named in `receiver_of`; `order`:
    those others, the first to be put in first: each is cut to those before it as well, where they are in its way.
    bolted: the tubes that a flange holds here."""

    joint: str
    through: tuple[str, ...]
    mitred: bool
    receiver_of: Mapping[str, str]
    order: tuple[str, ...] = ()
    bolted: tuple[str, ...] = ()

    @property
    def continues(self) -> bool:
        """Whether a straight pair runs through, to be cut from one piece."""
        return len(self.through) == 2 and not self.mitred


_PLANS = Kept[JointPlan]()


def plans(job: Job, axes: Mapping[tuple[str, str], Floats]) -> dict[str, JointPlan]:
    """The plan of every joint that has tubes, by the axes that `end_axes` gives."""
    shapes = {s.name: s.shape for s in job.shelf.sections}
    kept = _PLANS.round()
    made = {}
    bolts = flanges(job)
    for name, things in around(job).items():
        tubes = job.tubes_at[name]
        bolted = tuple(t.id for t in tubes if (t.id, name) in bolts)
        plan = kept.find(things)
        if plan is None:
            ways = {t.id: axes[t.id, name][0] * (1 if t.a == name else -1) for t in tubes}
            lengths = {t.id: route_of(job, t).length for t in tubes}
            through = job.joint_by_id[name].through
            plan = kept.keep(_plan(name, through, tubes, ways, lengths, shapes, bolted), things)
        made[name] = plan
    kept.close()
    return made


def _plan(
    joint: str,
    chosen: str | None,
    tubes: tuple[Tube, ...],
    ways: Mapping[str, Floats],
    lengths: Mapping[str, float],
    shapes: Mapping[str, AnySection],
    bolted: tuple[str, ...],
) -> JointPlan:
    welded = tuple(t for t in tubes if t.id not in bolted) or tubes
    turns = {t.id: _turn(t, shapes, lengths) for t in tubes}
    straight = {t.id: _straight_on(joint, t, welded, ways) for t in welded}

    def rank(t: Tube) -> tuple[object, ...]:
        return (
            t.id != chosen,
            -max(shapes[end_section(t, joint)].size),
            straight[t.id] is None,
            _FIRST[t.role],
            -round(lengths[t.id], 3),
            _order(t.id),
        )

    first = min(welded, key=rank)
    partner = straight[first.id]
    mitred = False
    runs: tuple[str, ...] = (first.id, partner) if partner else (first.id,)
    sharp = 0.75 if first.role.endswith("hoop") or shapes[end_section(first, joint)].mitred_when_slight else -0.7
    if not partner and (corner := _corner(joint, first, welded, ways, sharp)):
        runs, mitred = (first.id, corner), True
    onto = {t.id: max(runs, key=lambda r: _leans(ways[t.id], ways[r])) for t in tubes if t.id not in runs}
    order = tuple(sorted(onto, key=lambda name: (name in bolted, turns[name])))
    return JointPlan(joint, runs, mitred, onto, order, bolted)


def _turn(tube: Tube, shapes: Mapping[str, AnySection], lengths: Mapping[str, float]) -> tuple[object, ...]:
    """What puts one tube in before another at every joint that they share: the builder's own sequence, then the larger,
    the role that is built first, the longer."""
    size = -max(shapes[tube.section].size)
    return tube.sequence, size, _FIRST[tube.role], -round(lengths[tube.id], 3), _order(tube.id)


def end_section(tube: Tube, joint: str) -> str:
    """The section of a tube at one of its joints: another at its second where it tapers."""
    return tube.taper if tube.taper and joint == tube.b else tube.section


@cache
def _order(name: str) -> tuple[int, str]:
    digits = "".join(c for c in name if c.isdigit())
    return int(digits or 0), name


def _leans(one: Floats, other: Floats) -> float:
    """How far one tube leans towards another at their joint: the cosine of the angle between them."""
    return round(float(one @ other), 9)


def _make(tube: Tube, joint: str) -> tuple[str, str, str]:
    """What must be alike for two tubes to be one piece, or to be mitred half and half."""
    return end_section(tube, joint), tube.material, tube.cut_from


def _straight_on(joint: str, tube: Tube, tubes: tuple[Tube, ...], ways: Mapping[str, Floats]) -> str | None:
    """The tube of the same make that carries straight on through the joint."""
    for other in tubes:
        same = other.id != tube.id and _make(other, joint) == _make(tube, joint)
        if same and float(ways[tube.id] @ ways[other.id]) < -math.cos(STRAIGHT):
            return other.id
    return None


def _corner(joint: str, tube: Tube, tubes: tuple[Tube, ...], ways: Mapping[str, Floats], sharpest: float) -> str | None:
    """The tube to mitre with, the straightest on: of the same make, no sharper than a cosine between the two, or of
    any make in line with it."""
    found = []
    for other in tubes:
        cosine = float(ways[tube.id] @ ways[other.id])
        alike = _make(other, joint) == _make(tube, joint) and (cosine < -0.7 or other.role == tube.role)
        if other.id != tube.id and cosine < (sharpest if alike else -math.cos(PARALLEL)):
            found.append((cosine, other.id))
    return min(found)[1] if found else None
