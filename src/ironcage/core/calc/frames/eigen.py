"""The few eigenvalues of a frame's matrices that matter, by Lanczos' method (ARPACK) on a banded factorisation."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

import numpy as np

from ironcage.core.calc.frames.layout import Floats, Layout
from ironcage.problem import Problem

if TYPE_CHECKING:
    from scipy.sparse import csr_array

NOTHING = 1e-15  # beside a matrix of unit diagonal
SMALL = 60  # so few freedoms are solved in full


def largest(layout: Layout, firm: Floats, other: Floats, count: int) -> tuple[Floats, Floats]:
    """The `count` algebraically largest μ of other·v = μ·firm·v, falling, and their vectors (n, count),
    firm-orthonormal.

    firm, other: symmetric element matrices (m, 12, 12), `firm` positive definite when put together. Raises Problem when
    it is not.
    """
    from scipy.linalg import eigh
    from scipy.linalg.lapack import dpbtrf, dpbtrs
    from scipy.sparse.linalg import LinearOperator, eigsh

    n = layout.size
    count = min(count, n)
    band = layout.banded(firm)
    scale = 1 / np.sqrt(np.maximum(band[0], 1e-300))
    if n <= max(SMALL, 3 * count):
        values, vectors = eigh(layout.dense(other), layout.dense(firm), subset_by_index=(n - count, n - 1))
        return values[::-1], vectors[:, ::-1]
    scaled = band * scale
    padded = np.concatenate([scale, np.zeros(layout.band)])
    scaled *= np.lib.stride_tricks.sliding_window_view(padded, n)
    triangle, failed = dpbtrf(scaled, lower=1)
    if failed:
        raise Problem(
            "The frame is a mechanism, so it has no modes.",
            where="frame",
            hint="See what Prove says of its twist first.",
        )

    def over(act: Callable[[Floats], Floats]) -> LinearOperator:
        return LinearOperator((n, n), matvec=act, dtype=np.float64)

    # with v = scale·w both matrices are scaled alike
    firm_matrix, other_matrix = (_sparse(layout, m, scale) for m in (firm, other))
    inverse = over(lambda f: dpbtrs(triangle, f, lower=1)[0].ravel())
    start = np.random.default_rng(7).standard_normal(n)
    if np.abs(other_matrix.data).max(initial=0.0) < NOTHING:  # nothing to find: no axial force in any beam, say
        return np.zeros(count), np.eye(n, count) * scale[:, None]
    values, vectors = eigsh(other_matrix, k=count, M=firm_matrix, Minv=inverse, which="LA", v0=start)
    order = np.argsort(-values)
    return values[order], vectors[:, order] * scale[:, None]


def _sparse(layout: Layout, elements: Floats, scale: Floats) -> csr_array:
    from scipy.sparse import coo_array

    rows = np.broadcast_to(layout.dofs[:, :, None], elements.shape).ravel()
    columns = np.broadcast_to(layout.dofs[:, None, :], elements.shape).ravel()
    kept = (rows >= 0) & (columns >= 0)
    rows, columns = rows[kept], columns[kept]
    values = elements.ravel()[kept] * scale[rows] * scale[columns]
    return coo_array((values, (rows, columns)), shape=(layout.size, layout.size)).tocsr()
