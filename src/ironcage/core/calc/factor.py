"""Assemble a frame's stiffness, factorise it once and say when it is a mechanism.

Dense Cholesky up to DENSE_LIMIT free degrees of freedom, sparse LU in symmetric mode beyond. Every
degree of freedom is first scaled to a unit diagonal, so that a pivot is the share of its stiffness that
the rest of the frame leaves it, whatever the units.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ironcage.problem import Problem

if TYPE_CHECKING:
    from ironcage.core.calc.beams import Frame

Floats = NDArray[np.float64]
Solver = Callable[[Floats], Floats]
DENSE_LIMIT = 400
LOOSE_PIVOT = 1e-11  # a smaller share of its own stiffness left to a freedom means that nothing holds it


class Factor:
    """The factorised stiffness of a frame with some freedoms held.

    Freedoms that no element stiffens (rotations of a joint whose tubes are all pinned to it) are left out
    and stay zero. Raises Problem when the frame is a mechanism.
    """

    def __init__(self, frame: Frame, held: NDArray[np.bool_]) -> None:
        self.frame = frame
        self.size = 6 * len(frame.nodes)
        stiffness, freedoms = frame.elements
        diagonal = np.bincount(freedoms.ravel(), np.einsum("mii->mi", stiffness).ravel(), self.size)
        self.free = np.flatnonzero(~held.ravel() & (diagonal > 0))
        self._unit = np.zeros(self.size)
        self._unit[diagonal > 0] = 1 / np.sqrt(diagonal[diagonal > 0])
        self.scale = self._unit[self.free]
        where = np.full(self.size, -1)
        where[self.free] = np.arange(len(self.free))
        dofs = where[freedoms]
        self._rows = np.broadcast_to(dofs[:, :, None], stiffness.shape).ravel()
        self._columns = np.broadcast_to(dofs[:, None, :], stiffness.shape).ravel()
        self._values = stiffness.ravel()
        if len(self.free) <= DENSE_LIMIT:
            self._solve = self._dense()
        else:
            self._solve = self._sparse()

    def solve(self, f: Floats) -> Floats:
        """Displacements (6n, cases) for loads (6n, cases); held freedoms stay zero."""
        u = np.zeros_like(f)
        if len(self.free):
            u[self.free] = self.scale[:, None] * self._solve(self.scale[:, None] * f[self.free])
        return u

    def multiply(self, u: Floats) -> Floats:
        """K·u (6n, cases), element by element, over all freedoms."""
        stiffness, freedoms = self.frame.elements
        forces = np.einsum("mij,mjc->mic", stiffness, u[freedoms])
        out = np.zeros_like(u)
        np.add.at(out, freedoms.ravel(), forces.reshape(-1, u.shape[1]))
        return out

    def left_over(self, u: Floats, f: Floats) -> tuple[Floats, float]:
        """K·u − f (6n, cases), and its largest entry over the free freedoms as a share of the largest load, both in the
        scaled freedoms of the factorisation, so that forces and moments compare. Refuses a share over 1e-6."""
        force = self.multiply(u) - f
        load = float(np.abs(f * self._unit[:, None]).max(initial=0.0))
        share = float(np.abs(force[self.free] * self.scale[:, None]).max(initial=0.0)) / max(load, 1e-300)
        if not share < 1e-6:  # also when it is not a number
            raise Problem("The frame is too badly conditioned to be worked out.", where="frame",
                          hint="Look for very short or very thin tubes.")  # fmt: skip
        return force, share

    @cached_property
    def _kept(self) -> tuple[NDArray[np.int64], NDArray[np.int64], Floats]:
        keep = (self._rows >= 0) & (self._columns >= 0)
        rows, columns = self._rows[keep], self._columns[keep]
        return rows, columns, self._values[keep] * self.scale[rows] * self.scale[columns]

    def _dense(self) -> Solver:
        from scipy.linalg import LinAlgError, cho_solve, cholesky

        n = len(self.free)
        rows, columns, values = self._kept
        matrix = np.bincount(rows * n + columns, values, n * n).reshape(n, n)
        try:
            triangle = cholesky(matrix, lower=True, check_finite=False)
            pivots = np.diagonal(triangle) ** 2
        except LinAlgError:
            pivots = np.zeros(1)
        if n and pivots.min() < LOOSE_PIVOT:
            vectors = np.linalg.eigh(matrix)[1]
            raise self._mechanism(vectors[:, 0])
        return lambda f: cho_solve((triangle, True), f, check_finite=False)

    def _sparse(self) -> Solver:
        from scipy.sparse import coo_array, eye_array
        from scipy.sparse.linalg import splu

        n = len(self.free)
        rows, columns, values = self._kept
        matrix = coo_array((values, (rows, columns)), shape=(n, n)).tocsc()
        options = {"SymmetricMode": True}
        try:
            lu = splu(matrix, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options=options)
            loose = np.abs(lu.U.diagonal()).min() < LOOSE_PIVOT
        except RuntimeError:  # SuperLU's word for an exactly singular matrix
            loose = True
        if loose:
            shifted = splu((matrix + 1e-9 * eye_array(n, format="csc")).tocsc(), permc_spec="MMD_AT_PLUS_A")
            vector = np.random.default_rng(0).standard_normal(n)
            for _ in range(6):
                vector = shifted.solve(vector)
                vector /= np.linalg.norm(vector)
            raise self._mechanism(vector)
        return lu.solve

    def _mechanism(self, vector: Floats) -> Mechanism:
        moved = np.zeros(self.size)
        moved[self.free] = self.scale * vector
        motion = moved.reshape(-1, 6)
        travel = np.linalg.norm(motion[:, :3], axis=1)
        if travel.max() == 0:
            travel = np.linalg.norm(motion[:, 3:], axis=1)
        return Mechanism(self.frame.node_name(int(travel.argmax())), motion / travel.max())


class Mechanism(Problem):
    """Nothing stops a motion of the frame; `motion` (n, 6) is that motion, its largest travel 1."""

    def __init__(self, joint: str, motion: Floats) -> None:
        self.motion = motion
        super().__init__(
            f"The frame is a mechanism: {joint} can move with nothing to stop it.",
            where=joint, hint="Weld a pinned end, add a tube, or hold another joint.",
        )  # fmt: skip
