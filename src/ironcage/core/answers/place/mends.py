"""The least moves that clear a clash: of a part, a tube or one of its joints along an axis, or a smaller margin.

A move is looked for by secant steps, each as far as what is missing asks for at the rate of the last, and then taken
back a millimetre at a time while it stays clear. It counts when all that moves with it stays as far from everything as
it wants, or, where it already was nearer, no nearer than it was. What hangs on a hung wheel's pickups, and seats,
pedals and hand wheels that somebody uses, are not moved.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from ironcage.core.answers.place.clashes import CLOSE_MM, Near, find_clashes, may_touch, measured, standing_bodies
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.names import name_of
from ironcage.core.answers.shared.plates import frame_bodies
from ironcage.core.calc.solids.convex import Floats
from ironcage.core.job.geometry.bodies import Body, part_body, tube_body
from ironcage.core.job.geometry.routes import landings, route_between
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import HUNG
from ironcage.core.job.values.shown import units_of
from ironcage.core.job.values.ties import Between, ToHole, ToJoint

MOST_MM = 150.0  # a longer move is no mend but another design
MOST_CLASHES = 10  # that mends are looked for, the worst first
SHOWN = 3  # mends of one clash
ROUND_MM = {"mm": 1.0, "inch": 25.4 / 16}
MOST_STEPS = 12
MOST_BACK = 4
LEAST_MM = 0.1  # that a step goes on
LEAST_GAIN = 0.2  # a mm that a trial is trusted to gain at least, so that it never leaps
FURTHEST = 1.5  # of the longest move, how far off a trial may promise to come clear and still be followed
TRIED = 3  # ways of one thing that are held against everything, the least first
REACH_MM = 60.0  # beyond this and all margins two bodies are not measured at a step
WAYS: Mapping[str, tuple[tuple[float, float, float], str]] = {
    "forward": ((1, 0, 0), "x+"),
    "back": ((-1, 0, 0), "x-"),
    "left": ((0, 1, 0), "y+"),
    "right": ((0, -1, 0), "y-"),
    "up": ((0, 0, 1), "z+"),
    "down": ((0, 0, -1), "z-"),
}


@dataclass(frozen=True)
class Mend:
    """One thing to do. by: how far, mm, 0 for a margin; words: what it is, as a sentence without its stop; line: what
    does it, with `chosen` chosen."""

    by: float
    words: str
    line: str
    chosen: tuple[str, ...]


@dataclass(frozen=True)
class Mended:
    """A clash and what clears it, the least first; stuck: where nothing does, what is in the way, by id."""

    near: Near
    mends: tuple[Mend, ...]
    stuck: tuple[str, ...] = ()


@dataclass(frozen=True)
class _Move:
    """Something that can be moved, by id, and what is chosen for it; the part that goes along or none, and which way
    each joint goes when it is moved by a way (3,): itself, or mirrored."""

    what: str
    chosen: tuple[str, ...]
    part: str
    joints: Mapping[str, Floats]


@remembered(
    "parts",
    "people",
    "wheels",
    "chains",
    "shafts",
    "joints",
    "tubes",
    "shelf",
    "fittings",
    *HUNG,
    "brief",
)
def find_mends(job: Job) -> tuple[Mended, ...]:
    """What clears each clash, worst first."""
    return _mended(job, find_clashes(job).clashes[:MOST_CLASHES])


def mend_pair(job: Job, first: str, second: str) -> Mended | None:
    """What clears the clash of two things, in whichever order; None where they do not clash."""
    found = [n for n in find_clashes(job).clashes if {n.first, n.second} == {first, second}]
    return next(iter(_mended(job, found[:1])), None)


@dataclass
class _Try:
    """A move along a way on trial for a clash. by: how far it has come, mm; lacks: what is missing there, mm (negative:
    to spare), and against which body; gain: how much less that became a mm, at the last step."""

    near: Near
    move: _Move
    way: str
    by: float = 0.0
    lacks: float = math.inf
    against: str = ""
    gain: float = 1.0
    by_before: float = 0.0

    @property
    def clear(self) -> bool:
        """Whether nothing is missing."""
        return self.lacks <= CLOSE_MM

    @property
    def hopeless(self) -> bool:
        """Whether it would come clear too far off, at the rate it gains."""
        return self.by + self.lacks / max(self.gain, LEAST_GAIN) > FURTHEST * MOST_MM or self.by > MOST_MM

    def go_on(self, step: float) -> None:
        """Move on to where nothing should be missing, in whole steps of some mm or, at 0, as it comes."""
        further = max(self.lacks / min(max(self.gain, LEAST_GAIN), 1.0), LEAST_MM)
        self.by += further if not step else max(1, round(further / step)) * step


class _Room:
    """Everything that is in the car, and what it wants to keep from what it is near to now."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.bodies = (*standing_bodies(job), *frame_bodies(job))
        self.bounds = np.array([b.bounds for b in self.bodies])
        self.margins = np.array([b.margin for b in self.bodies])
        self.near = {frozenset((n.first, n.second)): n.gap for n in find_clashes(job).near}

    @cached_property
    def by_id(self) -> Mapping[str, list[Body]]:
        """Bodies by id: a hung tyre and its links have several."""
        made: dict[str, list[Body]] = {}
        for body in self.bodies:
            made.setdefault(body.id, []).append(body)
        return made

    @cached_property
    def fixed(self) -> frozenset[str]:
        """Joints that no mend moves: of hung wheels, and those that follow another joint or a line."""
        job = self.job
        hung = {p.joint for p in job.pickups} if job.wishbones else set()
        tied = {j.id for j in job.joints if isinstance(j.tie, ToJoint | Between)}
        return frozenset(hung | tied | {twin for n in tied if (twin := job.joint_by_id[n].twin)})

    def pairs(self, trial: _Try) -> list[tuple[Body, Body]]:
        """Everything near what a trial moves, with it."""
        moved = _moved(self, trial)
        away = {b.id for b in moved}
        ones = np.array([b.bounds for b in moved])
        apart = np.maximum(self.bounds[None, :, 0] - ones[:, None, 1], ones[:, None, 0] - self.bounds[None, :, 1])
        square = (np.maximum(apart, 0.0) ** 2).sum(axis=2)
        reach = REACH_MM + np.maximum.outer([b.margin for b in moved], self.margins)
        return [
            (moved[i], self.bodies[j])
            for i, j in np.argwhere(square < reach**2).tolist()
            if self.bodies[j].id not in away and not may_touch(moved[i], self.bodies[j])
        ]

    def two(self, trial: _Try) -> list[tuple[Body, Body]]:
        """The two that clash, where a trial moves them."""
        names = {trial.near.first, trial.near.second}
        moved = _moved(self, trial, names)
        away = {b.id for b in moved}
        return [(a, b) for a in moved for name in names - away for b in self.by_id.get(name, ())]

    def wanted(self, near: Near, target: frozenset[str]) -> float:
        """What is to be kept between two, mm: the margin, or what there is where it is less and not the matter."""
        pair = frozenset((near.first, near.second))
        return near.margin if pair == target else min(near.margin, self.near.get(pair, near.margin))

    def look(self, trials: Sequence[_Try], pairs: Callable[[_Try], list[tuple[Body, Body]]]) -> None:
        """Measure what is missing to each of several trials, in one go."""
        asked = [(trial, pair) for trial in trials for pair in pairs(trial)]
        before = [(trial.by_before, trial.lacks) for trial in trials]
        for trial in trials:
            trial.lacks, trial.against = -REACH_MM, ""
        for (trial, (_, other)), near in zip(asked, measured([pair for _, pair in asked]), strict=True):
            if near is not None:
                lacks = self.wanted(near, frozenset((trial.near.first, trial.near.second))) - near.gap
                if lacks > trial.lacks:
                    trial.lacks, trial.against = lacks, other.id
        for trial, (by, lacks) in zip(trials, before, strict=True):
            if math.isfinite(lacks) and trial.by > by:
                trial.gain = (lacks - trial.lacks) / (trial.by - by)
            trial.by_before = trial.by


