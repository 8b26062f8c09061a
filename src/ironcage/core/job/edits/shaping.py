"""The shape of tubes: bends, hoops, kicks, jogs, tapers, ends that land beside their joints, sections cut down. Both
sides in one edit."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.tubes.centreline import Route, demand_bendable, nearest_pass
from ironcage.core.job.edits.following import CENTRE_MM
from ironcage.core.job.edits.joints import Place, add_joint, move
from ironcage.core.job.edits.tubes import add_tube, change_tubes, shelve, split
from ironcage.core.job.geometry.routes import hung, landings, route_of
from ironcage.core.job.values.model import Die, Job, Section, Tube
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said

FIRST_MATERIAL = "Drawn mild steel tube"
EVEN_MM = 0.05  # corners that lie opposite each other to this are mirror images


def put_die(job: Job, die: Die) -> Job:
    """Put a bending die on the shelf, or in place of the one of its sizes."""
    kept = tuple(d for d in job.shelf.dies if (d.od, d.radius) != (die.od, die.radius))
    return job.but(shelf=job.shelf.but(dies=tuple(sorted((*kept, die), key=lambda d: (d.od, d.radius)))))


def remove_die(job: Job, od: float, radius: float) -> Job:
    """Take the die of an od and a radius (mm) off the shelf; tubes that were bent with it keep their bends."""
    kept = tuple(d for d in job.shelf.dies if (d.od, d.radius) != (od, radius))
    if len(kept) == len(job.shelf.dies):
        raise Problem(
            f"There is no die for {said.size(od)} tube to {said.size(radius)} radius.",
            where="die",
            hint=die_words(job, od),
        )
    return job.but(shelf=job.shelf.but(dies=kept))


def die_words(job: Job, od: float) -> str:
    """Which dies there are for an od, mm."""
    fits = [said.sizes(d.radius) for d in job.shelf.dies if abs(d.od - od) < 0.05]
    return (
        f"For {said.size(od)} there are {', '.join(fits)}."
        if fits
        else f"Add yours first, for example: die {said.typing(od)} clr {said.typing(3 * od)}"
    )


def die_for(job: Job, od: float, radius: float | None) -> Die:
    """The builder's die for a tube size, the tightest unless a radius is asked for; refuses one they do not have."""
    fits = [d for d in job.shelf.dies if abs(d.od - od) < 0.05]
    if not fits:
        raise Problem(f"There is no die for {said.size(od)} tube on the shelf.", where="die", hint=die_words(job, od))
    if radius is None:
        return min(fits, key=lambda d: d.radius)
    found = next((d for d in fits if abs(d.radius - radius) < 0.05), None)
    if found is None:
        near = min(fits, key=lambda d: abs(d.radius - radius))
        raise Problem(
            f"There is no die of {said.size(radius)} radius for {said.size(od)} tube.",
            where="die",
            hint=f"The nearest is {said.sizes(near.radius)}. {die_words(job, od)}",
        )
    return found


def shape(job: Job, name: str, corners: Floats, radius: float = 0.0, grip: float = 0.0) -> Job:
    """Give a tube corners (n, 3), mm, in order from its first joint, with bends of a radius or, with none, notched and
    folded; no corners straighten it.

    Refuses corners too close for the bends, a tube that crosses itself, and one whose sides differ though it crosses
    the centreline evenly.
    """
    tube = job.tube(name)
    a, b = (np.array(p) for p in landings(job, tube))
    corners = corners.reshape(-1, 3)
    if not len(corners):
        return change_tubes(job, [tube.id], corners=(), radius=0.0)
    route = Route(np.vstack([a, corners, b]), radius)
    demand_bendable(route, tube.id, grip)
    if (straight := np.flatnonzero(route.angles == 0)).size:
        n = int(straight[0]) + 1
        raise Problem(
            f"{tube.id} does not turn at corner {n}: it is in line with what is before and after it.",
            where=tube.id,
            hint="Put it off that line, or leave it out.",
        )
    across = max(job.section(tube.section).shape.size)
    if nearest_pass(route) < across:
        raise Problem(
            f"{tube.id} would run through itself.",
            where=tube.id,
            hint="Put its corners in the order in which the tube runs.",
        )
    twin = job.twin_tube(tube)
    if twin and twin.id == tube.id:
        opposite = (corners * [1, -1, 1])[::-1]
        off = np.linalg.norm(opposite - corners, axis=1)
        if off.max() > EVEN_MM:
            n = int(off.argmax()) + 1
            raise Problem(
                f"{tube.id} crosses the centreline evenly, and its corner {n} is "
                f"{said.length(off.max())} from having one opposite.",
                where=tube.id,
                hint="Give corners on both sides, or part its joints first.",
            )
    return change_tubes(job, [tube.id], corners=hung(a, b, corners), radius=radius)


