"""Tube ends: how far the cut stands off the joint along every line of the wall.

A tube end is a bundle of straight lines parallel to the tube's axis, on its outer and on its inner
surface. What it lands on (a round tube, a rectangular one, a mitre plane) tells for each line where it
leaves the receiver on the way into the tube's body. That distance, measured along the axis from the
joint, is the profile; a cut made square through the wall must clear both surfaces, so the further of
the two governs. A hole saw of the receiver's diameter cuts both surfaces exactly.

Frame: `axes` (3, 3) are the tube's x, y, z as rows, x from its first end to its second; distances are
positive into the tube, negative past the joint. Round the tube, positions follow the outline: from +y
towards +z, right-handed about x.
"""

import math
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.sections import AnySection
from ironcage.problem import Problem

Floats = NDArray[np.float64]
LINES = 360  # lines round the wall: one a degree, 0.001 mm of a 50 mm tube's profile lost between two
PARALLEL = math.radians(5)  # flatter than this, two tubes lie side by side and no cope joins them


class Receiver(Protocol):
    """Anything a tube end can land on."""

    def leave(self, origins: Floats, way: Floats) -> tuple[Floats, NDArray[np.bool_]]:
        """Distances (n,) at which lines from origins (n, 3) along the unit `way` (3,) leave it for good, and
        which lines (n,) touch it at all; a line that misses gets the place nearest to it."""
        ...

    def mark(self, way: Floats) -> Floats:
        """The direction (3,) across the tube that a mark for this cut points in."""
        ...


@dataclass(frozen=True)
class Cylinder:
    """A round receiver: a point on its axis (3,), its unit direction (3,), its outer radius, mm."""

    point: Floats
    direction: Floats
    radius: float

    def leave(self, origins: Floats, way: Floats) -> tuple[Floats, NDArray[np.bool_]]:
        """Quadratic |w + t·a| = R, w and a taken across the cylinder's axis; the larger root."""
        w = origins - self.point
        w = w - np.outer(w @ self.direction, self.direction)
        a = way - (way @ self.direction) * self.direction
        aa, b = a @ a, w @ a
        root = b**2 - aa * (np.einsum("ij,ij->i", w, w) - self.radius**2)
        return (-b + np.sqrt(np.maximum(root, 0))) / aa, root >= -1e-9 * aa * self.radius**2

    def mark(self, way: Floats) -> Floats:
        """Along the receiver's axis, on the side that leans towards the tube's body."""
        d = self.direction if self.direction @ way >= 0 else -self.direction
        return d - (d @ way) * way


@dataclass(frozen=True)
class Box:
    """A rectangular receiver: a point on its axis (3,), its axes as rows (3, 3), half width and height, mm."""

    point: Floats
    axes: Floats
    half_y: float
    half_z: float

    def leave(self, origins: Floats, way: Floats) -> tuple[Floats, NDArray[np.bool_]]:
        """Slab by slab: a line is inside between its entries and its exits; the earliest exit is the way out."""
        start, stop = np.full(len(origins), -np.inf), np.full(len(origins), np.inf)
        touches = np.ones(len(origins), dtype=bool)
        for axis, half in ((self.axes[1], self.half_y), (self.axes[2], self.half_z)):
            along, at = way @ axis, (origins - self.point) @ axis
            if abs(along) < 1e-9:
                touches &= np.abs(at) <= half + 1e-9
                continue
            exits = (np.sign(along) * half - at) / along
            start = np.maximum(start, exits - 2 * half / abs(along))
            stop = np.minimum(stop, exits)
        return stop, touches & (start <= stop + 1e-9)

    def mark(self, way: Floats) -> Floats:
        """Along the receiver's axis, on the side that leans towards the tube's body."""
        d = self.axes[0] if self.axes[0] @ way >= 0 else -self.axes[0]
        return d - (d @ way) * way


@dataclass(frozen=True)
class Plane:
    """A flat cut through a point (3,) with a unit normal (3,): a mitre, or a square end."""

    point: Floats
    normal: Floats

    def leave(self, origins: Floats, way: Floats) -> tuple[Floats, NDArray[np.bool_]]:
        """Where each line crosses the plane."""
        return ((self.point - origins) @ self.normal) / (way @ self.normal), np.ones(len(origins), dtype=bool)

    def mark(self, way: Floats) -> Floats:
        """Towards the long side of the tube: where the plane is nearest to the joint's far side."""
        n = self.normal if self.normal @ way >= 0 else -self.normal
        return n - (n @ way) * way


