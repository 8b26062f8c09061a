"""What follows what: tied joints go where what they are tied to goes, and fittings go with their tubes."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np

from ironcage.core.job.geometry.bodies import turn_of
from ironcage.core.job.values.fittings import (
    AnyFitting,
    AtEnd,
    Gusset,
    Haunch,
    Holes,
    Panel,
    Tab,
    hosts_of,
)
from ironcage.core.job.values.model import Job, Joint
from ironcage.core.job.values.offsets import Cell
from ironcage.core.job.values.ties import AnyTie, Between, ToHole, ToJoint
from ironcage.problem import Problem
from ironcage.units import said

Place = tuple[float, float, float]
MOVED_MM = 1e-6
CENTRE_MM = 0.01


def tie_words(tie: AnyTie) -> str:
    """What a joint follows, in words."""
    if isinstance(tie, ToHole):
        return f"hole {tie.hole} of {tie.thing}"
    if isinstance(tie, ToJoint):
        return tie.joint
    return f"the line from {tie.a} to {tie.b}"


def tied_to(tie: AnyTie) -> tuple[str, ...]:
    """The joints that a tie names."""
    if isinstance(tie, ToHole):
        return ()
    return (tie.joint,) if isinstance(tie, ToJoint) else (tie.a, tie.b)


def settled(job: Job) -> Job:
    """The job with every tied joint, and its mirror, where it belongs. Refuses ties that go round in a circle, and
    those of a pair that would no longer stand as mirror images."""
    tied = {j.id: j for j in job.joints if j.tie}
    if not tied:
        return job
    places = {j.id: j.place for j in job.joints}
    done: set[str] = set()
    for name in tied:
        _settle(job, name, tied, places, done, ())
    changed = {n for n, p in places.items() if max(map(abs, np.subtract(p, job.joint_by_id[n].place))) > MOVED_MM}
    if not changed:
        return job
    for name in sorted(changed & set(tied)):
        _demand_mirrored(job, name, tied, places)
    return job.but(joints=tuple(_at(j, places[j.id]) if j.id in changed else j for j in job.joints))


def _demand_mirrored(job: Job, name: str, tied: Mapping[str, Joint], places: Mapping[str, Place]) -> None:
    """Refuse a joint and its mirror that follow unlike things, where these would part them."""
    twin = tied.get(job.joint_by_id[name].twin or "")
    if twin is None or twin.id == name or twin.tie is None:
        return
    x, y, z = places[name]
    off = math.dist(places[twin.id], (x, -y, z))
    if off > CENTRE_MM:
        raise Problem(
            f"{twin.id}, the mirror of {name}, follows {tie_words(twin.tie)}, which is {said.length(off)} from where "
            "it would stand.",
            where=twin.id,
            hint=f"Release it first (untie {twin.id}), or part the two.",
        )


def _at(joint: Joint, place: Place) -> Joint:
    x, y, z = place
    return joint.but(x=x, y=y, z=z)


def _settle(
    job: Job, name: str, tied: Mapping[str, Joint], places: dict[str, Place], done: set[str], above: tuple[str, ...]
) -> None:
    if name in done:
        return
    if name in above:
        raise Problem(
            f"{' follows '.join((*above[above.index(name) :], name))}: nothing holds them.",
            where=name,
            hint="Tie one of them to something else.",
        )
    joint = tied[name]
    tie = joint.tie
    if tie is None:
        return
    for other in tied_to(tie):
        twin = job.joint_by_id[other].twin
        for needed in (n for n in (other, twin) if n in tied and n):
            _settle(job, needed, tied, places, done, (*above, name))
    x, y, z = place_of_tie(job, tie, places)
    if joint.twin == name and abs(y) > MOVED_MM:
        if abs(y) > CENTRE_MM:
            raise Problem(
                f"{name} is on the centreline and follows {tie_words(tie)}, which would take it "
                f"{said.length(abs(y))} off it.",
                where=name,
                hint=f"Part it from its mirror first (choose {name}, type part), or untie it.",
            )
        y = 0.0
    places[name] = x, y, z
    if joint.twin and joint.twin != name and joint.twin not in tied:
        places[joint.twin] = x, -y, z
    done.add(name)


def place_of_tie(job: Job, tie: AnyTie, moved: Mapping[str, Place] | None = None) -> Place:
    """Where a tie puts its joint, mm, among joints where they are or where they have `moved`."""
    places = moved if moved is not None else {n: job.joint_by_id[n].place for n in tied_to(tie)}
    if isinstance(tie, ToHole):
        part = next(p for p in job.parts if p.id == tie.thing)
        hole = next(h for h in part.holes if h.name == tie.hole)
        made = turn_of(part) @ np.array([hole.x, hole.y, hole.z]) + part.place + np.array(tie.offset)
    elif isinstance(tie, ToJoint):
        made = np.add(places[tie.joint], tie.offset)
    else:
        made = (1 - tie.share) * np.array(places[tie.a]) + tie.share * np.array(places[tie.b])
    x, y, z = (float(v) for v in made)
    return x, y, z


def renamed_tie(tie: AnyTie | None, names: Mapping[str, str], own: str) -> AnyTie | None:
    """A tie under its joints' new names; none where it would then name itself."""
    if tie is None or not any(n in names for n in tied_to(tie)):
        return tie
    if isinstance(tie, ToJoint):
        to = names[tie.joint]
        return None if to == own else tie.but(joint=to)
    if isinstance(tie, Between):
        a, b = names.get(tie.a, tie.a), names.get(tie.b, tie.b)
        return None if own in (a, b) or a == b else tie.but(a=a, b=b)
    return tie


