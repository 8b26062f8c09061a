"""The outline of a section: its outer surface by distance round it.

Every step that needs the surface of a tube takes it from here: what a cut lands on and wraps round, what a saddle
carries, what a part may clash with.
"""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
TOUCH_MM = 1e-9  # a line that passes no further beside an outline touches it


@dataclass(frozen=True, eq=False)
class Silhouette:
    """The side of an outline by which lines of one direction leave it for good.

    Each place has how far it is aside, to the left of the section's middle, and how far along, mm. low, high: the least
    and the greatest aside. flats (4, k): where each straight run starts and stops aside, how far along it starts, its
    slope. arcs (5, k): where each starts and stops aside, its centre aside and along, its radius.
    """

    low: float
    high: float
    flats: Floats
    arcs: Floats


class Silhouettes:
    """Many sides of outlines (n), the same one told once. Those with as many runs and arcs are worked out together."""

    def __init__(self, sides: Sequence[Silhouette]) -> None:
        told = list({id(side): side for side in sides}.values())
        number = {id(side): n for n, side in enumerate(told)}
        which = np.array([number[id(side)] for side in sides], dtype=np.intp)
        self.low, self.high = (np.array([getattr(s, end) for s in told])[which, None] for end in ("low", "high"))
        groups: dict[tuple[int, int], list[int]] = {}
        for n, side in enumerate(told):
            groups.setdefault((side.flats.shape[1], side.arcs.shape[1]), []).append(n)
        group, slot = np.empty(len(told), dtype=np.intp), np.empty(len(told), dtype=np.intp)
        self._runs = []
        for n, members in enumerate(groups.values()):
            group[members], slot[members] = n, np.arange(len(members))
            self._runs.append(tuple(np.array([getattr(told[m], kind) for m in members]) for kind in ("flats", "arcs")))
        self._group, self._slot = group[which], slot[which]

    def furthest(self, rows: NDArray[np.intp], aside: Floats) -> tuple[Floats, NDArray[np.bool_]]:
        """How far along lines leave outlines, mm, and whether each touches its own (r, k); rows (r,): whose; aside
        (r, k): where the lines are. One that misses gets the end of the side that it passes."""
        touches = aside >= self.low[rows] - TOUCH_MM
        touches &= aside <= self.high[rows] + TOUCH_MM
        group = self._group[rows]
        if (group == group[0]).all():
            return self._along(int(group[0]), rows, aside), touches
        far = np.empty_like(aside)
        for number in np.unique(group).tolist():
            here = np.flatnonzero(group == number)
            far[here] = self._along(number, rows[here], aside[here])
        return far, touches

    def beside(self, rows: NDArray[np.intp], aside: Floats) -> Floats:
        """By how much lines pass beside outlines (r, k), mm, 0 where they touch; rows, aside: as of `furthest`."""
        past = np.maximum(self.low[rows] - aside, aside - self.high[rows])
        return np.where(past > TOUCH_MM, past, 0.0)

    def _along(self, group: int, rows: NDArray[np.intp], aside: Floats) -> Floats:
        """How far along the furthest run is (r, k), beside an outline at its edge."""
        flats, arcs = (runs[self._slot[rows]] for runs in self._runs[group])
        if not flats.shape[2] and arcs.shape[2] == 1:
            return _round(aside, arcs[:, :, 0])
        place = np.minimum(np.maximum(aside, self.low[rows]), self.high[rows])
        far: Floats | None = None
        for n in range(flats.shape[2]):
            start, stop, along, slope = (flats[:, k, n, None] for k in range(4))
            far = _greater(far, along + (place - start) * slope, place, start, stop)
        for n in range(arcs.shape[2]):
            far = _greater(far, _round(place, arcs[:, :, n]), place, arcs[:, 0, n, None], arcs[:, 1, n, None])
        assert far is not None
        return far


def _round(place: Floats, arcs: Floats) -> Floats:
    """How far along circles are at places (r, k), and their middle beside them; arcs (r, 5): as of `Silhouette`."""
    u, v, radius = (arcs[:, k, None] for k in (2, 3, 4))
    curved = place - u if u.any() else place.copy()
    curved *= curved
    np.subtract(radius**2, curved, out=curved)
    np.maximum(curved, 0.0, out=curved)
    np.sqrt(curved, out=curved)
    if v.any():
        curved += v
    return curved


