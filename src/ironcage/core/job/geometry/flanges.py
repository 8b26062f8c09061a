"""How tubes' ends are made other than welded on: bolted by a flange or pressed flat, slotted, or stood
on a plate; what comes off."""

from __future__ import annotations

from ironcage.core.job.values.fittings import Flange, FlattenedEnd, FootPlate, Slot
from ironcage.core.job.values.model import Job


def flanges(job: Job) -> dict[tuple[str, str], Flange | FlattenedEnd]:
    """What bolts each end that is bolted, by tube and joint."""
    return {(f.tube, f.joint): f for f in job.fittings if isinstance(f, Flange | FlattenedEnd)}


def slots(job: Job) -> dict[tuple[str, str], Slot]:
    """The slot of each end that has one, by tube and joint."""
    return {(f.tube, f.joint): f for f in job.fittings if isinstance(f, Slot)}


def feet(job: Job) -> dict[tuple[str, str], FootPlate]:
    """The plate that each end stands on that has one, by tube and joint."""
    return {(f.tube, f.joint): f for f in job.fittings if isinstance(f, FootPlate)}


def comes_off(job: Job) -> frozenset[str]:
    """The tubes that are bolted on at both ends."""
    bolted = flanges(job)
    return frozenset(tube for tube, _ in bolted if all((tube, end) in bolted for end in job.tube_by_id[tube].ends))
