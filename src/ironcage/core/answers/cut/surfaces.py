"""A piece as it is after cutting: the closed surface of its wall, where it stands in the car.

The cuts of its ends go square through the wall. Slots, holes, ends that are pressed flat and cuts for inserts are in
it.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from ironcage.core.answers.cut.drilled import Bore, bores
from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.markout import Mouth, end_tube, inserts, mouths
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.answers.cut.solids import centreline, cut_at, end_ring, section_at, stepped, walls
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import Angle, Round
from ironcage.core.calc.tubes.flats import pressed
from ironcage.core.calc.tubes.shells import Hole, Shell, bisected, frames, joined, shell
from ironcage.core.job.geometry.flanges import flanges
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.geometry.tabs import clocked
from ironcage.core.job.values.fittings import FlattenedEnd
from ironcage.core.job.values.model import Job

LINES = 48  # lines round a tube that its surface is made of, besides its corners
RIM_LINES = 360  # of the line that an end is drawn with
ACROSS = 12  # lines that pass a hole
APART = 2e-6  # shares of the way round: nearer than this, two lines are one
SWELL, STEPS = 1.0, 8  # over how many diameters a flat becomes round again, and in how many steps that is drawn

Walls = tuple[Floats, Floats, Floats]  # outer, inner, and outward normals


def piece_shell(job: Job, piece: Piece, lines: int = LINES) -> Shell:
    """The surface of a piece, mm in the car's axes; `lines` round it."""
    return _Surface(job, piece, lines).shell()


def cut_rims(job: Job, piece: Piece) -> tuple[tuple[Floats, Floats], tuple[Floats, Floats]]:
    """The outer and the inner rim (n, 3), closed, mm, of a piece's first end and of its second, as they are cut."""
    first, second = _Surface(job, piece, RIM_LINES).ends()
    return _closed(first), _closed(second)


def _closed(ring: _Ring) -> tuple[Floats, Floats]:
    return np.vstack([ring.outer, ring.outer[:1]]), np.vstack([ring.inner, ring.inner[:1]])


@dataclass(frozen=True, eq=False)
class _Ring:
    """Once round a piece. along: from where its centreline starts, mm; outer, inner, facing (n, 3); bend: whether it is
    there only because the piece bends."""

    along: float
    outer: Floats
    inner: Floats
    facing: Floats
    bend: bool = False


@dataclass(frozen=True, eq=False)
class _Flat:
    """An end that is pressed flat. turn: which way it looks, from the piece's y there towards its z, rad; tip, stop:
    where it ends and where it starts to become round, from the joint along the tube, mm."""

    fitting: FlattenedEnd
    turn: float
    tip: float

    @property
    def stop(self) -> float:
        """Where it starts to become round, from the joint along the tube, mm."""
        return self.tip + self.fitting.length


