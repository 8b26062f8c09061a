"""Cut: every piece to be cut, its lengths, and what is done to both ends.

Straight runs of tube through a joint that the plan lets run are one piece. Other ends are cut to the receiver that the
joint's plan names and to whatever else is in their way there (`ends`).
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from ironcage.core.answers.cut.ends import AskedEnd, EndCut, Joints, cut_all
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.joint_plans import JointPlan, plans
from ironcage.core.answers.shared.kept import Kept, Latest, around
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import Angle, along_taper, depth
from ironcage.core.calc.tubes.centreline import Route
from ironcage.core.calc.tubes.folds import wedge
from ironcage.core.calc.vectors import cross
from ironcage.core.job.geometry.routes import bend_facings, end_axes, route_of
from ironcage.core.job.values.model import Job, Section, Tube
from ironcage.problem import Problem
from ironcage.units import said

SAME_BEND_MM, SAME_BEND_CLOCK = 0.1, math.radians(0.5)  # nearer than this, two bends either side of a joint are one
KEPT_MM = 0.05  # a size that changes by less does not taper
_BACK = np.array([[-1.0], [-1.0], [1.0]])  # turns the axes of a tube that a piece runs along against its own way
KINK = math.radians(0.05)  # of a piece at a joint it runs through: told when it turns further


@dataclass(frozen=True)
class BendMark:
    """A bend of a piece. start: from the first end of the bar, cut square to the piece's `bar`, to where the bend
    begins (the middle of the notch where it is folded), mm along the straight tube;
    angle, clock: how far it turns, and how far its plane is turned from the last bend's, rad; radius: of the
    centreline, mm, 0 where notched and folded; mouth: of the notch across the cut face, mm."""

    start: float
    angle: float
    clock: float
    radius: float
    mouth: float


@dataclass(frozen=True)
class Piece:
    """A tube to cut. tubes: the tubes of the frame it is made of, in line; lengths in mm, mass in kg.

    centre: joint to joint. shoulder: between the deepest points of both cuts. saddle_tip: over the longest points as a
    hole saw leaves them, feather edges included; template_tip: as a cut along the paper leaves them, square through the
    wall; bar: what to cut off square, enough for both. clock: how far the second end's mark is turned from the first's,
    clockwise looking from the first end to the second (rad), None when an end is square and has no mark. axes,
    last_axes: piece axes (3, 3) at its first and its second end, x along it.
    stock: the section to buy, larger where it is cut down. For a bent piece all lengths are along its centreline,
    straightened out. laser: it is sent to a tube laser.
    """

    id: str
    tubes: tuple[str, ...]
    section: Section
    material: str
    role: str
    centre: float
    shoulder: float
    saddle_tip: float
    template_tip: float
    bar: float
    mass: float
    clock: float | None
    axes: Floats
    last_axes: Floats
    first: EndCut
    second: EndCut
    stock: Section
    bends: tuple[BendMark, ...] = ()
    notes: tuple[str, ...] = ()
    laser: bool = False

    def how(self, end: EndCut) -> str:
        """With which tool one of its ends is cut, and why where it is not the usual one."""
        return ("" if end.problem else "tube laser") if self.laser else end.how

    def words(self, end: EndCut) -> str:
        """One of its ends in shop words."""
        return end.laser_words if self.laser else end.words

    def notes_of(self, end: EndCut) -> tuple[str, ...]:
        """What to know of one of its ends."""
        return end.notes if self.laser else (*end.notes, *end.by_hand)

    @property
    def sealed(self) -> bool:
        """Whether both ends are closed by what they land on, so that hot air can't get out when it is welded."""
        ends = (self.first, self.second)
        return not isinstance(self.section.shape, Angle) and all(
            e.kind in ("cope", "flat") and e.profile.misses == 0 for e in ends
        )

    @property
    def problems(self) -> tuple[str, ...]:
        """Why this piece can't be cut as it is."""
        own = (f"nothing is left of {self.id} after both cuts",) if self.shoulder <= 0 else ()
        return own + tuple(e.problem for e in (self.first, self.second) if e.problem)