def _mended(job: Job, clashes: Sequence[Near]) -> tuple[Mended, ...]:
    """What clears each of some clashes: of each thing that can be moved its least move, then a smaller margin."""
    if not clashes:
        return ()
    room = _Room(job)
    trials = [
        _Try(near, move, way, lacks=near.margin - near.gap)
        for near in clashes
        for move in _moves(room, near)
        for way, (axis, _) in WAYS.items()
        if not (axis[1] and any(job.joint_by_id[name].twin == name for name in move.joints))  # they stay on it
    ]
    alone = _clear(room, trials, room.two, 0.0)
    found = _clear_of_all(room, alone)
    return tuple(_told(room, near, found, trials) for near in clashes)


def _clear(
    room: _Room, trials: Sequence[_Try], pairs: Callable[[_Try], list[tuple[Body, Body]]], step: float
) -> list[_Try]:
    """Move each trial on until it is clear, in steps of `step` mm or as they come (0); those that come clear."""
    going, clear = list(trials), []
    for _ in range(MOST_STEPS):
        for t in going:
            if not step or t.against:
                t.go_on(step)
        room.look(going, pairs)
        clear += [t for t in going if t.clear and t.by <= MOST_MM]
        going = [t for t in going if not t.clear and not t.hopeless]
        if not going:
            break
    return clear


