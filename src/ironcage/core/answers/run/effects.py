"""What moving each point of a corner on wishbones by a millimetre does to what its wheel does."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

import numpy as np

from ironcage.core.answers.run.corner import Floats, Still, corner_of
from ironcage.core.calc.linkage.wishbone import CornerCurves, DoubleWishbone, curves, poses
from ironcage.core.job.values.model import Job

STEP_MM = 0.5  # to either side, by which a point is moved to see what that does
_ARMS = (("lower", "lower arm"), ("upper", "upper arm"))
_ONES = (
    ("lower_out", "lower ball joint"),
    ("upper_out", "upper ball joint"),
    ("tie_in", "tie rod, inner"),
    ("tie_out", "tie rod, outer"),
    ("spring_in", "coil-over, top"),
    ("spring_out", "coil-over, foot"),
)


@dataclass(frozen=True, eq=False)
class PointEffect:
    """A point, the joint of the frame that it is, if any, and how each figure changes for a millimetre of it forward,
    to the left and up: figures of `CornerCurves`, each (3,), per mm."""

    point: str
    joint: str
    per_mm: CornerCurves


def effects_at(job: Job, still: Still) -> tuple[PointEffect, ...]:
    """What each point of the left corner does where it stands; of one whose links do not reach, nothing."""
    if not still.found.closed[0, 0]:
        return ()
    corner, hung = corner_of(job, still.run.hung), still.run.hung
    made = []
    for name, words in _ARMS:
        for n, (end, joint) in enumerate(zip(("front", "rear"), getattr(hung, name), strict=True)):
            made.append(PointEffect(f"{words}, {end}", joint, _per_mm(corner, name, n, still)))
    for name, words in _ONES:
        joint = hung.spring if name == "spring_in" else ""
        made.append(PointEffect(words, joint, _per_mm(corner, name, None, still)))
    return tuple(made)


def _per_mm(corner: DoubleWishbone, name: str, row: int | None, still: Still) -> CornerCurves:
    """How each figure changes for a millimetre of a point along x, y and z, each (3,)."""
    travel, rack = np.array([still.travel]), np.array([still.rack])

    def told_of(moved: DoubleWishbone) -> CornerCurves:
        # a coil-over's ends move nothing but what is told of it
        stands = replace(still.found, corner=moved) if name.startswith("spring") else poses(moved, travel, rack)
        return curves(stands)

    told: list[dict[str, Floats]] = []
    for k in range(3):
        one, other = (told_of(_moved(corner, name, row, k, way * STEP_MM)) for way in (1.0, -1.0))
        each = {f.name: (getattr(one, f.name), getattr(other, f.name)) for f in fields(CornerCurves)}
        told.append({key: (a - b)[0, 0] / (2 * STEP_MM) for key, (a, b) in each.items()})
    return CornerCurves(**{key: np.array([t[key] for t in told]) for key in told[0]})


def _moved(corner: DoubleWishbone, name: str, row: int | None, axis: int, by: float) -> DoubleWishbone:
    places = getattr(corner, name).copy()
    places[(axis,) if row is None else (row, axis)] += by
    return replace(corner, **{name: places})
