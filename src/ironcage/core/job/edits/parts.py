"""Pickups, wheels, masses, the brief, the shelf and the jig table."""

import math
from collections.abc import Iterable
from typing import Any

from ironcage.core.job.edits.following import CENTRE_MM
from ironcage.core.job.edits.joints import Place
from ironcage.core.job.values.model import (
    Corner,
    Datum,
    Job,
    Material,
    Pickup,
    PointMass,
    Section,
    Wheel,
)
from ironcage.core.job.values.running import HUNG, OUTER, moved_places
from ironcage.problem import Problem
from ironcage.units import said

_OTHER_SIDE: dict[Corner, Corner] = {
    "front left": "front right",
    "front right": "front left",
    "rear left": "rear right",
    "rear right": "rear left",
}
MOST_RAKE = math.radians(20)


def add_pickup(job: Job, joint: str, end: str = "") -> Job:
    """Make a joint a suspension pickup of its corner, and its twin one of the corner opposite.

    `end` is "front" or "rear"; by default the nearer axle of the wheels, or the sign of x from the middle
    of the frame where there are no wheels.
    """
    here = job.joint(joint)
    if abs(here.y) <= CENTRE_MM:
        raise Problem(
            f"{here.id} is on the centreline and belongs to no corner.", where=here.id, hint="Pick a joint off it."
        )
    if not end:
        xs = {side: [w.x for w in job.wheels if w.corner.startswith(side)] for side in ("front", "rear")}
        if all(xs.values()):
            end = min(xs, key=lambda side: abs(sum(xs[side]) / len(xs[side]) - here.x))
        else:
            along = [j.x for j in job.joints]
            end = "front" if here.x > (min(along) + max(along)) / 2 else "rear"
    number = job.last_part + 1
    corner: Corner = f"{end} {'left' if here.y > 0 else 'right'}"  # type: ignore[assignment]
    new = [Pickup(id=f"P{number}", joint=here.id, corner=corner)]
    if here.twin and here.twin != here.id:
        number += 1
        new.append(Pickup(id=f"P{number}", joint=here.twin, corner=_OTHER_SIDE[corner]))
    for p in new:
        if any(q.joint == p.joint for q in job.pickups):
            raise Problem(f"{p.joint} is a pickup already.", where=p.joint)
    return job.but(pickups=(*job.pickups, *new), last_part=number)


def add_wheel(job: Job, end: str, place: Place, diameter: float, width: float) -> Job:
    """Add a pair of wheels at the front or rear: centre of the left one, tyre diameter and width, mm; a single wheel
    where that is on the centreline."""
    if end not in ("front", "rear"):
        raise Problem(f"‘{end}’ is not an axle.", where=end, hint="Say front or rear.")
    if any(w.corner.startswith(end) for w in job.wheels):
        raise Problem(f"The {end} wheels are there already.", where=f"{end} wheels", hint="Change or remove them.")
    x, y, z = place
    if 0 < abs(y) < width / 2:
        raise Problem(
            "The wheels would stand on each other.",
            where=f"{end} wheels",
            hint="Give half the track as y, or 0 for a single wheel.",
        )
    number = job.last_part
    left: Corner = f"{end} left"  # type: ignore[assignment]
    new = (
        Wheel(id=f"W{number + 1}", corner=left, x=x, y=abs(y), z=z, diameter=diameter, width=width),
        Wheel(id=f"W{number + 2}", corner=_OTHER_SIDE[left], x=x, y=-abs(y), z=z, diameter=diameter, width=width),
    )
    return job.but(wheels=(*job.wheels, *new), last_part=number + 2)


def set_rim(job: Job, end: str, inside: float) -> Job:
    """Say how wide the rims of an end are inside, mm; 0 where that is not known. Refuses an end without wheels, and
    rims wider than their tyres."""
    there = [w for w in job.wheels if w.corner.startswith(end)]
    if not there:
        raise Problem(f"There are no {end} wheels.", where=end, hint="Add them first: wheels")
    if inside >= there[0].diameter:
        raise Problem(
            f"A rim of {said.length(inside)} inside is no smaller than its tyre, {said.length(there[0].diameter)}.",
            where="rim",
            hint="Measure inside the rim, where the links go.",
        )
    return job.but(wheels=tuple(w.but(rim=inside) if w in there else w for w in job.wheels))


def set_disc(job: Job, end: str, diameter: float, inwards: float) -> Job:
    """Say how large the brake discs of an end are, mm, 0 for none, and how far inwards of its wheel's middle a disc's
    inner face stands. Refuses an end without wheels, and a disc as large as its rim, where that is known, or its
    tyre."""
    there = [w for w in job.wheels if w.corner.startswith(end)]
    if not there:
        raise Problem(f"There are no {end} wheels.", where=end, hint="Add them first: wheels")
    room = there[0].rim or there[0].diameter
    if diameter >= room:
        raise Problem(
            f"A brake disc of {said.length(diameter)} has no room in {said.length(room)}.",
            where="disc",
            hint="Measure across the disc.",
        )
    return job.but(wheels=tuple(w.but(disc=diameter, disc_in=inwards) if w in there else w for w in job.wheels))


def add_mass(job: Job, name: str, mass_kg: float, place: Place) -> Job:
    """Add something heavy at a place."""
    if not mass_kg > 0:
        raise Problem(f"{name or 'A mass'} must weigh something.", where=name)
    number = job.last_part + 1
    new = PointMass(id=f"M{number}", name=name, mass=mass_kg, x=place[0], y=place[1], z=place[2])
    return job.but(masses=(*job.masses, new), last_part=number)


