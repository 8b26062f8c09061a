"""How hard the car pulls away, from what is told of engine, gears and tyres."""

from __future__ import annotations

import math

import numpy as np

from ironcage.core.answers.shared.mass import stance, weigh
from ironcage.core.calc.car.pull import Pulled, pull
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.proving import CHAIN

ASSUMED = (
    "Pulling away: level ground, rigid, no drag, nothing lost in the gears, wheels not spun up; the tyres as their "
    "grip says, whatever their load."
)


def pulled(job: Job) -> Pulled | None:
    """How the car pulls; None until that is told, and it stands on wheels with its centre of gravity between."""
    told, stood, w = job.proving.pull, stance(job), weigh(job)
    if told is None or stood is None or stood.stance is None or not w.wheelbase:
        return None
    chain = job.chains[0].driven.teeth / job.chains[0].driving.teeth if job.chains else 1.0
    ratio = math.prod(chain if g == CHAIN else g for g in told.gears)
    end = "front" if told.driven == "front" else "rear"
    radius = float(np.mean([x.diameter / 2 for x in job.wheels if x.corner.startswith(end)]))
    ground = float(np.mean([x.z - x.diameter / 2 for x in job.wheels]))
    ahead = float(np.mean([x.x for x in job.wheels if x.corner.startswith("front")])) - float(w.car.cg[0])
    arms = (ahead, w.wheelbase - ahead, max(float(w.car.cg[2]) - ground, 1e-9))
    return pull(told.torque, ratio, radius, w.car.mass, arms, told.grip, told.driven)
