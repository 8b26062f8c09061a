"""Which pieces are cut: their states, what they measure, and what is allowed."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import date
from typing import Any, TypeVar

import numpy as np

from ironcage.core.calc.plane.flats import Flat
from ironcage.core.calc.solids.convex import plate
from ironcage.core.job.geometry.routes import end_axes, route_of
from ironcage.core.job.values.cutting import FlatPart, PieceMade, PieceState, TurnedPart, Work, WorkMinutes
from ironcage.core.job.values.model import Job, Tube
from ironcage.problem import Problem, nearest
from ironcage.units import said

P = TypeVar("P", bound=FlatPart | TurnedPart)


def set_cutting(job: Job, **changes: Any) -> Job:
    """Change fields of `Cutting`, mm."""
    return job.but(cutting=job.cutting.but(**changes))


def set_minutes(job: Job, work: Work, minutes: float) -> Job:
    """Say how long one kind of work takes in this shop; 0 takes it back to the usual."""
    kept = tuple(t for t in job.cutting.minutes if t.work != work)
    return set_cutting(job, minutes=(*kept, WorkMinutes(work=work, minutes=minutes)) if minutes else kept)


def put_flat(job: Job, part: FlatPart) -> Job:
    """Put a flat part on the list, in the place of one of its name. Refuses an outline that crosses itself or encloses
    nothing, holes that reach past it, and a material that is not on the shelf."""
    outline = np.array(part.outline)
    try:
        plate(outline, part.thickness)
    except Problem:
        raise Problem(
            f"The outline of {part.name} crosses itself, or encloses nothing.",
            where=part.name,
            hint="Type its corners in order round it.",
        ) from None
    flat = Flat(outline)
    for hole in part.holes:
        at = np.array([[hole.x, hole.y]])
        if not flat.holds(at)[0] or flat.to_edge(at)[0] <= hole.diameter / 2:
            raise Problem(
                f"The hole of {said.size(hole.diameter)} at {said.sizes(hole.x)}, {said.sizes(hole.y)} reaches past "
                f"the edge of {part.name}.",
                where=part.name,
                hint="Move it in, or make it smaller.",
            )
    if part.material:
        job.material(part.material)
    return set_cutting(job, flats=_with(job.cutting.flats, part))


def remove_flat(job: Job, name: str) -> Job:
    """Take a flat part off the list."""
    return set_cutting(job, flats=_without(job.cutting.flats, name, "There is no flat part"))


def _with(parts: tuple[P, ...], part: P) -> tuple[P, ...]:
    """The parts with one more, in the place of the one of its name."""
    made = tuple(part if p.name.lower() == part.name.lower() else p for p in parts)
    return made if part in made else (*made, part)


def _without(parts: tuple[P, ...], name: str, none: str) -> tuple[P, ...]:
    """The parts without the one of a name; `none` begins the refusal of another."""
    kept = tuple(p for p in parts if p.name.lower() != name.strip().lower())
    if len(kept) == len(parts):
        raise Problem(f"{none} called ‘{name.strip()}’.", where=name, hint=nearest(name, [p.name for p in parts]))
    return kept


def put_turned(job: Job, part: TurnedPart) -> Job:
    """Put something to turn on the list, in the place of one of its name. Refuses a bore that leaves nothing, and a
    step that is longer than the part."""
    for od in filter(None, (part.od, part.step_od)):
        if part.bore >= od:
            raise Problem(
                f"A bore of {said.size(part.bore)} leaves nothing of {said.size(od)}.",
                where=part.name,
                hint="The bore is less than the outside.",
            )
    if part.step_od and not 0 < part.step_length < part.length:
        raise Problem(
            f"A step of {said.size(part.step_length)} does not fit on {said.size(part.length)} of length.",
            where=part.name,
            hint=said.example("Write for example: step [28.2] over [40]"),
        )
    return set_cutting(job, turned=_with(job.cutting.turned, part))


def remove_turned(job: Job, name: str) -> Job:
    """Take something to turn off the list."""
    return set_cutting(job, turned=_without(job.cutting.turned, name, "There is nothing to turn"))


def met_by(job: Job, tube: Tube) -> tuple[tuple[str, float], ...]:
    """The tubes that meet a tube at both of its joints, and the angle to each there, rad."""
    axes = end_axes(job)
    made: dict[str, float] = {}
    for joint in tube.ends:
        own = axes[tube.id, joint][0] * (1 if tube.a == joint else -1)
        for other in job.tubes_at[joint]:
            if other.id != tube.id:
                way = axes[other.id, joint][0] * (1 if other.a == joint else -1)
                made[other.id] = math.acos(float(np.clip(own @ way, -1, 1)))
    return tuple(sorted(made.items()))


def set_pieces(job: Job, tubes: Iterable[str], state: PieceState, day: date, length: float = 0.0, why: str = "") -> Job:
    """Say that the pieces of some tubes are cut, checked or rejected since a day, what one measures over its longest
    points (mm) and why it is rejected; open: they are still to be cut. What was measured before stays unless it is
    measured anew. Refuses a length for more than one, and donor tubes, which are not cut."""
    wanted = [job.tube(name) for name in dict.fromkeys(tubes)]
    if not wanted:
        raise Problem(
            "This needs a piece, and no tube of one is chosen.", hint="Choose a tube, or name it: piece T12L cut"
        )
    if donor := next((t for t in wanted if t.donor), None):
        raise Problem(
            f"{donor.id} is of the donor and is not cut.", where=donor.id, hint="Choose it and type: donor no"
        )
    if length and len(wanted) > 1:
        raise Problem(
            "A length is of one piece, and several are named.", where=wanted[1].id, hint="Type them one after another."
        )
    before = {p.tube: p for p in job.cutting.pieces}
    made = [
        PieceMade(
            tube=t.id,
            state=state,
            when=day,
            span=route_of(job, t).length,
            length=0.0 if state == "open" else length or (before[t.id].length if t.id in before else 0.0),
            why=why if state == "rejected" else "",
            section=t.section,
            meets=met_by(job, t),
        )
        for t in wanted
        if state != "open" or t.id not in before  # a piece may have been marked by another tube of it
    ]
    names = {t.id for t in wanted}
    return set_cutting(job, pieces=(*(p for p in job.cutting.pieces if p.tube not in names), *made))
