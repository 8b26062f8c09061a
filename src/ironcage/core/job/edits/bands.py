"""The bounds that figures of wheels that move are to keep."""

from __future__ import annotations

from ironcage.core.job.values.bands import Band
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle
from ironcage.problem import Problem


def put_band(job: Job, band: Band) -> Job:
    """Put a band in the place of the one that the same figure of the same end has. Refuses one whose least is more than
    its most, one that bounds nothing, and a stretch of travel that ends before it starts."""
    if band.least is None and band.most is None:
        raise Problem(f"The band of {band.figure} has no bound.", where=band.figure, hint="Give a least or a most.")
    if band.least is not None and band.most is not None and band.least > band.most:
        raise Problem(
            f"The band of {band.figure} has a least that is more than its most.",
            where=band.figure,
            hint="Type the lower one first.",
        )
    if band.start >= band.stop:
        raise Problem(
            f"The band of {band.figure} ends where it starts, or before.",
            where=band.figure,
            hint="Type the lower travel first; down is negative.",
        )
    return job.but(bands=(*_others(job, band.axle, band.figure), band))


def remove_band(job: Job, axle: Axle, figure: str) -> Job:
    """Take the band of a figure away; refuses one that has none."""
    kept = _others(job, axle, figure)
    if len(kept) == len(job.bands):
        raise Problem(f"The {axle} {figure} has no band.", where=figure)
    return job.but(bands=kept)


def _others(job: Job, axle: Axle, figure: str) -> tuple[Band, ...]:
    return tuple(b for b in job.bands if (b.axle, b.figure) != (axle, figure))