class _Surface:
    """What is looked up while the surface of one piece is made."""

    def __init__(self, job: Job, piece: Piece, lines: int) -> None:
        self.piece = piece
        self.line = centreline(job, piece)
        self.axes = frames(self.line, piece.axes[1])
        self.reached = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(self.line, axis=0), axis=1))])
        self.length = float(self.reached[-1])
        straightened = sum(route_of(job, job.tube_by_id[name]).length for name in piece.tubes)
        self.scale = self.length / straightened  # of chords to what they stand for
        fitted = any(getattr(f, "tube", "") in piece.tubes for f in job.fittings)
        worked = fitted and not isinstance(piece.section.shape, Angle)
        self.flats = {end.joint: flat for end in self._ends if worked and (flat := _flat(job, piece, end))}
        self.bores = self._bores(job) if worked else ()
        bar = piece.first.profile.bar
        self.cuts = [((at + bar) * self.scale, gap) for at, gap in inserts(job, piece)] if fitted else []
        slots = [mouths(job, piece, end) if worked else () for end in self._ends]
        self.around, self.cut = self._lines(lines, slots)

    @property
    def _ends(self) -> tuple[EndCut, EndCut]:
        return self.piece.first, self.piece.second

    def _bores(self, job: Job) -> tuple[Bore, ...]:
        """All holes: those along the piece, and those of its flat ends."""
        made = [replace(b, along=b.along * self.scale) for b in bores(job, self.piece)[0]]
        for end in self._ends:
            if flat := self.flats.get(end.joint):
                at = 0.0 if end is self.piece.first else self.length
                for turn in (flat.turn, flat.turn + math.pi):
                    way = (math.cos(turn), math.sin(turn))
                    made.append(Bore(flat.fitting.id, at, way, 0.0, flat.fitting.hole / 2))
        return tuple(made)

    def _lines(self, count: int, slots: Sequence[Sequence[Mouth]]) -> tuple[Floats, list[Floats]]:
        """The lines of the surface as shares of the way round, and how far both ends are cut there, mm."""
        contour = self.piece.first.shape.contour
        around = contour.lines(count)[0] / contour.girth
        if self.bores:
            passing = np.unique(np.round(np.concatenate([self._passing(b) for b in self.bores]) % 1.0, 6))
            new = np.abs((passing[:, None] - around + 0.5) % 1.0 - 0.5).min(axis=1) > APART
            around = np.sort(np.concatenate([around, passing[new]]))
        cuts = [cut_at(end, around) for end in self._ends]
        for n, (end, some) in enumerate(zip(self._ends, slots, strict=True)):
            for slot in some:
                steps = stepped(end, around, cuts[n], slot)
                cuts[1 - n] = np.insert(cuts[1 - n], steps.before, cut_at(self._ends[1 - n], steps.places))
                around, cuts[n] = steps.around, steps.cut
        return around, cuts

    def _walls(self, along: float, around: Floats) -> Walls:
        """The section so far along the piece, mm, at shares of the way round."""
        for end, at in ((self.piece.first, along), (self.piece.second, self.length - along)):
            flat, shape = self.flats.get(end.joint), end.shape
            if flat and isinstance(shape, Round) and at < flat.stop + SWELL * shape.od_mm:
                share = min(max((at - flat.stop) / (SWELL * shape.od_mm), 0.0), 1.0)
                low = 2 * shape.wall_mm
                height = low + (shape.od_mm - low) * (1 - math.cos(math.pi * share)) / 2
                wide = flat.turn - math.pi / 2
                turned = np.array([[math.cos(wide), math.sin(wide)], [-math.sin(wide), math.cos(wide)]])
                made = pressed(shape.od_mm, shape.wall_mm, height, around * 2 * math.pi - wide)
                return made[0] @ turned, made[1] @ turned, made[2] @ turned
        return walls(section_at(self.piece, along / self.length), around)

    def _passing(self, bore: Bore) -> Floats:
        """Lines that pass a hole, as shares of the way round: its edges on both walls, and some between."""
        share = np.linspace(0, 1, 721)[:-1]
        outer, inner, normals = self._walls(bore.along, share)
        way = np.array(bore.normal)
        start = int((normals @ way).argmin())
        share = np.roll(share, -start) + np.where(np.arange(720) >= 720 - start, 1.0, 0.0)
        outer, inner, normals = (np.roll(each, -start, axis=0) for each in (outer, inner, normals))
        facing = normals @ way > 0.05
        left = np.array([-way[1], way[0]])
        across = bore.aside + bore.radius * np.sin(np.linspace(-math.pi / 2, math.pi / 2, ACROSS + 1))
        made = np.interp(across, (outer @ left)[facing], share[facing])
        inside = np.interp(across[[0, -1]], (inner @ left)[facing], share[facing])
        return np.concatenate([made, inside])

    def shell(self) -> Shell:
        """The surface of all lengths of the piece."""
        chords, parts = [], []
        for rings in self._lengths():
            whole = self._without_bends(rings)
            stacked = (np.array([getattr(r, name) for r in whole]) for name in ("outer", "inner", "facing"))
            outer, inner, facing = stacked
            hollow = not isinstance(self.piece.section.shape, Angle)
            made = shell(outer, inner if hollow else None, facing, list(self._holes(whole)))
            middles = np.array([(one.along + other.along) / 2 for one, other in pairwise(whole)])
            of = np.clip(np.searchsorted(self.reached, middles, side="right") - 1, 0, len(self.axes) - 1)
            chords.append(of)
            parts.append(replace(made, chord=of[made.chord]))
        return joined(parts)

    def ends(self) -> tuple[_Ring, _Ring]:
        """The rings of both ends, as they are cut."""
        first = end_ring(self.line[0], self.axes[0], 1.0, self._at(0.0), self.cut[0])
        second = end_ring(self.line[-1], self.axes[-1], -1.0, self._at(self.length), self.cut[1])
        return _Ring(-math.inf, *first), _Ring(math.inf, *second)

    def _chord(self, along: float) -> int:
        return min(max(bisect_right(self.reached, along) - 1, 0), len(self.axes) - 1)

    def _square(self, along: float) -> _Ring:
        """A ring square to the piece."""
        chord = self._chord(along)
        outer, inner, facing = self._walls(along, self.around)
        axes = self.axes[chord]
        at = self.line[chord] + (along - self.reached[chord]) * axes[0]
        return _Ring(along, at + outer @ axes[1:], at + inner @ axes[1:], facing @ axes[1:])

    def _lengths(self) -> Iterable[list[_Ring]]:
        """The rings of each length that the piece is made of, in order."""
        start, stop = self.ends()
        rings = [start, *self._between(), stop]
        rings.sort(key=lambda ring: ring.along)
        made: list[_Ring] = []
        for at, gap in self.cuts:
            made = [ring for ring in rings if ring.along < at - gap / 2]
            yield [*made, self._square(at - gap / 2)]
            rings = [self._square(at + gap / 2), *(ring for ring in rings if ring.along > at + gap / 2)]
        yield rings

    def _at(self, along: float) -> Walls:
        return self._walls(along, self.around)

    def _between(self) -> Iterable[_Ring]:
        """The rings between the ends: where the piece bends, and where it becomes round from a flat."""
        for n in range(1, len(self.line) - 1):
            outer, inner, facing = self._at(float(self.reached[n]))
            one, other = (bisected(self.line[n], self.axes[n - 1], self.axes[n], side) for side in (outer, inner))
            yield _Ring(float(self.reached[n]), one, other, facing @ self.axes[n][1:], bend=True)
        for end in self._ends:
            if flat := self.flats.get(end.joint):
                swell = SWELL * max(end.shape.size)
                for at in flat.stop + swell * np.linspace(0, 1, STEPS + 1):
                    if at < self.length:
                        yield self._square(float(at if end is self.piece.first else self.length - at))

    def _without_bends(self, rings: list[_Ring]) -> list[_Ring]:
        """The rings without those of bends that a hole spans: it is drawn straight over its width."""
        return [r for r in rings if not (r.bend and any(abs(b.along - r.along) < b.radius for b in self.bores))]

    def _holes(self, rings: list[_Ring]) -> Iterable[Hole]:
        """The holes between two of the rings."""
        for bore in self.bores:
            for n, (one, other) in enumerate(pairwise(rings)):
                if one.along <= bore.along - bore.radius and bore.along + bore.radius <= other.along:
                    yield self._hole(bore, n, one, other)

    def _hole(self, bore: Bore, n: int, one: _Ring, other: _Ring) -> Hole:
        chord = self._chord(bore.along)
        axes = self.axes[chord]
        middle = self.line[chord] + (bore.along - self.reached[chord]) * axes[0]
        flat = self._at(bore.along)
        way = np.array(bore.normal)
        left = np.array([-way[1], way[0]])
        span = self._passing(bore)
        first = float(span.min())
        ahead = (self.around - first + 2 * APART) % 1.0
        lines = np.flatnonzero(ahead <= float(span.max()) - first + 4 * APART)
        lines = lines[np.argsort(ahead[lines], kind="stable")]
        ends = []
        for places, sides in zip(flat[:2], ((one.outer, other.outer), (one.inner, other.inner)), strict=True):
            half = bore.half(places[lines] @ left)
            if not bore.square:
                half[[0, -1]] = 0.0
            start, stop = (side[lines] for side in sides)
            along = np.stack([-half, half]) + float(middle @ axes[0])
            near, far = start @ axes[0], stop @ axes[0]
            share = np.clip((along - near) / (far - near), 0.0, 1.0)[:, :, None]
            ends.append(start + share * (stop - start))
        return Hole(n, lines, *ends)


def _flat(job: Job, piece: Piece, end: EndCut) -> _Flat | None:
    """How an end is pressed flat; nothing for another."""
    made = flanges(job).get((end_tube(piece, end), end.joint))
    if not isinstance(made, FlattenedEnd):
        return None
    tube, axes = job.tube_by_id[made.tube], piece.last_axes if end is piece.second else piece.axes
    route = route_of(job, tube)
    along = route.at(0.0 if tube.a == end.joint else route.length)[1]
    faces = clocked(along, job.joint_by_id[end.joint].y, made.clock)
    return _Flat(made, math.atan2(float(faces @ axes[2]), float(faces @ axes[1])), float(end.profile.bar))
