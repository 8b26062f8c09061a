"""The room that a tyre takes on its whole way, for a tub or an arch over it."""

from __future__ import annotations

from dataclasses import dataclass

from ironcage.core.answers.run.sweep import swept_bodies
from ironcage.core.job.values.model import Job


@dataclass(frozen=True)
class TyreRoom:
    """A tyre over travel, steer and roll, without its margin: ahead of and behind its axle as it stands, the least and
    the most beside the car's middle, and how high it comes over where it stands on the ground, mm; margin: that is to
    be kept clear around it."""

    axle: str
    name: str
    ahead: float
    behind: float
    inside: float
    outside: float
    top: float
    margin: float


def tyre_rooms(job: Job) -> tuple[TyreRoom, ...]:
    """The left or only tyre of each end that is hung; nothing of an end whose links are incomplete."""
    moving = {body.id: body for body in swept_bodies(job) if body.kind == "tyre"}
    made = []
    for wheel in job.wheels:
        body = moving.get(wheel.id)
        if body is None or wheel.corner.endswith("right"):
            continue
        (x0, y0, _), (x1, y1, z1) = body.bounds
        ground = wheel.z - wheel.diameter / 2
        made.append(
            TyreRoom(
                wheel.corner.partition(" ")[0],
                body.name,
                float(x1 - wheel.x),
                float(wheel.x - x0),
                float(y0),
                float(y1),
                float(z1 - ground),
                body.margin,
            )
        )
    return tuple(made)