def receiver_of(section: AnySection, axes: Floats, point: Floats) -> Receiver:
    """A tube through a point (3,) on its axis as something to land on; an angle counts as its bounding box."""
    if section.kind == "round":
        return Cylinder(point, axes[0], section.od_mm / 2)
    width, height = section.size
    return Box(point, axes, width / 2, height / 2)


@dataclass(frozen=True)
class Profile:
    """One tube end. Arrays (n,) follow the outline; mm and rad.

    round_mm: developed position on the outer surface. outer, inner: distance of the cut from the joint
    along the axis on each surface. cut: the further of the two. misses: share of the outer lines that do
    not touch the receiver. mark: position angle of the index mark, right-handed about x from y.
    """

    round_mm: Floats
    girth_mm: float
    outer: Floats
    inner: Floats
    misses: float
    mark: float

    @property
    def cut(self) -> Floats:
        """What a cut square through the wall must clear (n,), mm from the joint."""
        return np.maximum(self.outer, self.inner)

    @property
    def tip(self) -> float:
        """Distance of the longest point of the end from the joint, mm; negative past it."""
        return float(self.outer.min())

    @property
    def shoulder(self) -> float:
        """Distance of the deepest point of the end from the joint, mm."""
        return float(self.cut.max())


def end_profile(
    section: AnySection, axes: Floats, joint: Floats, way: float, receiver: Receiver, lines: int = LINES
) -> Profile:
    """The cut of one end of a tube at a joint (3,) on its axis, landing on a receiver.

    `way` is +1 at the tube's first end, −1 at its second.
    """
    into = way * axes[0]
    across = axes[1:]
    outline = section.outline(lines)
    outer, touches = receiver.leave(joint + outline @ across, into)
    inner, _ = receiver.leave(joint + section.outline(lines, inner=True) @ across, into)
    sides = np.linalg.norm(np.diff(np.vstack([outline, outline[:1]]), axis=0), axis=1)
    girth = math.pi * section.size[0] if section.kind == "round" else float(sides.sum())
    around = np.concatenate([[0.0], np.cumsum(sides)[:-1]]) * girth / float(sides.sum())
    pointer = across @ receiver.mark(into)
    mark = math.atan2(pointer[1], pointer[0]) if np.linalg.norm(pointer) > 1e-6 else 0.0
    return Profile(around, girth, outer, inner, float(1 - touches.mean()), mark)


def demand_crossing(way: Floats, direction: Floats) -> float:
    """The acute angle (rad) between a tube and what it lands on; refuses one too flat to cope."""
    angle = math.acos(min(1.0, abs(float(way @ direction))))
    if angle < PARALLEL:
        raise Problem(
            f"The tubes meet at {math.degrees(angle):.1f}°, too flat to cut one to the other.",
            hint="Lap or sleeve them, or move a joint to open the angle.",
        )  # fmt: skip
    return angle


def overhang(
    section: AnySection, axes: Floats, joint: Floats, way: float, receiver: Receiver, outward: Floats
) -> float:
    """How far past the joint, along the receiver's unit `outward` (3,), a tube end's footprint reaches, mm."""
    into = way * axes[0]
    origins = joint + section.outline(72) @ axes[1:]
    distance, touches = receiver.leave(origins, into)
    feet = origins[touches] + distance[touches, None] * into - joint
    return float((feet @ outward).max(initial=0.0))


# Hole saws in common series, mm.
SAWS_MM = (19, 20, 22, 24, 25, 27, 29, 30, 32, 33, 35, 37, 38, 40, 41, 43, 44, 46, 48, 50, 51, 52, 54, 56, 57, 59,
           60, 64, 65, 67, 68, 70, 73, 76, 79, 83, 86, 89, 92, 95, 98, 102, 105, 108, 111, 114)  # fmt: skip


def nearest_saw(od_mm: float) -> float | None:
    """The common hole saw closest to a receiver's outside diameter, mm; None beyond 1 mm of any."""
    saw = min(SAWS_MM, key=lambda s: abs(s - od_mm))
    return float(saw) if abs(saw - od_mm) <= 1.0 else None
