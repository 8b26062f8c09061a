"""What engine, gears and tyres push a car with, and whether that lifts its front wheels."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ironcage.core.calc.frames.load_distribution import G

Driven = Literal["rear", "front", "all"]


@dataclass(frozen=True)
class Pulled:
    """How hard a car pulls away, in g. engine: what torque and gears would do; tyres: what the driven tyres hold,
    infinite where no grip is told or the more they push the more they are loaded; lifts: where the front wheels leave
    the ground; ratio: turns of the engine for one of the wheels; force: at the ground by engine and gears, N."""

    engine: float
    tyres: float
    lifts: float
    ratio: float
    force: float

    @property
    def g(self) -> float:
        """What it can do with all wheels on the ground."""
        return min(self.engine, self.tyres, self.lifts)

    @property
    def limit(self) -> Literal["engine", "tyres", "front wheels"]:
        """What it is limited by."""
        if self.lifts <= min(self.engine, self.tyres):
            return "front wheels"
        return "engine" if self.engine <= self.tyres else "tyres"


def pull(
    torque_n_m: float,
    ratio: float,
    radius_mm: float,
    mass: float,
    arms: tuple[float, float, float],
    grip: float,
    driven: Driven = "rear",
) -> Pulled:
    """A car of mass (kg) driven by an engine torque over a ratio on wheels of a radius (mm). arms: from the centre of
    gravity forward to the front axle, back to the rear one, and down to the ground, mm; grip: of its tyres, force by
    load, 0 not known.

    Level ground, rigid, no drag, nothing lost in the gears, wheels not spun up. The load goes from the front axle to
    the rear one by m·a·h/L, so that driven rear tyres hold µ·b/(L − µ·h) of the weight, b from the front axle to the
    centre of gravity, driven front ones µ·(L − b)/(L + µ·h).
    """
    front, rear, high = arms
    length = front + rear
    force = torque_n_m * 1000 * ratio / radius_mm
    tyres = float("inf")
    if grip > 0 and driven == "all":
        tyres = grip
    elif grip > 0 and driven == "front":
        tyres = grip * rear / (length + grip * high)
    elif grip > 0 and length > grip * high:
        tyres = grip * front / (length - grip * high)
    return Pulled(force / (mass * G), tyres, rear / high, ratio, force)