def hoop(
    job: Job, feet: tuple[Place, Place], height: float, top: float, lean: float, die: Die, section: Section, role: str
) -> tuple[Job, str]:
    """Add a hoop on two feet: so high above them along its own plane, so wide between its top corners, leaning rearward
    by an angle (rad); its tube's id.

    Feet that are joints already are used. Raises Problem for feet in one place.
    """
    if math.dist(*feet) < 0.5:
        raise Problem("Both feet of the hoop stand in one place.", where="hoop", hint="Give it a width.")
    made = job
    names = []
    for foot in feet:
        here = next((j.id for j in made.joints if math.dist(j.place, foot) < 0.5), None)
        if here is None:
            made = add_joint(made, foot)
            here = next(j.id for j in made.joints if math.dist(j.place, foot) < 1e-6)
        names.append(here)
    last = made.tubes[-1] if made.tubes else None
    start, stop = (np.array(made.joint_by_id[n].place) for n in names)
    up = height * np.array([-math.sin(lean), 0.0, math.cos(lean)])
    across = (stop - start) / np.linalg.norm(stop - start)
    middle = (start + stop) / 2
    corners = np.array([middle - across * top / 2 + up, middle + across * top / 2 + up])
    made = add_tube(
        made,
        names[0],
        names[1],
        section,
        last.material if last else FIRST_MATERIAL,
        role,
        hung(start, stop, corners),
        die.radius,
    )
    tube = made.tubes[-1]
    return shape(made, tube.id, corners, die.radius, die.grip), tube.id


_WAYS = {
    "up": (0, 0, 1),
    "down": (0, 0, -1),
    "fore": (1, 0, 0),
    "aft": (-1, 0, 0),
    "left": (0, 1, 0),
    "right": (0, -1, 0),
}


def way_of(job: Job, tube: Tube, word: str) -> Floats:
    """The direction (3,) square to a tube that a word means: up, down, in, out, fore, aft, left, right. Refuses one
    along the tube."""
    a, b = (np.array(job.joint_by_id[e].place) for e in tube.ends)
    middle = (a + b) / 2
    if word in ("in", "out"):
        side = 1.0 if middle[1] >= 0 else -1.0
        way = np.array([0.0, side if word == "out" else -side, 0.0])
    elif word in _WAYS:
        way = np.array(_WAYS[word], dtype=float)
    else:
        raise Problem(
            f"‘{word}’ is no direction.", where=word, hint="There are up, down, in, out, fore, aft, left and right."
        )
    along = (b - a) / np.linalg.norm(b - a)
    square = way - (way @ along) * along
    size = float(np.linalg.norm(square))
    if size < 0.3:
        raise Problem(
            f"{tube.id} runs {word}, so it can't be kicked that way.",
            where=tube.id,
            hint="Choose a direction across it.",
        )
    return np.asarray(square / size)


def kick(
    job: Job,
    name: str,
    offset: float,
    angle: float,
    at: float,
    way: str,
    *,
    from_end: str,
    back: float | None,
    radius: float,
    grip: float,
    joints: bool,
) -> Job:
    """Kick a straight tube sideways by an offset, at an angle to itself (rad), starting at a distance from one of its
    joints, mm.

    With `back` it comes back to its line there (a jog); else its far joint goes with it (a Z). With `joints` it is
    mitred: each corner becomes a joint.
    """
    tube = job.tube(name)
    if tube.corners:
        raise Problem(f"{tube.id} is bent already.", where=tube.id, hint="Straighten it first: bend straight")
    if not math.radians(1) < angle <= math.pi / 2:
        raise Problem(
            f"A kick of {math.degrees(angle):.0f}° can't be made.",
            where="angle",
            hint="Give an angle over 1° and up to 90°.",
        )
    near = from_end or tube.a
    first, second = (np.array(p) for p in (landings(job, tube) if near == tube.a else landings(job, tube)[::-1]))
    length = float(np.linalg.norm(second - first))
    along, square = (second - first) / length, way_of(job, tube, way)
    run = offset / math.tan(angle) if angle < math.pi / 2 - 1e-9 else 0.0
    places = [(at, 0.0), (at + run, offset)]
    if back is not None:
        places += [(back - run, offset), (back, 0.0)]
    steps = [0.0, *(s for s, _ in places), length]
    if min(np.diff(steps)) < -1e-9 or at <= 0 or (back is not None and back - 2 * run - at < 1e-9):
        raise Problem(
            f"The kick does not fit in {tube.id}, which is {said.length(length)} long.",
            where=tube.id,
            hint=f"It takes {said.length(run if back is None else 2 * run)} of it, from {said.length(at)}.",
        )
    corners = np.array([first + s * along + h * square for s, h in places])
    made = job
    if back is None:
        far = tube.b if near == tube.a else tube.a
        dx, dy, dz = (float(v) for v in offset * square)
        made = move(job, [far], dx, dy, dz)
    made = shape(made, tube.id, corners if near == tube.a else corners[::-1], radius, grip)
    return in_joints(made, tube.id) if joints else made


