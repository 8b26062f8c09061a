"""Scan meshes in: STL (binary and text), OBJ and PLY (binary and text), with progress, and what is wrong with them
in words."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from ironcage.core.calc.solids.triangles import Singles, Triangles, welded, without_slivers
from ironcage.core.exchange.reading import bytes_of
from ironcage.problem import Problem

MOST_TRIANGLES = 2_000_000
MOST_BYTES = 600 * 2**20
FAR = 1e12  # no car reaches so far, whatever its scan counts in
UNITS_MM = {"mm": 1.0, "cm": 10.0, "inch": 25.4, "m": 1000.0}
Say = Callable[[float], None]  # is told the share that is done; what it raises ends the reading


@dataclass(frozen=True, eq=False)
class ReadMesh:
    """A mesh in its file's own unit. guess: the unit that its size suggests; notes: what is odd about it, in words."""

    mesh: Triangles
    guess: str
    notes: tuple[str, ...]

    def in_mm(self, unit: str) -> Triangles:
        """The mesh in mm, its file counting in `unit`."""
        if unit not in UNITS_MM:
            raise Problem(f"‘{unit}’ is no unit for a scan.", where=unit, hint=f"There are {', '.join(UNITS_MM)}.")
        return Triangles(self.mesh.points * np.float32(UNITS_MM[unit]), self.mesh.faces)


def read_mesh(path: Path, say: Say = lambda share: None) -> ReadMesh:
    """Read a mesh. Raises Problem for one that is empty, truncated, too large or no mesh."""
    name = path.name
    data = bytes_of(path, MOST_BYTES)
    say(0.1)
    readers = {".stl": _stl, ".obj": _obj, ".ply": _ply}
    if path.suffix.lower() not in readers:
        raise Problem(f"{name} can't be read as a scan.", where=name, hint="There are STL, OBJ and PLY.")
    with np.errstate(all="ignore"):  # numbers too large for a place are looked for below
        mesh = readers[path.suffix.lower()](data, name, say)
    if not len(mesh.faces):
        raise Problem(f"{name} holds no triangle.", where=name)
    if not (np.abs(mesh.points) < FAR).all():  # nor is what is not a number less than anything
        raise Problem(f"{name} has a point that is no place.", where=name)
    say(0.7)
    notes = []
    loose = mesh.open_edges
    say(0.85)
    if mesh.volume < 0 and not loose:
        mesh = mesh.turned
        notes.append("it was inside out and has been turned")
    if loose:
        notes.append(f"it is open ({loose:,} free edges), so whether something lies inside it is not known")
    say(1.0)
    return ReadMesh(mesh, guessed_unit(float((mesh.bounds[1] - mesh.bounds[0]).max())), tuple(notes))


def guessed_unit(longest: float) -> str:
    """The unit in which a part of a car would be so long."""
    return "m" if longest < 8 else "inch" if longest < 120 else "mm"


def _demand_few(count: int, name: str) -> None:
    if count > MOST_TRIANGLES:
        raise Problem(
            f"{name} has {count:,} triangles; the most is {MOST_TRIANGLES:,}.", where=name, hint="Thin it out first."
        )


def _stl(data: bytes, name: str, say: Say) -> Triangles:
    count = int.from_bytes(data[80:84], "little") if len(data) >= 84 else -1
    if count >= 0 and len(data) == 84 + 50 * count:
        return _binary_stl(data, count, name, say)
    if data[:5].lower() == b"solid" and b"facet" in data[:4096]:
        return _text_stl(data, name, say)
    if count > 0 and len(data) < 84 + 50 * count:
        raise Problem(
            f"{name} is cut off: it promises {count:,} triangles and holds {max(len(data) - 84, 0) // 50:,}.",
            where=name,
        )
    if data[:5].lower() == b"solid":
        raise Problem(f"{name} holds no triangle.", where=name)
    raise Problem(f"{name} is not an STL mesh.", where=name)


def _binary_stl(data: bytes, count: int, name: str, say: Say) -> Triangles:
    _demand_few(count, name)
    if not count:
        raise Problem(f"{name} holds no triangle.", where=name)
    rows = np.frombuffer(
        data,
        dtype=np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("extra", "<u2")]),
        count=count,
        offset=84,
    )
    corners: Singles = np.ascontiguousarray(rows["corners"])
    say(0.2)
    if not np.isfinite(corners).all():
        raise Problem(f"{name} has a corner that is no place.", where=name)
    return welded(corners)


def _text_stl(data: bytes, name: str, say: Say) -> Triangles:
    if b"endsolid" not in data[-400:]:
        raise Problem(f"{name} is cut off: its last line is missing.", where=name)
    _demand_few(data.count(b"endfacet"), name)
    found = b" ".join(re.findall(rb"vertex([^\r\n]*)", data))
    say(0.4)
    values = _numbers(found, name)
    if values.size % 9:
        raise Problem(f"{name} has a triangle that lacks a corner.", where=name)
    return welded(values.reshape(-1, 3, 3).astype(np.float32))


def _numbers(text: bytes, name: str) -> np.ndarray:
    try:
        values: np.ndarray = np.array(text.split(), dtype=np.float64)
    except ValueError:
        raise Problem(f"{name} has a corner that is no number.", where=name) from None
    return values


