"""Snags of Run: corners that are incomplete, links that do not reach."""

from collections.abc import Iterator

from ironcage.core.answers.run.corner import AxleRun, corner_of, runs
from ironcage.core.answers.shared.snag import Snag
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import said


def hung(job: Job) -> Iterator[Snag]:
    """What keeps a corner from moving, or moving all the way."""
    if not job.wishbones:
        return
    try:
        found = runs(job)
        for run in found:
            corner_of(job, run.hung, right=True)
    except Problem as problem:
        yield Snag("unknown", "corner incomplete", "run", problem.what, (), problem.hint)
        return
    for run in found:
        if not run.closes:
            yield _locks(run)


def _locks(run: AxleRun) -> Snag:
    up, down = run.limits
    if up is not None or down is not None:
        ways = [(up, "up"), (down, "down")]
        where = " and ".join(f"{said.length(abs(v))} {word}" for v, word in ways if v is not None)
        what = f"The {run.hung.axle} links lock at {where}, before the travel that is typed in."
    else:
        what = f"The {run.hung.axle} links do not reach at full rack and full travel together."
    return Snag(
        "wrong",
        "links lock",
        "run",
        what,
        (*run.hung.lower, *run.hung.upper),
        "Move an outer point, or type less travel.",
    )


CHECKS = (hung,)
