"""The centreline of a tube that is not straight: straight runs joined by bends of one radius, or by sharp folds.

A route is given as a bender's corner points are: where the straight runs would meet. A bend of centre-line radius R
through an angle θ starts and stops R·tan(θ/2) from its corner, and its centreline is R·θ long.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.tubes.segments import distances
from ironcage.problem import Problem
from ironcage.units import said

Floats = NDArray[np.float64]
STRAIGHT = math.radians(0.05)  # a smaller change of direction is no bend
FOLDED_BACK = math.radians(179)
STEP = 2 * math.acos(1 - 0.005)  # the largest angle of a chord that strays 0.5 % of the radius from its arc
CLOSE_MM = 1e-6
SAME_PLACE_MM = 1e-3
FACING = 1 - 1e-6


@dataclass(frozen=True)
class CentrelineBend:
    """One bend. start, stop: how far along the centreline it begins and ends, mm; angle: how far it turns, rad;
    clock: how far its plane is turned from the last bend's, clockwise looking along the tube, rad; axis: what it
    turns about, into, out: the tube's directions before and after (3,)."""

    start: float
    stop: float
    angle: float
    clock: float
    axis: Floats
    into: Floats
    out: Floats

    def clocked(self, before: CentrelineBend | None) -> float:
        """How far this bend's plane is turned from that of the one before, clockwise looking along the tube, rad; 0
        for the first."""
        if before is None:
            return 0.0
        return math.atan2(float(np.cross(before.axis, self.axis) @ self.into), float(before.axis @ self.axis))

    def reversed(self, length: float) -> CentrelineBend:
        """The same bend of a tube of that length (mm), looked at from its other end."""
        return CentrelineBend(
            length - self.stop, length - self.start, self.angle, 0.0, -self.axis, -self.out, -self.into
        )


