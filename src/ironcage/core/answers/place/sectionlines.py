"""Section lines: how far each is from what is placed on both sides of it, and what stands through it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.job.geometry.bodies import Body, placed_bodies
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import SectionLine

AXES = "xyz"


@dataclass(frozen=True)
class LineGap:
    """From a section line to something placed. id: of the thing; piece: the piece of it that is nearest to the line or
    reaches furthest through it, such as a person's helmet; use: a part's kind, or what else it is; above: the line is
    on the thing's positive side (over it, ahead of it, to its left); gap: mm along the line's axis, negative by how
    much of the thing is beyond the line."""

    id: str
    name: str
    piece: str
    use: str
    above: bool
    gap: float


@dataclass(frozen=True)
class LineAnswer:
    """A section line with the gaps to everything placed, the least first."""

    line: SectionLine
    gaps: tuple[LineGap, ...]


@remembered("lines", "parts", "people", "wheels", "chains", "shafts")
def section_lines(job: Job) -> tuple[LineAnswer, ...]:
    """Every section line with its gaps to the outermost places of parts, people aboard, tyres, chains and shafts (a
    scan counts as the box round it)."""
    if not job.lines:
        return ()
    placed = tuple(placed_bodies(job))
    return tuple(
        LineAnswer(line, tuple(sorted(_gaps(line, placed), key=lambda found: found.gap))) for line in job.lines
    )


def _gaps(line: SectionLine, placed: tuple[Body, ...]) -> Iterator[LineGap]:
    axis = AXES.index(line.axis)
    for body in placed:
        each = body.solid_bounds[:, :, axis]
        over, under = line.at - each[:, 1], each[:, 0] - line.at
        above = over.min() >= under.min()
        nearest = over if above else under
        n = int(nearest.argmin())
        yield LineGap(body.id, body.name, body.labels[n], body.use, bool(above), float(nearest[n]))
