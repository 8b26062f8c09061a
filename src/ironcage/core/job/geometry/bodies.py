"""What everything in a job takes up in space: each part, person, tyre, tube, chain run and shaft as convex solids.

Bodies are made once for equal values, so that a job in which one thing moved has all others as the very same objects.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from itertools import pairwise
from typing import Literal

import numpy as np

from ironcage.core.calc.car import chain as chains
from ironcage.core.calc.car.mannequin import Pose, pose
from ironcage.core.calc.frames.beams import element_axes
from ironcage.core.calc.sections import AnySection
from ironcage.core.calc.solids.convex import (
    Floats,
    Solid,
    bounds_of,
    box,
    cylinder,
    plate,
    rod,
    rotation,
)
from ironcage.core.calc.tubes.centreline import Route
from ironcage.core.job.geometry.routes import rolls_of, route_of
from ironcage.core.job.values.model import Job, Wheel
from ironcage.core.job.values.placed import Chain, Part, Person, Pipe, Shaft, Sprocket
from ironcage.problem import Problem

BodyKind = Literal["part", "person", "tyre", "tube", "sheet", "chain", "shaft", "link"]
TYRE_MARGIN_MM = 20.0  # of a tyre to everything: it grows and leans under load
KEEP = 20_000  # more than a job of five thousand tubes has, twice over


@dataclass(frozen=True, eq=False)
class Body:
    """A thing in space. solids: its convex pieces, named by `labels` (a person's limbs; else the same name
    throughout); margin: to be kept clear, mm; use: a part's kind or a tube's role; touches: ids, kinds and roles of
    what it may touch; scan: the mesh it is, if it is one."""

    id: str
    name: str
    kind: BodyKind
    solids: tuple[Solid, ...]
    labels: tuple[str, ...]
    margin: float = 0.0
    use: str = ""
    touches: frozenset[str] = frozenset()
    scan: str = ""
    turn: Floats = field(default_factory=lambda: np.eye(3))
    at: Floats = field(default_factory=lambda: np.zeros(3))

    @cached_property
    def bounds(self) -> Floats:
        """Least and greatest x, y, z (2, 3), mm."""
        each = self.solid_bounds
        return np.array([each[:, 0].min(axis=0), each[:, 1].max(axis=0)])

    @cached_property
    def solid_bounds(self) -> Floats:
        """Bounds of each piece (n, 2, 3), mm."""
        return bounds_of(self.solids)


def shape_solids(part: Part) -> list[Solid]:
    """A part's shape in its own axes; a scan as the box round it."""
    s = part.shape
    if s.kind == "box":
        return [box((s.length, s.width, s.height))]
    if s.kind == "cylinder":
        half = np.array([s.length / 2, 0, 0])
        return [cylinder(s.diameter / 2, -half, half)]
    if s.kind == "pipe":
        return [rod(s.diameter / 2, a, b) for a, b in pairwise(pipe_route(s).line)]
    if s.kind == "scan":
        low, high = np.array(s.low), np.array(s.high)
        size = np.maximum(high - low, 0.01)
        return [box((size[0], size[1], size[2])).moved(np.eye(3), (low + high) / 2)]
    flat = plate(np.array(s.corners), s.thickness)
    stand = np.array([[1.0, 0, 0], [0, 0, -1], [0, 1, 0]])  # from its plane into x and z
    return [p.moved(stand, np.zeros(3)) for p in flat]


def pipe_route(pipe: Pipe) -> Route:
    """The centreline of a pipe in its own axes."""
    return Route(np.array(pipe.points), pipe.radius)


def turn_of(part: Part) -> Floats:
    """The part's turn (3, 3), columns its axes."""
    return rotation(part.yaw, part.pitch, part.roll)


@lru_cache(KEEP)
def part_body(part: Part) -> Body:
    """A part where it stands."""
    turn, at = turn_of(part), np.array(part.place)
    solids = tuple(s.moved(turn, at) for s in shape_solids(part))
    scan = part.shape.digest if part.shape.kind == "scan" else ""
    return Body(
        part.id,
        part.name,
        "part",
        solids,
        ("",) * len(solids),
        part.margin,
        part.kind,
        frozenset(part.touches),
        scan,
        turn,
        at,
    )


@lru_cache(64)
def pose_of(person: Person) -> Pose:
    """A person posed in their seat."""
    return pose(person.limbs, person.seat, person.mass)


@lru_cache(64)
def person_body(person: Person) -> Body:
    """A person where they sit."""
    posed = pose_of(person).solids
    return Body(person.id, person.name, "person", tuple(posed.values()), tuple(posed), person.margin, "person")


@lru_cache(64)
def tyre_body(wheel: Wheel) -> Body:
    """A tyre, as a plain disc."""
    middle, half = np.array([wheel.x, wheel.y, wheel.z]), np.array([0.0, wheel.width / 2, 0])
    disc = cylinder(wheel.diameter / 2, middle - half, middle + half)
    return Body(wheel.id, wheel.tyre_name, "tyre", (disc,), ("",), TYRE_MARGIN_MM, "tyre")


