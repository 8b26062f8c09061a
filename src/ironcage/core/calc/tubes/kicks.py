"""What it costs to make a kink in a tube: bent, notched and folded, or mitred."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ironcage.core.calc.tubes.folds import wedge
from ironcage.units import Units

Make = Literal["bend", "fold", "mitre"]


@dataclass(frozen=True)
class Kinks:
    """What kinks take. make: how; cuts: passes of the saw; weld: length, mm; lost: tube that ends as scrap, mm;
    mouth: of a notch, mm, 0 where there is none."""

    make: Make
    cuts: int
    weld: float
    lost: float
    mouth: float

    def words(self, units: Units) -> str:
        """In shop words."""
        if self.make == "bend":
            return "bent, no cuts and no weld"
        notch = f", notches {units.length(self.mouth)} wide" if self.mouth else ""
        return f"{self.cuts} cuts{notch}, {units.length(self.weld)} of weld"


def kinked(size: tuple[float, float], wall: float, angle: float, count: int, make: Make) -> Kinks:
    """What `count` kinks of an angle (rad) take in a tube of a width and height (mm), kinked across its height.

    A mitre is sawn square off the half angle: two cuts each, weld all round, height / cos(θ/2) on the slant. A fold
    leaves the outer wall and hinges at its
    inside: two cuts for the notch, whose mouth is on the other face; weld on three sides. A bend
    costs neither.
    """
    width, height = size
    half = angle / 2
    slant = height / math.cos(half)
    if make == "bend":
        return Kinks(make, 0, 0.0, 0.0, 0.0)
    if make == "mitre":
        return Kinks(make, 2 * count, count * 2 * (width + slant), count * height * math.tan(half), 0.0)
    mouth = wedge(height, wall, angle).mouth
    return Kinks(make, 2 * count, count * (width + 2 * slant), count * mouth / 2, mouth)
