"""How a car stands on its wheels: corner loads, when wheels lift, and how far it can be tipped."""

import math
from dataclasses import dataclass

from ironcage.core.calc.mass import Floats, axle_split


@dataclass(frozen=True)
class Stance:
    """corners: loads in kg, front left, front right, rear left, rear right; front_lifts, rear_lifts: the acceleration and the braking, in g, at which
    the front and the rear wheels leave the ground; tips_left, tips_right: the slope (rad) on which it falls over that side."""

    corners: tuple[float, float, float, float]
    front_lifts: float
    rear_lifts: float
    tips_left: float
    tips_right: float


def stand(mass: float, cg: Floats, front_x: float, rear_x: float, front_track: float, rear_track: float) -> Stance:
    """A car of mass (kg) with its CG (3,) on wheels at front_x and rear_x (mm) with tracks (mm), rigid, tyres not squashed.

    Four wheels under a rigid frame are not determined by statics: an axle's own sideways offset is taken to be the car's.
    Lifting: moments about the other axle, all of the force at the ground. Tipping: the CG over the line between the two
    contact points of that side.
    """
    share = axle_split(float(cg[0]), front_x, rear_x)
    x, y, z = (float(v) for v in cg)
    front, rear = share * mass, (1 - share) * mass
    corners = tuple(
        load * (0.5 + side * y / track)
        for load, track in ((front, front_track), (rear, rear_track))
        for side in (1.0, -1.0)
    )
    high = max(z, 1e-9)
    return Stance(
        (corners[0], corners[1], corners[2], corners[3]), (x - rear_x) / high, (front_x - x) / high,
        *(_tip(x, side * y, high, front_x, rear_x, front_track / 2, rear_track / 2) for side in (1.0, -1.0)),
    )  # fmt: skip


def _tip(x: float, y: float, z: float, front_x: float, rear_x: float, front_half: float, rear_half: float) -> float:
    """The slope at which a CG stands over the edge from the rear to the front contact point of the left side, rad."""
    along, across = front_x - rear_x, front_half - rear_half
    edge = rear_half + across * (x - rear_x) / along
    return math.atan2((edge - y) * along / math.hypot(along, across), z)
