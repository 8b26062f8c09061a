"""A corner that was measured on a donor: settled to its ride height, put under the car's own wheel, and hung there."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.corner import Floats
from ironcage.core.calc.linkage.wishbone import DoubleWishbone, carried_end, poses
from ironcage.core.job import edits
from ironcage.core.job.edits.joints import SAME_PLACE_MM
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle
from ironcage.problem import Problem

INNER = ("lower arm front", "lower arm rear", "upper arm front", "upper arm rear", "coil-over top")
OUTER = ("lower ball joint", "upper ball joint", "tie rod inner", "tie rod outer", "coil-over foot", "wheel centre")
FURTHEST_MM = 150.0  # that a corner is settled from where it was measured
ALONG = np.array([0.0, 1.0, 0.0])  # of the wheel's axle as it is measured: camber and toe are set afterwards


@dataclass(frozen=True)
class Captured:
    """The job with the corner hung. settled: how far its wheel was raised from where it was measured, mm; moved: how
    far all of it was moved so that its wheel stands where the car's does, (3,) mm; joints: how many came."""

    job: Job
    settled: float
    moved: tuple[float, float, float]
    joints: int


def captured(job: Job, axle: Axle, measured: Mapping[str, tuple[float, float, float]], slope: float | None) -> Captured:
    """Hang an end on wishbones as measured on a donor: places of INNER and OUTER of its left side, mm, on a level
    table, x forward, y from the middle to the left, z up. slope: of its lower arm at ride height, down to its ball
    joint, rad; None where it was measured at ride height. Joints that are there already are used; camber and toe are
    put to nothing, for no wheel's axle is measured.

    Raises Problem for points that are missing, a slope that the links do not reach, and an end without a wheel or hung
    otherwise.
    """
    missing = [name for name in (*INNER, *OUTER) if name not in measured]
    if missing:
        raise Problem(
            f"The card of the {axle} corner lacks {', '.join(missing[:4])}.",
            where=missing[0],
            hint="Measure it too.",
        )
    wheel = edits.left_wheel(job, axle)
    at = {name: np.array(measured[name], float) for name in (*INNER, *OUTER)}
    corner = DoubleWishbone(
        lower=np.array([at["lower arm front"], at["lower arm rear"]]),
        lower_out=at["lower ball joint"],
        upper=np.array([at["upper arm front"], at["upper arm rear"]]),
        upper_out=at["upper ball joint"],
        tie_in=at["tie rod inner"],
        tie_out=at["tie rod outer"],
        wheel=at["wheel centre"],
        axis=ALONG,
        radius=wheel.diameter / 2,
        spring_in=at["coil-over top"],
        spring_out=at["coil-over foot"],
    )
    if (corner.lengths < 1.0).any():
        raise Problem(
            f"Two ends of a link of the {axle} corner are at one place.", where=axle, hint="Look at the card again."
        )
    travel = 0.0 if slope is None else _settled(corner, slope, axle)
    found = poses(corner, np.array([travel]), np.zeros(1))
    centre = found.at(corner.wheel)[0, 0]
    by = np.array([wheel.x, wheel.y, wheel.z]) - centre
    names, made = [], job
    for name in INNER:
        made, joint = _joint(made, at[name] + by)
        names.append(joint)
    lower, upper = (names[0], names[1]), (names[2], names[3])
    made = edits.hang(made, axle, lower, upper, names[4])
    outer = {
        "lower_out": found.at(corner.lower_out)[0, 0],
        "upper_out": found.at(corner.upper_out)[0, 0],
        "tie_in": corner.tie_in,
        "tie_out": found.at(corner.tie_out)[0, 0],
        "spring_out": carried_end(found)[0][0, 0],
    }
    made = edits.set_wishbones(
        made,
        axle,
        **{name: tuple(round(float(v), 3) for v in place + by) for name, place in outer.items()},
        camber=0.0,
        toe=0.0,
        spring_on="lower",
    )
    came = len(made.joints) - len(job.joints)
    return Captured(made, travel, (float(by[0]), float(by[1]), float(by[2])), came)


def _slopes(corner: DoubleWishbone, travel: Floats) -> Floats:
    """How steeply the lower arm falls to its ball joint, seen from the front (n,), rad."""
    out = poses(corner, travel, np.zeros(1)).at(corner.lower_out)[:, 0]
    middle = corner.lower.mean(axis=0)
    return np.asarray(np.arctan2(middle[2] - out[:, 2], out[:, 1] - middle[1]))


def _settled(corner: DoubleWishbone, slope: float, axle: str) -> float:
    """The travel at which the lower arm falls as steeply as wanted, mm."""
    from scipy.optimize import brentq  # slow to import, and needed here alone

    travel = np.linspace(-FURTHEST_MM, FURTHEST_MM, 61)
    slopes = _slopes(corner, travel)
    good = np.isfinite(slopes)
    travel, slopes = travel[good], slopes[good]
    if not len(travel) or not slopes.min() <= slope <= slopes.max():
        told = f"{math.degrees(slopes.min()):.1f}° to {math.degrees(slopes.max()):.1f}°" if len(travel) else "none"
        raise Problem(
            f"The {axle} lower arm does not fall by {math.degrees(slope):.1f}° anywhere on its way ({told}).",
            where="lower arm slope",
            hint="Measure from its hinge to its ball joint, down is positive.",
        )
    n = int(np.flatnonzero((slopes[:-1] - slope) * (slopes[1:] - slope) <= 0)[0])
    return float(brentq(lambda t: float(_slopes(corner, np.array([t]))[0]) - slope, travel[n], travel[n + 1]))


def _joint(job: Job, place: Floats) -> tuple[Job, str]:
    """A joint of the left side at a place: one that is there, or another."""
    there = next((j for j in job.joints if math.dist(j.place, place) < SAME_PLACE_MM), None)
    if there:
        return job, there.id
    x, y, z = (round(float(v), 3) for v in place)
    made = edits.add_joint(job, (x, y, z))
    new = next(j for j in made.joints[len(job.joints) :] if j.y > 0 or j.twin == j.id)
    return made, new.id
