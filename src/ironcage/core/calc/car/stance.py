"""How a car stands on its wheels: corner loads, when wheels lift, and how far it can be tipped."""

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.car.mass import Floats, axle_split
from ironcage.core.calc.frames.load_distribution import G, Weights, wheel_loads


@dataclass(frozen=True)
class Stance:
    """corners: loads in kg, front left, front right, rear left, rear right; front_lifts, rear_lifts: the
    acceleration and the braking, in g, at which the front and the rear wheels leave the ground; tips_left,
    tips_right: the slope (rad) on which it falls over that side."""

    corners: tuple[float, float, float, float]
    front_lifts: float
    rear_lifts: float
    tips_left: float
    tips_right: float


def contacts_of(front_x: float, rear_x: float, front_track: float, rear_track: float) -> Floats:
    """The contact points (4, 3), mm, of wheels evenly about the centreline: front left, front right, rear left, rear
    right."""
    return np.array(
        [[x, side * track / 2, 0.0] for x, track in ((front_x, front_track), (rear_x, rear_track)) for side in (1, -1)]
    )


def stand(mass: float, cg: Floats, contacts: Floats) -> Stance:
    """A car of mass (kg) with its CG (3,) on wheels at contacts (4, 3), mm, in the order of `contacts_of`, rigid,
    tyres not squashed.

    Corner loads as `carry.wheel_loads` has them at rest, so that load cases start from the same. Lifting: moments about
    the other axle, all of the force at the ground. Tipping: the CG over the line between the two contact points of that
    side. Raises Problem where it falls over at rest, or the front wheels do not stand ahead.
    """
    front_x, rear_x = (float(contacts[rows, 0].mean()) for rows in ([0, 1], [2, 3]))
    axle_split(float(cg[0]), front_x, rear_x)
    a, b, c, d = (float(v) / G for v in wheel_loads(contacts, Weights(np.array([mass]), cg[None]), 0.0, 0.0, 0.5))
    high = max(float(cg[2] - contacts[:, 2].mean()), 1e-9)
    left, right = (
        _tip(cg, contacts[rear], contacts[front], side, high) for front, rear, side in ((0, 2, 1), (1, 3, -1))
    )
    return Stance((a, b, c, d), (float(cg[0]) - rear_x) / high, (front_x - float(cg[0])) / high, left, right)


def _tip(cg: Floats, rear: Floats, front: Floats, side: int, high: float) -> float:
    """The slope at which a CG so high stands over the edge from the rear to the front contact point of a side (1
    left, -1 right), rad."""
    along = (front - rear)[:2]
    inside = side * float(along[0] * (rear[1] - cg[1]) - along[1] * (rear[0] - cg[0])) / math.hypot(*along)
    return math.atan2(inside, high)
