"""How much room the whole car takes, and what of it is lowest."""

from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.ground import ground_of
from ironcage.core.job.geometry.bodies import bodies
from ironcage.core.job.values.model import Job

LEVEL_MM = 1e-6  # tyres that stand so near to z 0 need no turning


@dataclass(frozen=True)
class Extent:
    """size: length, width and height from the ground up, mm, None while there is nothing; clearance: height of the
    lowest thing that is no tyre, mm, and its id. Of a car that stands on tyres at both ends as it stands on them."""

    size: tuple[float, float, float] | None
    clearance: float | None
    lowest: str


@remembered("parts", "wheels", "chains", "shafts", "joints", "tubes", "shelf")
def extent(job: Job) -> Extent:
    """Measure the box round everything but people."""
    every = bodies(job.but(people=()))
    if not every:
        return Extent(None, None, "")
    ground = ground_of(job)
    level = ground is None or max(abs(ground.front[1]), abs(ground.rear[1])) < LEVEL_MM
    bounds = {b.id: b.bounds if level or ground is None else ground.above(b) for b in every}
    low = np.array([b[0] for b in bounds.values()]).min(axis=0)
    high = np.array([b[1] for b in bounds.values()]).max(axis=0)
    body = min((b for b in every if b.kind != "tyre"), key=lambda b: bounds[b.id][0][2], default=None)
    return Extent(
        (float(high[0] - low[0]), float(high[1] - low[1]), float(high[2])),
        float(bounds[body.id][0][2]) if body else None,
        body.id if body else "",
    )
