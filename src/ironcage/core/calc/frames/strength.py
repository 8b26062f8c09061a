"""Stress in the members of a frame at chosen places, from the forces at their ends, and how near it comes to what they
stand.

Forces along a member follow from those at its first end by equilibrium alone, bent or straight, for nothing loads it in
between. They change linearly along a straight run and von Mises' stress is a norm, so its greatest value in a run is at
one of its ends: those are the places that need looking at. The greatest normal stress and the greatest shear stress are
taken together although they are not at the same point of the section, which errs on the high side.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.frames.beams import Floats, Frame, Ints


@dataclass(frozen=True, eq=False)
class StressPoints:
    """Places on members where stress is worked out, k of them.

    beam (k,): the member; at (k, 3): where, mm; axes (k, 3, 3): rows along the member there and the section's y and z;
    area (k,), i_y, i_z (k,),
    shear_y, shear_z (k,): figures of the section, mm² and mm⁴; fibre_y, fibre_z, twist (k,): see `sections.Fibres`;
    round (k,): whether it is round.
    """

    beam: Ints
    at: Floats
    axes: Floats
    area: Floats
    i_y: Floats
    i_z: Floats
    shear_y: Floats
    shear_z: Floats
    fibre_y: Floats
    fibre_z: Floats
    twist: Floats
    round: Floats


@dataclass(frozen=True, eq=False)
class Stresses:
    """At each spot in each case (k, cases), MPa: axial (tension positive), bending, torsion and shear; force: the
    axial force, N."""

    axial: Floats
    bending: Floats
    torsion: Floats
    shear: Floats
    force: Floats

    @property
    def mises(self) -> Floats:
        """Von Mises' stress (k, cases), MPa."""
        return np.sqrt((np.abs(self.axial) + self.bending) ** 2 + 3 * (self.torsion + self.shear) ** 2)


def end_forces(frame: Frame, u: Floats) -> Floats:
    """What the joints do to each member (m, 12, cases) in global axes, from displacements (n, 6, cases), N and N·mm."""
    flat = u.reshape(-1, u.shape[-1])
    return np.matmul(frame.global_stiffness, flat[frame.dofs])


def resultants(frame: Frame, forces: Floats, spots: StressPoints) -> Floats:
    """N, Vy, Vz, T, My, Mz at each spot (k, 6, cases): what the part beyond does to the part before it, in the
    section's axes; forces as `end_forces` gives them."""
    first = forces[spots.beam]
    arm = frame.nodes[frame.ends[spots.beam, 0]] - spots.at
    force, moment = -first[:, :3], -first[:, 3:6] - np.cross(arm[:, :, None], first[:, :3], axis=1)
    return np.concatenate([np.matmul(spots.axes, force), np.matmul(spots.axes, moment)], axis=1)


def stresses(made: Floats, spots: StressPoints) -> Stresses:
    """Stress from resultants (k, 6, cases)."""
    n, v_y, v_z, t, m_y, m_z = (np.abs(made[:, i]) if i else made[:, i] for i in range(6))
    about_y, about_z = m_y * (spots.fibre_z / spots.i_y)[:, None], m_z * (spots.fibre_y / spots.i_z)[:, None]
    bending = np.where(spots.round[:, None] > 0, np.hypot(about_y, about_z), about_y + about_z)
    return Stresses(
        n / spots.area[:, None],
        bending,
        t / spots.twist[:, None],
        np.hypot(v_y / spots.shear_y[:, None], v_z / spots.shear_z[:, None]),
        n,
    )


def column_stress(length: Floats, radius: Floats, e: Floats, strength: Floats) -> Floats:
    """Mean stress at which a straight pinned column of a length and least radius of gyration (mm) gives way, MPa.

    Euler's π²E/λ² where slender, J. B. Johnson's parabola fy·(1 − fy·λ²/(4π²E)) where stocky; they meet at half the
    yield strength.
    """
    slender = length / radius
    euler = np.pi**2 * e / np.maximum(slender, 1e-9) ** 2
    return np.where(euler < strength / 2, euler, strength * (1 - strength / (4 * np.maximum(euler, 1e-9))))


def column_use(axial: Floats, bending: Floats, critical: Floats, euler: Floats, strength: Floats) -> Floats:
    """How much of a column is used: P/Pcr + σ_b / (fy·(1 − P/Pe)), its bending made worse by its own push; over 1 it
    gives way.

    axial: mean stress, compression positive, bending: the greatest along it, MPa; critical, euler: `column_stress` and
    π²E/λ². No compression: 0. A push beyond Euler's counts as its share of it and more.
    """
    push = np.maximum(axial, 0.0)
    left = np.maximum(1 - push / euler, 1e-3)
    return np.where(push > 0, push / critical + bending / (strength * left), 0.0)
