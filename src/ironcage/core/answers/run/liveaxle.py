"""Where a live axle stands over travel and roll, from the job's joints and wheels."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, fields

import numpy as np

from ironcage.core.answers.run.axlelinks import SIDES, AxleLeaves, AxleLink, axle_leaves, axle_links, place
from ironcage.core.answers.run.drawn import DrawnLine
from ironcage.core.answers.run.grid import travels
from ironcage.core.answers.run.lever import lift_share
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.linkage.axle import AxleCurves, AxlePoses, Floats, LiveAxle, axle_curves, axle_limit, axle_poses
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, LinkedAxle
from ironcage.problem import Problem

ROLLS = 11
ASSUMED = (
    "Axle and frame are rigid, links' ends are points; what the links can't all keep of their lengths is shared by "
    "least squares, and told as bind: bushes take it up, rod ends do not. Leaf springs are thin and of one curvature, "
    "do not wind up, and let their seats swing so; without a track rod they hold the axle sideways.",
    "Drive works on the axle's housing, all of it at this axle; tyres are thin discs that turn with it. Anti-squat is "
    "100 % where the drive's own lift holds the car up against all that moves back.",
)


@dataclass(frozen=True, eq=False)
class AxleGrid:
    """Where a live axle stands: travel (n,) of both wheels, mm, rack (m,): how far it leans, its left wheel up, rad;
    closed (n, m): whether its links reach."""

    travel: Floats
    rack: Floats
    poses: AxlePoses
    closed: np.ndarray

    def at(self, point: Floats) -> Floats:
        """Where a point of the axle stands (n, m, 3)."""
        return self.poses.at(point).reshape(len(self.travel), len(self.rack), 3)


@dataclass(frozen=True, eq=False)
class AxleTold:
    """What a live axle does at each travel and roll (n, m). curves: as `axle_curves` tells; squat: anti-squat as a
    share, nan where the wheelbase or the centre of gravity is not known; spring: the left coil-over's length, mm,
    motion_ratio: its shortening for each mm that both wheels rise, nan without one."""

    curves: AxleCurves
    squat: Floats
    spring: Floats
    motion_ratio: Floats


@dataclass(frozen=True, eq=False)
class LinkedRun:
    """A live axle over its travel and roll. lift: height of the centre of gravity over the wheelbase, None where either
    is not known; limits: the travel beyond which its links do not reach, upwards and downwards, None where they do."""

    hung: LinkedAxle
    links: tuple[AxleLink, ...]
    axle: LiveAxle
    found: AxleGrid
    told: AxleTold
    straight: int
    lift: float | None
    limits: tuple[float | None, float | None]

    @property
    def closes(self) -> bool:
        """Whether the links reach everywhere within the travel and roll."""
        return bool(self.found.closed.all())


@dataclass(frozen=True, eq=False)
class LinkedStill:
    """A live axle at one travel (mm) and roll (rad): its place and what it does there, each (1, 1)."""

    run: LinkedRun
    travel: float
    rack: float
    found: AxleGrid
    told: AxleTold


def axle_of(job: Job, hung: LinkedAxle, links: tuple[AxleLink, ...] | None = None) -> LiveAxle:
    """The hard points of a live axle, by its links, or by others in their place. Raises Problem where a joint or a
    wheel has gone, a joint has no twin, or the links do not hold it."""
    links = axle_links(job, hung) if links is None else links
    left = edits.paired_wheel(job, hung.axle)
    right = next((w for w in job.wheels if w.corner == f"{hung.axle} right"), left)
    middles = [np.array([w.x, side * abs(w.y), w.z]) for w, side in ((left, 1), (right, -1))]
    inner, outer = (np.array([getattr(link, end) for link in links]).reshape(-1, 3) for end in ("inner", "outer"))
    made = LiveAxle(
        inner, outer, middles[0], middles[1], left.diameter / 2, np.array([link.made for link in links], bool)
    )
    short = [link.name for link, length in zip(links, made.lengths, strict=True) if length < 1.0]
    if short:
        raise Problem(
            f"The {short[0]} of the {hung.axle} axle has no length.", where=hung.axle, hint="Move its outer end."
        )
    if made.free():
        other = "" if hung.rod or hung.ladder else ", or bring the upper links together"
        raise Problem(
            f"The links of the {hung.axle} axle leave it free to move sideways or to turn.",
            where=hung.axle,
            hint=f"Give it a track rod{other}: {edits.hung_as(hung.but(rod=hung.rod or 'J7R'))}",
        )
    return made


@remembered("live_axles", "joints", "wheels", "parts", "people", "tubes", "shelf", "masses", "fittings", "brief")
def axle_runs(job: Job) -> tuple[LinkedRun, ...]:
    """Every live axle over its whole travel and roll, front first. Raises Problem where one is incomplete."""
    return tuple(linked_run(job, hung) for hung in sorted(job.live_axles, key=lambda a: a.axle))


def linked_run(job: Job, hung: LinkedAxle) -> LinkedRun:
    """An axle over its whole travel and roll. Raises Problem where it is incomplete."""
    links = axle_links(job, hung)
    axle = axle_of(job, hung, links)
    travel = travels(hung.down, hung.up)
    roll = np.linspace(-hung.roll, hung.roll, ROLLS) if hung.roll else np.zeros(1)
    lift = lift_share(job)
    grid, told = stand(job, hung, axle, travel, roll, lift)
    limits = axle_limit(axle, 1.0, hung.up), axle_limit(axle, -1.0, hung.down)
    return LinkedRun(hung, links, axle, grid, told, int(np.abs(roll).argmin()), lift, limits)


def stand(
    job: Job, hung: LinkedAxle, axle: LiveAxle, travel: Floats, roll: Floats, lift: float | None
) -> tuple[AxleGrid, AxleTold]:
    """An axle at each travel and each roll, and what it does there, each (n, m)."""
    shape = (len(travel), len(roll))
    half = (axle.left[1] - axle.right[1]) / 2
    lean = np.tile(half * np.sin(roll), len(travel))
    rise = np.repeat(travel, len(roll))
    found = axle_poses(axle, rise + lean, rise - lean)
    flat = axle_curves(found)
    curves = AxleCurves(
        **{f.name: getattr(flat, f.name).reshape(*shape, *getattr(flat, f.name).shape[1:]) for f in fields(flat)}
    )
    grid = AxleGrid(travel, roll, found, found.closed.reshape(shape))
    squat, spring, ratio = (np.full(shape, np.nan) for _ in range(3))
    if lift:
        squat = curves.anti / lift * (1 if hung.axle == "rear" else -1)
    if hung.spring and hung.spring_out and hung.spring in job.joint_by_id:
        foot = np.array(hung.spring_out)
        along = grid.at(foot) - place(job, hung.spring)
        spring = np.linalg.norm(along, axis=-1)
        ratio = -(along * found.moves(found.heave, foot).reshape(along.shape)).sum(axis=-1) / spring
    return grid, AxleTold(curves, squat, spring, ratio)


def lengths_at(job: Job, run: LinkedRun, travel: Floats, roll: Floats) -> tuple[Floats, Floats]:
    """The left coil-over's length and motion ratio (n, m) at travels (n,) and rolls (m,)."""
    told = stand(job, run.hung, run.axle, travel, roll, run.lift)[1]
    return told.spring, told.motion_ratio


