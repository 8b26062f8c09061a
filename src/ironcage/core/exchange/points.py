"""Hard points in and out: joints and mount holes as CSV or DXF, in any unit, from the datum that is shown."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from ironcage.core.job import edits
from ironcage.core.job.bodies import turn_of
from ironcage.core.job.edits.joints import SAME_PLACE_MM, Place, flipped
from ironcage.core.job.model import Job
from ironcage.problem import Problem

MOST_POINTS = 5000
UNITS_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4, "inch": 25.4, "m": 1000.0}
DXF_UNITS = {1: "inch", 4: "mm", 5: "cm", 6: "m"}


@dataclass(frozen=True)
class Points:
    """Places by name, in their file's unit. unit: what the file says that is, '' when it does not."""

    named: tuple[tuple[str, Place], ...]
    unit: str


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
        space.add_text(name, height=12, dxfattribs={"layer": "names"}).set_placement((place[0], place[1], place[2]))
    stream = io.StringIO()
    drawing.write(stream)
    return stream.getvalue().encode("utf-8")


def read_points(path: Path) -> Points:
    """Points of a CSV (name, x, y, z; a unit in the head of a column) or of a DXF (its POINTs, or the ends of its lines where it has none).

    Raises Problem for a file with none, with too many, or that can't be read.
    """
    try:
        if path.stat().st_size > 64 * 2**20:
            raise Problem(f"{path.name} is over 64 MB.", where=path.name)
        data = path.read_bytes()
    except OSError as error:
        raise Problem(f"{path.name} cannot be read: {error.strerror or error}.", where=path.name) from None
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
    for n, row in enumerate(csv.reader(io.StringIO(text), delimiter=divider)):
        cells = [c.strip() for c in row]
        if len([c for c in cells if c]) < 3:
            continue
        numbers = [_number(c) for c in cells]
        at = next((k for k in range(len(cells) - 2) if all(v is not None for v in numbers[k : k + 3])), None)
        if at is None:
            if named:
                raise Problem(f"Line {n + 1} of {name} has no x, y and z.", where=f"line {n + 1}")
            unit = next(
                (w for c in cells for w in c.lower().replace("(", " ").replace(")", " ").split() if w in UNITS_MM), ""
            )
            continue
        x, y, z = (float(v or 0.0) for v in numbers[at : at + 3])
        named.append((cells[0] if at else f"point {len(named) + 1}", (x, y, z)))
    return Points(tuple(named), unit)


def _number(text: str) -> float | None:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        return None
    return value if abs(value) < 1e9 else None


def _of_dxf(data: bytes, name: str) -> Points:
    from ezdxf import recover
    from ezdxf.lldxf.const import DXFError

    try:
        drawing, _ = recover.read(io.BytesIO(data))
    except (OSError, DXFError, ValueError):
        raise Problem(f"{name} is not a DXF drawing.", where=name) from None
    space = drawing.modelspace()
    places: list[Any] = [e.dxf.location for e in space.query("POINT")]
    if not places:
        places = [p for e in space.query("LINE") for p in (e.dxf.start, e.dxf.end)]
    unique = dict.fromkeys((round(p[0], 6), round(p[1], 6), round(p[2], 6)) for p in places)
    return Points(tuple((f"point {n + 1}", p) for n, p in enumerate(unique)), DXF_UNITS.get(int(drawing.units), ""))


def add_points(job: Job, points: Points, unit: str) -> tuple[Job, int, int]:
    """The job with a joint at each point, read from the shown datum; places that mirror each other become a pair. Also how many joints came, and how many were
    there already."""
    if unit not in UNITS_MM:
        raise Problem(f"‘{unit}’ is no unit for points.", where=unit, hint="There are mm, cm, inch and m.")
    size, datum = UNITS_MM[unit], job.datum
    places = [(p[0] * size + datum.x, p[1] * size + datum.y, p[2] * size + datum.z) for _, p in points.named]
    made, there = job, 0
    for place in places:
        if _taken(made, place):
            there += not _taken_by_new(made, job, place)
            continue
        both = abs(place[1]) < SAME_PLACE_MM or _among(flipped(place), places)
        on_line = (place[0], 0.0, place[2]) if abs(place[1]) < SAME_PLACE_MM else place
        made = edits.add_joint(made, on_line, mirrored=both)
    return made, len(made.joints) - len(job.joints), there


def _among(place: Place, places: Sequence[Place]) -> bool:
    return any(all(abs(a - b) < SAME_PLACE_MM for a, b in zip(place, p, strict=True)) for p in places)


def _taken(job: Job, place: Place) -> bool:
    return _among(place, [j.place for j in job.joints])


def _taken_by_new(made: Job, before: Job, place: Place) -> bool:
    return _among(place, [j.place for j in made.joints[len(before.joints) :]])
