"""The sheet of offsets: fill it in, lay the frame that it draws, change it later with what hangs on it following."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from ironcage.core.calc.tubes.segments import distances
from ironcage.core.job.edits.following import CENTRE_MM
from ironcage.core.job.edits.joints import MOST_REACH_MM, SAME_PLACE_MM, add_joints, delete, merge, put_at
from ironcage.core.job.edits.shaping import FIRST_MATERIAL
from ironcage.core.job.edits.tubes import NewTube, add_tubes, shelve, split
from ironcage.core.job.geometry.offsets import (
    Member,
    Node,
    cell_at,
    crossing,
    is_central,
    members,
    place_of,
    told,
    untold,
)
from ironcage.core.job.values.model import Job, Section, Tube
from ironcage.core.job.values.offsets import MOST_LINES, MOST_STATIONS, Cell, Face, Lean, Level, Offsets, SheetLine
from ironcage.core.job.values.offsets import Station as SheetStation
from ironcage.problem import Problem, nearest
from ironcage.units import said

MOST_PIECES = 8  # that others have made of a rail between two stations
SAME_MM = 1e-9
NEAR_MM = 5.0  # two stations nearer than this are one
EXAMPLE = said.example("sheet line lower rail 40 x 40 x 2")


def _with(job: Job, **changes: Any) -> Job:
    return job.but(offsets=job.offsets.but(**changes))


def find_sheet_line(job: Job, name: str) -> int:
    """The number of a line of the sheet by its name, whatever its case. Raises Problem with the nearest."""
    names = [line.name for line in job.offsets.lines]
    for n, known in enumerate(names):
        if known.lower() == name.strip().lower():
            return n
    raise Problem(
        f"The sheet has no line ‘{name.strip()}’.",
        where=name,
        hint=nearest(name, names) or (f"It has {', '.join(names)}." if names else f"Write for example: {EXAMPLE}"),
    )


def find_station(job: Job, x: float) -> int:
    """The number of the station at x, mm. Raises Problem with the nearest."""
    xs = [station.x for station in job.offsets.stations]
    at = min(range(len(xs)), key=lambda n: abs(xs[n] - x), default=None)
    if at is None or abs(xs[at] - x) > NEAR_MM:
        near = f"The nearest is at {said.length(xs[at] - job.datum.x)}." if at is not None else "It has none yet."
        raise Problem(f"The sheet has no station at {said.length(x - job.datum.x)}.", where="station", hint=near)
    return at


def put_sheet(job: Job, sheet: Offsets) -> Job:
    """Take a sheet in place of the one before; what is laid stays where it is."""
    return job.but(offsets=sheet)


def add_sheet_line(job: Job, name: str, section: Section | str) -> Job:
    """Add a line along the car, above those before it; its cells are empty."""
    if any(line.name.lower() == name.strip().lower() for line in job.offsets.lines):
        raise Problem(f"The sheet has a line {name.strip()} already.", where=name, hint="Take another name.")
    if len(job.offsets.lines) >= MOST_LINES:
        raise Problem(f"A sheet holds {MOST_LINES} lines at most.", where=name)
    job, section_name = shelve(job, section)
    return _with(
        job,
        lines=(*job.offsets.lines, SheetLine(name=name.strip(), section=section_name)),
        stations=tuple(s.but(cells=(*s.cells, None)) for s in job.offsets.stations),
    )


def change_sheet_line(job: Job, n: int, **changes: Any) -> Job:
    """Change a line by its number: `name`, `section`, `crossed`, `braced`. Another section goes to all that is laid
    along the line, and the faces that the sheet is read to stay where they are."""
    sheet, line = job.offsets, job.offsets.lines[n]
    before = {s: told(job, n, *place_of(job, s, n)[1:]) for s, k, _ in sheet.cells() if k == n}
    had = {m for m in members(job) if m.section == line.section and m.one.line == n == m.other.line}
    if "section" in changes:
        job, changes["section"] = shelve(job, changes["section"])
    old = job
    lines = tuple(v.but(**changes) if k == n else v for k, v in enumerate(sheet.lines))
    job = _with(job, lines=lines)
    if "section" in changes:
        laid = _both(old, {t for m in had for t in _tubes_of(old, m)})
        job = job.but(tubes=tuple(t.but(section=changes["section"]) if t.id in laid else t for t in job.tubes))
        for s, (width, height) in before.items():
            job = put_cell(job, s, n, *untold(job, n, width, height))
    return _relaid(job, old)


def _relaid(job: Job, old: Job) -> Job:
    """The job with members that its sheet asks for no more taken away, and new ones between laid cells put in."""
    before, after = {m.nodes: m for m in members(old)}, {m.nodes: m for m in members(job)}
    gone = {t for nodes, m in before.items() if nodes not in after for t in _standing(old, m)} & set(job.tube_by_id)
    if gone:
        job = _without_loose(delete(job, sorted(gone)), job)
    other_lean = job.offsets.lean != old.offsets.lean
    return _with_members(job, [m for nodes, m in after.items() if nodes not in before or (m.lean and other_lean)])


def _without_loose(job: Job, old: Job) -> Job:
    """The job without the joints that held what went alone, as the middle of two crossing diagonals did: one with no
    tube left goes, and one in the midst of a straight diagonal makes that one tube again."""
    sheet = {cell.joint for _, _, cell in job.offsets.cells()}
    for joint in job.joints:
        left = job.tubes_at.get(joint.id, ())
        lost = len(old.tubes_at.get(joint.id, ())) - len(left)
        if not lost or joint.id not in job.joint_by_id or sheet & {joint.id, joint.twin}:
            continue
        if not left:
            job = delete(job, [joint.id])
        elif len(left) == 2 and all(t.role == "diagonal" for t in left) and _in_line(job, joint.id):
            job = merge(job, next(end for end in left[0].ends if end != joint.id), joint.id)
    return job


def _in_line(job: Job, joint: str) -> bool:
    """Whether the two tubes at a joint run straight on."""
    ends = [end for t in job.tubes_at[joint] for end in t.ends if end != joint]
    first, here, last = (np.array([job.joint_by_id[name].place]) for name in (ends[0], joint, ends[1]))
    gap, _, _ = distances(first, last, here, here)
    return float(gap[0]) < SAME_PLACE_MM


def remove_sheet_line(job: Job, n: int) -> Job:
    """Take a line off the sheet; what is laid along it stays in the frame."""
    sheet = job.offsets
    return _with(
        job,
        lines=tuple(v for k, v in enumerate(sheet.lines) if k != n),
        stations=tuple(s.but(cells=tuple(c for k, c in enumerate(s.cells) if k != n)) for s in sheet.stations),
    )


def add_station(job: Job, x: float) -> Job:
    """Add a station at x, mm; stations stand in the order of their x, the first in front."""
    sheet = job.offsets
    if abs(x) > MOST_REACH_MM:
        raise Problem(
            f"A station at {said.far(x)} is farther off than any frame reaches.",
            where="station",
            hint="Was it typed in another unit?",
        )
    there = next((s for s in sheet.stations if abs(s.x - x) <= NEAR_MM), None)
    if there:
        raise Problem(
            f"The sheet has a station at {said.length(there.x - job.datum.x)} already.",
            where="station",
            hint="Change that one, or type another x.",
        )
    if len(sheet.stations) >= MOST_STATIONS:
        raise Problem(f"A sheet holds {MOST_STATIONS} stations at most.", where="station")
    made = SheetStation(x=x, cells=(None,) * len(sheet.lines))
    return _with(job, stations=_in_order((*sheet.stations, made)))


def _in_order(stations: Sequence[SheetStation]) -> tuple[SheetStation, ...]:
    return tuple(sorted(stations, key=lambda s: -s.x))


def move_station(job: Job, s: int, x: float) -> Job:
    """Move a station to x, mm, with what is laid there. Refuses to pass another station: rails would cross over."""
    sheet, here = job.offsets, job.offsets.stations[s]
    between = [o for o in sheet.stations if o is not here and min(here.x, x) - NEAR_MM < o.x < max(here.x, x) + NEAR_MM]
    if between:
        raise Problem(
            f"A station stands at {said.length(between[0].x - job.datum.x)}, and another can't pass it.",
            where="station",
            hint="Type an x between its neighbours.",
        )
    by = x - here.x
    places = {
        cell.joint: (place[0] + by, *place[1:])
        for k, n, cell in sheet.cells()
        if k == s and cell.joint and (place := job.joint_by_id[cell.joint].place)
    }
    moved = put_at(job, places) if places else job
    return _with(moved, stations=tuple(o.but(x=x) if k == s else o for k, o in enumerate(sheet.stations)))


def remove_station(job: Job, s: int) -> Job:
    """Take a station off the sheet; what is laid there stays in the frame."""
    return _with(job, stations=tuple(o for k, o in enumerate(job.offsets.stations) if k != s))


def put_cell(job: Job, s: int, n: int, half: float, z: float, *, is_open: bool | None = None) -> Job:
    """Fill a cell: half width and height of the line's centreline, mm, and whether it is open, without a cross member.
    What is laid there moves, and all that hangs on it follows."""
    cell = cell_at(job.offsets, s, n)
    name = job.offsets.lines[n].name
    if half < -CENTRE_MM:
        raise Problem(
            f"Half the width of {name} comes out {said.length(half)}: its two sides would pass each other.",
            where=name,
            hint="Is the width to the inside, the centre or the outside of the tubes?",
        )
    half = max(half, 0.0)
    if max(half, abs(z)) > MOST_REACH_MM:
        raise Problem(f"No frame reaches {said.far(max(half, abs(z)))}.", where=name, hint="Another unit?")
    kept = cell.open if cell else False
    made = Cell(half=half, z=z, open=kept if is_open is None else is_open, joint=cell.joint if cell else None)
    if made.joint is None:
        return _with_cell(job, s, n, made)
    moved = _with_cell(_joint_moved(job, name, made), s, n, made)
    return moved if made.open == kept else _relaid(moved, job)


def _joint_moved(job: Job, name: str, cell: Cell) -> Job:
    """The job with the joint of a laid cell at the cell's width and height."""
    joint = job.joint(cell.joint or "")
    if (joint.twin == joint.id) != (cell.half <= CENTRE_MM):
        raise Problem(
            f"{joint.id} is laid {'on the centreline' if joint.twin == joint.id else 'on both sides'} already.",
            where=name,
            hint=f"Delete {joint.id} first, and lay the sheet again.",
        )
    y = -cell.half if joint.y < 0 else cell.half
    if abs(joint.y - y) < SAME_MM and abs(joint.z - cell.z) < SAME_MM:
        return job
    return put_at(job, {joint.id: (joint.x, y, cell.z)})


