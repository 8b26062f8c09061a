"""How loads reach joints: spread by statics, carried on wheels, answered by the inertia of what weighs. N, N·mm, mm,
kg."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.problem import Problem

G = 9.80665  # m/s², so that a kg weighs that many N
ONE_PLACE_MM = 1e-3  # nearer to each other, two contacts are halves of one wheel


def _cross_matrices(arms: Floats) -> Floats:
    """Matrices (k, 3, 3) that make arm × force of a force."""
    x, y, z = arms.T
    zero = np.zeros_like(x)
    return np.stack([np.stack([zero, -z, y], -1), np.stack([z, zero, -x], -1), np.stack([-y, x, zero], -1)], 1)


def distribution_matrix(places: Floats, at: Floats) -> Floats:
    """What makes forces and moments (6k,) at places (k, 3) of a force and moment (6,) at a place (3,): a matrix (6k,
    6).

    The least forces that do it (as bolts in a plate share a load); what they can't, as one place or places in a line
    can't, is left to equal moments.
    """
    middle = places.mean(axis=0)
    arms = places - middle
    count = len(places)
    wanted = np.eye(6)
    wanted[3:, :3] = _cross_matrices((at - middle)[None])[0]
    makes = np.concatenate([np.tile(np.eye(3), (1, count)), _cross_matrices(arms).transpose(1, 0, 2).reshape(3, -1)])
    size = float(np.abs(arms).max()) or 1.0
    level = np.array([1, 1, 1, 1 / size, 1 / size, 1 / size])
    forces = np.linalg.pinv(makes * level[:, None], rcond=1e-9) @ (wanted * level[:, None])
    left = (wanted - makes @ forces)[3:]
    made = np.zeros((count, 6, 6))
    made[:, :3] = forces.reshape(count, 3, 6)
    made[:, 3:] = left / count
    return made.reshape(6 * count, 6)


@dataclass(frozen=True, eq=False)
class Weights:
    """What weighs: masses (k,) kg at places (k, 3), mm."""

    masses: Floats
    places: Floats

    @property
    def mass(self) -> float:
        """All of it, kg."""
        return float(self.masses.sum())

    @property
    def cg(self) -> Floats:
        """Its centre of gravity (3,), mm."""
        return np.asarray(self.masses @ self.places / self.mass)

    def inertia_forces(self, force: Floats, moment: Floats) -> Floats:
        """The forces (k, 3) by which the masses answer an unbalanced force and moment (3,) about their centre of
        gravity: each −m·(a + α × r)."""
        arms = self.places - self.cg
        turned = _cross_matrices(arms)
        tensor = np.einsum("k,kji,kjl->il", self.masses, turned, turned)
        alpha = np.linalg.lstsq(tensor, moment, rcond=1e-12)[0]
        accelerations = force / self.mass + np.cross(alpha, arms)
        return -self.masses[:, None] * accelerations


def wheel_loads(contacts: Floats, weights: Weights, forward: float, left: float, front_roll: float) -> Floats:
    """Vertical loads (4,), N, on wheels that touch the ground at contacts (4, 3) in the order front left, front right,
    rear left, rear right, with the car accelerating forward and to the left, g.

    Equilibrium gives three of four; the fourth: at rest each axle's load is centred where the car's centre of gravity
    is, and of what leans the car over in a corner `front_roll` is the front's. A wheel that would have to pull lifts
    and carries nothing. Two contacts in one place are halves of a single wheel and carry alike; the other axle then
    bears all that leans the car over. Raises Problem where the car would tip over.
    """
    weight, cg = weights.mass * G, weights.cg
    ground = contacts[:, 2].mean()
    arms = contacts - cg
    rows = np.array([np.ones(4), arms[:, 1], arms[:, 0], arms[:, 1] * [1, 1, 0, 0]])
    # moments about the CG: Σ y·Fz = (z_ground − z_cg)·Fy and Σ x·Fz = (z_ground − z_cg)·Fx
    lean = (ground - cg[2]) * left
    sums = weight * np.array([1.0, lean, (ground - cg[2]) * forward, front_roll * lean])
    halves = [on for on in ([0, 1], [2, 3]) if np.linalg.norm(contacts[on[0]] - contacts[on[1]]) < ONE_PLACE_MM]
    if halves:
        rows[3], sums[3] = np.zeros(4), 0.0
        rows[3, halves[0]] = 1.0, -1.0
    try:
        loads = np.linalg.solve(rows, sums)
        if (loads < -1e-6 * weight).any() and not halves:
            on = np.ones(4, dtype=bool)
            on[loads.argmin()] = False
            loads = np.zeros(4)
            loads[on] = np.linalg.solve(rows[:3][:, on], sums[:3])
    except np.linalg.LinAlgError:
        raise Problem("The wheels do not stand apart, so their loads can't be worked out.", where="wheels") from None
    if (loads < -1e-6 * weight).any():
        if not left and not forward:
            raise Problem(
                "The car falls over at rest: its centre of gravity is outside its wheels.",
                where="wheels",
                hint="Look at what weighs most, and where it and the wheels stand.",
            )
        how = (
            f"{abs(left):g} g in a corner" if left else f"{abs(forward):g} g of {'braking' if forward < 0 else 'drive'}"
        )
        raise Problem(
            f"The car would tip over at {how}.", where="levels", hint="Lower the level, or the centre of gravity."
        )
    return np.maximum(loads, 0.0)
