"""Where tubes are bolted on instead of welded: their flanges, and what comes off the frame."""

from __future__ import annotations

from ironcage.core.job.values.fittings import Flange
from ironcage.core.job.values.model import Job


def flanges(job: Job) -> dict[tuple[str, str], Flange]:
    """The flange of each end that has one, by tube and joint."""
    return {(f.tube, f.joint): f for f in job.fittings if isinstance(f, Flange)}


def comes_off(job: Job) -> frozenset[str]:
    """The tubes that are bolted on at both ends."""
    bolted = flanges(job)
    return frozenset(tube for tube, _ in bolted if all((tube, end) in bolted for end in job.tube_by_id[tube].ends))
