"""What is near to what is chosen, and so stands out on the table while the rest is drawn quietly."""

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.geometry.routes import pieces
from ironcage.core.job.values.model import Job

if TYPE_CHECKING:
    from ironcage.core.job.geometry.bodies import Body

Flags = NDArray[np.bool_]
NEAR_MM = 120.0
MOST_CHOSEN = 0.3  # of all tubes: more than these are not looked at one by one


def near(job: Job, bodies: "Sequence[Body]", chosen: Sequence[str]) -> tuple[Flags, Flags]:
    """Which tubes (m,) and bodies (n,) are chosen or near to what is: tubes that share a joint with it, things whose
    box is within NEAR_MM of its own. All are where nothing is chosen, or much."""
    picked = set(chosen)
    joints = {c for c in picked if c in job.joint_by_id}
    joints |= {end for c in picked if c in job.tube_by_id for end in job.tube_by_id[c].ends}
    parts = [b.bounds for b in bodies if b.id in picked]
    tubes = np.array([t.a in joints or t.b in joints for t in job.tubes], dtype=bool)
    if not (joints or parts) or (len(picked) > 1 and len(joints) > MOST_CHOSEN * len(job.joints)):
        return np.ones(len(job.tubes), dtype=bool), np.ones(len(bodies), dtype=bool)
    boxes = parts + [_box(job, name) for name in picked if name in job.joint_by_id or name in job.tube_by_id]
    if parts and len(job.tubes):
        tubes |= _within(_tube_boxes(job), parts)
    there = np.array([b.bounds for b in bodies]).reshape(-1, 2, 3)
    return tubes, _within(there, boxes)


def _box(job: Job, name: str) -> Floats:
    """Least and greatest x, y, z (2, 3) of a joint, or of a tube from joint to joint, mm."""
    ends = (name,) if name in job.joint_by_id else job.tube_by_id[name].ends
    places = np.array([job.joint_by_id[e].place for e in ends])
    return np.array([places.min(axis=0), places.max(axis=0)])


def _tube_boxes(job: Job) -> Floats:
    """Least and greatest x, y, z (m, 2, 3) of every tube's centreline, mm."""
    lines = pieces(job)
    both = np.stack([lines.start, lines.stop])
    low, high = np.full((len(job.tubes), 3), np.inf), np.full((len(job.tubes), 3), -np.inf)
    np.minimum.at(low, lines.owner, both.min(axis=0))
    np.maximum.at(high, lines.owner, both.max(axis=0))
    return np.stack([low, high], axis=1)


def _within(boxes: Floats, others: Sequence[Floats]) -> Flags:
    """Which boxes (n, 2, 3) are no farther than NEAR_MM from one of the others."""
    found = np.zeros(len(boxes), dtype=bool)
    for low, high in others:
        apart = np.maximum(np.maximum(low - boxes[:, 1], boxes[:, 0] - high), 0.0)
        found |= np.linalg.norm(apart, axis=1) <= NEAR_MM
    return found