def axle_at(job: Job, end: Axle, travel: float, roll: float) -> LinkedStill:
    """A live axle at a travel (mm) and a roll (rad), kept within what is typed in. Raises Problem where it is not
    hung."""
    edits.find_live_axle(job, end)
    run = next(r for r in axle_runs(job) if r.hung.axle == end)
    travel = float(np.clip(travel, -run.hung.down, run.hung.up))
    roll = float(np.clip(roll, -run.hung.roll, run.hung.roll))
    grid, told = stand(job, run.hung, run.axle, np.array([travel]), np.array([roll]), run.lift)
    return LinkedStill(run, travel, roll, grid, told)


def axle_lines(job: Job, run: LinkedRun, found: AxleGrid) -> Iterator[tuple[str, Floats, Floats]]:
    """Each link, leaf spring and coil-over by name, its inner (3,) or (n, m, 3) and its outer end (n, m, 3), mm."""
    for link in run.links:
        if link.made:
            yield link.name, link.inner, found.at(link.outer)
    hung = run.hung
    if leaves := axle_leaves(job, hung):
        yield from _leaf_lines(leaves, found)
    if hung.spring and hung.spring_out and hung.spring in job.joint_by_id:
        top, foot = place(job, hung.spring), np.array(hung.spring_out)
        for side, mirror in SIDES:
            yield f"{side} coil-over", top * mirror, found.at(foot * mirror)


def _leaf_lines(leaves: AxleLeaves, found: AxleGrid) -> Iterator[tuple[str, Floats, Floats]]:
    """Both arms of each leaf spring, straight from its eyes to its seat; the eye on the shackle goes as the spring lets
    it."""
    for side, mirror in SIDES:
        seat = found.at(leaves.seat * mirror)
        eye = np.broadcast_to(leaves.rear * mirror, seat.shape).copy()
        eye[..., 0] -= leaves.ahead * leaves.leaf.longer(seat[..., 2] - leaves.seat[2])
        yield f"{side} leaf spring, front", np.broadcast_to(leaves.front * mirror, seat.shape), seat
        yield f"{side} leaf spring, rear", eye, seat


def held_lines(job: Job, run: LinkedRun, travel: float, roll: float = 0.0) -> list[DrawnLine]:
    """What holds an axle where it stands, as lines."""
    found = stand(job, run.hung, run.axle, np.array([travel]), np.array([roll]), run.lift)[0]
    return [
        DrawnLine("spring" if "spring" in name or "coil-over" in name else "link", inner.reshape(3), outer[0, 0])
        for name, inner, outer in axle_lines(job, run, found)
    ]


def drawn(job: Job, still: LinkedStill) -> tuple[DrawnLine, ...]:
    """The axle with its links where it stands, as lines; nothing where they do not reach."""
    if not still.found.closed[0, 0]:
        return ()
    lines = held_lines(job, still.run, still.travel, still.rack)
    axle, hung = still.run.axle, still.run.hung
    if hung.torque and hung.torque_out:
        lines.append(DrawnLine("body", *(still.found.at(p)[0, 0] for p in (axle.middle, np.array(hung.torque_out)))))
    return (*lines, DrawnLine("body", still.found.at(axle.left)[0, 0], still.found.at(axle.right)[0, 0]))
