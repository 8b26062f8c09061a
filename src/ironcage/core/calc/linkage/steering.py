"""Wheels steered about kingpins by tie rods, and what the angles of both make of a turn.

A stub axle turns about its kingpin until its steering arm is as far from the tie rod's inner end as the rod is long:
A·cos θ + B·sin θ = C, closed exactly. Angles to the left positive; x forward, y to the left, z up; mm, rad.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.vectors import cross

Floats = NDArray[np.float64]
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


@dataclass(frozen=True, eq=False)
class Steered:
    """A stub axle that is turned (n,). turn: about its kingpin, to the left; steer: how its wheel heads, from above;
    camber: positive with the wheel's top out of the car's middle; rise: of the car there as the wheel stands on the
    ground; nan where the rod does not reach."""

    turn: Floats
    steer: Floats
    camber: Floats
    rise: Floats


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
    axis = _turned(np.broadcast_to(stub.axis, inner.shape), stub.pin, turn)
    wheel = stub.kingpin + _turned(np.broadcast_to(stub.wheel - stub.kingpin, inner.shape), stub.pin, turn)
    up = np.array([0.0, 0.0, 1.0]) - axis[..., 2:] * axis
    contact = wheel[..., 2] - stub.radius * np.linalg.norm(up, axis=-1)
    side = 1.0 if stub.wheel[1] >= 0 else -1.0
    at_rest = stub.wheel[2] - stub.radius * float(np.hypot(stub.axis[0], stub.axis[1]))
    return Steered(turn, np.arctan2(-axis[..., 0], axis[..., 1]), -side * np.arcsin(axis[..., 2]), at_rest - contact)


def _wrapped(angle: Floats) -> Floats:
    return (angle + np.pi) % (2 * np.pi) - np.pi


def _turned(v: Floats, pin: Floats, angle: Floats) -> Floats:
    """Vectors (n, 3) turned about a unit vector by angles (n,)."""
    c, s = np.cos(angle)[..., None], np.sin(angle)[..., None]
    return np.asarray(v * c + cross(np.broadcast_to(pin, v.shape), v) * s + pin * (v @ pin)[..., None] * (1 - c))


@dataclass(frozen=True)
class Turn:
    """What the angles of both front wheels make of a turn. inner, outer: how far each steers, rad; ackermann: how much
    of the difference that lets both roll on one centre is there, 1 for all of it, nan straight ahead; circle: the
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
    share = (inner - outer) / (wanted - outer)
    return Turn(inner, outer, float(share), 2 * wheelbase / float(np.sin(outer)))
