"""What a frame would do with some of its members changed, from one factorisation: exact, as a low-rank change of its
stiffness (Woodbury's identity).

With the flexibility F = K⁻¹ and a change ΔK of a few freedoms d: u' = u − F_d·(1 + ΔK·F_dd)⁻¹·ΔK·u_d. Loads that
balance among themselves and are also what is measured (a twist test) change their compliance f·u by −u_dᵀ·(1 +
ΔK·F_dd)⁻¹·ΔK·u_d.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.frames.factor import LOOSE_PIVOT, Factor
from ironcage.core.calc.frames.layout import Floats, Ints

DOUBTFUL = 1e-5  # a smaller determinant is looked at closely
NOTHING = 1e-9  # of what a member could carry at its movement


@dataclass(frozen=True, eq=False)
class Changes:
    """Changes to try, g of them. dofs (g, d): global freedoms; stiffness (g, d, d): what is added to the frame's
    there, N and mm. One that touches fewer freedoms repeats one with zeros."""

    dofs: Ints
    stiffness: Floats

    @staticmethod
    def of(groups: list[list[tuple[Ints, Floats]]]) -> Changes:
        """Each change from its elements' freedoms (12,) and stiffnesses (12, 12): a tube and its mirror image, for
        example."""
        most = max((len(g) for g in groups), default=1)
        dofs = np.zeros((len(groups), 12 * most), dtype=np.int64)
        added = np.zeros((len(groups), 12 * most, 12 * most))
        for n, group in enumerate(groups):
            for place, (at, k) in enumerate(group):
                rows = slice(12 * place, 12 * place + 12)
                dofs[n, rows], added[n, rows, rows] = at, k
        return Changes(dofs, added)


@dataclass(frozen=True, eq=False)
class WhatIf:
    """A factorised frame, and its displacements u (6n, cases) under loads that balance among themselves."""

    factor: Factor
    u: Floats

    @cached_property
    def _flexibility(self) -> tuple[Floats, Ints]:
        """K⁻¹ over the free freedoms with a row and column of zeros after them, and where each freedom stands in it
        (6n,)."""
        n = self.factor.layout.size
        made = np.zeros((n + 1, n + 1))
        scale = self.factor.scale
        made[:n, :n] = self.factor.scaled_inverse() * scale * scale[:, None]
        where = np.full(len(self.u), n)
        where[self.factor.free] = np.arange(n)
        return made, where

    def _cores(self, changes: Changes) -> tuple[Floats, NDArray[np.bool_]]:
        """(1 + ΔK·F_dd)⁻¹·ΔK (g, d, d), and whether the frame still holds (g,)."""
        flexibility, where = self._flexibility
        at = where[changes.dofs]
        inner = np.matmul(changes.stiffness, flexibility[at[:, :, None], at[:, None, :]])
        inner[:, range(inner.shape[1]), range(inner.shape[1])] += 1.0
        holds = np.ones(len(at), dtype=bool)
        for n in np.flatnonzero(np.abs(np.linalg.det(inner)) < DOUBTFUL):
            holds[n] = np.linalg.svd(inner[n], compute_uv=False).min() > LOOSE_PIVOT
        inner[~holds] = np.eye(inner.shape[1])
        return np.asarray(np.linalg.solve(inner, changes.stiffness)), holds

    def softer(self, changes: Changes) -> Floats:
        """By how much the compliance f·u of each case grows with each change (g, cases), N·mm; infinite where the
        frame would fall apart."""
        cores, holds = self._cores(changes)
        local = self.u[changes.dofs]
        made = -np.einsum("gdc,gdc->gc", local, np.matmul(cores, local))
        made[~holds] = np.inf
        made[self._idle(changes)] = 0.0
        return made

    def _idle(self, changes: Changes) -> NDArray[np.bool_]:
        """Where what is changed carries nothing (g, cases), as a tube with an end in the air: its going changes
        nothing, however little else holds it."""
        local = self.u[changes.dofs]
        force = np.abs(np.matmul(changes.stiffness, local)).max(axis=1)
        whole = np.abs(changes.stiffness).max(axis=(1, 2))[:, None] * np.abs(local).max(axis=1)
        return np.asarray(force <= NOTHING * whole)

    def displaced(self, changes: Changes, one: int) -> Floats | None:
        """Displacements (6n, cases) with the change of that number made; None where the frame would fall apart."""
        picked = Changes(changes.dofs[[one]], changes.stiffness[[one]])
        cores, holds = self._cores(picked)
        if not holds[0]:
            return None
        flexibility, where = self._flexibility
        at = where[picked.dofs[0]]
        moved = self.u.copy()
        free = self.factor.free
        moved[free] -= flexibility[:-1, at] @ (cores[0] @ self.u[picked.dofs[0]])
        return moved
