"""How near the links of wishbones come to the rim and the tyre of their own wheel, over travel and steer."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.corner import AxleRun, link_lines, runs
from ironcage.core.answers.run.lever import WEIGHED
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job

ALONG = np.linspace(0, 1, 41)  # places of a link that are looked at
EACH_TRAVEL, EACH_STEER = 5, 5  # of the travels and racks of a run


@dataclass(frozen=True)
class InWheel:
    """The link of an end that comes nearest to its own wheel. gap: between both, mm, negative where they overlap;
    travel, rack: where, mm."""

    axle: str
    link: str
    gap: float
    travel: float
    rack: float


@remembered("wishbones", "joints", "wheels", *WEIGHED)
def in_wheels(job: Job) -> tuple[InWheel, ...]:
    """The nearest link of each end on wishbones whose rim is known. A wheel is a ring as wide as its tyre, from the
    inside of its rim out; hubs, brakes and spokes are not in it. Raises Problem as `runs` does."""
    if not job.wishbones:
        return ()
    return tuple(_nearest(job, run, rim) for run in runs(job) if (rim := edits.left_wheel(job, run.hung.axle).rim) > 0)


def _nearest(job: Job, run: AxleRun, rim: float) -> InWheel:
    wheel = edits.left_wheel(job, run.hung.axle)
    rows = np.unique([*range(0, len(run.found.travel), EACH_TRAVEL), len(run.found.travel) - 1])
    columns = np.unique([*range(0, len(run.found.rack), EACH_STEER), len(run.found.rack) - 1])
    found = run.found.some(rows, columns)
    centre, axis = found.at(run.corner.wheel)[:, :, None], (found.turn @ run.corner.axis)[:, :, None]
    best: InWheel | None = None
    for line in link_lines(found):
        if line.name == "coil-over":
            continue
        inner = np.broadcast_to(line.inner, line.outer.shape)
        places = inner[:, :, None] + ALONG[:, None] * (line.outer - inner)[:, :, None]
        gaps = _to_ring(places - centre, axis, wheel.width / 2, rim / 2, wheel.diameter / 2) - run.hung.link / 2
        if np.isnan(gaps).all():
            continue
        i, k, _ = np.unravel_index(int(np.nanargmin(gaps)), gaps.shape)
        gap = float(np.nanmin(gaps))
        if best is None or gap < best.gap:
            best = InWheel(run.hung.axle, line.name, gap, float(found.travel[i]), float(found.rack[k]))
    assert best is not None  # a corner has links, which reach at ride height
    return best


def _to_ring(off: Floats, axis: Floats, half: float, inside: float, outside: float) -> Floats:
    """How far places are from a ring about an axis (…), mm, negative within it: off (…, 3): from its middle; half: of
    its width, inside, outside: its radii."""
    along = (off * axis).sum(axis=-1)
    radius = np.linalg.norm(off - along[..., None] * axis, axis=-1)
    beside = np.abs(along) - half
    round_it = np.maximum(inside - radius, radius - outside)
    outer = np.hypot(np.maximum(beside, 0), np.maximum(round_it, 0))
    return np.asarray(outer + np.minimum(np.maximum(beside, round_it), 0))
