"""The sheet of offsets looked over: what it still has to lay, and what does not fit together."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.edits.offsets import demand_clear_lines
from ironcage.core.job.geometry.bodies import person_body
from ironcage.core.job.geometry.offsets import cell_at, drawn, place_of, sizes
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Person
from ironcage.problem import Problem
from ironcage.units import said

HEAD_MM = 300.0  # a line lower than this below the top of a helmet is no roof over it


@dataclass(frozen=True)
class SheetAnswer:
    """joints: cells to lay; tubes: members to lay, both sides counted; drawn: those as pairs of places (n, 2, 3), mm;
    faults: sentences on what does not fit."""

    joints: int
    tubes: int
    drawn: Floats
    faults: tuple[str, ...]


def answer(job: Job) -> SheetAnswer:
    """What the sheet has left to lay."""
    left = drawn(job)
    pending = sum(cell.joint is None for _, _, cell in job.offsets.cells())
    return SheetAnswer(pending, len(left), left, tuple(_faults(job)))


def _faults(job: Job) -> Iterator[str]:
    try:
        demand_clear_lines(job)
    except Problem as problem:
        yield problem.what
    for person in job.people:
        if person.aboard:
            yield from _too_tall(job, person)


def _too_tall(job: Job, person: Person) -> Iterator[str]:
    """A roof line that is lower than a person's helmet and what is to be kept clear over it."""
    body = person_body(person)
    top = max(body.solid_bounds, key=lambda b: b[1][2])
    x, height = float(top[:, 0].mean()), float(top[1][2])
    for n, line in enumerate(job.offsets.lines):
        z = _height_at(job, n, x)
        if z is None or z < height - HEAD_MM:
            continue
        room = z - sizes(job, n)[1] / 2 - height
        if room < 0:
            yield f"{person.name}'s helmet is {said.length(-room)} higher than the underside of {line.name} there."
        elif room < person.margin:
            yield (
                f"{line.name} clears {person.name}'s helmet by {said.length(room)}, less than the "
                f"{said.length(person.margin)} wanted."
            )


def _height_at(job: Job, n: int, x: float) -> float | None:
    """How high a line runs at x, mm; None where it does not pass."""
    places = [place_of(job, s, n) for s in range(len(job.offsets.stations)) if cell_at(job.offsets, s, n)]
    for (x0, _, z0), (x1, _, z1) in pairwise(places):
        if x1 <= x <= x0:
            return float(np.interp(x, (x1, x0), (z1, z0)))
    return None
