"""Where a corner's links stand and what its wheel does over travel and steer, from the job's joints and wheels."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ironcage.core.answers.run.drawn import DrawnLine
from ironcage.core.answers.run.grid import travels
from ironcage.core.answers.run.lever import WEIGHED, lift_share
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.linkage.rocker import Rocker
from ironcage.core.calc.linkage.wishbone import (
    CornerCurves,
    DoubleWishbone,
    DropArm,
    Poses,
    carried_end,
    curves,
    poses,
    spring_end,
    travel_limit,
)
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, PushRod, Wishbones
from ironcage.problem import Problem
from ironcage.units import said

Floats = NDArray[np.float64]
STEERS = 11
LEAST_ARM_MM = 5.0  # of an arm about its hinge, a drop arm as it moves a tie rod sideways, and between ends
LEAST_AXIS_MM = 1.0  # from a rocker's joint to the second place on its axis
MIRROR = np.array([1.0, -1.0, 1.0])
ASSUMED = (
    "Links, upright and frame are rigid, joints are points without play; the tyre is a thin disc that is not squashed; "
    "the coil-over is free to follow.",
    "The roll centre is that of the upright's own point at the contact, both sides alike; it moves as the car leans.",
)


@dataclass(frozen=True, eq=False)
class AxleRun:
    """An axle's left corner over its travel and rack. still: it at one travel and rack (1, 1); limits: the travel at
    which the links lock, upwards and downwards, None where they do not within the travel that is typed in; lever: as
    of `curves`."""

    hung: Wishbones
    corner: DoubleWishbone
    found: Poses
    told: CornerCurves
    straight: int
    limits: tuple[float | None, float | None]
    lever: float

    @property
    def closes(self) -> bool:
        """Whether the links reach everywhere within the travel and rack."""
        return bool(self.found.closed.all())


@dataclass(frozen=True, eq=False)
class Still:
    """An axle's left corner at one travel and rack: its poses and what they tell, each (1, 1)."""

    run: AxleRun
    travel: float
    rack: float
    found: Poses
    told: CornerCurves


def corner_of(job: Job, hung: Wishbones, *, right: bool = False) -> DoubleWishbone:
    """The hard points of a corner; the right one seen in a mirror, so that it too is a left one. Raises Problem where
    a joint or the wheel has gone, or a joint has no twin."""
    wheel = edits.paired_wheel(job, hung.axle)
    names = (*hung.lower, *hung.upper, hung.spring, *((hung.push.pivot,) if hung.push else ()))
    inner = {name: _inner(job, name, right) for name in names}
    lean, toe = hung.camber, hung.toe
    axis = np.array([math.sin(toe) * math.cos(lean), math.cos(toe) * math.cos(lean), -math.sin(lean)])
    made = DoubleWishbone(
        lower=np.array([inner[n] for n in hung.lower]),
        lower_out=np.array(hung.lower_out),
        upper=np.array([inner[n] for n in hung.upper]),
        upper_out=np.array(hung.upper_out),
        tie_in=np.array(hung.tie_in),
        tie_out=np.array(hung.tie_out),
        wheel=np.array([wheel.x, wheel.y, wheel.z]),
        axis=axis,
        radius=wheel.diameter / 2,
        spring_in=inner[hung.spring],
        spring_out=np.array(hung.spring_out),
        spring_on=hung.spring_on,
        rocker=rocker_at(hung.push, inner[hung.push.pivot]) if hung.push else None,
        drop=_drop(hung),
    )
    _demand_arms(hung.axle, made)
    return made


