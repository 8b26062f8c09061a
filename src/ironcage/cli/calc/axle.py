"""`calc axle`: a live axle's positions over travel and roll from its hard points."""

from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Place, plain
from ironcage.core.calc.linkage.axle import LiveAxle, axle_curves, axle_poses
from ironcage.problem import Problem

Travels = Annotated[list[Annotated[float, Field(ge=-400, le=400)]], Field(min_length=1, max_length=200)]
Rolls = Annotated[list[Annotated[float, Field(ge=-20, le=20)]], Field(min_length=1, max_length=50)]


class Link(Asked):
    """A link's end on the frame and on the axle, mm."""

    frame: Place
    axle: Place


class AxleQuestion(Asked):
    """A live axle at ride height, mm: x forward, y left, z up. links: four or more, the track rod among them; left,
    right: the wheels' centres; travel of both wheels up, mm, and roll, degrees with the left wheel up, each a list."""

    links: Annotated[list[Link], Field(min_length=4, max_length=8)]
    left: Place
    right: Place
    tyre_radius: Annotated[float, Field(gt=0, le=2000)]
    travel: Travels
    roll: Rolls = Field(default_factory=lambda: [0.0])


def axle(question: AxleQuestion) -> dict[str, Any]:
    """Each position in turn: where both wheels stand, how the axle has shifted and turned, and by how much its links
    bind."""
    q = question
    made = LiveAxle(
        np.array([link.frame for link in q.links], float),
        np.array([link.axle for link in q.links], float),
        np.array(q.left, float),
        np.array(q.right, float),
        q.tyre_radius,
    )
    if (made.lengths < 1e-6).any():
        raise Problem("A link has no length.", where="links", hint="Give its two ends different places.")
    if made.free():
        raise Problem(
            "The links leave the axle free to move sideways or to turn.",
            where="links",
            hint="Add a track rod across the car, or bring two links together.",
        )
    half = float(made.left[1] - made.right[1]) / 2
    each = [(travel, roll) for travel in q.travel for roll in q.roll]
    lean = [half * float(np.sin(np.radians(roll))) for _, roll in each]
    found = axle_poses(
        made,
        np.array([t + rise for (t, _), rise in zip(each, lean, strict=True)]),
        np.array([t - rise for (t, _), rise in zip(each, lean, strict=True)]),
    )
    told = axle_curves(found)
    rows: list[dict[str, Any]] = []
    for n, (travel, roll) in enumerate(each):
        if not found.closed[n]:
            rows.append({"travel": travel, "roll_deg": roll, "closes": False})
            continue
        rows.append(
            {
                "travel": travel,
                "roll_deg": roll,
                "closes": True,
                "left": plain(found.at(made.left)[n], 6),
                "right": plain(found.at(made.right)[n], 6),
                "shift": round(float(told.aside[n]), 6),
                "ahead": round(float(told.ahead[n]), 6),
                "steer_deg": round(float(np.degrees(told.steer[n])), 6),
                "pinion_deg": round(float(np.degrees(told.pinion[n])), 6),
                "roll_centre": round(float(told.roll_centre[n]), 6),
                "roll_steer": round(float(told.roll_steer[n]), 6),
                "anti_tangent": round(float(told.anti[n]), 6),
                "bind": plain(np.abs(found.bind[n]), 6),
            }
        )
    return {
        "positions": rows,
        "limits": "Rigid axle and frame, links with point ends; what the links can't all keep of their lengths is "
        "shared by least squares and told as bind.",
    }
