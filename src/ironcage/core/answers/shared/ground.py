"""The ground that the tyres stand on: how the frame stands on it, and how far things are above it."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.solids.convex import bounds_of
from ironcage.core.job.geometry.bodies import Body
from ironcage.core.job.values.model import Job


@dataclass(frozen=True)
class Ground:
    """The line under the tyres, seen from the side. front, rear: x and z of what stands under each axle, mm."""

    front: tuple[float, float]
    rear: tuple[float, float]

    @property
    def rake(self) -> float:
        """How far the frame stands nose down, rad: its front tyres reach less far down than its rear ones."""
        return math.atan2(self.front[1] - self.rear[1], self.front[0] - self.rear[0])

    def above(self, body: Body) -> Floats:
        """The bounds (2, 3) of a body as the car stands: x along the ground, z from it up, mm."""
        c, s = math.cos(self.rake), math.sin(self.rake)
        turn = np.array([[c, 0.0, s], [0.0, 1.0, 0.0], [-s, 0.0, c]])  # the ground becomes level
        by = -turn @ np.array([self.front[0], 0.0, self.front[1]])
        each = bounds_of([solid.moved(turn, by) for solid in body.solids])
        return np.array([each[:, 0].min(axis=0), each[:, 1].max(axis=0)])


def ground_of(job: Job) -> Ground | None:
    """Where the tyres stand; None until there are wheels at both ends, the front ones ahead."""
    spots = []
    for end in ("front", "rear"):
        there = [(w.x, w.z - w.diameter / 2) for w in job.wheels if w.corner.startswith(end)]
        if not there:
            return None
        x, z = np.mean(there, axis=0)
        spots.append((float(x), float(z)))
    return Ground(*spots) if spots[0][0] > spots[1][0] else None