def _greater(far: Floats | None, values: Floats, place: Floats, start: Floats, stop: Floats) -> Floats:
    """The greater of what was found and a run's values, which count from its start to its stop."""
    counts = (place >= start - TOUCH_MM) & (place <= stop + TOUCH_MM)
    values = np.where(counts, values, -np.inf)
    return values if far is None else np.maximum(far, values)


class OutlineContour(ABC):
    """A closed outline in a section's own y and z, mm, turning from +y towards +z, by distance along it."""

    @property
    @abstractmethod
    def girth(self) -> float:
        """Once round, mm."""

    @property
    @abstractmethod
    def ends(self) -> Floats:
        """Where its runs start, as distances round (n,), mm: what a row of lines must not pass over."""

    @abstractmethod
    def at(self, around: Floats) -> tuple[Floats, Floats]:
        """Points (k, 2) at distances round (k,), mm, and the unit normals (k, 2) outwards there."""

    @abstractmethod
    def towards(self, angle: float) -> float:
        """The distance round, mm, at which a ray from the middle leaves the outline for good, its angle counted from
        +y towards +z, rad."""

    @abstractmethod
    def facing(self, along: Floats) -> Silhouette:
        """Its outline as lines that run along a unit direction (2,) leave it."""

    @cached_property
    def _kept(self) -> dict[int, tuple[Floats, Floats, Floats]]:
        return {}

    def spread(self, count: int) -> Floats:
        """Distances round (k,), mm: so many at even steps, and every place where a straight run meets an arc or a
        corner."""
        even = np.arange(count) * (self.girth / count)
        corners = self.ends[np.abs(self.ends[:, None] - even).min(axis=1) > 1e-6]
        return np.sort(np.concatenate([even, corners]))

    def lines(self, count: int) -> tuple[Floats, Floats, Floats]:
        """`spread`, and the points and normals there; kept, for every end of a frame asks for the same."""
        if count not in self._kept:
            around = self.spread(count)
            made = (around, *self.at(around))
            for array in made:
                array.flags.writeable = False
            self._kept[count] = made
        return self._kept[count]


class CircleContour(OutlineContour):
    """The outline of a round tube, from +y."""

    def __init__(self, radius_mm: float) -> None:
        self.radius = radius_mm

    @property
    def girth(self) -> float:
        return 2 * math.pi * self.radius

    @property
    def ends(self) -> Floats:
        return np.zeros(1)

    def at(self, around: Floats) -> tuple[Floats, Floats]:
        turn = np.asarray(around, dtype=float) / self.radius
        normals = np.column_stack([np.cos(turn), np.sin(turn)])
        return self.radius * normals, normals

    def facing(self, along: Floats) -> Silhouette:
        return self._side

    @cached_property
    def _side(self) -> Silhouette:
        """It looks the same from every side."""
        nothing, whole = np.empty((4, 0)), np.array([[-self.radius], [self.radius], [0], [0], [self.radius]])
        return Silhouette(-self.radius, self.radius, nothing, whole)

    def towards(self, angle: float) -> float:
        return self.radius * (angle % (2 * math.pi))