@dataclass(frozen=True)
class CutAnswer:
    """All pieces, in the order of their first tubes, and the sum of the bars to cut off by section (mm), without
    kerf."""

    pieces: tuple[Piece, ...]
    by_section: Mapping[str, float]

    @property
    def trimmed(self) -> int:
        """How many ends are cut to more than one tube."""
        return sum(bool(end.trims) for piece in self.pieces for end in (piece.first, piece.second))

    def piece(self, name: str) -> Piece:
        """The piece that contains a tube."""
        for piece in self.pieces:
            if name == piece.id or name in piece.tubes:
                return piece
        raise Problem(f"There is no piece ‘{name}’ in the cut list.", where=name)


MOST_ENDS = 20_000  # that are kept: of a job of five thousand tubes, and of others
_PIECES, _LAST = Kept[Piece](), Latest["_LastEnd"](MOST_ENDS)


@remembered("joints", "tubes", "shelf", "fittings", "cutting")
def answer(job: Job) -> CutAnswer:
    """Work out every piece of the frame. What no edit has touched since the last frame is taken from there."""
    shop, kept = _Shop(job), _PIECES.round()
    chains = shop.chains()
    things = [shop.things(chain) for chain in chains]
    found = [kept.find(of, job.cutting.root) for of in things]
    begun = {n: shop.begin(chain) for n, chain in enumerate(chains) if found[n] is None}
    cuts = _cut(shop, {(n, which): end for n, start in begun.items() for which, end in enumerate(start.ends)})
    for n, start in begun.items():
        found[n] = kept.keep(shop.piece(start, cuts[n, 0], cuts[n, 1]), things[n], job.cutting.root)
    kept.close()
    pieces = tuple(p for p in found if p)
    by_section: dict[str, float] = {}
    for p in pieces:
        by_section[p.stock.name] = by_section.get(p.stock.name, 0.0) + p.bar
    return CutAnswer(pieces, by_section)


def _cut(shop: _Shop, wanted: Mapping[tuple[int, int], _PieceEnd]) -> dict[tuple[int, int], EndCut]:
    """The cuts of some ends: those that come to the same as in the last frame are taken from there, all others worked
    out together."""
    cuts: dict[tuple[int, int], EndCut] = {}
    fresh: dict[tuple[int, int], AskedEnd] = {}
    for where, end in wanted.items():
        before = _LAST.find((end.tube.id, end.joint))
        if before and before.stands(end, shop):
            cuts[where] = before.cut
            continue
        asked = shop.joints.ask(end.tube, end.joint, end.at, end.way, end.axes)
        if before and asked.alike(before.asked):
            cuts[where] = before.cut
            _LAST.hold((end.tube.id, end.joint), _LastEnd(shop.beside(end.joint), end, asked, before.cut))
        else:
            fresh[where] = asked
    for (where, asked), cut in zip(fresh.items(), cut_all(tuple(fresh.values())), strict=True):
        end = wanted[where]
        _LAST.hold((end.tube.id, end.joint), _LastEnd(shop.beside(end.joint), end, asked, cut))
        cuts[where] = cut
    return cuts


Chain = list[tuple[Tube, str, str]]  # tubes in line as (tube, joint it is entered at, joint it is left at)


@dataclass(frozen=True)
class _PieceEnd:
    """An end of a piece: its tube there, the joint, where the centreline ends (3,), and `way` and `axes` of
    `TubeEnd`."""

    tube: Tube
    joint: str
    at: Floats
    way: float
    axes: Floats


