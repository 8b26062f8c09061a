"""Tube ends: how far the cut stands off the joint along every line of the wall.

A tube end is a bundle of straight lines parallel to the tube's axis, on its outer and on its inner
surface. What it lands on (a round tube, a rectangular one, a mitre plane) tells for each line where it
leaves the receiver on the way into the tube's body. That distance, measured along the axis from the
joint, is the profile; a cut made square through the wall must clear both surfaces, so the further of
the two governs. A hole saw of the receiver's diameter cuts both surfaces exactly.

Two lengths follow from it. The saddle tip is what a hole saw leaves: the furthest point of the outer wall, feather
edges
included; lines that miss the receiver have no cut and do not count. The template tip is what is left by a cut square
through
the wall along the paper, which clears both surfaces. Both, and the shoulder, are looked for between the lines too.

Frame: `axes` (3, 3) are the tube's x, y, z as rows, x from its first end to its second; distances are
positive into the tube, negative past the joint. Round the tube, positions follow the outline: from +y
towards +z, right-handed about x.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.sections import AnySection
from ironcage.problem import Problem

Floats = NDArray[np.float64]
LINES = 360  # lines round the wall: one a degree, 0.001 mm of a 50 mm tube's profile lost between two
TOUCH_MM = 1e-9  # a line that passes no further beside a surface touches it
FLAT_MM, SETTLED_MM = 1e-9, 2e-5
BETWEEN = 33  # places looked at between two lines' neighbours, once more at each round
ROUNDS = 8  # each 16 times finer: from a third of a millimetre to 1e-10 mm round the tube
PARALLEL = math.radians(5)  # flatter than this, two tubes lie side by side and no cope joins them


class Receiver(Protocol):
    """Anything a tube end can land on."""

    def leave(self, origins: Floats, way: Floats) -> tuple[Floats, Floats]:
        """Distances (n,) at which lines from origins (n, 3) along the unit `way` (3,) leave it for good, and by how
        much each
        line (n,) passes beside it, mm, 0 where it touches; a line that misses gets the place nearest to it."""
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

    def leave(self, origins: Floats, way: Floats) -> tuple[Floats, Floats]:
        """Quadratic |w + t·a| = R, w and a taken across the cylinder's axis; the larger root."""
        w = origins - self.point
        w = w - np.outer(w @ self.direction, self.direction)
        a = way - (way @ self.direction) * self.direction
        aa, b = a @ a, w @ a
        nearest = np.einsum("ij,ij->i", w, w) - b**2 / aa  # squared distance from the axis at its nearest
        beside = np.sqrt(np.maximum(nearest, 0)) - self.radius
        inside = np.sqrt(np.maximum((self.radius**2 - nearest) / aa, 0))
        return -b / aa + inside, np.where(beside > TOUCH_MM, beside, 0.0)

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

    def leave(self, origins: Floats, way: Floats) -> tuple[Floats, Floats]:
        """Slab by slab: a line is inside between its entries and its exits; the earliest exit is the way out. A line
        that misses is
        nearest to one of the four edges."""
        start, stop = np.full(len(origins), -np.inf), np.full(len(origins), np.inf)
        flat, across = (origins - self.point) @ self.axes[1:].T, self.axes[1:] @ way
        half = np.array([self.half_y, self.half_z])
        touches = np.ones(len(origins), dtype=bool)
        for at, along, reach in zip(flat.T, across, half, strict=True):
            if abs(along) < 1e-9:
                touches &= np.abs(at) <= reach + TOUCH_MM
                continue
            exits = (np.sign(along) * reach - at) / along
            start = np.maximum(start, exits - 2 * reach / abs(along))
            stop = np.minimum(stop, exits)
        touches &= start <= stop + TOUCH_MM
        beside = np.zeros(len(origins))
        if not touches.all():
            missing = flat[~touches, None] - half * np.array([[1, 1], [-1, 1], [-1, -1], [1, -1]])  # (m, 4, 2)
            aa = across @ across
            off = np.abs(missing @ np.array([-across[1], across[0]])) / math.sqrt(aa)
            beside[~touches] = off.min(axis=1)
            stop[~touches] = _last_nearest(-(missing @ across) / aa, off)
        return stop, beside

    def mark(self, way: Floats) -> Floats:
        """Along the receiver's axis, on the side that leans towards the tube's body."""
        d = self.axes[0] if self.axes[0] @ way >= 0 else -self.axes[0]
        return d - (d @ way) * way


def _last_nearest(stops: Floats, beside: Floats) -> Floats:
    """Of several places (n, k) that each line passes, the nearest (n,); the last of those that are equally near, as
    along a flat side."""
    return np.where(beside <= beside.min(axis=1, keepdims=True) + 1e-6, stops, -np.inf).max(axis=1)