@dataclass(frozen=True, eq=False)
class Contour(OutlineContour):
    """Straight runs and arcs, end to end; from where it crosses +y, an angle's from its heel.

    start, stop (n, 2): ends of each run; centre (n, 2): of an arc, not a number for a straight run. All arcs turn left.
    """

    start: Floats
    stop: Floats
    centre: Floats

    @classmethod
    def of(cls, runs: Sequence[tuple[Sequence[float], Sequence[float], Sequence[float] | None]]) -> Contour:
        """Runs as (start, stop, centre), the centre None where straight; runs of no length are left out."""
        kept = [r for r in runs if math.dist(r[0], r[1]) > 1e-9]
        nowhere = (math.nan, math.nan)
        return cls(
            np.array([r[0] for r in kept], dtype=float),
            np.array([r[1] for r in kept], dtype=float),
            np.array([r[2] or nowhere for r in kept], dtype=float),
        )

    @cached_property
    def _arcs(self) -> NDArray[np.bool_]:
        return ~np.isnan(self.centre[:, 0])

    @cached_property
    def _radii(self) -> Floats:
        return np.where(self._arcs, np.linalg.norm(self.start - self.centre, axis=1), 0.0)

    @cached_property
    def _turns(self) -> Floats:
        """How far each arc turns, rad, 0 for a straight run."""
        a, b = self.start - self.centre, self.stop - self.centre
        turn = np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], (a * b).sum(axis=1))
        return np.where(self._arcs, turn % (2 * math.pi), 0.0)

    @cached_property
    def _lengths(self) -> Floats:
        straight = np.linalg.norm(self.stop - self.start, axis=1)
        return np.where(self._arcs, self._radii * self._turns, straight)

    @cached_property
    def girth(self) -> float:
        return float(self._lengths.sum())

    @cached_property
    def ends(self) -> Floats:
        return np.concatenate([[0.0], np.cumsum(self._lengths)[:-1]])

    def at(self, around: Floats) -> tuple[Floats, Floats]:
        around = np.asarray(around, dtype=float) % self.girth
        run = np.clip(np.searchsorted(self.ends, around, side="right") - 1, 0, len(self.ends) - 1)
        share = (around - self.ends[run]) / self._lengths[run]
        start, stop = self.start[run], self.stop[run]
        points = start + share[:, None] * (stop - start)
        along = stop - start
        normals = np.column_stack([along[:, 1], -along[:, 0]]) / np.linalg.norm(along, axis=1, keepdims=True)
        arc = self._arcs[run]
        if arc.any():
            radial = start[arc] - self.centre[run[arc]]
            angle = share[arc] * self._turns[run[arc]]
            c, s = np.cos(angle), np.sin(angle)
            turned = np.column_stack([c * radial[:, 0] - s * radial[:, 1], s * radial[:, 0] + c * radial[:, 1]])
            points[arc] = self.centre[run[arc]] + turned
            normals[arc] = turned / self._radii[run[arc]][:, None]
        return points, normals

    def facing(self, along: Floats) -> Silhouette:
        turned = np.column_stack([[-along[1], along[0]], along])  # to how far aside, and how far along
        (a, va), (b, vb), (u, v) = ((ends @ turned).T for ends in (self.start, self.stop, self.centre))
        # The outline turns left, so the runs by which lines leave it go from right to left.
        k = np.flatnonzero(~self._arcs & (b - a > TOUCH_MM))
        flats = np.array([a[k], b[k], va[k], (vb[k] - va[k]) / (b[k] - a[k])])
        turn = np.arctan2(a - u, va - v)
        first, last = np.maximum(turn, -np.pi / 2), np.minimum(turn + self._turns, np.pi / 2)
        k = np.flatnonzero(self._arcs & (first < last))
        sines = u[k] + self._radii[k] * np.sin([first[k], last[k]])
        past = turn + self._turns
        right = self._arcs & (((turn <= -np.pi / 2) & (past >= -np.pi / 2)) | (past >= 1.5 * np.pi))
        leftmost = self._arcs & (turn <= np.pi / 2) & (past >= np.pi / 2)
        low, high = (u - self._radii)[right], (u + self._radii)[leftmost]  # where an arc bulges past its ends
        return Silhouette(
            min(a.min(), b.min(), low.min(initial=np.inf)),
            max(a.max(), b.max(), high.max(initial=-np.inf)),
            flats,
            np.array([*sines, u[k], v[k], self._radii[k]]),
        )

    def towards(self, angle: float) -> float:
        way = np.array([math.cos(angle), math.sin(angle)])
        side, step = np.array([-way[1], way[0]]), self.girth / 720
        around, points, _ = self.lines(720)
        crossing = (points @ way > 0) & (np.abs(points @ side) <= step)
        middle = around[np.where(crossing, points @ way, -np.inf).argmax()]
        for _ in range(4):
            around = middle + np.linspace(-step, step, 65)
            middle, step = around[np.abs(self.at(around)[0] @ side).argmin()], step / 32
        return float(middle % self.girth)
