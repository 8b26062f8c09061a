"""How far apart a pair of rails must stand for what is between them, how far they may for what is outside, and what
fixes them where they are.

Both rails are taken to move alike, straight in or out, until one of them is as near to a thing as its margin.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ironcage.core.answers.place.clashes import may_touch, standing_bodies
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.names import name_of
from ironcage.core.calc.solids.approach import approach
from ironcage.core.calc.solids.convex import Solid
from ironcage.core.job.geometry.bodies import Body, tube_body
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job, Tube
from ironcage.core.job.values.running import HUNG
from ironcage.core.job.values.ties import ToHole

STEEPEST_COS = math.cos(math.radians(35))  # of a tube to the length of the car: steeper, it is no rail
_LEFT = np.array([0.0, 1.0, 0.0])


@dataclass(frozen=True)
class Need:
    """What a thing asks of a pair of rails. width: between the rails' faces where they are nearest, at least for what
    is between them and at most for what is outside, mm; margin: kept to it, mm."""

    id: str
    name: str
    side: Literal["between", "outside"]
    width: float
    margin: float


@dataclass(frozen=True)
class Spacing:
    """A pair of rails. inside: between their faces where they are nearest, mm; needs: the most demanding first; fixed:
    what holds them where they are, in words."""

    left: str
    right: str
    inside: float
    needs: tuple[Need, ...]
    fixed: tuple[str, ...]

    @property
    def least(self) -> Need | None:
        """What asks for the widest spacing."""
        return max((n for n in self.needs if n.side == "between"), key=lambda n: n.width, default=None)

    @property
    def most(self) -> Need | None:
        """What allows the least."""
        return min((n for n in self.needs if n.side == "outside"), key=lambda n: n.width, default=None)


@remembered("parts", "people", "wheels", "chains", "shafts", "joints", "tubes", "shelf", "pickups", *HUNG)
def rail_spacing(job: Job) -> tuple[Spacing, ...]:
    """Every pair of rails that something is between or outside of, in the job's order."""
    pairs = list(_rails(job))
    things = [b for b in standing_bodies(job) if b.kind != "tube"]
    asked: list[tuple[int, Body, str, Solid, Solid, float]] = []
    for n, (tube, twin) in enumerate(pairs):
        for rail, sign in ((tube, 1.0), (twin, -1.0)):
            body = _body(job, rail)
            for thing in things:
                for piece, side, solid in _facing(body, thing, sign):
                    asked.append((n, thing, side, piece, solid, sign))
    found: dict[int, dict[tuple[str, str], Need]] = {n: {} for n in range(len(pairs))}
    for side in ("between", "outside"):
        for sign in (1.0, -1.0):
            rows = [a for a in asked if a[2] == side and a[5] == sign]
            way = _LEFT * (-sign if side == "between" else sign)
            margins = np.array([thing.margin for _, thing, *_ in rows])
            for row, far in zip(rows, approach([r[3] for r in rows], [r[4] for r in rows], way, margins), strict=True):
                if math.isfinite(far):
                    _take(job, found[row[0]], pairs[row[0]], row[1], side, float(far))
    return tuple(
        Spacing(
            tube.id,
            twin.id,
            _inside(job, tube),
            tuple(sorted(found[n].values(), key=lambda need: (need.side, -need.width))),
            tuple(_fixed(job, tube)),
        )
        for n, (tube, twin) in enumerate(pairs)
        if found[n]
    )


def _rails(job: Job) -> Iterator[tuple[Tube, Tube]]:
    """Mirrored pairs that run along the car, the left one first."""
    for t in job.tubes:
        twin = job.twin_tube(t)
        a, b = (np.array(job.joint_by_id[e].place) for e in t.ends)
        size = float(np.linalg.norm(b - a))
        apart = twin is not None and twin.id != t.id and min(a[1], b[1]) > max(job.section(t.section).shape.size)
        if twin and apart and size and abs(b[0] - a[0]) / size > STEEPEST_COS:
            yield t, twin


def _body(job: Job, tube: Tube) -> Body:
    return tube_body(tube.id, route_of(job, tube), job.section(tube.section).shape, tube.roll, tube.role)


def _inside(job: Job, tube: Tube) -> float:
    """Between the faces of a pair where it is nearest, mm."""
    return 2 * float(_body(job, tube).bounds[0, 1])


def _facing(rail: Body, thing: Body, sign: float) -> Iterator[tuple[Solid, str, Solid]]:
    """Pieces of a rail and a thing that would meet if the rail moved sideways, and on which side of it the thing is."""
    if may_touch(rail, thing):
        return
    apart = np.maximum(
        thing.solid_bounds[None, :, 0] - rail.solid_bounds[:, None, 1],
        rail.solid_bounds[:, None, 0] - thing.solid_bounds[None, :, 1],
    )
    for i, j in np.argwhere((apart[:, :, [0, 2]] < thing.margin).all(axis=2)).tolist():
        ends = thing.solid_bounds[j, :, 1] * sign
        if ends.max() > 0:  # what is wholly on the other side is the other rail's
            between = float(ends.mean()) < float(rail.solid_bounds[i, :, 1].mean()) * sign
            yield rail.solids[i], "between" if between else "outside", thing.solids[j]


def _take(
    job: Job, needs: dict[tuple[str, str], Need], pair: Sequence[Tube], thing: Body, side: str, far: float
) -> None:
    """Keep the most demanding of a thing's pieces."""
    width = max(0.0, _inside(job, pair[0]) + (-2 * far if side == "between" else 2 * far))
    key, before = (thing.id, side), needs.get((thing.id, side))
    if before is None or (width > before.width if side == "between" else width < before.width):
        name = name_of(job, thing.id)
        needs[key] = Need(thing.id, name, "between" if side == "between" else "outside", width, thing.margin)


def _fixed(job: Job, tube: Tube) -> Iterator[str]:
    """Pickups and mounts at a rail's ends: to move those changes the suspension, or leaves the part."""
    for name in tube.ends:
        yield from (f"{name} is a {p.corner.split()[0]} pickup" for p in job.pickups if p.joint == name)
        tie = job.joint_by_id[name].tie
        if isinstance(tie, ToHole):
            yield f"{name} is at hole {tie.hole} of {name_of(job, tie.thing)}"
