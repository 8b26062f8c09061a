"""Jig: where each stand goes on the table, how high its saddle is, and which diagonals prove it."""

import math
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from ironcage.core.answers.cache import remembered
from ironcage.core.calc import cope
from ironcage.core.job.model import Job, Tube
from ironcage.core.job.routes import end_axes

STEEP = math.radians(45)  # a saddle holds nothing steeper
MOST_DIAGONALS = 60


@dataclass(frozen=True)
class Stand:
    """A stand under a joint. x, y: from the table's rear right corner, forward and to the left; saddle: height of
    the carried tube's underside above the table top; tube: what it carries ('' when all are too steep, the
    saddle is then under the joint's centre); size and slope of that tube. mm and rad."""

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


@remembered("joints", "tubes", "shelf", "table")
def answer(job: Job) -> JigAnswer:
    """Place a stand under each chosen joint."""
    table = job.table
    axes = end_axes(job)
    stands = []
    for name in table.stands:
        joint = job.joint_by_id[name]
        tube, drop = _carried(job, name, axes)
        x, y = joint.x - table.corner_x, joint.y - table.corner_y
        slope = abs(math.asin(float(np.clip(axes[tube.id, name][0][2], -1, 1)))) if tube else 0.0
        size = max(job.section(tube.section).shape.size) if tube else 0.0
        inside = 0 <= x <= table.length and 0 <= y <= table.width
        stands.append(Stand(name, x, y, joint.z - drop - table.top_z, tube.id if tube else "", size, slope, inside))
    stands.sort(key=lambda s: (round(s.x, 1), round(s.y, 1)))
    lowest = min((s.saddle for s in stands), default=None)
    return JigAnswer(
        tuple(stands), _diagonals(job, [s.joint for s in stands]),
        None if lowest is None else table.top_z + lowest - table.least_saddle,
    )  # fmt: skip


def _carried(job: Job, joint: str, axes: dict[tuple[str, str], np.ndarray]) -> tuple[Tube | None, float]:
    """The tube whose underside is lowest below a joint among those a saddle can hold, and how far below."""
    place = np.array(job.joint_by_id[joint].place)
    down = np.array([0.0, 0.0, -1.0])
    best: tuple[Tube | None, float] = (None, 0.0)
    for tube in job.tubes_at.get(joint, ()):
        frame = axes[tube.id, joint]
        if abs(frame[0][2]) > math.sin(STEEP):
            continue
        body = cope.receiver_of(job.section(tube.section).shape, frame, place)
        drop = float(body.leave(place[None], down)[0][0])
        if drop > best[1]:
            best = tube, drop
    return best


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
