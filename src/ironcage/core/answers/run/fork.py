"""Where a single front wheel in a fork stands over travel and steer, from the job's joints and wheels."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.drawn import DrawnLine
from ironcage.core.answers.run.grid import travels
from ironcage.core.answers.run.lever import WEIGHED, lift_share
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.linkage.fork import Floats, Fork, ForkPoses, fork_curves
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, SteeringFork
from ironcage.problem import Problem

TURNS = 21  # from lock to lock
LEAST_STEER = math.radians(0.5)  # less is straight ahead
ASSUMED = (
    "Fork, head and frame are rigid, the legs lie along the steering axis; tyres are thin discs that are not squashed.",
    "The ground touches both wheels and the other end stands at ride height, so the car noses down as the fork goes "
    "in. The brake is on the legs: what they hold of the dive is less than nothing where they rake.",
)


@dataclass(frozen=True, eq=False)
class ForkGrid:
    """Where a fork stands at travels (n,), mm, and turns to the left (m,), rad, as `rack`; closed (n, m): always."""

    travel: Floats
    rack: Floats
    closed: np.ndarray
    poses: ForkPoses

    def at(self, point: Floats) -> Floats:
        """Where a point that goes with the wheel stands (n, m, 3)."""
        return self.poses.at(point)


@dataclass(frozen=True, eq=False)
class ForkTold:
    """What the wheel does at each travel and turn (n, m); angles rad, lengths mm. head, trail, steer, leans, lifts as
    `ForkCurves` tells; circle: the diameter that the tyre's middle runs on, nan straight ahead; ahead: how far the
    wheelbase has grown; anti: anti-dive as a share, nan where the wheelbase or the centre of gravity is not known;
    spring: from the lower bearing down to the axle along the legs, motion_ratio: its shortening for each mm of
    travel."""

    head: Floats
    trail: Floats
    steer: Floats
    leans: Floats
    lifts: Floats
    circle: Floats
    ahead: Floats
    anti: Floats
    spring: Floats
    motion_ratio: Floats


@dataclass(frozen=True, eq=False)
class ForkRun:
    """A fork over its whole travel, from lock to lock; rest, straight: the row of ride height and the column straight
    ahead."""

    hung: SteeringFork
    fork: Fork
    found: ForkGrid
    told: ForkTold
    straight: int
    limits: tuple[float | None, float | None] = (None, None)
    closes: bool = True

    @property
    def rest(self) -> int:
        """The row of ride height."""
        return int(np.abs(self.found.travel).argmin())


@dataclass(frozen=True, eq=False)
class ForkStill:
    """A fork at one travel, mm, and turn to the left, rad: each (1, 1)."""

    run: ForkRun
    travel: float
    rack: float
    found: ForkGrid
    told: ForkTold


def fork_of(job: Job, hung: SteeringFork) -> Fork:
    """The hard points of a fork. Raises Problem where a joint of its head or a wheel has gone, or the wheels stand side
    by side."""
    wheel = edits.left_wheel(job, hung.axle)
    rear = edits.left_wheel(job, "rear")
    for name in hung.joints:
        if name not in job.joint_by_id:
            raise Problem(
                f"The steering head has lost its joint {name}.", where=name, hint="Hang it again: fork front head"
            )
    if not wheel.single:
        raise Problem("The front wheels stand side by side; a fork has one.", where="wheels", hint="fork front gone")
    top, low = (np.array(job.joint_by_id[name].place) for name in hung.joints)
    if top[2] <= low[2]:
        raise Problem(
            f"The steering head’s axis from {hung.low} to {hung.top} does not go up.", where=hung.top, hint="Raise it."
        )
    middle = np.array([1.0, 0.0, 1.0])
    return Fork(
        top * middle,
        low * middle,
        np.array([wheel.x, 0.0, wheel.z]),
        wheel.diameter / 2,
        np.array([rear.x, 0.0, rear.z]),
        rear.diameter / 2,
    )


@remembered("forks", "joints", "wheels", *WEIGHED)
def fork_runs(job: Job) -> tuple[ForkRun, ...]:
    """The fork over its whole travel; nothing without one. Raises Problem as `fork_of` does."""
    return tuple(_run(job, hung) for hung in job.forks)


def _run(job: Job, hung: SteeringFork) -> ForkRun:
    fork = fork_of(job, hung)
    turns = np.linspace(-hung.turn, hung.turn, TURNS) if hung.turn else np.zeros(1)
    found, told = stand(job, fork, travels(hung.down, hung.up), turns)
    return ForkRun(hung, fork, found, told, len(turns) // 2)


def stand(job: Job, fork: Fork, travel: Floats, turn: Floats) -> tuple[ForkGrid, ForkTold]:
    """A fork at travels (n,) and turns (m,), and what its wheel does there."""
    poses = ForkPoses(fork, travel, turn)
    told, lift = fork_curves(poses), lift_share(job)
    shape = told.rake.shape
    rest = float(fork_curves(ForkPoses(fork, np.zeros(1), np.zeros(1))).wheelbase[0, 0])
    circle = np.full(shape, np.nan)
    turns = np.abs(told.steer) >= LEAST_STEER
    circle[turns] = 2 * told.wheelbase[turns] / np.abs(np.sin(told.steer[turns]))
    length = float((fork.low - fork.wheel) @ fork.pin)
    dive = fork.pin[0] / fork.pin[2]
    grid = ForkGrid(travel, turn, np.ones(shape, bool), poses)
    return grid, ForkTold(
        head=told.rake,
        trail=told.trail,
        steer=told.steer,
        leans=told.leans,
        lifts=told.lifts,
        circle=circle,
        ahead=told.wheelbase - rest,
        anti=np.full(shape, dive / lift if lift else np.nan),
        spring=np.broadcast_to((length - poses.slide)[:, None], shape),
        motion_ratio=np.full(shape, 1 / fork.pin[2]),
    )


def fork_at(job: Job, end: Axle, travel: float, turn: float) -> ForkStill:
    """The fork of an end at a travel, mm, and a turn to the left, rad, kept within what is typed in. Raises Problem
    where it has none."""
    edits.find_fork(job, end)
    run = next(r for r in fork_runs(job) if r.hung.axle == end)
    travel = float(np.clip(travel, -run.hung.down, run.hung.up))
    turn = float(np.clip(turn, -run.hung.turn, run.hung.turn))
    found, told = stand(job, run.fork, np.array([travel]), np.array([turn]))
    return ForkStill(run, travel, turn, found, told)


def fork_lines(run: ForkRun, found: ForkGrid) -> Iterator[tuple[str, Floats, Floats]]:
    """Both legs by name: their ends (n, m, 3), mm, at the crown beside the lower bearing, and at the axle."""
    fork, side = run.fork, np.array([0.0, run.hung.apart / 2, 0.0])
    crown = fork.wheel + float((fork.low - fork.wheel) @ fork.pin) * fork.pin
    for name, by in (("left leg", side), ("right leg", -side)):
        outer = found.at(fork.wheel + by)
        yield name, np.broadcast_to(found.poses.turned(crown + by)[None], outer.shape), outer


def drawn(_job: Job, still: ForkStill) -> tuple[DrawnLine, ...]:
    """Head, crown, legs and axle where they stand, as lines."""
    legs = [(inner[0, 0], outer[0, 0]) for _, inner, outer in fork_lines(still.run, still.found)]
    (left_top, left_low), (right_top, right_low) = legs
    fork = still.run.fork
    return (
        DrawnLine("body", fork.low, fork.top),
        DrawnLine("body", left_top, fork.low),
        DrawnLine("body", right_top, fork.low),
        DrawnLine("body", left_low, right_low),
        *(DrawnLine("spring", top, low) for top, low in legs),
    )


def turned_words(turn: float) -> str:
    """How far a fork is turned, in words."""
    if abs(turn) < 1e-9:
        return "straight ahead"
    return f"turned {math.degrees(abs(turn)):.1f}° to the {'left' if turn > 0 else 'right'}"
