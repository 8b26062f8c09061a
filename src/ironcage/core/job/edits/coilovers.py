"""What is known of the springs and dampers of an end."""

from __future__ import annotations

import math

from ironcage.core.job.edits.ends import change_end
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import AirSpring, CoilOver
from ironcage.problem import Problem
from ironcage.units import said

Place = tuple[float, float, float]
MOST_HOLES, SAME_HOLE_MM = 8, 0.5


def set_coil_over(job: Job, axle: str, **changes: float) -> Job:
    """Change what is known of the coil-overs of an end on wishbones, arms or a live axle: mm, N/mm, kg. Refuses a
    spring that is longer solid than free, and a damper that is longer closed than open."""
    return change_end(job, axle, "coil", lambda coil: _changed(coil, changes), called="coil-overs")


def set_air(job: Job, axle: str, **changes: float) -> Job:
    """Change what is known of air springs in place of the coils of an end, mm; across 0 puts coils back. A rate that
    was typed goes."""

    def change(coil: CoilOver) -> CoilOver:
        air = coil.air.but(**changes)
        return coil.but(air=air if air.across else AirSpring(), rate=0.0, free=0.0, solid=0.0)

    return change_end(job, axle, "coil", change, called="coil-overs")


def set_hole(job: Job, axle: str, place: Place | None) -> Job:
    """Add a place that the coil-overs' feet can be bolted at, of the left side, mm; None: forget all of them. Refuses a
    place that is there."""
    return change_end(
        job, axle, "coil", lambda coil: coil.but(holes=_with_hole(coil.holes, place)), called="coil-overs"
    )


def set_top_hole(job: Job, axle: str, place: Place | None) -> Job:
    """As `set_hole`, of the coil-overs' tops on the frame."""
    return change_end(job, axle, "coil", lambda coil: coil.but(tops=_with_hole(coil.tops, place)), called="coil-overs")


def _with_hole(holes: tuple[Place, ...], place: Place | None) -> tuple[Place, ...]:
    if place is None:
        return ()
    if any(math.dist(place, hole) < SAME_HOLE_MM for hole in holes):
        raise Problem("There is a hole at that place already.", where="hole", hint="Type hole none to forget all.")
    if len(holes) == MOST_HOLES:
        raise Problem(f"{MOST_HOLES} holes are kept at most.", where="hole", hint="Type hole none to forget all.")
    return (*holes, place)


def _changed(before: CoilOver, changes: dict[str, float]) -> CoilOver:
    coil = before.but(**changes)
    if {"rate", "free", "solid"} & set(changes):
        coil = coil.but(air=AirSpring())
    if coil.free and coil.solid >= coil.free:
        raise Problem(
            f"The spring would be {said.length(coil.solid)} long with its coils touching and {said.length(coil.free)} "
            "alone.",
            where="solid",
            hint="Measure it alone (free), and pressed together (solid).",
        )
    if coil.open and coil.closed >= coil.open:
        raise Problem(
            f"The damper would be {said.length(coil.closed)} long pressed together and {said.length(coil.open)} at "
            "full length.",
            where="closed",
            hint="Measure between its eyes, at full length (open) and pressed together (closed).",
        )
    return coil
