"""What a tube laser cuts of a piece between its ends: holes as places on the straight tube, and what its solid can't
hold."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from ironcage.core.answers.cut.markout import laid, mouths, row
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.answers.cut.solids import centreline
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import Rect, Round
from ironcage.core.calc.tubes.shells import frames
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.geometry.tabs import clocked
from ironcage.core.job.values.fittings import CrushTube, Insert, TubeHoles
from ironcage.core.job.values.model import Job
from ironcage.units import said

SQUARE_ON = math.radians(1)  # a hole further off square to the side of a rectangular tube is none that a laser cuts
CLEAR_MM, MOST_LINES = 0.01, 24  # how near a line along the tube may pass a hole, and how many are tried


@dataclass(frozen=True)
class Bore:
    """A hole in one wall. along: from where the piece's centreline starts, mm; normal (2,): the way it looks out in the
    piece's y and z; aside: how far beside the middle of that side, mm, to the left of `normal`; radius: mm."""

    along: float
    normal: tuple[float, float]
    aside: float
    radius: float

    def wall(self, shape: Round | Rect, aside: Floats) -> tuple[Floats, Floats]:
        """How far from the section's middle the outer and the inner surface are on its side, mm, at distances beside
        the middle (n,), mm."""
        if isinstance(shape, Round):
            outer = np.sqrt((shape.od_mm / 2) ** 2 - aside**2)
            return outer, np.sqrt((shape.od_mm / 2 - shape.wall_mm) ** 2 - aside**2)
        y, z = self.normal
        far = np.full(len(aside), abs(y) * shape.width_mm / 2 + abs(z) * shape.height_mm / 2)
        return far, far - shape.wall_mm


def unfit(piece: Piece) -> str:
    """Why no solid of a piece is written; nothing where one is."""
    if any(not b.radius for b in piece.bends):
        return "is folded"
    if piece.first.shape != piece.second.shape:
        return "tapers"
    if not isinstance(piece.section.shape, Round | Rect):
        return f"is {piece.section.name}"
    return "can't be cut" if piece.problems else ""


def bores(job: Job, piece: Piece) -> tuple[tuple[Bore, ...], tuple[str, ...]]:
    """The holes of a piece that its solid holds, and what is left out of it, in words."""
    shape = piece.section.shape
    assert isinstance(shape, Round | Rect)
    of = {one.tube.id: one for one in laid(job, piece)}
    made: list[Bore] = []
    left: list[str] = []
    for f in job.fittings:
        one = of.get(getattr(f, "tube", ""))
        if one is None:
            continue
        if isinstance(f, CrushTube):
            left.append(f"the holes of {f.id}: which way they go is not said")
        if isinstance(f, Insert):
            left.append(f"the cut at {f.id}: the solid is whole")
        if not isinstance(f, TubeHoles):
            continue
        for at in row(f):
            along = one.along(at) + piece.first.profile.bar
            where = f"the hole of {f.id} {said.length(at)} along {f.tube}"
            axes = _axes_at(job, piece, along)
            middle, way = route_of(job, one.tube).at(f.at)
            faces = clocked(way, float(middle[1]), f.clock)
            turn = math.atan2(float(faces @ axes[2]), float(faces @ axes[1]))
            for side in range(f.walls):
                bore = _bore(shape, along, turn + side * math.pi, f.diameter / 2)
                why = bore if isinstance(bore, str) else _why_not(job, piece, bore, made)
                if why or isinstance(bore, str):
                    left.append(f"{where}: it {why}")
                    break
                made.append(bore)
    return tuple(made), tuple(left)


def left_out(job: Job, piece: Piece) -> tuple[str, ...]:
    """What a tube laser is not told of a piece that is meant for it; nothing of another."""
    if not piece.laser:
        return ()
    if why := unfit(piece):
        return (f"{piece.id} {why}: no solid of it is written for a tube laser",)
    return tuple(f"not in the solid of {piece.id}: {what}" for what in bores(job, piece)[1])


def laser_notes(job: Job, piece: Piece) -> tuple[str, ...]:
    """What to know of a piece that is meant for a tube laser; nothing of another."""
    bent = ("the laser cuts it straight, before it is bent",) if piece.laser and piece.bends else ()
    return (*bent, *left_out(job, piece))