@dataclass(frozen=True)
class Together:
    """Several shapes as one receiver, the first of which tells where its mark points: a box with rounded corners, an
    angle's two legs."""

    parts: tuple[Receiver, ...]

    def leave(self, origins: Floats, way: Floats) -> tuple[Floats, Floats]:
        """The last way out of any that a line touches; where it misses all, the place nearest to one of them."""
        each = [part.leave(origins, way) for part in self.parts]
        stops, beside = np.array([e[0] for e in each]), np.array([e[1] for e in each])
        last = np.where(beside == 0, stops, -np.inf).max(axis=0)
        return np.where(np.isfinite(last), last, _last_nearest(stops.T, beside.T)), beside.min(axis=0)

    def mark(self, way: Floats) -> Floats:
        """As its first part's."""
        return self.parts[0].mark(way)


@dataclass(frozen=True)
class Plane:
    """A flat cut through a point (3,) with a unit normal (3,): a mitre, or a square end."""

    point: Floats
    normal: Floats

    def leave(self, origins: Floats, way: Floats) -> tuple[Floats, Floats]:
        """Where each line crosses the plane."""
        return ((self.point - origins) @ self.normal) / (way @ self.normal), np.zeros(len(origins))

    def mark(self, way: Floats) -> Floats:
        """Towards the long side of the tube: where the plane is nearest to the joint's far side."""
        n = self.normal if self.normal @ way >= 0 else -self.normal
        return n - (n @ way) * way


def receiver_of(section: AnySection, axes: Floats, point: Floats) -> Receiver:
    """A tube through a point (3,) on its axis as something to land on: its true outer surface, rounded corners and
    both legs of an angle."""
    if section.kind == "round":
        return Cylinder(point, axes[0], section.od_mm / 2)

    def box(y: float, z: float, half_y: float, half_z: float) -> Box:
        return Box(point + y * axes[1] + z * axes[2], axes, half_y, half_z)

    if section.kind == "angle":
        (a, b), t, (cy, cz) = section.size, section.wall_mm, section.centroid
        return Together((box(a / 2 - cy, t / 2 - cz, a / 2, t / 2), box(t / 2 - cy, b / 2 - cz, t / 2, b / 2)))
    y, z, r = section.width_mm / 2, section.height_mm / 2, section.corner_mm
    if r == 0:
        return box(0, 0, y, z)
    corners = [
        Cylinder(point + u * (y - r) * axes[1] + v * (z - r) * axes[2], axes[0], r) for u in (1, -1) for v in (1, -1)
    ]
    return Together((box(0, 0, y, z - r), box(0, 0, y - r, z), *corners))


@dataclass(frozen=True)
class Profile:
    """One tube end. Arrays (n,) follow the outline; mm and rad.

    round_mm: developed position on the outer surface. outer, inner: distance of the cut from the joint along the axis
    on each
    surface, inner square through the wall from outer. cut: what a cut square through the wall must clear. misses:
    share of
    the outer lines that do not touch the receiver. mark: position angle of the index mark, right-handed about x from y.
    saddle_tip, template_tip: the furthest point of a hole saw's cut and of a cut along the paper; shoulder: the deepest
    point of both; distances from the joint, negative past it.
    """

    round_mm: Floats
    girth_mm: float
    outer: Floats
    inner: Floats
    cut: Floats
    misses: float
    mark: float
    saddle_tip: float
    template_tip: float
    shoulder: float

    @property
    def bar(self) -> float:
        """Where a bar that both cuts can be made from ends, squarely, mm from the joint."""
        return min(self.saddle_tip, self.template_tip)


def end_profile(
    section: AnySection, axes: Floats, joint: Floats, way: float, receiver: Receiver, lines: int = LINES
) -> Profile:
    """The cut of one end of a tube at a joint (3,) on its axis, landing on a receiver.

    `way` is +1 at the tube's first end, −1 at its second. `lines`: at how many even steps round the tube the arrays are
    given, besides its corners; tips and shoulder do not depend on it.
    """
    into, across = way * axes[0], axes[1:]

    def walls(points: Floats, normals: Floats) -> tuple[Floats, Floats, Floats, NDArray[np.bool_]]:
        """Inner and outer surface, the cut that clears both, and which outer lines touch."""
        outer, beside = receiver.leave(joint + points @ across, into)
        inner, beside_inner = receiver.leave(joint + section.inside(points, normals) @ across, into)
        one_lands = (beside > 0) != (beside_inner > 0)
        cut = np.where(one_lands, np.where(beside > 0, inner, outer), np.maximum(outer, inner))
        return inner, outer, cut, beside == 0

    contour = section.contour
    around, points, normals = contour.lines(lines)
    inner, outer, cut, touches = walls(points, normals)
    looked, *there = contour.lines(max(lines, LINES))
    values = _tips(outer, cut, touches) if lines >= LINES else _tips(*walls(*there)[1:])
    saddle, template, shoulder = _least(lambda s: _tips(*walls(*contour.at(s))[1:]), looked, values, contour.girth)
    pointer = across @ receiver.mark(into)
    mark = math.atan2(pointer[1], pointer[0]) if np.linalg.norm(pointer) > 1e-6 else 0.0
    return Profile(
        around, contour.girth, outer, inner, cut, float(1 - touches.mean()), mark,
        float(saddle if math.isfinite(saddle) else template), float(template), float(-shoulder),
    )  # fmt: skip


