"""Tubes: add, split and change, both sides in one edit."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any, TypeVar

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.tubes.centreline import Route
from ironcage.core.job.edits.following import CENTRE_MM
from ironcage.core.job.edits.joints import Place, demand_room, flipped
from ironcage.core.job.geometry.routes import hung, route_of
from ironcage.core.job.shelf.library import library
from ironcage.core.job.values.fittings import AnyFitting, AtEnd, Gusset, Haunch, Holes, Panel
from ironcage.core.job.values.model import Job, Joint, Material, Section, Tube
from ironcage.problem import Problem, nearest
from ironcage.units import said

CROSS_MM = 0.5  # a joint nearer than this to a tube stands on it
T = TypeVar("T", Section, Material)


def _side(job: Job, ends: tuple[str, str]) -> float:
    return sum(job.joint_by_id[end].y for end in ends)


@dataclass(frozen=True)
class NewTube:
    """A tube to add: its joints, section and material (as in `add_tube`), role, corners and the radius of bends, mm."""

    a: str
    b: str
    section: Section | str
    material: Material | str
    role: str = ""
    corners: tuple[Place, ...] = ()
    radius: float = 0.0


def add_tube(
    job: Job,
    a: str,
    b: str,
    section: Section | str,
    material: Material | str,
    role: str = "",
    corners: tuple[Place, ...] = (),
    radius: float = 0.0,
) -> Job:
    """Add a tube between two joints and, where both have mirrors, the one on the other side; bent to a radius (mm)
    where it has corners. One that crosses the centreline has none: its mirror image would run through it.

    A bent tube may join two joints that a straight one joins already, as a hoop over a cross member does. Section and
    material are taken from the shelf, then from the library, and put on the shelf.
    """
    return add_tubes(job, [NewTube(a, b, section, material, role, corners, radius)])


def add_tubes(job: Job, asked: Iterable[NewTube]) -> Job:
    """Add many tubes, each as `add_tube` does."""
    number, new = job.last_tube, dict[tuple[frozenset[str], bool], Tube]()
    for tube in asked:
        ends = job.joint(tube.a).id, job.joint(tube.b).id
        if ends[0] == ends[1]:
            raise Problem(f"A tube cannot start and end at {ends[0]}.", where=ends[0], hint="Pick a second joint.")
        bent = bool(tube.corners)

        there = _joined(job, new, ends, bent)
        if there:
            raise Problem(
                f"{there.id} already joins {tube.a} and {tube.b}.", where=there.id, hint="Change its section instead."
            )
        job, section, material = _shelved(job, tube.section, tube.material)
        number += 1
        made = Tube(
            id=f"T{number}",
            a=ends[0],
            b=ends[1],
            section=section,
            material=material,
            role=tube.role,
            corners=tube.corners,
            radius=tube.radius,
        )
        twins = job.joint_by_id[ends[0]].twin, job.joint_by_id[ends[1]].twin
        other = (twins[0], twins[1]) if twins[0] and twins[1] else None
        if other is None or set(other) == set(ends) or _joined(job, new, other, bent) or crosses(job, ends):
            pair = [made]
        else:
            left = _side(job, ends) >= _side(job, other)
            names = (f"T{number}L", f"T{number}R") if left else (f"T{number}R", f"T{number}L")
            mirror = made.but(id=names[1], a=other[0], b=other[1], corners=tuple(flipped(c) for c in tube.corners))
            pair = [made.but(id=names[0]), mirror]
        new |= {(frozenset(t.ends), bent): t for t in pair}
    return job.but(tubes=(*job.tubes, *new.values()), last_tube=number)


def _joined(
    job: Job, new: Mapping[tuple[frozenset[str], bool], Tube], ends: tuple[str, str], bent: bool
) -> Tube | None:
    """The tube that joins two joints already, of the job's or of the new ones."""
    return new.get((frozenset(ends), bent)) or job.tube_between(ends, bent=bent)


