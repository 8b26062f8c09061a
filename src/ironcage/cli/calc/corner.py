"""`calc corner`: a double wishbone's positions over travel and rack from its hard points."""

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, Place, plain
from ironcage.core.calc.linkage.rocker import Rocker
from ironcage.core.calc.linkage.wishbone import DoubleWishbone, curves, poses
from ironcage.problem import Problem

Along = Annotated[list[Annotated[float, Field(ge=-400, le=400)]], Field(min_length=1, max_length=200)]


class RockerPoints(Asked):
    """A rocker and its push rod at ride height, mm: a place on its axis and one more, the rod's end on it and its other
    end, which is where spring_on says."""

    pivot: Place
    axis: Place
    push_in: Place
    push_out: Place


class CornerQuestion(Asked):
    """A left corner at ride height, mm: x forward, y left, z up. lower, upper: the arms' inner ends, front then rear;
    camber, toe in degrees; travel up and rack to the left, mm, each a list; rocker: where a push rod turns one,
    spring_out then being on it."""

    lower: tuple[Place, Place]
    lower_out: Place
    upper: tuple[Place, Place]
    upper_out: Place
    tie_in: Place
    tie_out: Place
    wheel: Place
    tyre_radius: Annotated[float, Field(gt=0, le=2000)]
    spring_in: Place
    spring_out: Place
    spring_on: Literal["lower", "upper", "upright"] = "lower"
    rocker: RockerPoints | None = None
    camber_deg: Number = 0.0
    toe_deg: Number = 0.0
    travel: Along
    rack: Along = Field(default_factory=lambda: [0.0])


def _rocker(points: RockerPoints) -> Rocker:
    pivot, other, rod_in, rod_out = (
        np.array(p, float) for p in (points.pivot, points.axis, points.push_in, points.push_out)
    )
    length = float(np.linalg.norm(other - pivot))
    if length < 1e-6:
        raise Problem("The rocker's axis has no direction.", where="axis", hint="Name a second place on it.")
    return Rocker(pivot, (other - pivot) / length, rod_in, rod_out)


def corner(question: CornerQuestion) -> dict[str, Any]:
    """Each position in turn: where the ball joints and the wheel stand (mm), its angles (degrees), the rest in mm."""
    q = question
    lean, toe = np.radians(q.camber_deg), np.radians(q.toe_deg)
    made = DoubleWishbone(
        lower=np.array(q.lower, float),
        lower_out=np.array(q.lower_out, float),
        upper=np.array(q.upper, float),
        upper_out=np.array(q.upper_out, float),
        tie_in=np.array(q.tie_in, float),
        tie_out=np.array(q.tie_out, float),
        wheel=np.array(q.wheel, float),
        axis=np.array([np.sin(toe) * np.cos(lean), np.cos(toe) * np.cos(lean), -np.sin(lean)]),
        radius=q.tyre_radius,
        spring_in=np.array(q.spring_in, float),
        spring_out=np.array(q.spring_out, float),
        spring_on=q.spring_on,
        rocker=_rocker(q.rocker) if q.rocker else None,
    )
    if (made.lengths < 1e-6).any() or np.allclose(made.lower[0], made.lower[1]) or np.allclose(*made.upper):
        raise Problem("A link has no length, or both legs of an arm start at one place.", where="lower")
    found = poses(made, np.array(q.travel), np.array(q.rack))
    told = curves(found)
    rows = []
    for i, travel in enumerate(q.travel):
        for k, rack in enumerate(q.rack):
            row: dict[str, Any] = {"travel": travel, "rack": rack, "closes": bool(found.closed[i, k])}
            if row["closes"]:
                row |= {
                    name: plain(found.at(np.array(point, float))[i, k], 6)
                    for name, point in (
                        ("lower_out", q.lower_out),
                        ("upper_out", q.upper_out),
                        ("tie_out", q.tie_out),
                        ("wheel", q.wheel),
                    )
                }
                row |= {
                    f"{name}_deg": round(float(np.degrees(getattr(told, name)[i, k])), 6)
                    for name in ("camber", "toe_in", "caster", "kingpin")
                }
                row |= {
                    name: round(float(getattr(told, name)[i, k]), 6)
                    for name in ("scrub", "trail", "out", "ahead", "roll_centre", "spring", "motion_ratio")
                }
            rows.append(row)
    return {"positions": rows}