@dataclass(frozen=True)
class _LastEnd:
    """How an end was cut in the last frame. beside: all that told what its joint was like."""

    beside: tuple[object, ...]
    end: _PieceEnd
    asked: AskedEnd
    cut: EndCut

    def stands(self, end: _PieceEnd, shop: _Shop) -> bool:
        """Whether an end lies as it did, at a joint where nothing has been touched."""
        beside, before = shop.beside(end.joint), self.end
        return (
            len(beside) == len(self.beside)
            and all(one is other for one, other in zip(beside, self.beside, strict=True))
            and end.at.tobytes() == before.at.tobytes()
            and end.axes.tobytes() == before.axes.tobytes()
        )


@dataclass(frozen=True)
class _Begun:
    """A piece before its ends are worked out."""

    chain: Chain
    routes: list[Route]
    ends: tuple[_PieceEnd, _PieceEnd]


class _Shop:
    """What is looked up again and again while the pieces of one job are worked out."""

    def __init__(self, job: Job) -> None:
        self.job = job
        for t in job.tubes:
            if _length(job, t) < 1e-3:
                raise Problem(f"{t.id} has no length.", where=t.id, hint="Move or merge one of its joints.")
        self.axes = end_axes(job)
        self.plans: dict[str, JointPlan] = plans(job, self.axes)
        self._following: dict[tuple[str, str], str] = {}  # the tube that a piece goes on in, by tube and joint
        for plan in self.plans.values():
            if plan.continues:
                one, other = plan.through
                self._following |= {(one, plan.joint): other, (other, plan.joint): one}
        self.around = around(job)
        self.shapes = {s.name: s for s in job.shelf.sections}
        self.joints = Joints(job, self.axes, self.plans, self.shapes)
        self._per_mm: dict[tuple[str, str, str], float] = {}

    def beside(self, joint: str) -> tuple[object, ...]:
        """All that the cut of an end depends on, at a joint."""
        return (self.job.cutting, *self.around[joint])

    def things(self, chain: Chain) -> tuple[object, ...]:
        """All that a piece of these tubes depends on."""
        found = self.around[chain[0][1]]
        for _, _, out in chain:
            found += self.around[out]
        return found

    def per_mm(self, tube: Tube) -> float:
        """What a millimetre of a tube weighs, kg; of a tapered one on the average."""
        make = tube.section, tube.taper, tube.material
        if make not in self._per_mm:
            made = self.job.material(tube.material)
            first, last = self.shapes[tube.section].shape, self.shapes[tube.taper or tube.section].shape
            self._per_mm[make] = along_taper(first, last, made.poisson)[0] * made.density * 1e-9
        return self._per_mm[make]

    def stock(self, chain: Chain) -> Section:
        """The section that a piece is cut from: what it is cut down from, else the largest of what it is along its
        length."""
        named = [name for t, _, _ in chain for name in ([t.cut_from] if t.cut_from else [t.section, t.taper]) if name]
        return max(
            (self.shapes[name] for name in named), key=lambda s: (max(s.shape.size), min(s.shape.size), s.shape.wall_mm)
        )

    def chains(self) -> list[Chain]:
        """The tubes in line of every piece."""
        chains, used = [], set()
        for tube in self.job.tubes:
            if tube.id in used or tube.donor:
                continue
            back = self._walk(tube, tube.a)
            forth = self._walk(tube, tube.b)
            chain = [(t, out, into) for t, into, out in reversed(back)] + [(tube, tube.a, tube.b)] + forth
            used |= {t.id for t, _, _ in chain}
            chains.append(chain)
        return chains

    def _walk(self, tube: Tube, joint: str) -> Chain:
        found: Chain = []
        start = tube.id
        while following := self._following.get((tube.id, joint)):
            tube = self.job.tube_by_id[following]
            if tube.id == start or tube.donor:
                break
            out = tube.b if tube.a == joint else tube.a
            found.append((tube, joint, out))
            joint = out
        return found

    def begin(self, chain: Chain) -> _Begun:
        """A piece and how its ends stand."""
        routes = [route_of(self.job, t) for t, _, _ in chain]
        axes, last_axes = self._carried(chain)
        (head, start, _), (tail, _, stop) = chain[0], chain[-1]
        first = _PieceEnd(head, start, routes[0].points[0 if head.a == start else -1], 1.0, axes)
        second = _PieceEnd(tail, stop, routes[-1].points[0 if tail.a == stop else -1], -1.0, last_axes)
        return _Begun(chain, routes, (first, second))

    def piece(self, begun: _Begun, first: EndCut, second: EndCut) -> Piece:
        """Lengths of a piece with both of its ends cut."""
        chain, routes = begun.chain, begun.routes
        tubes = tuple(t.id for t, _, _ in chain)
        head = chain[0][0]
        section = self.shapes[head.section]
        folds = [_folds(route, tube, section) for route, (tube, _, _) in zip(routes, chain, strict=True)]
        lengths = [route.length + sum(fold.gain for fold in each) for route, each in zip(routes, folds, strict=True)]
        centre = sum(lengths)
        masses = [self.per_mm(tube) * length for (tube, _, _), length in zip(chain, lengths, strict=True)]
        for end, tube in ((first, chain[0][0]), (second, chain[-1][0])):  # less what the wall's middle loses
            masses.append(-self.per_mm(tube) * end.profile.middle)
        marked = first.kind != "square" and second.kind != "square"
        stock = self.stock(chain)
        return Piece(
            id=tubes[0],
            tubes=tubes,
            section=section,
            stock=stock,
            material=head.material,
            role=head.role,
            centre=centre,
            shoulder=centre - first.profile.shoulder - second.profile.shoulder,
            saddle_tip=centre - first.profile.saddle_tip - second.profile.saddle_tip,
            template_tip=centre - first.profile.template_tip - second.profile.template_tip,
            bar=centre - first.profile.bar - second.profile.bar,
            mass=sum(masses),
            clock=(second.profile.mark - first.profile.mark) % (2 * math.pi) if marked else None,
            axes=begun.ends[0].axes,
            last_axes=begun.ends[1].axes,
            first=first,
            second=second,
            bends=_marks(chain, routes, folds, first.profile.bar),
            notes=(*_shop_notes(chain, stock, lengths, self.shapes), *self._kinks(chain)),
            laser=any(t.laser for t, _, _ in chain),
        )

    def _kinks(self, chain: Chain) -> list[str]:
        """Where a piece is not quite straight at a joint that it runs through, and how far a straight bar would
        miss."""
        found = []
        for (one, _, joint), (other, _, far) in pairwise(chain):
            turn = math.pi - math.acos(
                float(np.clip(self.joints.away(one.id, joint) @ self.joints.away(other.id, joint), -1, 1))
            )
            if turn > KINK:
                reach = math.dist(self.job.joint_by_id[joint].place, self.job.joint_by_id[far].place)
                found.append(
                    f"turns {math.degrees(turn):.2f}° at {joint}: laid straight it is "
                    f"{said.length(reach * math.sin(turn))} off at {far}"
                )
        return found

    def _carried(self, chain: Chain) -> tuple[Floats, Floats]:
        """Axes (3, 3) at both ends of a chain, x along it, the second's carried from the first's round every bend
        with no twist."""
        turn, axes = 0.0, np.eye(3)
        first: Floats | None = None
        for tube, into, out in chain:
            against = tube.a != into
            here = self.axes[tube.id, into] * _BACK if against else self.axes[tube.id, into]
            if not tube.shaped and (first is None or (axes == here).all()):  # straight on, as most rails go
                first, axes = here if first is None else first, here
                continue
            there = self.axes[tube.id, out] * _BACK if against else self.axes[tube.id, out]
            if first is None:
                first = here
            else:
                turn = math.atan2(float(axes[1] @ here[2]), float(axes[1] @ here[1]))
            y = math.cos(turn) * there[1] + math.sin(turn) * there[2]
            axes = np.stack([there[0], y, cross(there[0], y)])
        return (axes if first is None else first), axes


