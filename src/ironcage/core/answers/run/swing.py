"""Where wheels on swinging arms stand over travel, from the job's joints and wheels."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.corner import rocker_at
from ironcage.core.answers.run.drawn import DrawnLine
from ironcage.core.answers.run.grid import travels
from ironcage.core.answers.run.lever import WEIGHED, lift_share
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.linkage.rocker import Rocker
from ironcage.core.calc.linkage.swing import Floats, SwingArm, SwingPoses, swing_curves, swing_poses
from ironcage.core.calc.vectors import cross
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Chain
from ironcage.core.job.values.running import Axle, SwingingArms
from ironcage.problem import Problem

MIRROR = np.array([1.0, -1.0, 1.0])
ASSUMED = (
    "Arms, axle and frame are rigid, the axis has no play; tyres are thin discs that are not squashed.",
    "Brakes work on the arm: anti-lift is 100 % where they hold the rear down against all that moves forward; at the "
    "front the same is anti-dive.",
)


@dataclass(frozen=True, eq=False)
class SwingGrid:
    """Where the left arm stands at travels (n,), mm; rack (1,): none; closed (n, 1): whether the wheel gets there."""

    travel: Floats
    rack: Floats
    closed: np.ndarray
    poses: SwingPoses

    def at(self, point: Floats) -> Floats:
        """Where a point of the left arm stands (n, 1, 3)."""
        return self.poses.at(point)[:, None]


@dataclass(frozen=True, eq=False)
class SwingTold:
    """What the left wheel does at each travel (n, 1). As `SwingCurves` tells, but anti: anti-lift under braking as a
    share, nan where the wheelbase or the centre of gravity is not known; a carrier of both wheels has no roll centre.
    spring: the coil-over's length, mm, motion_ratio: its shortening for each mm of travel; centres: between the
    sprockets of the chain that drives the axle, mm; nan without one."""

    camber: Floats
    toe_in: Floats
    out: Floats
    ahead: Floats
    roll_centre: Floats
    anti: Floats
    spring: Floats
    motion_ratio: Floats
    centres: Floats


@dataclass(frozen=True, eq=False)
class SwingRun:
    """The arms of an end over their whole travel; limits: the travel beyond which the wheel does not get, upwards and
    downwards, None where it does."""

    hung: SwingingArms
    arm: SwingArm
    found: SwingGrid
    told: SwingTold
    limits: tuple[float | None, float | None]
    straight: int = 0

    @property
    def closes(self) -> bool:
        """Whether the wheel gets everywhere within the travel."""
        return bool(self.found.closed.all())


@dataclass(frozen=True, eq=False)
class SwingStill:
    """The arms of an end at one travel, mm: each (1, 1)."""

    run: SwingRun
    travel: float
    rack: float
    found: SwingGrid
    told: SwingTold


def is_carrier(job: Job, hung: SwingingArms) -> bool:
    """Whether both wheels swing as one."""
    first = job.joint_by_id.get(hung.first)
    return first is not None and first.twin == hung.second != hung.first


def arm_of(job: Job, hung: SwingingArms, *, right: bool = False) -> SwingArm:
    """The hard points of an end's left arm; of the right one seen in a mirror. Raises Problem where a joint or the
    wheel has gone, or a joint has no twin."""
    wheel, lean, toe = edits.left_wheel(job, hung.axle), hung.camber, hung.toe
    hinge = []
    for name in (hung.first, hung.second):
        joint = job.joint_by_id.get(name)
        twin = job.joint_by_id.get(joint.twin or "") if joint else None
        if joint is None:
            raise Problem(f"An arm is hung at {name}, which has gone.", where=name, hint="Hang it again: type arm.")
        if twin is None:
            raise Problem(f"{name} has no twin for the right wheel's arm.", where=name, hint="Pair it, or type: mirror")
        hinge.append(np.array(twin.place) * MIRROR if right else np.array(joint.place))
    axis = np.array([math.sin(toe) * math.cos(lean), math.cos(toe) * math.cos(lean), -math.sin(lean)])
    return SwingArm(np.array(hinge), np.array([wheel.x, wheel.y, wheel.z]), axis, wheel.diameter / 2)


@remembered("arms", "joints", "wheels", *WEIGHED)
def arm_runs(job: Job) -> tuple[SwingRun, ...]:
    """The arms of each end over their whole travel, front first. Raises Problem where some are incomplete."""
    return tuple(_run(job, hung) for hung in sorted(job.arms, key=lambda a: a.axle))


def _run(job: Job, hung: SwingingArms) -> SwingRun:
    arm = arm_of(job, hung)
    arm_of(job, hung, right=True)
    rocker_of(job, hung)
    found, told = stand(job, hung, arm, travels(hung.down, hung.up))
    most, least = arm.reach
    limits = most if most < hung.up else None, least if least > -hung.down else None
    return SwingRun(hung, arm, found, told, limits)


def stand(job: Job, hung: SwingingArms, arm: SwingArm, travel: Floats) -> tuple[SwingGrid, SwingTold]:
    """The left arm at travels (n,), and what its wheel does there (n, 1)."""
    found = swing_poses(arm, travel)
    curves, nothing = swing_curves(found), np.full(len(travel), np.nan)
    lift = lift_share(job)
    spring = ratio = centres = nothing
    if hung.spring and hung.spring_out and hung.spring in job.joint_by_id:
        foot, moves = _spring_end(job, hung, found)
        along = foot - np.array(job.joint_by_id[hung.spring].place)
        spring = np.linalg.norm(along, axis=1)
        ratio = -(along * moves).sum(axis=1) / spring
    if chain := chain_of(job, hung.axle):
        driving, driven = (np.array([s.x, s.y, s.z]) for s in (chain.driving, chain.driven))
        apart = found.at(driven) - driving
        centres = np.hypot(apart[:, 0], apart[:, 2])
    sign = 1.0 if hung.axle == "rear" else -1.0
    rows = {
        "camber": curves.camber,
        "toe_in": curves.toe_in,
        "out": curves.out,
        "ahead": curves.ahead,
        "roll_centre": nothing if is_carrier(job, hung) else curves.roll_centre,
        "anti": sign * curves.anti / lift if lift else nothing,
        "spring": spring,
        "motion_ratio": ratio,
        "centres": centres,
    }
    told = SwingTold(**{name: values[:, None] for name, values in rows.items()})
    return SwingGrid(travel, np.zeros(1), found.closed[:, None], found), told


def rocker_of(job: Job, hung: SwingingArms) -> Rocker | None:
    """The left rocker; None where the coil-over stands on the arm itself. Raises Problem where its joint has gone or
    its axis has no direction."""
    if hung.push is None:
        return None
    joint = job.joint_by_id.get(hung.push.pivot)
    if joint is None:
        raise Problem(
            f"A rocker is hung at {hung.push.pivot}, which has gone.",
            where=hung.push.pivot,
            hint=f"Hang it again: arm {hung.axle} rocker",
        )
    return rocker_at(hung.push, np.array(joint.place))


def _spring_end(job: Job, hung: SwingingArms, found: SwingPoses) -> tuple[Floats, Floats]:
    """Where the coil-over's outer end stands, and how it moves for each mm of travel, both (n, 3)."""
    rocker = rocker_of(job, hung)
    if rocker is None:
        foot = found.at(np.array(hung.spring_out))
        return foot, found.moves(foot)
    out = found.at(rocker.push_out)
    turn = rocker.turn(out)
    end = rocker.at(np.array(hung.spring_out), turn)
    return end, rocker.rate(turn, out, found.moves(out))[:, None] * cross(rocker.axis, end - rocker.pivot)


