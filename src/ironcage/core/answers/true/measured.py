"""True: where the built frame's joints stand by its readings, how sure that is, and which reading is most likely
wrong."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.adjust.survey import APART, CHECKED, SUSPECT, Adjusted, Kind, Observed, adjusted, misfits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.truing import AnyMeasured, MeasuredSlope, TapedDistance, joints_of, value_of
from ironcage.problem import Problem
from ironcage.units import Units, said
from ironcage.units.quantity import ANGLE
from ironcage.units.shown import angle

LEAST_SAID_MM = 0.05
WAYS = (("forward", "back"), ("left", "right"), ("high", "low"))
KINDS: dict[str, Kind] = {"tape": "distance", "height": "height", "level": "level"}
ASSUMED = (
    "Readings are between the middles of joints, where the drawing has them; a tape held to the outside of tubes reads "
    "something else.",
    "Least squares: each reading counts by how exactly it is read. What no reading reaches stays where it was drawn.",
    "A reading is called suspect when chance alone would put it so far off once in a thousand; two wrong readings that "
    "agree are not found.",
)


@dataclass(frozen=True)
class ReadingJudged:
    """A reading and what the others leave of it. value: what was read, without the tape's own error; left: reading
    less adjusted; error: how wrong it would be if it alone were wrong; normalised: how many standard deviations that
    is; checked: whether other readings check it; gone: a joint of it that is no longer there. mm or rad."""

    reading: AnyMeasured
    value: float
    left: float = 0.0
    error: float = 0.0
    normalised: float = 0.0
    checked: bool = False
    gone: str = ""

    @property
    def suspect(self) -> bool:
        """Whether it stands out beyond chance."""
        return abs(self.normalised) > SUSPECT


@dataclass(frozen=True)
class JointMeasured:
    """Where a joint is. moved (3,): from where it is drawn, mm; sure (3,): one standard deviation of each, mm; told
    (3,): which of them the readings tell; off: how far it is off in what is told, mm; too_far: beyond what it may."""

    joint: str
    place: tuple[float, float, float]
    moved: tuple[float, float, float]
    sure: tuple[float, float, float]
    told: tuple[bool, bool, bool]
    off: float
    too_far: bool

    @property
    def words(self) -> str:
        """Where it is, the largest move first, and what of it no reading tells."""
        known = [(abs(m), n) for n, m in enumerate(self.moved) if self.told[n] and abs(m) >= LEAST_SAID_MM]
        parts = [f"{said.length(size)} {WAYS[n][self.moved[n] < 0]}" for size, n in sorted(known, reverse=True)]
        unknown = [axis for axis, told in zip("xyz", self.told, strict=True) if not told]
        if unknown:
            parts.append(f"{', '.join(unknown)} not known")
        return ", ".join(parts) or "where it is drawn"

    @property
    def give_or_take(self) -> float:
        """Two standard deviations of what is told, in its least sure direction, mm."""
        return 2 * max((s for s, told in zip(self.sure, self.told, strict=True) if told), default=0.0)


@dataclass(frozen=True)
class TrueAnswer:
    """Joints that readings are of, the furthest off first, and every reading judged, in their order. spare: readings
    beyond those that are needed; factor: how many times as far off as said the readings are, None with none to
    spare; suspect: the reading that is most likely wrong; apart: groups of joints that no tape and no level ties to
    the largest group."""

    joints: tuple[JointMeasured, ...]
    readings: tuple[ReadingJudged, ...]
    spare: int
    factor: float | None
    suspect: ReadingJudged | None
    apart: tuple[tuple[str, ...], ...]


@remembered("truing", "joints", "table")
def answer(job: Job) -> TrueAnswer:
    """Where everything is. Raises Problem with no reading, for a datum that has gone, and for readings that do not
    come together."""
    truing = job.truing
    usable = [r for r in truing.readings if all(name in job.joint_by_id for name in joints_of(r))]
    if not usable:
        raise Problem(
            "Nothing was measured yet.",
            where="readings",
            hint=said.example("Choose two joints and type what the tape reads, for example: tape [1248.5]"),
        )
    missing = next((name for name in truing.datum if name not in job.joint_by_id), None)
    if missing:
        raise Problem(
            f"The datum names {missing}, which has gone.",
            where="datum",
            hint="Type: true best fit, or name three joints.",
        )
    names = list(dict.fromkeys(n for r in usable for n in joints_of(r)))
    names += [name for name in truing.datum if name not in names]
    index = {name: n for n, name in enumerate(names)}
    drawn = np.array([job.joint_by_id[name].place for name in names])
    observed = [_observed(job, r, index) for r in usable]
    try:
        found = adjusted(drawn, observed, _held(drawn, [index[n] for n in truing.datum]))
    except Problem as problem:
        raise _with_culprit(problem, usable, observed, drawn) from None
    judged = _judged(job, truing.readings, usable, observed, found)
    joints = sorted(_joints(job, names, drawn, found), key=lambda j: (not j.too_far, -j.off, j.joint))
    worst = found.judged.suspect
    wrong = None if worst is None else next(r for r in judged if r.reading.id == usable[worst].id)
    return TrueAnswer(tuple(joints), judged, found.spare, found.factor, wrong, _apart(names, found))


def reading_shown(reading: AnyMeasured, units: Units) -> str:
    """What was read, in the job's units; a slope in degrees."""
    value = value_of(reading)
    return angle(value, 2) if isinstance(reading, MeasuredSlope) else units.length(value)


