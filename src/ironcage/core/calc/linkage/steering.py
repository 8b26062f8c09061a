"""Wheels steered about kingpins by tie rods, and what the angles of both make of a turn.

A stub axle turns about its kingpin until its steering arm is as far from the tie rod's inner end as the rod is long:
A·cos θ + B·sin θ = C, closed exactly. Angles to the left positive; x forward, y to the left, z up; mm, rad.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.vectors import cross

Floats = NDArray[np.float64]
MIRROR = np.array([1.0, -1.0, 1.0])
STRAIGHT = 1e-6  # rad: a wheel that steers less goes straight ahead


@dataclass(frozen=True, eq=False)
class KingpinWheel:
    """A stub axle straight ahead, each (3,). kingpin: a place on its axis, pin: unit vector along it, upwards; arm: the
    end of its steering arm; wheel: its wheel's centre; axis: unit vector along its axle, to the left; radius: of the
    tyre where it stands, mm."""

    kingpin: Floats
    pin: Floats
    arm: Floats
    wheel: Floats
    axis: Floats
    radius: float

    @property
    def mirrored(self) -> KingpinWheel:
        """The stub axle of the other side."""
        return KingpinWheel(
            self.kingpin * MIRROR,
            self.pin * MIRROR,
            self.arm * MIRROR,
            self.wheel * MIRROR,
            self.axis * np.array([-1.0, 1.0, -1.0]),
            self.radius,
        )

    @property
    def contact_height(self) -> float:
        """Of the tyre's lowest point, straight ahead, mm."""
        return float(self.wheel[2]) - self.radius * math.hypot(self.axis[0], self.axis[1])

    def at(self, point: Floats, turn: Floats) -> Floats:
        """Where a point (3,) of the stub axle stands (n, 3) at turns about its kingpin (n,)."""
        from_pin = np.broadcast_to(point - self.kingpin, (*turn.shape, 3))
        return self.kingpin + _turned(from_pin, self.pin, turn)

    def axis_at(self, turn: Floats) -> Floats:
        """Where its axle points, to the left (n, 3)."""
        return _turned(np.broadcast_to(self.axis, (*turn.shape, 3)), self.pin, turn)


@dataclass(frozen=True, eq=False)
class Steered:
    """A stub axle that is turned (n,). turn: about its kingpin, to the left; steer: how its wheel heads, from above;
    camber: positive with the wheel's top out of the car's middle; rise: of the car there as the wheel stands on the
    ground; contact (n, 3): the tyre's lowest point; nan where the rod does not reach."""

    turn: Floats
    steer: Floats
    camber: Floats
    rise: Floats
    contact: Floats


def steered(stub: KingpinWheel, inner: Floats, length: float) -> Steered:
    """A stub axle for inner ends of its tie rod (n, 3) and the rod's length, mm."""
    arm = stub.arm - stub.kingpin
    along = (arm @ stub.pin) * stub.pin
    across = arm - along
    beside = cross(stub.pin, across)
    from_pin = inner - stub.kingpin
    a, b = from_pin @ across, from_pin @ beside
    c = ((from_pin**2).sum(axis=-1) + arm @ arm - length**2) / 2 - from_pin @ along
    size = np.hypot(a, b)
    with np.errstate(invalid="ignore", divide="ignore"):
        half = np.arccos(c / size)
    middle = np.arctan2(b, a)
    ways = np.stack([_wrapped(middle + half), _wrapped(middle - half)])
    turn = np.where(np.abs(ways[0]) <= np.abs(ways[1]), ways[0], ways[1])
    axis, wheel = stub.axis_at(turn), stub.at(stub.wheel, turn)
    up = np.array([0.0, 0.0, 1.0]) - axis[..., 2:] * axis
    contact = wheel - stub.radius * up / np.linalg.norm(up, axis=-1, keepdims=True)
    side = 1.0 if stub.wheel[1] >= 0 else -1.0
    return Steered(
        turn,
        np.arctan2(-axis[..., 0], axis[..., 1]),
        -side * np.arcsin(axis[..., 2]),
        stub.contact_height - contact[..., 2],
        contact,
    )


def swung(point: Floats, pivot: Floats, way: Floats, angle: Floats) -> Floats:
    """Where a point (3,) of a drop arm stands (n, 3), turned to the left by angles (n,) about the unit `way` (3,)
    through its pivot (3,)."""
    return pivot + _turned(np.broadcast_to(point - pivot, (*angle.shape, 3)), way, angle)


def _wrapped(angle: Floats) -> Floats:
    return (angle + np.pi) % (2 * np.pi) - np.pi


def _turned(v: Floats, pin: Floats, angle: Floats) -> Floats:
    """Vectors (n, 3) turned about a unit vector by angles (n,)."""
    c, s = np.cos(angle)[..., None], np.sin(angle)[..., None]
    return np.asarray(v * c + cross(np.broadcast_to(pin, v.shape), v) * s + pin * (v @ pin)[..., None] * (1 - c))


@dataclass(frozen=True)
class Turn:
    """What the angles of both front wheels make of a turn. inner, outer: how far each steers, rad; ackermann: how much
    of the difference that lets both roll on one centre is there, 1 for all of it, nan straight ahead and without a
    track; circle: the
    diameter that the outer tyre's middle runs on, mm, without slip, infinite straight ahead."""

    inner: float
    outer: float
    ackermann: float
    circle: float


def turn_of(left: float, right: float, track: float, wheelbase: float) -> Turn:
    """The turn of a left and a right front wheel that steer to the left by some angles (rad), their contacts a track
    apart, the wheelbase behind them (mm). Rolling on one centre on the rear axle's line, cot(outer) − cot(inner) is the
    track by the wheelbase."""
    to_left = left + right >= 0
    inner, outer = (left, right) if to_left else (-right, -left)
    if outer < STRAIGHT or inner < STRAIGHT:
        return Turn(inner, outer, float("nan"), float("inf"))
    wanted = np.arctan2(1.0, 1.0 / np.tan(outer) - track / wheelbase)
    share = (inner - outer) / (wanted - outer) if track else float("nan")
    return Turn(inner, outer, float(share), 2 * wheelbase / float(np.sin(outer)))
