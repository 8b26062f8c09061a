"""Push rods and rockers between what carries coil-overs and these, on wishbones and on swinging arms."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ironcage.core.job.edits.arms import find_arms, set_arms
from ironcage.core.job.edits.running import find_wishbones, left_joint, set_wishbones, three
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import PushRod, SwingingArms, Wishbones
from ironcage.problem import Problem

Floats = NDArray[np.float64]
ROCKER_ARM_MM = 60.0  # from a rocker's joint to the push rod, and to the coil-over, to begin with


def hang_rocker(job: Job, axle: str, pivot: str | None) -> Job:
    """Put a push rod and a rocker between what carries an end's coil-overs and these, the rocker at a joint of the
    left side; None takes them out, and the coil-overs stand where the rods did. Points are proposed so that the
    coil-over is pressed together as the wheel rises; those of a rocker that is there stay. Refuses an end without
    coil-overs, and the joint that the coil-over is hung at."""
    hung = _sprung(job, axle)
    if pivot is None:
        if hung.push is None:
            raise Problem(f"The {axle} corner has no rocker.", where=axle)
        return _set(job, hung, push=None, spring_out=hung.push.rod_out)
    name = left_joint(job, pivot)
    if hung.spring is None or hung.spring_out is None:
        raise Problem(f"The {axle} arms have no coil-over.", where=axle, hint=f"Hang it first: arm {axle} spring J8L")
    if name == hung.spring:
        raise Problem(
            f"The coil-over is hung at {name}, so the rocker needs a joint of its own.",
            where=name,
            hint="Name another joint.",
        )
    if hung.push:
        return _set(job, hung, push=hung.push.but(pivot=name))
    at, foot, top = (np.array(p) for p in (job.joint(name).place, hung.spring_out, job.joint(hung.spring).place))
    along = np.array([1.0, 0.0, 0.0] if isinstance(hung, Wishbones) else [0.0, 1.0, 0.0])
    rod, spring = (_square_to(along, there - at, name) for there in (foot, top))
    push = PushRod(
        pivot=name,
        axis=three(at + 100.0 * along),
        rod_out=hung.spring_out,
        rod_in=three(at + ROCKER_ARM_MM * np.cross(along, rod)),
    )
    return _set(job, hung, push=push, spring_out=three(at - ROCKER_ARM_MM * np.cross(along, spring)))


def set_push_rod(job: Job, axle: str, **changes: Any) -> Job:
    """Change points of an end's push rods and rockers, mm. Refuses an end without."""
    hung = _sprung(job, axle)
    if hung.push is None:
        word = "corner" if isinstance(hung, Wishbones) else "arm"
        raise Problem(
            f"The {axle} corner has no rocker.", where=axle, hint=f"Name its joint first: {word} {axle} rocker J10L"
        )
    return _set(job, hung, push=hung.push.but(**changes))


def _sprung(job: Job, axle: str) -> Wishbones | SwingingArms:
    """The arms or the wishbones of an end."""
    return find_arms(job, axle) if any(a.axle == axle for a in job.arms) else find_wishbones(job, axle)


def _set(job: Job, hung: Wishbones | SwingingArms, **changes: Any) -> Job:
    put = set_wishbones if isinstance(hung, Wishbones) else set_arms
    return put(job, hung.axle, **changes)


def _square_to(along: Floats, way: Floats, name: str) -> Floats:
    """A direction's part square to another, of length 1."""
    across = way - (way @ along) * along
    if np.linalg.norm(across) < 1.0:
        raise Problem(f"Nothing lies beside {name} for a rocker to turn.", where=name, hint="Name another joint.")
    return np.asarray(across / np.linalg.norm(across))
