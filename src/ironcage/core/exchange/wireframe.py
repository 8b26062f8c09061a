"""The frame as lines in a DXF, out and in: one LINE a straight tube, one 3D POLYLINE a bent one, on a layer named after
the section.

What a line can't say (material, role, roll, bend radius, taper, landings) goes with it as extended data and is read
back; a drawing from elsewhere has none, and its lines become tubes of the section that the layer names, or of the last
one used. Blocks are opened. Arcs, splines and the like are no tubes: they are counted and told.
"""

from __future__ import annotations

import io
import json
import math
from collections import Counter
from pathlib import Path
from typing import Any

from ironcage.core.exchange.meshes import Say
from ironcage.core.exchange.points import unit_of
from ironcage.core.exchange.reading import bytes_of, drawing_of
from ironcage.core.job.edits.lines import FAR, KEPT, ReadLines, counted
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

APP = "IRONCAGE"
MOST_LINES, MOST_BYTES, MOST_ENTITIES = 20_000, 64 * 2**20, 200_000
Place = tuple[float, float, float]
MOST_LETTERS = 200  # of a layer's name
_BAD_IN_LAYER = str.maketrans(dict.fromkeys('<>/\\":;?*|=`', "_"))


def to_frame_dxf(job: Job) -> bytes:
    """Every tube as a line or polyline through its corners, mm."""
    from ezdxf import document as dxf
    from ezdxf import units

    drawing = dxf.Drawing.new("R2010")
    drawing.units = units.MM
    drawing.appids.add(APP)
    space = drawing.modelspace()
    shelf, materials = {s.name: s for s in job.shelf.sections}, {m.name: m for m in job.shelf.materials}
    for t in job.tubes:
        layer = " ".join(t.section.split())[:MOST_LETTERS].translate(_BAD_IN_LAYER)
        if layer not in drawing.layers:
            drawing.layers.add(layer)
        points = [tuple(float(v) for v in p) for p in route_of(job, t).points]
        made = (
            space.add_line(points[0], points[-1], {"layer": layer})
            if len(points) == 2
            else space.add_polyline3d(points, dxfattribs={"layer": layer})
        )
        said = {k: getattr(t, k) for k in KEPT}
        said["stock"] = [shelf[n].model_dump(mode="json") for n in dict.fromkeys((t.section, t.taper, t.cut_from)) if n]
        said["of"] = materials[t.material].model_dump(mode="json")
        said["joints"] = [job.joint_by_id[e].place for e in t.ends]
        text = json.dumps(said)
        made.set_xdata(APP, [(1000, text[n : n + 250]) for n in range(0, len(text), 250)])
    stream = io.StringIO()
    drawing.write(stream)
    return stream.getvalue().encode("utf-8")


def read_lines(path: Path, say: Say = lambda share: None) -> ReadLines:
    """The lines of a DXF. Raises Problem for a file that is none, is too large, or holds no line or too many."""
    data = bytes_of(path, MOST_BYTES)
    say(0.1)
    drawing, mended = drawing_of(data, path.name)
    say(0.5)
    taken = _Taken(path.name, say)
    try:
        for entity in drawing.modelspace():
            taken.take(entity, 0)
    except (AttributeError, TypeError, ValueError, KeyError, IndexError, ArithmeticError, RecursionError):
        raise Problem(
            f"{path.name} holds something that is not drawn as its kind is.",
            where=path.name,
            hint="Write it again from the program that drew it.",
        ) from None
    if not taken.drawn:
        held = f"only {counted(taken.left)}" if taken.left else "nothing"
        raise Problem(
            f"{path.name} holds {held}, and tubes come from lines.",
            where=path.name,
            hint="Draw centrelines as lines or polylines, and bends by their corner points.",
        )
    return ReadLines(tuple(taken.drawn), unit_of(drawing), dict(taken.left), mended)


MOST_NESTED = 8
_QUIET = {
    "TEXT",
    "MTEXT",
    "DIMENSION",
    "POINT",
    "LEADER",
    "ATTDEF",
    "VIEWPORT",
    "HATCH",
}  # they are words about a drawing, or points for another reader


class _Taken:
    """What is taken from a drawing, entity by entity; a few kB of blocks within blocks can stand for more entities
    than there is time for, so they are counted."""

    def __init__(self, name: str, say: Say) -> None:
        self.name, self.say = name, say
        self.drawn: list[tuple[tuple[Place, ...], str, dict[str, Any]]] = []
        self.left: Counter[str] = Counter()
        self.looked = 0

    def take(self, entity: Any, depth: int) -> None:
        """An entity's lines, those of a block's inside opened."""
        self.looked += 1
        if self.looked > MOST_ENTITIES or len(self.drawn) > MOST_LINES:
            raise Problem(
                f"{self.name} holds over {MOST_LINES:,} lines, or {MOST_ENTITIES:,} things with its blocks opened; "
                f"that is too many.",
                where=self.name,
                hint="Leave the centrelines of the frame in it alone.",
            )
        if self.looked % 500 == 0:
            self.say(0.5 + 0.5 * min(self.looked / MOST_ENTITIES, 1.0))
        kind = entity.dxftype()
        layer = str(entity.dxf.get("layer", ""))
        points: list[Place] = []
        if kind == "LINE":
            points = [_place(p) for p in (entity.dxf.start, entity.dxf.end)]
        elif kind == "LWPOLYLINE" and not entity.has_arc:
            points = [_place(p) for p in entity.vertices_in_wcs()]
            points += points[:1] if entity.closed else []
        elif kind == "POLYLINE" and (entity.is_3d_polyline or (entity.is_2d_polyline and not entity.has_arc)):
            points = [_place(p) for p in entity.points_in_wcs()]
            points += points[:1] if entity.is_closed else []
        elif kind == "INSERT" and depth < MOST_NESTED:
            for inner in entity.virtual_entities():
                self.take(inner, depth + 1)
            return
        if len(points) > 1 and all(math.isfinite(v) and abs(v) < FAR for p in points for v in p):
            self.drawn.append((tuple(points), layer, _said(entity)))
        elif kind not in _QUIET:
            self.left["bulged polyline" if kind in ("LWPOLYLINE", "POLYLINE") and not points else kind] += 1


def _place(point: Any) -> Place:
    return float(point[0]), float(point[1]), float(point[2]) if len(point) > 2 else 0.0


def _said(entity: Any) -> dict[str, Any]:
    """What this program wrote beside a line; nothing for one from elsewhere, or one that was spoilt."""
    if not entity.has_xdata(APP):
        return {}
    text = "".join(str(tag.value) for tag in entity.get_xdata(APP) if tag.code == 1000)
    try:
        made = json.loads(text)
    except ValueError:
        return {}
    return made if isinstance(made, dict) else {}
