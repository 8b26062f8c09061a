"""Tube ends: how far the cut stands off the joint along every line of the wall.

A tube end is a bundle of straight lines parallel to the tube's axis, on its outer and on its inner
surface. What it lands on (a round tube, a rectangular one, a mitre plane) tells for each line where it
leaves the receiver on the way into the tube's body. That distance, measured along the axis from the
joint, is the profile; a cut made square through the wall must clear both surfaces, so the further of
the two governs. A hole saw of the receiver's diameter cuts both surfaces exactly.

Two lengths follow from it. The saddle tip is what a hole saw leaves: the furthest point of the outer wall, feather
edges included; lines that miss the receiver have no cut and do not count. The template tip is what is left by a cut
square through the wall along the paper, which clears both surfaces. Both, and the shoulder, are looked for between the
lines too.

Frame: `axes` (3, 3) are the tube's x, y, z as rows, x from its first end to its second; distances are
positive into the tube, negative past the joint. Round the tube, positions follow the outline: from +y
towards +z, right-handed about x.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.sections import AnySection
from ironcage.core.calc.tubes.receivers import Receiver
from ironcage.problem import Problem

Floats = NDArray[np.float64]
Lands = NDArray[np.bool_]  # which of the outer and the inner surface (2, n) touch the receiver along each line
LINES = 360  # lines round the wall: one a degree, 0.001 mm of a 50 mm tube's profile lost between two
SETTLED_MM = 2e-5
STEEPER = 2.0  # as a curve may fall between two lines than it does from line to line beside them
SLOPE_MM = 1e-6  # the step round the tube by which a curve's slope is taken
EDGE_MM, WITHIN = 1e-9, 257  # how closely an edge is told, and the places looked at between two lines for it
BETWEEN = 33  # places looked at between two lines' neighbours, once more at each round
ROUNDS = 8  # each 16 times finer: from a third of a millimetre to 1e-10 mm round the tube
PARALLEL = math.radians(5)  # flatter than this, two tubes lie side by side and no cope joins them


@dataclass(frozen=True)
class Profile:
    """One tube end. Arrays (n,) follow the outline; mm and rad.

    round_mm: developed position on the outer surface. outer, inner: distance of the cut from the joint along the axis
    on each surface, inner square through the wall from outer. cut: what a cut square through the wall must clear.
    misses: share of the outer lines that do not touch the receiver. mark: position angle of the index mark,
    right-handed about x from y.
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


@dataclass(frozen=True)
class Walls:
    """Lines along the wall (n,), mm from the joint: the outer and the inner surface, the cut that clears both, and
    which of the two (2, n) land."""

    outer: Floats
    inner: Floats
    cut: Floats
    lands: Lands

    @property
    def tips(self) -> Floats:
        """The three curves (3, n) whose least values are the saddle tip, the template tip and, negative, the
        shoulder."""
        return np.stack([np.where(self.lands[0], self.outer, np.inf), self.cut, -self.cut])


def end_profile(
    section: AnySection, axes: Floats, joint: Floats, way: float, receiver: Receiver, lines: int = LINES
) -> Profile:
    """The cut of one end of a tube at a joint (3,) on its axis, landing on a receiver.

    `way` is +1 at the tube's first end, −1 at its second. `lines`: at how many even steps round the tube the arrays are
    given, besides its corners; tips and shoulder do not depend on it.
    """
    into, across, contour = way * axes[0], axes[1:], section.contour
    leave = receiver.facing(into)

    def walls(points: Floats, normals: Floats) -> Walls:
        both = np.concatenate([points, section.inside(points, normals)])
        (outer, inner), beside = (found.reshape(2, -1) for found in leave(joint + both @ across))
        lands = beside == 0
        cut = np.where(lands[0] != lands[1], np.where(lands[0], outer, inner), np.maximum(outer, inner))
        return Walls(outer, inner, cut, lands)

    def walls_at(places: Floats) -> Walls:
        return walls(*contour.at(places))

    around, points, normals = contour.lines(lines)
    told = walls(points, normals)
    places, *there = contour.lines(max(lines, LINES))
    found = told if lines >= LINES else walls(*there)
    edges = _edges(lambda s: walls_at(s).lands, places, found.lands, contour.girth) % contour.girth
    known = found.tips
    if edges.size:
        order = np.argsort(np.concatenate([places, edges]), kind="stable")
        places = np.concatenate([places, edges])[order]
        known = np.concatenate([known, walls_at(edges).tips], axis=1)[:, order]
    saddle, template, shoulder = _least(lambda s: walls_at(s).tips, places, known, contour.girth)
    pointer = across @ receiver.mark(into)
    mark = math.atan2(pointer[1], pointer[0]) if np.linalg.norm(pointer) > 1e-6 else 0.0
    return Profile(
        around,
        contour.girth,
        told.outer,
        told.inner,
        told.cut,
        float(1 - told.lands[0].mean()),
        mark,
        float(saddle if math.isfinite(saddle) else template),
        float(template),
        float(-shoulder),
    )


