"""Cut pieces as solids for a tube laser (STEP, ISO 10303-21, schema AUTOMOTIVE_DESIGN): straight round and rectangular
tube with true planes and cylinders along it, and ends as they are cut, square through the wall.

Each run of a section, a side, a corner or half of a round, gives a face outside, one inside and one at either end; the
curves of an end go from line to line of its profile. mm, where the pieces stand in the car.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.cut.pieces import Piece, answer
from ironcage.core.answers.cut.solids import end_ring
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import Rect, Round
from ironcage.core.job.geometry.routes import landings
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

SAME_MM = 1e-5
THIN_MM, EXACT_MM = 0.008, 0.01  # how far curves may be off their places, and the surfaces that they lie on
HEAD = """ISO-10303-21;
HEADER;
FILE_DESCRIPTION((''),'2;1');
FILE_NAME('{name}','',(''),(''),'','Iron Cage','');
FILE_SCHEMA(('AUTOMOTIVE_DESIGN {{ 1 0 10303 214 3 1 1 }}'));
ENDSEC;
DATA;
"""


def to_step(job: Job, tubes: str) -> bytes:
    """The pieces of some tubes, by their ids with spaces between, or all that are straight. Refuses a piece that is
    bent, tapered or an angle, and a job with none that can be written."""
    made = answer(job)
    named = tubes.replace(",", " ").split()
    wanted = [made.piece(job.tube(name).id) for name in named]
    for piece in wanted:
        if why := _unfit(job, piece):
            raise Problem(f"{piece.id} {why}, and only straight round or rectangular tube is written.", where=piece.id)
    pieces = wanted or [p for p in made.pieces if not _unfit(job, p)]
    if not pieces:
        raise Problem(
            "There is no straight round or rectangular piece to write.",
            where="step",
            hint="Frame is where tubes come from.",
        )
    file = _File()
    solids = [_Solid(file, job, piece).made for piece in pieces]
    _product(file, job.brief.name, solids)
    lines = "".join(f"#{n}={text};\n" for n, text in enumerate(file.lines, 1))
    return (HEAD.format(name=_letters(job.brief.name)) + lines + "ENDSEC;\nEND-ISO-10303-21;\n").encode("ascii")


def _unfit(job: Job, piece: Piece) -> str:
    """Why a piece can't be written; nothing where it can."""
    if any(job.tube_by_id[name].shaped for name in piece.tubes):
        return "is bent or folded"
    if piece.first.shape != piece.second.shape:
        return "tapers"
    if not isinstance(piece.section.shape, Round | Rect):
        return f"is {piece.section.name}"
    return "can't be cut" if piece.problems else ""


def _letters(text: str) -> str:
    """Text as the format takes it: plain letters, quotes doubled."""
    return text.encode("ascii", "replace").decode().replace("'", "''").replace("\\", "/")


class _File:
    """Lines of the file, each known by its number."""

    def __init__(self) -> None:
        self.lines: list[str] = []

    def add(self, text: str) -> str:
        """Another line; its name."""
        self.lines.append(text)
        return f"#{len(self.lines)}"

    def point(self, place: Floats) -> str:
        """A place."""
        return self.add(f"CARTESIAN_POINT('',({_figures(place)}))")

    def axes(self, place: Floats, z: Floats, x: Floats) -> str:
        """A place with directions."""
        along, across = (self.add(f"DIRECTION('',({_figures(way)}))") for way in (z, x))
        return self.add(f"AXIS2_PLACEMENT_3D('',{self.point(place)},{along},{across})")


def _figures(values: Sequence[float] | Floats) -> str:
    return ",".join(f"{round(float(v), 7) + 0.0:.7f}".rstrip("0") for v in values)


@dataclass(frozen=True)
class _Run:
    """A run of a section. rows: the lines of the profile on it, ends included; radius, centre (2,): of an arc, radius 0
    for a straight one."""

    rows: np.ndarray
    radius: float
    centre: Floats


def _runs(shape: Round | Rect, around: Floats) -> list[_Run]:
    contour = shape.contour
    starts = [0.0, contour.girth / 2] if isinstance(shape, Round) else contour.ends.tolist()
    made = []
    for k, start in enumerate(starts):
        stop = starts[k + 1] if k + 1 < len(starts) else contour.girth
        rows = np.flatnonzero((around >= start - SAME_MM) & (around <= stop + SAME_MM))
        if stop == contour.girth:
            rows = np.append(rows, 0)
        points, normals = contour.at(around[rows[[0, 1]]])
        turn = float(normals[0] @ normals[1])
        if turn > 1 - 1e-12:
            made.append(_Run(rows, 0.0, np.zeros(2)))
        else:
            radius = shape.od_mm / 2 if isinstance(shape, Round) else shape.corner_mm
            made.append(_Run(rows, radius, points[0] - radius * normals[0]))
    return made


