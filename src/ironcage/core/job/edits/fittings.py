"""Sheet and fittings: add, change, remove, both sides in one edit."""

from __future__ import annotations

import math
from collections.abc import Iterable
from itertools import combinations
from typing import Any

import numpy as np

from ironcage.core.calc.plane.flats import flattened
from ironcage.core.calc.sections import AnySection
from ironcage.core.calc.solids.convex import plate
from ironcage.core.calc.tubes.flats import flat_width
from ironcage.core.job.edits.following import without_fittings
from ironcage.core.job.geometry.routes import end_axes, route_of
from ironcage.core.job.geometry.tabs import tab_stand
from ironcage.core.job.shelf.library import library
from ironcage.core.job.values.fittings import (
    PLATES,
    AnyFitting,
    AtEnd,
    CrushTube,
    Doubler,
    FishPlate,
    Flange,
    FlattenedEnd,
    FootPlate,
    Gusset,
    Haunch,
    Holes,
    Insert,
    Panel,
    SlipJoint,
    Slot,
    Tab,
    TubeHoles,
)
from ironcage.core.job.values.model import Job, Tube
from ironcage.problem import Problem, nearest
from ironcage.units import said

SLIDES_MM = 1.0  # an insert that is more than this smaller than its bore is loose in it
HOLE_MOST = 0.8  # of a tube's size across: a larger hole cuts its sides away
FLANGE_EDGE = 1.5  # hole diameters from a bolt's middle to the plate's edge, and to the tube
GOES_ON_COS = 0.5  # a tube that goes on is kicked by 60° at most
IN_LINE_COS = 0.996  # within 5° two tubes go on in line


def find_fitting(job: Job, name: str) -> AnyFitting:
    """The fitting of that id; refuses an unknown one."""
    if name.upper() in job.fitting_by_id:
        return job.fitting_by_id[name.upper()]
    raise Problem(f"There is no fitting ‘{name}’.", where=name, hint=nearest(name, job.fitting_by_id))


def add_fitting(job: Job, new: AnyFitting) -> Job:
    """Put a fitting (its id is given here) on the frame and, where what it sits on has another on the other side,
    its mirror image there."""
    job, new = _with_material(job, new)
    demand_fits(job, new)
    number = job.last_fitting + 1
    other = mirrored(job, new)
    if other is None:
        made: tuple[AnyFitting, ...] = (new.but(id=f"F{number}", twin=None),)
    else:
        left, right = (f"F{number}L", f"F{number}R") if _side(job, new) >= 0 else (f"F{number}R", f"F{number}L")
        made = (new.but(id=left, twin=right), other.but(id=right, twin=left))
    return job.but(fittings=(*job.fittings, *made), last_fitting=number)


def _with_material(job: Job, new: AnyFitting) -> tuple[Job, AnyFitting]:
    """The job with a panel's material on its shelf, and the panel of it: that of the last tube where none was said."""
    if not isinstance(new, Panel):
        return job, new
    known = {m.name: m for m in (*library().materials, *job.shelf.materials)}
    name = new.material or (job.tubes[-1].material if job.tubes else library().materials[0].name)
    if name not in known:
        raise Problem(f"There is no material ‘{name}’.", where=name, hint=nearest(name, known))
    if name not in {m.name for m in job.shelf.materials}:
        job = job.but(shelf=job.shelf.but(materials=(*job.shelf.materials, known[name])))
    return job, new.but(material=name)


def change_fitting(job: Job, name: str, **changes: Any) -> Job:
    """Change fields of a fitting and of the one on the other side."""
    old = find_fitting(job, name)
    job, new = _with_material(job, old.but(**changes))
    demand_fits(job, new)
    both = {old.id: new}
    if old.twin:
        other = mirrored(job, new)
        if other is not None:
            both[old.twin] = other.but(id=old.twin, twin=old.id)
    return job.but(fittings=tuple(both.get(f.id, f) for f in job.fittings))


def remove_fittings(job: Job, names: Iterable[str]) -> Job:
    """Take fittings away, on both sides, with the holes in them."""
    gone = {find_fitting(job, n).id for n in names}
    return without_fittings(job, gone | {t for n in gone if (t := job.fitting_by_id[n].twin)})


