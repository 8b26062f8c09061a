"""What was measured on the real frame: the twist test, the joint factor that makes the model agree, and the log of
stiffness and mass."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date

import numpy as np

from ironcage.core.answers.prove import stiffness
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.frames.load_distribution import G
from ironcage.core.calc.frames.twisttest import Measured, measure
from ironcage.core.job import edits
from ironcage.core.job.text import Done
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

LOOSEST = 0.02
LEAST_SHARE, LEAST_KG = 1e-3, 1e-3  # a smaller change of twist stiffness, of mass, is no line of the log
NOTE_LENGTH = 80
CARD = (
    "Weigh nothing but the bare frame down: engine and driver out. Stand it on two firm stands under the rear "
    "pickups; nobody reaches under it while it is loaded.",
    "At the front put a beam across both front pickups on one pivot at the car's middle, square to the car, so that "
    "pushing one end down lifts the other.",
    "Chain the rear down so that it can't lift, and keep hands, feet and heads away from under the beam, its weight "
    "and the frame. A frame under load can slip off.",
    "Put a digital level (or two dial gauges a known distance apart) across the front pickups and across the rear "
    "ones; zero both with the beam alone.",
    "Hang weights at the lever's length, from little to much and back again, and read both ends each time. Four "
    "weights or more; watch for slack and for slip.",
    "Never load it beyond a third of what Strength says it carries. What you measure is this frame's twist stiffness, "
    "not what it withstands in a crash.",
)


@dataclass(frozen=True)
class TestAnswer:
    """measured: what the readings tell; model: the frame's twist stiffness as it is modelled now, rigid: with rigid
    welds, N·mm/rad; factor: the joint factor that makes the model agree, with those of the interval's ends, None
    where no factor does; why: then why not."""

    measured: Measured
    model: float
    rigid: float
    factor: float | None
    between: tuple[float | None, float | None]
    why: str = ""


@remembered(*stiffness.FRAME_PARTS)
def measured_frame(job: Job) -> TestAnswer:
    """The twist test against the model. Raises Problem without enough readings."""
    test = job.proving.test
    torque = np.array([r.mass * G * test.lever for r in test.readings])
    angle = np.array([r.front - r.rear for r in test.readings])
    both = any(r.rear for r in test.readings)  # a difference of two readings is less sure than one, by √2
    found = measure(torque, angle, test.reading_error * (math.sqrt(2) if both else 1.0))
    model, rigid = stiffness.twist(job).stiffness, _with(job, 1.0)
    factor = _factor(job, found.stiffness, rigid)
    between = (_factor(job, found.stiffness - found.spread, rigid), _factor(job, found.stiffness + found.spread, rigid))
    why = ""
    if factor is None:
        stiffer = found.stiffness > rigid
        why = (
            "The real frame is stiffer than the model with rigid welds: check the lever, the weights and what "
            "stiffens the real frame that is not in the model."
            if stiffer
            else "The real frame is softer than welds alone can explain: check for slip at the stands, and for tubes "
            "or panels that are not there."
        )
    return TestAnswer(found, model, rigid, factor, between, why)


def _with(job: Job, joint: float) -> float:
    return stiffness.torsion_of(job.but(proving=job.proving.but(joint=joint)))


def _factor(job: Job, wanted: float, rigid: float) -> float | None:
    """The joint factor that gives a stiffness, to 1e-5; None beyond what a factor can do."""
    from scipy.optimize import brentq

    if wanted > rigid or wanted < _with(job, LOOSEST):
        return None
    return float(brentq(lambda joint: _with(job, joint) - wanted, LOOSEST, 1.0, xtol=1e-5))


def logged(job: Job, note: str, day: date) -> Done:
    """Write today's twist stiffness and mass down. Raises Problem where the frame can't be twisted."""
    if not note.strip():
        raise Problem("What was done to the frame?", where="log", hint="Write a word or two, such as: hoop braces in")
    torsion = stiffness.twist(job).stiffness
    return Done(f"Log {note.strip()}", edits.log(job, note.strip(), torsion, weigh(job).frame.mass, day), ())


def logged_if_changed(job: Job, done: tuple[str, ...], day: date) -> Job:
    """The job with one more line in its log, of the names of what was done, where twist stiffness or mass are other
    than its last line says; itself where they are not, and where the frame can't be twisted."""
    if not job.tubes:
        return job
    try:
        torsion = stiffness.twist(job).stiffness
    except Problem:
        return job
    mass = weigh(job).frame.mass
    if job.proving.log:
        last = job.proving.log[-1]
        if abs(torsion - last.torsion) < LEAST_SHARE * last.torsion and abs(mass - last.mass) < LEAST_KG:
            return job
    return edits.log(job, _note(done), torsion, mass, day)


def _note(done: tuple[str, ...]) -> str:
    """The names of what was done, the last first, as many as there is room for."""
    note = "as it was" if not done else done[-1]
    for n, name in enumerate(reversed(done[:-1]), 1):
        more = f" and {len(done) - n} more"
        if len(note) + len(name) + len(more) + 2 > NOTE_LENGTH:
            note += more
            break
        note += f"; {name}"
    return note[:NOTE_LENGTH]
