"""The demo jobs, made up: built from readable tables by the same edits a builder uses."""

from importlib import import_module

from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, nearest

SAMPLES = {
    "sandpiper": "sandpiper",
    "fell-litter": "fell_litter",
    "skerry": "skerry",
}  # name: the module that builds it, imported when asked for


def sample(name: str) -> Job:
    """The demo job of that name."""
    known = "-".join(name.lower().split())
    if known not in SAMPLES:
        raise Problem(
            f"There is no demo ‘{name}’.",
            where=name,
            hint=nearest(known, SAMPLES) or f"There are {', '.join(SAMPLES)}.",
        )
    made: Job = import_module(f"ironcage.samples.{SAMPLES[known]}").build()
    return made
