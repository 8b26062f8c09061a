"""Snags of Run: corners that are incomplete, links that do not reach."""

import math
from collections.abc import Iterator

import numpy as np

from ironcage.core.answers.run.corner import AxleRun, corner_of, runs
from ironcage.core.answers.run.liveaxle import LinkedRun, axle_runs
from ironcage.core.answers.shared.snag import Snag
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import LinkedAxle
from ironcage.problem import Problem
from ironcage.units import said

BIND_MM = 3.0  # of a link's length, more than which bushes wear
ASIDE_MM = 8.0  # of a live axle over its travel, beyond which its tyres are looked at


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


def _locks(run: AxleRun | LinkedRun) -> Snag:
    up, down = run.limits
    if up is not None or down is not None:
        ways = [(up, "up"), (down, "down")]
        where = " and ".join(f"{said.length(abs(v))} {word}" for v, word in ways if v is not None)
        what = f"The {run.hung.axle} links lock at {where}, before the travel that is typed in."
    else:
        other = "roll" if isinstance(run, LinkedRun) else "rack"
        what = f"The {run.hung.axle} links do not reach at full {other} and full travel together."
    return Snag(
        "wrong",
        "links lock",
        "run",
        what,
        _joints(run),
        "Move an outer point, or type less travel.",
    )


def _joints(run: AxleRun | LinkedRun) -> tuple[str, ...]:
    """The joints of the left side that links are hung at."""
    hung = run.hung
    if isinstance(hung, LinkedAxle):
        return tuple(filter(None, (hung.lower, hung.upper, hung.rod)))
    return *hung.lower, *hung.upper


def live_axles(job: Job) -> Iterator[Snag]:
    """What keeps a live axle from moving, and links that bind on its way."""
    try:
        found = axle_runs(job)
    except Problem as problem:
        yield Snag("unknown", "axle incomplete", "run", problem.what, (), problem.hint)
        return
    for run in found:
        bind, joints = run.told.curves.bind, _joints(run)
        if not run.closes:
            yield _locks(run)
        elif bind.max() > BIND_MM:
            yield Snag(
                "look",
                "links bind",
                "run",
                f"The {run.hung.axle} axle's links bind by {said.fine(float(bind.max()))} {_worst_at(run)}.",
                joints,
                "Make the links more alike in length and slope, or see that bushes take it up.",
            )
        aside = float(np.nanmax(np.abs(run.told.curves.aside[:, run.straight])))
        if aside > ASIDE_MM:
            yield Snag(
                "look",
                "axle shifts",
                "run",
                f"The {run.hung.axle} axle goes {said.length(aside)} aside over its travel, as its track rod swings.",
                joints,
                "Make the track rod longer, and level at ride height.",
            )


def _worst_at(run: LinkedRun) -> str:
    """Where the links bind most, in words."""
    row, column = np.unravel_index(int(run.told.curves.bind.argmax()), run.told.curves.bind.shape)
    travel, roll = float(run.found.travel[row]), math.degrees(abs(float(run.found.rack[column])))
    way = f"at {said.length(abs(travel))} {'up' if travel >= 0 else 'down'}"
    return f"{way} and {roll:.1f}° of roll"


CHECKS = (hung, live_axles)
