"""Joints: add, move, put, merge, delete, part and pair, both sides in one edit."""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Mapping
from typing import Any

import numpy as np

from ironcage.core.job.edits.following import (
    CENTRE_MM,
    renamed_hosts,
    renamed_tie,
    settled,
    sheet_with,
    tie_words,
    tied_to,
    without_hosts,
)
from ironcage.core.job.geometry.routes import hung, route_of
from ironcage.core.job.values.model import Job, Joint, Tube
from ironcage.core.job.values.running import HUNG, with_names
from ironcage.problem import Problem
from ironcage.units import said

SAME_PLACE_MM = 0.5  # two joints nearer than this are one: no weld tells them apart
MOST_REACH_MM = 50_000.0  # from the origin along an axis, of what is typed or dragged

Place = tuple[float, float, float]


def flipped(place: Place) -> Place:
    """The place on the other side of the centreline."""
    return place[0], -place[1], place[2]


def demand_room(job: Job, places: Mapping[str, Place]) -> None:
    """Refuse places that land on another joint or on each other, or farther off than any frame reaches."""
    for name, place in places.items():
        far = max(place, key=abs)
        if abs(far) > MOST_REACH_MM:
            raise Problem(
                f"{name} would be {said.far(abs(far))} off, and no frame reaches beyond {said.far(MOST_REACH_MM)}.",
                where=name,
                hint="Was it typed in another unit?",
            )
    taken = {j.id: j.place for j in job.joints} | dict(places)
    along = sorted((place[0], name) for name, place in taken.items())  # so that moving a whole frame stays quick
    for name, place in places.items():
        first = bisect_left(along, (place[0] - SAME_PLACE_MM, ""))
        last = bisect_right(along, (place[0] + SAME_PLACE_MM, "~"))
        for _, other in along[first:last]:
            if other != name and all(abs(p - q) < SAME_PLACE_MM for p, q in zip(place, taken[other], strict=True)):
                raise Problem(f"{name} would land on {other}.", where=name, hint="Merge the two joints instead.")


def add_joint(job: Job, place: Place, *, mirrored: bool = True) -> Job:
    """Add a joint at x, y, z (mm) and, unless it is on the centreline or `mirrored` is off, its twin."""
    if mirrored:
        return add_joints(job, [place])
    number = job.last_joint + 1
    x, y, z = place
    return _with_joints(job, [Joint(id=f"J{number}", x=x, y=y, z=z)], number)


def add_joints(job: Job, places: Iterable[Place]) -> Job:
    """Add joints at x, y, z (mm), each with its twin unless it is on the centreline."""
    number, new = job.last_joint, list[Joint]()
    for x, y, z in places:
        number += 1
        if abs(y) <= CENTRE_MM:
            new.append(Joint(id=f"J{number}", x=x, y=0.0, z=z, twin=f"J{number}"))
        else:
            left, right = f"J{number}L", f"J{number}R"
            new.append(Joint(id=left, x=x, y=abs(y), z=z, twin=right))
            new.append(Joint(id=right, x=x, y=-abs(y), z=z, twin=left))
    return _with_joints(job, new, number)


def _with_joints(job: Job, new: list[Joint], number: int) -> Job:
    demand_room(job, {j.id: j.place for j in new})
    return job.but(joints=(*job.joints, *new), last_joint=number)


def _leaders(job: Job, names: Iterable[str]) -> list[Joint]:
    """The named joints; where both of a pair are named, the left one speaks for both."""
    joints = [job.joint(name) for name in dict.fromkeys(names)]
    named = {j.id for j in joints}
    return [j for j in joints if not (j.twin in named and j.twin != j.id and j.y < 0)]


def _to_places(job: Job, places: Mapping[str, Place]) -> Job:
    """Put joints at places, and their twins opposite."""
    both = dict(places)
    for name in places:
        _demand_untied(job, name)
    for name, place in places.items():
        twin = job.joint_by_id[name].twin
        if twin == name and abs(place[1]) > CENTRE_MM:
            raise Problem(
                f"{name} is on the centreline and is its own mirror.",
                where=name,
                hint="Part it from its mirror first to move it sideways.",
            )
        if twin is not None and twin != name:
            both[twin] = flipped(place)
    demand_room(job, both)
    joints = tuple(j.but(x=both[j.id][0], y=both[j.id][1], z=both[j.id][2]) if j.id in both else j for j in job.joints)
    return settled(job.but(joints=joints))


