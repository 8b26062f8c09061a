"""Holes of tabs that share a pivot's axis: how far from one line they are."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.snag import Snag
from ironcage.core.job.geometry.tabs import TabStand, tab_stand
from ironcage.core.job.values.fittings import Tab
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import said

MEANT_COS = math.cos(math.radians(10))  # bolts that point more than this apart are not meant to be one pivot
MEANT_MM = 15.0  # nor are holes that pass each other by more
FURTHEST_MM = 1500.0  # nor such as are further apart along the pivot
SAME_MM = 1e-3
LINED_UP_MM = 0.5  # out of line by more, a bolt or a bush binds
LINED_UP = math.radians(0.5)


@dataclass(frozen=True)
class Pivot:
    """Two tabs' holes on one pivot. apart: between them along it, mm; off: how far the second hole is beside the
    line of the first one's bolt, or the first beside that of the second, whichever is more, mm; lean: between the two
    bolts, rad."""

    first: str
    second: str
    apart: float
    off: float
    lean: float

    @property
    def binds(self) -> bool:
        """Whether they are out of line by more than a bolt takes."""
        return self.off > LINED_UP_MM or self.lean > LINED_UP


@remembered("joints", "tubes", "shelf", "fittings")
def find_pivots(job: Job) -> tuple[Pivot, ...]:
    """Every tab with the next one along its bolt, the worst first."""
    stands = dict(_stands(job))
    if len(stands) < 2:
        return ()
    names = list(stands)
    holes, bolts = (np.array([getattr(s, part) for s in stands.values()]) for part in ("hole", "bolt"))
    between = holes[None] - holes[:, None]
    along = np.einsum("abi,ai->ab", between, bolts)
    beside = np.linalg.norm(between - along[:, :, None] * bolts[:, None], axis=2)
    parallel = np.abs(bolts @ bolts.T)
    meant = (parallel > MEANT_COS) & (beside < MEANT_MM) & (abs(along) > SAME_MM) & (abs(along) < FURTHEST_MM)
    found: dict[frozenset[int], Pivot] = {}
    for side in (1, -1):
        ahead = np.where(meant & (side * along > 0), abs(along), np.inf)
        for a in np.flatnonzero(np.isfinite(ahead.min(axis=1))).tolist():
            b = int(ahead[a].argmin())
            lean = math.acos(min(1.0, float(parallel[a, b])))
            off = float(max(beside[a, b], beside[b, a]))
            found.setdefault(frozenset((a, b)), Pivot(names[a], names[b], float(ahead[a, b]), off, lean))
    return tuple(sorted(found.values(), key=lambda p: (-p.off, -p.lean)))


def _stands(job: Job) -> Iterator[tuple[str, TabStand]]:
    for f in job.fittings:
        if isinstance(f, Tab):
            try:
                yield f.id, tab_stand(job, f)
            except Problem:  # its own snag says so
                continue


def lined_up(job: Job) -> Iterator[Snag]:
    """Holes that share a pivot and are out of line."""
    for p in find_pivots(job):
        if p.binds:
            yield Snag(
                "wrong",
                "pivot binds",
                "frame",
                f"The holes of {p.first} and {p.second} are on one pivot but {said.fine(p.off)} and "
                f"{math.degrees(p.lean):.1f}° out of line.",
                (p.first, p.second),
                "Let both carry a joint on the pivot and point at the other: carries J1L, axis J2L",
            )
