"""A steering column of several universal joints: the angle of each, how unevenly it turns, and how to set its yokes.

Each joint's cross keeps both of its forks square to each other, which carries a turn over exactly: the fork on the far
side points along the near fork crossed with the far shaft. How even the whole runs depends on how far the second yoke
of each shaft between joints is turned against its first; the best are looked for from several starts.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise, product

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.vectors import cross
from ironcage.problem import Problem

Floats = NDArray[np.float64]
TURNS = 180  # places of half a turn: a joint runs fast and slow twice a turn
MOST_ANGLE = math.radians(80)
FEWEST, MOST = 3, 8  # places along a column, both ends among them
STARTS = (0.0, 45.0, 90.0, 135.0)  # of each yoke, degrees


@dataclass(frozen=True)
class Column:
    """angles: of each joint, rad; lengths: of each straight part, mm; yokes: how far the second yoke of each part
    between two joints is turned against its first, looking along the column, rad, 0 to pi; swing: the share by which
    the last part then runs fast and slow, twice a turn; in_line: the same with all yokes in line; bearings: that it
    needs between its joints besides those at both of its ends."""

    angles: tuple[float, ...]
    lengths: tuple[float, ...]
    yokes: tuple[float, ...]
    swing: float
    in_line: float
    bearings: int


def column(places: Floats) -> Column:
    """A column through places (n, 3), mm: from the steering wheel's end, by its joints, to the box or the pinion, each
    part straight. Raises Problem for too few or too many places, a part of no length, and a joint that can't turn."""
    places = np.asarray(places, float)
    if not FEWEST <= len(places) <= MOST:
        raise Problem(
            f"A column has {FEWEST} to {MOST} places: its two ends and its joints.",
            where="places",
            hint="Name the wheel’s end, each joint and the box.",
        )
    parts = np.diff(places, axis=0)
    lengths = np.linalg.norm(parts, axis=1)
    if lengths.min() < 1.0:
        n = int(lengths.argmin()) + 1
        raise Problem(f"Part {n} of the column has no length.", where="places", hint="Give its ends apart.")
    axes = parts / lengths[:, None]
    bends = [math.atan2(float(np.linalg.norm(cross(a, b))), float(a @ b)) for a, b in pairwise(axes)]
    if max(bends) > MOST_ANGLE:
        n = int(np.argmax(bends)) + 1
        raise Problem(
            f"Joint {n} is bent by {math.degrees(max(bends)):.0f}° and can’t turn.",
            where="places",
            hint="Most joints end at 35 to 45°: put in another joint, or move this one outwards.",
        )
    yokes = _best(axes)
    return Column(
        tuple(bends),
        tuple(float(v) for v in lengths),
        tuple(float(y) % math.pi for y in yokes),
        _swing(axes, yokes),
        _swing(axes, np.zeros(len(axes) - 2)),
        max(len(bends) - 2, 0),
    )


def _best(axes: Floats) -> Floats:
    """The yokes that let it turn most evenly."""
    from scipy.optimize import minimize

    free = len(axes) - 2
    if free == 0:
        return np.zeros(0)
    starts = product(np.radians(STARTS), repeat=min(free, 3))
    found = min((np.array([*s, *[0.0] * (free - len(s))]) for s in starts), key=lambda y: _swing(axes, y))
    made = minimize(lambda y: _swing(axes, y), found, method="Nelder-Mead", options={"xatol": 1e-7, "fatol": 1e-12})
    return np.asarray(made.x)


def _swing(axes: Floats, yokes: Floats) -> float:
    """The share by which the last part runs fast and slow: half of what the ratio of both speeds goes through."""
    turn = np.linspace(0, math.pi, TURNS, endpoint=False)
    one, other = _square_to(axes[0])
    fork = np.outer(np.cos(turn), one) + np.outer(np.sin(turn), other)
    for n, axis in enumerate(axes[1:]):
        fork = cross(fork, np.broadcast_to(axis, fork.shape))
        fork /= np.linalg.norm(fork, axis=1, keepdims=True)
        if n < len(yokes):  # its other yoke
            square = cross(np.broadcast_to(axis, fork.shape), fork)
            fork = math.cos(yokes[n]) * fork + math.sin(yokes[n]) * square
    one, other = _square_to(axes[-1])
    angle = np.unwrap(np.arctan2(fork @ other, fork @ one))
    steps = np.diff(np.append(angle, angle[0] + math.copysign(math.pi, angle[-1] - angle[0])))
    ratio = np.abs(steps) * TURNS / math.pi
    return float(ratio.max() - ratio.min()) / 2


def _square_to(axis: Floats) -> tuple[Floats, Floats]:
    """Two directions square to an axis, turning with it as a right-handed screw."""
    near = np.eye(3)[int(np.abs(axis).argmin())]
    one = cross(near, axis)
    one = one / np.linalg.norm(one)
    return one, np.asarray(cross(axis, one))