def _demand_untied(job: Job, name: str) -> None:
    """Refuse to move a joint that follows something, by itself or as the mirror of one that does."""
    joint = job.joint_by_id[name]
    twin = job.joint_by_id.get(joint.twin or "")
    tied = joint if joint.tie else twin if twin and twin.tie else None
    if tied and tied.tie:
        raise Problem(
            f"{name} follows {tie_words(tied.tie)}.", where=name, hint=f"Move that, or release it: untie {tied.id}"
        )


def put_at(job: Job, places: Mapping[str, Place]) -> Job:
    """Put joints at places (mm) each; their twins stand opposite."""
    return _to_places(job, places)


def move(job: Job, names: Iterable[str], dx: float = 0.0, dy: float = 0.0, dz: float = 0.0) -> Job:
    """Move joints by dx, dy, dz (mm); their twins move as in a mirror."""
    return _to_places(job, {j.id: (j.x + dx, j.y + dy, j.z + dz) for j in _leaders(job, names)})


def put(job: Job, names: Iterable[str], x: float | None = None, y: float | None = None, z: float | None = None) -> Job:
    """Put joints at given coordinates (mm), those not given kept; their twins stand opposite."""
    return _to_places(
        job,
        {
            j.id: (j.x if x is None else x, j.y if y is None else y, j.z if z is None else z)
            for j in _leaders(job, names)
        },
    )


def without(job: Job, joints: set[str], tubes: set[str]) -> Job:
    """The job with joints and tubes gone, and everything that named them."""
    kept = []
    for j in job.joints:
        if j.id in joints:
            continue
        through = None if j.through in tubes else j.through
        twin = None if j.twin in joints else j.twin
        tie = None if j.tie and joints & set(tied_to(j.tie)) else j.tie
        same = through == j.through and twin == j.twin and tie is j.tie
        kept.append(j if same else j.but(through=through, twin=twin, tie=tie))
    return without_hosts(job, joints, tubes).but(
        joints=tuple(kept),
        tubes=tuple(t for t in job.tubes if t.id not in tubes),
        pickups=tuple(p for p in job.pickups if p.joint not in joints),
        table=job.table.but(stands=tuple(s for s in job.table.stands if s not in joints)),
        **_lines_of(job, {name: name for name in job.joint_by_id if name not in joints}),
    )


def _lines_of(job: Job, kept: Mapping[str, str]) -> dict[str, Any]:
    """The section lines and the sheet of offsets with their joints under the names they are kept by, as changes of
    the job; nothing when none is changed."""
    lines = tuple(
        line.but(joints=tuple(dict.fromkeys(kept[j] for j in line.joints if j in kept)))
        if any(kept.get(j) != j for j in line.joints)
        else line
        for line in job.lines
    )
    changes: dict[str, Any] = {"lines": lines} if lines != job.lines else {}
    return changes | sheet_with(job, kept)


def delete(job: Job, names: Iterable[str]) -> Job:
    """Delete joints (with their tubes) and tubes, on both sides."""
    joints: set[str] = set()
    tubes: set[str] = set()
    for name in names:
        if name in job.joint_by_id:
            twin = job.joint_by_id[name].twin
            joints |= {name, twin} if twin else {name}
        else:
            other = job.twin_tube(job.tube(name))
            tubes |= {name, other.id} if other else {name}
    if not joints and not tubes:
        raise Problem("Nothing is chosen to delete.", hint="Pick a joint or a tube first.")
    tubes |= {t.id for j in joints for t in job.tubes_at.get(j, ())}
    return without(job, joints, tubes)


