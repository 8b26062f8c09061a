"""The stiffness that readings of a twist test tell, and how sure it is."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.problem import Problem


@dataclass(frozen=True)
class Measured:
    """stiffness: torque by angle, N·mm/rad; spread: half the width of its 95 % interval; slack: the angle at no
    torque, rad; scatter: of readings about the line, rad."""

    stiffness: float
    spread: float
    slack: float
    scatter: float


def measure(torque: Floats, angle: Floats, reading_error: float) -> Measured:
    """The straight line through angles (k,) rad under torques (k,) N·mm by least squares; its slope is the compliance.

    reading_error: how exactly one angle is read, rad. The interval takes the larger of that and the readings' own
    scatter, by Student's t where the scatter tells it. Raises Problem for fewer than two torques,
    or a frame that does not turn the way it is pushed.
    """
    from scipy.special import stdtrit

    if len(torque) < 2 or np.ptp(torque) <= 0:
        raise Problem(
            "The twist test needs two weights at least.",
            where="reading",
            hint="Read once with little on the beam and once with much.",
        )
    design = np.column_stack([np.ones_like(torque), torque])
    (slack, compliance), *_ = np.linalg.lstsq(design, angle, rcond=None)
    if compliance <= 0:
        raise Problem(
            "The frame turns against its load in these readings.",
            where="reading",
            hint="Check the signs: left up is positive at both ends.",
        )
    spare = len(torque) - 2
    left = angle - design @ np.array([slack, compliance])
    scatter = math.sqrt(float(left @ left) / spare) if spare else 0.0
    width = float(np.sqrt(((torque - torque.mean()) ** 2).sum()))
    by_scatter = scatter * float(stdtrit(spare, 0.975)) if spare else 0.0
    spread = max(by_scatter, 1.96 * reading_error) / width
    return Measured(1 / float(compliance), spread / float(compliance) ** 2, float(slack), scatter)
