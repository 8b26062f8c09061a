"""Parts, people, chains and shafts: add, change, move, remove, and lay against what is there."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import fields, replace
from itertools import count
from typing import Any, Literal

import numpy as np

from ironcage.core.calc.car.mannequin import Limbs, Seat
from ironcage.core.calc.plane.pictures import Laid, set_level, set_upright
from ironcage.core.calc.solids.convex import Floats, Solid, angles, by_three_points
from ironcage.core.calc.solids.gaps import gaps
from ironcage.core.job.edits.following import settled, without_parts
from ironcage.core.job.edits.joints import Place, move, put
from ironcage.core.job.geometry.bodies import Body, part_body, placed_bodies, tube_bodies, turn_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import (
    Chain,
    Hole,
    Part,
    PartKind,
    Person,
    Picture,
    Plane,
    Shaft,
    Shape,
)
from ironcage.problem import Problem, nearest
from ironcage.units import said

Placed = Part | Person | Chain | Shaft | Picture
Axis = Literal["x", "y", "z"]
MIRROR_MM = 0.5  # a part whose middle is nearer to the centreline is its own mirror image
_GROUPS = (("parts", Part), ("people", Person), ("chains", Chain), ("shafts", Shaft), ("pictures", Picture))


def find_placed(job: Job, name: str) -> Placed:
    """The part, person, chain, shaft or picture of that id; refuses an unknown one with the nearest known."""
    if name.upper() in job.placed:
        return job.placed[name.upper()]
    raise Problem(
        f"There is no part, person, chain, shaft or picture ‘{name}’.", where=name, hint=nearest(name, job.placed)
    )


def find_part(job: Job, name: str) -> Part:
    """The part of that id or name; refuses anything else."""
    found = next((p for p in job.parts if name.lower() in (p.id.lower(), p.name.lower())), None)
    if found is None:
        known = [n for p in job.parts for n in (p.id, p.name)]
        raise Problem(f"There is no part ‘{name}’.", where=name, hint=nearest(name, known))
    return found


def _with(job: Job, changed: Iterable[Placed], alone: frozenset[str] = frozenset()) -> Job:
    """The job with some things replaced by others of their id, and the ends of shafts where the parts go that they
    are on, but for those of ids that go `alone`."""
    new = {thing.id: thing for thing in changed}
    for shaft in job.shafts:
        if shaft.id not in new and shaft.id not in alone and (carried := _carried_shaft(job, shaft, new)) is not shaft:
            new[shaft.id] = carried
    groups = {
        group: tuple(new.get(t.id, t) for t in getattr(job, group))
        for group, kind in _GROUPS
        if any(isinstance(t, kind) for t in new.values())
    }
    return settled(job.but(**groups))


def _carried_shaft(job: Job, shaft: Shaft, new: Mapping[str, Placed]) -> Shaft:
    """A shaft whose ends go with the parts that they are on, among those that are changed."""
    for on, end, axis in ((shaft.start_on, "start", "drive"), (shaft.stop_on, "stop", "driven")):
        after, before = new.get(on), job.placed.get(on)
        if isinstance(after, Part) and isinstance(before, Part) and _pose(after) != _pose(before):
            turn = turn_of(after) @ turn_of(before).T
            place = turn @ np.subtract(getattr(shaft, end), before.place) + after.place
            way = turn @ np.array(getattr(shaft, axis))
            shaft = shaft.but(**{end: tuple(map(float, place)), axis: tuple(map(float, way))})
    return shaft


def _pose(part: Part) -> tuple[float, ...]:
    return (*part.place, part.yaw, part.pitch, part.roll)


def add_part(job: Job, name: str, kind: PartKind, shape: Shape, place: Place, mass: float = 0.0, **more: Any) -> Job:
    """Put a part at a place (the middle of its shape), mm and kg."""
    number = job.last_part + 1
    x, y, z = place
    new = Part(id=f"B{number}", name=name, kind=kind, shape=shape, x=x, y=y, z=z, mass=mass, **more)
    part_body(new)  # refuses an outline that encloses nothing
    return job.but(parts=(*job.parts, new), last_part=number)


def copy_parts(job: Job, names: Iterable[str], by: Place, times: int = 1) -> Job:
    """Copy parts so many times, each time further by the same step (mm), with their holes and all that is known of
    them. Nobody uses a copy and no joint is tied to it."""
    made = job
    for step in range(1, times + 1):
        for name in names:
            part = find_part(job, name)
            x, y, z = (float(v) for v in np.add(part.place, step * np.array(by)))
            made = with_copy(made, part, x=x, y=y, z=z)
    return made


def with_stature(person: Person, mm: float) -> Person:
    """Somebody taller or shorter in the same seat: their own limbs in proportion, the helmet as it is. Raises Problem
    for a stature beyond the tables."""
    Limbs.of_stature(mm)
    grown = {
        f.name: getattr(person.limbs, f.name) * mm / person.limbs.stature for f in fields(Limbs) if f.name != "helmet"
    }
    return person.but(limbs=replace(person.limbs, **grown))


def mirror_parts(job: Job, names: Iterable[str]) -> Job:
    """Put the mirror image of parts on the other side of the car. Raises Problem for one on the centreline, and for a
    mesh, whose own shape would have to be another."""
    made = job
    for name in names:
        part = find_part(job, name)
        if part.shape.kind == "scan":
            raise Problem(
                f"{part.name} is a mesh, and its mirror image is another one.",
                where=part.id,
                hint="Copy it (copy), or bring in a mesh of the other side.",
            )
        if abs(part.y) <= MIRROR_MM:
            raise Problem(f"{part.name} stands on the centreline.", where=part.id, hint="Move it to one side first.")
        x, y, z = part.cg
        shape = part.shape
        if shape.kind == "pipe":
            shape = shape.but(points=tuple((px, 0.0 - py, pz) for px, py, pz in shape.points))
        made = with_copy(
            made,
            part,
            name=_other_side(part.name),
            shape=shape,
            y=-part.y,
            yaw=-part.yaw,
            roll=-part.roll,
            cg=(x, -y, z),
            slide=(part.slide[0], -part.slide[1], part.slide[2]),
            holes=tuple(h.but(y=-h.y) for h in part.holes),
        )
    return made


def with_copy(job: Job, part: Part, **changes: Any) -> Job:
    """The job with another part like one, under a name that no part has."""
    number = job.last_part + 1
    taken, base = {p.name for p in job.parts}, changes.pop("name", part.name)
    name = base if base not in taken else next(n for k in count(2) if (n := f"{base} {k}") not in taken)
    return job.but(parts=(*job.parts, part.but(id=f"B{number}", name=name, **changes)), last_part=number)


def _other_side(name: str) -> str:
    """A name with left for right, and right for left."""
    swapped = {"left": "right", "right": "left", "Left": "Right", "Right": "Left"}
    return " ".join(swapped.get(word, word) for word in name.split(" "))


def add_picture(job: Job, name: str, digest: str, width: float, height: float) -> Job:
    """Lay a picture, width by height mm, on the side plane, on the ground behind the front axle."""
    number = job.last_part + 1
    new = Picture(
        id=f"I{number}", name=name, digest=digest, x=-width / 3, y=0.0, z=height / 2, width=width, height=height
    )
    return job.but(pictures=(*job.pictures, new), last_part=number)


RIGHT_UP: dict[
    Plane, tuple[tuple[int, int], tuple[int, int]]
] = {  # axis and sign to the right, axis and sign upward, as each view shows them
    "side": ((0, -1), (2, 1)),
    "plan": ((0, -1), (1, -1)),
    "front": ((1, 1), (2, 1)),
}


def scale_picture(job: Job, name: str, one: Place, other: Place, distance: float, *, upright: bool) -> Job:
    """Scale a picture by a known distance (mm) between two of its points, given where they lie now: `upright` stretches
    its height alone, else it is scaled and turned until they are level."""
    picture = find_placed(job, name)
    if not isinstance(picture, Picture):
        raise Problem(f"{name} is not a picture.", where=name, hint="Pick a picture in the list of what is placed.")
    (right, sign), (up, rise) = RIGHT_UP[picture.plane]

    def flat(place: Place) -> Floats:
        return np.array([sign * place[right], rise * place[up]])

    at = flat(picture.place)
    laid = Laid(float(at[0]), float(at[1]), picture.width, picture.height, picture.turn)
    made = (set_upright if upright else set_level)(laid, flat(one), flat(other), distance)
    moved = list(picture.place)
    moved[right], moved[up] = sign * made.right, rise * made.up
    x, y, z = moved
    return put_placed(job, picture.but(x=x, y=y, z=z, width=made.width, height=made.height, turn=made.turn))


def seat_for(limbs: Limbs, hip: Place) -> Seat:
    """A seat to begin with: pedals and wheel where these limbs reach them at ease."""
    x, y, z = hip
    leg = limbs.thigh + limbs.lower_leg
    arm = limbs.upper_arm + limbs.forearm
    return Seat(
        hip=hip,
        back=0.44,
        pedals=(x + 0.97 * leg, y, z + 30),
        feet_apart=180.0,
        floor=z - 80.0,
        stroke=60.0,
        wheel=(x + 0.62 * arm, y, z + 0.5 * limbs.trunk),
        wheel_size=300.0,
        splay=0.14,
    )


def add_person(job: Job, name: str, mass: float, limbs: Limbs, seat: Seat, **more: Any) -> Job:
    """Sit a person of a mass (kg) down."""
    number = job.last_part + 1
    new = Person(id=f"D{number}", name=name, mass=mass, limbs=limbs, seat=seat, **more)
    return job.but(people=(*job.people, new), last_part=number)


def add_chain(job: Job, **fields: Any) -> Job:
    """Lay a chain or belt."""
    number = job.last_part + 1
    return job.but(chains=(*job.chains, Chain(id=f"C{number}", **fields)), last_part=number)


def add_shaft(job: Job, **fields: Any) -> Job:
    """Lay a shaft."""
    number = job.last_part + 1
    return job.but(shafts=(*job.shafts, Shaft(id=f"S{number}", **fields)), last_part=number)


def put_placed(job: Job, thing: Placed, moved: frozenset[str] = frozenset()) -> Job:
    """Put a changed part, person, chain or shaft in the place of the one of its id; what a person uses follows them,
    and they it.

    moved: ids of things that are moved by themselves in the same edit and must not follow as well.
    """
    before = find_placed(job, thing.id)
    if isinstance(thing, Part):
        part_body(thing)
        changed = _with(job, [thing], moved)
        delta = np.subtract(thing.place, before.place)  # type: ignore[union-attr]
        return _carry_people(changed, thing, delta, moved) if delta.any() else changed
    if isinstance(thing, Person) and isinstance(before, Person):
        return _carry_parts(_with(job, [thing]), before, thing, moved)
    return _with(job, [thing])


def _shifted(place: Sequence[float], delta: Floats) -> Place:
    x, y, z = (float(v) for v in np.add(place, delta))
    return x, y, z


def _carry_people(job: Job, part: Part, delta: Floats, moved: frozenset[str]) -> Job:
    """Feet follow the pedals, hands the wheel, and everything but those the seat."""
    people = []
    for person in job.people:
        seat = person.seat
        if part.id in person.uses:
            if part.kind == "pedals":
                seat = replace(seat, pedals=_shifted(seat.pedals, delta))
            elif part.kind == "hand wheel" and seat.wheel:
                seat = replace(seat, wheel=_shifted(seat.wheel, delta))
            elif part.kind == "seat" and person.id not in moved:
                seat = replace(seat, hip=_shifted(seat.hip, delta))
        if seat is not person.seat:
            people.append(person.but(seat=seat))
    return _with(job, people) if people else job


def _carry_parts(job: Job, before: Person, after: Person, alone: frozenset[str]) -> Job:
    """Pedals, wheel and seat follow the person who uses them."""
    moves: dict[str, Floats] = {
        "pedals": np.subtract(after.seat.pedals, before.seat.pedals),
        "seat": np.subtract(after.seat.hip, before.seat.hip),
    }
    if after.seat.wheel and before.seat.wheel:
        moves["hand wheel"] = np.subtract(after.seat.wheel, before.seat.wheel)
    moved = []
    for name in after.uses:
        part = job.placed.get(name)
        if name not in alone and isinstance(part, Part) and part.kind in moves and moves[part.kind].any():
            x, y, z = _shifted(part.place, moves[part.kind])
            moved.append(part.but(x=x, y=y, z=z))
    return _with(job, moved, alone) if moved else job


def remove_placed(job: Job, names: Iterable[str]) -> Job:
    """Remove parts, people, chains and shafts, and what named them."""
    gone = {find_placed(job, n).id for n in names}
    groups: dict[str, Any] = {g: tuple(t for t in getattr(job, g) if t.id not in gone) for g, _ in _GROUPS}
    groups["people"] = tuple(
        p.but(uses=tuple(u for u in p.uses if u not in gone)) if gone & set(p.uses) else p for p in groups["people"]
    )
    groups["shafts"] = tuple(_let_go(s, gone) for s in groups["shafts"])
    return without_parts(job, gone).but(
        **{g: v for g, v in groups.items() if len(v) != len(getattr(job, g)) or v != getattr(job, g)}
    )


def _let_go(shaft: Shaft, gone: set[str]) -> Shaft:
    """A shaft that no longer goes with parts that are gone."""
    held = {end: "" for end in ("start_on", "stop_on") if getattr(shaft, end) in gone}
    return shaft.but(**held) if held else shaft


def place_of(thing: Placed) -> Place:
    """Where a thing is told to be: a part's middle, a person's hip, a chain's driven wheel, a shaft's first joint."""
    if isinstance(thing, Part | Picture):
        return thing.place
    if isinstance(thing, Person):
        return thing.seat.hip
    if isinstance(thing, Chain):
        return thing.driven.x, thing.driven.y, thing.driven.z
    return thing.start


def _at(thing: Placed, place: Place) -> Placed:
    x, y, z = place
    if isinstance(thing, Part | Picture):
        return thing.but(x=x, y=y, z=z)
    if isinstance(thing, Person):
        return thing.but(seat=replace(thing.seat, hip=place))
    if isinstance(thing, Chain):
        by = np.subtract(place, place_of(thing))
        ends = {}
        for end in ("driving", "driven"):
            wheel = getattr(thing, end)
            x, y, z = _shifted((wheel.x, wheel.y, wheel.z), by)
            ends[end] = wheel.but(x=x, y=y, z=z)
        return thing.but(**ends)
    delta = np.subtract(place, thing.start)
    return thing.but(start=place, stop=_shifted(thing.stop, delta))


def move_things(job: Job, names: Iterable[str], dx: float = 0.0, dy: float = 0.0, dz: float = 0.0) -> Job:
    """Move joints, parts, people, chains and shafts by dx, dy, dz (mm), each once, whatever it follows."""
    chosen = list(dict.fromkeys(names))
    joints = [n for n in chosen if n in job.joint_by_id]
    made = move(job, joints, dx, dy, dz) if joints else job
    for name in chosen:
        if name not in job.joint_by_id:
            thing = find_placed(made, name)
            made = put_placed(made, _at(thing, _shifted(place_of(thing), np.array([dx, dy, dz]))), frozenset(chosen))
    return made


def put_things(job: Job, names: Iterable[str], **axes: float) -> Job:
    """Put joints, parts, people, chains (by their driven wheels) and shafts at given x, y or z (mm), those not given
    kept."""
    chosen = list(dict.fromkeys(names))
    joints = [n for n in chosen if n in job.joint_by_id]
    made = put(job, joints, **axes) if joints else job
    for name in chosen:
        if name not in job.joint_by_id:
            thing = find_placed(made, name)
            x, y, z = (axes.get(a, v) for a, v in zip("xyz", place_of(thing), strict=True))
            made = put_placed(made, _at(thing, (x, y, z)), frozenset(chosen))
    return made


def put_by_points(job: Job, name: str, own: Floats, there: Floats) -> tuple[Job, float]:
    """Pose a part by three of its own points and where they were measured (3, 3), mm; the worst that a point is then
    off, mm."""
    part = find_part(job, name)
    turn, by = by_three_points(own, there)
    yaw, pitch, roll = angles(turn)
    off = float(np.linalg.norm(own @ turn.T + by - there, axis=1).max())
    x, y, z = (float(v) for v in by)
    return put_placed(job, part.but(x=x, y=y, z=z, yaw=yaw, pitch=pitch, roll=roll)), off


def put_by_turn(job: Job, name: str, matrix: Floats, place: Place) -> Job:
    """Turn a part further by a rotation (3, 3) in the car's axes and put its middle at a place, mm."""
    part = find_part(job, name)
    yaw, pitch, roll = angles(matrix @ turn_of(part))
    x, y, z = place
    return put_placed(job, part.but(x=x, y=y, z=z, yaw=yaw, pitch=pitch, roll=roll))