def _length(job: Job, tube: Tube) -> float:
    """Along a tube's centreline, mm."""
    if tube.shaped:
        return route_of(job, tube).length
    a, b = job.joint_by_id[tube.a], job.joint_by_id[tube.b]
    return math.hypot(a.x - b.x, a.y - b.y, a.z - b.z)


@dataclass(frozen=True)
class _Fold:
    """What a notch takes. gain: how much longer the tube starts than its folded centreline, for it hinges at the
    inside of the outer wall, as far from the centroid as the section reaches there less its wall; mouth: of the
    notch across the cut face; both mm, and 0 where the tube is bent."""

    gain: float
    mouth: float


def _folds(route: Route, tube: Tube, section: Section) -> list[_Fold]:
    """What each bend of a tube takes to notch, across the side of the section it is folded over."""
    if route.radius or not tube.corners:
        return [_Fold(0.0, 0.0)] * len(route.bends)
    made = []
    for bend, facing in zip(route.bends, bend_facings(route, tube.roll), strict=True):
        (y, z), wall = facing, section.shape.wall_mm
        gain = 2 * (section.shape.reach(-y, -z) - wall) * math.tan(bend.angle / 2)
        made.append(_Fold(gain, wedge(depth(section.shape, y, z), wall, bend.angle).mouth))
    return made