def clear_cell(job: Job, s: int, n: int) -> Job:
    """Empty a cell; what is laid there stays in the frame."""
    return _with_cell(job, s, n, None)


def _with_cell(job: Job, s: int, n: int, cell: Cell | None) -> Job:
    station = job.offsets.stations[s]
    row = station.but(cells=tuple(cell if k == n else c for k, c in enumerate(station.cells)))
    return _with(job, stations=tuple(row if k == s else o for k, o in enumerate(job.offsets.stations)))


def set_sheet(
    job: Job,
    *,
    face: Face | None = None,
    over_both: bool | None = None,
    level: Level | None = None,
    lean: Lean | None = None,
    web: Section | str | None = None,
) -> Job:
    """How widths and heights are read, which way diagonals run, the section of uprights and diagonals. What is laid
    already gets the diagonals and sections too."""
    changes: dict[str, Any] = {"face": face, "over_both": over_both, "level": level, "lean": lean}
    changes = {name: value for name, value in changes.items() if value is not None}
    old = job
    if web is not None:
        job, changes["web"] = shelve(job, web)
        laid = _both(old, {t for m in members(old) if m.lean or m.role == "side" for t in _standing(old, m)})
        job = job.but(tubes=tuple(t.but(section=changes["web"]) if t.id in laid else t for t in job.tubes))
    return _relaid(_with(job, **changes), old)


