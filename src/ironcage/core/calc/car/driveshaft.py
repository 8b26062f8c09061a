"""A shaft with a universal joint at each end: joint angles, whether they cancel, and how far it must telescope."""

import cmath
import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.solids.convex import Floats
from ironcage.problem import Problem


@dataclass(frozen=True)
class ShaftAngles:
    """first, second: whole joint angles, rad; plan and side: each joint's angle seen from above and from the side,
    rad; left_over: the angle of a single joint that would shake as much as both together, rad (0: they cancel);
    swing: the share by which the driven end runs fast and slow, twice a turn; length: between joint centres, mm."""

    first: float
    second: float
    plan: tuple[float, float]
    side: tuple[float, float]
    left_over: float
    swing: float
    length: float


def angles(start: Floats, stop: Floats, drive: Floats, driven: Floats, phase: float = 0.0) -> ShaftAngles:
    """Joint centres start and stop (3,) mm; axes of the driving and the driven shaft (3,), each along the flow of
    power.

    phase: how far the shaft's second yoke is turned against its first, rad. A joint's unevenness is that of its angle
    squared, at twice the turn of its plane (Seherr-Thoss, Schmelz and Aucktor, Universal Joints and Driveshafts, ch.
    1); as vectors they are subtracted, which is exact for small angles.
    """
    way = np.asarray(stop, dtype=float) - start
    length = float(np.linalg.norm(way))
    if length < 1.0:
        raise Problem("The shaft has no length.", where="stop", hint="Give its two joints different places.")
    shaft, one, two = way / length, _unit(drive, "drive"), _unit(driven, "driven")
    angle = [math.atan2(float(np.linalg.norm(np.cross(a, shaft))), float(a @ shaft)) for a in (one, two)]
    if max(angle) > math.radians(80):
        raise Problem(
            f"A joint at {math.degrees(max(angle)):.0f}° cannot turn.",
            where="axis",
            hint="Most universal joints end at 25 to 45°; check that both axes point along the flow of power.",
        )
    across = np.cross(shaft, (0.0, 0.0, 1.0)) if abs(shaft[2]) < 0.9 else np.cross(shaft, (1.0, 0.0, 0.0))
    across /= np.linalg.norm(across)
    up = np.cross(across, shaft)

    def uneven(axis: Floats, bend: float, turned: float) -> complex:
        plane = math.atan2(float(axis @ up), float(axis @ across)) if bend > 1e-12 else 0.0
        return bend**2 * cmath.exp(2j * (plane - turned))

    rest = abs(uneven(one, angle[0], 0.0) - uneven(two, angle[1], phase))
    left_over = math.sqrt(rest)
    plan = tuple(_between(a[[0, 1]], shaft[[0, 1]]) for a in (one, two))
    side = tuple(_between(a[[0, 2]], shaft[[0, 2]]) for a in (one, two))
    return ShaftAngles(angle[0], angle[1], (plan[0], plan[1]), (side[0], side[1]), left_over, 0.5 * rest, length)


def plunge(start: Floats, stop: Floats, travel: Floats) -> tuple[float, float]:
    """Shortest and longest (mm, against the present length) that the shaft becomes when its far joint stands at each of
    travel (n, 3) off its present place."""
    now = float(np.linalg.norm(stop - start))
    lengths = np.linalg.norm(stop + travel - start, axis=1) - now
    return min(0.0, float(lengths.min())), max(0.0, float(lengths.max()))


def _unit(axis: Floats, where: str) -> Floats:
    size = float(np.linalg.norm(axis))
    if size < 1e-9:
        raise Problem("A shaft has no direction.", where=where, hint="Rearward along the car is -1 0 0.")
    return np.asarray(axis, dtype=float) / size


def _between(one: Floats, other: Floats) -> float:
    """The signed angle (rad) from `other` to `one`, both (2,) seen in one plane."""
    return math.atan2(float(other[0] * one[1] - other[1] * one[0]), float(one @ other))
