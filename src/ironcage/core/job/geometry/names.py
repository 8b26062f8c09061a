"""What joints and tubes are called in words: ‘rear upper rail, left’, ‘top of the main hoop’.

A name is the builder's own where there is one, else it is made from the role or the line of the sheet of offsets and
from the place: front, middle or rear third of the frame, lower, middle or upper among its like at that place, left or
right. Where several are alike they are counted from the front.
"""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from typing import NamedTuple

import numpy as np

from ironcage.core.job.geometry.offsets import CENTRE_MM
from ironcage.core.job.values.model import Job

KEPT = 4  # jobs whose names are kept
MOST_MATCHED = 40  # joints and tubes that words can choose at once
UPRIGHT = 0.8  # share of its length that an upright rises
BESIDE_MM = 60.0  # likes nearer than this along the car are at one place
LEVEL_MM = 60.0  # and over each other where they are further apart in height than this
MOST_COMPARED = 800  # likes that are compared in height
_ROLES = {
    "": "tube",
    "engine bay": "engine bay tube",
    "floor": "floor tube",
    "nose": "nose tube",
    "suspension": "suspension tube",
}
_IDS = re.compile(r"(?<![–/\w])[JT]\d+[LR]?(?![–/\w])")  # not those in a row, as corners of a bay are told
_TYPED = re.compile(r"(\b[Tt]ype\b.*)", re.DOTALL)  # from ‘type’ on follows a line
_QUOTED = re.compile(r"(‘[^’]*’)")
_HOOPS = ("main hoop", "front hoop")
_kept: list[tuple[Job, Mapping[str, str]]] = []


class _Found(NamedTuple):
    """A joint or tube before likes are counted. kind: what it is; along: its x from and to, z: its middle height, mm;
    side: left, right, or neither; own: a name that needs no place, the builder's own or such as `main hoop`; end: of
    the car, where that is known otherwise than by its place."""

    id: str
    kind: str
    own: str
    along: tuple[float, float]
    z: float
    side: str
    end: str = ""

    @property
    def x(self) -> float:
        """Its middle along the car, mm."""
        return (self.along[0] + self.along[1]) / 2


def names(job: Job) -> Mapping[str, str]:
    """What every joint and tube is called in words, by id; no two alike."""
    for known, made in _kept:
        if known.joints is job.joints and known.tubes is job.tubes and _same_sheet(known, job):
            return made
    made = _named(job)
    _kept.insert(0, (job, made))
    del _kept[KEPT:]
    return made


def _same_sheet(one: Job, other: Job) -> bool:
    return one.offsets is other.offsets and one.pickups is other.pickups


def name_of(job: Job, thing: str) -> str:
    """What a joint or tube is called in words; nothing for other things."""
    return names(job).get(thing, "")


def spoken(job: Job, text: str) -> str:
    """A sentence with the name of each joint and tube after its number, where it comes first. What is quoted, and what
    is to be typed, stays as it is."""
    known, said = names(job), set[str]()

    def with_name(found: re.Match[str]) -> str:
        thing = found[0]
        if thing in said or thing not in known:
            return thing
        said.add(thing)
        return f"{thing} ({known[thing]})"

    told, *line = _TYPED.split(text, maxsplit=1)
    parts = _QUOTED.split(told)
    return "".join(part if _QUOTED.fullmatch(part) else _IDS.sub(with_name, part) for part in parts) + "".join(line)


def called(job: Job, text: str) -> tuple[str, ...]:
    """The joints and tubes of just that name, whatever its case and commas."""
    words = _plain(text)
    return tuple(thing for thing, name in names(job).items() if words and _plain(name) == words)


def named_with(job: Job, text: str) -> tuple[str, ...]:
    """The joints and tubes whose name has all of two or more words; none where that is more than anyone means."""
    fit = all_named_with(job, text)
    return fit if len(_plain(text)) > 1 and len(fit) <= MOST_MATCHED else ()


def all_named_with(job: Job, text: str) -> tuple[str, ...]:
    """The joints and tubes whose name has all words of a text."""
    asked = Counter(_plain(text))
    return tuple(thing for thing, name in names(job).items() if asked and not asked - Counter(_plain(name)))


def _plain(text: str) -> tuple[str, ...]:
    return tuple(word for word in re.split(r"[\s,]+", text.lower().strip(" .")) if word not in ("the", "of", ""))


def _named(job: Job) -> dict[str, str]:
    if not job.joints:
        return {}
    found = [*_joints(job), *_tubes(job)]
    third = _thirds(job)
    level = _levels(found)
    words = {f.id: f.own or " ".join(filter(None, (f.end or third(f.x), level.get(f.id, ""), f.kind))) for f in found}
    taken = Counter((words[f.id], f.side) for f in found)
    count: Counter[tuple[str, str]] = Counter()
    made: dict[str, str] = {}
    for f in sorted(found, key=lambda f: (-f.x, f.z, f.id)):
        key = words[f.id], f.side
        count[key] += 1
        made[f.id] = f"{key[0]}{f' {count[key]}' if taken[key] > 1 else ''}{f', {f.side}' if f.side else ''}"
    return made


