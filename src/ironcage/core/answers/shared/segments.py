"""Pipes that are made of mitred segments: equal ones gathered, in the order in which they come."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ironcage.core.calc.tubes.mitred import Segment, segments
from ironcage.core.job.geometry.bodies import pipe_route
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Part, Pipe
from ironcage.problem import Problem

SAME_MM = 0.05


@dataclass(frozen=True)
class PipeSegments:
    """A pipe's segments. kinds: each different one and how many there are; order: which kind comes after which, from
    the first end; problem: why it can't be made so."""

    part: str
    name: str
    diameter: float
    kinds: tuple[tuple[Segment, int], ...]
    order: tuple[int, ...]
    problem: str = ""


def pipe_segments(part: Part, pipe: Pipe) -> PipeSegments:
    """The segments of a pipe that is cut from straight tube."""
    route = pipe_route(pipe)
    try:
        made = segments(route.points, pipe.radius, pipe.mitres, pipe.diameter)
    except Problem as problem:
        return PipeSegments(part.id, part.name, pipe.diameter, (), (), problem.sentence)
    keys = [_key(segment) for segment in made]
    kinds = list(dict.fromkeys(keys))
    return PipeSegments(
        part.id,
        part.name,
        pipe.diameter,
        tuple((made[keys.index(key)], keys.count(key)) for key in kinds),
        tuple(kinds.index(key) for key in keys),
    )


def all_segments(job: Job) -> tuple[PipeSegments, ...]:
    """Every pipe of a job that is made of segments."""
    return tuple(pipe_segments(p, p.shape) for p in job.parts if p.shape.kind == "pipe" and p.shape.mitres)


def _key(s: Segment) -> tuple[int, ...]:
    return (
        round(s.centre / SAME_MM),
        *(round(math.degrees(angle) * 50) for angle in (s.first, s.second)),
        round(math.degrees(s.turn) * 10) % 3600 if s.first and s.second else 0,
    )