def _side(job: Job, fitting: AnyFitting) -> float:
    if isinstance(fitting, Panel):
        return sum(job.joint_by_id[j].y for j in fitting.joints)
    if isinstance(fitting, Gusset | Haunch | AtEnd):
        return job.joint_by_id[fitting.joint].y
    if isinstance(fitting, Holes):
        return 1.0 if job.fitting_by_id[fitting.host].id.endswith("L") else -1.0
    return sum(job.joint_by_id[e].y for e in job.tube_by_id[fitting.tube].ends)


def mirrored(job: Job, fitting: AnyFitting) -> AnyFitting | None:
    """The fitting's mirror image; None where it is its own or nothing is there to carry one."""
    if isinstance(fitting, Panel):
        twins = [job.joint_by_id[j].twin for j in fitting.joints]
        if not all(twins) or set(twins) == set(fitting.joints):
            return None
        return fitting.but(joints=tuple(t for t in twins if t))
    if isinstance(fitting, Gusset | Haunch):
        twin = job.joint_by_id[fitting.joint].twin
        others = [job.twin_tube(job.tube_by_id[t]) for t in fitting.tubes]
        if not twin or not all(others) or (twin == fitting.joint and {t.id for t in others if t} == set(fitting.tubes)):
            return None
        return fitting.but(joint=twin, tubes=tuple(t.id for t in others if t))
    if isinstance(fitting, AtEnd):
        twin, tube = job.joint_by_id[fitting.joint].twin, job.twin_tube(job.tube_by_id[fitting.tube])
        if not twin or tube is None or twin == fitting.joint or twin not in tube.ends:
            return None
        made = fitting.but(joint=twin, tube=tube.id)
        crossed = job.joint_by_id[tube.a].twin != job.tube_by_id[fitting.tube].a
        return made.but(clock=-made.clock) if isinstance(made, FlattenedEnd | Slot) and not crossed else made
    if isinstance(fitting, Holes):
        host = job.fitting_by_id[fitting.host].twin
        return fitting.but(host=host) if host else None
    return _mirrored_on_tube(job, fitting)


OnTube = FishPlate | Doubler | Insert | CrushTube | Tab | SlipJoint | TubeHoles


def _mirrored_on_tube(job: Job, fitting: OnTube) -> AnyFitting | None:
    tube = job.tube_by_id[fitting.tube]
    other = job.twin_tube(tube)
    if other is None:
        return None
    length = route_of(job, tube).length
    crossed = job.joint_by_id[other.a].twin != tube.a
    if isinstance(fitting, Tab):
        return _mirrored_tab(job, fitting, other, length if crossed else 0.0)
    if other.id == tube.id:  # it crosses the centreline: a fitting off its middle has its mirror on the same tube
        back = length - fitting.at - row_length(fitting)
        return fitting.but(at=back) if abs(fitting.at - back) > 1.0 else None
    at = length - fitting.at - row_length(fitting) if crossed else fitting.at
    made = fitting.but(tube=other.id, at=at)
    return made.but(clock=-made.clock) if isinstance(made, TubeHoles | CrushTube) and not crossed else made


def row_length(fitting: OnTube) -> float:
    """How far along its tube a row reaches from its first to its last, mm; 0 of what is no row."""
    return (fitting.count - 1) * fitting.pitch if isinstance(fitting, CrushTube | TubeHoles) else 0.0


def _mirrored_tab(job: Job, tab: Tab, other: Tube, length: float) -> Tab | None:
    """A tab's mirror image on a tube, which runs the other way where a length (mm) is given; None where it would be
    itself, or what it carries is on one side only."""
    carries, axis = (job.joint_by_id[name].twin if name else "" for name in (tab.carries, tab.axis))
    if carries is None or axis is None:
        return None
    if other.id == tab.tube and (carries == tab.carries if carries else abs(tab.at - length / 2) <= 0.5):
        return None
    at, clock = (length - tab.at, tab.clock) if length else (tab.at, -tab.clock)
    return tab.but(tube=other.id, at=at, clock=clock, carries=carries, axis=axis)


