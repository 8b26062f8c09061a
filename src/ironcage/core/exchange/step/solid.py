"""A piece as a solid: each run of its section, a side, a corner or a part of a round, gives a face outside, one inside
and one at either end; a hole takes a loop out of both, and its wall is a true cylinder. The curves of an end go from
line to line of its profile.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ironcage.core.answers.cut.drilled import Bore
from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.laser import lasered, seams
from ironcage.core.answers.cut.markout import Mouth, mouths
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.answers.cut.solids import end_ring, stepped, walls
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import Rect, Round
from ironcage.core.exchange.step.file import File, figures, letters
from ironcage.core.job.geometry.routes import landings
from ironcage.core.job.values.model import Job

SAME_MM = 1e-5
THIN_MM = 0.008  # how far curves may be off their places
Edge = tuple[str, bool]  # its name, and whether it runs this way


@dataclass(frozen=True)
class _Run:
    """A run of a section. start, stop: where round the outline, mm; radius, centre (2,): of an arc, radius 0 for a
    straight one."""

    start: float
    stop: float
    radius: float
    centre: Floats

    def rows(self, around: Floats, girth: float) -> Floats:
        """The lines of an end that are on it, its edges included, by their places round the outline (n,)."""
        twice = np.concatenate([around, around + girth])
        on = np.flatnonzero((twice >= self.start - SAME_MM) & (twice <= self.stop + SAME_MM))
        return np.asarray(on % len(around))


def _runs(shape: Round | Rect, parted: tuple[float, float] | None) -> list[_Run]:
    """The runs of a section; of a round one between two places round its outline, mm."""
    contour = shape.contour
    if isinstance(shape, Round):
        assert parted is not None  # no hole that leaves none is among those to cut
        one, other = parted
        middle = np.zeros(2)
        return [_Run(one, other, shape.od_mm / 2, middle), _Run(other, one + contour.girth, shape.od_mm / 2, middle)]
    made = []
    for start, stop in pairwise([*contour.ends.tolist(), contour.girth]):
        points, normals = contour.at(np.array([start, (start + stop) / 2]))
        if float(normals[0] @ normals[1]) > 1 - 1e-12:
            made.append(_Run(start, stop, 0.0, np.zeros(2)))
        else:
            made.append(_Run(start, stop, shape.corner_mm, points[0] - shape.corner_mm * normals[0]))
    return made


@dataclass(frozen=True)
class _Ring:
    """An end. around (n,): places round the outline, mm; outer, inner (n, 3): of both walls."""

    around: Floats
    outer: Floats
    inner: Floats


class Solid:
    """One piece as faces, edges and corners."""

    def __init__(self, file: File, job: Job, piece: Piece) -> None:
        self.file, self.axes = file, piece.axes
        shape = piece.section.shape
        assert isinstance(shape, Round | Rect)
        self.shape, girth = shape, shape.contour.girth
        tube = job.tube_by_id[piece.tubes[0]]
        self.start = np.array(landings(job, tube)[0 if tube.a == piece.first.joint else 1])
        stop = self.start + piece.centre * piece.axes[0]  # straight, as it is cut
        first, second = (
            _ring(end, mouths(job, piece, end), at, piece.axes, way)
            for end, at, way in ((piece.first, self.start, 1.0), (piece.second, stop, -1.0))
        )
        holes = lasered(job, piece)[0]
        self._corners: dict[tuple[float, ...], str] = {}
        self._edges: dict[tuple[str, str, tuple[float, ...]], Edge] = {}
        faces: list[str] = []
        for run in _runs(shape, seams(job, piece, holes)):
            _, normals = shape.contour.at(np.array([run.start, (run.start + run.stop) / 2]) % girth)
            facing = normals[0 if run.radius == 0 else 1] @ piece.axes[1:]
            one, other = run.rows(first.around, girth), run.rows(second.around, girth)
            a, c = _thinned(first.outer[one], first.inner[one])
            b, d = _thinned(second.outer[other], second.inner[other])
            cut = [self._hole(hole) for hole in holes if _holds(shape, run, hole)]
            faces += self._along(run, a, b, facing, 1, [h.outer for h in cut])
            faces += self._along(run, d, c, -facing, -1, [h.inner for h in cut], shape.wall_mm)
            faces += self._across(b, d) + self._across(c, a)
            faces += [face for h in cut for face in h.faces]
        shell = file.add(f"CLOSED_SHELL('',({','.join(faces)}))")
        self.made = file.add(f"MANIFOLD_SOLID_BREP('{letters(piece.id)}',{shell})")

    def _along(
        self, run: _Run, one: Floats, other: Floats, facing: Floats, side: int, holes: list[str], wall: float = 0.0
    ) -> list[str]:
        """The face between a run at one end and at the other, seen from where its normal `facing` (3,) points: `side`
        +1 outside, -1 inside; holes: the loops taken out of it. Nothing where the run is a corner that is sharp
        inside."""
        bound = self._bound(one, other)
        if bound is None:
            return []
        x = self.axes[0]
        if run.radius == 0:
            surface = f"PLANE('',{self.file.axes(one[0], facing, x)})"
            return [self._face([bound, *holes], surface, same=True)]
        middle = self.start + run.centre @ self.axes[1:]
        return [self._face([bound, *holes], self._cylinder(middle, x, self.axes[1], run.radius - wall), same=side > 0)]

    def _across(self, one: Floats, other: Floats) -> list[str]:
        """The face of an end between a run of one wall and of the other, counter-clockwise as it is seen."""
        bound = self._bound(one, other)
        if bound is None:
            return []
        net = ",".join(f"({','.join(self.file.point(p) for p in pair)})" for pair in zip(one, other, strict=True))
        count = len(one)
        many = ",".join(["2", *["1"] * (count - 2), "2"])
        knots = ",".join(f"{n}." for n in range(count))
        surface = (
            f"B_SPLINE_SURFACE_WITH_KNOTS('',1,1,({net}),.UNSPECIFIED.,.F.,.F.,.F.,({many}),(2,2),({knots}),(0.,1.),"
            ".UNSPECIFIED.)"
        )
        return [self._face([bound], surface, same=True)]

    def _hole(self, hole: Bore) -> _Hole:
        """A hole through one wall: two halves of its wall, and the loops that it takes out of both sides."""
        count = max(8, math.ceil(math.pi / math.acos(1 - THIN_MM / max(hole.radius, 2 * THIN_MM))))
        turn = np.linspace(0, math.pi, count + 1)
        n = np.array(hole.normal)
        left = np.array([-n[1], n[0]])
        halves = []
        for half in (turn, turn + math.pi):
            aside = hole.aside + hole.radius * np.sin(half)
            along = np.outer(hole.along + hole.radius * np.cos(half), self.axes[0])
            walls = hole.wall(self.shape, aside)
            halves.append(
                [self.start + along + (np.outer(w, n) + np.outer(aside, left)) @ self.axes[1:] for w in walls]
            )
        middle = self.start + hole.along * self.axes[0] + (hole.aside * left) @ self.axes[1:]
        faces = []
        for outer, inner in halves:
            sides = (outer[::-1], np.stack([outer[0], inner[0]]), inner, np.stack([inner[-1], outer[-1]]))
            bound = self._loop("FACE_OUTER_BOUND", [self._edge(side) for side in sides])
            surface = self._cylinder(middle, n @ self.axes[1:], self.axes[0], hole.radius)
            faces.append(self._face([bound], surface, same=False))
        (outer, inner), (outer_on, inner_on) = halves
        return _Hole(
            faces,
            self._loop("FACE_BOUND", [self._edge(outer), self._edge(outer_on)]),
            self._loop("FACE_BOUND", [self._edge(inner_on[::-1]), self._edge(inner[::-1])]),
        )

    def _bound(self, one: Floats, other: Floats) -> str | None:
        """The loop along one curve backwards to the other and back; sides of no length are left out, and there is none
        where too few are left."""
        sides = (one, np.stack([one[-1], other[-1]]), other[::-1], np.stack([other[0], one[0]]))
        edges = [self._edge(places) for places in sides]
        return self._loop("FACE_OUTER_BOUND", edges) if sum(edge is not None for edge in edges) >= 3 else None

    def _loop(self, kind: str, edges: Sequence[Edge | None]) -> str:
        """The loop of some edges as a bound of a face."""
        turned = [
            self.file.add(f"ORIENTED_EDGE('',*,*,{edge[0]},.{'T' if edge[1] else 'F'}.)") for edge in edges if edge
        ]
        loop = self.file.add(f"EDGE_LOOP('',({','.join(turned)}))")
        return self.file.add(f"{kind}('',{loop},.T.)")

    def _cylinder(self, place: Floats, along: Floats, across: Floats, radius: float) -> str:
        return f"CYLINDRICAL_SURFACE('',{self.file.axes(place, along, across)},{figures([radius])})"

    def _edge(self, places: Floats) -> Edge | None:
        """The edge through places (n, 3), the same for both faces beside it, and whether it runs this way."""
        keep = np.append(True, np.linalg.norm(np.diff(places, axis=0), axis=1) > SAME_MM)
        places = places[keep]
        if len(places) < 2:
            return None
        start, stop = self._corner(places[0]), self._corner(places[-1])
        middle = _rounded(places[(len(places) - 1) // 2] + places[len(places) // 2])
        if (found := self._edges.get((start, stop, middle))) or (found := self._edges.get((stop, start, middle))):
            name, way = found
            return name, way == ((start, stop, middle) in self._edges)
        points = ",".join(self.file.point(p) for p in places)
        if len(places) == 2:
            way_on = places[1] - places[0]
            length = float(np.linalg.norm(way_on))
            ahead = self.file.add(f"DIRECTION('',({figures(way_on / length)}))")
            vector = self.file.add(f"VECTOR('',{ahead},{figures([length])})")
            curve = self.file.add(f"LINE('',{points.split(',')[0]},{vector})")
        else:
            many = ",".join(["2", *["1"] * (len(places) - 2), "2"])
            knots = ",".join(f"{n}." for n in range(len(places)))
            curve = self.file.add(
                f"B_SPLINE_CURVE_WITH_KNOTS('',1,({points}),.UNSPECIFIED.,.F.,.F.,({many}),({knots}),.UNSPECIFIED.)"
            )
        edge = self.file.add(f"EDGE_CURVE('',{start},{stop},{curve},.T.)")
        self._edges[start, stop, middle] = edge, True
        return edge, True

    def _corner(self, place: Floats) -> str:
        key = _rounded(place)
        if key not in self._corners:
            self._corners[key] = self.file.add(f"VERTEX_POINT('',{self.file.point(place)})")
        return self._corners[key]

    def _face(self, bounds: list[str], surface: str, *, same: bool) -> str:
        made = self.file.add(surface)
        return self.file.add(f"ADVANCED_FACE('',({','.join(bounds)}),{made},.{'T' if same else 'F'}.)")


@dataclass(frozen=True)
class _Hole:
    """A hole's wall, and the loops that it takes out of the outer and the inner surface."""

    faces: list[str]
    outer: str
    inner: str


