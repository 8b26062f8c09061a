"""The demo jobs, made up. Each is built from readable tables by the same edits a builder uses, and lies beside them as
the file that this makes: opening a demo takes a quarter of the time that building it does.

After a change to the tables: `python -m ironcage.samples` writes the files again.
"""

import json
from importlib import import_module
from pathlib import Path

from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, nearest

SAMPLES = {
    "sandpiper": "sandpiper",
    "fell-litter": "fell_litter",
    "skerry": "skerry",
}  # name: the module that builds it


def sample(name: str) -> Job:
    """The demo job of that name."""
    known = "-".join(name.lower().split())
    if known not in SAMPLES:
        raise Problem(
            f"There is no demo ‘{name}’.",
            where=name,
            hint=nearest(known, SAMPLES) or f"There are {', '.join(SAMPLES)}.",
        )
    job: Job = Job.model_validate(json.loads(file_of(known).read_text("utf-8"))["job"])
    return job


def file_of(name: str) -> Path:
    """Where the file of a demo lies."""
    return Path(__file__).with_name(f"{name}.cage")


def built(name: str) -> Job:
    """The demo job of that name, built anew from its tables."""
    made: Job = import_module(f"ironcage.samples.{SAMPLES[name]}").build()
    return made
