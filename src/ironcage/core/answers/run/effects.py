"""What moving each point that wheels hang on by a millimetre does to what they do."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, fields, is_dataclass, replace
from typing import Any

import numpy as np

from ironcage.core.answers.run import beam, carrier, fork, liveaxle, swing
from ironcage.core.answers.run.beam import BeamStill
from ironcage.core.answers.run.carrier import CarrierStill
from ironcage.core.answers.run.corner import MIRROR, Floats, Still, corner_of
from ironcage.core.answers.run.fork import ForkStill
from ironcage.core.answers.run.liveaxle import LinkedStill
from ironcage.core.answers.run.swing import SwingStill, is_carrier
from ironcage.core.calc.linkage.axle import LiveAxle
from ironcage.core.calc.linkage.wishbone import DoubleWishbone, curves, poses
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import AxleCarrier, KingpinBeam, LinkedAxle, Wishbones

STEP_MM = 0.5  # to either side, by which a point is moved to see what that does
AnyStill = Still | LinkedStill | BeamStill | SwingStill | ForkStill | CarrierStill
Told = Callable[[Floats], Any]  # what is told where a point is moved by (3,), mm
_ARMS = (("lower", "lower arm"), ("upper", "upper arm"))
_ONES = (
    ("lower_out", "lower ball joint"),
    ("upper_out", "upper ball joint"),
    ("tie_in", "tie rod, inner"),
    ("tie_out", "tie rod, outer"),
    ("spring_in", "coil-over, top"),
    ("spring_out", "coil-over, foot"),
)
BEAM_POINTS = (
    ("lower", "kingpin, lower end"),
    ("upper", "kingpin, upper end"),
    ("arm", "steering arm's end"),
    ("rod", "tie rod, inner"),
    ("drag", "drag link, outer"),
    ("pivot", "drop arm's pivot"),
    ("column", "up the column"),
)


@dataclass(frozen=True)
class CornerPoint:
    """A point of a corner on wishbones. words: what it is called; joint: the joint of the frame that it is, if any;
    name, row: of `DoubleWishbone`, row None where that is one place."""

    words: str
    joint: str
    name: str
    row: int | None = None

    def moved(self, corner: DoubleWishbone, by: Floats) -> DoubleWishbone:
        """A corner with this point moved by (3,), mm."""
        places = getattr(corner, self.name).copy()
        places[() if self.row is None else self.row] += by
        return replace(corner, **{self.name: places})


def points_of(hung: Wishbones) -> tuple[CornerPoint, ...]:
    """The points of a corner, those on the frame first."""
    arms = tuple(
        CornerPoint(f"{words}, {end}", joint, name, n)
        for name, words in _ARMS
        for n, (end, joint) in enumerate(zip(("front", "rear"), getattr(hung, name), strict=True))
    )
    ones = (CornerPoint(words, hung.spring if name == "spring_in" else "", name) for name, words in _ONES)
    return (*arms, *ones)


@dataclass(frozen=True, eq=False)
class PointEffect:
    """A point of the left side, the joint of the frame that it is, if any, and how each figure changes for a millimetre
    of it forward, to the left and up, its mirror image moving with it: what is told of its kind, each (3,), per mm."""

    point: str
    joint: str
    per_mm: Any


def effects_at(job: Job, still: AnyStill) -> tuple[PointEffect, ...]:
    """What each point does where an end stands; of one whose links do not reach, nothing."""
    if not still.found.closed[0, 0]:
        return ()
    match still:
        case LinkedStill():
            told = _of_axle(job, still)
        case BeamStill():
            told = _of_beam(job, still)
        case SwingStill():
            told = _of_arms(job, still)
        case ForkStill():
            told = _of_fork(job, still)
        case CarrierStill():
            told = _of_carrier(job, still)
        case _:
            told = _of_corner(job, still)
    return tuple(PointEffect(words, joint, _per_mm(told_of)) for words, joint, told_of in told)


def _per_mm(told_of: Told) -> Any:
    """How each figure changes for a millimetre of a point along x, y and z, each (3,)."""
    pairs = [tuple(told_of(step * way) for step in (STEP_MM, -STEP_MM)) for way in np.eye(3)]
    return _slopes(pairs)


def _slopes(pairs: list[tuple[Any, ...]]) -> Any:
    """What is told, as the slopes (3,) of pairs of it, whatever holds what within it."""
    first = pairs[0][0]
    made = {}
    for field in fields(first):
        each = [tuple(getattr(told, field.name) for told in pair) for pair in pairs]
        if is_dataclass(each[0][0]):
            made[field.name] = _slopes(each)
        else:
            made[field.name] = np.array([(one - other)[0, 0] / (2 * STEP_MM) for one, other in each])
    return type(first)(**made)


def _of_corner(job: Job, still: Still) -> Iterator[tuple[str, str, Told]]:
    corner, travel, rack = corner_of(job, still.run.hung), np.array([still.travel]), np.array([still.rack])

    def told_of(point: CornerPoint) -> Told:
        def told(by: Floats) -> Any:
            moved = point.moved(corner, by)
            # a coil-over's ends move nothing but what is told of it
            sprung = point.name.startswith("spring")
            stands = replace(still.found, corner=moved) if sprung else poses(moved, travel, rack)
            return curves(stands, still.run.lever)

        return told

    for point in points_of(still.run.hung):
        yield point.words, point.joint, told_of(point)


def _of_axle(job: Job, still: LinkedStill) -> Iterator[tuple[str, str, Told]]:
    run, hung = still.run, still.run.hung
    travel, roll = np.array([still.travel]), np.array([still.rack])

    def linked(ends: str, rows: list[int]) -> Told:
        def told(by: Floats) -> Any:
            places = getattr(run.axle, ends).copy()
            for row in rows:
                places[row] += by * (MIRROR if run.links[row].side == "right" else 1.0)
            moved: LiveAxle = replace(run.axle, **{ends: places})
            return liveaxle.stand(job, hung, moved, travel, roll, run.lift)[1]

        return told

    def told_with(moved: Job, changed: LinkedAxle) -> Any:
        return liveaxle.stand(moved, changed, liveaxle.axle_of(moved, changed), travel, roll, run.lift)[1]

    made = [link for link in run.links if link.made]
    ends = [("inner", link.frame, link.joint) for link in made] + [("outer", link.axle, "") for link in made]
    told_of: dict[str, tuple[str, str]] = {}
    for end, words, joint in ends:
        told_of.setdefault(words, (end, joint))
    for words, (end, joint) in told_of.items():
        rows = [n for n, link in enumerate(run.links) if words in (link.frame, link.axle)]
        yield words, joint, linked(end, rows)
    if hung.eye and hung.shackle and hung.seat:
        for words, name in hung.named_joints:
            if words.startswith("leaf"):
                yield words, name, _with_joint(job, hung, name, told_with)
        yield "leaf, seat", "", _with_end(job, hung, "seat", told_with)
    if hung.spring and hung.spring_out:
        yield from _of_spring(
            job,
            hung,
            lambda moved, changed: liveaxle.stand(moved, changed, run.axle, travel, roll, run.lift)[1],
        )


def _of_arms(job: Job, still: SwingStill) -> Iterator[tuple[str, str, Told]]:
    run, hung, travel = still.run, still.run.hung, np.array([still.travel])
    carrier = is_carrier(job, hung)

    def hinged(row: int) -> Told:
        def told(by: Floats) -> Any:
            hinge = run.arm.hinge.copy()
            hinge[row] += by
            if carrier:
                hinge[1 - row] += by * MIRROR
            return swing.stand(job, hung, replace(run.arm, hinge=hinge), travel)[1]

        return told

    if carrier:
        yield "carrier's axis", hung.first, hinged(0)
    else:
        yield "axis, one end", hung.first, hinged(0)
        yield "axis, other end", hung.second, hinged(1)
    if hung.spring and hung.spring_out:
        yield from _of_spring(job, hung, lambda moved, changed: swing.stand(moved, changed, run.arm, travel)[1])


def _of_fork(job: Job, still: ForkStill) -> Iterator[tuple[str, str, Told]]:
    travel, turn, hung = np.array([still.travel]), np.array([still.rack]), still.run.hung

    def moved(name: str) -> Told:
        def told(by: Floats) -> Any:
            whole = still.run.fork
            return fork.stand(job, replace(whole, **{name: getattr(whole, name) + by}), travel, turn)[1]

        return told

    yield "head, upper bearing", hung.top, moved("top")
    yield "head, lower bearing", hung.low, moved("low")
    yield "axle in the fork", "", moved("wheel")


def _of_carrier(job: Job, still: CarrierStill) -> Iterator[tuple[str, str, Told]]:
    hung, set_by = still.run.hung, np.array([still.travel])

    def told_with(moved: Job, changed: AxleCarrier) -> Any:
        return carrier.stand(moved, changed, carrier.way_of(moved, changed), set_by)[1]

    if hung.pivot:
        yield "carrier's pivot", hung.pivot, _with_joint(job, hung, hung.pivot, told_with)
    if hung.stay and hung.stay in job.joint_by_id:
        yield "adjuster, frame", hung.stay, _with_joint(job, hung, hung.stay, told_with)
        yield "adjuster, carrier", "", _with_end(job, hung, "stay_out", told_with)


def _of_spring(job: Job, hung: Any, told_with: Callable[[Job, Any], Any]) -> Iterator[tuple[str, str, Told]]:
    """The ends of a coil-over, told with the job or with what it hangs on changed."""
    top = job.joint_by_id.get(hung.spring)
    if top is None:
        return
    yield "coil-over, top", top.id, _with_joint(job, hung, top.id, told_with)
    yield "coil-over, foot", "", _with_end(job, hung, "spring_out", told_with)


def _with_joint(job: Job, hung: Any, name: str, told_with: Callable[[Job, Any], Any]) -> Told:
    """What is told with a joint moved."""
    return lambda by: told_with(edits.move(job, [name], *(float(v) for v in by)), hung)


def _with_end(job: Job, hung: Any, name: str, told_with: Callable[[Job, Any], Any]) -> Told:
    """What is told with a place of what an end hangs on moved."""

    def told(by: Floats) -> Any:
        x, y, z = (float(v) for v in np.array(getattr(hung, name)) + by)
        return told_with(job, hung.but(**{name: (x, y, z)}))

    return told


def _of_beam(job: Job, still: BeamStill) -> Iterator[tuple[str, str, Told]]:
    hung, travel, ways = still.run.hung, np.array([still.travel]), np.array([still.rack])

    def told_with(moved: Job, changed: KingpinBeam) -> Any:
        return beam.stand(moved, changed, beam.stub_of(moved, changed), still.run.base, travel, ways)[1]

    for name, words in BEAM_POINTS:
        if getattr(hung, name) is not None:
            yield words, "", _with_end(job, hung, name, told_with)
    for words, joint in hung.on.named_joints if hung.on else ():
        yield words, joint, _with_joint(job, hung, joint, told_with)