def _ring(end: EndCut, slots: Sequence[Mouth], at: Floats, axes: Floats, way: float) -> _Ring:
    """An end with its slots."""
    girth = end.shape.contour.girth
    around, cut = end.profile.round_mm / girth, end.profile.cut
    for slot in slots:
        made = stepped(end, around, cut, slot)
        around, cut = made.around, made.cut
    outer, inner, _ = end_ring(at, axes, way, walls(end.shape, around), cut)
    return _Ring(around * girth, outer, inner)


def _holds(shape: Round | Rect, run: _Run, hole: Bore) -> bool:
    """Whether a hole is in a run."""
    contour = shape.contour
    place = contour.towards(math.atan2(hole.normal[1], hole.normal[0]))
    return run.start <= place <= run.stop or run.start <= place + contour.girth <= run.stop


def _thinned(one: Floats, other: Floats) -> tuple[Floats, Floats]:
    """Places (n, 3) on both walls without those pairs that lie within THIN_MM of the straight ways between what is kept
    before and after them."""
    kept = [0]
    last = len(one) - 1
    while kept[-1] < last:
        first, step = kept[-1], 1
        while first + 2 * step <= last and all(_straight(wall[first : first + 2 * step + 1]) for wall in (one, other)):
            step *= 2
        while step > 1 and first + step > last:
            step //= 2
        kept.append(first + step)
    return one[kept], other[kept]


def _straight(places: Floats) -> bool:
    """Whether all places between the first and the last lie on the way between them."""
    way = places[-1] - places[0]
    length = float(way @ way)
    from_first = places[1:-1] - places[0]
    along = np.clip(from_first @ way / length, 0, 1) if length > 0 else np.zeros(len(from_first))
    return bool((np.linalg.norm(from_first - along[:, None] * way, axis=1) < THIN_MM).all())


def _rounded(place: Floats) -> tuple[float, ...]:
    return tuple(round(float(v), 5) + 0.0 for v in place)