def crosses(job: Job, ends: tuple[str, str]) -> bool:
    """Whether a tube would pass from one side of the centreline to the other."""
    return job.joint_by_id[ends[0]].y * job.joint_by_id[ends[1]].y < 0


def shelve(job: Job, section: Section | str) -> tuple[Job, str]:
    """The job with a section on its shelf, and the name that it is kept under."""
    if isinstance(section, str):
        section = _look_up(section, (*job.shelf.sections, *library().sections), "section")
    held = {s.name: s for s in job.shelf.sections}.get(section.name)
    if held is None:
        return job.but(shelf=job.shelf.but(sections=(*job.shelf.sections, section))), section.name
    if held.shape != section.shape:
        raise Problem(f"The shelf already has another section called {section.name}.", where=section.name)
    return job, section.name


def _shelved(job: Job, section: Section | str, material: Material | str) -> tuple[Job, str, str]:
    """The job with section and material on its shelf, and their names."""
    made, section_name = shelve(job, section)
    if isinstance(material, str):
        material = _look_up(material, (*job.shelf.materials, *library().materials), "material")
    if material.name not in {m.name for m in made.shelf.materials}:
        made = made.but(shelf=made.shelf.but(materials=(*made.shelf.materials, material)))
    return made, section_name, material.name


def _look_up(name: str, known: tuple[T, ...], what: str) -> T:
    found = next((k for k in known if k.name.lower() == name.lower()), None)
    if found is None:
        raise Problem(f"There is no {what} ‘{name}’.", where=name, hint=nearest(name, (k.name for k in known)))
    return found


def both_sides(job: Job, names: Iterable[str]) -> set[str]:
    """The named tubes and those opposite."""
    tubes = {job.tube(name).id for name in names}
    return tubes | {twin.id for name in tubes if (twin := job.twin_tube(job.tube_by_id[name]))}


def change_tubes(
    job: Job,
    names: Iterable[str],
    *,
    section: Section | str | None = None,
    material: Material | str | None = None,
    **changes: Any,
) -> Job:
    """Change fields of tubes, on both sides: section, material, role, roll, pinned ends, corners, offsets, taper and
    the rest.

    What belongs to an end follows the mirrored end; corners and offsets lie opposite; roll turns the other way on the
    other side.
    """
    chosen = {job.tube(name).id for name in names}
    if not chosen:
        raise Problem("No tube is chosen.", hint="Pick one or more tubes first.")
    some = job.tube_by_id[next(iter(chosen))]
    job, section_name, material_name = _shelved(job, section or some.section, material or some.material)
    if section:
        changes["section"] = section_name
        changes.setdefault("cut_from", "")
    if material:
        changes["material"] = material_name
    new = {name: job.tube_by_id[name].but(**changes) for name in chosen}
    for name in chosen:
        twin = job.twin_tube(job.tube_by_id[name])
        if twin and twin.id == name:  # it crosses the centreline evenly: one end lands as the other does
            lands = {_SWAPPED[k]: flipped(v) for k, v in changes.items() if k.startswith("offset")}
            new[name] = new[name].but(**{k: v for k, v in lands.items() if k not in changes})
        elif twin and twin.id not in chosen:
            crossed = job.joint_by_id[twin.a].twin != job.tube_by_id[name].a
            fields = mirrored(new[name], crossed=crossed)
            keys = set(changes) | ({_SWAPPED.get(k, k) for k in changes} if crossed else set())
            keys |= {"section", "taper"} if crossed and new[name].taper and keys & {"section", "taper"} else set()
            new[twin.id] = twin.but(**{k: fields[k] for k in keys})
    return job.but(tubes=tuple(new.get(t.id, t) for t in job.tubes))


_SWAPPED = {"pinned_a": "pinned_b", "pinned_b": "pinned_a", "offset_a": "offset_b", "offset_b": "offset_a"}