def _thirds(job: Job) -> Callable[[float], str]:
    xs = [j.x for j in job.joints]
    low, size = min(xs), max(xs) - min(xs)

    def word(x: float) -> str:
        share = (x - low) / size if size > 1.0 else 0.5
        return "rear" if share < 1 / 3 else "front" if share > 2 / 3 else "middle"

    return word


def _levels(found: Sequence[_Found]) -> dict[str, str]:
    """Lower, middle or upper, for those that have their like over or under them at the same place along the car."""
    made: dict[str, str] = {}
    groups: dict[tuple[str, str], list[_Found]] = {}
    for f in found:
        if not f.own:
            groups.setdefault((f.kind, f.side), []).append(f)
    for group in groups.values():
        if len(group) > MOST_COMPARED:
            continue
        start, stop = (np.array([f.along[k] for f in group]) for k in (0, 1))
        x, z = np.array([f.x for f in group]), np.array([f.z for f in group])
        beside = (start - BESIDE_MM <= x[:, None]) & (x[:, None] <= stop + BESIDE_MM)
        below = (beside & (z < z[:, None] - LEVEL_MM)).sum(axis=1)
        above = (beside & (z > z[:, None] + LEVEL_MM)).sum(axis=1)
        for n, f in enumerate(group):
            if below[n] or above[n]:
                made[f.id] = "mid-height" if below[n] and above[n] else "upper" if below[n] else "lower"
    return made


def _side_of(ys: Iterable[float]) -> str:
    """Left or right where all is on that side of the centreline; nothing for what is on it or across it."""
    listed: Sequence[float] = tuple(ys)
    if min(listed) > -CENTRE_MM and max(listed) > CENTRE_MM:
        return "left"
    return "right" if max(listed) < CENTRE_MM and min(listed) < -CENTRE_MM else ""


def _lines(job: Job) -> dict[str, tuple[str, int]]:
    """The line and the number of the station of every joint that the sheet of offsets has laid, both sides."""
    found: dict[str, tuple[str, int]] = {}
    for s, n, cell in job.offsets.cells():
        if cell.joint is not None:
            for name in (cell.joint, job.joint_by_id[cell.joint].twin or cell.joint):
                found.setdefault(name, (job.offsets.lines[n].name, s + 1))
    return found


def _joints(job: Job) -> Iterator[_Found]:
    lines, pickups = _lines(job), {p.joint: p.corner for p in job.pickups}
    hoops = {role: _heights(job, role) for role in _HOOPS}
    for j in job.joints:
        kind, own, end = "joint", j.called, ""
        hoop = next((role for role, (_, _, joints) in hoops.items() if j.id in joints), "")
        if own:
            pass
        elif j.id in pickups:
            kind, end = "pickup", pickups[j.id].split()[0]
        elif hoop:
            low, high, _ = hoops[hoop]
            own = f"{'foot' if j.z < low + 1 else 'top' if j.z > high - 1 else 'side'} of the {hoop}"
        elif j.id in lines:
            own = f"{lines[j.id][0]} at station {lines[j.id][1]}"
        yield _Found(j.id, kind, own, (j.x, j.x), j.z, _side_of([j.y]), end)


def _heights(job: Job, role: str) -> tuple[float, float, frozenset[str]]:
    """Lowest and highest z of a hoop's joints, mm, and which they are."""
    joints = frozenset(end for t in job.tubes if t.role == role for end in t.ends)
    zs = [job.joint_by_id[name].z for name in joints] or [0.0]
    return min(zs), max(zs), joints


def _tubes(job: Job) -> Iterator[_Found]:
    lines = _lines(job)
    for t in job.tubes:
        a, b = (job.joint_by_id[end] for end in t.ends)
        kind, own, along = _ROLES.get(t.role, t.role), t.called, (min(a.x, b.x), max(a.x, b.x))
        if own:
            pass
        elif t.role == "rail" and a.id in lines and b.id in lines and lines[a.id][0] == lines[b.id][0]:
            own = lines[a.id][0]
        elif t.role in (*_HOOPS, "hoop brace", "harness bar", "lap bar"):
            own = t.role
        elif t.role == "side":
            rises = abs(a.z - b.z) > UPRIGHT * math.dist(a.place, b.place)
            kind = "upright" if rises else "side tube"
        yield _Found(t.id, kind, own, along, (a.z + b.z) / 2, _side_of([a.y, b.y]))