def _marks(chain: Chain, routes: list[Route], folds: list[list[_Fold]], tip: float) -> tuple[BendMark, ...]:
    """Every bend along a chain, told from its first end's long point; a bend that a joint parts in two is one."""
    made: list[BendMark] = []
    past, before, reached = -tip, None, -math.inf
    for (tube, into, _), route, notched in zip(chain, routes, folds, strict=True):
        bends = route.bends if tube.a == into else tuple(b.reversed(route.length) for b in reversed(route.bends))
        gained = 0.0
        for bend, fold in zip(bends, notched if tube.a == into else reversed(notched), strict=True):
            start, clock = past + gained + bend.start + fold.gain / 2, bend.clocked(before)
            if (
                route.radius
                and start - reached < SAME_BEND_MM
                and abs(clock) < SAME_BEND_CLOCK
                and made[-1].radius == route.radius
            ):
                made[-1] = replace(made[-1], angle=made[-1].angle + bend.angle)
            else:
                made.append(BendMark(start, bend.angle, clock, route.radius, fold.mouth))
            gained += fold.gain
            reached, before = past + gained + bend.stop, bend
        past += route.length + gained
    return tuple(made)


def _wedge(tube: Tube, shapes: Mapping[str, Section], length: float) -> str:
    """What is cut out of a rectangular tube so that it tapers, in words; nothing for a round one."""
    first, last = shapes[tube.section].shape, shapes[tube.taper].shape
    if first.is_round or last.is_round:
        return ""
    told = []
    for one, other, sides in zip(first.size, last.size, ("top and bottom", "both sides"), strict=True):
        if abs(one - other) > KEPT_MM:
            wide, thin = (tube.a, tube.b) if other > one else (tube.b, tube.a)
            told.append(
                f"a wedge of {said.size(abs(one - other))} at {wide}, to nothing at {thin} over {said.length(length)}, "
                f"out of {sides}"
            )
    return f": cut {' and '.join(told)}, close and weld" if told else ""


def _shop_notes(
    chain: Chain, stock: Section, lengths: Sequence[float], shapes: Mapping[str, Section]
) -> tuple[str, ...]:
    """What is done to the piece besides its ends."""
    notes, length = [], sum(lengths)
    if any(t.cut_from for t, _, _ in chain):
        notes.append(
            f"cut down from {stock.name}: {said.metres(2 * length)} of slitting and {said.metres(2 * length)} of weld"
        )
    for (t, _, _), own in zip(chain, lengths, strict=True):
        if t.taper:
            notes.append(f"tapers to {t.taper} at {t.b}{_wedge(t, shapes, own)}")
    return tuple(notes)