def _both(job: Job, tubes: set[str]) -> set[str]:
    """Tubes and those opposite."""
    return tubes | {twin.id for name in tubes if (twin := job.twin_tube(job.tube_by_id[name]))}


def lay(job: Job) -> Job:
    """Lay what the sheet draws and is not laid yet: joints of its cells, rails, cross members, uprights, diagonals.

    A joint that stands in a cell's place already is taken for it, and a new station between two laid ones splits the
    rails there. Members between cells that were laid before are left as the builder has them. Raises Problem where the
    sheet draws no tube, or two of its lines run into each other.
    """
    sheet = job.offsets
    pending = [(s, n) for s, n, cell in sheet.cells() if cell.joint is None]
    if not any(True for _ in members(job)):
        raise Problem(
            "The sheet draws no tube yet.",
            where="sheet",
            hint=f"It needs a line ({EXAMPLE}) and two stations that it passes.",
        )
    if not pending:
        raise Problem("All of the sheet is laid.", where="sheet", hint="Add a station or a line, or change a cell.")
    demand_clear_lines(job)
    old = job
    job = _laid_apart(job, [at for at in pending if _rail_over(job, *at)[0] is None])
    for s, n in pending:
        job = _laid_on_rail(job, s, n)
    fresh = set(pending)
    new = [m for m in members(job) if any((node.station, node.line) in fresh for node in (m.one, m.other))]
    return _with_members(_without_divided(job, old), new)


