"""Hard points in and out: joints and mount holes as CSV or DXF, in any unit, from the datum that is shown."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from ironcage.core.exchange.reading import bytes_of, drawing_of
from ironcage.core.job.edits.joints import Place
from ironcage.core.job.edits.points import Points
from ironcage.core.job.geometry.bodies import turn_of
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units.tables import UNITS_MM

MOST_POINTS, MOST_BYTES = 5000, 64 * 2**20
MOST_SHOWN = 20  # letters of a cell that is no number
DXF_UNITS = {1: "inch", 4: "mm", 5: "cm", 6: "m"}


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
        raise Problem(f"{path.name} holds {len(made.named):,} points; the most is {MOST_POINTS:,}.", where=path.name)
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
