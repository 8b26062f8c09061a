"""Sheet between people and what may hurt them: how many of the straight lines between them it is on."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.solids.convex import Floats
from ironcage.core.job.geometry.bodies import Body, placed_bodies
from ironcage.core.job.values.fittings import Panel
from ironcage.core.job.values.model import Job


@dataclass(frozen=True)
class Screened:
    """A person and a thing, by id, and the share (0 to 1) of the straight lines between them that a panel is on."""

    person: str
    thing: str
    share: float


def screened(job: Job, kind: str) -> tuple[Screened, ...]:
    """Everybody aboard against every thing of a kind (of part, or chain or shaft): lines from the middle of each limb
    to the middle and every corner of each piece of the thing, through flat triangles from the middle of each panel to
    its sides."""
    everything = tuple(placed_bodies(job))
    people = [b for b in everything if b.kind == "person"]
    things = [b for b in everything if kind in (b.use, b.kind)]
    sheet = np.array(list(_triangles(job))).reshape(-1, 3, 3)
    return tuple(Screened(p.id, t.id, _share(p, t, sheet)) for p in people for t in things)


def _triangles(job: Job) -> Iterator[Floats]:
    for panel in (f for f in job.fittings if isinstance(f, Panel)):
        rim = np.array([job.joint_by_id[j].place for j in panel.joints if j in job.joint_by_id])
        if len(rim) > 2:
            middle = rim.mean(axis=0)
            for one, other in zip(rim, np.roll(rim, -1, axis=0), strict=True):
                yield np.array([middle, one, other])


def _share(person: Body, thing: Body, sheet: Floats) -> float:
    starts = np.array([s.points.mean(axis=0) for s in person.solids])
    stops = np.vstack([np.vstack([s.points.mean(axis=0), s.points]) for s in thing.solids])
    if not len(sheet):
        return 0.0
    from_, to = (a.reshape(-1, 3) for a in np.broadcast_arrays(starts[:, None], stops[None]))
    return float(_crossed(from_, to, sheet).mean())


def _crossed(starts: Floats, stops: Floats, triangles: Floats) -> NDArray[np.bool_]:
    """Which lines (n, 3) to (n, 3) pass any triangle (t, 3, 3) (Möller and Trumbore 1997)."""
    way = stops - starts
    corner, one, other = triangles[:, 0], triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0]
    across = np.cross(way[:, None], other[None])
    size = np.einsum("ntk,tk->nt", across, one)
    flat = np.abs(size) < 1e-9
    scale = 1 / np.where(flat, 1.0, size)
    gap = starts[:, None] - corner[None]
    u = np.einsum("ntk,ntk->nt", gap, across) * scale
    turned = np.cross(gap, np.broadcast_to(one, gap.shape))
    v = np.einsum("nk,ntk->nt", way, turned) * scale
    along = np.einsum("tk,ntk->nt", other, turned) * scale
    edge = 1e-9
    hit = ~flat & (u >= -edge) & (v >= -edge) & (u + v <= 1 + edge) & (along > 0) & (along < 1)
    return np.asarray(hit.any(axis=1))
