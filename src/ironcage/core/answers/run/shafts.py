"""What shafts do that drive wheels which move: how far they telescope, and how their joints bend over the travel."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.bands import EndRun, end_runs
from ironcage.core.answers.run.beam import BeamRun
from ironcage.core.answers.run.carrier import CarrierRun
from ironcage.core.answers.run.corner import MIRROR, AxleRun
from ironcage.core.answers.run.fork import ForkRun
from ironcage.core.answers.run.grid import some_of
from ironcage.core.answers.run.lever import WEIGHED
from ironcage.core.answers.run.liveaxle import LinkedRun
from ironcage.core.answers.run.moments import leaning_words, racked_words
from ironcage.core.answers.run.swing import SwingRun
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.car.driveshaft import angles
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.solids.convex import rod
from ironcage.core.job import edits
from ironcage.core.job.geometry.bodies import Body
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Shaft
from ironcage.core.job.values.running import HUNG
from ironcage.problem import Problem

NEAR_SHARE = 0.6  # of a wheel's radius, beside its axle's line: what is nearer goes with the wheel
MOMENTS = 9  # of the travel, at which a shaft is looked at
Moved = tuple[Floats, Floats, Floats, bool]
MOST = math.radians(25)  # that a joint is bent before it is looked at


@dataclass(frozen=True)
class ShaftRun:
    """A shaft over the travel of the end whose wheels it drives, and over its roll. shorter, longer: than at ride
    height at most, mm; first, second: the most that its joints are bent, rad, at travels first_at, second_at, mm."""

    shaft: Shaft
    axle: str
    shorter: float
    longer: float
    first: float
    first_at: float
    second: float
    second_at: float


@remembered(*HUNG, "joints", "shafts", "wheels", *WEIGHED)
def shaft_runs(job: Job) -> tuple[ShaftRun, ...]:
    """Every shaft that ends on wheels or an axle that move. Raises Problem as `end_runs` does."""
    if not job.shafts:
        return ()
    made = []
    for shaft in job.shafts:
        for run in end_runs(job).values():
            if (told := _over(job, shaft, run)) is not None:
                made.append(told)
                break
    return tuple(made)


def _over(job: Job, shaft: Shaft, run: EndRun) -> ShaftRun | None:
    """A shaft over the travel of an end; None where it does not end on it."""
    moved = _moving(job, shaft, run)
    if moved is None:
        return None
    places, ways, travel, second = moved
    fixed, drive, driven = np.array(shaft.start), np.array(shaft.drive), np.array(shaft.driven)
    other = np.array(shaft.stop)
    if not second:
        fixed, other = other, fixed
    lengths, bends = np.linalg.norm(places - fixed, axis=-1), np.full((*places.shape[:-1], 2), np.nan)
    for at in np.ndindex(lengths.shape):
        if np.isfinite(lengths[at]):
            try:
                if second:
                    told = angles(fixed, places[at], drive, ways[at], shaft.phase)
                else:
                    told = angles(places[at], fixed, ways[at], driven, shaft.phase)
            except Problem:  # bent further than any joint turns
                bends[at] = math.pi / 2
                continue
            bends[at] = told.first, told.second
    if not np.isfinite(bends).any():
        return None
    rows = [np.unravel_index(int(np.nanargmax(bends[..., n])), lengths.shape)[0] for n in (0, 1)]
    change = lengths - float(np.linalg.norm(other - fixed))
    return ShaftRun(
        shaft,
        run.hung.axle,
        float(-np.nanmin(change)),
        float(np.nanmax(change)),
        float(np.nanmax(bends[..., 0])),
        float(travel[rows[0]]),
        float(np.nanmax(bends[..., 1])),
        float(travel[rows[1]]),
    )


def swept_shafts(job: Job) -> Iterator[Body]:
    """Every shaft that ends on wheels or an axle that move, at moments of their way. Raises Problem as `end_runs`
    does."""
    for shaft in job.shafts:
        for run in end_runs(job).values():
            if moved := _moving(job, shaft, run):
                yield _swept(shaft, run, moved)
                break


def _swept(shaft: Shaft, run: EndRun, moved: Moved) -> Body:
    places, _, travel, second = moved
    fixed = np.array(shaft.start if second else shaft.stop)
    rows = some_of(len(travel), MOMENTS)
    columns = some_of(places.shape[1], 3)
    moments = [(i, k) for i in rows for k in columns if np.isfinite(places[i, k]).all()]
    ways = run.found.rack if places.shape[1] > 1 else np.zeros(1)
    words = tuple(
        leaning_words(float(travel[i]), float(ways[k]))
        if isinstance(run, LinkedRun)
        else racked_words(float(travel[i]), float(ways[k]), "rack")
        for i, k in moments
    )
    solids = tuple(rod(shaft.diameter / 2, fixed, places[m]) for m in moments)
    touches = frozenset({*shaft.touches, "link", "tyre"})  # which move with it
    return Body(shaft.id, shaft.name, "shaft", solids, words, shaft.margin, "shaft", touches)


def _moving(job: Job, shaft: Shaft, run: EndRun) -> Moved | None:
    """Where the end of a shaft stands that goes with an end of the car (n, m, 3), how the axis there lies, the travels
    (n,), and whether it is the shaft's second end; None where neither goes with it."""
    if isinstance(run, BeamRun | ForkRun | CarrierRun):
        return None
    wheel = edits.left_wheel(job, run.hung.axle)
    for place, way, second in ((shaft.stop, shaft.driven, True), (shaft.start, shaft.drive, False)):
        beside = math.hypot(place[0] - wheel.x, place[2] - wheel.z)
        if beside > NEAR_SHARE * wheel.diameter / 2:
            continue
        point, axis = np.array(place), np.array(way, float)
        if isinstance(run, LinkedRun):
            turn = run.found.poses.turn.reshape(*run.found.closed.shape, 3, 3)
            return run.found.at(point), turn @ axis, run.found.travel, second
        if abs(place[1]) < abs(wheel.y) / 2:
            continue  # between the wheels: a differential on the frame
        mirror = np.ones(3) if place[1] > 0 else MIRROR
        if isinstance(run, AxleRun):
            places, ways = run.found.at(point * mirror), run.found.turn @ (axis * mirror)
            return places * mirror, ways * mirror, run.found.travel, second
        assert isinstance(run, SwingRun)
        swung = run.found.poses
        places, ways = swung.at(point * mirror)[:, None], swung.turned(axis * mirror)[:, None]
        return places * mirror, ways * mirror, run.found.travel, second
    return None
