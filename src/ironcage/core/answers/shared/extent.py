"""How much room the whole car takes, and what of it is lowest."""

from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.job.geometry.bodies import bodies
from ironcage.core.job.values.model import Job


@dataclass(frozen=True)
class Extent:
    """size: length, width and height from the ground up, mm, None while there is nothing; clearance: height of the
    lowest thing that is no tyre, mm, and its id."""

    size: tuple[float, float, float] | None
    clearance: float | None
    lowest: str


@remembered("parts", "wheels", "chains", "shafts", "joints", "tubes", "shelf")
def extent(job: Job) -> Extent:
    """Measure the box round everything but people."""
    every = bodies(job.but(people=()))
    if not every:
        return Extent(None, None, "")
    low = np.array([b.bounds[0] for b in every]).min(axis=0)
    high = np.array([b.bounds[1] for b in every]).max(axis=0)
    body = min((b for b in every if b.kind != "tyre"), key=lambda b: b.bounds[0][2], default=None)
    return Extent(
        (float(high[0] - low[0]), float(high[1] - low[1]), float(high[2])),
        float(body.bounds[0][2]) if body else None,
        body.id if body else "",
    )
