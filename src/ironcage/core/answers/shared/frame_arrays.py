"""The frame's joints and tubes as arrays, from which most answers begin."""

from typing import NamedTuple

import numpy as np

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.frames.beams import Floats, Ints
from ironcage.core.job.values.model import Job


class FrameLines(NamedTuple):
    """nodes (n, 3): where joints are, mm; ends (m, 2): the joints of each tube by number; both in the order of the
    job."""

    nodes: Floats
    ends: Ints


@remembered("joints", "tubes")
def lines(job: Job) -> FrameLines:
    """The joints and the tubes between them."""
    row = {j.id: n for n, j in enumerate(job.joints)}
    nodes = np.array([(j.x, j.y, j.z) for j in job.joints], dtype=np.float64).reshape(-1, 3)
    ends = np.array([(row[t.a], row[t.b]) for t in job.tubes], dtype=np.int64).reshape(-1, 2)
    for shared in (nodes, ends):
        shared.setflags(write=False)
    return FrameLines(nodes, ends)
