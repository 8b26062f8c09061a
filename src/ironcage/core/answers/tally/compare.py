"""Two states of a job side by side: tubes and joints added, gone, moved, longer or shorter; parts moved; figures
that changed."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.shared.figures import Figure
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.answers.tally import readout
from ironcage.core.job.edits import place_of
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job, Tube

SAME_MM = 0.01


@dataclass(frozen=True)
class TubeChange:
    """A tube that has changed. what: added, gone, moved, or its new make; before, after: length along its centreline,
    mm, 0 where it is not."""

    tube: str
    what: str
    before: float
    after: float


@dataclass(frozen=True)
class PlaceChange:
    """A joint or a thing that is elsewhere, or only in one of both. by: how far it moved along x, y, z, mm, None
    where it is added or gone."""

    name: str
    what: str
    by: tuple[float, float, float] | None


@dataclass(frozen=True)
class Comparison:
    """What differs from `before` to `after`. figures: every figure of the tally before and after; circle: turning
    circle before and after, mm, None where it is not known."""

    tubes: tuple[TubeChange, ...]
    joints: tuple[PlaceChange, ...]
    things: tuple[PlaceChange, ...]
    figures: tuple[tuple[Figure, Figure], ...]
    circle: tuple[float | None, float | None]

    @property
    def longer(self) -> tuple[TubeChange, ...]:
        """Tubes that are there in both and are of another length."""
        return tuple(t for t in self.tubes if t.before and t.after and abs(t.after - t.before) > SAME_MM)


def compare_jobs(before: Job, after: Job) -> Comparison:
    """What differs between two jobs."""
    old, new = readout.quick(before), {f.key: f for f in readout.quick(after)}
    return Comparison(
        _tubes(before, after),
        _places(_joints(before), _joints(after)),
        _places(_things(before), _things(after)),
        tuple((f, new[f.key]) for f in old),
        (turning_circle(before), turning_circle(after)),
    )


def turning_circle(job: Job) -> float | None:
    """Diameter of the circle that the outer front tyre's middle runs on, mm: 2·L / sin δ of the outer wheel, tyres
    without slip; None without a lock or wheels."""
    base = weigh(job).wheelbase
    if not job.brief.lock or not base or base <= 0:
        return None
    return 2 * base / math.sin(job.brief.lock)


def _tubes(before: Job, after: Job) -> tuple[TubeChange, ...]:
    made = []
    for t in before.tubes:
        if t.id not in after.tube_by_id:
            made.append(TubeChange(t.id, "gone", route_of(before, t).length, 0.0))
    for t in after.tubes:
        old = before.tube_by_id.get(t.id)
        if old is None:
            made.append(TubeChange(t.id, f"added: {t.section}", 0.0, route_of(after, t).length))
            continue
        change = _tube(before, old, after, t)
        if change:
            made.append(change)
    return tuple(made)


def _tube(before: Job, old: Tube, after: Job, new: Tube) -> TubeChange | None:
    one, other = route_of(before, old), route_of(after, new)
    words = []
    for field in ("section", "material", "role"):
        if getattr(old, field) != getattr(new, field):
            words.append(f"{field} {getattr(new, field) or 'none'}")
    if one.points.shape != other.points.shape or one.radius != other.radius:
        words.append("bent otherwise")
    elif float(np.abs(one.points - other.points).max()) > SAME_MM:
        delta = other.length - one.length
        words.append("longer" if delta > SAME_MM else "shorter" if delta < -SAME_MM else "moved")
    return TubeChange(new.id, ", ".join(words), one.length, other.length) if words else None


def _joints(job: Job) -> dict[str, tuple[float, float, float]]:
    return {j.id: j.place for j in job.joints}


def _things(job: Job) -> dict[str, tuple[float, float, float]]:
    made = {thing.id: place_of(thing) for thing in job.placed.values()}
    return made | {w.id: (w.x, w.y, w.z) for w in job.wheels} | {m.id: (m.x, m.y, m.z) for m in job.masses}


def _places(
    before: Mapping[str, tuple[float, float, float]], after: Mapping[str, tuple[float, float, float]]
) -> tuple[PlaceChange, ...]:
    made = [PlaceChange(n, "gone", None) for n in before if n not in after]
    for name, place in after.items():
        if name not in before:
            made.append(PlaceChange(name, "added", None))
        elif max(abs(p - q) for p, q in zip(place, before[name], strict=True)) > SAME_MM:
            x, y, z = (p - q for p, q in zip(place, before[name], strict=True))
            made.append(PlaceChange(name, "moved", (x, y, z)))
    return tuple(made)
