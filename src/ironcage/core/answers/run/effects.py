"""What moving each point of a corner on wishbones by a millimetre does to what its wheel does."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

import numpy as np

from ironcage.core.answers.run.corner import Floats, Still, corner_of
from ironcage.core.calc.linkage.wishbone import CornerCurves, DoubleWishbone, curves, poses
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Wishbones

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


@dataclass(frozen=True)
class CornerPoint:
    """A point of a corner on wishbones. words: what it is called; joint: the joint of the frame that it is, if any;
    name, row: of `DoubleWishbone`, row None where that is one place."""

    words: str
    joint: str
    name: str
    row: int | None = None

    def moved(self, corner: DoubleWishbone, by: Floats) -> DoubleWishbone:
        """A corner with this point moved by (3,), mm."""
        places = getattr(corner, self.name).copy()
        places[() if self.row is None else self.row] += by
        return replace(corner, **{self.name: places})


def points_of(hung: Wishbones) -> tuple[CornerPoint, ...]:
    """The points of a corner, those on the frame first."""
    arms = tuple(
        CornerPoint(f"{words}, {end}", joint, name, n)
        for name, words in _ARMS
        for n, (end, joint) in enumerate(zip(("front", "rear"), getattr(hung, name), strict=True))
    )
    ones = (CornerPoint(words, hung.spring if name == "spring_in" else "", name) for name, words in _ONES)
    return (*arms, *ones)


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
    corner = corner_of(job, still.run.hung)
    return tuple(
        PointEffect(point.words, point.joint, _per_mm(corner, point, still)) for point in points_of(still.run.hung)
    )


def _per_mm(corner: DoubleWishbone, point: CornerPoint, still: Still) -> CornerCurves:
    """How each figure changes for a millimetre of a point along x, y and z, each (3,)."""
    travel, rack = np.array([still.travel]), np.array([still.rack])

    def told_of(moved: DoubleWishbone) -> CornerCurves:
        # a coil-over's ends move nothing but what is told of it
        sprung = point.name.startswith("spring")
        stands = replace(still.found, corner=moved) if sprung else poses(moved, travel, rack)
        return curves(stands, still.run.lever)

    told: list[dict[str, Floats]] = []
    for way in np.eye(3):
        one, other = (told_of(point.moved(corner, step * way)) for step in (STEP_MM, -STEP_MM))
        each = {f.name: (getattr(one, f.name), getattr(other, f.name)) for f in fields(CornerCurves)}
        told.append({key: (a - b)[0, 0] / (2 * STEP_MM) for key, (a, b) in each.items()})
    return CornerCurves(**{key: np.array([t[key] for t in told]) for key in told[0]})
