"""Tubes: add, split and change, both sides in one edit."""

from collections.abc import Iterable
from typing import Any, TypeVar

from ironcage.core.job.edits.joints import CENTRE_MM, Place, demand_room, flipped
from ironcage.core.job.library import library
from ironcage.core.job.model import Job, Joint, Material, Section, Tube
from ironcage.problem import Problem, nearest

T = TypeVar("T", Section, Material)


def _side(job: Job, ends: tuple[str, str]) -> float:
    return sum(job.joint_by_id[end].y for end in ends)


def add_tube(job: Job, a: str, b: str, section: Section | str, material: Material | str, role: str = "") -> Job:
    """Add a tube between two joints and, where both have mirrors, the one on the other side.

    Section and material are taken from the shelf, then from the library, and put on the shelf.
    """
    ends = job.joint(a).id, job.joint(b).id
    if ends[0] == ends[1]:
        raise Problem(f"A tube cannot start and end at {ends[0]}.", where=ends[0], hint="Pick a second joint.")
    there = job.tube_by_ends.get(frozenset(ends))
    if there:
        raise Problem(f"{there.id} already joins {a} and {b}.", where=there.id, hint="Change its section instead.")
    job, section_name, material_name = _shelve(job, section, material)
    number = job.last_tube + 1
    fields: dict[str, Any] = {"section": section_name, "material": material_name, "role": role}
    twins = job.joint_by_id[ends[0]].twin, job.joint_by_id[ends[1]].twin
    other = (twins[0], twins[1]) if twins[0] and twins[1] else None
    if other is None or set(other) == set(ends) or frozenset(other) in job.tube_by_ends:
        new = [Tube(id=f"T{number}", a=ends[0], b=ends[1], **fields)]
    else:
        left = _side(job, ends) >= _side(job, other)
        names = (f"T{number}L", f"T{number}R") if left else (f"T{number}R", f"T{number}L")
        new = [Tube(id=n, a=e[0], b=e[1], **fields) for n, e in zip(names, (ends, other), strict=True)]
    return job.but(tubes=(*job.tubes, *new), last_tube=number)


def _shelve(job: Job, section: Section | str, material: Material | str) -> tuple[Job, str, str]:
    """The job with section and material on its shelf, and their names."""
    shelf = job.shelf
    if isinstance(section, str):
        section = _look_up(section, (*shelf.sections, *library().sections), "section")
    if isinstance(material, str):
        material = _look_up(material, (*shelf.materials, *library().materials), "material")
    held = {s.name: s for s in shelf.sections}.get(section.name)
    if held is None:
        shelf = shelf.but(sections=(*shelf.sections, section))
    elif held.shape != section.shape:
        raise Problem(f"The shelf already has another section called {section.name}.", where=section.name)
    if material.name not in {m.name for m in shelf.materials}:
        shelf = shelf.but(materials=(*shelf.materials, material))
    return (job if shelf is job.shelf else job.but(shelf=shelf)), section.name, material.name


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
    """Change section, material, role, roll or pinned ends of tubes, on both sides.

    `pinned_a` and `pinned_b` follow the mirrored ends; roll turns the other way on the other side.
    """
    chosen = {job.tube(name).id for name in names}
    if not chosen:
        raise Problem("No tube is chosen.", hint="Pick one or more tubes first.")
    mirrored = both_sides(job, chosen) - chosen
    some = job.tube_by_id[next(iter(chosen))]
    job, section_name, material_name = _shelve(job, section or some.section, material or some.material)
    if section:
        changes["section"] = section_name
    if material:
        changes["material"] = material_name
    opposite = dict(changes)
    if "roll" in opposite:
        opposite["roll"] = -opposite["roll"]

    def changed(tube: Tube) -> Tube:
        if tube.id in chosen:
            return tube.but(**changes)
        if tube.id not in mirrored:
            return tube
        twin = job.twin_tube(tube)
        crossed = twin is not None and job.joint_by_id[tube.a].twin != twin.a
        if crossed and ("pinned_a" in opposite or "pinned_b" in opposite):
            swapped = {k: v for k, v in opposite.items() if not k.startswith("pinned")}
            swapped |= {
                new: opposite[old]
                for new, old in (("pinned_a", "pinned_b"), ("pinned_b", "pinned_a"))
                if old in opposite
            }
            return tube.but(**swapped)
        return tube.but(**opposite)

    return job.but(tubes=tuple(changed(t) for t in job.tubes))


def split(job: Job, name: str, share: float) -> Job:
    """Split a tube at a share (0 to 1) of its length from its first joint, on both sides.

    A tube that crosses the centreline evenly is split in the middle, or at both mirrored places.
    """
    tube = job.tube(name)
    if not 0 < share < 1:
        raise Problem(
            f"{tube.id} cannot be split outside its length.", where=tube.id, hint="Give a place between its joints."
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


def _split_twice(job: Job, tube: Tube, share: float) -> Job:
    number, half = job.last_joint + 1, job.last_tube + 1
    near, far = _between(job, tube, share), _between(job, tube, 1 - share)
    first, second = (f"J{number}L", f"J{number}R") if near[1] > 0 else (f"J{number}R", f"J{number}L")
    return _cut(job, tube, [_joint(first, near, second), _joint(second, far, first)], [f"T{half}", f"T{half + 1}"])


def _joint(name: str, place: Place, twin: str | None) -> Joint:
    return Joint(id=name, x=place[0], y=place[1], z=place[2], twin=twin)


def _between(job: Job, tube: Tube, share: float) -> Place:
    a, b = job.joint_by_id[tube.a], job.joint_by_id[tube.b]
    x, y, z = (p + share * (q - p) for p, q in zip(a.place, b.place, strict=True))
    return x, y, z


def _cut(job: Job, tube: Tube, joints: list[Joint], names: list[str]) -> Job:
    """Put new joints into a tube in order from its first end; it keeps its id up to the first, the rest get `names`."""
    demand_room(job, {j.id: j.place for j in joints})
    chain = [*(j.id for j in joints), tube.b]
    pieces = [tube.but(b=chain[0], pinned_b=False)]
    for name, a, b in zip(names, chain, chain[1:], strict=False):
        pieces.append(tube.but(id=name, a=a, b=b, pinned_a=False, pinned_b=tube.pinned_b and b == tube.b))
    # a joint that the builder said this tube runs through, at its far end, is now met by the last piece
    moved = tuple(j.but(through=names[-1]) if j.id == tube.b and j.through == tube.id else j for j in job.joints)
    tubes = tuple(piece for t in job.tubes for piece in (pieces if t.id == tube.id else [t]))
    return job.but(
        joints=(*moved, *joints), tubes=tubes,
        last_joint=max(job.last_joint, *(int(j.id[1:].rstrip("LR")) for j in joints)),
        last_tube=max(job.last_tube, *(int(n[1:].rstrip("LR")) for n in names)),
    )  # fmt: skip
