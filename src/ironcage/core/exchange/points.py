"""Hard points in and out: joints and mount holes as CSV or DXF, in any unit, from the datum that is shown."""

from __future__ import annotations

import csv
import io
import math
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from ironcage.core.exchange.reading import bytes_of, drawing_of
from ironcage.core.job import edits
from ironcage.core.job.edits.joints import SAME_PLACE_MM, Place, flipped
from ironcage.core.job.geometry.bodies import turn_of
from ironcage.core.job.values.base import REACH_MM
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

MOST_POINTS, MOST_BYTES = 5000, 64 * 2**20
MOST_SHOWN = 20  # letters of a cell that is no number
UNITS_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4, "inch": 25.4, "m": 1000.0}
DXF_UNITS = {1: "inch", 4: "mm", 5: "cm", 6: "m"}


@dataclass(frozen=True)
class Points:
    """Places by name, in their file's unit. unit: what the file says that is, '' when it does not; mended: how many
    things in the file were spoilt and had to be guessed."""

    named: tuple[tuple[str, Place], ...]
    unit: str
    mended: int = 0


def hard_points(job: Job) -> list[tuple[str, Place]]:
    """Joints, and every part's mount holes, by name; mm from the ground under the front axle."""
    found: list[tuple[str, Place]] = [(j.id, j.place) for j in job.joints]
    for p in job.parts:
        for h in p.holes:
            x, y, z = (float(v) for v in turn_of(p) @ np.array([h.x, h.y, h.z]) + np.array(p.place))
            found.append((f"{p.name}: {h.name}", (x, y, z)))
    return found


def to_points_dxf(job: Job) -> bytes:
    """Every hard point as a DXF POINT with its name beside it; mm."""
    from ezdxf import document as dxf
    from ezdxf import units

    drawing = dxf.Drawing.new("R2010")
    drawing.units = units.MM
    space = drawing.modelspace()
    for name, place in hard_points(job):
        space.add_point(place, dxfattribs={"layer": "points"})
        space.add_text(" ".join(name.split()), height=12, dxfattribs={"layer": "names"}).set_placement(
            (place[0], place[1], place[2])
        )
    stream = io.StringIO()
    drawing.write(stream)
    return stream.getvalue().encode("utf-8")


def read_points(path: Path) -> Points:
    """Points of a CSV (name, x, y, z; a unit in the head of a column) or of a DXF (its POINTs, or the ends of its lines
    where it has none).

    Raises Problem for a file with none, with too many, or that can't be read.
    """
    data = bytes_of(path, MOST_BYTES)
    made = (_of_dxf if path.suffix.lower() == ".dxf" else _of_csv)(data, path.name)
    if not made.named:
        raise Problem(
            f"{path.name} holds no point.",
            where=path.name,
            hint="Rows of name, x, y, z are read, or a DXF's points and lines.",
        )
    if len(made.named) > MOST_POINTS:
        raise Problem(f"{path.name} holds {len(made.named):,} points; {MOST_POINTS:,} can be taken.", where=path.name)
    return made


def _of_csv(data: bytes, name: str) -> Points:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Problem(f"{name} is not text.", where=name) from None
    divider = ";" if text.count(";") > text.count(",") else ","
    unit = ""
    named: list[tuple[str, Place]] = []
    for n, row in enumerate(_rows(text, divider, name)):
        cells = [c.strip() for c in row]
        if len([c for c in cells if c]) < 3:
            continue
        numbers = [_number(c) for c in cells]
        at = next((k for k in range(len(cells) - 2) if all(v is not None for v in numbers[k : k + 3])), None)
        if at is None:
            if named or any(v is not None for v in numbers):  # a head has no numbers; this was meant as a point
                wrong = next(
                    (
                        c
                        for c, v in zip(cells[1:], numbers[1:], strict=True)
                        if v is None and any(d.isdigit() for d in c)
                    ),
                    "",
                )
                why = f": ‘{wrong[:MOST_SHOWN]}’ is no number" if wrong else ""
                raise Problem(f"Line {n + 1} of {name} has no x, y and z{why}.", where=f"line {n + 1}")
            unit = next(
                (w for c in cells for w in c.lower().replace("(", " ").replace(")", " ").split() if w in UNITS_MM), ""
            )
            continue
        x, y, z = (float(v or 0.0) for v in numbers[at : at + 3])
        named.append((cells[0] if at else f"point {len(named) + 1}", (x, y, z)))
    return Points(tuple(named), unit)


def _rows(text: str, divider: str, name: str) -> Iterator[list[str]]:
    """The rows of a CSV, whatever its lines end in."""
    try:
        yield from csv.reader(io.StringIO(text, newline=None), delimiter=divider)
    except csv.Error as error:
        raise Problem(f"{name} is not laid out as a CSV: {error}.", where=name) from None


def _number(text: str) -> float | None:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        return None
    return value if abs(value) < 1e9 else None


def unit_of(drawing: Any) -> str:
    """What a DXF drawing says it counts in; nothing where it does not."""
    try:
        return DXF_UNITS.get(int(drawing.units), "")
    except (TypeError, ValueError):
        return ""