def _demand_arms(axle: str, corner: DoubleWishbone) -> None:
    """Refuse arms that swing about nothing or carry nothing, and a tie rod without length."""
    for arm, inner, out, where in (
        ("lower", corner.lower, corner.lower_out, "lower out"),
        ("upper", corner.upper, corner.upper_out, "upper out"),
    ):
        hinge = inner[1] - inner[0]
        if np.linalg.norm(hinge) < LEAST_AXIS_MM:
            raise Problem(
                f"Both legs of the {axle} {arm} arm are hung at one place.", where=arm, hint="Move one of its joints."
            )
        hinge = hinge / np.linalg.norm(hinge)
        if np.linalg.norm(np.cross(out - inner[0], hinge)) < LEAST_ARM_MM:
            raise Problem(
                f"The {axle} {arm} arm’s ball joint is in line with both of its pivots, so it does not swing.",
                where=where,
                hint=f"Move it away from that line: {where}",
            )
    for what, one, other in (
        ("ball joints", corner.lower_out, corner.upper_out),
        ("tie rod’s ends", corner.tie_in, corner.tie_out),
    ):
        if np.linalg.norm(one - other) < LEAST_ARM_MM:
            raise Problem(f"Both {axle} {what} are at one place.", where=what, hint="Move one of them.")


def _drop(hung: Wishbones) -> DropArm | None:
    """The drop arm that the left tie rod's inner end is on. Raises Problem for one that does not move it sideways."""
    if hung.pivot is None or hung.column is None:
        return None
    way = np.array(hung.column) - np.array(hung.pivot)
    made = DropArm(np.array(hung.pivot), way / np.linalg.norm(way))
    if abs(made.sideways(np.array(hung.tie_in))) < LEAST_ARM_MM:
        raise Problem(
            f"The {hung.axle} drop arm does not move its tie rod sideways.",
            where="pivot",
            hint="Put its pivot before or behind the tie rod’s inner end (tie in), or its axis (column) more upright.",
        )
    return made


def rocker_at(push: PushRod, pivot: Floats) -> Rocker:
    """A rocker whose joint is at a place (3,). Raises Problem where its axis has no direction."""
    axis = np.array(push.axis) - pivot
    if np.linalg.norm(axis) < LEAST_AXIS_MM:
        raise Problem(
            "The rocker’s axis has no direction.", where=push.pivot, hint="Type a second place on it: rocker axis"
        )
    return Rocker(pivot, axis / np.linalg.norm(axis), np.array(push.rod_in), np.array(push.rod_out))


def _inner(job: Job, name: str, right: bool) -> Floats:
    joint = job.joint_by_id.get(name)
    if joint is None:
        raise Problem(f"An arm is hung at {name}, which has gone.", where=name, hint="Hang it again: type corner.")
    if not right:
        return np.array(joint.place)
    twin = job.joint_by_id.get(joint.twin or "")
    if twin is None:
        raise Problem(f"{name} has no twin for the right wheel's arms.", where=name, hint="Pair it, or type: mirror")
    return np.array(twin.place) * MIRROR


@remembered("wishbones", "joints", "wheels", *WEIGHED)
def runs(job: Job) -> tuple[AxleRun, ...]:
    """Every hung axle over its whole travel and rack, front first. Raises Problem with nothing hung, or with a corner
    that is incomplete."""
    if not job.wishbones:
        raise Problem(
            "No wheel is hung yet.",
            where="corner",
            hint=said.example(
                "Name the joints of the left side that its arms are hung at: corner front lower J1L J3L "
                "upper J2L J4L spring J2L"
            ),
        )
    return tuple(_run(job, hung) for hung in sorted(job.wishbones, key=lambda w: w.axle))


def run_of(job: Job, axle: Axle) -> AxleRun:
    """One axle. Raises Problem where it is not hung."""
    edits.find_wishbones(job, axle)
    return next(r for r in runs(job) if r.hung.axle == axle)


