"""The demo jobs, made up: built from readable tables by the same edits a builder uses."""

from ironcage.core.job.model import Job
from ironcage.problem import Problem, nearest
from ironcage.samples import sandpiper

SAMPLES = {"sandpiper": sandpiper.build}


def sample(name: str) -> Job:
    """The demo job of that name."""
    if name.lower() not in SAMPLES:
        raise Problem(
            f"There is no demo ‘{name}’.", where=name, hint=nearest(name, SAMPLES) or f"There is {', '.join(SAMPLES)}."
        )
    return SAMPLES[name.lower()]()
