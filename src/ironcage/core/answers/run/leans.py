"""What both ends do as the car leans: camber and toe of each wheel against the ground, and where the roll centre goes;
and how far the car leans for each g, with what that moves to the outer wheels."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from ironcage.core.answers.run.bands import EndRun, end_runs
from ironcage.core.answers.run.beam import BeamRun, leaning_grid, most_steer
from ironcage.core.answers.run.carrier import CarrierRun
from ironcage.core.answers.run.corner import AxleRun
from ironcage.core.answers.run.fork import ForkRun
from ironcage.core.answers.run.liveaxle import LinkedRun
from ironcage.core.answers.run.springs import roll_stiffnesses
from ironcage.core.answers.run.swing import SwingRun, is_carrier
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.frames.load_distribution import G
from ironcage.core.calc.linkage.axle import axle_curves, axle_poses
from ironcage.core.calc.linkage.leaning import CarLean, Leaning, SideAt, car_lean, leaning
from ironcage.core.calc.linkage.swing import SwingArm, swing_poses
from ironcage.core.calc.linkage.wishbone import DoubleWishbone, curves, poses
from ironcage.core.calc.vectors import cross
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job

MOST_LEAN, LEANS = math.radians(4), 9
ASSUMED = (
    "The car leans about the middle between both contacts, its frame and tyres rigid; both wheels keep to the ground. "
    "All of its weight leans with it, on the roll centres of ride height; tyres and the frame’s own twist are left out."
)


@dataclass(frozen=True, eq=False)
class LeanAnswer:
    """ends: both ends at each lean, by name, nothing of one whose wheels can't lean against it; car: how far it leans,
    None where weight, wheels, roll centres or roll stiffnesses are not known."""

    lean: Floats
    ends: dict[str, Leaning]
    car: CarLean | None


def leans(job: Job, travel: float = 0.0, rack: float = 0.0) -> LeanAnswer:
    """Both ends as the car leans to either side, lowered by a travel, mm, its rack or drop arm moved to the left by
    `rack`, mm or rad, where it has one. Raises Problem as `end_runs` does."""
    lean = np.linspace(-MOST_LEAN, MOST_LEAN, LEANS)
    found = {name: made for name, run in end_runs(job).items() if (made := _end(job, run, lean, travel, rack))}
    return LeanAnswer(lean, found, _car(job, found))


def _end(job: Job, run: EndRun, lean: Floats, travel: float, rack: float) -> Leaning | None:
    if isinstance(run, AxleRun):
        most = run.hung.rack
        way = float(np.clip(rack, -most, most))
        return leaning(_wishbones(run.corner, way), _wishbones(run.corner, -way), lean, travel)
    if isinstance(run, SwingRun):
        return None if is_carrier(job, run.hung) else leaning(_arm(run.arm), _arm(run.arm), lean, travel)
    if isinstance(run, ForkRun | CarrierRun):
        return None  # they lean with the car
    if isinstance(run, BeamRun):
        most = most_steer(run.hung)
        return _beam(run, run.held, lean, travel, float(np.clip(rack, -most, most))) if run.held else None
    return _axle(run, lean, travel)


def _wishbones(corner: DoubleWishbone, rack: float) -> Callable[[Floats], SideAt]:
    def at(travel: Floats) -> SideAt:
        order = np.argsort(travel, kind="stable")  # positions are found from ride height outwards
        found = poses(corner, travel[order], np.array([rack]))
        contact = curves(found).contact[:, 0]
        low = found.at(corner.lower_out)[:, 0]
        path = found.rate[:, 0, :3] + cross(found.rate[:, 0, 3:], contact - low)
        back = np.argsort(order, kind="stable")
        return SideAt(contact[back], path[back], (found.turn[:, 0] @ corner.axis)[back])

    return at


def _arm(arm: SwingArm) -> Callable[[Floats], SideAt]:
    def at(travel: Floats) -> SideAt:
        found = swing_poses(arm, travel)
        axis = found.turned(arm.axis)
        up = np.array([0.0, 0.0, 1.0]) - axis[:, 2:] * axis
        contact = found.at(arm.wheel) - arm.radius * up / np.linalg.norm(up, axis=1, keepdims=True)
        return SideAt(contact, found.moves(contact), axis)

    return at


def _axle(run: LinkedRun, lean: Floats, travel: float) -> Leaning:
    """A live axle, which keeps to the ground as one: its wheels stay upright, and steer with it."""
    rise = float(run.axle.left[1] - run.axle.right[1]) / 2 * np.sin(lean)
    found = axle_poses(run.axle, travel + rise, travel - rise)
    told = axle_curves(found)
    upright = np.where(found.closed, 0.0, np.nan)
    middle = found.at(run.axle.middle)[:, 1]
    return Leaning(
        lean,
        travel + rise,
        travel - rise,
        np.column_stack([upright, upright]),
        np.column_stack([-told.steer, told.steer]),
        told.roll_centre,
        run.axle.middle[1] - middle,
    )


def _beam(run: BeamRun, held: LinkedRun, lean: Floats, travel: float, way: float) -> Leaning:
    """A beam with its steering held: it keeps to the ground as one, and its rods from the frame steer its wheels."""
    found = leaning_grid(run, held, np.full_like(lean, travel), lean, np.array([way]))
    sides = found.left, found.right
    up = np.column_stack([np.zeros_like(lean), -np.sin(lean), np.cos(lean)])
    signs = (1.0, -1.0)
    camber = [-sign * np.arcsin((side.axis[:, 0] * up).sum(axis=1)) for sign, side in zip(signs, sides, strict=True)]
    toe = [-sign * side.steer[:, 0] for sign, side in zip(signs, sides, strict=True)]
    return replace(_axle(held, lean, travel), camber=np.column_stack(camber), toe_in=np.column_stack(toe))


def _car(job: Job, ends: dict[str, Leaning]) -> CarLean | None:
    weighed, stiffness = weigh(job), roll_stiffnesses(job)
    if weighed.front_share is None or not all(stiffness) or set(ends) != {"front", "rear"}:
        return None
    middle = LEANS // 2
    centres = tuple(float(ends[end].height[middle]) for end in ("front", "rear"))
    if not all(map(math.isfinite, centres)):
        return None
    tracks = tuple(2 * abs(edits.left_wheel(job, end).y) for end in ("front", "rear"))
    try:
        return car_lean(
            weighed.car.mass * G,
            weighed.front_share,
            float(weighed.car.cg[2]),
            (centres[0], centres[1]),
            stiffness,
            (tracks[0], tracks[1]),
        )
    except ValueError:
        return None