def chain_of(job: Job, axle: Axle) -> Chain | None:
    """The chain that drives an axle: its driven shaft is where the wheel is, seen from the side."""
    wheel = edits.left_wheel(job, axle)
    near = (c for c in job.chains if math.dist((c.driven.x, c.driven.z), (wheel.x, wheel.z)) < wheel.diameter / 4)
    return next(near, None)


def arms_at(job: Job, end: Axle, travel: float) -> SwingStill:
    """The arms of an end at a travel (mm), kept within what is typed in. Raises Problem where it is not hung."""
    edits.find_arms(job, end)
    run = next(r for r in arm_runs(job) if r.hung.axle == end)
    travel = float(np.clip(travel, -run.hung.down, run.hung.up))
    found, told = stand(job, run.hung, run.arm, np.array([travel]))
    return SwingStill(run, travel, 0.0, found, told)


def arm_lines(job: Job, run: SwingRun, found: SwingGrid) -> Iterator[tuple[str, Floats, Floats]]:
    """Each arm's legs, a carrier's axle and the coil-overs by name: both ends (n, 3), mm."""
    arm, carrier = run.arm, is_carrier(job, run.hung)
    for side, mirror in (("left", np.ones(3)), ("right", MIRROR)):
        for n, inner in enumerate(arm.hinge[:1] if carrier else arm.hinge):
            outer = np.array([arm.wheel[0], inner[1], arm.wheel[2]]) if carrier else arm.wheel
            name = f"{side} arm" if carrier else f"{side} arm, {('first', 'second')[n]} leg"
            yield name, np.broadcast_to(inner * mirror, (len(found.travel), 3)), found.poses.at(outer) * mirror
        if run.hung.spring and run.hung.spring_out and run.hung.spring in job.joint_by_id:
            top = np.array(job.joint_by_id[run.hung.spring].place) * mirror
            foot = _spring_end(job, run.hung, found.poses)[0] * mirror
            yield f"{side} coil-over", np.broadcast_to(top, foot.shape), foot
            if rocker := rocker_of(job, run.hung):
                out = found.poses.at(rocker.push_out)
                yield f"{side} push rod", rocker.at(rocker.push_in, rocker.turn(out)) * mirror, out * mirror
    if carrier and arm.wheel[1]:
        wheel = found.poses.at(arm.wheel)
        yield "axle", wheel, wheel * MIRROR


def drawn(job: Job, still: SwingStill) -> tuple[DrawnLine, ...]:
    """Arms, axle and coil-overs where they stand, as lines; nothing where the wheel does not get there."""
    if not still.found.closed[0, 0]:
        return ()
    made = [
        DrawnLine("spring" if "coil-over" in name else "body" if name == "axle" else "link", one[0], other[0])
        for name, one, other in arm_lines(job, still.run, still.found)
    ]
    if rocker := rocker_of(job, still.run.hung):
        turn = rocker.turn(still.found.poses.at(rocker.push_out))
        for mirror in (np.ones(3), MIRROR):
            for point in (rocker.push_in, np.array(still.run.hung.spring_out)):
                made.append(DrawnLine("body", rocker.pivot * mirror, rocker.at(point, turn)[0] * mirror))
    return tuple(made)