def demand_clear_lines(job: Job) -> None:
    """Refuse lines that run into each other between stations."""
    found = crossing(job)
    if found:
        low, high, s, after = found
        lines, xs = job.offsets.lines, [said.length(job.offsets.stations[k].x - job.datum.x) for k in (s, after)]
        raise Problem(
            f"{lines[low].name} and {lines[high].name} cross between the stations at {xs[0]} and {xs[1]}.",
            where=lines[high].name,
            hint="Is a width or a height of one of them in the other's place?",
        )


def _laid_apart(job: Job, cells: Sequence[tuple[int, int]]) -> Job:
    """Lay cells that no laid rail passes: at the joints that are there, or at new ones, one for cells in one place."""
    there = [j for j in job.joints if j.y > -CENTRE_MM]
    places = np.array([j.place for j in there]).reshape(-1, 3)
    new: list[tuple[float, float, float]] = []
    named: dict[tuple[int, int], str | int] = {}  # by an id, or by the number of a new place
    for s, n in cells:
        place = place_of(job, s, n)
        same = np.flatnonzero(np.abs(places - place).max(axis=1) < SAME_PLACE_MM)
        meeting = (named[s, k] for k in range(n) if (s, k) in named and _meet(job, s, k, n))
        name = there[int(same[0])].id if len(same) else next(meeting, len(new))
        named[s, n] = name
        if name == len(new):
            new.append(place)
    made = add_joints(job, new)
    fresh = [j.id for j in made.joints[len(job.joints) :] if j.y > -CENTRE_MM]
    joints = {at: fresh[name] if isinstance(name, int) else name for at, name in named.items()}
    stations = tuple(
        station.but(
            cells=tuple(
                c.but(joint=joints[s, n]) if c is not None and (s, n) in joints else c
                for n, c in enumerate(station.cells)
            )
        )
        for s, station in enumerate(made.offsets.stations)
    )
    return _with(made, stations=stations)


def _meet(job: Job, s: int, one: int, other: int) -> bool:
    """Whether two lines pass a station in the same place."""
    apart = np.subtract(place_of(job, s, one), place_of(job, s, other))
    return bool(np.abs(apart).max() < SAME_PLACE_MM)


def _laid_on_rail(job: Job, s: int, n: int) -> Job:
    """Lay a cell into the rail that passes it, where it is not laid yet."""
    cell = cell_at(job.offsets, s, n)
    rail, share = _rail_over(job, s, n)
    if cell is None or cell.joint or rail is None:
        return job
    place = place_of(job, s, n)
    made = split(job, rail.id, share)
    there = next(j.id for j in made.joints if j.id not in job.joint_by_id and j.y > -CENTRE_MM)
    return _with_cell(put_at(made, {there: place}), s, n, cell.but(joint=there))


def _rail_over(job: Job, s: int, n: int) -> tuple[Tube | None, float]:
    """The straight rail that runs past a cell between laid neighbours, and the share from its first joint at which it
    passes the station."""
    sheet, x = job.offsets, job.offsets.stations[s].x
    ahead = next((k for k in range(s - 1, -1, -1) if (c := cell_at(sheet, k, n)) and c.joint), None)
    behind = next((k for k in range(s + 1, len(sheet.stations)) if (c := cell_at(sheet, k, n)) and c.joint), None)
    if ahead is None or behind is None:
        return None, 0.0
    line = sheet.lines[n]
    for name in _tubes_of(job, Member(Node(ahead, n), Node(behind, n), line.section, line.role)):
        rail = job.tube_by_id[name]
        first, last = job.joint_by_id[rail.a], job.joint_by_id[rail.b]
        central = first.twin == first.id and last.twin == last.id
        passes = min(first.x, last.x) + NEAR_MM < x < max(first.x, last.x) - NEAR_MM
        if passes and not rail.corners and not rail.taper and central == is_central(job, s, n):
            return rail, (x - first.x) / (last.x - first.x)
    return None, 0.0


def _without_divided(job: Job, old: Job) -> Job:
    """The job without the diagonals that lay in bays which a new station divides."""
    before = _only_laid(old)
    now = {station.x: k for k, station in enumerate(job.offsets.stations)}
    number = {k: now[station.x] for k, station in enumerate(before.offsets.stations)}
    asked = {m.nodes for m in members(job)}
    gone: set[str] = set()
    for m in members(before):
        nodes = frozenset(replace(node, station=number[node.station]) for node in m.nodes)
        opposed = frozenset(replace(node, station=number[node.station]) for node in m.turned.nodes)
        if m.lean and not asked & {nodes, opposed}:
            gone |= set(_standing(before, m))
    gone &= set(job.tube_by_id)
    return _without_loose(delete(job, sorted(gone)), job) if gone else job


