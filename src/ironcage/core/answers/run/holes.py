"""Where an end stands and how it swings with its coil-overs' feet at other holes than the one they are bolted at."""

from __future__ import annotations

from dataclasses import dataclass

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


@dataclass(frozen=True)
class HoleTold:
    """A hole. place: mm; lower: how much lower the car then stands over these wheels, mm; ratio: of the coil-over's
    shortening to travel there; rate: at the wheel, N/mm; swings: in a second. None where the car stands nowhere within
    the travel that is typed in."""

    place: tuple[float, float, float]
    lower: float | None = None
    ratio: float | None = None
    rate: float | None = None
    swings: float | None = None


@remembered(*HUNG, "joints", "wheels", "parts", "people", "tubes", "shelf", "masses", "fittings", "brief")
def holes(job: Job) -> dict[str, tuple[HoleTold, ...]]:
    """The holes of each end that has some, by its name. Raises Problem as `sprung` does."""
    ends: tuple[Wishbones | LinkedAxle | SwingingArms, ...] = (*job.wishbones, *job.live_axles, *job.arms)
    return {end.axle: tuple(_told(job, end.axle, hole) for hole in end.coil.holes) for end in ends if end.coil.holes}


def _told(job: Job, axle: Axle, hole: tuple[float, float, float]) -> HoleTold:
    of = sprung(job).get(axle)
    spring = spring_of(of.coil) if of else None
    if of is None or spring is None or of.rest.force is None or of.rest.mass is None:
        return HoleTold(hole)
    changed = edits.change_end(job, axle, "spring_out", lambda _: hole, called="coil-overs")
    run = end_runs(changed)[axle]
    assert not isinstance(run, BeamRun | CarrierRun)  # they have no coil-overs
    travel = run.found.travel
    length, ratio = run.told.spring[:, run.straight], run.told.motion_ratio[:, run.straight]
    load = spring.at(of.rest.force, of.rest.length - length)[0] * ratio
    over = load - of.rest.mass * G
    crossed = np.flatnonzero((over[:-1] <= 0) & (over[1:] > 0))
    if not crossed.size:
        return HoleTold(hole)
    n = int(crossed[0])
    share = float(-over[n] / (over[n + 1] - over[n]))

    def there(values: np.ndarray) -> float:
        return float(values[n] + share * (values[n + 1] - values[n]))

    rate = there(np.gradient(load, travel))
    return HoleTold(hole, there(travel), there(ratio), rate, float(frequency(rate, of.rest.mass)) if rate > 0 else None)
