"""Rules: each clause of the builder's own book judged on the job: pass, fail or not known, with what was measured.

One function a kind of rule, declared in JUDGES. What a rule asks is in `job/values/rules`. The program judges what it
was told; whether a car may run is for the scrutineer.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any, Literal

import numpy as np

from ironcage.core.answers import cut, place
from ironcage.core.answers.brief.screens import screened
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.extent import extent
from ironcage.core.answers.shared.mass import loads, weigh
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values import rules
from ironcage.core.job.values.fittings import Doubler, Insert, SlipJoint
from ironcage.core.job.values.model import Job, Tube
from ironcage.core.job.values.rules import READINGS
from ironcage.problem import Problem
from ironcage.units import said
from ironcage.units.quantity import ANGLE, COUNT, LENGTH, SHARE, STRESS, Quantity

CLOSE_MM, CLOSE_RAD = 0.05, math.radians(0.05)  # measures so near to what is asked meet it: no tape or level tells them
# apart
State = Literal["pass", "fail", "not known"]
CLOSE = {"angle": CLOSE_RAD, "share": 1e-6, "stress": 1e-6}  # by what is measured; lengths and others CLOSE_MM
CAUTION = "Judged by the clauses typed in here. Your sanctioning body's book and its scrutineer decide."


@dataclass(frozen=True)
class Verdict:
    """A rule judged. measured, by: what was found and how far it is past (positive) or short of (negative) what is
    asked, of the `quantity`, None where nothing was measured; where: tubes, joints, parts or
    people; why: a word more, or why it can't be worked out."""

    rule: str
    clause: str
    kind: str
    state: State
    measured: float | None = None
    by: float | None = None
    quantity: Quantity | None = None
    where: tuple[str, ...] = ()
    why: str = ""


@dataclass(frozen=True)
class _Found:
    state: State
    measured: float | None = None
    by: float | None = None
    quantity: Quantity | None = None
    where: tuple[str, ...] = ()
    why: str = ""


@remembered("rules", "joints", "tubes", "shelf", "fittings", "wheels", "masses", "parts", "people", "chains", "shafts")
def judge_rules(job: Job) -> tuple[Verdict, ...]:
    """Every rule of the profile, in its order."""
    made = []
    for rule in job.rules.rules:
        f = JUDGES[rule.kind](job, rule)
        made.append(Verdict(rule.id, rule.clause, rule.kind, f.state, f.measured, f.by, f.quantity, f.where, f.why))
    return tuple(made)


def _unknown(why: str) -> _Found:
    return _Found("not known", why=why)


def _tubes(job: Job, role: str) -> list[Tube]:
    return [t for t in job.tubes if t.role == role]


def _between(
    values: Sequence[tuple[float, tuple[str, ...]]], least: float | None, most: float | None, quantity: Quantity
) -> _Found:
    """The value that is worst against a least and a most, each with where it was found."""

    def room(value: float) -> float:
        return min(value - least if least is not None else math.inf, most - value if most is not None else math.inf)

    value, where = min(values, key=lambda v: room(v[0]))
    by, close = room(value), CLOSE.get(quantity.name, CLOSE_MM)
    failing = tuple(dict.fromkeys(w for v, at in values if room(v) < -close for w in at))
    return _Found("fail" if by < -close else "pass", value, by, quantity, failing or where)


def _tube_size(job: Job, rule: rules.TubeSize) -> _Found:
    by_mass = rule.over > 0 or rule.up_to < rules.ANY_MASS
    if by_mass and not loads(job):
        return _unknown("The rule is for cars of a mass, and nothing heavy has been placed yet.")
    if by_mass and not rule.over < weigh(job).car.mass <= rule.up_to:
        limits = [f"over {said.whole_mass(rule.over)}"] * (rule.over > 0)
        limits += [f"up to {said.whole_mass(rule.up_to)}"] * (rule.up_to < rules.ANY_MASS)
        return _Found(
            "pass",
            why=f"It is for cars of {' and '.join(limits)}, and this one has {said.whole_mass(weigh(job).car.mass)}.",
        )
    tubes = _tubes(job, rule.role)
    if not tubes:
        return _unknown(f"No tube has the role of {rule.role}.")
    sizes: list[tuple[float, tuple[str, ...]]] = []
    walls: list[tuple[float, tuple[str, ...]]] = []
    for t in tubes:
        shape = job.section(t.section).shape
        sizes.append((min(shape.size), (t.id,)))
        walls.append((shape.wall_mm, (t.id,)))
    size, wall = _between(sizes, rule.od, None, LENGTH), _between(walls, rule.wall, None, LENGTH)
    thin = wall.state == "fail" and (size.state == "pass" or (wall.by or 0) < (size.by or 0))
    worse = wall if thin else size
    where = tuple(
        dict.fromkeys((size.where if size.state == "fail" else ()) + (wall.where if wall.state == "fail" else ()))
    )
    return _Found(
        "fail" if where else "pass",
        worse.measured,
        worse.by,
        LENGTH,
        where or worse.where,
        "wall" if thin else "size across",
    )


