"""What is known of the anti-roll bar of an end."""

from __future__ import annotations

from ironcage.core.job.edits.ends import change_end
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import RollBar
from ironcage.problem import Problem
from ironcage.units import said


def set_roll_bar(job: Job, axle: str, **changes: float) -> Job:
    """Change what is known of the anti-roll bar of an end on wishbones, arms or a live axle, mm; od 0 takes it out.
    Refuses a bore that leaves nothing."""
    return change_end(job, axle, "bar", lambda bar: _changed(bar, changes), called="an anti-roll bar")


def _changed(bar: RollBar, changes: dict[str, float]) -> RollBar:
    made = bar.but(**changes)
    if made.od and made.bore >= made.od:
        raise Problem(
            f"A bore of {said.length(made.bore)} leaves nothing of {said.length(made.od)}.",
            where="bore",
            hint="The bore is less than the outside; 0 is a solid bar.",
        )
    return made