def add_hole(job: Job, name: str, hole: Hole) -> Job:
    """Give a part a mount hole, or move the one of that name."""
    part = find_part(job, name)
    kept = tuple(hole if h.name == hole.name else h for h in part.holes)
    return _with(job, [part.but(holes=kept if hole in kept else (*kept, hole))])


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


def hole_place(part: Part, hole: Hole) -> Place:
    """Where a hole is in the car, mm."""
    x, y, z = (float(v) for v in turn_of(part) @ np.array([hole.x, hole.y, hole.z]) + part.place)
    return x, y, z


def align(job: Job, name: str, to: str, other: str = "") -> Job:
    """Lay a part: its underside on the `ground`, its middle on the `centreline`, `square` to the car (to the nearest
    quarter turn), or its middle `level`, `abreast` (same x) or `in line` (same y) with another part.

    With `hole to part and hole` for the other, the part's hole is laid so to the other's, as two shafts are.
    """
    part = find_part(job, name)
    if to == "square":
        quarter = math.pi / 2
        return put_placed(
            job, part.but(**{a: quarter * round(getattr(part, a) / quarter) for a in ("yaw", "pitch", "roll")})
        )
    low = part_body(part).bounds[0]
    if to == "ground":
        return put_placed(job, part.but(z=part.z - float(low[2])))
    if to == "centreline":
        return put_placed(job, part.but(y=0.0))
    axes = {"level": "z", "abreast": "x", "in line": "y"}
    if to not in axes:
        raise Problem(
            f"‘{to}’ is not something to align to.",
            where=to,
            hint="There are ground, centreline, square, level, abreast and in line.",
        )
    axis = axes[to]
    own, _, others = other.partition(" to ")
    if others:
        hole = find_hole(part, own)
        mate, its = part_and_hole(job, others)
        n = "xyz".index(axis)
        off = hole_place(mate, its)[n] - hole_place(part, hole)[n]
        return put_placed(job, part.but(**{axis: getattr(part, axis) + float(off)}))
    return put_placed(job, part.but(**{axis: getattr(find_part(job, other), axis)}))