def _of_dxf(data: bytes, name: str) -> Points:
    drawing, mended = drawing_of(data, name)
    try:
        space = drawing.modelspace()
        places: list[Any] = [e.dxf.location for e in space.query("POINT")]
        if not places:
            places = [p for e in space.query("LINE") for p in (e.dxf.start, e.dxf.end)]
        unique = dict.fromkeys((round(float(p[0]), 6), round(float(p[1]), 6), round(float(p[2]), 6)) for p in places)
    except (AttributeError, TypeError, ValueError, KeyError, IndexError, ArithmeticError):
        raise Problem(f"{name} holds a point that is no place.", where=name) from None
    if not all(math.isfinite(v) for p in unique for v in p):
        raise Problem(f"{name} holds a point that is no place.", where=name)
    return Points(tuple((f"point {n + 1}", p) for n, p in enumerate(unique)), unit_of(drawing), mended)


def demand_within_reach(places: Sequence[Place], what: str) -> None:
    """Refuse places further than a job reaches, 1 km from its origin."""
    far = max((max(abs(v) for v in p) for p in places), default=0.0)
    if far > REACH_MM:
        raise Problem(
            f"{what} reaches {far / 1000:,.0f} m from the datum; a job reaches {REACH_MM / 1000:,.0f} m.",
            where="unit",
            hint="Is the unit right? Say another, or move it nearer first.",
        )


@dataclass(frozen=True)
class Came:
    """What came of points. joints: how many; there: how many had one; named: the joint that each named point became;
    off: joints of a point's name that stand elsewhere, and how far, mm."""

    joints: int
    there: int
    named: tuple[tuple[str, str], ...]
    off: tuple[tuple[str, float], ...]


def add_points(job: Job, points: Points, unit: str) -> tuple[Job, Came]:
    """The job with a joint at each point, read from the shown datum; places that mirror each other become a pair. A
    point that is called as a joint is, and no joint is called so yet, gives it its name."""
    if unit not in UNITS_MM:
        raise Problem(f"‘{unit}’ is no unit for points.", where=unit, hint="There are mm, cm, inch and m.")
    size, datum = UNITS_MM[unit], job.datum
    places = [(p[0] * size + datum.x, p[1] * size + datum.y, p[2] * size + datum.z) for _, p in points.named]
    demand_within_reach(places, "The list")
    made, there = job, 0
    off: list[tuple[str, float]] = []
    for (name, _), place in zip(points.named, places, strict=True):
        held = job.joint_by_id.get(name)
        if held is not None and not _among(place, [held.place]):
            off.append((name, math.dist(held.place, place)))
            continue
        if _taken(made, place):
            there += not _taken_by_new(made, job, place)
            continue
        both = abs(place[1]) < SAME_PLACE_MM or _among(flipped(place), places)
        on_line = (place[0], 0.0, place[2]) if abs(place[1]) < SAME_PLACE_MM else place
        made = edits.add_joint(made, on_line, mirrored=both)
    made, named = _called(job, made, list(zip((n for n, _ in points.named), places, strict=True)))
    return made, Came(len(made.joints) - len(job.joints), there, named, tuple(off))


def _called(before: Job, job: Job, points: list[tuple[str, Place]]) -> tuple[Job, tuple[tuple[str, str], ...]]:
    """The job with new joints called as their points are, where that is a joint's name and free on both sides; and
    what each point became."""
    new = {j.id: j for j in job.joints[len(before.joints) :]}
    at = {}
    for name, place in points:
        found = next((j.id for j in new.values() if _among(place, [j.place])), None)
        if found:
            at[found] = name
    wanted = {
        j: name.upper()
        for j, name in at.items()
        if JOINT_NAME.fullmatch(name.upper()) and name.upper() not in before.joint_by_id
    }
    names: dict[str, str] = {}
    for j, name in wanted.items():
        twin = new[j].twin
        partner = _OPPOSITE.get(name[-1:], "")
        if twin == j or twin is None:
            names[j] = name
        elif partner and wanted.get(twin, name[:-1] + partner) == name[:-1] + partner:
            names[j], names[twin] = name, name[:-1] + partner
    if len(set(names.values())) < len(names) or set(names.values()) & (set(job.joint_by_id) - set(names)):
        names = {}
    joints = tuple(
        j.but(id=names.get(j.id, j.id), twin=names.get(j.twin, j.twin) if j.twin else None)
        if {j.id, j.twin} & set(names)
        else j
        for j in job.joints
    )
    last = max([job.last_joint, *(int("".join(c for c in n if c.isdigit())) for n in names.values())])
    made = job.but(joints=joints, last_joint=last) if names else job
    return made, tuple((name, names.get(j, j)) for j, name in at.items() if not name.startswith("point "))


JOINT_NAME = re.compile(r"J[1-9]\d{0,6}[LR]?")
_OPPOSITE = {"L": "R", "R": "L"}


def _among(place: Place, places: Sequence[Place]) -> bool:
    return any(all(abs(a - b) < SAME_PLACE_MM for a, b in zip(place, p, strict=True)) for p in places)


def _taken(job: Job, place: Place) -> bool:
    return _among(place, [j.place for j in job.joints])


def _taken_by_new(made: Job, before: Job, place: Place) -> bool:
    return _among(place, [j.place for j in made.joints[len(before.joints) :]])
