"""What can be brought into a job from a file, declared once for the command line and the window.

Reading is slow and knows no job; bringing it in is quick. Between the two the builder is asked for the unit where the
file does not say.
"""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ironcage.core.exchange.capture import bring_capture
from ironcage.core.exchange.meshes import UNITS_MM, ReadMesh, Say, read_mesh
from ironcage.core.exchange.points import read_points
from ironcage.core.exchange.reading import bytes_of, mended_words
from ironcage.core.exchange.share import add_shelf
from ironcage.core.exchange.wireframe import read_lines
from ironcage.core.job import edits
from ironcage.core.job.edits.lines import add_lines
from ironcage.core.job.edits.points import Points, add_points, demand_within_reach
from ironcage.core.job.store import scans
from ironcage.core.job.values.logbook import LogEntry
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Scan
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import said

if TYPE_CHECKING:
    from PIL.Image import Image

MOST_NAMED = 6  # points told by name
SCAN_MIDDLE_MM, SCAN_FOOT_MM = (
    (-1000.0, 0.0),
    200.0,
)  # where a scan lands: its middle, and its underside above the ground


@dataclass(frozen=True)
class Read:
    """A file that has been read. unit: what it counts in, '' when the builder must say; guess: what its size
    suggests; notes: what is odd."""

    name: str
    what: Any
    unit: str = ""
    guess: str = "mm"
    notes: tuple[str, ...] = ()


@dataclass(frozen=True)
class Incoming:
    """A kind of file that comes in. read: slow, may be stopped; bring: into a job, in a unit, with words on what
    came."""

    name: str
    endings: tuple[str, ...]
    says: str
    read: Callable[[Path, Say], Read]
    bring: Callable[[Job, Read, str], tuple[Job, str]]


def _read_scan(path: Path, say: Say) -> Read:
    read = read_mesh(path, say)
    return Read(path.stem, read, "", read.guess, read.notes)


def _bring_scan(job: Job, read: Read, unit: str) -> tuple[Job, str]:
    mesh_read: ReadMesh = read.what
    mesh = mesh_read.in_mm(unit)
    demand_within_reach([tuple(row) for row in mesh.bounds.tolist()], read.name)
    low, high = ((float(v[0]), float(v[1]), float(v[2])) for v in mesh.bounds)
    shape = Scan(digest=scans.keep(mesh), triangles=len(mesh.faces), low=low, high=high)
    x, y = (m - (a + b) / 2 for m, a, b in zip(SCAN_MIDDLE_MM, low, high, strict=False))
    made = edits.add_part(job, read.name[:80], "other", shape, (x, y, SCAN_FOOT_MM - low[2]))
    notes = f"; {'; '.join(read.notes)}" if read.notes else ""
    return made, f"{read.name}: {len(mesh.faces):,} triangles{notes}. Pose it with three points."


def _read_points(path: Path, say: Say) -> Read:
    points = read_points(path)
    say(1.0)
    reach = max(abs(v) for _, place in points.named for v in place)
    return Read(path.stem, points, points.unit, "m" if reach < 12 else "inch" if reach < 200 else "mm")


def _bring_points(job: Job, read: Read, unit: str) -> tuple[Job, str]:
    points: Points = read.what
    made, came = add_points(job, points, unit)
    units = units_of(job)
    off = ", ".join(f"{name} is {units.fine(by)} away" for name, by in came.off[:MOST_NAMED])
    if not came.joints:
        why = f" {off}; put it there yourself if that is right." if off else ""
        raise Problem(f"Every point of {read.name} has a joint already.{why}", where=read.name)
    words = [f"{came.joints} joints came"] + [f"{came.there} were there already"] * bool(came.there)
    words += [f"left where they are: {off}"] if off else []
    other = [f"{point} is {joint}" for point, joint in came.named if point.upper() != joint]
    words += (
        [", ".join(other[:MOST_NAMED]) + (f" and {len(other) - MOST_NAMED} more" if len(other) > MOST_NAMED else "")]
        if other
        else []
    )
    return made, f"{'; '.join(words)}.{mended_words(points.mended)}"


def _bring_corner(job: Job, read: Read, unit: str) -> tuple[Job, str]:
    return bring_capture(job, read.what, unit)


def _read_frame(path: Path, say: Say) -> Read:
    lines = read_lines(path, say)
    say(1.0)
    reach = max(abs(v) for points, _, _ in lines.drawn for p in points for v in p)
    return Read(path.stem, lines, lines.unit, "m" if reach < 12 else "inch" if reach < 200 else "mm")