def mirrored(tube: Tube, *, crossed: bool) -> dict[str, Any]:
    """What a tube's mirror image is like, but for its name and joints; `crossed`: it starts at the mirror of the
    tube's second joint."""
    fields: dict[str, Any] = {k: getattr(tube, k) for k in type(tube).model_fields if k not in ("id", "a", "b")}
    fields |= {
        "roll": tube.roll if crossed else -tube.roll,
        "corners": tuple(flipped(c) for c in tube.corners),
        "offset_a": flipped(tube.offset_a),
        "offset_b": flipped(tube.offset_b),
    }
    if crossed:
        fields["corners"] = fields["corners"][::-1]
        fields |= {
            "pinned_a": tube.pinned_b,
            "pinned_b": tube.pinned_a,
            "offset_a": flipped(tube.offset_b),
            "offset_b": flipped(tube.offset_a),
        }
        if tube.taper:
            fields |= {"section": tube.taper, "taper": tube.section}
    return fields


def split(job: Job, name: str, share: float) -> Job:
    """Split a tube at a share (0 to 1) of its length from its first joint, on both sides.

    A tube that crosses the centreline evenly is split in the middle, or at both mirrored places.
    """
    tube = job.tube(name)
    if not 0 < share < 1:
        raise Problem(
            f"{tube.id} cannot be split outside its length.", where=tube.id, hint="Give a place between its joints."
        )
    if tube.taper:
        raise Problem(
            f"{tube.id} tapers and can't be split.", where=tube.id, hint="Take its taper away first: taper none"
        )
    twin = job.twin_tube(tube)
    joint, half = f"J{job.last_joint + 1}", f"T{job.last_tube + 1}"
    place = _between(job, tube, share)
    if twin is None:
        return _cut(job, tube, [_joint(joint, place, None)], [half])
    if twin.id == tube.id:
        if abs(place[1]) <= CENTRE_MM:
            return _cut(job, tube, [_joint(joint, (place[0], 0.0, place[2]), joint)], [half])
        return _split_twice(job, tube, min(share, 1 - share))
    side, other = ("L", "R") if place[1] >= 0 else ("R", "L")
    here, there = joint + side, joint + other
    job = _cut(job, tube, [_joint(here, place, None)], [half + side])
    job = _cut(job, twin, [_joint(there, flipped(place), None)], [half + other])
    twins = {here: there, there: here}
    return job.but(joints=tuple(j.but(twin=twins[j.id]) if j.id in twins else j for j in job.joints))


def split_at(job: Job, name: str, joint: str) -> Job:
    """Split a tube at a joint that stands on it, on both sides. Refuses one that stands beside it."""
    tube, here = job.tube(name), job.joint(joint)
    if here.id in tube.ends:
        raise Problem(f"{tube.id} and the other meet at {here.id} already.", where=here.id)
    route = route_of(job, tube)
    off = float(np.linalg.norm(route.at(route.nearest(np.array(here.place)))[0] - here.place))
    if off > CROSS_MM:
        raise Problem(
            f"{here.id} stands {said.length(off)} beside {tube.id}.", where=here.id, hint="Move it onto the tube first."
        )
    half = job.last_tube + 1
    twin, other = job.twin_tube(tube), job.joint_by_id.get(here.twin or "")
    if twin is None or other is None:
        return _cut(job, tube, [here], [f"T{half}"])
    if twin.id == tube.id:
        if other.id == here.id:
            return _cut(job, tube, [here], [f"T{half}"])
        order = sorted((here, other), key=lambda j: route.nearest(np.array(j.place)))
        return _cut(job, tube, order, [f"T{half}", f"T{half + 1}"])
    side, opposite = ("L", "R") if here.y >= 0 else ("R", "L")
    made = _cut(job, tube, [here], [f"T{half}{side}"])
    return _cut(made, twin, [other], [f"T{half}{opposite}"])


