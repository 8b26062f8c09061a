"""Many tube ends cut at once: how far each cut stands off its joint along every line of the wall.

All ends of a frame go through the same few steps together: the distances of all lines from all that is in their way;
the edges at which a wall ceases to land; and the least of each curve, looked for between the lines. What a line is cut
to is the furthest receiver of those that it touches, or where it touches none, its main one's nearest place.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.sections import AnySection
from ironcage.core.calc.tubes.cope import LINES, Profile
from ironcage.core.calc.tubes.receivers import Receiver, Sights

Floats = NDArray[np.float64]
Rows = NDArray[np.intp]
Lands = NDArray[np.bool_]
TRIMS_MM = 0.05  # what no file takes off is no cut
SETTLED_MM = 2e-5
STEEPER = 2.0  # as a curve may fall between two lines than it does from line to line beside them
SLOPE_MM = 1e-6  # the step round the tube by which a curve's slope is taken
EDGE_MM, WITHIN = 1e-9, 17  # how closely an edge is told, and the places looked at between two lines at each round
BETWEEN, ROUNDS = 17, 11  # the same for the least of a curve: from a third of a millimetre to 1e-10 mm round the tube
SEARCHED = LINES // 3  # lines between which the least of a curve is looked for: its edges are known from all
AT_ONCE = 60_000  # lines worked out together: more no longer fit beside the processor


@dataclass(frozen=True, eq=False)
class TubeEnd:
    """One end to cut. axes (3, 3): the tube's x, y, z as rows; joint (3,): on its axis, mm; way: +1 at the tube's first
    end, −1 at its second; main: what it lands on; others: what may be in its way there as well."""

    section: AnySection
    axes: Floats
    joint: Floats
    way: float
    main: Receiver
    others: tuple[Receiver, ...] = ()


@dataclass(frozen=True, eq=False)
class EndMade:
    """A cut end. trims: which of the others it is cut to: those that reach into it by more than a file takes off."""

    profile: Profile
    trims: tuple[bool, ...]


@dataclass(frozen=True, eq=False)
class Walls:
    """Lines along walls (r, n), mm from the joint: the outer and the inner surface, the cut square through the wall
    that clears both, and which of the two (2, r, n) land."""

    outer: Floats
    inner: Floats
    cut: Floats
    lands: Lands

    @property
    def tips(self) -> Floats:
        """The three curves (r, 3, n) whose least values are the saddle tip, the template tip and, negative, the
        shoulder."""
        return np.stack([np.where(self.lands[0], self.outer, np.inf), self.cut, -self.cut], axis=1)

    def at(self, lines: Rows) -> Walls:
        """The walls along some of the lines."""
        return Walls(self.outer[:, lines], self.inner[:, lines], self.cut[:, lines], self.lands[:, :, lines])


def end_profile(
    section: AnySection, axes: Floats, joint: Floats, way: float, receiver: Receiver, lines: int = LINES
) -> Profile:
    """The cut of one end of a tube at a joint (3,) on its axis, landing on one receiver."""
    return cut_ends([TubeEnd(section, axes, joint, way, receiver)], lines)[0].profile


def cut_ends(ends: Sequence[TubeEnd], lines: int = LINES) -> list[EndMade]:
    """The cuts of many ends. `lines`: at how many even steps round each tube the arrays are given, besides its corners;
    tips and shoulder do not depend on it."""
    if not ends:
        return []
    shop = _Bundle(ends)
    trims = shop.begin()
    places, known, owner = shop.known()
    saddle, template, shoulder = _least(shop, places, known, owner).T
    made: list[EndMade | None] = [None] * len(ends)
    for (rows, section), begun in zip(shop.by_section, shop.begun, strict=True):
        around, points, normals = section.contour.lines(lines)
        told = begun if lines == LINES else shop.walls(rows, *_both(section, points, normals))
        middles = (told.outer + told.inner).mean(axis=1) / 2
        misses = 1 - told.lands[0].mean(axis=1)
        for n, row in enumerate(rows.tolist()):
            end = ends[row]
            pointer = end.axes[1:] @ end.main.mark(end.way * end.axes[0])
            profile = Profile(
                around,
                section.contour.girth,
                told.outer[n],
                told.inner[n],
                told.cut[n],
                float(middles[n]),
                float(misses[n]),
                math.atan2(pointer[1], pointer[0]) if np.abs(pointer).max() > 1e-6 else 0.0,
                float(saddle[row] if math.isfinite(saddle[row]) else template[row]),
                float(template[row]),
                float(-shoulder[row]),
            )
            made[row] = EndMade(profile, trims[row])
    return [m for m in made if m is not None]


def _both(section: AnySection, points: Floats, normals: Floats) -> tuple[Floats, Floats]:
    """y and z of places on the outer and then on the inner surface (1, 2n), from those on the outer (n, 2)."""
    y, z = np.concatenate([points, section.inside(points, normals)]).T
    return y[None], z[None]


class _Bundle:
    """Ends, and pairs of each with what it meets, its main receiver first, one end's after another's."""

    def __init__(self, ends: Sequence[TubeEnd]) -> None:
        self.ends = ends
        sections = {e.section for e in ends}
        self.by_section = [
            (np.array([n for n, e in enumerate(ends) if e.section == section]), section) for section in sections
        ]
        self.girth = np.array([e.section.contour.girth for e in ends])
        pairs = [(n, receiver) for n, e in enumerate(ends) for receiver in (e.main, *e.others)]
        owner = np.array([n for n, _ in pairs])
        axes, joints = np.array([e.axes for e in ends])[owner], np.array([e.joint for e in ends])[owner]
        ways = np.array([e.way for e in ends])[owner]
        self.sights = Sights([receiver for _, receiver in pairs], ways[:, None] * axes[:, 0])
        turn = self.sights.turn
        # how a receiver sees a place on the wall: by where the joint is, and by the place's own y and z
        self._seen = np.stack(
            [np.einsum("pij,pj->pi", turn, joints) + self.sights.shift]
            + [np.einsum("pij,pj->pi", turn, axes[:, k]) for k in (1, 2)],
            axis=2,
        )
        self._pairs = np.arange(len(pairs))
        self._count(owner)

    def _count(self, owner: Rows) -> None:
        self._counts = np.bincount(owner, minlength=len(self.ends))
        self._first = np.cumsum(self._counts) - self._counts

    def _of(self, ends: Rows) -> tuple[Rows, Rows, Rows]:
        """The pairs of some ends, the row of each among those ends, and where each end's pairs begin."""
        counts = self._counts[ends]
        rows = np.repeat(np.arange(len(ends)), counts)
        begin = np.cumsum(counts) - counts
        return self._pairs[self._first[ends][rows] + np.arange(len(rows)) - begin[rows]], rows, begin

    def _leave(self, pairs: Rows, rows: Rows, y: Floats, z: Floats) -> tuple[Floats, Lands]:
        """Where lines leave what they meet, and whether they touch it, for pairs (p,) whose ends are at `rows` (p,) of
        places y, z (1 or r, n)."""
        seen = self._seen[pairs]
        if len(y) == 1:
            basis = np.vstack([np.ones_like(y), y, z])
            return self.sights.leave(pairs, *(lambda some, k=k: seen[some, k] @ basis for k in range(3)))
        y, z = y[rows], z[rows]

        def told(some: Rows | slice, k: int) -> Floats:
            made = y[some] * seen[some, k, 1, None]
            made += z[some] * seen[some, k, 2, None]
            made += seen[some, k, 0, None]
            return made

        return self.sights.leave(pairs, *(lambda some, k=k: told(some, k) for k in range(3)))

    def begin(self) -> list[tuple[bool, ...]]:
        """Work out all ends at LINES lines round them, by section (`begun`), and which others reach into each, looked
        at one by one; the rest are left out from here on."""
        keep = np.ones(len(self._pairs), dtype=bool)
        self.begun: list[Walls] = []
        for rows, section in self.by_section:
            _, points, normals = section.contour.lines(LINES)
            y, z = _both(section, points, normals)
            parts = []
            some = max(1, AT_ONCE // (3 * y.shape[1]))
            for start in range(0, len(rows), some):
                pairs, at, begin = self._of(rows[start : start + some])
                far, touches = self._leave(pairs, at, y, z)
                reached = np.where(touches, far, -np.inf)  # a line that misses the main one still meets another
                keep[pairs] = (reached > (reached[begin] + TRIMS_MM)[at]).any(axis=1)
                keep[pairs[begin]] = True
                reached[~keep[pairs]] = -np.inf
                parts.append(_furthest(far[begin], reached, begin))
            self.begun.append(_walls(*map(np.concatenate, zip(*parts, strict=True))))
        trims = [
            tuple(keep[first + 1 : first + count].tolist())
            for first, count in zip(self._first.tolist(), self._counts.tolist(), strict=True)
        ]
        owner = np.repeat(np.arange(len(self.ends)), self._counts)
        self._pairs = self._pairs[keep]
        self._count(owner[keep])
        return trims

    def walls(self, ends: Rows, y: Floats, z: Floats) -> Walls:
        """The walls of some ends at places on their outer and then on their inner surface (1 or r, 2n)."""
        parts = []
        some = max(1, AT_ONCE // (3 * y.shape[1]))
        for start in range(0, len(ends), some):
            here = slice(start, start + some)
            pairs, rows, begin = self._of(ends[here])
            far, touches = self._leave(pairs, rows, *(p if len(p) == 1 else p[here] for p in (y, z)))
            parts.append(_furthest(far[begin], np.where(touches, far, -np.inf), begin))
        return _walls(*map(np.concatenate, zip(*parts, strict=True)))

    def walls_at(self, ends: Rows, places: Floats) -> Walls:
        """The walls of some ends (an end may come more than once) at distances round them (r, n), mm."""
        y, z = np.empty((2, len(ends), 2 * places.shape[1]))
        for rows, section in self.by_section:
            here = np.flatnonzero(np.isin(ends, rows)) if len(self.by_section) > 1 else np.arange(len(ends))
            if here.size:
                points, normals = section.contour.at(places[here].ravel())
                inside = section.inside(points, normals)
                for made, k in ((y, 0), (z, 1)):
                    made[here] = (
                        np.stack([points[:, k], inside[:, k]])
                        .reshape(2, len(here), -1)
                        .swapaxes(0, 1)
                        .reshape(len(here), -1)
                    )
        return self.walls(ends, y, z)

    def known(self) -> tuple[Floats, Floats, Rows]:
        """Places round every end (m,), one end's after another's and in order: its lines, and the edges where a wall
        ceases to land; the three curves there (m, 3), and whose each place is (m,)."""
        places, curves, owner = [], [], []
        for (rows, section), found in zip(self.by_section, self.begun, strict=True):
            around, some = section.contour.lines(LINES)[0], section.contour.lines(SEARCHED)[0]
            kept = np.searchsorted(around, some - 1e-9)
            places.append(np.tile(some, len(rows)))
            curves.append(found.at(kept).tips.swapaxes(1, 2).reshape(-1, 3))
            owner.append(np.repeat(rows, len(some)))
            ends, edges = _edges(self, rows, around, found.lands, section.contour.girth)
            if len(ends):
                places.append(edges)
                curves.append(self.walls_at(ends, edges[:, None]).tips[:, :, 0])
                owner.append(ends)
        where, whose = np.concatenate(places), np.concatenate(owner)
        order = np.lexsort((where, whose))
        return where[order], np.concatenate(curves)[order], whose[order]


def _furthest(main: Floats, reached: Floats, begin: Rows) -> tuple[Floats, Lands]:
    """Where lines leave all that they meet (r, n), and whether they touch any of it. main (r, n): where they leave what
    each end lands on; reached (p, n): where they leave each receiver that they touch and are cut to, else minus
    infinity, an end's from `begin` on."""
    most = np.maximum.reduceat(reached, begin, axis=0) if len(begin) < len(reached) else reached
    touched = most > -np.inf
    return np.where(touched, most, main), touched


def _walls(far: Floats, touched: Lands) -> Walls:
    """Walls from places on their outer and then on their inner surface (r, 2n)."""
    half = far.shape[1] // 2
    outer, inner = far[:, :half], far[:, half:]
    lands = touched.reshape(len(far), 2, half).swapaxes(0, 1)
    one_lands = lands[0] != lands[1]
    return Walls(outer, inner, np.where(one_lands, np.where(lands[0], outer, inner), np.maximum(outer, inner)), lands)


def _edges(shop: _Bundle, ends: Rows, around: Floats, found: Lands, girth: float) -> tuple[Rows, Floats]:
    """The places just before and just after each change of whether a wall lands, between neighbours of `around` (n,),
    where it is known as `found` (2, r, n); and whose they are.

    A line that grazes the receiver leaves it steeply, so the least of a curve may be at an edge.
    """
    wall, row, at = np.nonzero(found != np.roll(found, -1, axis=2))
    start, stop = around[at], np.append(around, around[0] + girth)[at + 1]
    before, each, shares = found[wall, row, at], np.arange(len(at)), np.linspace(0, 1, WITHIN)
    while len(at) and (stop - start).max() > EDGE_MM:
        grid = start[:, None] + (stop - start)[:, None] * shares
        same = shop.walls_at(ends[row], grid).lands[wall, each] == before[:, None]
        same[:, 0], same[:, -1] = True, False
        changed = np.argmin(same, axis=1)
        start, stop = grid[each, changed - 1], grid[each, changed]
    return np.tile(ends[row], 2), np.concatenate([start, stop]) % girth


def _least(shop: _Bundle, places: Floats, at: Floats, owner: Rows) -> Floats:
    """The least value of each of the three curves of each end (e, 3), known at `places` (m,) of `owner` (m,) to be `at`
    (m, 3) and looked for in between.

    An interval that would reach lower than what is known if it fell as steeply as it and those beside it do, and
    whose ends, following their slopes across it, reach lower too, is looked at again, more finely each time, until
    the curve is level to SETTLED_MM about its lowest place.
    """
    begin = np.searchsorted(owner, np.arange(len(shop.ends)))
    last = np.append(begin[1:], len(owner)) - 1
    following, preceding = np.arange(1, len(owner) + 1), np.arange(-1, len(owner) - 1)
    following[last], preceding[begin] = begin, last
    width = places[following] - places
    width[last] += shop.girth
    least, there = np.minimum.reduceat(at, begin, axis=0), at[following]
    with np.errstate(invalid="ignore"):  # infinite less infinite, of places that miss
        fall = np.nan_to_num(np.abs(there - at), nan=0.0, posinf=np.inf)
        fall = np.maximum(fall, np.maximum(fall[preceding], fall[following]))
        low = np.minimum(at, there) - STEEPER * fall
    columns = np.flatnonzero((np.isnan(low) | (low < least[owner])).any(axis=1) & (width > 5 * SLOPE_MM))
    if not columns.size:
        return least
    start, stop, ends = places[columns], places[columns] + width[columns], owner[columns]
    within = np.array([SLOPE_MM, 2 * SLOPE_MM])
    looked = np.concatenate([start[:, None] + within, stop[:, None] - within], axis=1)
    left, left_on, right, right_on = np.moveaxis(shop.walls_at(ends, looked).tips, 2, 0)
    np.minimum.at(least, ends, np.minimum(left, right))
    steps = ((stop - start) / SLOPE_MM)[:, None]
    with np.errstate(invalid="ignore"):
        low = np.fmin(left - np.fmax(left - left_on, 0) * steps, right - np.fmax(right - right_on, 0) * steps)
    row, curve = np.nonzero(low < least[ends] - SETTLED_MM)
    start, stop, ends = start[row], stop[row], ends[row]
    shares = np.linspace(0, 1, BETWEEN)
    for _ in range(ROUNDS):
        if not len(ends):
            break
        grid = start[:, None] + (stop - start)[:, None] * shares
        each = np.arange(len(ends))
        values = shop.walls_at(ends, grid).tips[each, curve]
        best = values.argmin(axis=1)
        before, after = np.maximum(best - 1, 0), np.minimum(best + 1, BETWEEN - 1)
        lower = values[each, best]
        np.minimum.at(least, (ends, curve), lower)
        # a curve with a kink beside its lowest place may fall on by as much as it fell to there
        falls = np.maximum(values[each, before], values[each, after]) - lower
        go = lower - falls < least[ends, curve] - SETTLED_MM
        start, stop, ends, curve = (array[go] for array in (grid[each, before], grid[each, after], ends, curve))
    return least