def merge(job: Job, keep: str, gone: str) -> Job:
    """Make two joints one: tubes of `gone` go to `keep`, on both sides; a tube between them disappears."""
    stay, leave = job.joint(keep), job.joint(gone)
    if stay.id == leave.id:
        raise Problem(f"{stay.id} cannot be merged with itself.", where=stay.id, hint="Pick two joints.")
    renames = {leave.id: stay.id}
    if leave.twin not in (None, leave.id, stay.id) and stay.twin not in (None, leave.id):
        renames[leave.twin] = stay.twin if stay.twin is not None else stay.id
    # Merging a joint with its own mirror leaves a single joint where the first one was.
    twins = {j.id: j.twin for j in job.joints}
    tubes: list[Tube] = []
    seen = {(frozenset(t.ends), bool(t.corners)) for t in job.tubes if not set(t.ends) & set(renames)}
    dropped: set[str] = set()
    for tube in job.tubes:
        if not set(tube.ends) & set(renames):
            tubes.append(tube)
            continue
        a, b = (renames.get(end, end) for end in tube.ends)
        if a == b or (frozenset((a, b)), bool(tube.corners)) in seen:
            dropped.add(tube.id)
            continue
        if tube.corners:  # a bent tube keeps its shape beside the joint that stays
            tube = tube.but(corners=_kept_corners(job, tube, a, b))
        seen.add((frozenset((a, b)), bool(tube.corners)))
        tubes.append(tube.but(a=a, b=b))
    joints = []
    for j in job.joints:
        if j.id in renames:
            continue
        twin = None if twins[j.id] in renames else twins[j.id]
        tie = renamed_tie(j.tie, renames, j.id)
        joints.append(j.but(twin=twin, through=None if j.through in dropped else j.through, tie=tie))
    pickups = tuple(p.but(joint=renames.get(p.joint, p.joint)) for p in job.pickups)
    unique = {(p.joint, p.corner): p for p in reversed(pickups)}
    stands = tuple(dict.fromkeys(renames.get(s, s) for s in job.table.stands))
    return renamed_hosts(job, renames, dropped).but(
        joints=tuple(joints),
        tubes=tuple(tubes),
        pickups=tuple(reversed(unique.values())),
        table=job.table.but(stands=stands),
        **_lines_of(job, {j.id: renames.get(j.id, j.id) for j in job.joints}),
        **{kind: tuple(with_names(hung, renames) for hung in getattr(job, kind)) for kind in HUNG},
    )


def _kept_corners(job: Job, tube: Tube, a: str, b: str) -> tuple[Place, ...]:
    """A bent tube's corners where they are, told from other ends."""
    points = route_of(job, tube).points[1:-1]
    first = np.add(job.joint_by_id[a].place, tube.offset_a)
    second = np.add(job.joint_by_id[b].place, tube.offset_b)
    return hung(first, second, points)


def unpair(job: Job, names: Iterable[str]) -> Job:
    """Part joints from their mirrors: from now on each side is edited alone."""
    both = {j.id for name in names for j in (job.joint(name),)}
    both |= {job.joint_by_id[name].twin for name in both if job.joint_by_id[name].twin}  # type: ignore[misc]
    if all(job.joint_by_id[name].twin is None for name in both):
        raise Problem("These joints have no mirror to part from.", where=", ".join(sorted(both)))
    return job.but(joints=tuple(j.but(twin=None) if j.id in both else j for j in job.joints))


def pair(job: Job, first: str, second: str) -> Job:
    """Make two joints a mirrored pair again; they must already stand opposite each other."""
    a, b = job.joint(first), job.joint(second)
    if a.twin or b.twin:
        raise Problem(f"{(a if a.twin else b).id} already has a mirror.", where=a.id)
    if any(abs(p - q) > SAME_PLACE_MM for p, q in zip(flipped(a.place), b.place, strict=True)):
        raise Problem(
            f"{a.id} and {b.id} do not stand opposite each other.",
            where=a.id,
            hint="Put one at the other's mirror image first.",
        )
    return job.but(
        joints=tuple(j.but(twin=b.id) if j.id == a.id else j.but(twin=a.id) if j.id == b.id else j for j in job.joints)
    )


def set_through(job: Job, joint: str, tube: str | None) -> Job:
    """Say which tube runs through a joint (the others are cut to it); None leaves it to the program. Mirrored."""
    here = job.joint(joint)
    chosen = {here.id: tube and job.tube(tube).id}
    if tube and job.tube(tube) not in job.tubes_at.get(here.id, ()):
        raise Problem(f"{tube} does not meet {joint}.", where=joint, hint="Pick a tube that ends there.")
    if here.twin and here.twin != here.id:
        other = job.twin_tube(job.tube(tube)) if tube else None
        chosen[here.twin] = other.id if other else None
    return job.but(joints=tuple(j.but(through=chosen[j.id]) if j.id in chosen else j for j in job.joints))