def change_part(job: Job, name: str, /, **changes: Any) -> Job:
    """Change fields of a wheel or a mass; a wheel's opposite one follows."""
    if any(m.id == name for m in job.masses):
        return job.but(masses=tuple(m.but(**changes) if m.id == name else m for m in job.masses))
    wheel = next((w for w in job.wheels if w.id == name), None)
    if wheel is None:
        raise Problem(f"There is no wheel or mass ‘{name}’.", where=name)
    opposite = dict(changes)
    if "y" in opposite:
        opposite["y"] = -opposite["y"]
    other = _OTHER_SIDE[wheel.corner]
    return job.but(
        wheels=tuple(
            w.but(**changes) if w.id == name else w.but(**opposite) if w.corner == other else w for w in job.wheels
        )
    )


def set_rake(job: Job, nose_down: float) -> tuple[Job, float]:
    """Put the rear wheels so high that the frame stands nose down by an angle (rad, negative: nose up) on its
    tyres, and with them what goes with them of their links; the job, and how far they go up in it, mm. Refuses a
    car without wheels at both ends, and one so steep."""
    ends = {end: [w for w in job.wheels if w.corner.startswith(end)] for end in ("front", "rear")}
    for end, there in ends.items():
        if not there:
            raise Problem(
                f"There are no {end} wheels to stand on.",
                where=end,
                hint=said.example(f"Type: wheels {end} [0] [650] [290] dia [580] width [165]"),
            )
    if abs(nose_down) > MOST_RAKE:
        raise Problem(f"A rake of {math.degrees(nose_down):.0f}° is more than any car stands at.", hint="At most 20°.")
    front, rear = (
        [sum(v) / len(v) for v in ([w.x for w in there], [w.z - w.diameter / 2 for w in there])]
        for there in ends.values()
    )
    up = front[1] - math.tan(nose_down) * (front[0] - rear[0]) - rear[1]
    moved = {w.id for w in ends["rear"]}
    return job.but(
        wheels=tuple(w.but(z=w.z + up) if w.id in moved else w for w in job.wheels),
        **{kind: tuple(_lifted(hung, up) for hung in getattr(job, kind)) for kind in HUNG},
    ), up


def _lifted(hung: Any, up: float) -> Any:
    """What the rear wheels hang on with its outer ends as far up in the car as they are, mm; that of the front as it
    is."""
    if hung.axle != "rear":
        return hung
    on_rocker = {"spring_out"} if getattr(hung, "push", None) else set()
    return moved_places(hung, lambda at: (at[0], at[1], at[2] + up), OUTER - on_rocker)


def remove_parts(job: Job, names: Iterable[str]) -> Job:
    """Remove pickups and wheels (with those opposite) and masses."""
    gone = set(names)
    for p in job.pickups:
        if p.id in gone:
            twin = job.joint_by_id[p.joint].twin
            gone |= {q.id for q in job.pickups if q.joint == twin}
    gone |= {w.id for w in job.wheels for v in job.wheels if v.id in gone and w.corner == _OTHER_SIDE[v.corner]}
    kept = {
        "pickups": tuple(p for p in job.pickups if p.id not in gone),
        "wheels": tuple(w for w in job.wheels if w.id not in gone),
        "masses": tuple(m for m in job.masses if m.id not in gone),
    }
    if all(len(kept[k]) == len(getattr(job, k)) for k in kept):
        raise Problem("There is nothing of that name to remove.", where=", ".join(sorted(gone)))
    return job.but(**kept)


def set_brief(job: Job, **changes: Any) -> Job:
    """Change name, builder, vehicle, units or the datum that readings are shown from."""
    return job.but(brief=job.brief.but(**changes))


def add_datum(job: Job, name: str, place: Place) -> Job:
    """Add a named datum, or move the one of that name."""
    if not name.strip():
        raise Problem("A datum needs a name.", hint="Write for example firewall.")
    new = Datum(name=name.strip(), x=place[0], y=place[1], z=place[2])
    kept = tuple(new if d.name == new.name else d for d in job.brief.datums)
    if new not in kept:
        kept = (*kept, new)
    return set_brief(job, datums=kept)


def remove_datum(job: Job, name: str) -> Job:
    """Remove a datum; the last one, and the one that readings are shown from, stay."""
    if name == job.brief.shown_from:
        raise Problem(f"Readings are shown from {name}.", where=name, hint="Choose another datum to read from first.")
    return set_brief(job, datums=tuple(d for d in job.brief.datums if d.name != name))


def put_section(job: Job, section: Section) -> Job:
    """Put a section on the shelf, or give the one of that name other sizes."""
    kept = tuple(section if s.name == section.name else s for s in job.shelf.sections)
    return job.but(shelf=job.shelf.but(sections=kept if section in kept else (*kept, section)))


def put_material(job: Job, material: Material) -> Job:
    """Put a material on the shelf, or give the one of that name other figures."""
    kept = tuple(material if m.name == material.name else m for m in job.shelf.materials)
    return job.but(shelf=job.shelf.but(materials=kept if material in kept else (*kept, material)))


def set_table(job: Job, **changes: Any) -> Job:
    """Change the jig table's place, size, height or least saddle."""
    return job.but(table=job.table.but(**changes))


def toggle_stands(job: Job, joints: Iterable[str]) -> Job:
    """Put joints and their twins on stands; if all of them are already, take them off."""
    chosen = [j for name in joints for j in (job.joint(name),)]
    both = dict.fromkeys(name for j in chosen for name in (j.id, j.twin or j.id))
    if not both:
        raise Problem("No joint is chosen.", hint="Pick the joints that stand on the table.")
    stands = job.table.stands
    if all(name in stands for name in both):
        return set_table(job, stands=tuple(s for s in stands if s not in both))
    return set_table(job, stands=tuple(dict.fromkeys([*stands, *both])))