def _split_twice(job: Job, tube: Tube, share: float) -> Job:
    number, half = job.last_joint + 1, job.last_tube + 1
    near, far = _between(job, tube, share), _between(job, tube, 1 - share)
    first, second = (f"J{number}L", f"J{number}R") if near[1] > 0 else (f"J{number}R", f"J{number}L")
    return _cut(job, tube, [_joint(first, near, second), _joint(second, far, first)], [f"T{half}", f"T{half + 1}"])


def _joint(name: str, place: Place, twin: str | None) -> Joint:
    return Joint(id=name, x=place[0], y=place[1], z=place[2], twin=twin)


def _between(job: Job, tube: Tube, share: float) -> Place:
    route = route_of(job, tube)
    x, y, z = (float(v) for v in route.at(share * route.length)[0])
    return x, y, z


def _cut(job: Job, tube: Tube, joints: list[Joint], names: list[str]) -> Job:
    """Put new joints into a tube in order from its first end; it keeps its id up to the first, the rest get `names`.

    A bent tube's pieces keep their share of the bends. Fittings go with the piece they are on.
    """
    new = [j for j in joints if j.id not in job.joint_by_id]
    demand_room(job, {j.id: j.place for j in new})
    chain = [*(j.id for j in joints), tube.b]
    ids = [tube.id, *names]
    routes = _cut_routes(route_of(job, tube), [np.array(j.place) for j in joints])
    pieces = []
    for n, (route, a, b) in enumerate(zip(routes, [tube.a, *chain], chain, strict=False)):
        pieces.append(
            tube.but(
                id=ids[n],
                a=a,
                b=b,
                pinned_a=tube.pinned_a and n == 0,
                pinned_b=tube.pinned_b and b == tube.b,
                offset_a=tube.offset_a if n == 0 else NONE,
                offset_b=tube.offset_b if b == tube.b else NONE,
                corners=hung(route.points[0], route.points[-1], route.points[1:-1]),
                radius=tube.radius if len(route.points) > 2 else 0.0,
                taper=tube.taper if b == tube.b else "",
            )
        )
    # a joint that the builder said this tube runs through, at its far end, is now met by the last piece
    moved = tuple(j.but(through=names[-1]) if j.id == tube.b and j.through == tube.id else j for j in job.joints)
    tubes = tuple(piece for t in job.tubes for piece in (pieces if t.id == tube.id else [t]))
    starts = np.concatenate([[0.0], np.cumsum([r.length for r in routes])])
    return job.but(
        joints=(*moved, *new),
        tubes=tubes,
        fittings=tuple(_on_piece(f, tube, pieces, starts) for f in job.fittings),
        last_joint=max(job.last_joint, *(int(j.id[1:].rstrip("LR")) for j in joints)),
        last_tube=max(job.last_tube, *(int(n[1:].rstrip("LR")) for n in names)),
    )


NONE = (0.0, 0.0, 0.0)


def _cut_routes(route: Route, places: list[Floats]) -> list[Route]:
    """A centreline cut at places on it, in order."""
    made = []
    for place in places:
        nearest = route.nearest(place)
        first, route = route.split(nearest)
        made.append(first)
    return [*made, route]


def _on_piece(fitting: AnyFitting, tube: Tube, pieces: list[Tube], starts: Floats) -> AnyFitting:
    """A fitting of a tube that is cut, on the piece where it now sits."""
    if isinstance(fitting, Gusset | Haunch):
        last = pieces[-1].id if fitting.joint == tube.b else tube.id
        return (
            fitting.but(tubes=tuple(last if t == tube.id else t for t in fitting.tubes))
            if tube.id in fitting.tubes
            else fitting
        )
    if isinstance(fitting, Panel | Holes) or fitting.tube != tube.id:
        return fitting
    if isinstance(fitting, AtEnd):
        return fitting.but(tube=pieces[-1].id if fitting.joint == tube.b else tube.id)
    n = min(int(np.searchsorted(starts, fitting.at, side="right")) - 1, len(pieces) - 1)
    return fitting.but(tube=pieces[n].id, at=float(fitting.at - starts[n]))
