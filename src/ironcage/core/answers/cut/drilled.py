"""The holes that are made in a piece between its ends, as places on the straight tube."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.cut.markout import laid, row
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.answers.cut.solids import centreline
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import Rect, Round
from ironcage.core.calc.tubes.shells import frames
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.geometry.tabs import clocked
from ironcage.core.job.values.fittings import CrushTube, TubeHoles
from ironcage.core.job.values.model import Job
from ironcage.units import said

SQUARE_ON = math.radians(1)  # a hole further off square to the side of a rectangular tube has no place on that side


@dataclass(frozen=True)
class Bore:
    """A hole in one wall. where: in words; along: from where the piece's centreline starts, mm; normal (2,): the way it
    looks out in the piece's y and z; aside: how far beside the middle of that side, mm, to the left of `normal`;
    radius: mm, of a square hole half of what it is over its flats."""

    where: str
    along: float
    normal: tuple[float, float]
    aside: float
    radius: float
    square: bool = False

    def wall(self, shape: Round | Rect, aside: Floats) -> tuple[Floats, Floats]:
        """How far from the section's middle the outer and the inner surface are on its side, mm, at distances beside
        the middle (n,), mm."""
        if isinstance(shape, Round):
            outer = np.sqrt((shape.od_mm / 2) ** 2 - aside**2)
            return outer, np.sqrt((shape.od_mm / 2 - shape.wall_mm) ** 2 - aside**2)
        y, z = self.normal
        far = np.full(len(aside), abs(y) * shape.width_mm / 2 + abs(z) * shape.height_mm / 2)
        return far, far - shape.wall_mm

    def half(self, aside: Floats) -> Floats:
        """How far it reaches along the tube either way, mm, at distances beside the middle of its side (n,), mm."""
        off = np.abs(aside - self.aside)
        reach = np.full(len(off), self.radius) if self.square else np.sqrt(np.maximum(self.radius**2 - off**2, 0.0))
        return np.where(off <= self.radius + 1e-6, reach, 0.0)


def bores(job: Job, piece: Piece) -> tuple[tuple[Bore, ...], tuple[str, ...]]:
    """The holes of a piece, each wall's by itself, and those that have no place on its sides, in words."""
    shape = piece.section.shape
    if not isinstance(shape, Round | Rect):
        return (), ()
    of = {one.tube.id: one for one in laid(job, piece)}
    made: list[Bore] = []
    left: list[str] = []
    for f in job.fittings:
        if not isinstance(f, TubeHoles | CrushTube) or f.tube not in of:
            continue
        across, walls, square = (f.diameter, f.walls, False) if isinstance(f, TubeHoles) else (f.od, 2, _square(f))
        for at in row(f):
            along = of[f.tube].along(at) + piece.first.profile.bar
            where = f"the hole of {f.id} {said.length(at)} along {f.tube}"
            axes = _axes_at(job, piece, along)
            middle, way = route_of(job, job.tube_by_id[f.tube]).at(f.at)
            faces = clocked(way, float(middle[1]), f.clock)
            turn = math.atan2(float(faces @ axes[2]), float(faces @ axes[1]))
            for side in range(walls):
                bore = _bore(where, shape, along, turn + side * math.pi, across / 2, square)
                why = bore if isinstance(bore, str) else _why_not(shape, bore, made)
                if why or isinstance(bore, str):
                    left.append(f"{where}: it {why}")
                    break
                made.append(bore)
    return tuple(made), tuple(left)


def _square(f: CrushTube) -> bool:
    return f.shape == "square"


def _axes_at(job: Job, piece: Piece, along: float) -> Floats:
    """The axes (3, 3) of a piece at a distance along its centreline, mm, carried round its bends with no twist."""
    if not piece.bends:
        return piece.axes
    line = centreline(job, piece)
    reached = np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))
    chord = int(np.searchsorted(reached, along * reached[-1] / piece.centre))
    return np.asarray(frames(line, piece.axes[1])[min(chord, len(line) - 2)])


def _bore(where: str, shape: Round | Rect, along: float, turn: float, radius: float, square: bool) -> Bore | str:
    """A hole whose axis passes through the middle of a tube; or why it is none."""
    if isinstance(shape, Round):
        return Bore(where, along, (math.cos(turn), math.sin(turn)), 0.0, radius, square)
    quarter = round(turn / (math.pi / 2))
    lean = turn - quarter * math.pi / 2
    if abs(lean) > SQUARE_ON:
        return f"goes in {math.degrees(abs(lean)):.0f}° off square to the side of its tube"
    normal = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[quarter % 4]
    far = (shape.height_mm if quarter % 2 else shape.width_mm) / 2
    return Bore(where, along, normal, far * math.tan(lean), radius, square)


def _why_not(shape: Round | Rect, bore: Bore, made: list[Bore]) -> str:
    """Why a hole can't be made where it is; nothing where it can."""
    if isinstance(shape, Round):
        room = shape.od_mm / 2 - shape.wall_mm
    else:
        across = shape.width_mm if bore.normal[1] else shape.height_mm
        room = across / 2 - max(shape.corner_mm, shape.wall_mm)
    if abs(bore.aside) + bore.radius >= room:
        return "is too wide for its side of the tube"
    return "runs into another hole" if any(_meet(shape, bore, other) for other in made) else ""


def _meet(shape: Round | Rect, one: Bore, other: Bore) -> bool:
    """Whether two holes may touch, told by the bands that they take of the length and of the way round."""
    if abs(one.along - other.along) >= one.radius + other.radius:
        return False
    between = math.acos(max(-1.0, min(1.0, float(np.dot(one.normal, other.normal)))))
    if isinstance(shape, Rect):
        return between < math.pi / 4 and abs(one.aside - other.aside) < one.radius + other.radius
    inner = shape.od_mm / 2 - shape.wall_mm
    return between < math.asin(one.radius / inner) + math.asin(other.radius / inner)
