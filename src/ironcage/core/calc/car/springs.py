"""A wheel on its spring: rates, ride frequencies and roll stiffness, by the motion ratio that its links give it.

The ratio r is how far the spring shortens for each mm that the wheel rises. By virtual work a force F in the spring is
F·r at the wheel, and the wheel's rate is its derivative over the travel z, k·r² + F·dr/dz. Tyres are rigid; N, mm, kg.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Figures = TypeVar("Figures", float, Floats)
SPRING_STEEL_G = 79_300.0  # MPa, of usual spring steels
OUTSIDE_MPA, QUICK = 0.1013, 1.3  # of air: its pressure outside, and the power of its volume
N_PER_KG_HZ2 = (2 * math.pi) ** 2 / 1000  # the rate, N/mm, that swings a kilogram once a second


@dataclass(frozen=True)
class Coil:
    """A coil spring of a rate, N/mm."""

    rate: float

    def at(self, rest: float, shorter: Floats) -> tuple[Floats, Floats]:
        """Its force, N, and its rate, N/mm, where it is shorter by (n,), mm, than at rest, where its force is `rest`,
        N; nothing of either where it hangs loose."""
        force = rest + self.rate * shorter
        return np.maximum(force, 0.0), np.where(force > 0, self.rate, 0.0)


@dataclass(frozen=True)
class Air:
    """An air spring: the diameter that its pressure works on, and how long its air would be in a tube so wide, mm, at
    rest. Its pressure by its volume to the power 1.3 stays, as that of air that is pressed quickly and loses some of
    its heat; the diameter is taken to stay."""

    across: float
    column: float

    @property
    def area(self) -> float:
        """That its pressure works on, mm²."""
        return math.pi / 4 * self.across**2

    def pressure(self, rest: float) -> float:
        """Over that of the air outside, MPa, where its force is `rest`, N."""
        return rest / self.area

    def at(self, rest: float, shorter: Floats) -> tuple[Floats, Floats]:
        """As of a coil; not a number where no air is left."""
        left = np.where(shorter < self.column, self.column - shorter, np.nan)
        absolute = (self.pressure(rest) + OUTSIDE_MPA) * (self.column / left) ** QUICK
        force = (absolute - OUTSIDE_MPA) * self.area
        return np.maximum(force, 0.0), np.where(force > 0, QUICK * absolute * self.area / left, 0.0)


def wheel_rate(rate: float | Figures, force: Figures, ratio: Figures, slope: Figures) -> Figures:
    """The rate at the wheel, N/mm, of a spring's rate, N/mm, with a force in it, N; ratio: how far the spring shortens
    for each mm of travel, slope: how that changes, 1/mm."""
    return rate * ratio**2 + force * slope


def frequency(rate: Figures, mass: float) -> Figures:
    """How often in a second a sprung mass, kg, swings on a wheel's rate, N/mm; not a number where the rate pushes the
    wrong way."""
    with np.errstate(invalid="ignore"):
        return np.sqrt(rate / (N_PER_KG_HZ2 * mass))


def rate_for(swings: float, mass: float, force: float, ratio: float, slope: float) -> float:
    """The spring's rate, N/mm, on which a mass swings so often in a second; other figures as of `wheel_rate`. Not
    positive where the links alone swing it faster."""
    return (N_PER_KG_HZ2 * mass * swings**2 - force * slope) / ratio**2


def roll_stiffness(rate: float, track: float) -> float:
    """What two wheels of a rate each, N/mm, a track apart, mm, hold a leaning car with, N·mm/rad."""
    return rate * track**2 / 2


def bar_stiffness(od: float, bore: float, length: float, arm: float, ratio: float, track: float) -> float:
    """What an anti-roll bar of spring steel holds a leaning car with, N·mm/rad: the twist of its middle part alone,
    G·J/L, each drop link going `ratio` as far as its wheel on an arm, mm; its arms and bushes are rigid."""
    polar = math.pi / 32 * (od**4 - bore**4)
    return SPRING_STEEL_G * polar / length * (ratio * track / arm) ** 2


def leaning_stiffness(rate: float, squeeze: float, rise: float, bend: float) -> float:
    """The same of two springs between the car and an axle that leans as one, N·mm/rad: the second derivative of their
    energy. squeeze: how far each is pressed together, mm; rise, bend: the first and second derivative of its length by
    the lean, mm/rad and mm/rad²."""
    return 2 * rate * (rise**2 - squeeze * bend)
