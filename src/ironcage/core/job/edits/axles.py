"""Live axles on links: hung at joints, their ends on the axle set, taken out."""

from __future__ import annotations

from typing import Any

from ironcage.core.job.edits.running import demand_unhung, left_joint, left_wheel, three
from ironcage.core.job.values.model import Job, Wheel
from ironcage.core.job.values.running import Axle, LinkedAxle
from ironcage.problem import Problem

# where the ends on the axle are put to begin with: shares of the tyre's diameter and of the half track
BELOW_SHARE, ABOVE_SHARE, ROD_SHARE = 0.15, 0.18, 0.55


def find_live_axle(job: Job, axle: str) -> LinkedAxle:
    """The live axle of that end; refuses an end that has none."""
    for found in job.live_axles:
        if found.axle == axle:
            return found
    raise Problem(
        f"The {axle} wheels are on no live axle yet.",
        where=axle,
        hint=f"Type for example: axle {axle} lower J5L upper J6L rod J7R",
    )


def hang_axle(job: Job, axle: Axle, lower: str, upper: str, rod: str | None) -> Job:
    """Hang an axle on links at joints of the left side, and on a track rod at any joint. Ends on the axle are proposed
    from its wheels; those of an axle that is hung already stay. Refuses an axle on wishbones, and both links at one
    joint."""
    demand_unhung(job, axle, but="axle")
    wheel = left_wheel(job, axle)
    low, high = left_joint(job, lower), left_joint(job, upper)
    if low == high:
        raise Problem(f"Both links are hung at {low}.", where=low, hint="Name two joints.")
    bar = job.joint(rod).id if rod else None
    before = next((a for a in job.live_axles if a.axle == axle), None)
    proposed = _proposed(job, wheel, low, high, bar)
    if before:
        kept = before.but(lower=low, upper=high, rod=bar)
        return _put(job, kept.but(rod_out=(kept.rod_out or proposed["rod_out"]) if bar else None))
    return _put(job, LinkedAxle(axle=axle, lower=low, upper=high, rod=bar, **proposed))


def set_live_axle(job: Job, axle: str, **changes: Any) -> Job:
    """Change fields of a live axle, mm and rad."""
    return _put(job, find_live_axle(job, axle).but(**changes))


def hang_axle_spring(job: Job, axle: str, joint: str | None) -> Job:
    """Hang a coil-over at a joint of the left side, its foot on the axle under it until that is set; None takes it
    out."""
    hung = find_live_axle(job, axle)
    if joint is None:
        return _put(job, hung.but(spring=None, spring_out=None))
    name, wheel = left_joint(job, joint), left_wheel(job, hung.axle)
    foot = hung.spring_out or three((wheel.x, job.joint(name).y, wheel.z + hung.housing / 2))
    return _put(job, hung.but(spring=name, spring_out=foot))


def unhang_axle(job: Job, axle: str) -> Job:
    """Take a live axle out."""
    gone = find_live_axle(job, axle)
    return job.but(live_axles=tuple(a for a in job.live_axles if a is not gone))


def _put(job: Job, made: LinkedAxle) -> Job:
    return job.but(live_axles=(*(a for a in job.live_axles if a.axle != made.axle), made))


def _proposed(job: Job, wheel: Wheel, lower: str, upper: str, rod: str | None) -> dict[str, Any]:
    """Ends on the axle to begin with: links straight along the car, a level track rod to the far side."""
    low, high = job.joint(lower), job.joint(upper)
    made: dict[str, Any] = {
        "lower_out": three((wheel.x, low.y, wheel.z - BELOW_SHARE * wheel.diameter)),
        "upper_out": three((wheel.x, high.y, wheel.z + ABOVE_SHARE * wheel.diameter)),
        "rod_out": None,
    }
    if rod:
        at = job.joint(rod)
        side = -1.0 if at.y > 0 else 1.0
        made["rod_out"] = three((at.x, side * ROD_SHARE * wheel.y, at.z))
    return made
