"""Wheels on arms that swing about one axis: trailing and semi-trailing arms, swing axles, carriers of a whole axle.

Everything on the arm turns about the axis as one body, so a wheel at a height z stands where A·cos θ + B·sin θ = z − C,
closed exactly. x forward, y to the left, z up; mm, rad; a left wheel.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.vectors import cross

Floats = NDArray[np.float64]
LEAST_LEVER_MM = 1.0  # of the wheel's centre behind, before or beside the axis: nearer, turning does not lift it


@dataclass(frozen=True, eq=False)
class SwingArm:
    """Hard points at ride height. hinge (2, 3): two places on the axis; wheel (3,): its centre; axis (3,): unit vector
    along its axle, to the left; radius: of the tyre where it stands, mm."""

    hinge: Floats
    wheel: Floats
    axis: Floats
    radius: float

    @cached_property
    def way(self) -> Floats:
        """The unit vector (3,) along the hinge that the arm turns about to lift the wheel."""
        along = self.hinge[1] - self.hinge[0]
        along = along / np.linalg.norm(along)
        lifts = float(cross(along, self.wheel - self.hinge[0])[2])
        return along if lifts >= 0 else -along

    @property
    def lever(self) -> float:
        """How far the wheel's centre rises for each rad that the arm turns, mm."""
        return float(cross(self.way, self.wheel - self.hinge[0])[2])

    @property
    def reach(self) -> tuple[float, float]:
        """The travels beyond which the wheel does not get, upwards and (negative) downwards, mm."""
        out = self.wheel - self.hinge[0]
        across = out - (out @ self.way) * self.way
        size = float(np.hypot(across[2], self.lever))
        return size - float(across[2]), -size - float(across[2])


@dataclass(frozen=True, eq=False)
class SwingPoses:
    """An arm at travels of its wheel (n,), mm: how far it is turned (n,), rad; nan where the arm is not long enough."""

    arm: SwingArm
    travel: Floats
    turn: Floats

    @property
    def closed(self) -> NDArray[np.bool_]:
        """Whether the wheel gets there (n,)."""
        return np.isfinite(self.turn)

    def turned(self, v: Floats) -> Floats:
        """A vector of the arm (3,) as it points (n, 3)."""
        k = self.arm.way
        c, s = np.cos(self.turn)[:, None], np.sin(self.turn)[:, None]
        return np.asarray(v * c + cross(k, v) * s + k * (v @ k) * (1 - c))

    def at(self, point: Floats) -> Floats:
        """Where a point of the arm stands (n, 3)."""
        return self.arm.hinge[0] + self.turned(point - self.arm.hinge[0])

    def moves(self, place: Floats) -> Floats:
        """How what is at places (n, 3) on the arm moves for each mm of travel (n, 3)."""
        arm = self.arm
        wheel = cross(arm.way, self.at(arm.wheel) - arm.hinge[0])[:, 2]
        return np.asarray(cross(arm.way, place - arm.hinge[0]) / wheel[:, None])


def swing_poses(arm: SwingArm, travel: Floats) -> SwingPoses:
    """The arm at travels of its wheel (n,), mm, by the way it swings from ride height."""
    k, out = arm.way, arm.wheel - arm.hinge[0]
    along = (out @ k) * k
    across = out - along
    a, b = across[2], cross(k, across)[2]
    size = np.hypot(a, b)
    wanted = out[2] + np.asarray(travel, float) - along[2]
    with np.errstate(invalid="ignore"):
        half = np.arcsin(wanted / size)  # a·cos θ + b·sin θ = size·sin(θ + φ)
    start = np.arctan2(a, b)
    return SwingPoses(arm, np.asarray(travel, float), half - start)


@dataclass(frozen=True, eq=False)
class SwingCurves:
    """What the wheel does at each travel (n,); angles rad, lengths mm. camber: positive with the top out; toe_in:
    positive with the front edge in; out, ahead: how far the contact has moved; roll_centre: its height over the ground,
    by the path of the arm's own point at the contact, as of a wheel whose other side mirrors it; anti: how steeply that
    point rises rearward, the tangent of the angle that braking on the arm lifts or holds the car by."""

    camber: Floats
    toe_in: Floats
    out: Floats
    ahead: Floats
    roll_centre: Floats
    anti: Floats


def swing_curves(found: SwingPoses) -> SwingCurves:
    """What the wheel does at each pose. The contact is the lowest point of a thin disc of the tyre's radius."""
    arm, axis = found.arm, found.turned(found.arm.axis)
    contact = _contact(axis, found.at(arm.wheel), arm.radius)
    start = _contact(arm.axis[None], arm.wheel[None], arm.radius)[0]
    path = found.moves(contact)
    return SwingCurves(
        camber=np.arcsin(-axis[:, 2]),
        toe_in=np.arctan2(axis[:, 0], axis[:, 1]),
        out=contact[:, 1] - start[1],
        ahead=contact[:, 0] - start[0],
        roll_centre=contact[:, 1] * path[:, 1] / path[:, 2],
        anti=-path[:, 0] / path[:, 2],
    )


def _contact(axis: Floats, wheel: Floats, radius: float) -> Floats:
    up = np.array([0.0, 0.0, 1.0]) - axis[:, 2:] * axis
    return np.asarray(wheel - radius * up / np.linalg.norm(up, axis=1, keepdims=True))