def _bring_frame(job: Job, read: Read, unit: str) -> tuple[Job, str]:
    made, words = add_lines(job, read.what, unit)
    return made, words + mended_words(read.what.mended)


def _read_shelf(path: Path, say: Say) -> Read:
    data = bytes_of(path, MOST_SHELF_BYTES)
    say(1.0)
    return Read(path.name, data, "mm")


def _bring_shelf(job: Job, read: Read, unit: str) -> tuple[Job, str]:
    made = add_shelf(job, read.what, read.name)
    return (
        made,
        f"{len(made.parts) - len(job.parts)} parts, {len(made.shelf.sections) - len(job.shelf.sections)} sections and "
        f"{len(made.shelf.materials) - len(job.shelf.materials)} materials came.",
    )


MOST_SHELF_BYTES = 2**24
PICTURE_WIDE_MM, MOST_PIXELS, MOST_PICTURE_BYTES = 3000.0, 80_000_000, 40 * 2**20


def _read_picture(path: Path, say: Say) -> Read:
    from PIL import Image

    data = bytes_of(path, MOST_PICTURE_BYTES)
    try:
        with Image.open(io.BytesIO(data)) as image:
            kind, (wide, high), taken = image.format, image.size, _taken(image)
    except Image.DecompressionBombError:
        raise Problem(f"{path.name} has too many pixels.", where=path.name, hint="Make it smaller first.") from None
    except Exception:
        raise Problem(
            f"{path.name} can't be read as a picture.", where=path.name, hint="There are PNG and JPEG."
        ) from None
    if kind not in ("PNG", "JPEG") or wide * high > MOST_PIXELS:
        raise Problem(
            f"{path.name} is not a picture of a known kind.",
            where=path.name,
            hint="There are PNG and JPEG, up to 80 million pixels.",
        )
    say(1.0)
    return Read(path.stem, (data, ".png" if kind == "PNG" else ".jpg", wide, high, taken), "mm")


EXIF_IFD, EXIF_TAKEN = 0x8769, 0x9003  # where a camera writes when it took a picture, by the EXIF standard


def _taken(image: Image) -> date | None:
    """The day a photo was taken, where its camera has written one."""
    written = str(image.getexif().get_ifd(EXIF_IFD).get(EXIF_TAKEN, ""))
    try:
        return date.fromisoformat(written[:10].replace(":", "-"))
    except ValueError:
        return None


def _bring_photo(job: Job, read: Read, unit: str) -> tuple[Job, str]:
    data, ending, _, _, taken = read.what
    day = taken or date.today()
    entry = LogEntry(id="new", when=day, text=read.name[:2000] or "Photo", photos=(scans.keep_picture(data, ending),))
    made = edits.add_entry(job, entry)
    return made, f"{made.logbook.entries[-1].id} on {day.isoformat()} holds the photo {read.name}."


def _bring_picture(job: Job, read: Read, unit: str) -> tuple[Job, str]:
    data, ending, wide, high, _ = read.what
    name = scans.keep_picture(data, ending)
    if not (wide and high):
        raise Problem(f"{read.name} has no size.", where=read.name)
    made = edits.add_picture(job, read.name[:80], name, PICTURE_WIDE_MM, PICTURE_WIDE_MM * high / wide)
    return (
        made,
        f"{read.name} lies on the side plane, {said.whole(PICTURE_WIDE_MM)} wide. Scale it by two known distances.",
    )


INCOMING: tuple[Incoming, ...] = (
    Incoming("scan", (".stl", ".obj", ".ply"), "a scan mesh as a part", _read_scan, _bring_scan),
    Incoming(
        "picture", (".png", ".jpg", ".jpeg"), "a photo or drawing to lay on a plane", _read_picture, _bring_picture
    ),
    Incoming("photo", (".png", ".jpg", ".jpeg"), "a photo for the log", _read_picture, _bring_photo),
    Incoming("frame", (".dxf",), "lines of a drawing as tubes", _read_frame, _bring_frame),
    Incoming("points", (".csv", ".dxf"), "hard points as joints", _read_points, _bring_points),
    Incoming("corner", (".csv",), "a corner measured on a donor by its card", _read_points, _bring_corner),
    Incoming("shelf", (".json",), "parts and shelf items that were shared", _read_shelf, _bring_shelf),
)
UNITS = tuple(UNITS_MM)


def incoming(name: str) -> Incoming:
    """A kind that comes in, by name; refuses an unknown one."""
    names = [k.name for k in INCOMING]
    if name not in names:
        raise Problem(
            f"Nothing called ‘{name}’ can be brought in.",
            where=name,
            hint=nearest(name, names) or f"There are {', '.join(names)}.",
        )
    return INCOMING[names.index(name)]
