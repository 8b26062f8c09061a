"""What holds a live axle to the frame, as links: rods, the legs of ladder bars, the drop link of a torque arm, and the
links that move as the seats of leaf springs do."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.car.leaf import Leaf
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import LinkedAxle
from ironcage.problem import Problem

MIRROR = np.array([1.0, -1.0, 1.0])
SIDES = (("left", np.ones(3)), ("right", MIRROR))
BESIDE_MM = 1e6  # how far away the link starts by which leaf springs hold an axle sideways: it moves straight up
OVER_MM = 100.0  # between both links that a seat swings by, one above it and one below


@dataclass(frozen=True, eq=False)
class AxleLink:
    """A link of an axle at ride height. frame, axle: what its ends are called, of both sides alike; joint: that it is
    hung at; inner, outer (3,): its ends, mm; side: which, empty of one in the middle. All words are empty where it
    stands for what a leaf spring holds."""

    name: str
    frame: str
    axle: str
    joint: str
    inner: Floats
    outer: Floats
    side: str = ""

    @property
    def made(self) -> bool:
        """Whether it is a link that is made."""
        return bool(self.name)


def axle_links(job: Job, hung: LinkedAxle) -> tuple[AxleLink, ...]:
    """All links of an axle. Raises Problem where a joint has gone, or has no twin."""
    return tuple(_links(job, hung))


def _links(job: Job, hung: LinkedAxle) -> Iterator[AxleLink]:
    ladder = hung.ladder
    for words, joint, out in (("lower", hung.lower, hung.lower_out), ("upper", hung.upper, hung.upper_out)):
        if not joint or not out:
            continue
        for side, mirror in SIDES:
            called = f"{side} ladder bar’s {words} leg" if ladder else f"{words} {side} link"
            frame = "ladder bar, frame" if ladder else f"{words} link, frame"
            axle = f"ladder bar’s {words} leg" if ladder else f"{words} link, axle"
            inner = place(job, joint) if side == "left" else twin(job, joint)
            yield AxleLink(called, frame, axle, _on(job, joint, side), inner, np.array(out) * mirror, side)
    if hung.torque and hung.torque_out:
        ends = place(job, hung.torque), np.array(hung.torque_out)
        yield AxleLink("torque arm’s drop link", "drop link, frame", "torque arm’s front", hung.torque, *ends)
    if leaves := axle_leaves(job, hung):
        yield from leaves.links(sideways=not hung.rod)
    if hung.rod and hung.rod_out:
        ends = place(job, hung.rod), np.array(hung.rod_out)
        yield AxleLink("track rod", "track rod, frame", "track rod, axle", hung.rod, *ends)


def place(job: Job, name: str) -> Floats:
    """Where a joint that something is hung at is (3,). Raises Problem where it has gone."""
    joint = job.joint_by_id.get(name)
    if joint is None:
        raise Problem(f"A link is hung at {name}, which has gone.", where=name, hint="Hang it again: type axle.")
    return np.array(joint.place)


def twin(job: Job, name: str) -> Floats:
    """Where the twin of a joint is (3,). Raises Problem where it has none."""
    place(job, name)
    found = job.joint_by_id.get(job.joint_by_id[name].twin or "")
    if found is None:
        raise Problem(f"{name} has no twin for the right link.", where=name, hint="Pair it, or type: mirror")
    return np.array(found.place)


def _on(job: Job, name: str, side: str) -> str:
    place(job, name)
    return name if side == "left" else job.joint_by_id[name].twin or ""


@dataclass(frozen=True, eq=False)
class AxleLeaves:
    """The left leaf spring of an axle at ride height, mm. eye, shackle: the joints of its fixed eye and of the top of
    its shackle; front, rear, seat (3,): where its fixed eye, its eye on the shackle and its seat are; hanger (3,): the
    top of the shackle; ahead: which way along the car the fixed eye lies, 1 forwards."""

    eye: str
    shackle: str
    front: Floats
    rear: Floats
    hanger: Floats
    seat: Floats
    ahead: float
    leaf: Leaf

    def links(self, *, sideways: bool) -> Iterator[AxleLink]:
        """Two links on either side that a seat swings by as the spring lets it: its way back, and its tilt; and one
        that holds the axle sideways, at the height of the line from eye to shackle at its seat."""
        leaf, seat = self.leaf, self.seat
        for side, mirror in SIDES:
            for over in (-OVER_MM / 2, OVER_MM / 2):
                outer = seat + np.array([0.0, 0.0, over])
                rises = leaf.arch / leaf.swing - over * leaf.nose  # of the link, for each mm that it goes ahead
                way = np.array([self.ahead, 0.0, rises]) / math.hypot(1.0, rises)
                length = leaf.swing * math.hypot(1.0, rises) ** 3  # so that both curve alike as they rise
                yield AxleLink("", "", "", "", (outer + length * way) * mirror, outer * mirror, side)
        if sideways:
            share = (seat[0] - self.front[0]) / (self.hanger[0] - self.front[0])
            middle = np.array([seat[0], 0.0, self.front[2] + share * (self.hanger[2] - self.front[2])])
            yield AxleLink("", "", "", "", middle + np.array([0.0, BESIDE_MM, 0.0]), middle)


def axle_leaves(job: Job, hung: LinkedAxle) -> AxleLeaves | None:
    """The leaf springs that an axle hangs on; None where it hangs on links. Raises Problem where a joint has gone or
    has no twin, or the seat does not lie between its eyes."""
    if not hung.eye or not hung.shackle or not hung.seat:
        return None
    held, seat = hung.leaf, np.array(hung.seat)
    front, hanger = place(job, hung.eye), place(job, hung.shackle)
    for name in (hung.eye, hung.shackle):
        twin(job, name)
    ahead = 1.0 if front[0] >= hanger[0] else -1.0
    rear = hanger - held.shackle * np.array([ahead * math.sin(held.lean), 0.0, math.cos(held.lean)])
    one, other = (typed or math.hypot(*(eye - seat)[::2]) for typed, eye in ((held.front, front), (held.rear, rear)))
    arch = float(front[2] - seat[2])
    if not (front[0] - seat[0]) * ahead > 0 > (rear[0] - seat[0]) * ahead or min(one, other) <= abs(arch):
        raise Problem(
            f"The {hung.axle} leaf springs’ seats do not lie between their eyes.",
            where="seat",
            hint=f"Set the seat, or hang them again: axle {hung.axle} leaf eyes {hung.eye} {hung.shackle}",
        )
    leaf = Leaf(one, other, held.wide, held.thick, held.stepped, held.full, arch, held.shackle, held.lean)
    return AxleLeaves(hung.eye, hung.shackle, front, rear, hanger, seat, ahead, leaf)
