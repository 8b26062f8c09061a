"""A single front wheel in a fork: its steering head at joints, its sizes set, taken out."""

from __future__ import annotations

import math
from typing import Any

from ironcage.core.job.edits.running import demand_unhung, left_wheel
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import SteeringFork
from ironcage.problem import Problem
from ironcage.units import said

CENTRE_MM = 0.5
LEG_ROOM_MM = 70.0  # that legs and tyre take beside each other, to begin with: half a leg and some air on either side
LEAST_HEAD_MM = 20.0  # between a head's bearings
STEEPEST = math.radians(75)  # of the steering axis from upright: flatter, the legs hardly lift the wheel


def find_fork(job: Job, axle: str) -> SteeringFork:
    """The fork of that end; refuses an end that has none."""
    for found in job.forks:
        if found.axle == axle:
            return found
    raise Problem(f"The {axle} wheel is in no fork yet.", where=axle, hint="Type for example: fork front head J1 J2")


def hang_fork(job: Job, axle: str, one: str, other: str) -> Job:
    """Hang a single front wheel in a fork that turns in a steering head at two joints on the centreline. What is set
    already stays. Refuses another end, a pair of wheels, joints beside the centreline, and an axis that is too short or
    too flat."""
    if axle != "front":
        raise Problem("A fork steers the front wheel.", where=axle, hint="Type: fork front head, and two joints.")
    demand_unhung(job, axle, but="fork")
    wheel = left_wheel(job, "front")
    if not wheel.single:
        raise Problem(
            "The front wheels stand side by side; a fork has one on the centreline.",
            where="wheels",
            hint=said.example("Delete them, then type for example: wheels front [0] 0 [290] dia [580] width [120]"),
        )
    ends = sorted((job.joint(one), job.joint(other)), key=lambda j: -j.z)
    for joint in ends:
        if abs(joint.y) > CENTRE_MM:
            raise Problem(
                f"{joint.id} is {said.length(abs(joint.y))} beside the centreline, where a steering head stands.",
                where=joint.id,
                hint="Name two joints on it.",
            )
    top, low = ends
    if math.dist(top.place, low.place) < LEAST_HEAD_MM:
        raise Problem("The steering head would have no length.", where=one, hint="Name two joints that are apart.")
    if math.hypot(top.x - low.x, top.y - low.y) > math.tan(STEEPEST) * (top.z - low.z):
        raise Problem(
            f"The axis from {low.id} to {top.id} lies too flat for a steering head.",
            where=top.id,
            hint="Name one joint above the other, within 75° of upright.",
        )
    before = next(iter(job.forks), None)
    made = before.but(top=top.id, low=low.id) if before else None
    new = made or SteeringFork(top=top.id, low=low.id, apart=wheel.width + LEG_ROOM_MM)
    return job.but(forks=(new,))


def set_fork(job: Job, axle: str, **changes: Any) -> Job:
    """Change fields of a fork, mm and rad."""
    return job.but(forks=(find_fork(job, axle).but(**changes),))


def unhang_fork(job: Job, axle: str) -> Job:
    """Take a fork out."""
    find_fork(job, axle)
    return job.but(forks=())
