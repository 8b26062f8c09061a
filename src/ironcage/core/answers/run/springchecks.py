"""Snags of springs: coil-overs that do not fit or end within the travel, shackles and leaves that are bent too far."""

from collections.abc import Iterator
from typing import Literal

import numpy as np

from ironcage.core.answers.run.bands import end_runs
from ironcage.core.answers.run.beam import BeamRun
from ironcage.core.answers.run.leaves import leaf_of, leaves, shackle_tips
from ironcage.core.answers.run.springs import Sprung, SprungEnd, sprung
from ironcage.core.answers.shared.snag import Snag
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import CoilOver, SteeringFork
from ironcage.problem import Problem
from ironcage.units import said

_ENDS: tuple[tuple[str, Literal["wrong", "look"], str, str], ...] = (
    (
        "solid",
        "wrong",
        "The {axle} dampers are solid at {where}, before the travel that is typed in.",
        "Hang them higher, use shorter ones, or type less travel up.",
    ),
    (
        "bind",
        "wrong",
        "The {axle} springs' coils touch at {where}, before the travel that is typed in.",
        "Use stiffer springs, or ones with more room between their coils.",
    ),
    (
        "full",
        "look",
        "The {axle} dampers are at full length at {where}: the wheels hang no further.",
        "Use longer dampers, or type less travel down.",
    ),
    (
        "loose",
        "look",
        "The {axle} springs hang loose from {where} on.",
        "Use softer springs, or let the dampers hold the wheels before.",
    ),
)
CODES = {"solid": "damper solid", "bind": "coil bind", "full": "damper full", "loose": "spring loose"}


def coil_overs(job: Job) -> Iterator[Snag]:
    """Coil-overs that do not fit at ride height, and those that end, bind or hang loose within the travel that is typed
    in."""
    beams = (beam.hold for beam in job.beams if beam.hold)
    ends: tuple[SprungEnd, ...] = (*job.wishbones, *job.live_axles, *job.arms, *job.forks, *beams)
    if not any(end.coil != CoilOver() for end in ends):
        return
    try:
        found = sprung(job)
    except Problem:  # said where the links are looked at
        return
    for hung in ends:
        if of := found.get(hung.axle):
            yield from _springs(job, hung, of)


def _springs(job: Job, hung: SprungEnd, of: Sprung) -> Iterator[Snag]:
    joints, coil = _at(hung), of.coil
    between = f"{said.length(of.rest.length)} between their eyes at ride height"
    unfit = {
        "full": (of.ends.get("full", -1.0) >= 0, f"{said.length(coil.open)} at full length"),
        "solid": (of.ends.get("solid", 1.0) <= 0, f"{said.length(coil.closed)} pressed together"),
    }
    for name, (does, end) in unfit.items():
        if does:
            what = f"The {hung.axle} dampers do not fit: {between}, and {end}."
            yield Snag("wrong", CODES[name], "run", what, joints, "Move one of their ends, or use others.")
    for name, state, says, cure in _ENDS:
        if name in of.ends and not unfit.get(name, (False,))[0]:
            at = of.ends[name]
            where = f"{said.length(abs(at))} {'up' if at >= 0 else 'down'}"
            what = says.format(axle=hung.axle, where=where)
            yield Snag(state, CODES[name], "run", what, joints, cure)
    falls = np.flatnonzero(of.over.rate[:, of.middle[1]] < 0)
    if falls.size:
        run = end_runs(job)[hung.axle]
        travels = (run.held if isinstance(run, BeamRun) and run.held else run).found.travel[falls]
        at = float(travels[np.abs(travels).argmin()])
        where = f"{said.length(abs(at))} {'up' if at >= 0 else 'down'}"
        what = f"From {where} on, the {hung.axle} wheels’ springs push less the further the wheels go."
        cure = "Stand the coil-overs steeper to what carries them, so that their motion ratio rises with the travel."
        yield Snag("look", "rate falls", "run", what, joints, cure)


def _at(hung: SprungEnd) -> tuple[str, ...]:
    """The joints that the springs of an end stand at."""
    if isinstance(hung, SteeringFork):
        return hung.joints
    return (hung.spring,) if hung.spring else ()


def leaf_springs(job: Job) -> Iterator[Snag]:
    """Shackles that can't follow their springs, and leaves that are bent too far."""
    try:
        found = leaves(job)
    except Problem:  # said where the beam is looked at
        return
    for told in found:
        limit = leaf_of(job, told.axle).limit
        if ways := shackle_tips(told):
            what = f"The {told.axle} leaf springs’ shackles tip over before full travel {ways}."
            yield Snag("wrong", "shackle tips", "run", what, (), "Make them longer, or lean them the other way.")
        if limit and told.up is not None and told.up > limit:
            what = f"The {told.axle} leaves are bent to {told.up:.0f} MPa at full travel up, more than {limit:.0f}."
            yield Snag("wrong", "leaf stress", "run", what, (), "Take more leaves, thinner ones, or type less travel.")
