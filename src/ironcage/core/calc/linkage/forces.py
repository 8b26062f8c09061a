"""What a load at a wheel does to the links of two wishbones, a tie rod, a rocker and a coil-over, by statics."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.linkage.wishbone import Poses, carried_end, spring_end
from ironcage.core.calc.vectors import cross

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class LinkForces:
    """What a load at the wheel does to the links and the frame, N. tie: tension in the tie rod; spring: compression of
    the coil-over, push: of the push rod, the same where there is none; on_frame: force (3,) on the frame at `lower
    front`, `lower rear`, `upper front`, `upper rear`, `tie`, `spring` and, where there is a rocker, through its joint
    `rocker, push rod` and `rocker, coil-over`, which act where these are on it."""

    tie: float
    spring: float
    push: float
    on_frame: dict[str, Floats]


def link_forces(found: Poses, at: Floats, force: Floats, moment: Floats) -> LinkForces:
    """By statics of the upright and both wishbones at the first pose: a force (3,) N at a place (3,) mm and a moment
    (3,) N·mm on the upright. What a wishbone carries along its own hinge is halved between both of its ends.

    Raises ValueError where the links are locked or do not close.
    """
    corner, turn, shift = found.corner, found.turn[0, 0], found.shift[0, 0]
    if not found.closed[0, 0]:
        raise ValueError("the links do not close")
    low, high, tie_out = (turn @ p + shift for p in (corner.lower_out, corner.upper_out, corner.tie_out))
    tie_in = corner.tie_ends(found.rack[:1])[0]
    pull = (tie_in - tie_out) / np.linalg.norm(tie_in - tie_out)
    end, rocker = carried_end(found)[0][0, 0], corner.rocker
    inner_end = corner.spring_in if rocker is None else rocker.at(rocker.push_in, rocker.turn(end))
    push = (end - inner_end) / np.linalg.norm(end - inner_end)
    rows, right = np.zeros((8, 8)), np.zeros(8)  # unknown: force on the upright at both ball joints, tie, spring
    rows[:3, :3] = rows[:3, 3:6] = np.eye(3)
    rows[:3, 6] = pull
    rows[3:6, 3:6] = _cross_matrix(high - low)
    rows[3:6, 6] = cross(tie_out - low, pull)
    arms = {"lower": (corner.lower, low, slice(0, 3)), "upper": (corner.upper, high, slice(3, 6))}
    for row, (name, (inner, out, at_joint)) in enumerate(arms.items(), 6):
        hinge = (inner[1] - inner[0]) / np.linalg.norm(inner[1] - inner[0])
        rows[row, at_joint] = -cross(hinge, out - inner[0])
        if corner.spring_on == name:
            rows[row, 7] = hinge @ cross(end - inner[0], push)
    if corner.spring_on == "upright":
        rows[:3, 7], rows[3:6, 7] = push, cross(end - low, push)
    right[:3] = -force
    right[3:6] = -moment - cross(at - low, force)
    try:
        got = np.linalg.solve(rows, right)
    except np.linalg.LinAlgError:
        raise ValueError("the links are locked") from None
    tie, pushed = float(got[6]), float(got[7])
    on_frame = {"tie": -tie * pull, "spring": -pushed * push}
    spring = pushed
    if rocker is not None:
        foot = spring_end(found)[0][0, 0]
        squeeze = (foot - corner.spring_in) / np.linalg.norm(foot - corner.spring_in)
        spring = pushed * rocker.lever(inner_end, push) / rocker.lever(foot, squeeze)
        on_frame |= {
            "spring": -spring * squeeze,
            "rocker, push rod": -pushed * push,
            "rocker, coil-over": spring * squeeze,
        }
    for name, (inner, out, at_joint) in arms.items():
        loads = [(out, -got[at_joint])] + ([(end, pushed * push)] if corner.spring_on == name else [])
        front, rear = hinged(inner, loads)
        on_frame[f"{name} front"], on_frame[f"{name} rear"] = front, rear
    return LinkForces(tie, spring, pushed, on_frame)


def hinged(inner: Floats, loads: list[tuple[Floats, Floats]]) -> tuple[Floats, Floats]:
    """What an arm that bears forces at places, which together do not turn it, gives to the frame at both ends of its
    hinge (2, 3); what runs along the hinge is halved."""
    span = inner[1] - inner[0]
    total = sum((f for _, f in loads), np.zeros(3))
    turning: Any = sum((cross(place - inner[0], f) for place, f in loads), np.zeros(3))
    hinge = span / np.linalg.norm(span)
    rear = cross(turning, span) / (span @ span) + (total @ hinge) / 2 * hinge
    return total - rear, rear


def _cross_matrix(v: Floats) -> Floats:
    x, y, z = v
    return np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