STEP_LEFT_MM = 0.01


def drop(job: Job, name: str, clearance_mm: float) -> tuple[Job, str]:
    """Let a part down until it is `clearance` off the ground or its margin off anything below; what it then rests on.

    A step goes as far as the planes between it and its neighbours allow (conservative advancement, after Mirtich 1996),
    so nothing is passed through.
    """
    part = find_part(job, name)
    here = part_body(part)
    others = [b for b in (*placed_bodies(job), *tube_bodies(job)) if b.id != part.id and _below(here, b)]
    fallen, on = 0.0, "ground"
    room = float(here.bounds[0][2]) - clearance_mm
    if room < -STEP_LEFT_MM:
        raise Problem(
            f"{part.name} is {said.length(clearance_mm + room)} off the ground already, "
            f"lower than {said.sizes(clearance_mm)}.",
            where=part.id,
            hint=f"A drop only lets it down; to lift it: z+{said.typing(round(-room, 1))}",
        )
    pairs = [(s, o, b) for s in here.solids for b in others for o in b.solids]
    for _ in range(200):
        step, on = room - fallen, "ground"
        if pairs:
            moved = [s.moved(np.eye(3), np.array([0, 0, -fallen])) for s, _, _ in pairs]
            step, on = _free_fall(moved, pairs, part.margin, step)
        if step <= STEP_LEFT_MM:
            break
        fallen += step
    z = part.z - max(fallen, 0.0)
    return put_placed(job, part.but(z=z)) if fallen > STEP_LEFT_MM else job, on


def _below(here: Body, other: Body) -> bool:
    """Whether a body lies in the way of something that falls."""
    low, high = other.bounds[:, :2] - [[here.margin] * 2, [-here.margin] * 2]
    mine = here.bounds[:, :2]
    return bool((low < mine[1]).all() and (high > mine[0]).all() and other.bounds[0][2] < here.bounds[1][2])


def _free_fall(
    moved: Sequence[Solid], pairs: Sequence[tuple[Solid, Solid, Body]], margin: float, room: float
) -> tuple[float, str]:
    made = gaps(moved, [o for _, o, _ in pairs])
    way = made.on_second - made.on_first
    down = -way[:, 2] / np.maximum(np.linalg.norm(way, axis=1), 1e-9)
    free = np.where(down > 1e-3, (made.distance - margin) / np.maximum(down, 1e-3), np.inf)
    free = np.where(made.distance <= margin, np.where(down > 1e-3, 0.0, np.inf), free)
    n = int(free.argmin())
    return (float(free[n]), pairs[n][2].id) if free[n] < room else (room, "ground")
