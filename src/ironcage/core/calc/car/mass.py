"""Mass, centre of gravity and axle loads of points."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.problem import Problem

Floats = NDArray[np.float64]
LEAST_WHEELBASE_MM = 1.0  # with less, what each axle carries says nothing


@dataclass(frozen=True)
class MassSum:
    """Total mass (kg) and centre of gravity (3,), mm."""

    mass: float
    cg: Floats


def total(masses: Floats, places: Floats) -> MassSum:
    """Sum masses (n,) kg at places (n, 3) mm. Nothing to weigh gives mass 0 and the origin."""
    mass = float(masses.sum())
    return MassSum(mass, masses @ places / mass if mass > 0 else np.zeros(3))


def axle_split(cg_x: float, front_x: float, rear_x: float) -> float:
    """Share of the weight on the front axle, from moments about the rear one; x forward, mm."""
    if front_x - rear_x < LEAST_WHEELBASE_MM:
        raise Problem(
            "The front wheels do not stand ahead of the rear ones.",
            where="wheels",
            hint="x counts forward from the front axle line.",
        )
    return (cg_x - rear_x) / (front_x - rear_x)