def sheet_with(job: Job, kept: Mapping[str, str]) -> dict[str, Any]:
    """The sheet of offsets with its joints under the names they are kept by, as a change of the job; nothing when it is
    the same. A cell whose joint goes is empty."""
    sheet = job.offsets
    if all(cell.joint is None or kept.get(cell.joint) == cell.joint for _, _, cell in sheet.cells()):
        return {}

    def now(cell: Cell | None) -> Cell | None:
        if cell is None or cell.joint is None:
            return cell
        name = kept.get(cell.joint)
        return cell.but(joint=name) if name else None

    stations = tuple(station.but(cells=tuple(map(now, station.cells))) for station in sheet.stations)
    return {"offsets": sheet.but(stations=stations)}


def without_parts(job: Job, parts: set[str]) -> Job:
    """The job with joints let go from parts that go; they stay where they are."""
    if not any(isinstance(j.tie, ToHole) and j.tie.thing in parts for j in job.joints):
        return job
    return job.but(
        joints=tuple(j.but(tie=None) if isinstance(j.tie, ToHole) and j.tie.thing in parts else j for j in job.joints)
    )


def without_hosts(job: Job, joints: set[str], tubes: set[str]) -> Job:
    """The job without the fittings that sit on joints or tubes that go, and the holes in those."""
    gone = {f.id for f in job.fittings if joints & set(hosts_of(f)[0]) or tubes & set(hosts_of(f)[1])}
    return without_fittings(job, gone) if gone else job


def without_fittings(job: Job, gone: set[str]) -> Job:
    """The job without some fittings and the holes in them."""
    gone = gone | {f.id for f in job.fittings if isinstance(f, Holes) and f.host in gone}
    kept = [f.but(twin=None) if f.twin in gone else f for f in job.fittings if f.id not in gone]
    return job.but(fittings=tuple(kept))


def renamed_hosts(job: Job, joints: Mapping[str, str], gone_tubes: set[str]) -> Job:
    """The job's fittings on joints under new names; those on tubes that go, or that lose their shape by it, go."""
    if not job.fittings:
        return job
    made: list[AnyFitting] = []
    gone: set[str] = set()
    for f in job.fittings:
        if set(hosts_of(f)[1]) & gone_tubes:
            gone.add(f.id)
        elif isinstance(f, Panel) and set(f.joints) & set(joints):
            corners = tuple(dict.fromkeys(joints.get(j, j) for j in f.joints))
            if len(corners) < 3:
                gone.add(f.id)
            f = f if f.id in gone else f.but(joints=corners)
        elif isinstance(f, Gusset | Haunch | AtEnd) and f.joint in joints:
            f = f.but(joint=joints[f.joint])
        elif isinstance(f, Tab) and {f.carries, f.axis} & set(joints):
            f = f.but(carries=joints.get(f.carries, f.carries), axis=joints.get(f.axis, f.axis))
        made.append(f)
    return without_fittings(job.but(fittings=tuple(made)), gone)
