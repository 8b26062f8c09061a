"""Cut: every piece to be cut, its lengths, and what is done to both ends.

Straight runs of tube through a joint that the plan lets run are one piece. Ends are cut to one receiver, the
one the joint's plan names; where more tubes crowd a joint the answer says so.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ironcage.core.answers.cache import remembered
from ironcage.core.answers.lands import JointPlan, plans, tube_axes
from ironcage.core.calc import cope
from ironcage.core.calc.beams import Floats
from ironcage.core.calc.sections import AnySection
from ironcage.core.job.model import Job, Section, Tube
from ironcage.problem import Problem

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
class Piece:
    """A tube to cut. tubes: the tubes of the frame it is made of, in line; lengths in mm, mass in kg.

    centre: joint to joint. shoulder: between the deepest points of both cuts. tip: over the longest points, what
    comes off the bar. clock: how far the second end's mark is turned from the first's, clockwise looking from
    the first end to the second (rad), None when an
    end is square and has no mark. axes: piece axes, x from first to second end.
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
        by_section[p.section.name] = by_section.get(p.section.name, 0.0) + p.tip
    return CutAnswer(pieces, by_section)


class _Shop:
    """What is looked up again and again while the pieces of one job are worked out."""

    def __init__(self, job: Job) -> None:
        self.job = job
        for t in job.tubes:
            if math.dist(job.joint_by_id[t.a].place, job.joint_by_id[t.b].place) < 1e-3:
                raise Problem(f"{t.id} has no length.", where=t.id, hint="Move or merge one of its joints.")
        self.axes = tube_axes(job) if job.tubes else {}
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
            if tube.id in used:
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
            if tube.id == start:
                return found
            out = tube.b if tube.a == joint else tube.a
            found.append((tube, joint, out))
            joint = out

    def piece(self, chain: list[tuple[Tube, str, str]]) -> Piece:
        """Lengths and cuts of a chain of tubes in line."""
        tubes = tuple(t.id for t, _, _ in chain)
        head = chain[0][0]
        section = self.shapes[head.section]
        start = np.array(self.job.joint_by_id[chain[0][1]].place)
        stop = np.array(self.job.joint_by_id[chain[-1][2]].place)
        axes = self.axes[head.id]
        if head.a != chain[0][1]:
            axes = axes * np.array([[-1.0], [-1.0], [1.0]])
        first = self.end(chain[0][0], chain[0][1], start, 1.0, axes, section.shape)
        second = self.end(chain[-1][0], chain[-1][2], stop, -1.0, axes, section.shape)
        centre = float(np.linalg.norm(stop - start))
        lost = sum((e.profile.outer + e.profile.inner) / 2 for e in (first, second))  # the wall's middle
        marked = first.kind != "square" and second.kind != "square"
        return Piece(
            id=tubes[0], tubes=tubes, section=section, material=head.material, role=head.role, centre=centre,
            shoulder=centre - first.profile.shoulder - second.profile.shoulder,
            tip=centre - first.profile.tip - second.profile.tip,
            mass=self.per_mm[head.section, head.material] * float(centre - np.mean(lost)),
            clock=(second.profile.mark - first.profile.mark) % (2 * math.pi) if marked else None,
            axes=axes, first=first, second=second,
        )  # fmt: skip

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
        return self.axes[tube][0] * (1.0 if t.a == joint else -1.0)

    def receiver(self, tube: str, at: Floats) -> cope.Receiver:
        """A tube as something to land on, passing through the joint at `at`."""
        return cope.receiver_of(self.shapes[self.job.tube_by_id[tube].section].shape, self.axes[tube], at)

    def _landing(self, tube: Tube, plan: JointPlan, at: Floats, way: float, axes: Floats, shape: AnySection) -> EndCut:
        onto = plan.onto[tube.id]
        target = self.shapes[self.job.tube_by_id[onto].section].shape
        try:
            angle = cope.demand_crossing(axes[0], self.axes[onto][0])
        except Problem as problem:
            profile = cope.end_profile(shape, axes, at, way, cope.Plane(at, way * axes[0]))
            return EndCut(plan.joint, "square", onto, max(target.size), 0.0, 0.0, None, profile,
                          problem=f"{tube.id} onto {onto}: {problem}")  # fmt: skip
        profile = cope.end_profile(shape, axes, at, way, self.receiver(onto, at))
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
        receiver = self.receiver(plan.runs[0], at)
        for name in plan.onto:
            t = self.job.tube_by_id[name]
            if float(np.linalg.norm(np.cross(self.axes[name][0], outward))) < math.sin(cope.PARALLEL):
                continue
            way = 1.0 if t.a == joint else -1.0
            reach = max(reach, cope.overhang(self.shapes[t.section].shape, self.axes[name], at, way, receiver, outward))
        return reach
