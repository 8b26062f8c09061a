"""Twist and bending tests as a builder would rig them, held without over-constraint.

A corner is a group of joints that share its load equally and whose mean displacement is what is held or
measured (one joint a corner gives the plain test). The six holds are statically determinate: rear left
in x, y, z; rear right in x, z; the mean of the front in z. So reactions follow from the loads alone,
any one joint can anchor the factorisation, and a rigid motion added afterwards meets the holds exactly.
One factorisation serves every test.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.frames.beams import Floats, Frame, demand_one_piece, solve
from ironcage.core.calc.frames.factor import Factor
from ironcage.core.calc.frames.load_distribution import distribution_matrix
from ironcage.problem import Problem

CORNERS = ("front left", "front right", "rear left", "rear right")
X, Y, Z = 0, 1, 2


@dataclass(frozen=True)
class Rig:
    """A frame held at its rear corners and balanced at its front ones.

    corners maps each name in CORNERS to node numbers; whole: the same frame with nothing holding it, where its
    factorisation is there already.
    """

    frame: Frame
    corners: Mapping[str, tuple[int, ...]]
    whole: FreeFrame | None = None

    def __post_init__(self) -> None:
        missing = [c for c in CORNERS if not self.corners.get(c)]
        if missing:
            raise Problem(
                f"There is no pickup at the {missing[0]}.",
                where=missing[0],
                hint="Choose a joint there and make it a pickup.",
            )

    def mean_row(self, corner: str, axis: int) -> Floats:
        """A row (6n,) that takes the mean displacement of a corner along an axis."""
        row = np.zeros(6 * len(self.frame.nodes))
        nodes = self.corners[corner]
        row[[6 * node + axis for node in nodes]] = 1 / len(nodes)
        return row

    def holds(self) -> Floats:
        """The six holds as rows (6, 6n)."""
        front = (self.mean_row("front left", Z) + self.mean_row("front right", Z)) / 2
        rear = [self.mean_row("rear left", axis) for axis in (X, Y, Z)]
        return np.array([*rear, self.mean_row("rear right", X), self.mean_row("rear right", Z), front])

    def place(self, corner: str) -> Floats:
        """Mean position of a corner's joints (3,), mm."""
        return self.frame.nodes[list(self.corners[corner])].mean(axis=0)

    def displacements(self, loads: Floats) -> tuple[Floats, Floats]:
        """Displacements (n, 6, cases) under loads (6n, cases), and the hold reactions (6, cases), N.

        Raises Problem for pickups in one line, a mechanism, separate pieces, and a solution out of balance.
        """
        holds, rigid, reactions = self._held(loads)
        u = self.free.displacements(loads + holds.T @ reactions)
        u -= rigid @ np.linalg.solve(holds @ rigid, holds @ u)
        return u.reshape(len(self.frame.nodes), 6, -1), reactions

    def balanced(self, loads: Floats) -> tuple[Floats, Floats]:
        """Loads with what holds them (6n, cases), and the displacements (6n, cases) they make, but for a rigid
        motion."""
        holds, _, reactions = self._held(loads)
        together = loads + holds.T @ reactions
        return together, self.free.displacements(together)

    def _held(self, loads: Floats) -> tuple[Floats, Floats, Floats]:
        holds, rigid = self.holds(), rigid_motions(self.frame.nodes)
        grip = holds @ rigid
        if np.linalg.cond(grip) > 1e12:
            raise Problem(
                "The pickups stand in one line, so nothing stops the frame from rolling over.",
                where="pickups",
                hint="Put the front and rear pickups at different places.",
            )
        return holds, rigid, np.asarray(np.linalg.solve(grip.T, -rigid.T @ loads), dtype=np.float64)

    @cached_property
    def free(self) -> FreeFrame:
        """The frame with nothing holding it."""
        return self.whole or FreeFrame(self.frame)


@dataclass(frozen=True)
class FreeFrame:
    """A frame that nothing holds, under loads that balance among themselves: any one joint can anchor its
    factorisation."""

    frame: Frame

    @cached_property
    def factor(self) -> Factor:
        """The factorisation, one joint held. Raises Problem for a mechanism and for separate pieces."""
        demand_one_piece(self.frame)
        held = np.zeros((len(self.frame.nodes), 6), dtype=bool)
        held[self._anchor()] = True
        held[np.bincount(self.frame.ends.ravel(), minlength=len(held)) == 0] = True
        return Factor(self.frame, held)

    def displacements(self, balanced: Floats) -> Floats:
        """Displacements (6n, cases) under loads (6n, cases) that balance, but for a rigid motion. Raises Problem
        where they don't satisfy their equations."""
        u = self.factor.solve(balanced)
        self.factor.left_over(u, balanced)
        return u

    def _anchor(self) -> int:
        """The joint with the most welded tube ends: any will do, this one is never a loose pin."""
        welded = self.frame.ends[~self.frame.pinned]
        if not welded.size:
            raise Problem("Every tube end is pinned, so no joint can be held for the test.")
        return int(np.bincount(welded.ravel()).argmax())


