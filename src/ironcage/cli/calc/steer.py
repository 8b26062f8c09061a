"""`calc steer`: both front wheels turned about kingpins by a rack or by a column's drop arm."""

import math
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, Place
from ironcage.core.calc.linkage.steering import MIRROR, KingpinWheel, steered, swung, turn_of
from ironcage.problem import Problem

Moves = Annotated[list[Annotated[float, Field(ge=-200, le=200)]], Field(min_length=1, max_length=200)]
SIDEWAYS = np.array([0.0, 1.0, 0.0])


class DropArm(Asked):
    """The arm at the column's foot: a place on its axis, the axis from its lower end up, and how far it is turned to
    the left each time, degrees."""

    pivot: Place
    axis: Place
    turned_deg: Annotated[list[Annotated[float, Field(ge=-80, le=80)]], Field(min_length=1, max_length=200)]


class SteerQuestion(Asked):
    """A beam axle, its left side straight ahead, mm: x forward, y left, z up; the right mirrors it. kingpin: its
    lower and its upper end; arm: the steering arm's end; rod: the tie rod's inner end; wheel: its centre; rack: moves
    to the left, mm, or drop_arm; wheelbase: for Ackermann and the turning circle; toe_deg, camber_deg: as set."""

    kingpin: tuple[Place, Place]
    arm: Place
    rod: Place
    wheel: Place
    tyre_radius: Annotated[float, Field(gt=0, le=2000)]
    wheelbase: Annotated[float, Field(gt=0, le=20000)]
    camber_deg: Number = 0.0
    toe_deg: Number = 0.0
    rack: Moves | None = None
    drop_arm: DropArm | None = None


def steer(question: SteerQuestion) -> dict[str, Any]:
    """Each position in turn: both wheels' steer to the left and camber in degrees, how much the car rises at each, mm,
    Ackermann as a share, and the circle that the outer tyre's middle runs on, mm."""
    q = question
    low, high = np.array(q.kingpin[0], float), np.array(q.kingpin[1], float)
    length = float(np.linalg.norm(np.subtract(q.arm, q.rod)))
    if np.linalg.norm(high - low) < 1e-6 or length < 1e-6:
        raise Problem("The kingpin or the tie rod has no length.", where="kingpin", hint="Give its two ends apart.")
    if (q.rack is None) == (q.drop_arm is None):
        raise Problem(
            "Say how it is steered: rack, or drop_arm.", where="rack", hint='Write for example: "rack": [-30, 0, 30]'
        )
    lean, toe = math.radians(q.camber_deg), math.radians(q.toe_deg)
    axis = np.array([math.sin(toe) * math.cos(lean), math.cos(toe) * math.cos(lean), -math.sin(lean)])
    pin = (high - low) / np.linalg.norm(high - low)
    pin = pin if pin[2] > 0 else -pin
    left = KingpinWheel(low, pin, np.array(q.arm, float), np.array(q.wheel, float), axis, q.tyre_radius)
    moved, ends = _inner(q)
    one, other = (steered(stub, end, length) for stub, end in zip((left, left.mirrored), ends, strict=True))
    track = 2 * abs(float(left.wheel[1]))
    rows = []
    for n, move in enumerate(moved):
        row: dict[str, Any] = {("rack" if q.rack is not None else "turned_deg"): move}
        row["reaches"] = bool(np.isfinite(one.turn[n]) and np.isfinite(other.turn[n]))
        if row["reaches"]:
            turn = turn_of(float(one.steer[n]), float(other.steer[n]), track, q.wheelbase)
            row |= {
                "left_deg": round(math.degrees(one.steer[n]), 6),
                "right_deg": round(math.degrees(other.steer[n]), 6),
                "left_camber_deg": round(math.degrees(one.camber[n]), 6),
                "right_camber_deg": round(math.degrees(other.camber[n]), 6),
                "left_rise": round(float(one.rise[n]), 6),
                "right_rise": round(float(other.rise[n]), 6),
                "ackermann": None if math.isnan(turn.ackermann) else round(turn.ackermann, 6),
                "circle": None if math.isinf(turn.circle) else round(turn.circle, 3),
            }
        rows.append(row)
    return {"positions": rows, "limits": "Rigid links, no slip; the tyres are thin discs; the beam stays where it is."}


def _inner(q: SteerQuestion) -> tuple[list[float], tuple[np.ndarray, np.ndarray]]:
    """How far it is steered each time, and where both tie rods' inner ends then are (n, 3)."""
    ends = np.array(q.rod, float), np.array(q.rod, float) * MIRROR
    if q.rack is not None:
        return list(q.rack), (ends[0] + np.outer(q.rack, SIDEWAYS), ends[1] + np.outer(q.rack, SIDEWAYS))
    assert q.drop_arm is not None
    pivot, way = np.array(q.drop_arm.pivot, float), np.array(q.drop_arm.axis, float)
    if np.linalg.norm(way) < 1e-9:
        raise Problem("The drop arm's axis has no direction.", where="axis", hint="An upright column is 0 0 1.")
    way /= np.linalg.norm(way)
    turned = np.radians(q.drop_arm.turned_deg)
    left, right = (swung(end, pivot, way, turned) for end in ends)
    return list(q.drop_arm.turned_deg), (left, right)