def error_shown(judged: ReadingJudged, units: Units) -> str:
    """By how much a reading disagrees with the others, with its sign; nothing where nothing checks it."""
    if not judged.checked:
        return ""
    size = abs(judged.error)
    told = angle(size, 3) if isinstance(judged.reading, MeasuredSlope) else units.fine(size)
    return f"{'+' if judged.error >= 0 else '−'}{told}"


def _apart(names: Sequence[str], found: Adjusted) -> tuple[tuple[str, ...], ...]:
    """The joints of each group but the largest."""
    groups: dict[int, list[str]] = {}
    for name, group in zip(names, found.group.tolist(), strict=True):
        groups.setdefault(group, []).append(name)
    return tuple(map(tuple, sorted(groups.values(), key=len, reverse=True)[1:]))


def _with_culprit(
    problem: Problem, readings: Sequence[AnyMeasured], observed: Sequence[Observed], drawn: np.ndarray
) -> Problem:
    """A refusal of readings that names the one furthest from the drawing."""
    if problem.where != APART:
        return problem
    off = misfits(drawn, observed)
    worst = int((np.abs(off) / [o.sigma for o in observed]).argmax())
    reading, size = readings[worst], abs(float(off[worst]))
    by = ANGLE.said(size) if isinstance(reading, MeasuredSlope) else said.length(size)
    return Problem(
        problem.what,
        where=reading.id,
        hint=f"{reading.id} is furthest from the drawing, by {by}: read it again, or type: true {reading.id} gone",
    )


def unjudged(job: Job) -> tuple[ReadingJudged, ...]:
    """The readings as they were typed, where they can't be adjusted."""
    return tuple(ReadingJudged(r, value_of(r)) for r in job.truing.readings)


def _observed(job: Job, reading: AnyMeasured, index: dict[str, int]) -> Observed:
    truing, ends = job.truing, [index[name] for name in joints_of(reading)]
    value = value_of(reading)
    if isinstance(reading, TapedDistance):
        return Observed("distance", ends[0], ends[1], value - truing.tape_error, truing.tape_fine)
    if isinstance(reading, MeasuredSlope):
        return Observed("level", ends[0], ends[1], value, truing.level_fine)
    return Observed("height", ends[0], ends[0], value + job.table.top_z, truing.height_fine)


def _held(drawn: np.ndarray, datum: Sequence[int]) -> list[tuple[int, int]]:
    """Three, two and one coordinates of the datum's joints. The first joint stays. The second keeps the two that its
    line from the first runs least along; the third keeps the one across the plane of all three most."""
    if not datum:
        return []
    a, b, c = datum
    along = drawn[b] - drawn[a]
    line = int(np.abs(along).argmax())
    kept = [axis for axis in range(3) if axis != line]
    normal = np.cross(along, drawn[c] - drawn[a])
    across = max(kept, key=lambda axis: abs(normal[axis]))
    return [(a, 0), (a, 1), (a, 2), *((b, axis) for axis in kept), (c, across)]


def _judged(
    job: Job,
    readings: Sequence[AnyMeasured],
    usable: Sequence[AnyMeasured],
    observed: Sequence[Observed],
    found: Adjusted,
) -> tuple[ReadingJudged, ...]:
    number = {r.id: n for n, r in enumerate(usable)}
    made = []
    for reading in readings:
        n = number.get(reading.id)
        if n is None:
            gone = next(name for name in joints_of(reading) if name not in job.joint_by_id)
            made.append(ReadingJudged(reading, value_of(reading), gone=gone))
            continue
        judged = found.judged
        made.append(
            ReadingJudged(
                reading,
                observed[n].value,
                float(judged.residuals[n]),
                float(judged.errors[n]),
                float(judged.normalised[n]),
                bool(judged.redundancy[n] > CHECKED),
            )
        )
    return tuple(made)


def _joints(job: Job, names: Sequence[str], drawn: np.ndarray, found: Adjusted) -> list[JointMeasured]:
    made = []
    for n, name in enumerate(names):
        moved, told = found.places[n] - drawn[n], found.told[n]
        sure = np.sqrt(np.maximum(np.diagonal(found.covariance[n]), 0.0))
        off = math.sqrt(float((moved[told] ** 2).sum()))
        made.append(
            JointMeasured(
                name,
                _three(found.places[n]),
                _three(moved),
                _three(sure),
                (bool(told[0]), bool(told[1]), bool(told[2])),
                off,
                off > job.truing.within,
            )
        )
    return made


def _three(values: np.ndarray) -> tuple[float, float, float]:
    x, y, z = (float(v) for v in values)
    return x, y, z