def demand_fits(job: Job, fitting: AnyFitting) -> None:
    """Refuse a fitting that does not go where it is put."""
    if isinstance(fitting, Panel):
        _demand_round(job, fitting)
    elif isinstance(fitting, Gusset | Haunch):
        for name in fitting.tubes:
            if fitting.joint not in job.tube(name).ends:
                raise Problem(
                    f"{name} does not meet {fitting.joint}.",
                    where=fitting.joint,
                    hint="A corner plate needs two tubes that meet there.",
                )
        if fitting.tubes[0] == fitting.tubes[1]:
            raise Problem(
                "A corner plate needs two tubes.", where=fitting.tubes[0], hint="Name another one that meets there."
            )
    elif isinstance(fitting, AtEnd):
        _demand_end(job, fitting)
    elif isinstance(fitting, Holes):
        host = find_fitting(job, fitting.host)
        if not isinstance(host, PLATES):
            raise Problem(
                f"{host.id} is a {host.kind}, and lightening holes go in plate.",
                where=host.id,
                hint="Name a panel, gusset, fish plate or tab.",
            )
    else:
        tube = job.tube(fitting.tube)
        length = route_of(job, tube).length
        if (last := fitting.at + row_length(fitting)) > length + 0.5:
            raise Problem(
                f"{tube.id} is {said.length(length)} long, and {said.sizes(last)} lies beyond it.",
                where=tube.id,
                hint="Measure from its first joint.",
            )
        _demand_on_tube(job, fitting, tube)


def _demand_end(job: Job, cap: AtEnd) -> None:
    """Refuse a cap or flange where its tube does not end, whose hole is larger than the tube, or whose bolts do not go
    beside it."""
    tube = job.tube(cap.tube)
    if cap.joint not in tube.ends:
        raise Problem(
            f"{tube.id} does not end at {cap.joint}.", where=cap.joint, hint=f"It ends at {tube.a} and {tube.b}."
        )
    shape = job.section(tube.section).shape
    if isinstance(cap, Flange) or (isinstance(cap, FootPlate) and cap.bolts):
        if not flange_holes(cap, max(shape.size)):
            least = math.ceil(max(shape.size) + 2 * (1 + FLANGE_EDGE) * cap.hole)
            raise Problem(
                f"{cap.bolts} holes of {said.size(cap.hole)} do not fit beside {tube.id} on a plate of "
                f"{said.sizes(cap.width)} x {said.sizes(cap.height)}.",
                where=tube.id,
                hint=f"Write for example: width {said.typing(least)}, height {said.typing(least)}",
            )
        if isinstance(cap, Flange) and any(
            isinstance(f, Flange) and (f.joint, f.tube) == (cap.joint, cap.tube) and f.id != cap.id and cap.id == "new"
            for f in job.fittings
        ):
            raise Problem(f"{tube.id} has a flange at {cap.joint}.", where=tube.id, hint="Change that one.")
        return
    if isinstance(cap, FootPlate):
        return
    if isinstance(cap, FlattenedEnd | Slot):
        _demand_worked(cap, tube, shape)
        return
    size = min(shape.size)
    if cap.hole >= size:
        raise Problem(f"A hole of {said.size(cap.hole)} leaves nothing of a cap on {tube.id}.", where=tube.id)


def _demand_worked(end: FlattenedEnd | Slot, tube: Tube, shape: AnySection) -> None:
    """Refuse an end that can't be pressed flat or slotted so."""
    if isinstance(end, Slot):
        if end.thickness >= max(shape.size) / 2:
            raise Problem(
                f"A slot for a plate of {said.size(end.thickness)} leaves too little of {tube.id}.",
                where=tube.id,
                hint="Take a thinner plate.",
            )
        return
    if not shape.is_round:
        raise Problem(
            f"{tube.id} is {tube.section}, and only round tube is pressed flat.",
            where=tube.id,
            hint="Add a tab or a flange.",
        )
    wide = flat_width(max(shape.size), shape.wall_mm)
    if end.hole >= wide / 2 or end.past <= end.hole / 2 or end.past + end.hole / 2 >= end.length:
        raise Problem(
            f"A hole of {said.size(end.hole)}, {said.size(end.past)} from the tip, does not fit on a flat of "
            f"{said.length(wide)} by {said.size(end.length)}.",
            where=tube.id,
            hint="Make the flat longer, or the hole smaller.",
        )


def _demand_round(job: Job, panel: Panel) -> None:
    names = [job.joint(j).id for j in panel.joints]
    if len(set(names)) != len(names):
        raise Problem(
            "A panel's corners are named twice.", where="joints", hint="Name each joint once, in order round the panel."
        )
    try:
        plate(flattened(np.array([job.joint_by_id[n].place for n in names]))[0], panel.thickness)
    except Problem:
        raise Problem(
            "The panel's outline crosses itself, or encloses nothing.",
            where="joints",
            hint="Name its joints in order round it.",
        ) from None


