"""What the leaf springs of a beam or a live axle do over its travel: rate, frequency, stress, shackle."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ironcage.core.answers.run.axlelinks import axle_leaves
from ironcage.core.answers.run.lever import WEIGHED
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.car.leaf import Leaf
from ironcage.core.calc.car.springs import frequency, roll_stiffness
from ironcage.core.calc.frames.load_distribution import G
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, KingpinBeam, LeafSpring, LinkedAxle

ASSUMED = (
    "Leaf springs are thin, their eyes level, and free of friction between leaves; stepped leaves bend to one "
    "curvature. One across the car is clamped in its middle and carries a wheel at either end."
)


@dataclass(frozen=True)
class LeafTold:
    """The springs of one end. carries: what each wheel's side carries, kg, None where that is not known; rate: at
    each wheel, N/mm; swings: in a second; roll: what both hold a leaning car with, N·mm/rad; stress: at ride
    height, and up: at full travel up, MPa; leans: of a shackle at full travel down, at ride height and up, rad, nan
    where it can't, none without one; back: how far the axle goes back at full travel up, mm; steer: for each radian
    of lean; wind_up: what both hold the axle with against turning under drive or brakes, N·mm/rad, None where links
    hold it, too, and of one across."""

    axle: str
    carries: float | None
    rate: float
    swings: float | None
    roll: float
    stress: float | None
    up: float | None
    leans: tuple[float, float, float] | None
    back: float
    steer: float
    wind_up: float | None


@remembered("beams", "live_axles", "wheels", "joints", *WEIGHED)
def leaves(job: Job) -> tuple[LeafTold, ...]:
    """The springs of each beam and live axle that has some, front first. Raises Problem where its wheels or a joint
    have gone."""
    told = [_of_beam(job, beam) for beam in job.beams if beam.leaf.known and not (beam.on and beam.on.eye)]
    held = [*job.live_axles, *(beam.hold for beam in job.beams if beam.hold)]
    told += [made for axle in held if axle.leaf.leaved and (made := _of_axle(job, axle))]
    return tuple(sorted(told, key=lambda of: of.axle))


def leaf_of(job: Job, axle: str) -> LeafSpring:
    """What is known of the leaf springs of an end that has some."""
    ends: tuple[KingpinBeam | LinkedAxle, ...] = (*job.beams, *job.live_axles)
    return next(end.leaf for end in ends if end.axle == axle)


def _of_beam(job: Job, beam: KingpinBeam) -> LeafTold:
    held = beam.leaf
    spring = Leaf(
        held.front, held.rear, held.wide, held.thick, held.stepped, held.full, held.arch, held.shackle, held.lean
    )
    return _told(job, beam.axle, held, spring)


def _of_axle(job: Job, axle: LinkedAxle) -> LeafTold | None:
    """By where its springs hang, whatever else is typed of them."""
    found = axle_leaves(job, axle)
    if found is None:
        return None
    held = axle.leaf.but(up=axle.up, down=axle.down, base=2 * abs(float(found.seat[1])))
    told = _told(job, axle.axle, held, found.leaf)
    return replace(told, wind_up=None) if axle.lower or axle.upper or axle.torque else told


def _told(job: Job, axle: Axle, held: LeafSpring, spring: Leaf) -> LeafTold:
    track = 2 * abs(edits.left_wheel(job, axle).y)
    weighed, carries = weigh(job), None
    if weighed.front_share is not None and weighed.car.mass > 0:
        share = weighed.front_share if axle == "front" else 1 - weighed.front_share
        left = share * weighed.car.mass / 2 - held.unsprung
        carries = left if left > 0 else None
    across = held.lies == "across"
    rate = spring.end_rate if across else spring.rate
    roll = roll_stiffness(rate, track if across else held.base)
    stress = up = None
    if carries is not None:
        loads = (carries * G, carries * G + rate * held.up)
        stress, up = (spring.stress(load * spring.front if across else spring.bending(load)) for load in loads)
    leans = None
    if held.shackle and not across:
        down, rest, high = (float(v) for v in spring.shackle_lean(np.array([-held.down, 0.0, held.up])))
        leans = (down, rest, high)
    return LeafTold(
        axle,
        carries,
        rate,
        float(frequency(rate, carries)) if carries else None,
        roll,
        stress,
        up,
        leans,
        0.0 if across else float(spring.back(np.array([held.up]))[0]),
        0.0 if across else spring.roll_steer,
        None if across else 2 * spring.wind_up,
    )


def shackle_tips(told: LeafTold) -> str:
    """Which way a shackle can't follow within the travel; nothing where it does."""
    if told.leans is None:
        return ""
    ways = [way for way, lean in zip(("down", "", "up"), told.leans, strict=True) if way and math.isnan(lean)]
    return " and ".join(ways)