@dataclass(frozen=True, eq=False)
class Route:
    """A centreline. points (n, 3): both ends and the corners between, mm; radius: of the bends, 0 for sharp folds."""

    points: Floats
    radius: float = 0.0

    @cached_property
    def _ways(self) -> Floats:
        legs = np.diff(self.points, axis=0)
        return legs / np.maximum(np.linalg.norm(legs, axis=1, keepdims=True), 1e-12)

    @cached_property
    def _legs(self) -> Floats:
        return np.linalg.norm(np.diff(self.points, axis=0), axis=1)

    @cached_property
    def angles(self) -> Floats:
        """How far the tube turns at each corner (n − 2,), rad; 0 where that is too little to be a bend."""
        if len(self.points) == 2:  # most tubes of a frame are straight
            return np.zeros(0)
        cosines = np.einsum("ij,ij->i", self._ways[:-1], self._ways[1:])
        crossed = np.linalg.norm(np.cross(self._ways[:-1], self._ways[1:]), axis=1)
        turns = np.arctan2(crossed, cosines)
        return np.where(turns < STRAIGHT, 0.0, turns)

    @cached_property
    def tangents(self) -> Floats:
        """What each corner takes of the runs beside it (n − 2,), mm: R·tan(θ/2)."""
        return self.radius * np.tan(np.minimum(self.angles, FOLDED_BACK) / 2)

    @cached_property
    def runs(self) -> Floats:
        """What is left straight of each run between its bends (n − 1,), mm; negative where two bends would overlap."""
        taken = np.concatenate([[0.0], self.tangents, [0.0]])
        return self._legs - taken[:-1] - taken[1:]

    @cached_property
    def straights(self) -> Floats:
        """What is straight before, between and after the bends (bends + 1,), mm; runs that meet in line are one."""
        starts = np.flatnonzero(np.concatenate([[True], self.angles > 0]))
        return np.add.reduceat(self.runs, starts)

    @cached_property
    def bends(self) -> tuple[CentrelineBend, ...]:
        """Every bend in order from the first end."""
        found: list[CentrelineBend] = []
        along = 0.0
        for n, angle in enumerate(self.angles):
            along += self.runs[n]
            if angle == 0:
                continue
            axis = np.cross(self._ways[n], self._ways[n + 1])
            made = CentrelineBend(
                along,
                along + self.radius * float(angle),
                float(angle),
                0.0,
                axis / np.linalg.norm(axis),
                self._ways[n],
                self._ways[n + 1],
            )
            found.append(replace(made, clock=made.clocked(found[-1] if found else None)))
            along += self.radius * float(angle)
        return tuple(found)

    @cached_property
    def line(self) -> Floats:
        """The centreline (k, 3) as points near enough that no chord strays more than 0.5 % of the radius from its
        bend."""
        made = [self.points[0]]
        for n, angle in enumerate(self.angles):
            corner, tangent = self.points[n + 1], self.tangents[n]
            if angle == 0 or self.radius == 0:
                made.append(corner)
                continue
            start, into = corner - tangent * self._ways[n], self._ways[n]
            sideways = self._ways[n + 1] - (self._ways[n + 1] @ into) * into
            sideways = sideways / np.linalg.norm(sideways)
            turned = np.linspace(0.0, angle, max(2, math.ceil(angle / STEP) + 1))[:, None]
            made.extend(start + self.radius * (np.sin(turned) * into + (1 - np.cos(turned)) * sideways))
        made.append(self.points[-1])
        line = np.array(made)
        keep = np.concatenate([[True], np.linalg.norm(np.diff(line, axis=0), axis=1) > CLOSE_MM])
        if not keep[-1] and len(line) > 1:
            keep[-1], keep[np.flatnonzero(keep)[-1]] = True, keep.sum() == 1
        return np.asarray(line[keep])

    @cached_property
    def length(self) -> float:
        """Along the centreline from end to end, mm, bends as true arcs."""
        return float(self.runs.sum() + self.radius * self.angles.sum())

    @cached_property
    def distances(self) -> Floats:
        """How far along the centreline each point of `line` is (k,), mm, chords scaled to the true length."""
        steps = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(self.line, axis=0), axis=1))])
        return steps * (self.length / steps[-1]) if steps[-1] else steps

    def at(self, along: float) -> tuple[Floats, Floats]:
        """The place (3,) and direction (3,) at a distance along the centreline, mm."""
        left = float(np.clip(along, 0.0, self.length))
        for n in range(len(self._legs)):
            head = self.tangents[n - 1] if n else 0.0
            last = n == len(self._legs) - 1
            if left <= self.runs[n] + CLOSE_MM or last:
                return self.points[n] + (head + min(left, self.runs[n])) * self._ways[n], self._ways[n]
            left -= self.runs[n]
            arc = self.radius * self.angles[n]
            if left < arc:
                into = self._ways[n]
                sideways = self._ways[n + 1] - (self._ways[n + 1] @ into) * into
                sideways = sideways / np.linalg.norm(sideways)
                turned = left / self.radius
                start = self.points[n + 1] - self.tangents[n] * into
                return (
                    start + self.radius * (math.sin(turned) * into + (1 - math.cos(turned)) * sideways),
                    math.cos(turned) * into + math.sin(turned) * sideways,
                )
            left -= arc
        raise AssertionError("a route has at least one run")

    def nearest(self, place: Floats) -> float:
        """How far along the centreline it comes nearest to a place (3,), mm: on its chords, then once more on the
        true arc."""
        a, way = self.line[:-1], np.diff(self.line, axis=0)
        share = np.clip(
            np.einsum("ij,ij->i", place - a, way) / np.maximum(np.einsum("ij,ij->i", way, way), 1e-12), 0, 1
        )
        n = int(np.linalg.norm(a + share[:, None] * way - place, axis=1).argmin())
        along = float(self.distances[n] + share[n] * (self.distances[n + 1] - self.distances[n]))
        for _ in range(3):  # Newton along the tangent, which settles within an arc of one chord
            at, tangent = self.at(along)
            along = float(np.clip(along + (place - at) @ tangent, 0.0, self.length))
        return along

    def split(self, along: float) -> tuple[Route, Route]:
        """The two routes before and after a distance along this one, which together are the same centreline.

        Cut within a bend, each part keeps its share of the arc: its own corner, R·tan(φ/2) from the cut.
        """
        place, way = self.at(along)
        left = along
        before, after = [self.points[0]], [self.points[-1]]
        for n, angle in enumerate(self.angles):
            left -= self.runs[n]
            arc, corner = self.radius * float(angle), self.points[n + 1]
            if abs(left) <= CLOSE_MM and arc <= CLOSE_MM:  # at a fold: both parts end there
                after[-1:-1] = list(self.points[n + 2 : -1])
                break
            if left >= arc - CLOSE_MM:
                before.append(corner)
                left -= arc
            elif left <= CLOSE_MM:
                after[-1:-1] = list(self.points[n + 1 : -1])
                break
            else:
                before.append(place - self.radius * math.tan(left / self.radius / 2) * way)
                after[-1:-1] = [
                    place + self.radius * math.tan((arc - left) / self.radius / 2) * way,
                    *self.points[n + 2 : -1],
                ]
                break
        return Route(np.array([*before, place]), self.radius), Route(np.array([place, *after]), self.radius)

    def carried(self, across: Floats) -> tuple[Floats, Floats]:
        """A direction across the tube at its first end (3,) carried along each chord of `line` (k − 1, 3) with no
        twist, as a bent tube carries its seam; and the chords' directions (k − 1, 3)."""
        chords = np.diff(self.line, axis=0)
        ways = chords / np.linalg.norm(chords, axis=1, keepdims=True)
        made = [across - (across @ ways[0]) * ways[0]]
        made[0] = made[0] / np.linalg.norm(made[0])
        for before, here in pairwise(ways):
            made.append(_turned(made[-1], before, here))
        return np.array(made), ways