def _joined(job: Job, fitting: Insert | SlipJoint, tube: Tube) -> list[Tube]:
    """The tube, and the one that goes on in line where the piece inside reaches past an end."""
    length = route_of(job, tube).length
    reach = fitting.depth if isinstance(fitting, Insert) else fitting.engaged / 2
    made = [tube]
    axes = end_axes(job)
    for end, past in ((tube.a, fitting.at - reach < 0), (tube.b, fitting.at + reach > length)):
        for other in job.tubes_at[end] if past else ():
            if other.id != tube.id and abs(float(axes[tube.id, end][0] @ axes[other.id, end][0])) > IN_LINE_COS:
                made.append(other)
    return made


def rail_end(job: Job, joint: str) -> tuple[str, float]:
    """The tube that ends at a joint and goes on from there in another by the least kick, and how far along it the
    joint is, mm. Refuses a joint where nothing goes on."""
    axes = end_axes(job)
    ways = {t.id: axes[t.id, joint][0] * (1 if t.a == joint else -1) for t in job.tubes_at.get(joint, ())}
    pairs = [(float(ways[a] @ ways[b]), a) for a, b in combinations(ways, 2)]
    straightest, name = min(pairs, default=(0.0, ""))
    if straightest > -GOES_ON_COS:
        raise Problem(
            f"No tube goes on through {joint}, so there is nothing to lay a fish plate along.",
            where=joint,
            hint="Name the tube and the place: add fish plate tube T3L, at 420, …",
        )
    tube = job.tube_by_id[name]
    return name, 0.0 if tube.a == joint else route_of(job, tube).length


def _demand_inside(job: Job, fitting: Insert | SlipJoint, tube: Tube) -> None:
    """Refuse a piece that does not slide into the bore of every tube it joins."""
    what = "An insert" if isinstance(fitting, Insert) else "A slip joint"
    joined = _joined(job, fitting, tube)
    stepped = isinstance(fitting, Insert) and fitting.od2 > 0
    if stepped and len(joined) == 1:
        raise Problem(
            f"{tube.id} has one bore, and an insert with a step joins two.",
            where=tube.id,
            hint="Let it reach past the tube’s end into one that goes on, or leave od2 out.",
        )
    for n, into in enumerate(joined):
        od = fitting.od2 if isinstance(fitting, Insert) and fitting.od2 and n else fitting.od
        shape = job.section(into.section).shape
        bore = min(shape.size) - 2 * shape.wall_mm
        if not shape.is_round:
            raise Problem(
                f"{into.id} is {into.section}, and {what.lower()} is round.",
                where=into.id,
                hint="Use a fish plate or a doubler there.",
            )
        if od > bore + 0.05:
            raise Problem(
                f"{what} of {said.size(od)} does not go into {into.id}: its bore is {said.size(bore)}.",
                where=into.id,
                hint=f"One of {said.length(bore - 0.2)} slides in.",
            )
        if od < bore - SLIDES_MM:
            raise Problem(
                f"{what} of {said.size(od)} is loose in {into.id}: its bore is {said.size(bore)}.",
                where=into.id,
                hint=f"One of {said.length(bore - 0.2)} fits.",
            )
    if 2 * fitting.wall > fitting.od:
        raise Problem(
            f"A wall of {said.size(fitting.wall)} is over half of {said.size(fitting.od)}.",
            where="wall",
            hint=f"The wall is at most {said.size(fitting.od / 2)}.",
        )


