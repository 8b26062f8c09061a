"""The demo jobs, made up: built from readable tables by the same edits a builder uses."""

from ironcage.core.job.model import Job
from ironcage.problem import Problem, nearest
from ironcage.samples import fell_litter, sandpiper

SAMPLES = {"sandpiper": sandpiper.build, "fell-litter": fell_litter.build}


def sample(name: str) -> Job:
    """The demo job of that name."""
    name = "-".join(name.lower().split())
    if name not in SAMPLES:
        raise Problem(
            f"There is no demo ‘{name}’.", where=name, hint=nearest(name, SAMPLES) or f"There is {', '.join(SAMPLES)}."
        )
    return SAMPLES[name]()