def in_joints(job: Job, name: str) -> Job:
    """A folded tube as straight tubes with a joint at each corner, to be mitred there."""
    made, piece = job, name
    while made.tube(piece).corners:
        route = route_of(made, made.tube(piece))
        before = {t.id for t in made.tubes}
        number = made.last_tube + 1
        made = split(made, piece, float(route.runs[0]) / route.length)
        new = [t.id for t in made.tubes if t.id not in before]
        side = piece[-1] if piece[-1] in "LR" else ""
        piece = f"T{number}{side}" if f"T{number}{side}" in new else new[0]
    return made


def land_beside(job: Job, name: str, joint: str, off: Place) -> Job:
    """Let a tube's end land so far beside its joint, mm."""
    tube, here = job.tube(name), job.joint(joint)
    if here.id not in tube.ends:
        raise Problem(f"{tube.id} does not end at {here.id}.", where=here.id, hint=f"It ends at {tube.a} and {tube.b}.")
    if here.twin == here.id and abs(off[1]) > CENTRE_MM and job.twin_tube(tube) == tube:
        raise Problem(
            f"{tube.id} is on the centreline and can't land beside it.", where=tube.id, hint="Part its joints first."
        )
    changes: dict[str, Any] = {"offset_a" if here.id == tube.a else "offset_b": off}
    made = change_tubes(job, [tube.id], **changes)
    route = route_of(made, made.tube_by_id[tube.id])
    if route.length < 1.0:
        raise Problem(f"Nothing would be left of {tube.id}.", where=tube.id, hint="Give a smaller offset.")
    demand_bendable(route, tube.id)
    return made


def taper(job: Job, names: Iterable[str], section: Section | None, joint: str = "") -> Job:
    """Let tubes taper to a section at their second end, or at a named joint; None takes the taper away. Walls stay
    as they are."""
    made = job
    for name in names:
        tube = made.tube(name)
        if section is None:
            made = change_tubes(made, [tube.id], taper="")
            continue
        own = made.section(tube.section)
        if type(own.shape) is not type(section.shape) or not own.shape.tapers:
            raise Problem(
                f"{tube.id} is {own.name} and can't taper to {section.name}.",
                where=tube.id,
                hint="Both ends must be round, or both rectangular.",
            )
        made, held = shelve(made, section)
        if joint and made.joint(joint).id not in tube.ends:
            raise Problem(f"{tube.id} does not end at {joint}.", where=joint, hint=f"It ends at {tube.a} and {tube.b}.")
        first = bool(joint) and made.joint(joint).id == tube.a
        changes: dict[str, Any] = {"section": held, "taper": tube.section} if first else {"taper": held}
        made = change_tubes(made, [tube.id], **changes)
    return made


def cut_down(job: Job, names: Iterable[str], height: float) -> Job:
    """Section rectangular tubes to a lower height (mm): slit along, a strip taken out of both sides, and welded
    again."""
    made, sizes = job, units_of(job).sizes
    for name in names:
        tube = made.tube(name)
        held = made.section(tube.cut_from or tube.section)
        stock = held.shape
        if not stock.lowers:
            raise Problem(
                f"{tube.id} is {held.name}; only rectangular tube is cut down.",
                where=tube.id,
                hint="Choose a rectangular tube.",
            )
        if not 2 * stock.wall_mm + 1 < height < stock.size[1]:
            raise Problem(
                f"{held.name} can't be cut down to {said.size(height)}.",
                where=tube.id,
                hint=f"Give a height over {said.sizes(2 * stock.wall_mm + 1)} and under {said.size(stock.size[1])}.",
            )
        own = Section(
            name=f"{' x '.join(sizes(mm) for mm in stock.lowered(height).typed[0])} cut from {held.name}",
            shape=stock.lowered(height),
        )
        made = change_tubes(made, [tube.id], section=own, cut_from=held.name)
    return made
