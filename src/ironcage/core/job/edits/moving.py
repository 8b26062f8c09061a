"""Moving much at once: stretch and shorten at a plane, turn a group, copy and array, slide along an axis, mirror one
side to the other."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from typing import Any, Literal

import numpy as np

from ironcage.core.calc.car.mannequin import Seat
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.edits.following import CENTRE_MM, settled
from ironcage.core.job.edits.joints import (
    SAME_PLACE_MM,
    Place,
    add_joint,
    demand_room,
    flipped,
    put_at,
    without,
)
from ironcage.core.job.edits.placed import copy_parts, find_part, find_placed, mirror_parts, put_by_turn
from ironcage.core.job.edits.tubes import add_tube, change_tubes, mirrored, split
from ironcage.core.job.geometry.bodies import chain_body, part_body, person_body
from ironcage.core.job.geometry.routes import at_plane, hung, route_of
from ironcage.core.job.values.model import Job, Joint, Tube
from ironcage.core.job.values.offsets import Cell, Offsets
from ironcage.core.job.values.running import HUNG, moved_places
from ironcage.problem import Problem
from ironcage.units import said

Axis = Literal["x", "y", "z"]
Shift = Callable[[Place], Place]
ALIKE_LEAN = math.radians(5)  # two pickups that lean alike from straight ahead
NEAR_PLANE_MM = 0.05  # what lies in the plane itself stays


def stretch(
    job: Job, axis: Axis, at: float, by: float, *, beyond: bool = True, sides: Mapping[str, bool] | None = None
) -> Job:
    """Move everything on one side of a plane (at, mm) by so much (mm), so that the frame grows or shrinks there.

    beyond: what has the larger coordinate moves (ahead, above), else the smaller (behind, below). Along y, both sides
    move outward. Joints, corners of bent tubes, parts, people, wheels, weights, chains, shafts, pictures, datums and
    lines go; what lies in the plane stays.
    sides: ids of parts, people, chains, shafts and pictures that go (True) or stay (False) whatever their place.
    A straight donor tube that the plane passes through does not grow: it is cut there, and a new piece put between.
    Refuses a plane that passes through a part or a person that is not among those, with the nearest that does not, and
    a shortening past what stands on the other side.
    """
    told = {find_placed(job, name).id: goes for name, goes in (sides or {}).items()}
    n = "xyz".index(axis)

    def moves(value: float) -> bool:
        if axis == "y":
            return abs(value) > at + NEAR_PLANE_MM
        return value > at + NEAR_PLANE_MM if beyond else value < at - NEAR_PLANE_MM

    def gone(place: Place) -> Place:
        made = list(place)
        made[n] += math.copysign(by, made[n]) if axis == "y" else by if beyond else -by
        return made[0], made[1], made[2]

    def shift(place: Place) -> Place:
        return gone(place) if moves(place[n]) else place

    def shift_thing(name: str) -> Shift:
        return shift if name not in told else gone if told[name] else lambda place: place

    _demand_clear(job, axis, at, told)
    _demand_left(job, n, at, by, moves)
    made = settled(_shifted(job, shift, shift_thing, n))
    return _spliced(job, made, n, at, moves) if by > 0 else made


def _spliced(before: Job, made: Job, n: int, at: float, moves: Callable[[float], bool]) -> Job:
    """A stretched job in which donor tubes are as long as they were, with a new tube between where the plane passed
    through them."""
    done = set[str]()
    for tube in before.tubes:
        first, last = (before.joint_by_id[end].place[n] for end in tube.ends)
        twin = before.twin_tube(tube)
        if not tube.donor or tube.corners or tube.taper or moves(first) == moves(last) or tube.id in done:
            continue
        if twin is None or twin.id == tube.id:
            continue  # across the car, where both halves move
        done |= {tube.id, twin.id}
        own, now = (route_of(job, job.tube(tube.id)).length for job in (before, made))
        plane = math.copysign(at, first) if n == 1 else at
        stays = own * (plane - first) / (last - first)  # of the donor, from its first end
        seen = set(made.joint_by_id)
        made = split(made, tube.id, 1 - (own - stays) / now)
        made = split(made, tube.id, stays / route_of(made, made.tube(tube.id)).length)
        between = next(t.id for t in made.tubes if not seen & set(t.ends))
        made = change_tubes(made, [between], donor=False)  # and its mirror image
    return made


def _spans(job: Job, n: int, told: Mapping[str, bool]) -> list[tuple[str, float, float]]:
    """Every solid thing that is moved whole, and its least and greatest coordinate."""
    bodies = [*map(part_body, job.parts), *map(person_body, job.people)]
    bodies += [b for c in job.chains if c.driven == c.driving and (b := chain_body(c))]
    return [
        (f"{b.name or b.id} ({b.id})", float(b.bounds[0][n]), float(b.bounds[1][n])) for b in bodies if b.id not in told
    ]


def _demand_clear(job: Job, axis: Axis, at: float, told: Mapping[str, bool]) -> None:
    n = "xyz".index(axis)
    spans = _spans(job, n, told)
    if axis == "y":  # both planes, at +y and −y
        spans += [(name, -high, -low) for name, low, high in spans]
    cut = [s for s in spans if s[1] + NEAR_PLANE_MM < at < s[2] - NEAR_PLANE_MM]
    if not cut:
        return
    name, low, high = cut[0]
    edges = sorted({e for s in spans for e in s[1:]}, key=lambda e: abs(e - at))
    free = [e for e in edges if not any(s[1] + NEAR_PLANE_MM < e < s[2] - NEAR_PLANE_MM for s in spans)]
    raise Problem(
        f"The plane at {axis} {said.reading(at)} passes through {name}, "
        f"{said.reading(low)} to {said.reading(high)}, which can't be cut.",
        where=name,
        hint=(f"The nearest plane that cuts nothing is at {axis} {said.reading(free[0])}; or say" if free else "Say")
        + " that it goes or stays: with ID, without ID.",
    )


def _demand_left(job: Job, n: int, at: float, by: float, moves: Callable[[float], bool]) -> None:
    """Refuse to shorten past the joints on the other side."""
    if by >= 0:
        return
    going = [abs(j.place[n] - at) for j in job.joints if moves(j.place[n])]
    staying = [abs(j.place[n] - at) for j in job.joints if not moves(j.place[n])]
    room = min(going, default=math.inf) + min(staying, default=math.inf)
    if room <= -by:
        raise Problem(
            f"Only {said.length(room)} lie between the joints on both sides of that plane.",
            where="stretch",
            hint=f"Shorten by less than {said.length(room)} there, or choose another plane.",
        )


def _shifted(job: Job, shift: Shift, shift_thing: Callable[[str], Shift], n: int) -> Job:
    """The job with every place moved, each thing that is placed by a shift of its own, and what wheels hang on."""

    def moved(thing: Any, move: Shift = shift) -> Any:
        x, y, z = move((thing.x, thing.y, thing.z))
        return thing if (x, y, z) == (thing.x, thing.y, thing.z) else thing.but(x=x, y=y, z=z)

    joints = tuple(moved(j) for j in job.joints)
    places = {j.id: j.place for j in joints}
    demand_room(job.but(joints=joints), places)
    tubes = tuple(_rehung(job, t, shift, places) if t.corners else t for t in job.tubes)
    people = []
    for p in job.people:
        by = np.subtract(shift_thing(p.id)(p.seat.hip), p.seat.hip)
        people.append(p.but(seat=_seat_moved(p.seat, by)) if by.any() else p)
    own = {name: shift_thing(name) for name in job.placed}
    chains = tuple(c.but(driving=moved(c.driving, own[c.id]), driven=moved(c.driven, own[c.id])) for c in job.chains)
    shafts = tuple(s.but(start=own[s.id](s.start), stop=own[s.id](s.stop)) for s in job.shafts)
    axis = "xyz"[n]
    lines = tuple(line.but(at=shift((line.at,) * 3)[n]) if line.axis == axis else line for line in job.lines)
    brief = job.brief.but(datums=tuple(moved(d) for d in job.brief.datums))
    return job.but(
        joints=joints,
        tubes=tubes,
        parts=tuple(moved(p, own[p.id]) for p in job.parts),
        people=tuple(people),
        wheels=tuple(moved(w) for w in job.wheels),
        masses=tuple(moved(m) for m in job.masses),
        chains=chains,
        shafts=shafts,
        pictures=tuple(moved(p, own[p.id]) for p in job.pictures),
        lines=lines,
        offsets=_sheet_shifted(job, shift),
        brief=brief,
        **{kind: tuple(moved_places(hung, shift) for hung in getattr(job, kind)) for kind in HUNG},
    )


def _sheet_shifted(job: Job, shift: Shift) -> Offsets:
    """The sheet of offsets with its stations, and the cells that are not laid yet, moved."""
    stations = []
    for station in job.offsets.stations:
        cells: list[Cell | None] = []
        for cell in station.cells:
            if cell and cell.joint is None:
                _, half, z = shift((station.x, cell.half, cell.z))
                cells.append(cell.but(half=max(half, 0.0), z=z))
            else:
                cells.append(cell)
        stations.append(station.but(x=shift((station.x, 0.0, 0.0))[0], cells=tuple(cells)))
    return job.offsets.but(stations=tuple(stations))


def _seat_moved(seat: Seat, by: Floats) -> Seat:
    def go(place: Place) -> Place:
        x, y, z = (float(v) for v in np.add(place, by))
        return x, y, z

    return replace(
        seat,
        hip=go(seat.hip),
        pedals=go(seat.pedals),
        floor=seat.floor + float(by[2]),
        wheel=go(seat.wheel) if seat.wheel else seat.wheel,
    )


def _rehung(job: Job, tube: Tube, shift: Shift, places: dict[str, Place]) -> Tube:
    """A bent tube with each corner moved by itself, told from its moved ends."""
    points = route_of(job, tube).points[1:-1]
    corners = np.array([shift((float(x), float(y), float(z))) for x, y, z in points])
    return tube.but(corners=hung(np.add(places[tube.a], tube.offset_a), np.add(places[tube.b], tube.offset_b), corners))


def group_of(job: Job, names: Iterable[str]) -> tuple[list[str], list[str]]:
    """The joints meant by joints and tubes, and the parts."""
    joints: list[str] = []
    parts: list[str] = []
    for name in names:
        if name in job.tube_by_id:
            joints += job.tube_by_id[name].ends
        elif name in job.joint_by_id:
            joints.append(name)
        else:
            parts.append(find_part(job, name).id)
    return list(dict.fromkeys(joints)), parts


def turn(job: Job, names: Iterable[str], angle: float, pivot: Place, axis: Floats) -> Job:
    """Turn joints, tubes' joints and parts about an axis (3,) through a place, right-handed, by an angle (rad);
    mirrored joints turn as mirror images.

    Bent tubes whose joints both turn keep their shape.
    """
    from scipy.spatial.transform import Rotation  # slow to import, and needed here alone

    joints, parts = group_of(job, names)
    if not joints and not parts:
        raise Problem("Nothing is chosen to turn.", hint="Pick joints, tubes or parts first.")
    unit = axis / np.linalg.norm(axis)
    matrix = Rotation.from_rotvec(angle * unit).as_matrix()

    def turned(place: Iterable[float]) -> Place:
        x, y, z = (float(v) for v in matrix @ (np.array(list(place)) - pivot) + pivot)
        return x, y, z

    held = set(joints)
    leaders = [
        n
        for n in joints
        if not ((other := job.joint_by_id[n].twin) in held and other != n and job.joint_by_id[n].y < 0)
    ]
    made = put_at(job, {n: turned(job.joint_by_id[n].place) for n in leaders}) if leaders else job
    both = held | {other for n in joints if (other := job.joint_by_id[n].twin)}
    flip = np.diag([1.0, -1.0, 1.0])
    tubes = []
    for t in made.tubes:
        if t.corners and set(t.ends) <= both:
            own = (
                matrix
                if set(t.ends) & set(leaders) or any(job.joint_by_id[e].twin == e for e in t.ends)
                else flip @ matrix @ flip
            )
            t = t.but(corners=tuple((float(x), float(y), float(z)) for x, y, z in np.array(t.corners) @ own.T))
        tubes.append(t)
    made = made.but(tubes=tuple(tubes))
    for name in parts:
        made = put_by_turn(made, name, matrix, turned(find_part(made, name).place))
    return settled(made)


def copy(job: Job, names: Iterable[str], by: Place, times: int = 1) -> Job:
    """Copy tubes with their joints, joints and parts so many times, each time further by the same step (mm); joints and
    tubes on both sides.

    Where a copy lands on a joint that is there, that one is used; a tube that is there is left.
    """
    chosen = list(names)
    joints, parts = group_of(job, chosen)
    tubes = [job.tube_by_id[n] for n in chosen if n in job.tube_by_id]
    if not parts and not joints:
        raise Problem(
            "Joints, tubes and parts can be copied; nothing of that kind is chosen.", hint="Pick tubes or parts first."
        )
    if not any(by):
        raise Problem(
            "A copy in the same place would be no copy.",
            where="copy",
            hint=said.example("Write for example: copy x[-300]"),
        )
    made = copy_parts(job, parts, by, times)
    for step in range(1, times + 1):
        landed: dict[str, str] = {}
        for name in joints:
            joint = job.joint_by_id[name]
            x, y, z = (float(v) for v in np.add(joint.place, step * np.array(by)))
            landed[name], made = joint_at(made, (x, y, z), mirrored=joint.twin is not None)
        for t in tubes:
            made = tube_like(made, t, (landed[t.a], landed[t.b]))
    if not parts and (len(made.joints), len(made.tubes)) == (len(job.joints), len(job.tubes)):
        raise Problem("Everything that would be copied is there already.", where="copy", hint="Give another step.")
    return made


def joint_at(job: Job, place: Place, *, mirrored: bool) -> tuple[str, Job]:
    for j in job.joints:
        if all(abs(p - q) < SAME_PLACE_MM for p, q in zip(j.place, place, strict=True)):
            return j.id, job
    made = add_joint(job, place, mirrored=mirrored)
    new = made.joints[len(job.joints) :]
    return min(new, key=lambda j: math.dist(j.place, place)).id, made


def tube_like(job: Job, tube: Tube, ends: tuple[str, str]) -> Job:
    """A tube of the same make and shape between other joints, and its mirror; the job itself where one is there."""
    if job.tube_between(ends, bent=bool(tube.corners)):
        return job
    made = add_tube(job, *ends, tube.section, tube.material, tube.role, tube.corners, tube.radius)
    new = next(t for t in made.tubes[len(job.tubes) :] if set(t.ends) == set(ends))
    fields = {
        k: getattr(tube, k) for k in ("roll", "pinned_a", "pinned_b", "offset_a", "offset_b", "taper", "cut_from")
    }
    changed = {k: v for k, v in fields.items() if v != getattr(new, k)}
    return change_tubes(made, [new.id], **changed) if changed else made


def slide(job: Job, name: str, by: float, along: tuple[str, str]) -> Job:
    """Slide a joint so far along the line from one joint to another (mm), as a pickup along its arm's pivot axis,
    which leaves the motion as it is."""
    joint = job.joint(name)
    a, b = (np.array(job.joint(n).place) for n in along)
    way = b - a
    if np.linalg.norm(way) < SAME_PLACE_MM:
        raise Problem(
            f"{along[0]} and {along[1]} stand at one place and give no line.", where=along[0], hint="Name two others."
        )
    x, y, z = (float(v) for v in np.array(joint.place) + by * way / np.linalg.norm(way))
    return put_at(job, {joint.id: (x, y, z)})


def axis_of_pickup(job: Job, name: str) -> tuple[str, str]:
    """The two joints that a pickup's arm turns about: the ends of the arm that is hung at it, or else itself and the
    pickup of its corner that lies most straight ahead of it or behind it.

    Refuses a joint that no arm is hung at and that is no pickup, and one whose corner has no other pickup within 45° of
    straight ahead, or two that are as good as each other.
    """
    twin = job.joint_by_id[name].twin
    for arm in (arm for w in job.wishbones for arm in (w.lower, w.upper)):
        if name in arm or twin in arm:
            partner = next(end for end in arm if end not in (name, twin))
            return name, partner if name in arm else (job.joint_by_id[partner].twin or partner)
    own = next((p for p in job.pickups if p.joint == name), None)
    place = np.array(job.joint_by_id[name].place)
    leans = []
    for p in job.pickups:
        if own and p.corner == own.corner and p.joint != name:
            way = np.array(job.joint_by_id[p.joint].place) - place
            leans.append((math.acos(min(1.0, abs(float(way[0])) / max(float(np.linalg.norm(way)), 1e-9))), p.joint))
    leans.sort()
    say = f"Say along which line: slide 20 along {name} {leans[0][1] if leans else 'J2L'}"
    if not leans or leans[0][0] > math.radians(45):
        raise Problem(f"{name} has no axis of its own.", where=name, hint=say)
    if len(leans) > 1 and leans[1][0] - leans[0][0] < ALIKE_LEAN:
        raise Problem(f"{leans[0][1]} and {leans[1][1]} could both be on {name}'s axis.", where=name, hint=say)
    return name, leans[0][1]


def mirror(job: Job, names: Iterable[str]) -> Job:
    """Make the other side of joints and tubes that have none: opposite joints are paired or added, tubes laid between
    them; and the mirror image of parts.

    Refuses where another tube lies in the mirror's place.
    """
    joints, parts = group_of(job, names)
    if not parts and not joints:
        raise Problem(
            "Joints, tubes and parts can be mirrored; nothing of that kind is chosen.",
            hint="Pick tubes or parts first.",
        )
    made = mirror_parts(job, parts)
    chosen = [job.tube_by_id[n] for n in names if n in job.tube_by_id]
    for name in joints:
        made = _with_twin(made, name)
    for tube in chosen:
        a, b = (made.joint_by_id[e].twin for e in tube.ends)
        if a is None or b is None or {a, b} == set(tube.ends):
            continue
        there = made.tube_between((a, b), bent=bool(tube.corners))
        if there is not None:
            image = mirrored(tube, crossed=there.a != a)
            other = [k for k in ("section", "material", "corners") if getattr(there, k) != image[k]]
            if other:
                raise Problem(
                    f"{tube.id}'s mirror would land on {there.id}, which is of another {other[0]}.",
                    where=there.id,
                    hint=f"Delete {there.id}, or make both alike first.",
                )
            continue
        number = made.last_tube + 1
        new = Tube(id=f"T{number}", a=a, b=b, **mirrored(tube, crossed=False))
        made = made.but(tubes=(*made.tubes, new), last_tube=number)
    if made is job:
        raise Problem("What is chosen has its mirror already.", where=", ".join(joints[:3]))
    return made


def _with_twin(job: Job, name: str) -> Job:
    joint = job.joint_by_id[name]
    if joint.twin is not None:
        return job
    if abs(joint.y) <= CENTRE_MM:
        return job.but(joints=tuple(j.but(y=0.0, twin=name) if j.id == name else j for j in job.joints))
    place = flipped(joint.place)
    there = next(
        (j for j in job.joints if all(abs(p - q) < SAME_PLACE_MM for p, q in zip(j.place, place, strict=True))), None
    )
    if there is not None and there.twin is not None:
        raise Problem(
            f"{name}'s mirror would land on {there.id}, which is the mirror of {there.twin}.",
            where=there.id,
            hint="Part that pair first.",
        )
    if there is None:
        number = job.last_joint + 1
        there = Joint(id=f"J{number}", x=place[0], y=place[1], z=place[2])
        job = job.but(joints=(*job.joints, there), last_joint=number)
    pairs = {name: there.id, there.id: name}
    x, y, z = place
    return job.but(
        joints=tuple(
            j.but(twin=pairs[j.id], **({"x": x, "y": y, "z": z} if j.id == there.id else {})) if j.id in pairs else j
            for j in job.joints
        )
    )


def sever(job: Job, x: float, *, ahead: bool) -> Job:
    """Cut the donor's tubes across at x (mm) and take away what lies on the other side of the cut; ahead: what is
    kept. Each stub ends at a new joint."""
    made = job
    for tube in job.tubes:
        if tube.donor and tube.id in made.tube_by_id:
            route = route_of(made, made.tube_by_id[tube.id])
            for place, _ in at_plane(made, made.tube_by_id[tube.id], x):
                along = route.nearest(place)
                if SAME_PLACE_MM < along < route.length - SAME_PLACE_MM:
                    made = split(made, tube.id, along / route.length)
                    break
    gone = {t.id for t in made.tubes if t.donor and _beyond(made, t, x, ahead)}
    if not gone:
        raise Problem(
            "That plane cuts nothing off the donor.", where="sever", hint="Say which tubes are the donor's first: donor"
        )
    left = {e for t in made.tubes if t.id not in gone for e in t.ends}
    return without(made, {e for n in gone for e in made.tube_by_id[n].ends} - left, gone)


def _beyond(job: Job, tube: Tube, x: float, ahead: bool) -> bool:
    middle = sum(job.joint_by_id[e].x for e in tube.ends) / 2
    return middle < x if ahead else middle > x