def rigid_motions(nodes: Floats) -> Floats:
    """The six rigid motions of nodes (n, 3) as columns (6n, 6): three translations, three small turns."""
    n = len(nodes)
    motions = np.zeros((n, 6, 6))
    motions[:, :, :] = np.eye(6)
    x, y, z = nodes.T
    zero = np.zeros(n)
    # u = θ × r
    motions[:, :3, 3] = np.column_stack([zero, -z, y])
    motions[:, :3, 4] = np.column_stack([z, zero, -x])
    motions[:, :3, 5] = np.column_stack([-y, x, zero])
    return motions.reshape(6 * n, 6)


@dataclass(frozen=True)
class TwistResult:
    """A twist test: stiffness (N·mm/rad), the angle (rad) at the front under `torque` (N·mm), the track of
    the loads b (mm), and displacements u (n, 6)."""

    stiffness: float
    angle: float
    torque: float
    track: float
    u: Floats
    front_reaction: float


def twist_loads(rig: Rig, force: float) -> Floats:
    """Equal and opposite vertical loads (6n,) at the front corners, up on the left, N."""
    return force * (rig.mean_row("front left", Z) - rig.mean_row("front right", Z))


def bending_loads(rig: Rig, middle: tuple[int, ...], force: float) -> Floats:
    """A total downward force (6n,) shared by the nodes in `middle`, N."""
    loads = np.zeros(6 * len(rig.frame.nodes))
    loads[[6 * node + Z for node in middle]] = -force / len(middle)
    return loads


def lateral_loads(rig: Rig, middle: tuple[int, ...], force: float) -> Floats:
    """A total force to the left (6n,) shared by the nodes in `middle`, and the least forces at all pickups that
    balance it, N."""
    nodes = rig.frame.nodes
    loads = np.zeros((len(nodes), 6))
    loads[list(middle), Y] = force / len(middle)
    pickups = [n for corner in CORNERS for n in rig.corners[corner]]
    at = nodes[list(middle)].mean(axis=0)
    back = distribution_matrix(nodes[pickups], at)[:, Y] * -force
    np.add.at(loads, pickups, back.reshape(-1, 6))
    return loads.ravel()


def twist_test(rig: Rig, torque: float) -> TwistResult:
    """Twist a frame by a torque, N·mm: angle = atan((z_left − z_right)/b), K = F·b/angle.

    Raises Problem as `Rig.displacements` does, and for front pickups that do not lie to the left and to the right.
    """
    track = float(rig.place("front left")[Y] - rig.place("front right")[Y])
    if track <= 0:
        raise Problem("The front left pickups are not left of the front right ones.", where="front pickups")
    loads = twist_loads(rig, torque / track)
    u, reactions = rig.displacements(loads[:, None])
    rise = float(twist_loads(rig, 1.0) @ u[:, :, 0].ravel())
    angle = math.atan(rise / track)
    if not angle > 0:
        raise Problem(
            "The front pickups do not twist under the test load.",
            where="front pickups",
            hint="Check that the left one is left of the right one.",
        )
    return TwistResult(torque / angle, angle, torque, track, u[:, :, 0], float(reactions[5, 0]))


def clamped_twist(rig: Rig, torque: float) -> float:
    """The same stiffness, N·mm/rad, with every rear pickup held by itself, as on a rigid fixture: the left ones in x,
    y, z, the right ones in x, z.

    Raises Problem for a mechanism.
    """
    held = np.zeros((len(rig.frame.nodes), 6), dtype=bool)
    held[list(rig.corners["rear left"]), :3] = True
    for axis in (X, Z):
        held[list(rig.corners["rear right"]), axis] = True
    held[np.setdiff1d(np.arange(len(held)), rig.frame.ends.ravel())] = True  # joints on no tube
    track = float(rig.place("front left")[Y] - rig.place("front right")[Y])
    u = solve(rig.frame, held, twist_loads(rig, torque / track).reshape(-1, 6, 1)).u
    return torque / math.atan(float(twist_loads(rig, 1.0) @ u.ravel()) / track)


def twist_along(nodes: Floats, pairs: NDArray[np.int64], u: Floats) -> Floats:
    """Twist angle (rad) at pairs of (left, right) nodes (p, 2): rise of left over right by their distance in y."""
    left, right = pairs.T
    return (u[left, Z] - u[right, Z]) / (nodes[left, Y] - nodes[right, Y])