def _only_laid(job: Job) -> Job:
    """The job with a sheet of what is laid alone."""
    kept = [
        station.but(cells=tuple(c if c and c.joint else None for c in station.cells))
        for station in job.offsets.stations
        if any(c and c.joint for c in station.cells)
    ]
    return _with(job, stations=tuple(kept))


def _joint_of(job: Job, node: Node) -> str | None:
    cell = cell_at(job.offsets, node.station, node.line)
    joint = job.joint_by_id[cell.joint] if cell and cell.joint else None
    if joint is None:
        return None
    return joint.id if node.side > 0 or joint.twin is None else joint.twin


def _tubes_of(job: Job, member: Member) -> list[str]:
    """The tubes laid for a member: one, or several of its kind in a row where others have been joined to it."""
    start, stop = _joint_of(job, member.one), _joint_of(job, member.other)
    if start is None or stop is None or start not in job.tubes_at:
        return []
    tube = job.tube_between((start, stop), bent=False)
    if tube:
        return [tube.id]
    sheet = {cell.joint for _, _, cell in job.offsets.cells()}
    ways: list[tuple[str, tuple[str, ...]]] = [(start, ())]
    for _ in range(MOST_PIECES):
        further = []
        for joint, way in ways:
            for tube in job.tubes_at.get(joint, ()):
                end = tube.b if tube.a == joint else tube.a
                if tube.role == member.role and tube.id not in way:
                    if end == stop:
                        return [*way, tube.id]
                    if end not in sheet and job.joint_by_id[end].twin not in sheet:
                        further.append((end, (*way, tube.id)))
        ways = further
    return []


def _standing(job: Job, member: Member) -> list[str]:
    """The tubes laid for a member, or for the other diagonal of its bay in its place: which way a zigzag runs in a bay
    changes once a station has been put in ahead of it."""
    found = _tubes_of(job, member)
    if found or not member.lean:
        return found
    return _tubes_of(job, member.turned)


def _with_members(job: Job, asked: Sequence[Member]) -> Job:
    """The job with tubes for members whose ends are laid. Of two diagonals in a bay the first runs through, and the
    other meets it in two pieces."""
    material = job.tubes[-1].material if job.tubes else FIRST_MATERIAL
    both = job.offsets.lean == "both"  # otherwise a diagonal the other way is as good
    there = {m.nodes for m in asked if (_tubes_of(job, m) if both else _standing(job, m))}
    crossed = {m.nodes for m in members(job) if m.lean and both and len(_tubes_of(job, m)) == 1}
    straight, meeting = dict[frozenset[str], NewTube](), list[Member]()
    for m in asked:
        one, other = _joint_of(job, m.one), _joint_of(job, m.other)
        if m.nodes in there or one is None or other is None or one == other:
            continue
        if m.lean and m.turned.nodes in crossed:
            meeting.append(m)
        elif not job.tube_between((one, other), bent=False):  # of two lines that meet, one is laid
            straight.setdefault(frozenset((one, other)), NewTube(one, other, m.section, material, m.role))
            crossed.add(m.nodes)
    job = add_tubes(job, straight.values())
    for m in meeting:
        job = _with_meeting(job, m, material)
    return job


def _with_meeting(job: Job, member: Member, material: str) -> Job:
    """The job with the second diagonal of a bay, in two pieces from where it passes the first."""
    one, other = _joint_of(job, member.one), _joint_of(job, member.other)
    through = _tubes_of(job, member.turned)
    if one is None or other is None or len(through) != 1:
        return job
    job, middle = _joint_on(job, through[0], (one, other))
    pieces = [NewTube(a, b, member.section, material, member.role) for a, b in ((one, middle), (middle, other))]
    return add_tubes(job, pieces)


def _joint_on(job: Job, through: str, ends: tuple[str, str]) -> tuple[Job, str]:
    """A new joint on a tube where the line between two joints passes it nearest, on both sides."""
    tube = job.tube_by_id[through]
    a, b, c, d = (np.array([job.joint_by_id[name].place]) for name in (*tube.ends, *ends))
    _, share, _ = distances(a, b, c, d)
    known = job.joint_by_id
    made = split(job, through, float(share[0]))
    side = np.sign(a[0, 1] + b[0, 1])
    return made, next(j.id for j in made.joints if j.id not in known and j.y * side >= 0)
