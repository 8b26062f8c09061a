"""Factorise a frame's stiffness once and say when it is a mechanism.

Banded Cholesky where the band is narrow (LAPACK pbtrf), as it is for anything built of tubes; sparse LU in symmetric
mode beyond BAND_LIMIT entries. Every degree of freedom is first scaled to a unit diagonal, so that a pivot is the share
of its stiffness that the rest of the frame leaves it, whatever the units.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

import numpy as np
from numpy.lib.stride_tricks import as_strided
from numpy.typing import NDArray

from ironcage.core.calc.frames.layout import layout
from ironcage.problem import Problem

if TYPE_CHECKING:
    from ironcage.core.calc.frames.beams import Frame

Floats = NDArray[np.float64]
Solver = Callable[[Floats], Floats]
BAND_LIMIT = 6_000_000
LOOSE_PIVOT = 1e-11  # a smaller share of its own stiffness left to a freedom means that nothing holds it
NUDGE = 1e-9  # a share of its stiffness given to every freedom of a mechanism, so that its motion can be worked out


class Factor:
    """The factorised stiffness of a frame with some freedoms held.

    Freedoms that no element stiffens (rotations of a joint whose tubes are all pinned to it) are left out
    and stay zero. Raises Problem when the frame is a mechanism.
    """

    def __init__(self, frame: Frame, held: NDArray[np.bool_]) -> None:
        self.frame = frame
        self._stiffness, self._freedoms = frame.elements
        self.layout = layout(len(frame.nodes), self._stiffness, self._freedoms, held)
        self.free = self.layout.free
        band = self.layout.banded(self._stiffness)
        self.scale = 1 / np.sqrt(band[0])
        padded = np.concatenate([self.scale, np.zeros(self.layout.band)])
        band *= self.scale
        band *= as_strided(padded, band.shape, 2 * padded.strides, writeable=False)  # row i holds the scales from i on
        self._solve = self._factorised(band)

    def solve(self, f: Floats) -> Floats:
        """Displacements (6n, cases) for loads (6n, cases); held freedoms stay zero."""
        u = np.zeros_like(f)
        if len(self.free):
            u[self.free] = self.scale[:, None] * self._solve(self.scale[:, None] * f[self.free])
        return u

    def scaled_inverse(self) -> Floats:
        """The inverse (n, n) of the stiffness scaled to a unit diagonal, over the free freedoms."""
        return np.asarray(self._solve(np.eye(self.layout.size)))

    def multiply(self, u: Floats) -> Floats:
        """K·u (6n, cases), element by element, over all freedoms."""
        forces = np.matmul(self._stiffness, u[self._freedoms]).reshape(-1, u.shape[1])
        at = self._freedoms.ravel()
        return np.stack([np.bincount(at, column, len(u)) for column in forces.T], axis=1)

    def left_over(self, u: Floats, f: Floats) -> tuple[Floats, float]:
        """K·u − f (6n, cases), and its largest entry over the free freedoms as a share of the largest load, both in the
        scaled freedoms of the factorisation, so that forces and moments compare. Refuses a share over 1e-6."""
        force = self.multiply(u) - f
        load = float(np.abs(f[self.free] * self.scale[:, None]).max(initial=0.0))
        share = float(np.abs(force[self.free] * self.scale[:, None]).max(initial=0.0)) / max(load, 1e-300)
        if not share < 1e-6:  # also when it is not a number
            raise Problem(
                "The frame is too badly conditioned to be worked out.",
                where="frame",
                hint="Look for very short or very thin tubes.",
            )
        return force, share

    def _factorised(self, band: Floats) -> Solver:
        from scipy.linalg.lapack import dpbtrf, dpbtrs

        if band.size > BAND_LIMIT:
            return self._sparse(band)
        triangle, failed = dpbtrf(band, lower=1)
        if band.size and (failed or triangle[0].min() ** 2 < LOOSE_PIVOT):
            nudged = band.copy()
            nudged[0] += NUDGE
            nearly, _ = dpbtrf(nudged, lower=1)
            raise self._mechanism(lambda f: dpbtrs(nearly, f, lower=1)[0])
        return lambda f: dpbtrs(triangle, f, lower=1)[0]

    def _sparse(self, band: Floats) -> Solver:
        from scipy.sparse import dia_array, eye_array
        from scipy.sparse.linalg import splu

        n = self.layout.size
        lower = dia_array((band, -np.arange(len(band))), shape=(n, n))
        matrix = (lower + dia_array((band[1:], -np.arange(1, len(band))), shape=(n, n)).T).tocsc()
        options = {"SymmetricMode": True}
        try:
            lu = splu(matrix, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options=options)
            loose = np.abs(lu.U.diagonal()).min() < LOOSE_PIVOT
        except RuntimeError:  # SuperLU's word for an exactly singular matrix
            loose = True
        if loose:
            nudged = splu((matrix + NUDGE * eye_array(n, format="csc")).tocsc(), permc_spec="MMD_AT_PLUS_A")
            raise self._mechanism(nudged.solve)
        return lu.solve

    def _mechanism(self, nearly: Solver) -> MechanismError:
        """The motion that the equations resist least, by inverse iteration on the nudged ones."""
        vector = np.random.default_rng(0).standard_normal(self.layout.size)
        for _ in range(6):
            vector = nearly(vector)
            vector /= np.linalg.norm(vector)
        moved = np.zeros(6 * len(self.frame.nodes))
        moved[self.free] = self.scale * vector
        motion = moved.reshape(-1, 6)
        travel = np.linalg.norm(motion[:, :3], axis=1)
        if travel.max() == 0:
            travel = np.linalg.norm(motion[:, 3:], axis=1)
        return MechanismError(self.frame.node_name(int(travel.argmax())), motion / travel.max())


class MechanismError(Problem):
    """Nothing stops a motion of the frame; `motion` (n, 6) is that motion, its largest travel 1."""

    def __init__(self, joint: str, motion: Floats) -> None:
        self.motion = motion
        super().__init__(
            f"The frame is a mechanism: {joint} can move with nothing to stop it.",
            where=joint,
            hint="Weld a pinned end, add a tube, or hold another joint.",
        )
