"""A steering head with one wheel in its fork: rake and trail, and what longer forks, other tyres or a raised rear do.

Seen from the side: the frame turns about the ground until both tyres stand on it again. Angles rad, lengths mm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ironcage.problem import Problem


@dataclass(frozen=True)
class SteerHead:
    """wheelbase; front, rear: the tyres' radii where they stand, mm; angle: of the steering axis from upright, its top
    to the rear, rad; offset: of the front axle ahead of that axis, square to it, mm."""

    wheelbase: float
    front: float
    rear: float
    angle: float
    offset: float

    @property
    def normal_trail(self) -> float:
        """How far the contact lies behind the steering axis, square to it, mm."""
        return self.front * math.sin(self.angle) - self.offset

    @property
    def trail(self) -> float:
        """The same along the ground, mm."""
        return self.normal_trail / math.cos(self.angle)

    def changed(
        self, *, fork: float = 0.0, lift: float = 0.0, front: float | None = None, rear: float | None = None
    ) -> SteerHead:
        """The same frame with its fork longer by so much along the steering axis, the rear axle lower in the frame by
        `lift`, and other radii, mm. Raises Problem where it can't stand on both tyres."""
        radius, behind = (self.front if front is None else front), (self.rear if rear is None else rear)
        ahead = self.wheelbase + fork * math.sin(self.angle)  # of the front axle before the rear one, in the frame
        above = self.front - fork * math.cos(self.angle) - (self.rear - lift)
        apart = math.hypot(ahead, above)
        if abs(radius - behind) >= apart:
            raise Problem("The frame can’t stand on both tyres so.", where="fork", hint="Change it by less.")
        nose = math.asin((radius - behind) / apart) - math.atan2(above, ahead)
        wheelbase = math.sqrt(apart**2 - (radius - behind) ** 2)
        return SteerHead(wheelbase, radius, behind, self.angle + nose, self.offset)