def _edges(lands: Callable[[Floats], Lands], around: Floats, found: Lands, girth: float) -> Floats:
    """The places (2k,) just before and just after each change of whether a wall lands, found between neighbours of
    `around` (n,), where it is known as `found` (2, n).

    A line that grazes the receiver leaves it steeply, so the least of a curve may lie at an edge.
    """
    wall, at = np.nonzero(found != np.roll(found, -1, axis=1))
    if not at.size:
        return np.empty(0)
    start, stop = around[at], np.append(around, around[0] + girth)[at + 1]
    before, each, shares = found[wall, at], np.arange(len(at)), np.linspace(0, 1, WITHIN)
    while (stop - start).max() > EDGE_MM:
        grid = start[:, None] + (stop - start)[:, None] * shares
        same = lands(grid.ravel()).reshape(2, len(at), WITHIN)[wall, each] == before[:, None]
        same[:, 0], same[:, -1] = True, False
        changed = np.argmin(same, axis=1)
        start, stop = grid[each, changed - 1], grid[each, changed]
    return np.concatenate([start, stop])


def _least(curves: Callable[[Floats], Floats], around: Floats, at: Floats, girth: float) -> Floats:
    """The least value (k,) of each of k curves round the tube, known at `around` (n,) to be `at` (k, n) and looked for
    in between.

    An interval that would reach lower than what is known if it fell as steeply as it and those beside it do, and
    whose ends, following their slopes across it, reach lower too, is looked at again, more finely each time, until
    nothing changes by SETTLED_MM.
    """
    after = np.append(around[1:], around[0] + girth)
    least, there = at.min(axis=1), np.roll(at, -1, axis=1)
    with np.errstate(invalid="ignore"):  # infinite less infinite, of places that miss
        fall = np.nan_to_num(np.abs(there - at), nan=0.0, posinf=np.inf)
        fall = np.maximum(fall, np.maximum(np.roll(fall, 1, axis=1), np.roll(fall, -1, axis=1)))
        low = np.minimum(at, there) - STEEPER * fall
    columns = np.flatnonzero((np.isnan(low) | (low < least[:, None])).any(axis=0) & (after - around > 5 * SLOPE_MM))
    if not columns.size:
        return least
    start, stop = around[columns], after[columns]
    within = np.array([SLOPE_MM, 2 * SLOPE_MM])
    looked = np.concatenate([start + within[:, None], stop - within[:, None]])
    left, left_on, right, right_on = np.moveaxis(curves(looked.ravel()).reshape(-1, *looked.shape), 1, 0)
    least, steps = np.minimum(least, np.minimum(left, right).min(axis=1)), (stop - start) / SLOPE_MM
    with np.errstate(invalid="ignore"):
        low = np.fmin(left - np.fmax(left - left_on, 0) * steps, right - np.fmax(right - right_on, 0) * steps)
    row, column = np.nonzero(low < least[:, None] - SETTLED_MM)
    if not row.size:
        return least
    start, stop, each = start[column], stop[column], np.arange(len(row))
    known = np.minimum(left, right)[row, column]
    for _ in range(ROUNDS):
        grid = start[:, None] + (stop - start)[:, None] * np.linspace(0, 1, BETWEEN)
        values = curves(grid.ravel()).reshape(len(least), len(row), BETWEEN)[row, each]
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
        )
    return angle


TRIMS_MM = 0.05  # what no file takes off is no cut


def in_the_way(
    section: AnySection, axes: Floats, joint: Floats, way: float, main: Receiver, others: Sequence[Receiver]
) -> tuple[bool, ...]:
    """Which of some others at a joint reach into a tube end that is cut to a receiver, each looked at alone."""
    into, contour = way * axes[0], section.contour
    _, points, normals = contour.lines(LINES)
    origins = joint + np.concatenate([points, section.inside(points, normals)]) @ axes[1:]
    far, beside = main.facing(into)(origins)
    far = np.where(beside == 0, far, -np.inf)  # a line that misses the receiver still meets the other
    found = []
    for other in others:
        there, aside = other.facing(into)(origins)
        found.append(bool(((aside == 0) & (there > far + TRIMS_MM)).any()))
    return tuple(found)


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
    distance, beside = receiver.facing(into)(origins)
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
