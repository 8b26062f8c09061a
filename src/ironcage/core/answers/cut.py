"""Cut: every piece to be cut, its lengths, and what is done to both ends.

Straight runs of tube through a joint that the plan lets run are one piece. Ends are cut to one receiver, the
one the joint's plan names; where more tubes crowd a joint the answer says so.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from ironcage.core.answers.cache import remembered
from ironcage.core.answers.lands import JointPlan, plans
from ironcage.core.calc import cope
from ironcage.core.calc.beams import Floats
from ironcage.core.calc.route import Route
from ironcage.core.calc.sections import AnySection, depth
from ironcage.core.job.model import Job, Section, Tube
from ironcage.core.job.routes import bend_facings, end_axes, route_of
from ironcage.problem import Problem

SAME_BEND_MM, SAME_BEND_CLOCK = 0.1, math.radians(0.5)  # nearer than this, two bends either side of a joint are one
SHALLOW = math.radians(25)  # flatter than this a joint is hard to weld and to cut


@dataclass(frozen=True)
class EndCut:
    """One end of a piece.

    kind: cope (saddle on a round tube), flat (on a rectangular one's face), mitre or square. onto: the tube it
    lands on. angle: between the two tubes' axes (rad), π/2 for a square end. saw_angle: how far the saw is turned
    from square (rad). hole_saw: a common size (mm) or None. notes: what to know; problem: why it can't be cut so.
    """

    joint: str
    kind: Literal["cope", "flat", "mitre", "square"]
    onto: str
    onto_size: float
    angle: float
    saw_angle: float
    hole_saw: float | None
    profile: cope.Profile
    notes: tuple[str, ...] = ()
    problem: str = ""

    @property
    def words(self) -> str:
        """The cut in shop words."""
        turned = f"{math.degrees(self.saw_angle):.1f}°"
        if self.kind == "square":
            return "square"
        if self.kind == "mitre":
            return f"mitre {turned} with {self.onto}"
        if self.kind == "flat":
            return f"saw {turned} onto {self.onto}"
        saw = f"hole saw {self.hole_saw:g}" if self.hole_saw else f"no common hole saw for {self.onto_size:g}"
        return f"{saw}, {turned} from square, onto {self.onto}"


@dataclass(frozen=True)
class BendMark:
    """A bend of a piece. start: from the long point of the first end to where the bend begins (the middle of the notch where it is folded), mm along the straight tube;
    angle, clock: how far it turns, and how far its plane is turned from the last bend's, rad; radius: of the centreline, mm, 0 where
    notched and folded; mouth: of the notch across the cut face, mm."""

    start: float
    angle: float
    clock: float
    radius: float
    mouth: float


@dataclass(frozen=True)
class Piece:
    """A tube to cut. tubes: the tubes of the frame it is made of, in line; lengths in mm, mass in kg.

    centre: joint to joint. shoulder: between the deepest points of both cuts. tip: over the longest points, what
    comes off the bar. clock: how far the second end's mark is turned from the first's, clockwise looking from
    the first end to the second (rad), None when an
    end is square and has no mark. axes: piece axes at its first end, x along it. stock: the section to buy, larger where it is cut down. For a bent
    piece all lengths are along its centreline, straightened out.
    """

    id: str
    tubes: tuple[str, ...]
    section: Section
    material: str
    role: str
    centre: float
    shoulder: float
    tip: float
    mass: float
    clock: float | None
    axes: Floats
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
    """All pieces, in the order of their first tubes, and the sum of tip-to-tip lengths by section (mm)."""

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
        by_section[p.stock.name] = by_section.get(p.stock.name, 0.0) + p.tip
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
        self.per_mm = {
            (s, m): self.shapes[s].shape.properties(job.material(m).poisson).area * job.material(m).density * 1e-9
            for s, m in {(t.section, t.material) for t in job.tubes}
        }

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
            if not plan.continues or tube.id not in plan.runs:
                return found
            tube = self.job.tube_by_id[plan.runs[0] if plan.runs[1] == tube.id else plan.runs[1]]
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
        first = self.end(chain[0][0], chain[0][1], at_first, 1.0, axes, section.shape)
        second = self.end(chain[-1][0], chain[-1][2], at_second, -1.0, last_axes, section.shape)
        folds = [_folds(route, tube, section) for route, (tube, _, _) in zip(routes, chain, strict=True)]
        centre = sum(route.length for route in routes) + sum(fold.gain for each in folds for fold in each)
        lost = sum((e.profile.outer + e.profile.inner) / 2 for e in (first, second))  # the wall's middle
        marked = first.kind != "square" and second.kind != "square"
        stock = self.shapes[head.cut_from] if head.cut_from else section
        return Piece(
            id=tubes[0], tubes=tubes, section=section, stock=stock, material=head.material, role=head.role, centre=centre,
            shoulder=centre - first.profile.shoulder - second.profile.shoulder,
            tip=centre - first.profile.tip - second.profile.tip,
            mass=self.per_mm[head.section, head.material] * float(centre - np.mean(lost)),
            clock=(second.profile.mark - first.profile.mark) % (2 * math.pi) if marked else None,
            axes=axes, first=first, second=second, bends=_marks(chain, routes, folds, first.profile.tip),
            notes=_shop_notes(chain, stock, centre),
        )  # fmt: skip

    def _carried(self, chain: list[tuple[Tube, str, str]]) -> tuple[Floats, Floats]:
        """Axes (3, 3) at both ends of a chain, x along it, the second's carried from the first's round every bend with no twist."""
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

    def end(self, tube: Tube, joint: str, at: Floats, way: float, axes: Floats, shape: AnySection) -> EndCut:
        """The cut of one end of a piece: square where it runs through, else to what the plan names."""
        plan = self.plans[joint]
        into = way * axes[0]
        if tube.id in plan.onto:
            return self._landing(tube, plan, at, way, axes, shape)
        if plan.mitred:
            other = plan.runs[0] if plan.runs[1] == tube.id else plan.runs[1]
            away = self._away(other, joint)
            normal = into - away
            normal = normal / np.linalg.norm(normal)
            profile = cope.end_profile(shape, axes, at, way, cope.Plane(at, normal))
            saw = math.acos(min(1.0, abs(float(normal @ into))))
            return EndCut(
                joint,
                "mitre",
                other,
                max(shape.size),
                math.acos(float(np.clip(into @ away, -1, 1))),
                saw,
                None,
                profile,
            )
        past = self._overhang(plan, joint, at, -into)
        profile = cope.end_profile(shape, axes, at, way, cope.Plane(at - past * into, into))
        note = (f"runs {past:.1f} mm past the joint to carry what lands on it",) if past > 0.05 else ()
        return EndCut(joint, "square", "", 0.0, math.pi / 2, 0.0, None, profile, note)

    def _away(self, tube: str, joint: str) -> Floats:
        t = self.job.tube_by_id[tube]
        return self.axes[tube, joint][0] * (1.0 if t.a == joint else -1.0)

    def receiver(self, tube: str, joint: str, at: Floats) -> cope.Receiver:
        """A tube as something to land on, passing through its joint at `at`, straight on where it is bent there."""
        return cope.receiver_of(self.shapes[self.job.tube_by_id[tube].section].shape, self.axes[tube, joint], at)

    def _axis_place(self, tube: str, joint: str) -> Floats:
        """Where the axis of a tube that runs through a joint is: at the joint, or as far beside it as its end lands."""
        t = self.job.tube_by_id[tube]
        return np.add(self.job.joint_by_id[joint].place, t.offset_a if t.a == joint else t.offset_b)

    def _landing(self, tube: Tube, plan: JointPlan, at: Floats, way: float, axes: Floats, shape: AnySection) -> EndCut:
        onto = plan.onto[tube.id]
        target = self.shapes[self.job.tube_by_id[onto].section].shape
        try:
            angle = cope.demand_crossing(axes[0], self.axes[onto, plan.joint][0])
        except Problem as problem:
            profile = cope.end_profile(shape, axes, at, way, cope.Plane(at, way * axes[0]))
            return EndCut(plan.joint, "square", onto, max(target.size), 0.0, 0.0, None, profile,
                          problem=f"{tube.id} onto {onto}: {problem}")  # fmt: skip
        profile = cope.end_profile(
            shape, axes, at, way, self.receiver(onto, plan.joint, self._axis_place(onto, plan.joint))
        )
        notes = []
        if profile.misses > 0.001:
            notes.append(f"wider than {onto}: {profile.misses:.0%} of the way round lands on nothing")
        if angle < SHALLOW:
            notes.append(f"only {math.degrees(angle):.0f}° to {onto}: hard to cut and to weld")
        if len(plan.onto) > 1:
            others = ", ".join(sorted(t for t in plan.onto if t != tube.id))
            notes.append(f"cut to {onto} only; trim where it meets {others}")
        round_on_round = target.kind == "round"
        return EndCut(
            plan.joint, "cope" if round_on_round else "flat", onto, max(target.size), angle, math.pi / 2 - angle,
            cope.nearest_saw(max(target.size)) if round_on_round else None, profile, tuple(notes),
        )  # fmt: skip

    def _overhang(self, plan: JointPlan, joint: str, at: Floats, outward: Floats) -> float:
        """How far the tube that runs through must pass the joint to carry every foot that lands on it."""
        reach = 0.0
        receiver = self.receiver(plan.runs[0], joint, at)
        for name in plan.onto:
            t = self.job.tube_by_id[name]
            if float(np.linalg.norm(np.cross(self.axes[name, joint][0], outward))) < math.sin(cope.PARALLEL):
                continue
            way = 1.0 if t.a == joint else -1.0
            reach = max(
                reach, cope.overhang(self.shapes[t.section].shape, self.axes[name, joint], at, way, receiver, outward)
            )
        return reach


@dataclass(frozen=True)
class _Fold:
    """What a notch takes. gain: how much longer the tube starts than its folded centreline, for it hinges at the inside of the outer wall; mouth: of the
    notch across the cut face; both mm, and 0 where the tube is bent."""

    gain: float
    mouth: float


def _folds(route: Route, tube: Tube, section: Section) -> list[_Fold]:
    """What each bend of a tube takes to notch, across the side of the section it is folded over."""
    if route.radius:
        return [_Fold(0.0, 0.0)] * len(route.bends)
    made = []
    for bend, facing in zip(route.bends, bend_facings(route, tube.roll), strict=True):
        deep, wall = depth(section.shape, *facing), section.shape.wall_mm
        half = math.tan(bend.angle / 2)
        made.append(_Fold(2 * (deep / 2 - wall) * half, 2 * (deep - wall) * half))
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
    head = chain[0][0]
    notes = []
    if head.cut_from:
        notes.append(
            f"cut down from {stock.name}: {2 * length / 1000:.2f} m of slitting and {2 * length / 1000:.2f} m of weld"
        )
    if head.taper:
        notes.append(f"tapers to {head.taper} at {head.b}")
    return tuple(notes)
