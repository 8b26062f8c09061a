"""Cut: every piece to be cut, its lengths, and what is done to both ends.

Straight runs of tube through a joint that the plan lets run are one piece. Other ends are cut to the receiver that the
joint's plan names and to whatever else is in their way there and goes in before them; a tube and its mirror image that
meet on the centreline are cut to the plane between them.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise
from typing import Literal

import numpy as np

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.joint_plans import JointPlan, end_section, plans
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import AnySection, along_taper, depth
from ironcage.core.calc.tubes import cope
from ironcage.core.calc.tubes.centreline import Route
from ironcage.core.calc.tubes.receivers import Joined, Plane, Prism, Receiver, Stub
from ironcage.core.job.geometry.routes import bend_facings, end_axes, route_of
from ironcage.core.job.values.model import Job, Section, Tube
from ironcage.problem import Problem
from ironcage.units import said

SAME_BEND_MM, SAME_BEND_CLOCK = 0.1, math.radians(0.5)  # nearer than this, two bends either side of a joint are one
KINK = math.radians(0.05)  # of a piece at a joint it runs through: told when it turns further
SQUARE = math.radians(0.05)  # a mitre flatter than this is cut square


@dataclass(frozen=True)
class EndCut:
    """One end of a piece.

    kind: cope (saddle on a round tube), flat (on a rectangular one's face), mitre or square. onto: the tube it lands
    on, or butts against where two in line are of different makes. angle: between the two tubes' axes (rad), π/2 for a
    square end. saw_angle: how far the saw is turned from square (rad). hole_saw: a common size (mm) or None. shape: of
    the tube at this end. trims: the other tubes that it is cut to as well. centre: where the other tube's axis passes
    this one's, from the square end of the bar, and offset: how far beside it, both mm. notes: what to know; problem:
    why it can't be cut so.
    """

    joint: str
    kind: Literal["cope", "flat", "mitre", "square"]
    onto: str
    onto_size: float
    angle: float
    saw_angle: float
    hole_saw: float | None
    shape: AnySection
    profile: cope.Profile
    trims: tuple[str, ...] = ()
    centre: float = 0.0
    offset: float = 0.0
    notes: tuple[str, ...] = ()
    problem: str = ""

    @property
    def words(self) -> str:
        """The cut in shop words."""
        return f"{self._first_cut}, then to {', '.join(self.trims)}" if self.trims else self._first_cut

    @property
    def _first_cut(self) -> str:
        turned = f"{math.degrees(self.saw_angle):.1f}°"
        if self.kind == "square":
            return f"square, against {self.onto}" if self.onto else "square"
        if self.kind == "mitre":
            return f"mitre {turned} with {self.onto}"
        if self.kind == "flat":
            return f"saw {turned} onto {self.onto}"
        saw = (
            f"hole saw {said.sizes(self.hole_saw)}"
            if self.hole_saw
            else f"no common hole saw for {said.sizes(self.onto_size)}"
        )
        return f"{saw}, {turned} from square, onto {self.onto}"


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
    straightened out.
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

    def piece(self, name: str) -> Piece:
        """The piece that contains a tube."""
        for piece in self.pieces:
            if name == piece.id or name in piece.tubes:
                return piece
        raise Problem(f"There is no piece ‘{name}’ in the cut list.", where=name)


@remembered("joints", "tubes", "shelf")
def answer(job: Job) -> CutAnswer:
    """Work out every piece of the frame."""
    shop = _Shop(job)
    pieces = tuple(shop.piece(chain) for chain in shop.chains())
    by_section: dict[str, float] = {}
    for p in pieces:
        by_section[p.stock.name] = by_section.get(p.stock.name, 0.0) + p.bar
    return CutAnswer(pieces, by_section)


class _Shop:
    """What is looked up again and again while the pieces of one job are worked out."""

    def __init__(self, job: Job) -> None:
        self.job = job
        for t in job.tubes:
            if route_of(job, t).length < 1e-3:
                raise Problem(f"{t.id} has no length.", where=t.id, hint="Move or merge one of its joints.")
        self.axes = end_axes(job)
        self.plans: dict[str, JointPlan] = plans(job, self.axes)
        self.shapes = {s.name: s for s in job.shelf.sections}
        self._per_mm: dict[tuple[str, str, str], float] = {}

    def shape(self, tube: Tube, joint: str) -> AnySection:
        """The section of a tube at one of its joints."""
        return self.shapes[end_section(tube, joint)].shape

    def per_mm(self, tube: Tube) -> float:
        """What a millimetre of a tube weighs, kg; of a tapered one on the average."""
        make = tube.section, tube.taper, tube.material
        if make not in self._per_mm:
            made = self.job.material(tube.material)
            first, last = self.shapes[tube.section].shape, self.shapes[tube.taper or tube.section].shape
            self._per_mm[make] = along_taper(first, last, made.poisson)[0] * made.density * 1e-9
        return self._per_mm[make]

    def stock(self, chain: list[tuple[Tube, str, str]]) -> Section:
        """The section that a piece is cut from: what it is cut down from, else the largest of what it is along its
        length."""
        named = [name for t, _, _ in chain for name in ([t.cut_from] if t.cut_from else [t.section, t.taper]) if name]
        return max(
            (self.shapes[name] for name in named), key=lambda s: (max(s.shape.size), min(s.shape.size), s.shape.wall_mm)
        )

    def chains(self) -> list[list[tuple[Tube, str, str]]]:
        """Tubes in line as (tube, joint it is entered at, joint it is left at)."""
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

    def _walk(self, tube: Tube, joint: str) -> list[tuple[Tube, str, str]]:
        found: list[tuple[Tube, str, str]] = []
        start = tube.id
        while True:
            plan = self.plans[joint]
            if not plan.continues or tube.id not in plan.through:
                return found
            tube = self.job.tube_by_id[plan.through[0] if plan.through[1] == tube.id else plan.through[1]]
            if tube.id == start or tube.donor:
                return found
            out = tube.b if tube.a == joint else tube.a
            found.append((tube, joint, out))
            joint = out

    def piece(self, chain: list[tuple[Tube, str, str]]) -> Piece:
        """Lengths and cuts of a chain of tubes in line."""
        tubes = tuple(t.id for t, _, _ in chain)
        head = chain[0][0]
        section = self.shapes[head.section]
        routes = [route_of(self.job, t) for t, _, _ in chain]
        at_first, at_second = (
            route.points[0 if tube.a == joint else -1]
            for route, (tube, joint) in ((routes[0], chain[0][:2]), (routes[-1], (chain[-1][0], chain[-1][2])))
        )
        axes, last_axes = self._carried(chain)
        first = self.end(chain[0][0], chain[0][1], at_first, 1.0, axes)
        second = self.end(chain[-1][0], chain[-1][2], at_second, -1.0, last_axes)
        folds = [_folds(route, tube, section) for route, (tube, _, _) in zip(routes, chain, strict=True)]
        lengths = [route.length + sum(fold.gain for fold in each) for route, each in zip(routes, folds, strict=True)]
        centre = sum(lengths)
        masses = [self.per_mm(tube) * length for (tube, _, _), length in zip(chain, lengths, strict=True)]
        for end, tube in ((first, chain[0][0]), (second, chain[-1][0])):  # less what the wall's middle loses
            masses.append(-self.per_mm(tube) * float(np.mean(end.profile.outer + end.profile.inner)) / 2)
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
            axes=axes,
            last_axes=last_axes,
            first=first,
            second=second,
            bends=_marks(chain, routes, folds, first.profile.bar),
            notes=(*_shop_notes(chain, stock, centre), *self._kinks(chain)),
        )

    def _kinks(self, chain: list[tuple[Tube, str, str]]) -> list[str]:
        """Where a piece is not quite straight at a joint that it runs through, and how far a straight bar would
        miss."""
        found = []
        for (one, _, joint), (other, _, far) in pairwise(chain):
            turn = math.pi - math.acos(float(np.clip(self._away(one.id, joint) @ self._away(other.id, joint), -1, 1)))
            if turn > KINK:
                reach = math.dist(self.job.joint_by_id[joint].place, self.job.joint_by_id[far].place)
                found.append(
                    f"turns {math.degrees(turn):.2f}° at {joint}: laid straight it is "
                    f"{said.length(reach * math.sin(turn))} off at {far}"
                )
        return found

    def _carried(self, chain: list[tuple[Tube, str, str]]) -> tuple[Floats, Floats]:
        """Axes (3, 3) at both ends of a chain, x along it, the second's carried from the first's round every bend
        with no twist."""
        turn, axes = 0.0, np.eye(3)
        first: Floats | None = None
        for tube, into, out in chain:
            back = np.array([[1.0], [1.0], [1.0]] if tube.a == into else [[-1.0], [-1.0], [1.0]])
            here, there = self.axes[tube.id, into] * back, self.axes[tube.id, out] * back
            if first is None:
                first = here
            else:
                turn = math.atan2(float(axes[1] @ here[2]), float(axes[1] @ here[1]))
            y = math.cos(turn) * there[1] + math.sin(turn) * there[2]
            axes = np.stack([there[0], y, np.cross(there[0], y)])
        return (axes if first is None else first), axes

    def end(self, tube: Tube, joint: str, at: Floats, way: float, axes: Floats) -> EndCut:
        """The cut of one end of a piece: square where it runs through, else to what the plan names."""
        plan, shape = self.plans[joint], self.shape(tube, joint)
        into = way * axes[0]
        if tube.id in plan.receiver_of:
            return self._landing(tube, plan, at, way, axes, shape)
        if plan.mitred:
            other = plan.through[0] if plan.through[1] == tube.id else plan.through[1]
            away = self._away(other, joint)
            normal = into - away
            normal = normal / np.linalg.norm(normal)
            profile = _planed(shape, axes, at, way, at, normal)
            saw = math.acos(min(1.0, abs(float(normal @ into))))
            between_them = math.acos(float(np.clip(into @ away, -1, 1)))
            if saw < SQUARE:
                return EndCut(joint, "square", other, max(shape.size), between_them, 0.0, None, shape, profile)
            return EndCut(joint, "mitre", other, max(shape.size), between_them, saw, None, shape, profile)
        past = self._overhang(plan, joint, at, -into)
        profile = _planed(shape, axes, at, way, at - past * into, into)
        note = (f"runs {said.length(past)} past the joint to carry what lands on it",) if past > 0.05 else ()
        return EndCut(joint, "square", "", 0.0, math.pi / 2, 0.0, None, shape, profile, notes=note)

    def _away(self, tube: str, joint: str) -> Floats:
        t = self.job.tube_by_id[tube]
        return self.axes[tube, joint][0] * (1.0 if t.a == joint else -1.0)

    def receiver(self, tube: str, joint: str, at: Floats) -> Receiver:
        """A tube as something to land on, passing through its joint at `at`, straight on where it is bent there."""
        return Prism(at, self.axes[tube, joint], self.shape(self.job.tube_by_id[tube], joint).contour)

    def _axis_place(self, tube: str, joint: str) -> Floats:
        """Where the axis of a tube that runs through a joint is: at the joint, or as far beside it as its end lands."""
        t = self.job.tube_by_id[tube]
        return np.add(self.job.joint_by_id[joint].place, t.offset_a if t.a == joint else t.offset_b)

    def _landing(self, tube: Tube, plan: JointPlan, at: Floats, way: float, axes: Floats, shape: AnySection) -> EndCut:
        onto = plan.receiver_of[tube.id]
        target = self.shape(self.job.tube_by_id[onto], plan.joint)
        try:
            angle = cope.demand_crossing(axes[0], self.axes[onto, plan.joint][0])
        except Problem as problem:
            profile = _planed(shape, axes, at, way, at, way * axes[0])
            return EndCut(
                plan.joint,
                "square",
                onto,
                max(target.size),
                0.0,
                0.0,
                None,
                shape,
                profile,
                problem=f"{tube.id} onto {onto}: {problem.sentence}",
            )
        main = _Met(
            "whole", target, self.axes[onto, plan.joint].tobytes(), self._axis_place(onto, plan.joint).tobytes()
        )
        trims, others, flat = self._others(tube, plan, at, way, axes, shape, main)
        profile = _landed(shape, axes.tobytes(), at.tobytes(), way, main, others)
        notes = [*cope.cautions(angle, profile.misses, onto)]
        if trims:
            notes.append(f"cut along the paper: a saw set to {onto} leaves it in the way of {', '.join(trims)}")
        if flat:
            notes.append(f"lies along {', '.join(flat)} for so long that no cut parts them")
        past, offset = _passing(at, way * axes[0], self._axis_place(onto, plan.joint), self.axes[onto, plan.joint][0])
        round_on_round = target.is_round
        return EndCut(
            plan.joint,
            "cope" if round_on_round else "flat",
            onto,
            max(target.size),
            angle,
            math.pi / 2 - angle,
            cope.nearest_saw(max(target.size)) if round_on_round else None,
            shape,
            profile,
            trims,
            past - profile.bar,
            offset,
            tuple(notes),
        )

    def _others(
        self, tube: Tube, plan: JointPlan, at: Floats, way: float, axes: Floats, shape: AnySection, main: _Met
    ) -> tuple[tuple[str, ...], tuple[_Met, ...], tuple[str, ...]]:
        """What else is in the way of an end at a joint: the tubes by id, what they are there, and those that are too
        flat to it for a cut."""
        met: dict[str, _Met] = {}
        flat = []
        onto, mirror = plan.receiver_of[tube.id], self._mirror(tube, plan)
        before = plan.order[: plan.order.index(tube.id)]
        for name in (*plan.through, *before):
            if name in (onto, mirror) or (plan.continues and name in plan.through):
                continue
            away = self._away(name, plan.joint)
            along = float(way * axes[0] @ away)
            if abs(along) > math.cos(cope.PARALLEL):
                flat += [name] if along > 0 else []  # else they leave the joint on either side of it
                continue
            there = self.shape(self.job.tube_by_id[name], plan.joint)
            frame, start = self.axes[name, plan.joint], self._axis_place(name, plan.joint)
            met[name] = _Met("stub", there, frame.tobytes(), start.tobytes(), away.tobytes())
        if mirror:
            away = np.array([0.0, 1.0 if (way * axes[0])[1] > 0 else -1.0, 0.0])
            met[mirror] = _Met("mirror", None, b"", np.array([at[0], 0.0, at[2]]).tobytes(), away.tobytes())
        if not met:
            return (), (), tuple(flat)
        reach = _in_the_way(shape, axes.tobytes(), at.tobytes(), way, main, tuple(met.values()))
        names = tuple(name for name, hit in zip(met, reach, strict=True) if hit)
        return names, tuple(met[name] for name in names), tuple(flat)

    def _mirror(self, tube: Tube, plan: JointPlan) -> str:
        """The tube's mirror image, where both land on a joint of the centreline from either side of it."""
        twin = self.job.twin_tube(tube)
        if twin is None or twin.id == tube.id or self.job.joint_by_id[plan.joint].twin != plan.joint:
            return ""
        return twin.id if twin.id in plan.order else ""

    def _overhang(self, plan: JointPlan, joint: str, at: Floats, outward: Floats) -> float:
        """How far the tube that runs through must pass the joint to carry every foot that lands on it."""
        reach = 0.0
        receiver = self.receiver(plan.through[0], joint, at)
        for name in plan.receiver_of:
            t = self.job.tube_by_id[name]
            if float(np.linalg.norm(np.cross(self.axes[name, joint][0], outward))) < math.sin(cope.PARALLEL):
                continue
            way = 1.0 if t.a == joint else -1.0
            reach = max(reach, cope.overhang(self.shape(t, joint), self.axes[name, joint], at, way, receiver, outward))
        return reach


def _passing(at: Floats, into: Floats, place: Floats, along: Floats) -> tuple[float, float]:
    """Where another axis passes the axis of a tube end nearest: how far from the end's joint into the tube, and how far
    beside it, mm. into, along: unit vectors that are not parallel."""
    apart, lean = place - at, float(along @ into)
    square = along - lean * into  # what of the other axis runs across this one
    share = float(apart @ square) / float(square @ square)
    inward = float(apart @ into)
    aside = apart - inward * into - share * square
    return inward - share * lean, math.sqrt(float(aside @ aside))


KEEP = 2000  # ends of a frame of three hundred tubes, and of its last few states; 12 kB each


@dataclass(frozen=True)
class _Met:
    """What an end meets, as it can be looked up by: a whole tube, one that begins at the joint (stub), or its own
    mirror image. axes, place, away: arrays as the bytes of their numbers."""

    kind: Literal["whole", "stub", "mirror"]
    shape: AnySection | None
    axes: bytes
    place: bytes
    away: bytes = b""

    @property
    def receiver(self) -> Receiver:
        """What the end is cut to."""
        if self.shape is None:
            return Plane(_numbers(self.place), _numbers(self.away))
        whole = Prism(_numbers(self.place), _numbers(self.axes).reshape(3, 3), self.shape.contour)
        return whole if self.kind == "whole" else Stub(whole, _numbers(self.place), _numbers(self.away))


@lru_cache(KEEP)
def _landed(
    shape: AnySection, axes: bytes, at: bytes, way: float, main: _Met, others: tuple[_Met, ...]
) -> cope.Profile:
    """The end of a tube on another and on what else is in its way; kept, for an edit moves few of a frame's ends.
    Arrays come as the bytes of their numbers."""
    receiver = Joined(main.receiver, tuple(o.receiver for o in others)) if others else main.receiver
    return cope.end_profile(shape, _numbers(axes).reshape(3, 3), _numbers(at), way, receiver)


@lru_cache(KEEP)
def _in_the_way(
    shape: AnySection, axes: bytes, at: bytes, way: float, main: _Met, others: tuple[_Met, ...]
) -> tuple[bool, ...]:
    """Which of some others reach into the end of a tube on another."""
    met = [other.receiver for other in others]
    return cope.in_the_way(shape, _numbers(axes).reshape(3, 3), _numbers(at), way, main.receiver, met)


def _planed(shape: AnySection, axes: Floats, at: Floats, way: float, point: Floats, normal: Floats) -> cope.Profile:
    """The end of a tube cut to a plane through a point."""
    return _flat(shape, axes.tobytes(), at.tobytes(), way, point.tobytes(), normal.tobytes())


@lru_cache(KEEP)
def _flat(shape: AnySection, axes: bytes, at: bytes, way: float, point: bytes, normal: bytes) -> cope.Profile:
    plane = Plane(_numbers(point), _numbers(normal))
    return cope.end_profile(shape, _numbers(axes).reshape(3, 3), _numbers(at), way, plane)


def _numbers(data: bytes) -> Floats:
    return np.frombuffer(data)


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
        (y, z), wall, half = facing, section.shape.wall_mm, math.tan(bend.angle / 2)
        outside = section.shape.reach(-y, -z)
        made.append(_Fold(2 * (outside - wall) * half, 2 * (depth(section.shape, y, z) - wall) * half))
    return made


def _marks(
    chain: list[tuple[Tube, str, str]], routes: list[Route], folds: list[list[_Fold]], tip: float
) -> tuple[BendMark, ...]:
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


def _shop_notes(chain: list[tuple[Tube, str, str]], stock: Section, length: float) -> tuple[str, ...]:
    """What is done to the piece besides its ends."""
    notes = []
    if any(t.cut_from for t, _, _ in chain):
        notes.append(
            f"cut down from {stock.name}: {said.metres(2 * length)} of slitting and {said.metres(2 * length)} of weld"
        )
    for t, _, _ in chain:
        if t.taper:
            notes.append(f"tapers to {t.taper} at {t.b}")
    return tuple(notes)