@lru_cache(KEEP)
def tube_body(name: str, route: Route, shape: AnySection, roll: float, role: str) -> Body:
    """A tube along its centreline: round with round ends, which cover its mitred corners; others by their true
    outline."""
    line = route.line
    if route.length < 1e-3:
        return Body(name, name, "tube", (rod(max(shape.size) / 2, line[0], line[-1]),), ("",), 0.0, role)
    if shape.is_round:
        solids = tuple(rod(max(shape.size) / 2, a, b) for a, b in pairwise(line))
    else:
        rolls = rolls_of(route, roll)
        solids = tuple(s for (a, b), turn in zip(pairwise(line), rolls, strict=True) for s in _bars(a, b, shape, turn))
    return Body(name, name, "tube", solids, ("",) * len(solids), 0.0, role)


def _bars(start: Floats, stop: Floats, shape: AnySection, roll: float) -> list[Solid]:
    """A section from one place to another, ends square: a rectangle with its corners rounded, both legs of an angle."""
    axes = element_axes(start[None], stop[None], np.array([roll]))[0]
    flats, rounded = shape.convex_parts()
    return [Solid(np.vstack([f @ axes[1:] + start, f @ axes[1:] + stop]), axes[0], rounded) for f in flats]


def shaft_axis(s: Sprocket) -> Floats:
    """The unit axis (3,) of a sprocket's shaft, to the left."""
    return np.array([math.sin(s.yaw) * math.cos(s.tilt), math.cos(s.yaw) * math.cos(s.tilt), math.sin(s.tilt)])


def _sprocket(s: Sprocket) -> Floats:
    return np.array([s.x, s.y, s.z])


@lru_cache(64)
def chain_body(chain: Chain) -> Body | None:
    """Both runs and both wheels of a chain, each wheel across its own shaft, at rest and at both ends of its travel;
    None where its wheels can't be joined."""
    axis, driven = shaft_axis(chain.driving), shaft_axis(chain.driven)
    radii = [chains.pitch_radius(s.teeth, chain.pitch) for s in (chain.driving, chain.driven)]
    solids, labels = [], []
    lift = chain.height / 2
    for words, rise in (("", 0.0), (" at bump", chain.up), (" at droop", -chain.down)):
        if words and not rise:
            continue
        first, second = _sprocket(chain.driving), _sprocket(chain.driven) + [0, 0, rise]
        try:
            runs = chains.runs((first, radii[0]), (second, radii[1]), axis)
        except Problem:
            return None
        for name, (p, q) in runs.items():
            up = np.cross(axis, q - p)
            up = up / np.linalg.norm(up) * lift
            sides = axis * chain.width / 2, driven * chain.width / 2  # its plates lie along the shaft at each end
            ends = [e + u + s for e, side in zip((p, q), sides, strict=True) for u in (up, -up) for s in (side, -side)]
            solids.append(Solid(np.array(ends), axis))
            labels.append(f"{name} run{words}")
        for wheel, centre, radius, along in (
            ("driving wheel", first, radii[0], axis),
            ("driven wheel", second, radii[1], driven),
        ):
            half = along * chain.width / 2
            solids.append(cylinder(radius + lift, centre - half, centre + half))
            labels.append(f"{wheel}{words}")
    return Body(
        chain.id, chain.name, "chain", tuple(solids), tuple(labels), chain.margin, "chain", frozenset(chain.touches)
    )


@lru_cache(64)
def shaft_body(shaft: Shaft) -> Body:
    """A shaft at rest and at both ends of its travel."""
    solids, labels = [], []
    for words, rise in (("", 0.0), ("at bump", shaft.up), ("at droop", -shaft.down)):
        if not words or rise:
            solids.append(rod(shaft.diameter / 2, np.array(shaft.start), np.array(shaft.stop) + np.array([0, 0, rise])))
            labels.append(words)
    return Body(
        shaft.id, shaft.name, "shaft", tuple(solids), tuple(labels), shaft.margin, "shaft", frozenset(shaft.touches)
    )


def tube_bodies(job: Job) -> Iterator[Body]:
    """Every tube."""
    shapes = {s.name: s.shape for s in job.shelf.sections}
    for t in job.tubes:
        yield tube_body(t.id, route_of(job, t), shapes[t.section], t.roll, t.role)


def placed_bodies(job: Job) -> Iterator[Body]:
    """Every part, person aboard, tyre, chain and shaft."""
    yield from map(part_body, job.parts)
    yield from (person_body(p) for p in job.people if p.aboard)
    yield from (tyre_body(w) for w in job.wheels if not w.second_half)
    yield from (body for chain in job.chains if (body := chain_body(chain)))
    yield from map(shaft_body, job.shafts)


def bodies(job: Job) -> tuple[Body, ...]:
    """Everything, tubes last."""
    return (*placed_bodies(job), *tube_bodies(job))