def _member(job: Job, rule: rules.Member) -> _Found:
    """Tubes in line that were split at joints count as one."""
    tubes = _tubes(job, rule.role)
    runs = _runs(job, tubes)
    return _Found(
        "pass" if runs >= rule.count else "fail",
        float(runs),
        float(runs - rule.count),
        COUNT,
        tuple(t.id for t in tubes),
    )


STRAIGHT_COS = math.cos(math.radians(3))


def _runs(job: Job, tubes: Sequence[Tube]) -> int:
    """How many pieces some tubes are, when those that go on in line through a joint are one."""
    ends: dict[str, list[tuple[Tube, np.ndarray]]] = {}
    for t in tubes:
        a, b = (np.array(job.joint_by_id[e].place) for e in t.ends)
        way = (b - a) / max(float(np.linalg.norm(b - a)), 1e-9)
        ends.setdefault(t.a, []).append((t, way))
        ends.setdefault(t.b, []).append((t, -way))
    joined = sum(
        1 for meeting in ends.values() if len(meeting) == 2 and float(meeting[0][1] @ meeting[1][1]) < -STRAIGHT_COS
    )
    return len(tubes) - joined


def _ends(job: Job, tube: Tube) -> tuple[np.ndarray, np.ndarray]:
    a, b = (np.array(job.joint_by_id[e].place) for e in tube.ends)
    return a, b


def _brace_angle(job: Job, rule: rules.BraceAngle) -> _Found:
    """From joint to joint; a bent brace by its straight run that leans the worst."""
    tubes = _tubes(job, rule.role)
    if not tubes:
        return _unknown(f"No tube has the role of {rule.role}.")
    leans: list[tuple[float, tuple[str, ...]]] = []
    for t in tubes:
        for a, b in pairwise(route_of(job, t).points):
            way = b - a
            leans.append((math.atan2(float(np.hypot(way[0], way[1])), abs(float(way[2]))), (t.id,)))
    return _between(leans, rule.least, rule.most, ANGLE)


def _attachment(job: Job, rule: rules.Attachment) -> _Found:
    braces, hoops = _tubes(job, rule.role), _tubes(job, rule.to)
    if not braces or not hoops:
        return _unknown(f"No tube has the role of {rule.to if braces else rule.role}.")
    lines = [pair for t in hoops for pair in pairwise(route_of(job, t).line)]
    top = max(p[2] for pair in lines for p in pair)
    level = [pair for pair in lines if min(p[2] for p in pair) > top - 1.0]  # along a flat top any place will do
    high = [p for pair in lines for p in pair if p[2] > top - 1.0]
    level += [(p, p) for p in high] if not level else []
    level += [(p, q) for p in high for q in high if not any(t.corners for t in hoops)]
    off: list[tuple[float, tuple[str, ...]]] = []
    for t in braces:
        end = max(_ends(job, t), key=lambda p: p[2])
        off.append((min(_to_line(end, p, q) for p, q in level), (t.id,)))
    return _between(off, None, rule.most, LENGTH)


def _to_line(point: np.ndarray, a: np.ndarray, b: np.ndarray) -> float:
    way = b - a
    share = float(np.clip((point - a) @ way / max(float(way @ way), 1e-9), 0, 1))
    return float(np.linalg.norm(a + share * way - point))


def _bend(job: Job, rule: rules.Bend) -> _Found:
    """The tightest bend of the role's tubes and, where more are bent than allowed, how many the worst has. A fold
    has no radius."""
    tubes = _tubes(job, rule.role)
    if not tubes:
        return _unknown(f"No tube has the role of {rule.role}.")
    try:
        made = [p for p in cut.answer(job).pieces if any(t.id in p.tubes for t in tubes)]
    except Problem as problem:  # a tube without length
        return _unknown(problem.what)
    bent = [p for p in made if p.bends]
    if not bent:
        return _Found("pass", why="None of them is bent.")
    crowd = max(bent, key=lambda p: len(p.bends))
    if len(crowd.bends) > rule.count:
        return _Found(
            "fail",
            float(len(crowd.bends)),
            float(rule.count - len(crowd.bends)),
            COUNT,
            crowd.tubes,
            "bends in one piece",
        )
    return _between([(b.radius, p.tubes) for p in bent for b in p.bends], rule.radius, None, LENGTH)


