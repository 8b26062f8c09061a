"""What a steered axle on wishbones makes of a turn: both wheels' angles, Ackermann and the circle."""

from __future__ import annotations

import math

import numpy as np

from ironcage.core.answers.run.corner import AxleRun, Still
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.linkage.steering import Turn, turn_of
from ironcage.core.calc.linkage.wishbone import curves, poses
from ironcage.core.job.values.model import Job


def turn_at(job: Job, still: Still) -> Turn | None:
    """The turn at a still's travel of both wheels and its rack; None at the rear, where nothing steers, without a
    wheelbase, or where a wheel's links do not reach."""
    return _turn(job, still.run, still.travel, still.rack)


def full_lock(job: Job, run: AxleRun) -> Turn | None:
    """The turn at ride height with the rack as far over as it goes."""
    return _turn(job, run, 0.0, run.hung.rack)


def _turn(job: Job, run: AxleRun, travel: float, rack: float) -> Turn | None:
    base = weigh(job).wheelbase
    if run.hung.axle != "front" or not run.hung.rack or not base or base <= 0:
        return None
    found = poses(
        run.corner, np.array([travel]), np.array([rack, -rack])
    )  # the right wheel is the left one in a mirror
    told = curves(found)
    left, right = float(told.steer[0, 0]), -float(told.steer[0, 1])
    track = float(told.contact[0, :, 1].sum())
    return turn_of(left, right, track, base) if math.isfinite(left + right) else None
