"""What is known of the rod ends of an end's links."""

from __future__ import annotations

from ironcage.core.job.edits.ends import change_end
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import RodEnds
from ironcage.problem import Problem
from ironcage.units import said


def set_rod_ends(job: Job, axle: str, **changes: float) -> Job:
    """Change what is known of the rod ends of an end on wishbones, a live axle or a beam: mm, rad. Refuses a thread
    that ends before it starts or has less than is engaged, and a ball that is narrower than its housing."""
    return change_end(job, axle, "eyes", lambda eyes: _changed(eyes, changes), called="rod ends")


def _changed(eyes: RodEnds, changes: dict[str, float]) -> RodEnds:
    made = eyes.but(**changes)
    if made.shank and made.start >= made.shank:
        raise Problem(
            f"The thread would start {said.length(made.start)} from the eye and end {said.length(made.shank)} from it.",
            where="start",
            hint="Measure from the middle of the eye: to where the thread starts, and to its end (shank).",
        )
    if made.shank and made.engaged > made.shank - made.start:
        raise Problem(
            f"The thread is {said.length(made.shank - made.start)} long, so {said.length(made.engaged)} of it can't be "
            "engaged.",
            where="engaged",
            hint="Type less.",
        )
    if made.ball and made.ball <= made.housing:
        raise Problem(
            f"The ball would be {said.length(made.ball)} wide in a housing of {said.length(made.housing)}.",
            where="ball",
            hint="Measure both along the bolt: the ball stands out of its housing.",
        )
    return made
