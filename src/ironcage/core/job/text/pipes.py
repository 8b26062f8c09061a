"""Pipes, hoses and exhausts as they are typed: a diameter, a radius for the bends, and the places they pass."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np

from ironcage.core.calc.tubes.centreline import Route, demand_bendable
from ironcage.core.job.values.placed import Pipe
from ironcage.problem import Problem
from ironcage.units import Units, said

PIPE_EXAMPLE = said.example("pipe [45] clr [90]: 0 0 0; [-300] [60] [-80]; [-700] [60] [-80]")
THROUGH_EXAMPLE = said.example(
    "place exhaust Header pipe [45] clr [90] through [-1900] [200] [400]; [-2100] [300] [350]; [-2500] [300] [300]"
)
_SIZES = re.compile(r"^(?P<diameter>.+?)(?:\s+clr\s+(?P<clr>.+?))?(?:\s+mitres?\s+(?P<mitres>\d+))?$", re.IGNORECASE)
Point = tuple[float, float, float]


def read_pipe(text: str, units: Units) -> Pipe:
    """`45 clr 90: 0 0 0; -300 60 -80; …`: diameter, radius of the bends, and the corners from the part's place."""
    sizes, colon, corners = text.partition(":")
    if not colon:
        raise Problem(f"‘pipe {text.strip()}’ is not a pipe.", where=text, hint=f"Write {PIPE_EXAMPLE}")
    points = []
    for corner in filter(str.strip, corners.split(";")):
        parts = corner.split(",") if "," in corner else corner.split()
        if len(parts) != 3:
            raise Problem(f"‘{corner.strip()}’ is not a place.", where=corner, hint=f"Write {PIPE_EXAMPLE}")
        x, y, z = (units.read_length(p.strip()) for p in parts)
        points.append((x, y, z))
    return pipe_through(sizes, points, units)


def pipe_through(sizes: str, points: Sequence[Point], units: Units) -> Pipe:
    """A pipe of typed sizes, `45 clr 90` or `45 clr 90 mitres 3`, through places in its own axes, mm. Raises Problem
    for less than two places, and where its bends have no room."""
    match = _SIZES.match(sizes.strip())
    if match is None or len(points) < 2:
        raise Problem("A pipe needs a diameter and two places.", where="pipe", hint=f"Write {PIPE_EXAMPLE}")
    radius = units.read_length(match["clr"]) if match["clr"] else 0.0
    demand_bendable(Route(np.array(points), radius), "The pipe")
    diameter, mitres = units.read_length(match["diameter"]), int(match["mitres"] or 0)
    return Pipe(diameter=diameter, radius=radius, points=tuple(points), mitres=mitres)


def pipe_text(pipe: Pipe, units: Units) -> str:
    """A pipe as it can be typed."""

    def size(mm: float) -> str:
        return units.length(mm, unit=False)

    corners = "; ".join(", ".join(size(v) for v in point) for point in pipe.points)
    bends = f" clr {size(pipe.radius)}" if pipe.radius else ""
    bends += f" mitres {pipe.mitres}" if pipe.mitres else ""
    return f"pipe {size(pipe.diameter)}{bends}: {corners}"