def _clear_of_all(room: _Room, alone: Sequence[_Try]) -> list[_Try]:
    """The least trial of each clash and each thing that stays clear of everything: ways are tried from the least."""
    step = ROUND_MM[units_of(room.job).length_unit]
    waiting: dict[tuple[int, tuple[str, ...]], list[_Try]] = {}
    for t in alone:
        t.by = math.ceil(t.by / step - 1e-9) * step
    _step_back(room, alone, room.two, step)
    for t in sorted(alone, key=lambda t: t.by):
        waiting.setdefault((id(t.near), t.move.chosen), []).append(t)
    found: list[_Try] = []
    for _ in range(TRIED):
        now = [queue.pop(0) for queue in waiting.values() if queue]
        for t in now:
            t.against = ""  # where it stands it is clear of the one; how it is to all else is looked at first
        clear = _clear(room, now, room.pairs, step)
        _step_back(room, clear, room.pairs, step)
        found += clear
        for t in clear:
            waiting.pop((id(t.near), t.move.chosen))
    return found


def _step_back(
    room: _Room, clear: Sequence[_Try], pairs: Callable[[_Try], list[tuple[Body, Body]]], step: float
) -> None:
    """Take back what trials have gone too far: at once as far as what is to spare allows, then a step at a time."""
    for t in clear:
        t.by = max(step, t.by + math.ceil(t.lacks / step) * step)
    going = [(t, replace(t, by=t.by - step)) for t in clear if t.by > step]
    for _ in range(MOST_BACK):
        room.look([less for _, less in going], pairs)
        going = [(t, less) for t, less in going if less.clear]
        for t, less in going:
            t.by = less.by
            less.by -= step
        if not going:
            break


def _told(room: _Room, near: Near, found: Sequence[_Try], trials: Sequence[_Try]) -> Mended:
    """The mends of one clash, or what it is stuck with."""
    moves = sorted((t for t in found if t.near is near), key=lambda t: t.by)[:SHOWN]
    mends = (*(_as_mend(room.job, t.move, t.way, t.by) for t in moves), *_margins(room, near))
    stuck = dict.fromkeys(
        t.against for t in trials if t.near is near and t.against not in ("", near.first, near.second)
    )
    return Mended(near, mends, () if mends else tuple(stuck))