class _Solid:
    """One piece as faces, edges and corners."""

    def __init__(self, file: _File, job: Job, piece: Piece) -> None:
        self.file, self.axes = file, piece.axes
        shape = piece.section.shape
        assert isinstance(shape, Round | Rect)
        around = piece.first.profile.round_mm
        shares = around / shape.contour.girth
        tube = job.tube_by_id[piece.tubes[0]]
        self.start = np.array(landings(job, tube)[0 if tube.a == piece.first.joint else 1])
        stop = self.start + piece.centre * piece.axes[0]  # straight, as it is cut, where its tubes turn a little
        outer, inner, _ = zip(
            end_ring(piece.first, self.start, piece.axes, 1.0, shares),
            end_ring(piece.second, stop, piece.axes, -1.0, shares),
            strict=True,
        )
        self._corners: dict[tuple[float, ...], str] = {}
        self._edges: dict[tuple[str, str, tuple[float, ...]], tuple[str, bool]] = {}
        faces: list[str] = []
        for run in _runs(shape, around):
            _, normals = shape.contour.at(around[run.rows[[0, len(run.rows) // 2]]])
            facing = normals[0 if run.radius == 0 else 1] @ piece.axes[1:]
            (a, c), (b, d) = (_thinned(out[run.rows], bore[run.rows]) for out, bore in zip(outer, inner, strict=True))
            faces += self._along(run, a, b, facing, 1)
            faces += self._along(run, d, c, -facing, -1, shape.wall_mm)
            faces += self._across(b, d) + self._across(c, a)
        shell = file.add(f"CLOSED_SHELL('',({','.join(faces)}))")
        self.made = file.add(f"MANIFOLD_SOLID_BREP('{_letters(piece.id)}',{shell})")

    def _along(self, run: _Run, one: Floats, other: Floats, facing: Floats, side: int, wall: float = 0.0) -> list[str]:
        """The face between a run at one end and at the other, seen from where its normal `facing` (3,) points: `side`
        +1 outside, -1 inside. Nothing where the run is a corner that is sharp inside."""
        bound = self._bound(
            [(one, False), (np.stack([one[-1], other[-1]]), True), (other[::-1], False)], one[0], other[0]
        )
        if bound is None:
            return []
        x = self.axes[0]
        if run.radius == 0:
            surface = f"PLANE('',{self.file.axes(one[0], facing, x)})"
            return [self._face(bound, surface, same=True)]
        middle = self.start + run.centre @ self.axes[1:]
        surface = f"CYLINDRICAL_SURFACE('',{self.file.axes(middle, x, self.axes[1])},{_figures([run.radius - wall])})"
        return [self._face(bound, surface, same=side > 0)]

    def _across(self, one: Floats, other: Floats) -> list[str]:
        """The face of an end between a run of one wall and of the other, counter-clockwise as it is seen."""
        bound = self._bound(
            [(one, False), (np.stack([one[-1], other[-1]]), True), (other[::-1], False)], one[0], other[0]
        )
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
        return [self._face(bound, surface, same=True)]

    def _bound(self, sides: list[tuple[Floats, bool]], first: Floats, last: Floats) -> str | None:
        """The loop of some sides, closed from `last` to `first`; sides of no length are left out, and there is none
        where too few are left."""
        edges = [e for places, _ in (*sides, (np.stack([last, first]), True)) if (e := self._edge(places))]
        if len(edges) < 3:
            return None
        turned = [self.file.add(f"ORIENTED_EDGE('',*,*,{name},.{'T' if way else 'F'}.)") for name, way in edges]
        loop = self.file.add(f"EDGE_LOOP('',({','.join(turned)}))")
        return self.file.add(f"FACE_OUTER_BOUND('',{loop},.T.)")

    def _edge(self, places: Floats) -> tuple[str, bool] | None:
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
            ahead = self.file.add(f"DIRECTION('',({_figures(way_on / length)}))")
            vector = self.file.add(f"VECTOR('',{ahead},{_figures([length])})")
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

    def _face(self, bound: str, surface: str, *, same: bool) -> str:
        return self.file.add(f"ADVANCED_FACE('',({bound}),{self.file.add(surface)},.{'T' if same else 'F'}.)")


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


def _product(file: _File, name: str, solids: list[str]) -> None:
    """What the format wants round the solids: a product, its shape, and the units."""
    name = _letters(name)
    context = file.add("APPLICATION_CONTEXT('automotive design')")
    file.add(f"APPLICATION_PROTOCOL_DEFINITION('international standard','automotive_design',2000,{context})")
    trade = file.add(f"PRODUCT_CONTEXT('',{context},'mechanical')")
    product = file.add(f"PRODUCT('{name}','{name}','',({trade}))")
    formation = file.add(f"PRODUCT_DEFINITION_FORMATION('','',{product})")
    design = file.add(f"PRODUCT_DEFINITION_CONTEXT('part definition',{context},'design')")
    definition = file.add(f"PRODUCT_DEFINITION('design','',{formation},{design})")
    shape = file.add(f"PRODUCT_DEFINITION_SHAPE('','',{definition})")
    length = file.add("(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))")
    angle = file.add("(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))")
    solid = file.add("(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())")
    exact = file.add(f"UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE({EXACT_MM}),{length},'distance_accuracy_value','')")
    space = file.add(
        f"(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT(({exact}))"
        f"GLOBAL_UNIT_ASSIGNED_CONTEXT(({length},{angle},{solid}))REPRESENTATION_CONTEXT('',''))"
    )
    home = file.axes(np.zeros(3), np.array([0.0, 0, 1]), np.array([1.0, 0, 0]))
    body = file.add(f"ADVANCED_BREP_SHAPE_REPRESENTATION('{name}',({','.join([home, *solids])}),{space})")
    file.add(f"SHAPE_DEFINITION_REPRESENTATION({shape},{body})")