def _tips(outer: Floats, cut: Floats, touches: NDArray[np.bool_]) -> Floats:
    """The three curves (3, n) whose least values are the saddle tip, the template tip and, negative, the shoulder."""
    return np.stack([np.where(touches, outer, np.inf), cut, -cut])


def _least(curves: Callable[[Floats], Floats], around: Floats, found: Floats, girth: float) -> Floats:
    """The least value (k,) of each of k curves, known at `around` (n,) as `found` (k, n), looked for between its
    neighbours there.

    Every place lower than a neighbour that could win is looked at again, more finely each time, until nothing changes
    by SETTLED_MM. A curve
    may end where lines start to miss (infinite beyond); its end is closed in on as well.
    """
    before, after = np.roll(found, 1, axis=1), np.roll(found, -1, axis=1)
    least = found.min(axis=1)
    with np.errstate(invalid="ignore"):  # infinite less infinite, of places that miss
        rise = np.maximum(before, after) - found
        low = (found <= np.minimum(before, after)) & (rise > FLAT_MM) & (found - least[:, None] <= rise + FLAT_MM)
    row, column = np.nonzero(low)
    if not row.size:
        return least
    start = np.roll(around, 1)[column] - np.where(column == 0, girth, 0.0)
    stop = np.roll(around, -1)[column] + np.where(column == len(around) - 1, girth, 0.0)
    known, each = found[row, column], np.arange(len(row))
    for _ in range(ROUNDS):
        grid = start[:, None] + (stop - start)[:, None] * np.linspace(0, 1, BETWEEN)
        values = curves(grid.ravel()).reshape(len(found), len(row), BETWEEN)[row, each]
        best = values.argmin(axis=1)
        gained = known - values[each, best]
        known = np.minimum(known, values[each, best])
        start, stop = grid[each, np.maximum(best - 1, 0)], grid[each, np.minimum(best + 1, BETWEEN - 1)]
        if gained.max() < SETTLED_MM:
            break
    np.minimum.at(least, row, known)
    return least


def demand_crossing(way: Floats, direction: Floats) -> float:
    """The acute angle (rad) between a tube and what it lands on; refuses one too flat to cope."""
    angle = math.acos(min(1.0, abs(float(way @ direction))))
    if angle < PARALLEL:
        raise Problem(
            f"The tubes meet at {math.degrees(angle):.1f}°, too flat to cut one to the other.",
            hint="Lap or sleeve them, or move a joint to open the angle.",
        )  # fmt: skip
    return angle


SHALLOW = math.radians(25)  # flatter than this a joint is hard to weld and to cut


def cautions(angle: float, misses: float, onto: str) -> tuple[str, ...]:
    """What to know of a cut: how much of it lands on nothing, and whether it is too shallow (rad) to cut and weld
    well."""
    found = []
    if misses > 0.001:
        found.append(f"wider than {onto}: {misses:.0%} of the way round lands on nothing")
    if angle < SHALLOW:
        found.append(f"only {math.degrees(angle):.0f}° to {onto}: hard to cut and to weld")
    return tuple(found)


def overhang(
    section: AnySection, axes: Floats, joint: Floats, way: float, receiver: Receiver, outward: Floats
) -> float:
    """How far past the joint, along the receiver's unit `outward` (3,), a tube end's footprint reaches, mm."""
    into = way * axes[0]
    origins = joint + section.contour.lines(LINES)[1] @ axes[1:]
    distance, beside = receiver.leave(origins, into)
    touches = beside == 0
    feet = origins[touches] + distance[touches, None] * into - joint
    return float((feet @ outward).max(initial=0.0))


# Hole saws in common series, mm.
SAWS_MM = (19, 20, 22, 24, 25, 27, 29, 30, 32, 33, 35, 37, 38, 40, 41, 43, 44, 46, 48, 50, 51, 52, 54, 56, 57, 59,
           60, 64, 65, 67, 68, 70, 73, 76, 79, 83, 86, 89, 92, 95, 98, 102, 105, 108, 111, 114)  # fmt: skip


def nearest_saw(od_mm: float) -> float | None:
    """The common hole saw closest to a receiver's outside diameter, mm; None beyond 1 mm of any."""
    saw = min(SAWS_MM, key=lambda s: abs(s - od_mm))
    return float(saw) if abs(saw - od_mm) <= 1.0 else None