def _axes_at(job: Job, piece: Piece, along: float) -> Floats:
    """The axes (3, 3) of a piece at a distance along its centreline, mm, carried round its bends with no twist."""
    if not piece.bends:
        return piece.axes
    line = centreline(job, piece)
    reached = np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))
    chord = int(np.searchsorted(reached, along * reached[-1] / piece.centre))
    return np.asarray(frames(line, piece.axes[1])[min(chord, len(line) - 2)])


def _bore(shape: Round | Rect, along: float, turn: float, radius: float) -> Bore | str:
    """A hole whose axis passes through the middle of a tube; or why it is none."""
    if isinstance(shape, Round):
        return Bore(along, (math.cos(turn), math.sin(turn)), 0.0, radius)
    quarter = round(turn / (math.pi / 2))
    lean = turn - quarter * math.pi / 2
    if abs(lean) > SQUARE_ON:
        return f"goes in {math.degrees(abs(lean)):.0f}° off square to the side of its tube"
    normal = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[quarter % 4]
    far = (shape.height_mm if quarter % 2 else shape.width_mm) / 2
    return Bore(along, normal, far * math.tan(lean), radius)


def _why_not(job: Job, piece: Piece, bore: Bore, made: list[Bore]) -> str:
    """Why a hole can't be cut where it is; nothing where it can."""
    shape = piece.section.shape
    assert isinstance(shape, Round | Rect)
    if (
        bore.along - bore.radius <= piece.first.profile.shoulder
        or bore.along + bore.radius >= piece.centre - piece.second.profile.shoulder
    ):
        return "reaches into a cut end"
    if isinstance(shape, Round):
        room = shape.od_mm / 2 - shape.wall_mm
    else:
        across = shape.width_mm if bore.normal[1] else shape.height_mm
        room = across / 2 - max(shape.corner_mm, shape.wall_mm)
    if abs(bore.aside) + bore.radius >= room:
        return "is too wide for its side of the tube"
    if any(_meet(shape, bore, other) for other in made):
        return "runs into another hole"
    if isinstance(shape, Round) and seams(job, piece, (*made, bore)) is None:
        return "leaves no line along the tube that passes all holes"
    return ""


def seams(job: Job, piece: Piece, holes: Sequence[Bore]) -> tuple[float, float] | None:
    """The two lines along a round piece that part its surface, by where they are round its outline, mm: of those lines
    of its ends that no hole and no slot comes near the two that are furthest apart. None where there are no two, and of
    a rectangular piece, whose corners part it."""
    shape, free = piece.section.shape, piece.first.profile.round_mm
    if not isinstance(shape, Round):
        return None
    girth, outer = shape.contour.girth, shape.od_mm / 2
    inner = outer - shape.wall_mm
    taken = [(math.atan2(h.normal[1], h.normal[0]) * outer, math.asin(h.radius / inner) * outer) for h in holes]
    slotted = [m for end in (piece.first, piece.second) for m in mouths(job, piece, end)]
    for middle, half in (*taken, *((m.middle, m.half) for m in slotted)):
        free = free[np.abs((free - middle + girth / 2) % girth - girth / 2) > half + CLEAR_MM]
    some = free[:: max(1, len(free) // MOST_LINES)].tolist()
    return max(combinations(some, 2), key=lambda two: min(two[1] - two[0], girth - two[1] + two[0]), default=None)


def _meet(shape: Round | Rect, one: Bore, other: Bore) -> bool:
    """Whether two holes may touch, told by the bands that they take of the length and of the way round."""
    if abs(one.along - other.along) >= one.radius + other.radius:
        return False
    between = math.acos(max(-1.0, min(1.0, float(np.dot(one.normal, other.normal)))))
    if isinstance(shape, Rect):
        return between < math.pi / 4 and abs(one.aside - other.aside) < one.radius + other.radius
    inner = shape.od_mm / 2 - shape.wall_mm
    return between < math.asin(one.radius / inner) + math.asin(other.radius / inner)
