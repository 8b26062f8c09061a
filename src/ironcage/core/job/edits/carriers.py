"""An axle that is set on the frame for its chain: slid or swung, its adjuster hung, taken out."""

from __future__ import annotations

import math
from typing import Any

from ironcage.core.job.edits.running import demand_unhung, left_joint, left_wheel, three
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, AxleCarrier
from ironcage.problem import Problem

LEAST_LEVER_MM = 20.0  # of the axle from its pivot: nearer, swinging does not tighten a chain
STAY_SHARE = 0.9  # of the way from the pivot to the axle, an adjuster's end to begin with


def find_carrier(job: Job, axle: str) -> AxleCarrier:
    """The carrier of that end; refuses an end that has none."""
    for found in job.carriers:
        if found.axle == axle:
            return found
    raise Problem(
        f"The {axle} axle is on no carrier that is set yet.",
        where=axle,
        hint=f"Type for example: carrier {axle} slide -1 0 0",
    )


def slide_carrier(job: Job, axle: Axle, way: tuple[float, float, float]) -> Job:
    """Let an end's axle be slid on the frame along a way, away from the driving sprocket. What is set already stays.
    Refuses an end that is hung otherwise, and a way without a direction."""
    demand_unhung(job, axle, but="carrier")
    left_wheel(job, axle)
    if math.hypot(*way) < 1e-6:
        raise Problem("The way has no direction.", where="slide", hint="Straight back is -1 0 0.")
    return _put(job, _before(job, axle).but(slide=way, pivot=None, stay=None, stay_out=None))


def swing_carrier(job: Job, axle: Axle, pivot: str) -> Job:
    """Let an end's axle be swung about the line from a joint of the left side to its twin. What is set already stays.
    Refuses a joint without a twin, and one at the axle."""
    demand_unhung(job, axle, but="carrier")
    wheel, joint = left_wheel(job, axle), job.joint(left_joint(job, pivot))
    if joint.twin is None:
        raise Problem(f"{joint.id} has no twin for the right end of the pivot.", where=pivot, hint="Type: mirror")
    if math.hypot(wheel.x - joint.x, wheel.z - joint.z) < LEAST_LEVER_MM:
        raise Problem(
            f"The pivot at {joint.id} runs through the axle, so swinging does not move it.",
            where=pivot,
            hint="Name a joint before, behind or over it.",
        )
    return _put(job, _before(job, axle).but(slide=None, pivot=joint.id))


def hang_stay(job: Job, axle: str, joint: str | None) -> Job:
    """Hang an adjuster of a carrier that swings at a joint of the left side, its other end on the carrier near the axle
    until that is set; None takes it out. Refuses a carrier that slides."""
    hung = find_carrier(job, axle)
    if joint is None:
        return _put(job, hung.but(stay=None, stay_out=None))
    if hung.pivot is None:
        raise Problem(
            "An axle that slides has its adjusters in its slots.", where="stay", hint=f"carrier {axle} pivot J25L"
        )
    name, wheel, start = left_joint(job, joint), left_wheel(job, hung.axle), job.joint(hung.pivot).place
    end = (wheel.x, job.joint(name).y, wheel.z)
    out = hung.stay_out or three([a + STAY_SHARE * (b - a) for a, b in zip(start, end, strict=True)])
    return _put(job, hung.but(stay=name, stay_out=out))


def set_carrier(job: Job, axle: str, **changes: Any) -> Job:
    """Change fields of an end's carrier, mm."""
    return _put(job, find_carrier(job, axle).but(**changes))


def unhang_carrier(job: Job, axle: str) -> Job:
    """Take an end's carrier out."""
    gone = find_carrier(job, axle)
    return job.but(carriers=tuple(c for c in job.carriers if c is not gone))


def _before(job: Job, axle: Axle) -> AxleCarrier:
    return next((c for c in job.carriers if c.axle == axle), AxleCarrier(axle=axle))


def _put(job: Job, made: AxleCarrier) -> Job:
    return job.but(carriers=(*(c for c in job.carriers if c.axle != made.axle), made))