def _demand_on_tube(job: Job, fitting: OnTube, tube: Tube) -> None:
    size = min(job.section(tube.section).shape.size)
    if isinstance(fitting, Insert | SlipJoint):
        _demand_inside(job, fitting, tube)
    if isinstance(fitting, SlipJoint):
        _demand_travel(fitting)
    if isinstance(fitting, CrushTube | TubeHoles) and fitting.count > 1:
        across = fitting.od if isinstance(fitting, CrushTube) else fitting.diameter
        if fitting.pitch <= across:
            raise Problem(
                f"A row of {fitting.count} needs a pitch of more than {said.size(across)}.",
                where=tube.id,
                hint=f"Write for example: pitch {said.typing(2 * across)}",
            )
    if isinstance(fitting, TubeHoles) and fitting.diameter >= HOLE_MOST * size:
        raise Problem(
            f"A hole of {said.size(fitting.diameter)} leaves too little of {tube.id}, {said.size(size)} across.",
            where=tube.id,
            hint=f"At most {said.size(HOLE_MOST * size)}.",
        )
    if isinstance(fitting, CrushTube) and not fitting.bore < fitting.od < size:
        raise Problem(
            f"A crush tube {said.sizes(fitting.od)} with a bore of {said.sizes(fitting.bore)} does not go "
            f"through {tube.id}, {said.size(size)} "
            f"across.",
            where=tube.id,
            hint="It must be larger than its bore and smaller than the tube.",
        )
    if isinstance(fitting, Tab):
        _demand_tab(job, fitting)


def _demand_travel(slip: SlipJoint) -> None:
    """Refuse a slip joint that stands outside its own travel."""
    least, most = slip.least or slip.engaged, slip.most or slip.engaged
    if not least <= slip.engaged <= most:
        raise Problem(
            f"A slip joint that is {said.size(slip.engaged)} in can't go from {said.size(least)} to {said.size(most)}.",
            where="engaged",
            hint="Least is how far in it is when drawn out, most when pushed in.",
        )


def flange_holes(flange: Flange | FootPlate, size: float) -> tuple[tuple[float, float, float], ...]:
    """The bolt holes of a flange or a foot plate on a tube `size` across: x, y from its middle and diameter, mm; in a
    row on either side of the tube along the width, or at the corners. None where they don't fit with `FLANGE_EDGE`
    diameters to the plate's edge and to the tube."""
    x, y = (flange.width / 2 - FLANGE_EDGE * flange.hole, flange.height / 2 - FLANGE_EDGE * flange.hole)
    clear = size / 2 + FLANGE_EDGE * flange.hole
    rows = (flange.bolts + 1) // 2
    if not rows:
        return ()
    if x < 0 or y < 0 or (rows > 1 and 2 * y / (rows - 1) < 2 * flange.hole):
        return ()
    heights = [0.0] if rows == 1 else [y - 2 * y * n / (rows - 1) for n in range(rows)]
    made = [(side * x, at, flange.hole) for at in heights for side in (-1.0, 1.0)]
    return tuple(made[: flange.bolts]) if all(math.hypot(a, b) >= clear for a, b, _ in made) else ()


def _demand_tab(job: Job, tab: Tab) -> None:
    """Refuse a tab that its hole does not fit in, or that does not reach what it carries."""
    if tab.axis and not tab.carries:
        raise Problem(
            f"The bolt points at {tab.axis}, and no joint is named that its hole is at.",
            where=tab.axis,
            hint="Name that as well: carries J1L",
        )
    if tab.more and tab.pitch <= tab.hole:
        raise Problem(
            f"Holes of {said.size(tab.hole)} that are {said.size(tab.pitch)} apart run into each other.",
            where=tab.tube,
            hint=f"Write for example: pitch {said.typing(math.ceil(2 * tab.hole))}",
        )
    if tab.carries:
        reach = tab_stand(job, tab).reach
        if reach + tab.furthest + tab.hole / 2 >= tab.height:
            wanted = math.ceil(reach + tab.furthest + max(tab.width / 2, tab.hole))
            raise Problem(
                f"{tab.carries} is {said.length(reach)} off {tab.tube}, and a tab of {said.length(tab.height)} does "
                f"not reach round {'its last hole' if tab.more else 'it'}.",
                where=tab.carries,
                hint=f"Write for example: height {said.typing(wanted)}",
            )
    if tab.brace > tab.height:
        raise Problem(
            f"A brace of {said.size(tab.brace)} is higher than its tab, {said.size(tab.height)}.",
            where=tab.tube,
            hint=f"At most brace {said.typing(tab.height)}",
        )
    reach = 0.0 if tab.carries else tab.reach
    if tab.hole >= tab.width or (reach or math.inf) + tab.furthest + tab.hole / 2 >= tab.height > reach > 0:
        raise Problem(
            f"A hole of {said.size(tab.hole)} does not fit in a tab {said.sizes(tab.width)} x "
            f"{said.sizes(tab.height)}.",
            where=tab.tube,
            hint="Make the tab larger.",
        )
