"""Chains, belts and shafts: are they in line, how long, how much take-up, and what runs into them."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.car import chain as calc
from ironcage.core.calc.car import driveshaft
from ironcage.core.job.geometry.bodies import shaft_axis
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Chain, Shaft
from ironcage.problem import Problem

GUARD = "Fit a guard: a chain or shaft that breaks or catches takes fingers and clothing with it."
LIMITS = "Pitch circles, tight runs; limits of line are defaults, take the maker's."
RPM = 1000.0


@dataclass(frozen=True)
class GearAnswer:
    """One gear: engine turns a turn of the driven wheel, road speed (m/s) at 1000 engine turns a minute, torque at
    the driven shaft (N·m), None without the engine's."""

    engine_turns: float
    speed_per_1000: float | None
    torque: float | None


@dataclass(frozen=True)
class ChainAnswer:
    """A chain: how long, how it lies, what mends it. problem: why it can't be worked out. bump, droop: pitches it
    needs more there than at rest."""

    id: str
    name: str
    problem: str
    fit: calc.Fit | None
    line: calc.ChainLine | None
    mend: calc.Mend | None
    blocks: tuple[calc.BlockChoice, ...]
    in_line: bool
    ratio: float
    gears: tuple[GearAnswer, ...]
    bump: float
    droop: float
    centres: float


@dataclass(frozen=True)
class ShaftAnswer:
    """A shaft: its joint angles, plunge over its travel (shortest, longest, mm against now). problem: why it can't
    be worked out."""

    id: str
    name: str
    problem: str
    angles: driveshaft.ShaftAngles | None
    plunge: tuple[float, float]


@remembered("chains", "shafts", "wheels", "brief")
def find_drives(job: Job) -> tuple[tuple[ChainAnswer, ...], tuple[ShaftAnswer, ...]]:
    """Every chain and every shaft."""
    rear = [w.diameter for w in job.wheels if w.corner.startswith("rear")]
    torque = next((t.value for t in job.brief.targets if t.kind == "torque"), None)
    return (
        tuple(_chain(c, rear[0] if rear else None, torque) for c in job.chains),
        tuple(_shaft(s) for s in job.shafts),
    )


def _chain(c: Chain, tyre_mm: float | None, torque_nm: float | None) -> ChainAnswer:
    teeth = (c.driving.teeth, c.driven.teeth)
    p, q = (np.array([s.x, s.y, s.z]) for s in (c.driving, c.driven))
    ratio = teeth[1] / teeth[0]
    gears = tuple(
        GearAnswer(
            g * ratio,
            None if tyre_mm is None else RPM / 60 / (g * ratio) * math.pi * tyre_mm / 1000,
            None if torque_nm is None else torque_nm * g * ratio,
        )
        for g in c.gears
    )
    axis = shaft_axis(c.driving)

    def centres(rise: float) -> float:
        way = q + [0, 0, rise] - p
        return float(np.linalg.norm(way - (way @ axis) * axis))

    try:
        line = calc.line((p, axis), (q, shaft_axis(c.driven)))
        fit = calc.fit(c.pitch, teeth, centres(0.0), c.wear)
        bump, droop = (calc.length_in_pitches(c.pitch, teeth, centres(r)) - fit.needed for r in (c.up, -c.down))
    except Problem as problem:
        return ChainAnswer(
            c.id, c.name, problem.sentence, None, None, None, (), False, ratio, gears, 0.0, 0.0, centres(0.0)
        )
    in_line = (
        abs(line.plan) <= c.most_angle and abs(line.elevation) <= c.most_angle and abs(line.offset) <= c.most_offset
    )
    blocks = calc.blocks(line, c.span, c.left_off, c.right_off) if c.left_off or c.right_off else ()
    return ChainAnswer(
        c.id,
        c.name,
        "",
        fit,
        line,
        calc.mend(line, c.span, c.reach),
        blocks,
        in_line,
        ratio,
        gears,
        bump,
        droop,
        centres(0.0),
    )


def _shaft(s: Shaft) -> ShaftAnswer:
    start, stop = np.array(s.start), np.array(s.stop)
    try:
        made = driveshaft.angles(start, stop, np.array(s.drive), np.array(s.driven), s.phase)
    except Problem as problem:
        return ShaftAnswer(s.id, s.name, problem.sentence, None, (0.0, 0.0))
    travel = np.array([[0.0, 0, s.up], [0.0, 0, -s.down]])
    return ShaftAnswer(s.id, s.name, "", made, driveshaft.plunge(start, stop, travel))
