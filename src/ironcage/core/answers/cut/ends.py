"""What is done to each end of a piece: square where it runs through, else cut to what the joint's plan names and to
whatever else is in its way there and goes in before it; a tube and its mirror image that meet on the centreline are cut
to the plane between them."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from ironcage.core.answers.shared.fitted.pieces import SLOT_PLAY_MM
from ironcage.core.answers.shared.joint_plans import JointPlan, end_section
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import AnySection, Rect
from ironcage.core.calc.sections.contour import OutlineContour
from ironcage.core.calc.tubes import cope
from ironcage.core.calc.tubes.ends import EndMade, TubeEnd, cut_ends
from ironcage.core.calc.tubes.receivers import Plane, Prism, Receiver, Stub, facing
from ironcage.core.calc.tubes.sawcut import SawCut, saw_cut, side_left
from ironcage.core.job.geometry.flanges import feet, flanges, slots
from ironcage.core.job.values.fittings import FlattenedEnd, FootPlate
from ironcage.core.job.values.model import Job, Section, Tube
from ironcage.problem import Problem
from ironcage.units import said

SQUARE = math.radians(0.05)  # a mitre flatter than this is cut square, and a blade tilted less is not tilted
NOTCHER, MITRE_SAW = math.radians(55), math.radians(60)  # further from square, no notcher or mitre saw is turned
FLAT_MM = 0.05  # a cut that is no further off a plane is flat


@dataclass(frozen=True)
class EndCut:
    """One end of a piece.

    kind: cope (saddle on a round tube), flat (on a rectangular one's face), mitre or square. onto: the tube it lands
    on, or butts against where two in line are of different makes. angle: between the two tubes' axes (rad), π/2 for a
    square end. saw_angle: how far the saw is turned from square (rad). hole_saw: a common size (mm) or None. shape: of
    the tube at this end. trims: the other tubes that it is cut to as well. centre: where the other tube's axis passes
    this one's, from the square end of the bar, and offset: how far beside it, both mm. notes: what to know; by_hand:
    what to know besides where it is cut by hand; problem: why it can't be cut so.
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
    by_hand: tuple[str, ...] = ()
    problem: str = ""
    setting: SawCut | None = None

    @property
    def words(self) -> str:
        """The cut in shop words, as it is made by hand."""
        return self._and_trims(self._first_cut)

    @property
    def laser_words(self) -> str:
        """The cut in words where a tube laser makes it, which is told no settings of a saw."""
        turned = f"{math.degrees(self.saw_angle):.1f}°"
        if self.kind == "square":
            return self._and_trims(self._first_cut)
        if self.kind == "mitre":
            return self._and_trims(f"{turned} " + (f"mitred with {self.onto}" if self.onto else "to its foot plate"))
        return self._and_trims(f"{turned} from square, onto {self.onto}")

    def _and_trims(self, cut: str) -> str:
        return f"{cut}, then to {', '.join(self.trims)}" if self.trims else cut

    @property
    def how(self) -> str:
        """With which tool it is cut by hand, and why where it is not the usual one."""
        if self.problem or (self.kind == "square" and not self.trims):
            return "" if self.problem else "saw, square"
        if why := self._why_paper:
            return f"along the paper: {why}"
        return "hole saw in a notcher" if self.kind == "cope" else "mitre saw"

    @property
    def _why_paper(self) -> str:
        """Why an end is cut along its template; nothing where a saw does it."""
        lean = f"{math.degrees(self.saw_angle):.0f}°"
        coped, setting = self.kind == "cope", self.setting
        turned = max(setting.turn, setting.tilt) if setting else 0.0
        reasons = (
            (bool(self.trims), "it goes to several tubes"),
            (coped and self.hole_saw is None, "no common hole saw is so large"),
            (coped and self.saw_angle > NOTCHER, f"{lean} is too slanting for a hole saw"),
            (not coped and setting is None, "it goes round a corner"),
            (not coped and turned > MITRE_SAW, f"{lean} is more than a mitre saw turns"),
        )
        return next((why for holds, why in reasons if holds), "")

    @property
    def _first_cut(self) -> str:
        turned = f"{math.degrees(self.saw_angle):.1f}°"
        if self.setting and self.setting.tilt > SQUARE:
            turn, tilt = math.degrees(self.setting.turn), math.degrees(self.setting.tilt)
            turned = f"{turn:.1f}° and tilted {tilt:.1f}°, on its side of {said.sizes(self.setting.rests)},"
        if self.kind == "square":
            return f"square, against {self.onto}" if self.onto else "square"
        if self.kind == "mitre":
            return f"mitre {turned} with {self.onto}" if self.onto else f"saw {turned} to its foot plate"
        if self.kind == "flat":
            return f"saw {turned} onto {self.onto}"
        saw = (
            f"hole saw {said.sizes(self.hole_saw)}"
            if self.hole_saw
            else f"no common hole saw for {said.sizes(self.onto_size)}"
        )
        return f"{saw}, {turned} from square, onto {self.onto}"


@dataclass(frozen=True)
class AskedEnd:
    """An end before it is worked out. kind to offset, notes and problem: as of `EndCut`; end: to be cut; others: the
    tubes of its `others`; past: where the other tube's axis passes this one's, from the joint, mm; face: the flat side
    that it lands on; slot: what is slotted into it, in words."""

    joint: str
    kind: Literal["cope", "flat", "mitre", "square"]
    end: TubeEnd
    onto: str = ""
    onto_size: float = 0.0
    angle: float = math.pi / 2
    saw_angle: float = 0.0
    others: tuple[str, ...] = ()
    flat: tuple[str, ...] = ()
    past: float = 0.0
    offset: float = 0.0
    notes: tuple[str, ...] = ()
    problem: str = ""
    setting: SawCut | None = None
    face: Plane | None = None
    slot: str = ""

    def alike(self, other: AskedEnd) -> bool:
        """Whether another end comes to the same cut: all that it is made of is equal."""
        return _alike(self, other)

    def cut(self, made: EndMade) -> EndCut:
        """The end as it is cut."""
        trims = tuple(name for name, cut_to in zip(self.others, made.trims, strict=True) if cut_to)
        landed, profile = self.kind in ("cope", "flat"), made.profile
        notes = [*self.notes, *((self.slot,) if self.slot else ())]
        if landed:
            notes += cope.cautions(self.angle, profile.misses, self.onto)
        setting, by_hand = self.setting, []
        if self.face and self._off(self.face, profile) > FLAT_MM:
            setting = None
            by_hand.append(f"goes round a corner of {self.onto}: cut along the paper")
        if trims:
            by_hand.append(f"cut along the paper: a saw set to {self.onto} leaves it in the way of {', '.join(trims)}")
        if self.flat:
            notes.append(f"lies along {', '.join(self.flat)} for so long that no cut parts them")
        return EndCut(
            self.joint,
            self.kind,
            self.onto,
            self.onto_size,
            self.angle,
            self.saw_angle,
            cope.nearest_saw(self.onto_size) if self.kind == "cope" else None,
            self.end.section,
            profile,
            trims,
            self.past - profile.bar if landed else 0.0,
            self.offset,
            tuple(notes),
            tuple(by_hand),
            self.problem,
            setting,
        )

    def _off(self, face: Plane, profile: cope.Profile) -> float:
        """How far the outer wall is cut off the plane of a face, mm."""
        end = self.end
        points = end.joint + end.section.contour.lines(cope.LINES)[1] @ end.axes[1:]
        flat, _ = facing(face, end.way * end.axes[0])(points)
        return float(np.abs(profile.outer - flat).max())


def _alike(one: Any, other: Any) -> bool:
    """Whether two values are equal: arrays in every figure, outlines where they are the same object."""
    if one is other:
        return True
    kind = type(one)
    if kind is not type(other) or kind is OutlineContour:
        return False
    if kind is np.ndarray:
        return bool(one.tobytes() == other.tobytes())
    if kind is tuple:
        return len(one) == len(other) and all(map(_alike, one, other))
    if kind in _COMPARED:
        return all(map(_alike, vars(one).values(), vars(other).values()))
    return bool(one == other)


_COMPARED = (AskedEnd, TubeEnd, Prism, Stub, Plane)


def cut_all(asked: Sequence[AskedEnd]) -> list[EndCut]:
    """Work many ends out at once."""
    return [end.cut(made) for end, made in zip(asked, cut_ends([a.end for a in asked]), strict=True)]


class Joints:
    """What is looked up at the joints of one job while its ends are asked for. axes: by tube and joint, as `end_axes`
    gives them."""

    def __init__(
        self,
        job: Job,
        axes: Mapping[tuple[str, str], Floats],
        plans: Mapping[str, JointPlan],
        shapes: Mapping[str, Section],
    ) -> None:
        self.job, self.axes, self.plans, self._shapes = job, axes, plans, shapes
        self.flanges, self.slots, self.feet = flanges(job), slots(job), feet(job)
        self.root = job.cutting.root  # the gap left for the weld, mm
        self._stubs: dict[tuple[str, str], Stub] = {}

    def shape(self, tube: Tube, joint: str) -> AnySection:
        """The section of a tube at one of its joints."""
        return self._shapes[end_section(tube, joint)].shape

    def away(self, tube: str, joint: str) -> Floats:
        """The direction (3,) of a tube away from one of its joints."""
        axis = self.axes[tube, joint][0]
        return axis if self.job.tube_by_id[tube].a == joint else -axis

    def ask(self, tube: Tube, joint: str, at: Floats, way: float, axes: Floats) -> AskedEnd:
        """The end of a piece at a joint, where its centreline ends at a place (3,): square where it runs through, else
        to what the plan names. way, axes: as of `TubeEnd`."""
        asked = self._asked(tube, joint, at, way, axes)
        if slot := self.slots.get((tube.id, joint)):
            wide = said.size(slot.thickness + SLOT_PLAY_MM)
            return replace(
                asked, slot=f"slotted {wide} wide and {said.size(slot.depth)} deep, on both sides, for a plate"
            )
        return asked

    def _asked(self, tube: Tube, joint: str, at: Floats, way: float, axes: Floats) -> AskedEnd:
        plan, shape = self.plans[joint], self.shape(tube, joint)
        if tube.id in plan.bolted:
            return self._at_flange(tube, plan, at, way, axes, shape)
        if foot := self.feet.get((tube.id, joint)):
            return self._on_foot(foot, joint, at, way, axes, shape)
        if tube.id in plan.receiver_of:
            return self._landing(tube, plan, at, way, axes, shape)
        into = way * axes[0]
        if plan.mitred:
            other = plan.through[0] if plan.through[1] == tube.id else plan.through[1]
            away = self.away(other, joint)
            normal = into - away
            normal = normal / np.linalg.norm(normal)
            setting = saw_cut(shape, axes, normal)
            saw = setting.square
            between_them = math.acos(float(np.clip(into @ away, -1, 1)))
            end = TubeEnd(shape, axes, at, way, Plane(at + self.root / 2 * normal, normal))
            if saw < SQUARE:
                return AskedEnd(joint, "square", end, other, max(shape.size), between_them)
            return AskedEnd(joint, "mitre", end, other, max(shape.size), between_them, saw, setting=setting)
        past = self._overhang(plan, joint, at, -into)
        note = (f"runs {said.length(past)} past the joint to carry what lands on it",) if past > 0.05 else ()
        return AskedEnd(joint, "square", TubeEnd(shape, axes, at, way, Plane(at - past * into, into)), notes=note)

    def _on_foot(
        self, foot: FootPlate, joint: str, at: Floats, way: float, axes: Floats, shape: AnySection
    ) -> AskedEnd:
        """An end that stands on its foot plate, whose upper side is at the joint."""
        into = way * axes[0]
        normal = into if foot.lies == "square" else np.array([0.0, 0.0, math.copysign(1.0, into[2])])
        told = (f"stands on its foot plate {foot.id}",)
        end = TubeEnd(shape, axes, at, way, Plane(at + self.root * normal, normal))
        if abs(float(normal @ into)) < math.sin(cope.PARALLEL):
            why = f"{foot.tube} lies along its level foot plate {foot.id}: let it lie square"
            return AskedEnd(joint, "square", TubeEnd(shape, axes, at, way, Plane(at, into)), problem=why)
        setting = saw_cut(shape, axes, normal)
        if setting.square < SQUARE:
            return AskedEnd(joint, "square", end, notes=told)
        return AskedEnd(joint, "mitre", end, "", max(shape.size), saw_angle=setting.square, notes=told, setting=setting)

    def _at_flange(
        self, tube: Tube, plan: JointPlan, at: Floats, way: float, axes: Floats, shape: AnySection
    ) -> AskedEnd:
        """The square end of a tube that is bolted on. One that is pressed flat goes past its joint; one with a flange
        ends so far short of it that both plates find room, square to this tube and clear of what they are bolted to."""
        flange, into = self.flanges[tube.id, plan.joint], way * axes[0]
        if isinstance(flange, FlattenedEnd):
            told = f"pressed flat over {said.size(flange.length)}, a hole of {said.size(flange.hole)} at the joint"
            end = TubeEnd(shape, axes, at, way, Plane(at - flange.past * into, into))
            return AskedEnd(plan.joint, "square", end, notes=(told,))
        back = flange.thickness
        if onto := plan.receiver_of.get(tube.id):
            frame = self.axes[onto, plan.joint]
            lean = float(frame[0] @ into)
            square = math.sqrt(max(1 - lean**2, 0.0))
            if square < math.sin(cope.PARALLEL):  # in line: the other one has its own plate, or carries the second
                back *= 1 if onto in plan.bolted else 2
            else:
                aside = (into - lean * frame[0]) / square
                reach = self.shape(self.job.tube_by_id[onto], plan.joint).reach(
                    float(aside @ frame[1]), float(aside @ frame[2])
                )
                along = (frame[0] - lean * into) / square  # the receiver, as it runs across the plate
                half = abs(float(along @ axes[1])) * flange.width / 2 + abs(float(along @ axes[2])) * flange.height / 2
                back = 2 * flange.thickness + reach / square + half * abs(lean) / square
        told = f"ends {said.length(back)} short of the joint, at its flange, which is bolted on"
        end = TubeEnd(shape, axes, at, way, Plane(at + back * into, into))
        return AskedEnd(plan.joint, "square", end, notes=(told,))

    def _stub(self, tube: str, joint: str) -> Stub:
        """A tube as something to land on that begins at its joint; kept, for most ends there meet it."""
        if (tube, joint) not in self._stubs:
            start = self._axis_place(tube, joint)
            self._stubs[tube, joint] = Stub(self._receiver(tube, joint, start), start, self.away(tube, joint))
        return self._stubs[tube, joint]

    def _receiver(self, tube: str, joint: str, at: Floats) -> Prism:
        """A tube as something to land on, passing through its joint at `at`, straight on where it is bent there."""
        shape = self.shape(self.job.tube_by_id[tube], joint)
        return Prism(at, self.axes[tube, joint], (shape.grown(self.root) if self.root else shape).contour)

    def _axis_place(self, tube: str, joint: str) -> Floats:
        """Where the axis of a tube that runs through a joint is: at the joint, or as far beside it as its end lands."""
        t = self.job.tube_by_id[tube]
        return np.add(self.job.joint_by_id[joint].place, t.offset_a if t.a == joint else t.offset_b)

    def _landing(
        self, tube: Tube, plan: JointPlan, at: Floats, way: float, axes: Floats, shape: AnySection
    ) -> AskedEnd:
        onto = plan.receiver_of[tube.id]
        target = self.shape(self.job.tube_by_id[onto], plan.joint)
        try:
            angle = cope.demand_crossing(axes[0], self.axes[onto, plan.joint][0])
        except Problem as problem:
            square = TubeEnd(shape, axes, at, way, Plane(at, way * axes[0]))
            told = f"{tube.id} onto {onto}: {problem.sentence}"
            return AskedEnd(plan.joint, "square", square, onto, max(target.size), 0.0, problem=told)
        whole = self._stub(onto, plan.joint).whole
        place = whole.point
        others, flat = self._others(tube, plan, at, way, axes)
        into, frame = way * axes[0], self.axes[onto, plan.joint]
        past, offset = _passing(at, into, place, frame[0])
        setting = face = None
        if isinstance(target, Rect):
            normal, off = side_left(target.size, frame, into)
            setting, face = saw_cut(shape, axes, normal), Plane(place + (off + self.root) * normal, normal)
        return AskedEnd(
            plan.joint,
            "cope" if target.is_round else "flat",
            TubeEnd(shape, axes, at, way, whole, tuple(others.values())),
            onto,
            max(target.size),
            angle,
            setting.square if setting else math.pi / 2 - angle,
            tuple(others),
            tuple(flat),
            past,
            offset,
            setting=setting,
            face=face,
        )

    def _others(
        self, tube: Tube, plan: JointPlan, at: Floats, way: float, axes: Floats
    ) -> tuple[dict[str, Receiver], list[str]]:
        """What else an end meets at a joint, by tube, and the tubes that are too flat to it for a cut."""
        met: dict[str, Receiver] = {}
        flat = []
        onto, mirror = plan.receiver_of[tube.id], self._mirror(tube, plan)
        before = plan.order[: plan.order.index(tube.id)]
        for name in (*plan.through, *before):
            if name in (onto, mirror, *plan.bolted) or (plan.continues and name in plan.through):
                continue
            stub = self._stub(name, plan.joint)
            along = way * float(axes[0] @ stub.away)
            if abs(along) > math.cos(cope.PARALLEL):
                flat += [name] if along > 0 else []  # else they leave the joint on either side of it
                continue
            met[name] = stub
        if mirror:
            between = np.array([0.0, 1.0 if (way * axes[0])[1] > 0 else -1.0, 0.0])
            met[mirror] = Plane(np.array([at[0], self.root / 2 * between[1], at[2]]), between)
        return met, flat

    def _mirror(self, tube: Tube, plan: JointPlan) -> str:
        """The tube's mirror image, where both land on a joint of the centreline from either side of it."""
        twin = self.job.twin_tube(tube)
        if twin is None or twin.id == tube.id or self.job.joint_by_id[plan.joint].twin != plan.joint:
            return ""
        return twin.id if twin.id in plan.order else ""

    def _overhang(self, plan: JointPlan, joint: str, at: Floats, outward: Floats) -> float:
        """How far the tube that runs through must pass the joint to carry every foot that lands on it."""
        feet = []
        for name in plan.receiver_of:
            if name in plan.bolted:
                continue
            t, axes = self.job.tube_by_id[name], self.axes[name, joint]
            if abs(float(axes[0] @ outward)) > math.cos(cope.PARALLEL):
                continue
            way = 1.0 if t.a == joint else -1.0
            feet.append(cope.Foot(self.shape(t, joint), axes, way))
        return cope.overhang(feet, at, self._receiver(plan.through[0], joint, at), outward)


def _passing(at: Floats, into: Floats, place: Floats, along: Floats) -> tuple[float, float]:
    """Where another axis passes the axis of a tube end nearest: how far from the end's joint into the tube, and how far
    beside it, mm. into, along: unit vectors that are not parallel."""
    apart, lean = place - at, float(along @ into)
    square = along - lean * into  # what of the other axis runs across this one
    share = float(apart @ square) / float(square @ square)
    inward = float(apart @ into)
    aside = apart - inward * into - share * square
    return inward - share * lean, math.sqrt(float(aside @ aside))
