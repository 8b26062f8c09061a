"""Where an end stands and how it swings with its coil-overs at other holes than those they are bolted at."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from ironcage.core.answers.run.bands import end_runs
from ironcage.core.answers.run.beam import BeamRun
from ironcage.core.answers.run.carrier import CarrierRun
from ironcage.core.answers.run.springs import spring_of, sprung
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.car.springs import frequency
from ironcage.core.calc.frames.load_distribution import G
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import HUNG, Axle, LinkedAxle, SwingingArms, Wishbones
from ironcage.problem import Problem

Place = tuple[float, float, float]


@dataclass(frozen=True)
class HoleTold:
    """A hole. place: mm; top: whether it is one for the coil-over's top, and not its foot; lower: how much lower the
    car then stands over these wheels, mm; ratio: of the coil-over's shortening to travel there; rate: at the wheel,
    N/mm; swings: in a second. None where the car stands nowhere within the travel that is typed in."""

    place: Place
    top: bool = False
    lower: float | None = None
    ratio: float | None = None
    rate: float | None = None
    swings: float | None = None


@remembered(*HUNG, "joints", "wheels", "parts", "people", "tubes", "shelf", "masses", "fittings", "brief")
def holes(job: Job) -> dict[str, tuple[HoleTold, ...]]:
    """The holes of each end that has some, by its name. Raises Problem as `sprung` does."""
    ends: tuple[Wishbones | LinkedAxle | SwingingArms, ...] = (*job.wishbones, *job.live_axles, *job.arms)
    return {
        end.axle: (
            *(_told(job, end.axle, HoleTold(hole), _with_foot) for hole in end.coil.holes),
            *(_told(job, end.axle, HoleTold(hole, top=True), _with_top) for hole in end.coil.tops),
        )
        for end in ends
        if end.coil.holes or end.coil.tops
    }


def _with_foot(job: Job, axle: Axle, hole: Place) -> Job:
    return edits.change_end(job, axle, "spring_out", lambda _: hole, called="coil-overs")


def _with_top(job: Job, axle: Axle, hole: Place) -> Job:
    """The job with a joint of its own for the coil-overs' tops: the one they hang at may hold an arm, too."""
    made = edits.add_joint(job, hole)
    top = made.joints[len(job.joints)].id
    return edits.change_end(made, axle, "spring", lambda _: top, called="coil-overs")


def _told(job: Job, axle: Axle, hole: HoleTold, bolted: Callable[[Job, Axle, Place], Job]) -> HoleTold:
    of = sprung(job).get(axle)
    spring = spring_of(of.coil) if of else None
    if of is None or spring is None or of.rest.force is None or of.rest.mass is None:
        return hole
    try:
        run = end_runs(bolted(job, axle, hole.place))[axle]
    except Problem:  # a joint stands there already, or nothing reaches
        return hole
    assert not isinstance(run, BeamRun | CarrierRun)  # they have no coil-overs
    travel = run.found.travel
    length, ratio = run.told.spring[:, run.straight], run.told.motion_ratio[:, run.straight]
    load = spring.at(of.rest.force, of.rest.length - length)[0] * ratio
    over = load - of.rest.mass * G
    crossed = np.flatnonzero((over[:-1] <= 0) & (over[1:] > 0))
    if not crossed.size:
        return hole
    n = int(crossed[0])
    share = float(-over[n] / (over[n + 1] - over[n]))

    def there(values: np.ndarray) -> float:
        return float(values[n] + share * (values[n + 1] - values[n]))

    rate = there(np.gradient(load, travel))
    swings = float(frequency(rate, of.rest.mass)) if rate > 0 else None
    return replace(hole, lower=there(travel), ratio=there(ratio), rate=rate, swings=swings)
