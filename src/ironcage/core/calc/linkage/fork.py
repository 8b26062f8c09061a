"""A telescopic fork with one wheel, turned in a steering head: where its wheel goes, rake and trail on the ground.

The legs lie along the steering axis, so sliding in them and turning about it do not disturb each other. The ground is
the plane that touches the fork's wheel and the other axle's, which keeps to ride height: the car noses down as the fork
goes in, and as the wheel turns. x forward, y to the left, z up; mm, rad; turned to the left positive.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.linkage.steering import KingpinWheel
from ironcage.core.calc.vectors import cross

Floats = NDArray[np.float64]
ROUNDS, ENOUGH = 30, 1e-15  # of Newton's method for the slope of the ground, and the step that ends it, rad


@dataclass(frozen=True, eq=False)
class Fork:
    """Hard points at ride height, straight ahead, each (3,). top, low: the head's bearings; wheel: its centre, radius:
    of its tyre; rear: the middle of the other axle, rear_radius: of its tyres; mm."""

    top: Floats
    low: Floats
    wheel: Floats
    radius: float
    rear: Floats
    rear_radius: float

    @cached_property
    def pin(self) -> Floats:
        """Unit vector (3,) along the steering axis, upwards."""
        along = self.top - self.low
        return np.asarray(along / np.linalg.norm(along))

    @property
    def offset(self) -> float:
        """How far the axle lies ahead of the steering axis, square to it, mm."""
        out = self.wheel - self.low
        return float((out - (out @ self.pin) * self.pin) @ np.array([self.pin[2], 0.0, -self.pin[0]]))

    @cached_property
    def stub(self) -> KingpinWheel:
        """The wheel as one that turns about the steering axis."""
        return KingpinWheel(self.low, self.pin, self.low, self.wheel, np.array([0.0, 1.0, 0.0]), self.radius)


@dataclass(frozen=True, eq=False)
class ForkPoses:
    """A fork at travels of its wheel (n,), mm, as it rises in the car straight ahead, turned by angles (m,), rad."""

    fork: Fork
    travel: Floats
    turn: Floats

    @cached_property
    def slide(self) -> Floats:
        """How far the legs have gone in (n,), mm."""
        return np.asarray(self.travel / self.fork.pin[2])

    def at(self, point: Floats) -> Floats:
        """Where a point (3,) that goes with the wheel stands (n, m, 3)."""
        return self.turned(point)[None] + self.slide[:, None, None] * self.fork.pin

    def turned(self, point: Floats) -> Floats:
        """Where a point (3,) that turns with the fork, but does not slide, stands (m, 3)."""
        return self.fork.stub.at(point, self.turn)

    @property
    def axis(self) -> Floats:
        """Where the wheel's axle points, to the left (m, 3)."""
        return self.fork.stub.axis_at(self.turn)


@dataclass(frozen=True, eq=False)
class ForkCurves:
    """What the wheel does at each travel and turn (n, m); angles rad, lengths mm. rake: of the steering axis from
    square to the ground, its top to the rear; trail: from where that axis meets the ground back to the contact, along
    the wheel's heading; steer: of that heading, to the left; leans: the wheel's top, to the left; lifts: how much
    higher the head stands than straight ahead at the same travel; wheelbase: between the contacts, along the car."""

    rake: Floats
    trail: Floats
    steer: Floats
    leans: Floats
    lifts: Floats
    wheelbase: Floats


def fork_curves(found: ForkPoses) -> ForkCurves:
    """What the wheel does at each pose; the contact is where a thin disc of the tyre's radius touches the ground."""
    fork, axis = found.fork, found.axis[None]
    up, contact = _ground(found)
    ahead = np.stack([up[..., 2], up[..., 1], -up[..., 0]], axis=-1)
    along = cross(axis, up)
    along = along / np.linalg.norm(along, axis=-1, keepdims=True)
    meets = fork.low - ((fork.low - contact) * up).sum(-1, keepdims=True) / (up @ fork.pin)[..., None] * fork.pin
    rear = fork.rear - fork.rear_radius * up
    straight = _ground(ForkPoses(fork, found.travel, np.zeros(1)))
    return ForkCurves(
        rake=np.arctan2(-(ahead @ fork.pin), up @ fork.pin),
        trail=((meets - contact) * along).sum(-1),
        steer=np.arctan2(along[..., 1], (along * ahead).sum(-1)),
        leans=-np.arcsin((axis * up).sum(-1)),
        lifts=_height(fork, up, contact) - _height(fork, *straight),
        wheelbase=((contact - rear) * ahead).sum(-1),
    )


def _ground(found: ForkPoses) -> tuple[Floats, Floats]:
    """Upwards from the ground, as a unit vector, and where the wheel touches it, each (n, m, 3)."""
    fork, axis = found.fork, found.axis[None]
    centre = found.at(fork.wheel)
    slope = _slope(fork, centre, axis)
    up = np.stack([np.sin(slope), np.zeros_like(slope), np.cos(slope)], axis=-1)
    flat = up - (axis * up).sum(-1, keepdims=True) * axis
    return up, np.asarray(centre - fork.radius * flat / np.linalg.norm(flat, axis=-1, keepdims=True))


def _height(fork: Fork, up: Floats, contact: Floats) -> Floats:
    """Of the lower bearing over the ground (n, m), mm."""
    return np.asarray(((fork.low - contact) * up).sum(-1))


def _slope(fork: Fork, centre: Floats, axis: Floats) -> Floats:
    """How far the upward direction of the ground leans forward in the car (n, m), rad, so that it touches the fork's
    wheel and the other axle's: Newton's method on how much lower one reaches than the other."""
    apart = centre - fork.rear
    slope = (fork.radius - fork.rear_radius - apart[..., 2]) / apart[..., 0]
    for _ in range(ROUNDS):
        sin, cos = np.sin(slope), np.cos(slope)
        leans = axis[..., 0] * sin + axis[..., 2] * cos
        leans_by = axis[..., 0] * cos - axis[..., 2] * sin
        flat = np.sqrt(1 - leans**2)
        off = apart[..., 0] * sin + apart[..., 2] * cos - fork.radius * flat + fork.rear_radius
        step = off / (apart[..., 0] * cos - apart[..., 2] * sin + fork.radius * leans * leans_by / flat)
        slope = slope - step
        if np.abs(step).max() < ENOUGH:
            break
    return np.asarray(slope)


def head_forces(fork: Fork, at: Floats, force: Floats) -> tuple[Floats, Floats]:
    """What the upper and the lower bearing give to the frame, each (3,) N, for a force (3,) N at a place (3,) mm on the
    wheel; the lower one bears what lies along the axis. What turns the fork about it, the steering holds."""
    length = float(np.linalg.norm(fork.top - fork.low))
    moment = cross(at - fork.low, force)
    top = cross(moment, fork.pin) / length
    return top, force - top
