"""What is known of a thing that several ways of hanging wheels have: changed on whichever an end hangs on."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ironcage.core.job.edits.arms import set_arms
from ironcage.core.job.edits.axles import set_live_axle
from ironcage.core.job.edits.beams import set_beam
from ironcage.core.job.edits.forks import set_fork
from ironcage.core.job.edits.running import set_wishbones
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem


def change_end(job: Job, axle: str, field: str, change: Callable[[Any], Any], *, called: str) -> Job:
    """The job with a field of what the wheels of an end hang on changed; called: what the field holds, for the refusal
    of an end that hangs on nothing that has one."""
    ways: tuple[tuple[tuple[Any, ...], Callable[..., Job]], ...] = (
        (job.wishbones, set_wishbones),
        (job.live_axles, set_live_axle),
        (job.beams, set_beam),
        (job.arms, set_arms),
        (job.forks, set_fork),
    )
    for ends, put in ways:
        for end in ends:
            if end.axle == axle and field in type(end).model_fields:
                return put(job, axle, **{field: change(getattr(end, field))})
    raise Problem(
        f"The {axle} wheels hang on nothing that has {called}.", where=axle, hint="Hang them first: Run, Hang."
    )
