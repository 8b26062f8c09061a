"""Points that come from a list or a drawing, brought into a job as joints."""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass

from ironcage.core.job.edits.joints import SAME_PLACE_MM, Place, add_joint, flipped
from ironcage.core.job.edits.naming import call
from ironcage.core.job.values.base import REACH_MM
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import said
from ironcage.units.tables import UNITS_MM


@dataclass(frozen=True)
class Points:
    """Places by name, in their file's unit. unit: what the file says that is, '' when it does not; mended: how many
    things in the file were spoilt and had to be guessed."""

    named: tuple[tuple[str, Place], ...]
    unit: str
    mended: int = 0


def demand_within_reach(places: Sequence[Place], what: str) -> None:
    """Refuse places further than a job reaches, 1 km from its origin."""
    far = max((max(abs(v) for v in p) for p in places), default=0.0)
    if far > REACH_MM:
        raise Problem(
            f"{what} reaches {said.far(far)} from the datum; a job reaches {said.far(REACH_MM)}.",
            where="unit",
            hint="Is the unit right? Say another, or move it nearer first.",
        )


@dataclass(frozen=True)
class Came:
    """What came of points. joints: how many; there: how many had one; named: the joint that each named point became;
    off: joints of a point's name that stand elsewhere, and how far, mm."""

    joints: int
    there: int
    named: tuple[tuple[str, str], ...]
    off: tuple[tuple[str, float], ...]


def add_points(job: Job, points: Points, unit: str) -> tuple[Job, Came]:
    """The job with a joint at each point, read from the shown datum; places that mirror each other become a pair. A
    point that is called as a joint is, and no joint is called so yet, gives it its name; another name is what the joint
    is called in words."""
    if unit not in UNITS_MM:
        raise Problem(f"‘{unit}’ is no unit for points.", where=unit, hint="There are mm, cm, inch and m.")
    size, datum = UNITS_MM[unit], job.datum
    places = [(p[0] * size + datum.x, p[1] * size + datum.y, p[2] * size + datum.z) for _, p in points.named]
    demand_within_reach(places, "The list")
    made, there = job, 0
    off: list[tuple[str, float]] = []
    for (name, _), place in zip(points.named, places, strict=True):
        held = job.joint_by_id.get(name)
        if held is not None and not _among(place, [held.place]):
            off.append((name, math.dist(held.place, place)))
            continue
        if _taken(made, place):
            there += not _taken_by_new(made, job, place)
            continue
        both = abs(place[1]) < SAME_PLACE_MM or _among(flipped(place), places)
        on_line = (place[0], 0.0, place[2]) if abs(place[1]) < SAME_PLACE_MM else place
        made = add_joint(made, on_line, mirrored=both)
    made, named = _called(job, made, list(zip((n for n, _ in points.named), places, strict=True)))
    return made, Came(len(made.joints) - len(job.joints), there, named, tuple(off))


def _called(before: Job, job: Job, points: list[tuple[str, Place]]) -> tuple[Job, tuple[tuple[str, str], ...]]:
    """The job with new joints called as their points are, where that is a joint's name and free on both sides; and
    what each point became."""
    new = {j.id: j for j in job.joints[len(before.joints) :]}
    at = {}
    for name, place in points:
        found = next((j.id for j in new.values() if _among(place, [j.place])), None)
        if found:
            at[found] = name
    wanted = {
        j: name.upper()
        for j, name in at.items()
        if JOINT_NAME.fullmatch(name.upper()) and name.upper() not in before.joint_by_id
    }
    names: dict[str, str] = {}
    for j, name in wanted.items():
        twin = new[j].twin
        partner = _OPPOSITE.get(name[-1:], "")
        if twin == j or twin is None:
            names[j] = name
        elif partner and wanted.get(twin, name[:-1] + partner) == name[:-1] + partner:
            names[j], names[twin] = name, name[:-1] + partner
    if len(set(names.values())) < len(names) or set(names.values()) & (set(job.joint_by_id) - set(names)):
        names = {}
    joints = tuple(
        j.but(id=names.get(j.id, j.id), twin=names.get(j.twin, j.twin) if j.twin else None)
        if {j.id, j.twin} & set(names)
        else j
        for j in job.joints
    )
    last = max([job.last_joint, *(int("".join(c for c in n if c.isdigit())) for n in names.values())])
    made = job.but(joints=joints, last_joint=last) if names else job
    told = tuple((name, names.get(j, j)) for j, name in at.items() if not name.startswith("point "))
    for name, joint in told:
        if not JOINT_NAME.fullmatch(name.upper()) and not made.joint_by_id[joint].called:
            made = call(made, [joint], name[:MOST_NAMED])
    return made, told


MOST_NAMED = 60  # letters
JOINT_NAME = re.compile(r"J[1-9]\d{0,6}[LR]?")
_OPPOSITE = {"L": "R", "R": "L"}


def _among(place: Place, places: Sequence[Place]) -> bool:
    return any(all(abs(a - b) < SAME_PLACE_MM for a, b in zip(place, p, strict=True)) for p in places)


def _taken(job: Job, place: Place) -> bool:
    return _among(place, [j.place for j in job.joints])


def _taken_by_new(made: Job, before: Job, place: Place) -> bool:
    return _among(place, [j.place for j in made.joints[len(before.joints) :]])
