"""What is known of the springs and dampers of an end."""

from __future__ import annotations

from ironcage.core.job.edits.ends import change_end
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import CoilOver
from ironcage.problem import Problem
from ironcage.units import said


def set_coil_over(job: Job, axle: str, **changes: float) -> Job:
    """Change what is known of the coil-overs of an end on wishbones, arms or a live axle: mm, N/mm, kg. Refuses a
    spring that is longer solid than free, and a damper that is longer closed than open."""
    return change_end(job, axle, "coil", lambda coil: _changed(coil, changes), called="coil-overs")


def _changed(before: CoilOver, changes: dict[str, float]) -> CoilOver:
    coil = before.but(**changes)
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