def _obj(data: bytes, name: str, say: Say) -> Triangles:
    points = re.findall(rb"(?m)^v\s+(\S+\s+\S+\s+\S+)", data)
    if not points:
        raise Problem(f"{name} holds no point.", where=name)
    places = _numbers(b" ".join(points), name).reshape(-1, 3).astype(np.float32)
    say(0.3)
    lines = re.findall(rb"(?m)^f\s+([^\r\n]+)", data)
    _demand_few(len(lines), name)
    say(0.4)
    faces: list[tuple[int, int, int]] = []
    for n, line in enumerate(lines):
        if n % 50_000 == 0:
            say(0.4 + 0.3 * n / len(lines))
        _demand_few(len(faces) + line.count(b" ") + line.count(b"\t") - 1, name)
        try:
            corners = [int(w.split(b"/", 1)[0]) for w in line.split()]
        except ValueError:
            raise Problem(f"{name} has a face that is no list of points.", where=name) from None
        rows = [c - 1 if c > 0 else len(places) + c for c in corners]
        if rows and not 0 <= min(rows) <= max(rows) < len(places):
            raise Problem(f"{name} names a point that it does not hold; it looks cut off.", where=name)
        faces += [(rows[0], rows[k], rows[k + 1]) for k in range(1, len(rows) - 1)]
    return _checked(places, np.array(faces, dtype=np.int64).reshape(-1, 3), name)


def _checked(places: Singles, faces: np.ndarray, name: str) -> Triangles:
    if len(faces) and (faces.min() < 0 or faces.max() >= len(places)):
        raise Problem(f"{name} names a point that it does not hold; it looks cut off.", where=name)
    _demand_few(len(faces), name)
    return without_slivers(Triangles(places, faces.astype(np.int32)))


_PLY_TYPES = {
    "char": "i1",
    "uchar": "u1",
    "short": "i2",
    "ushort": "u2",
    "int": "i4",
    "uint": "u4",
    "float": "f4",
    "double": "f8",
    "int8": "i1",
    "uint8": "u1",
    "int16": "i2",
    "uint16": "u2",
    "int32": "i4",
    "uint32": "u4",
    "float32": "f4",
    "float64": "f8",
}


def _ply(data: bytes, name: str, say: Say) -> Triangles:
    end = data.find(b"end_header")
    if data[:3] != b"ply" or end < 0:
        raise Problem(f"{name} is not a PLY mesh.", where=name)
    body = data[data.find(b"\n", end) + 1 :]
    try:
        form, elements = _ply_header(data[:end].decode("ascii", "replace"), name)
        found = (
            _ply_text(body, elements, say)
            if form == "ascii"
            else _ply_binary(body, "<" if "little" in form else ">", elements)
        )
    except (ValueError, IndexError, KeyError, OverflowError, TypeError, SyntaxError):
        raise Problem(f"{name} is cut off, or not laid out as its head says.", where=name) from None
    if "vertex" not in found or "face" not in found:
        raise Problem(f"{name} holds no {'triangle' if 'vertex' in found else 'point'}.", where=name)
    return _checked(found["vertex"].astype(np.float32), found["face"], name)


def _ply_header(text: str, name: str) -> tuple[str, list[tuple[str, int, list[tuple[str, ...]]]]]:
    form = ""
    elements: list[tuple[str, int, list[tuple[str, ...]]]] = []
    for words in (line.split() for line in text.splitlines()):
        if words[:1] == ["format"]:
            form = words[1]
        elif words[:1] == ["element"]:
            count = int(words[2])
            if count < 0:
                raise ValueError
            elements.append((words[1], count, []))
            _demand_few(count if words[1] == "face" else count // 3, name)
        elif words[:1] == ["property"] and elements:
            elements[-1][2].append(tuple(words[1:]))
    return form, elements


def _ply_text(body: bytes, elements: Any, say: Say) -> dict[str, np.ndarray]:
    lines, at = body.splitlines(), 0
    found: dict[str, np.ndarray] = {}
    for element, count, properties in elements:
        rows = lines[at : at + count]
        if len(rows) < count:
            raise ValueError
        at += count
        if element == "vertex":
            names = [p[-1] for p in properties]
            table = np.array(b" ".join(rows).split(), dtype=np.float64).reshape(count, -1)
            found["vertex"] = table[:, [names.index(a) for a in "xyz"]]
        elif element == "face":
            faces: list[tuple[int, int, int]] = []
            for row in rows:
                n, *corners = (int(w) for w in row.split()[:16])
                faces += [(corners[0], corners[k], corners[k + 1]) for k in range(1, n - 1)]
            found["face"] = np.array(faces, dtype=np.int64).reshape(-1, 3)
        say(0.6)
    return found


def _ply_binary(body: bytes, order: str, elements: Any) -> dict[str, np.ndarray]:
    at = 0
    found: dict[str, np.ndarray] = {}
    for element, count, properties in elements:
        lists = [p for p in properties if p[0] == "list"]
        if not lists:
            kind = np.dtype([(p[-1], order + _PLY_TYPES[p[0]]) for p in properties])
            table = np.frombuffer(body, dtype=kind, count=count, offset=at)
            at += kind.itemsize * count
            if element == "vertex":
                found["vertex"] = np.stack([table[a] for a in "xyz"], axis=1)
            continue
        # faces of three corners are one fixed row each; anything else is refused as not laid out so
        kind = np.dtype(
            [
                (p[-1], order + _PLY_TYPES[p[0]])
                if p[0] != "list"
                else (p[-1], [("n", order + _PLY_TYPES[p[1]]), ("c", order + _PLY_TYPES[p[2]], 3)])
                for p in properties
            ]
        )
        table = np.frombuffer(body, dtype=kind, count=count, offset=at)
        at += kind.itemsize * count
        if element == "face":
            row = table[lists[0][-1]]
            if not (row["n"] == 3).all():
                raise ValueError
            found["face"] = row["c"].astype(np.int64)
    return found