def _run(job: Job, hung: Wishbones) -> AxleRun:
    corner = corner_of(job, hung)
    travel = travels(hung.down, hung.up)
    rack = np.linspace(-hung.rack, hung.rack, STEERS) if hung.rack else np.zeros(1)
    try:
        found = poses(corner, travel, rack)
    except np.linalg.LinAlgError:
        raise Problem(
            f"The {hung.axle} corner is locked where it is drawn.", where=hung.axle, hint="Look at its points again."
        ) from None
    straight = int(np.abs(rack).argmin())
    limits: list[float | None] = [None, None]
    for n, (way, far) in enumerate(((1.0, hung.up), (-1.0, hung.down))):
        if not found.closed[[0, -1][way > 0], straight]:
            limit = travel_limit(corner, 0.0, way)
            limits[n] = limit if limit is not None and abs(limit) < far else None
    share = lift_share(job)
    lever = math.nan if not share else (1.0 if hung.axle == "rear" else -1.0) / share
    return AxleRun(hung, corner, found, curves(found, lever), straight, (limits[0], limits[1]), lever)


def stand_at(job: Job, axle: Axle, travel: float, rack: float) -> Still:
    """One axle at a travel and a rack, mm, kept within what is typed in. Raises Problem where it is not hung."""
    run = run_of(job, axle)
    high, side = run.hung.up, run.hung.rack
    travel, rack = float(np.clip(travel, -run.hung.down, high)), float(np.clip(rack, -side, side))
    found = poses(run.corner, np.array([travel]), np.array([rack]))
    return Still(run, travel, rack, found, curves(found, run.lever))


@dataclass(frozen=True, eq=False)
class CornerLine:
    """A link as a straight line from its inner to its outer end at each travel and rack, each (n, m, 3) mm."""

    name: str
    inner: Floats
    outer: Floats


def link_lines(found: Poses) -> tuple[CornerLine, ...]:
    """The links of a left corner: four legs, the tie rod, the coil-over and, where there is one, the push rod."""
    corner = found.corner
    low, high, tie = (found.at(p) for p in (corner.lower_out, corner.upper_out, corner.tie_out))
    lines = [
        CornerLine(name, np.broadcast_to(inner, outer.shape), outer)
        for name, inner, outer in (
            ("lower front leg", corner.lower[0], low),
            ("lower rear leg", corner.lower[1], low),
            ("upper front leg", corner.upper[0], high),
            ("upper rear leg", corner.upper[1], high),
            ("tie rod", corner.tie_ends(found.rack), tie),
            ("coil-over", corner.spring_in, spring_end(found)[0]),
        )
    ]
    if corner.rocker:
        out = carried_end(found)[0]
        lines.append(CornerLine("push rod", corner.rocker.at(corner.rocker.push_in, corner.rocker.turn(out)), out))
    return tuple(lines)


def drawn_corners(still: Still) -> tuple[DrawnLine, ...]:
    """Both corners of an axle where they stand, as lines: links, coil-overs, and uprights out to their wheels. Nothing
    where the links do not reach."""
    if not still.found.closed[0, 0]:
        return ()
    made = []
    low, high, wheel = (
        still.found.at(p)[0, 0]
        for p in (still.run.corner.lower_out, still.run.corner.upper_out, still.run.corner.wheel)
    )
    for mirror in (np.ones(3), MIRROR):
        for line in link_lines(still.found):
            what: Literal["spring", "link"] = "spring" if line.name == "coil-over" else "link"
            made.append(DrawnLine(what, line.inner[0, 0] * mirror, line.outer[0, 0] * mirror))
            if line.name in ("coil-over", "push rod") and still.run.corner.rocker:
                end = line.outer if line.name == "coil-over" else line.inner
                made.append(DrawnLine("body", still.run.corner.rocker.pivot * mirror, end[0, 0] * mirror))
        if still.run.corner.drop:
            end = still.run.corner.tie_ends(still.found.rack)[0]
            made.append(DrawnLine("body", still.run.corner.drop.pivot * mirror, end * mirror))
        made.append(DrawnLine("body", low * mirror, high * mirror))
        made.append(DrawnLine("body", (low + high) / 2 * mirror, wheel * mirror))
    return tuple(made)