def _sleeve(job: Job, rule: rules.Sleeve) -> _Found:
    """Every insert, slip joint and doubler on the role's tubes against what is asked; the one that lacks most."""
    tubes = {t.id for t in _tubes(job, rule.role)}
    if not tubes:
        return _unknown(f"No tube has the role of {rule.role}.")
    asked = {"depth": rule.depth, "hole": rule.hole, "length": rule.length, "gap": rule.gap}
    values: list[tuple[float, _Found]] = []
    for f in job.fittings:
        if isinstance(f, Insert) and f.tube in tubes:
            has = {"depth": f.depth, "hole": f.hole, "length": 2 * f.depth + f.gap, "gap": f.gap}
        elif isinstance(f, SlipJoint) and f.tube in tubes:
            has = {"depth": f.engaged, "length": 2 * f.engaged}
        elif isinstance(f, Doubler) and f.tube in tubes:
            has = {"length": f.length}
        else:
            continue
        for word, least in asked.items():
            if least and word in has:
                by = has[word] - least
                values.append(
                    (
                        by,
                        _Found(
                            "fail" if by < -CLOSE_MM else "pass", has[word], by, LENGTH, (f.tube,), f"{word} of {f.id}"
                        ),
                    )
                )
    if not values:
        return _unknown("No sleeve or insert is fitted to them.")
    return min(values, key=lambda v: v[0])[1]


def _room(job: Job, rule: rules.Room) -> _Found:
    aboard = [p for p in place.people_seated(job) if p.aboard]
    if not aboard:
        return _unknown("Nobody is aboard.")
    values: list[tuple[float, tuple[str, ...]]] = []
    why = ""
    for p in aboard:
        r = p.reading(rule.reading)
        if r is None or r.value is None:
            why = f"{p.name}: {r.why if r else 'not read'}"
            continue
        values.append((r.value, (p.id, r.against) if r.against else (p.id,)))
    return _between(values, rule.least, rule.most, READINGS[rule.reading]) if values else _unknown(why)


def _clearance(job: Job, rule: rules.Clearance) -> _Found:
    found = extent(job)
    if found.clearance is None:
        return _unknown("There is nothing but tyres yet.")
    return _between([(found.clearance, (found.lowest,))], rule.least, None, LENGTH)


def _envelope(job: Job, rule: rules.Envelope) -> _Found:
    size = extent(job).size
    if size is None:
        return _unknown("There is nothing to measure yet.")
    return _between([(size[("length", "width", "height").index(rule.size)], ())], rule.least, rule.most, LENGTH)


def _wheels(job: Job, rule: rules.Wheels) -> _Found:
    w = weigh(job)
    value = {"wheelbase": w.wheelbase, "front track": w.tracks[0], "rear track": w.tracks[1]}[rule.size]
    if value is None:
        return _unknown("Wheels are missing at the front or at the rear.")
    return _between([(value, ())], rule.least, rule.most, LENGTH)


def _grade(job: Job, rule: rules.Grade) -> _Found:
    """Every tube of the role: the words that its material's name must have, and what it yields at."""
    tubes = _tubes(job, rule.role)
    if not tubes:
        return _unknown(f"No tube has the role of {rule.role}.")
    words = rule.material.lower().split()
    made = {t.id: job.material(t.material) for t in tubes}
    other = tuple(t for t, m in made.items() if not all(w in m.name.lower() for w in words))
    if other:
        name = made[other[0]].name
        return _Found("fail", where=other, why=f"{len(other)} of {len(tubes)} are of another: {name}.")
    if not rule.strength:
        return _Found("pass", why=made[tubes[0].id].name)
    return _between([(m.yield_strength, (t,)) for t, m in made.items()], rule.strength, None, STRESS)


def _screen(job: Job, rule: rules.Screen) -> _Found:
    """The person and the thing with least sheet between them."""
    found = screened(job, rule.against)
    if not found:
        return _unknown(f"Nobody is aboard, or there is no {rule.against}.")
    return _between([(s.share, (s.person, s.thing)) for s in found], rule.least, None, SHARE)


def _note(job: Job, rule: rules.Note) -> _Found:
    return _Found("pass", why=rule.note) if rule.ticked else _unknown("Not ticked yet: judge it yourself.")


JUDGES: Mapping[str, Callable[[Job, Any], _Found]] = {
    "tube size": _tube_size,
    "member": _member,
    "brace angle": _brace_angle,
    "attachment": _attachment,
    "bend": _bend,
    "sleeve": _sleeve,
    "room": _room,
    "ground clearance": _clearance,
    "envelope": _envelope,
    "wheels": _wheels,
    "grade": _grade,
    "screen": _screen,
    "note": _note,
}
