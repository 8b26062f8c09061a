"""How wheels are hung: arms put in, their outer points set, taken out."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ironcage.core.job.values.model import Job, Wheel
from ironcage.core.job.values.running import Axle, Wishbones
from ironcage.problem import Problem
from ironcage.units import said

Floats = NDArray[np.float64]

# where the outer points of arms are put to begin with: shares of the tyre's diameter and width from the wheel's centre,
# and the lean of the line of both ball joints; the builder sets them by the upright that is there
BALL_JOINT_SHARE, INSIDE_SHARE, TOP_FURTHER_IN_MM, TIE_BEHIND_SHARE = 0.2, 0.5, 20.0, 0.18
USUAL_CASTER = math.radians(5)
SPRING_SHARE, SPRING_UP_MM = 0.75, 20.0
USUAL_RACK_MM = 30.0


def left_wheel(job: Job, axle: Axle) -> Wheel:
    """The left wheel of an axle. Refuses an axle without one."""
    for wheel in job.wheels:
        if wheel.corner == f"{axle} left":
            return wheel
    raise Problem(
        f"There are no {axle} wheels to hang.",
        where="wheels",
        hint=said.example(f"Type for example: wheels {axle} [0] [650] [290] dia [580] width [165]"),
    )


def paired_wheel(job: Job, axle: Axle) -> Wheel:
    """The left wheel of an axle that has one on either side. Refuses an axle without wheels, and a single wheel."""
    wheel = left_wheel(job, axle)
    if wheel.single:
        fork = " in a fork, or" if axle == "front" else ""
        raise Problem(
            f"The {axle} wheel stands alone on the centreline.",
            where="wheels",
            hint=f"Hang it{fork} on a carrier: Run, Hang. Or give its y half the track.",
        )
    return wheel


def find_wishbones(job: Job, axle: str) -> Wishbones:
    """The wishbones of an axle; refuses one that has none."""
    for found in job.wishbones:
        if found.axle == axle:
            return found
    raise Problem(
        f"The {axle} axle has no wishbones yet.",
        where=axle,
        hint=f"Type for example: corner {axle} lower J1L J2L upper J3L J4L spring J3L",
    )


def hang(job: Job, axle: Axle, lower: tuple[str, str], upper: tuple[str, str], spring: str) -> Job:
    """Hang an axle's wheels on wishbones at joints of the left side, front then rear, the coil-over at one of them.
    Outer points are proposed from the wheel; those of an axle that has some stay. Refuses joints that are not there, on
    the right or on the centreline, and an arm with both legs at one joint."""
    demand_unhung(job, axle, but="corner")
    wheel = paired_wheel(job, axle)
    names = tuple(left_joint(job, n) for n in (*lower, *upper, spring))
    for arm, (a, b) in (("lower", names[:2]), ("upper", names[2:4])):
        if a == b:
            raise Problem(f"Both legs of the {arm} arm are hung at {a}.", where=a, hint="Name two joints.")
    joints: dict[str, Any] = {"lower": names[:2], "upper": names[2:4], "spring": names[4]}
    before = next((w for w in job.wishbones if w.axle == axle), None)
    made = before.but(**joints) if before else Wishbones(axle=axle, **joints, **_proposed(job, wheel, joints, axle))
    return _put(job, made)


def demand_unhung(job: Job, axle: str, *, but: str) -> None:
    """Refuses an end whose wheels are on anything else than the lines of one word (`but`) hang them on."""
    held: dict[str, tuple[str, Any]] = {
        "corner": ("hang on wishbones", job.wishbones),
        "axle": ("are on a live axle", job.live_axles),
        "beam": ("are on a beam axle", job.beams),
        "arm": ("are on arms", job.arms),
        "fork": ("are in a fork", job.forks),
        "carrier": ("are on a carrier", job.carriers),
    }
    for word, (says, ends) in held.items():
        if word != but and any(end.axle == axle for end in ends):
            raise Problem(f"The {axle} wheels {says}.", where=axle, hint=f"Take that out first: {word} {axle} gone")


def set_wishbones(job: Job, axle: str, **changes: Any) -> Job:
    """Change fields of an axle's wishbones, mm and rad. A drop arm's axis stands upright until it is set, and goes with
    its pivot. Refuses one without a direction."""
    made = find_wishbones(job, axle).but(**changes)
    if made.pivot is None:
        made = made.but(column=None)
    elif made.column is None:
        x, y, z = made.pivot
        made = made.but(column=(x, y, z + 100.0))
    if made.pivot and made.column and math.dist(made.pivot, made.column) < 1.0:
        raise Problem(f"The {axle} drop arm’s axis has no direction.", where="column", hint="Give a place up its axis.")
    return _put(job, made)


def unhang(job: Job, axle: str) -> Job:
    """Take an axle's wishbones out."""
    gone = find_wishbones(job, axle)
    return job.but(wishbones=tuple(w for w in job.wishbones if w is not gone))


def _put(job: Job, made: Wishbones) -> Job:
    return job.but(wishbones=(*(w for w in job.wishbones if w.axle != made.axle), made))


def left_joint(job: Job, name: str) -> str:
    """The id of a joint of the left side; refuses any other."""
    joint = job.joint(name)
    if joint.y <= 0:
        side = "on the centreline" if joint.y == 0 else "on the right"
        raise Problem(
            f"{joint.id} is {side}; arms are typed for the left side.", where=name, hint="The right mirrors it."
        )
    return joint.id


def _proposed(job: Job, wheel: Wheel, joints: dict[str, Any], axle: Axle) -> dict[str, Any]:
    """Outer points to begin with: ball joints just inside the wheel, the tie rod in one line with the arms' fold, so
    that it steers little over the travel; the coil-over on the lower arm."""
    inside = wheel.y - INSIDE_SHARE * wheel.width
    rise = BALL_JOINT_SHARE * wheel.diameter
    back = rise * math.tan(USUAL_CASTER)
    low = np.array([wheel.x + back, inside, wheel.z - rise])
    high = np.array([wheel.x - back, inside - TOP_FURTHER_IN_MM, wheel.z + rise])
    lower, upper = (np.mean([job.joint(n).place for n in joints[arm]], axis=0) for arm in ("lower", "upper"))
    share = 0.3  # of the way up from the lower to the upper ball joint
    behind = np.array([-TIE_BEHIND_SHARE * wheel.diameter, 0.0, 0.0])
    tie_out = low + share * (high - low) + behind
    tie_in = lower + share * (upper - lower)
    tie_in[0] = tie_out[0]
    spring_out = lower + SPRING_SHARE * (low - lower) + np.array([0, 0, SPRING_UP_MM])
    return {
        "lower_out": three(low),
        "upper_out": three(high),
        "tie_in": three(tie_in),
        "tie_out": three(tie_out),
        "spring_out": three(spring_out),
        "rack": USUAL_RACK_MM if axle == "front" else 0.0,
    }


def three(v: Any) -> tuple[float, float, float]:
    """A place as it is kept, to 0.1 mm."""
    x, y, z = (round(float(c), 1) for c in v)
    return x, y, z
