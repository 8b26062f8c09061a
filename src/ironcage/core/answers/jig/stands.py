"""Jig: where each stand goes on the table, how high its saddle is, and which diagonals prove it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from ironcage.core.answers import cut
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.joint_plans import end_section
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.tubes import cope
from ironcage.core.job.geometry.routes import end_axes
from ironcage.core.job.values.model import Job, Tube

STEEP = math.radians(45)  # a saddle holds nothing steeper
MOST_DIAGONALS = 60
FOOT_MM = 0.05  # an end that reaches lower by less makes no difference to a stand


@dataclass(frozen=True)
class Stand:
    """A stand under a joint. x, y: from the table's rear right corner, forward and to the left; saddle: height above
    the table top of the lowest there, the underside of the carried tube or the end of one that runs past the joint;
    tube: what it carries ('' when all are too steep, the saddle is then under the joint's centre); size and slope of
    that tube. mm and rad."""

    joint: str
    x: float
    y: float
    saddle: float
    tube: str
    size: float
    slope: float
    on_table: bool


@dataclass(frozen=True)
class Diagonal:
    """A distance to tape between two joints on stands, in space and in plan (mm), and its mirrored partner."""

    first: str
    second: str
    space: float
    plan: float
    equals: tuple[str, str] | None


@dataclass(frozen=True)
class JigAnswer:
    """Stands from the table's corner outwards, diagonals longest first, and the table height (the z of its top, mm,
    in the car's axes) that would bring the lowest saddle to the least height."""

    stands: tuple[Stand, ...]
    diagonals: tuple[Diagonal, ...]
    best_top_z: float | None

    @property
    def lowest(self) -> float | None:
        """The lowest saddle, mm above the table."""
        return min((s.saddle for s in self.stands), default=None)


@remembered("joints", "tubes", "shelf", "fittings", "table", "cutting")
def answer(job: Job) -> JigAnswer:
    """Place a stand under each chosen joint."""
    table = job.table
    axes = end_axes(job)
    ends = _ends(job) if table.stands and job.tubes else {}
    stands = []
    for name in table.stands:
        joint = job.joint_by_id[name]
        tube, drop = _carried(job, name, axes, ends.get(name, []))
        x, y = joint.x - table.corner_x, joint.y - table.corner_y
        slope = abs(math.asin(float(np.clip(axes[tube.id, name][0][2], -1, 1)))) if tube else 0.0
        size = max(job.section(tube.section).shape.size) if tube else 0.0
        inside = 0 <= x <= table.length and 0 <= y <= table.width
        stands.append(Stand(name, x, y, joint.z - drop - table.top_z, tube.id if tube else "", size, slope, inside))
    stands.sort(key=lambda s: (round(s.x, 1), round(s.y, 1)))
    lowest = min((s.saddle for s in stands), default=None)
    return JigAnswer(
        tuple(stands),
        _diagonals(job, [s.joint for s in stands]),
        None if lowest is None else table.top_z + lowest - table.least_saddle,
    )


def _carried(job: Job, joint: str, axes: dict[tuple[str, str], Floats], ends: list[_End]) -> tuple[Tube | None, float]:
    """The tube that reaches lowest below a joint, and how far below: the underside of one that a saddle can hold, or
    the end of one that runs past the joint, such as a hoop's foot."""
    best: tuple[Tube | None, float] = (None, 0.0)
    for tube in job.tubes_at.get(joint, ()):
        frame = axes[tube.id, joint]
        if abs(frame[0][2]) > math.sin(STEEP):
            continue
        down = np.array([0.0, 0.0, -1.0]) + frame[0][2] * frame[0]  # across the tube
        level = float(np.linalg.norm(down))
        y, z = frame[1:] @ (down / level)
        offset = tube.offset_a[2] if tube.a == joint else tube.offset_b[2]
        drop = job.section(end_section(tube, joint)).shape.reach(float(y), float(z)) / level - offset
        if drop > best[1]:
            best = tube, drop
    for end in ends:
        if end.drop > best[1] + FOOT_MM:
            best = job.tube_by_id[end.tube], end.drop
    return best


@dataclass(frozen=True)
class _End:
    """The cut end of a tube at a joint: how far its lowest point is below the joint, mm."""

    tube: str
    drop: float


def _ends(job: Job) -> dict[str, list[_End]]:
    """Every square end of a piece that runs past its joint, by joint."""
    found: dict[str, list[_End]] = {}
    for piece in cut.answer(job).pieces:
        for end, tube, way in ((piece.first, piece.tubes[0], 1.0), (piece.second, piece.tubes[-1], -1.0)):
            if end.kind == "square" and end.profile.bar < -FOOT_MM:
                axes = piece.axes if way > 0 else piece.last_axes
                points = end.shape.contour.lines(cope.LINES)[1] @ axes[1:] + end.profile.outer[:, None] * way * axes[0]
                found.setdefault(end.joint, []).append(_End(tube, -float(points[:, 2].min())))
    return found


def _diagonals(job: Job, names: list[str]) -> tuple[Diagonal, ...]:
    """Crossing distances between joints on opposite sides, each with the one that must equal it."""
    found = []
    for a, b in combinations(names, 2):
        one, two = job.joint_by_id[a], job.joint_by_id[b]
        if one.y * two.y >= 0 or abs(one.x - two.x) < 50:
            continue
        mirrored = (one.twin, two.twin) if one.twin in names and two.twin in names else None
        equals = (mirrored[0] or "", mirrored[1] or "") if mirrored else None
        found.append(Diagonal(a, b, math.dist(one.place, two.place), math.dist(one.place[:2], two.place[:2]), equals))
    found.sort(key=lambda d: (-round(d.space, 2), d.first))
    return tuple(found[:MOST_DIAGONALS])
