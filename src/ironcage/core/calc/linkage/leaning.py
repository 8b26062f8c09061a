"""Two wheels of an end as the car leans: where both stand so that their contacts lie on one ground; the roll centre.

The car's own axes are kept, and the ground leans under them: by φ, its left side up, as the left wheel rises and the
right one falls. Each contact's path, seen from the front, turns about a centre that lies square to it; both lines meet
in the roll centre. x forward, y to the left, z up; mm, rad.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
SETTLED_MM = 1e-5
MOST_TRIES = 30


@dataclass(frozen=True, eq=False)
class SideAt:
    """A wheel at travels (n,), of the left side or in a mirror as one. contact, path (n, 3): the tyre's lowest point,
    and how the point of what carries the wheel there moves for each mm of travel; axis (n, 3): along its axle,
    outwards; nan where it does not get there."""

    contact: Floats
    path: Floats
    axis: Floats


Side = Callable[[Floats], SideAt]


@dataclass(frozen=True, eq=False)
class Leaning:
    """An end at each lean (n,). lean: rad, its left wheel up; left, right: travels, mm; camber (n, 2): of the left and
    the right wheel against the ground, positive with its top out, toe_in (n, 2): positive with its front edge in, rad;
    height, aside: of the roll centre over the ground, and to the left of the middle between both contacts, mm."""

    lean: Floats
    left: Floats
    right: Floats
    camber: Floats
    toe_in: Floats
    height: Floats
    aside: Floats


def leaning(left: Side, right: Side, lean: Floats, heave: float) -> Leaning:
    """An end whose wheels both follow their own side, at leans (n,), rad, about the middle between both contacts, with
    the car lowered by a heave, mm."""
    lean = np.asarray(lean, float)
    rest = left(np.zeros(1)).contact[0, 2]
    slope = np.tan(lean)
    ups = np.full_like(lean, heave), np.full_like(lean, heave)
    for _ in range(MOST_TRIES):
        one, other = left(ups[0]), right(ups[1])
        half = (one.contact[:, 1] + other.contact[:, 1]) / 2  # the right one is told in a mirror
        misses = [rest + heave + sign * slope * half - at.contact[:, 2] for sign, at in ((1, one), (-1, other))]
        if np.nanmax(np.abs(misses), initial=0.0) < SETTLED_MM:
            break
        ups = ups[0] + misses[0], ups[1] + misses[1]
    square = np.array([np.cos(lean), np.sin(lean)]).T  # along the ground, to the left, seen in y and z
    up = np.array([-np.sin(lean), np.cos(lean)]).T
    feet, ways, camber, toe = [], [], [], []
    for mirror, at in ((1.0, one), (-1.0, other)):
        feet.append(at.contact[:, 1:] * [mirror, 1.0])
        path = at.path[:, 1:] * [mirror, 1.0]
        ways.append(np.column_stack([-path[:, 1], path[:, 0]]))
        axis = at.axis[:, 1:] * [mirror, 1.0]
        camber.append(-np.arcsin((axis * up).sum(axis=1)))
        toe.append(np.arctan2(at.axis[:, 0], mirror * (axis * square).sum(axis=1)))
    meets = _meeting(feet, ways)
    from_middle = meets - (feet[0] + feet[1]) / 2
    return Leaning(
        lean,
        *ups,
        np.column_stack(camber),
        np.column_stack(toe),
        (from_middle * up).sum(axis=1),
        (from_middle * square).sum(axis=1),
    )


def _meeting(places: list[Floats], ways: list[Floats]) -> Floats:
    """Where two lines meet, through places (n, 2) along ways (n, 2); nan where they are parallel."""
    apart = places[1] - places[0]
    with np.errstate(invalid="ignore", divide="ignore"):
        across = ways[0][:, 0] * ways[1][:, 1] - ways[0][:, 1] * ways[1][:, 0]
        share = (apart[:, 0] * ways[1][:, 1] - apart[:, 1] * ways[1][:, 0]) / across
    share = np.where(np.isfinite(share), share, np.nan)
    return np.asarray(places[0] + share[:, None] * ways[0])


@dataclass(frozen=True)
class CarLean:
    """A car that leans on both ends' springs in a steady turn. per_g: lean for each g sideways, rad; transfer: what
    goes from the inner to the outer wheel at the front and at the rear for each g, N."""

    per_g: float
    transfer: tuple[float, float]


def car_lean(
    weight: float,
    front_share: float,
    height: float,
    centres: tuple[float, float],
    stiffness: tuple[float, float],
    tracks: tuple[float, float],
) -> CarLean:
    """The lean of a rigid car on two axles, all of its weight (N) taken as sprung: the moment about the line through
    both roll centres (their heights, mm) of its centre of gravity (height, mm), against both roll stiffnesses,
    N·mm/rad, less what its weight adds as it leans (Milliken and Milliken 1995, chapter 18). tracks: mm.

    Raises ValueError where the springs do not hold it up.
    """
    over = height - (front_share * centres[0] + (1 - front_share) * centres[1])
    held = sum(stiffness) - weight * over
    if held <= 0:
        raise ValueError("the springs do not hold the car upright")
    per_g = weight * over / held
    shares = front_share, 1 - front_share
    moved = tuple(
        (k * per_g + weight * share * centre) / track
        for k, share, centre, track in zip(stiffness, shares, centres, tracks, strict=True)
    )
    return CarLean(per_g, (moved[0], moved[1]))