def _moves(room: _Room, near: Near) -> Iterator[_Move]:
    """What can be moved of the two that clash."""
    job = room.job
    used = {part for person in job.people for part in person.uses}
    for name in (near.first, near.second):
        if any(p.id == name for p in job.parts) and name not in used:
            held = {j.id for j in job.joints if isinstance(j.tie, ToHole) and j.tie.thing == name}
            if not held & room.fixed:
                yield _Move(name, (name,), name, _both_sides(job, held))
        elif name in job.tube_by_id:
            tube = job.tube_by_id[name]
            free = [end for end in tube.ends if end not in room.fixed and not job.joint_by_id[end].tie]
            mirrored = job.joint_by_id[tube.a].twin == tube.b  # then an end takes the other one along
            for ends in ((end,) for end in free if not mirrored):
                yield _Move(ends[0], ends, "", _both_sides(job, set(ends)))
            if len(free) == 2:
                yield _Move(name, tube.ends, "", _both_sides(job, set(tube.ends)))


_MIRROR = np.array([1.0, -1.0, 1.0])


def _both_sides(job: Job, joints: set[str]) -> dict[str, Floats]:
    """Joints and their mirrors, with the sign of each axis along which they go; of a pair that is moved at both sides
    the left one leads."""
    signs = {name: np.ones(3) for name in joints}
    for name in sorted(joints):
        twin = job.joint_by_id[name].twin
        if twin and twin != name:
            if twin in joints:
                right = name if job.joint_by_id[name].y < 0 else twin
                signs[right] = _MIRROR
            else:
                signs[twin] = _MIRROR
    return signs


def _moved(room: _Room, trial: _Try, only: Collection[str] | None = None) -> list[Body]:
    """The bodies that go along with a trial, all or only some, where they then are."""
    job, move, by, made = room.job, trial.move, trial.by * np.array(WAYS[trial.way][0]), list[Body]()
    if move.part and (only is None or move.part in only):
        body = part_body(next(p for p in job.parts if p.id == move.part))
        made.append(replace(body, solids=tuple(s.moved(np.eye(3), by) for s in body.solids), at=body.at + by))
    shift = {name: sign * by for name, sign in move.joints.items()}
    tubes = {t.id: t for name in shift for t in job.tubes_at.get(name, ()) if only is None or t.id in only}
    for t in tubes.values():
        a, b = (np.add(place, shift.get(end, 0.0)) for place, end in zip(landings(job, t), t.ends, strict=True))
        route = route_between(_place(a), _place(b), t.corners, t.radius)
        made.append(tube_body(t.id, route, job.section(t.section).shape, t.roll, t.role))
    return made


def _place(at: Floats) -> tuple[float, float, float]:
    x, y, z = (float(v) for v in at)
    return x, y, z


def _as_mend(job: Job, move: _Move, way: str, by: float) -> Mend:
    figure, told = _figures(job, by)
    return Mend(by, f"Move {name_of(job, move.what)} {told} {way}", f"{WAYS[way][1]}{figure}", move.chosen)


def _figures(job: Job, size: float) -> tuple[str, str]:
    """A round length as it is typed, and as it is read, in the job's units."""
    units = units_of(job)
    figure = units.length(size, unit=False).removesuffix(".0")
    return figure, figure if figure.endswith('"') else f"{figure} {units.length_name}"


def _margins(room: _Room, near: Near) -> Iterator[Mend]:
    """A smaller margin, where the two do not touch and one of them alone wants more."""
    if near.gap <= 0:
        return
    job, units = room.job, units_of(room.job)
    wants = [n for n in (near.first, near.second) for b in room.by_id.get(n, ())[:1] if b.margin > near.gap]
    if len(wants) != 1 or wants[0] not in job.placed or wants[0] in {p.id for p in job.pictures}:
        return
    step = ROUND_MM[units.length_unit]
    margin = math.floor(near.gap / step) * step
    figure, told = _figures(job, margin)
    yield Mend(0.0, f"Let {name_of(job, wants[0])} make do with {told}", f"set margin {figure}", (wants[0],))
