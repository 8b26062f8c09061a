"""Sheets of offsets to start from: a ladder, one seat, two seats, a kart, in sizes of the wheelbase, wide and high
enough for the people who sit in the job.

Proportions are made up, for a first frame to change: they know no load and no rule.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.car.mannequin import Limbs
from ironcage.core.job.edits.placed import seat_for
from ironcage.core.job.edits.tubes import shelve
from ironcage.core.job.geometry.bodies import person_body
from ironcage.core.job.shelf.library import read_section
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.offsets import Cell, Offsets, SheetLine, Station
from ironcage.core.job.values.placed import Person
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest

STARTS = ("ladder", "single seat", "two seats", "kart")
USUAL_STATURE_MM = 1780.0  # of whoever is to sit where nobody does yet
USUAL_MASS_KG = 80.0
CLEARANCE_MM = 150.0  # of the lowest rail's centre over the ground, where people do not ask for less
LEAST_MM = 60.0  # between two stations
PEDALS_MM = 120.0  # from the soles to the bulkhead ahead of them


@dataclass(frozen=True)
class _Room:
    """Where the centres of tubes may begin round the people: from x to x, half width, from z to z, mm."""

    rear: float
    front: float
    half: float
    low: float
    top: float


@dataclass(frozen=True)
class _Start:
    """A kind of sheet. wheelbase: where the brief has no target, mm; seats: how many sit beside each other where nobody
    does yet; sections: of rails and of the web, metric and inch."""

    wheelbase: float
    seats: int
    metric: tuple[str, str]
    inch: tuple[str, str]


_KINDS = {
    "ladder": _Start(
        2300.0,
        1,
        ("60 x 40 x 3 rectangular", "40 x 40 x 2 square"),
        ("2 x 2 x .120 in square", "1-1/2 x 1-1/2 x .083 in square"),
    ),
    "single seat": _Start(1900.0, 1, ("38 x 2 round", "25 x 2 round"), ("1-1/2 x .083 in round", "1 x .083 in round")),
    "two seats": _Start(
        2300.0, 2, ("40 x 2 round", "30 x 2 round"), ("1-5/8 x .095 in round", "1-1/4 x .083 in round")
    ),
    "kart": _Start(1100.0, 1, ("30 x 2 round", "25 x 2 round"), ("1-1/4 x .083 in round", "1 x .083 in round")),
}


def start_sheet(job: Job, kind: str) -> Job:
    """Put a starting sheet in place of the job's own; the frame stays. Its wheelbase is the brief's target, its people
    those aboard, or so many of usual stature where nobody is. Raises Problem for a kind there is not."""
    plain = kind.strip().lower()
    if plain not in _KINDS:
        raise Problem(
            f"There is no starting sheet ‘{kind.strip()}’.",
            where=kind,
            hint=nearest(plain, STARTS) or f"There are {', '.join(STARTS)}.",
        )
    start = _KINDS[plain]
    target = next((t.value for t in job.brief.targets if t.kind == "wheelbase"), 0.0)
    inches = units_of(job).length_unit == "inch"
    names = []
    for text in start.inch if inches else start.metric:
        job, name = shelve(job, read_section(text, units_of(job)))
        names.append(name)
    rail, web = (job.section(name).shape.size for name in names)
    room = _room(job, start, target or start.wheelbase, max(*rail, *web) / 2)
    stations, lines = (_ladder if plain in ("ladder", "kart") else _caged)(target or start.wheelbase, room)
    sheet = Offsets(
        lines=tuple(SheetLine(name=name, section=names[0], braced=braced) for name, braced in lines),
        stations=stations,
        web=names[1],
    )
    return job.but(offsets=sheet)


def _room(job: Job, start: _Start, wheelbase: float, half_tube: float) -> _Room:
    """Room for the people aboard, tubes of a half size round it."""
    people = [p for p in job.people if p.aboard] or _usual(start.seats, wheelbase)
    grown = [person_body(p).bounds + np.array([[-1.0], [1.0]]) * (p.margin + half_tube) for p in people]
    low, high = np.min(grown, axis=(0, 1)), np.max(grown, axis=(0, 1))
    return _Room(
        rear=float(low[0]),
        front=float(high[0]),
        half=float(max(abs(low[1]), abs(high[1]))),
        low=float(low[2]),
        top=float(high[2]),
    )


def _usual(seats: int, wheelbase: float) -> list[Person]:
    """People of usual stature, side by side ahead of the rear axle."""
    limbs = Limbs.of_stature(USUAL_STATURE_MM)
    apart = limbs.shoulders / 2 + 40.0 if seats > 1 else 0.0
    return [
        Person(
            id=f"D{n + 1}",
            name="usual",
            mass=USUAL_MASS_KG,
            limbs=limbs,
            seat=seat_for(limbs, (-0.72 * wheelbase, side * apart, CLEARANCE_MM + 180.0)),
        )
        for n, side in enumerate((1.0, -1.0)[:seats])
    ]


def _in_place(cells: Mapping[float, tuple[Cell | None, ...]]) -> tuple[Station, ...]:
    """Stations from the front, those left out that come too near to the one ahead."""
    made: list[Station] = []
    for x in sorted(cells, reverse=True):
        if not made or made[-1].x - x >= LEAST_MM:
            made.append(Station(x=round(x), cells=cells[x]))
    return tuple(made)


def _cell(half: float, z: float, *, is_open: bool = False) -> Cell:
    return Cell(half=float(np.ceil(half)), z=float(round(z)), open=is_open)


def _ladder(wheelbase: float, room: _Room) -> tuple[tuple[Station, ...], tuple[tuple[str, bool], ...]]:
    """Two rails beneath the people, cross members from end to end."""
    z = min(CLEARANCE_MM, float(np.floor(room.low)))
    narrow = max(0.16 * wheelbase, 150.0)
    wide = max(narrow, room.half)
    cells = {x: (_cell(half, z),) for x, half in ((0.1 * wheelbase, narrow), (-0.1 * wheelbase, narrow))}
    cells |= {x: (_cell(wide, z),) for x in (min(room.front, -0.2 * wheelbase), (room.front + room.rear) / 2)}
    cells |= {x: (_cell(wide, z),) for x in (room.rear, min(room.rear - 0.2 * wheelbase, -1.1 * wheelbase))}
    return _in_place(cells), (("rail", True),)


def _caged(wheelbase: float, room: _Room) -> tuple[tuple[Station, ...], tuple[tuple[str, bool], ...]]:
    """Lower and upper rails from nose to tail, and a roof over the people between two hoops; braces run from the rear
    hoop's top down to the upper rail."""
    low = min(CLEARANCE_MM, float(np.floor(room.low)))
    waist = low + max(0.45 * (room.top - low), 300.0)
    nose = 0.6 * room.half
    tail_x = min(-1.12 * wheelbase, room.rear - 0.3 * wheelbase)
    feet, seat = room.front + PEDALS_MM, room.rear
    dash = seat + 0.55 * (room.front - seat)
    roof = _cell(room.half, np.ceil(room.top))
    tail = _cell(0.8 * room.half, waist)
    cells: dict[float, tuple[Cell | None, ...]] = {
        max(feet + 0.15 * wheelbase, 0.08 * wheelbase): (
            _cell(nose, low),
            _cell(nose, low + 0.7 * (waist - low)),
            None,
        ),
        feet: (_cell(room.half, low), _cell(room.half, waist), None),
        dash: (_cell(room.half, low), _cell(room.half, waist, is_open=True), roof),
        seat: (_cell(room.half, low), _cell(room.half, waist), roof),
        tail_x: (_cell(0.8 * room.half, low), tail, tail),
    }
    return _in_place(cells), (("lower rail", True), ("upper rail", False), ("roof rail", True))
