"""Wheels on swinging arms: hung at joints, their coil-overs set, taken out."""

from __future__ import annotations

import math
from typing import Any

from ironcage.core.job.edits.running import demand_unhung, left_joint, left_wheel, three
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, SwingingArms
from ironcage.problem import Problem

SPRING_SHARE = 0.75  # of the way from the axis to the wheel, a coil-over's foot to begin with


def find_arms(job: Job, axle: str) -> SwingingArms:
    """The arms of that end; refuses an end that has none."""
    for found in job.arms:
        if found.axle == axle:
            return found
    raise Problem(
        f"The {axle} wheels are on no arms yet.", where=axle, hint=f"Type for example: arm {axle} axis J5L J6L"
    )


def hang_arms(job: Job, axle: Axle, first: str, second: str) -> Job:
    """Hang the wheels of an end on arms about an axis through two joints: two of the left side, or one and its twin for
    a carrier of both wheels. What is set already stays. Refuses joints of both sides that are no twins, an axis without
    length, and one that does not lift the wheel."""
    demand_unhung(job, axle, but="arm")
    wheel, one, other = left_wheel(job, axle), job.joint(first), job.joint(second)
    if one.twin == other.id != one.id:
        one, other = sorted((one, other), key=lambda j: -j.y)
    else:
        one, other = (job.joint(left_joint(job, j.id)) for j in (one, other))
    along = [b - a for a, b in zip(one.place, other.place, strict=True)]
    length = math.hypot(*along)
    if length < 1.0:
        raise Problem("The axis would have no length.", where=first, hint="Name two joints that are apart.")
    out = (wheel.x - one.x, wheel.y - one.y)
    if abs(along[0] * out[1] - along[1] * out[0]) < length:
        raise Problem(
            f"The axis through {one.id} and {other.id} runs over the {axle} wheel's centre: no arm on it lifts that.",
            where=first,
            hint="Name joints before or behind the wheel.",
        )
    before = next((a for a in job.arms if a.axle == axle), None)
    joints = {"first": one.id, "second": other.id}
    return _put(job, before.but(**joints) if before else SwingingArms(axle=axle, **joints))


def set_arms(job: Job, axle: str, **changes: Any) -> Job:
    """Change fields of an end's arms, mm and rad."""
    return _put(job, find_arms(job, axle).but(**changes))


def hang_arm_spring(job: Job, axle: str, joint: str | None) -> Job:
    """Hang a coil-over at a joint of the left side, its foot on the arm towards the wheel until that is set; None takes
    it out."""
    hung = find_arms(job, axle)
    if joint is None:
        return _put(job, hung.but(spring=None, spring_out=None))
    name, wheel = left_joint(job, joint), left_wheel(job, hung.axle)
    start = job.joint(hung.first).place
    end = (wheel.x, job.joint(name).y, wheel.z)
    foot = hung.spring_out or three([a + SPRING_SHARE * (b - a) for a, b in zip(start, end, strict=True)])
    return _put(job, hung.but(spring=name, spring_out=foot))


def unhang_arms(job: Job, axle: str) -> Job:
    """Take an end's arms out."""
    gone = find_arms(job, axle)
    return job.but(arms=tuple(a for a in job.arms if a is not gone))


def _put(job: Job, made: SwingingArms) -> Job:
    return job.but(arms=(*(a for a in job.arms if a.axle != made.axle), made))