def from_card(straights: Sequence[float], turns: Sequence[tuple[float, float]], radius: float) -> Route:
    """The centreline that a bend card makes: what is straight before, between and after the bends, mm, and how far each
    bend turns and how far its plane is clocked from the last one's, clockwise looking along the tube, rad.

    It starts at the origin along x, and its first bend is towards y. The inverse of `Route.straights` and
    `Route.bends`.
    """
    at, way, axis = np.zeros(3), np.array([1.0, 0.0, 0.0]), np.array([0.0, 0.0, 1.0])
    points, tangent = [at], 0.0
    for straight, (angle, clock) in zip(straights, turns, strict=False):
        if len(points) > 1:
            axis = _about(axis, way, clock)
        reach = radius * math.tan(angle / 2)
        at = at + way * (tangent + straight + reach)
        points.append(at)
        way, tangent = _about(way, axis, angle), reach
    points.append(at + way * (tangent + straights[-1]))
    return Route(np.array(points), radius)


def _about(vector: Floats, axis: Floats, angle: float) -> Floats:
    """A vector turned about a unit axis (Rodrigues)."""
    turned = vector * math.cos(angle) + np.cross(axis, vector) * math.sin(angle)
    return turned + axis * float(axis @ vector) * (1 - math.cos(angle))


def _turned(vector: Floats, before: Floats, here: Floats) -> Floats:
    """A vector turned as the least turn that takes one unit direction into another does (Rodrigues)."""
    axis = np.cross(before, here)
    cosine = float(before @ here)
    return vector * cosine + np.cross(axis, vector) + axis * float(axis @ vector) / max(1 + cosine, 1e-9)


def demand_bendable(route: Route, name: str, grip: float = 0.0) -> None:
    """Refuse corners in one place or too close for the bends' radius, and a tube folded back on itself.

    grip: the straight that the bender needs between two bends, mm.
    """
    ends = ("its first end", *(f"corner {n + 1}" for n in range(len(route.angles))), "its second end")
    if route._legs.min() < SAME_PLACE_MM:
        if len(route._legs) == 1:
            raise Problem(f"{name} has no length.", where=name, hint="Its ends are in one place.")
        n = int(route._legs.argmin())
        raise Problem(
            f"{name}: {ends[n]} and {ends[n + 1]} are in one place.",
            where=name,
            hint="Leave one of them out, or move it.",
        )
    for n, angle in enumerate(route.angles):
        if angle > FOLDED_BACK:
            raise Problem(f"{name} turns back on itself at its corner {n + 1}.", where=name, hint="Move that corner.")
    short = int(np.argmin(route.runs - np.where(_between(route), grip, 0.0)))
    need = grip if _between(route)[short] else 0.0
    if route.runs[short] < need - CLOSE_MM * 1e3:
        leg = float(route._legs[short])
        wanted = leg - float(route.runs[short]) + need
        fits = _largest_radius(route, short, need)
        raise Problem(
            f"{name}: {ends[short]} and {ends[short + 1]} are {said.length(leg)} apart, and bends of "
            f"{said.size(route.radius)} radius need {said.length(wanted)} there"
            f"{f', {said.size(grip)} of it straight for the bender' if need else ''}.",
            where=name,
            hint=f"A radius of {said.whole(fits)} or less would fit, or move the corners apart."
            if fits >= 1
            else "Move the corners apart.",
        )


def _between(route: Route) -> NDArray[np.bool_]:
    """Which runs have a bend at either side."""
    return np.array([0 < n < len(route._legs) - 1 for n in range(len(route._legs))])


def _largest_radius(route: Route, run: int, need: float) -> float:
    halves = np.concatenate([[0.0], np.tan(route.angles / 2), [0.0]])
    return float((route._legs[run] - need) / max(halves[run] + halves[run + 1], 1e-9))


def nearest_pass(route: Route) -> float:
    """How near the centreline comes to itself, between runs that do not follow each other, mm; infinite when it has
    fewer than three.

    Where two runs are nearest at the ends that face each other along the tube, it is the run between them that is
    short, and it does not count.
    """
    starts, stops = route.points[:-1], route.points[1:]
    pairs = [(n, m) for n in range(len(starts)) for m in range(n + 2, len(starts))]
    if not pairs:
        return math.inf
    one, two = np.array(pairs).T
    gaps, s, t = distances(starts[one], stops[one], starts[two], stops[two])
    return float(np.where((s > FACING) & (t < 1 - FACING), np.inf, gaps).min())
