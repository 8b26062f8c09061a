"""Where each freedom of a frame stands in its equations, so that their band is narrow, and matrices put together in
that order.

Joints are numbered after reverse Cuthill-McKee (1969), held freedoms and those that nothing stiffens left out.
Stiffness, mass and geometric stiffness of one frame share a layout.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
_ROWS, _COLUMNS = np.tril_indices(12)
_LOWER = _ROWS * 12 + _COLUMNS
_DIAGONAL = np.arange(12) * 13
FEW = 64  # so few joints are factorised as they come: numbering them takes longer than it saves


@dataclass(frozen=True, eq=False)
class Layout:
    """free (n,): the freedoms worked out, in the order of the equations; dofs (m, 12): where each element's freedoms
    stand in them, −1 where held."""

    free: Ints
    dofs: Ints

    @property
    def size(self) -> int:
        """How many equations there are."""
        return len(self.free)

    @cached_property
    def band(self) -> int:
        """How far from the diagonal the farthest entry is."""
        known = self.dofs >= 0
        high = np.where(known, self.dofs, -1).max(axis=1, initial=-1)
        low = np.where(known, self.dofs, self.size).min(axis=1, initial=self.size)
        return int(np.maximum(high - low, 0).max(initial=0))

    @cached_property
    def _in_band(self) -> Ints:
        """Where each entry of the lower triangles stands in a band, column after column."""
        rows, columns = self._places
        return (columns * (self.band + 1) + (rows - columns)).ravel()

    @cached_property
    def _places(self) -> tuple[Ints, Ints]:
        """Row and column (m, 78) of the lower triangle's entries of every element; of those left out both are
        `size`."""
        one, other = self.dofs.take(_ROWS, axis=1), self.dofs.take(_COLUMNS, axis=1)
        out = (one < 0) | (other < 0)
        return np.where(out, self.size, np.maximum(one, other)), np.where(out, self.size, np.minimum(one, other))

    def banded(self, elements: Floats) -> Floats:
        """Symmetric element matrices (m, 12, 12) put together: the lower band (band + 1, n), entry (i, j) at [i − j,
        j]."""
        deep = self.band + 1
        made = np.bincount(self._in_band, _lower(elements), (self.size + 1) * deep)
        return np.asarray(made[: self.size * deep].reshape(self.size, deep).T, dtype=np.float64)

    def dense(self, elements: Floats) -> Floats:
        """The same as a full matrix (n, n)."""
        rows, columns = self._places
        wide = self.size + 1
        made = np.bincount((rows * wide + columns).ravel(), _lower(elements), wide * wide)
        lower = made.reshape(wide, wide)[:-1, :-1]
        return np.asarray(lower + np.tril(lower, -1).T)


def _lower(elements: Floats) -> Floats:
    """The lower triangles (78 m,) of matrices (m, 12, 12), one after the other."""
    return elements.reshape(-1, 144).take(_LOWER, axis=1).ravel()


def layout(count: int, stiffness: Floats, freedoms: Ints, held: NDArray[np.bool_]) -> Layout:
    """A layout for `count` joints whose elements have stiffnesses (m, 12, 12) over freedoms (m, 12), held (count, 6)
    where True."""
    diagonal = np.bincount(freedoms.ravel(), stiffness.reshape(-1, 144).take(_DIAGONAL, axis=1).ravel(), 6 * count)
    return laid_out(freedoms.tobytes(), (~held.ravel() & (diagonal > 0)).tobytes())


@lru_cache(4)  # joints that move, and tubes of another size, leave it as it is
def laid_out(between: bytes, stiffened: bytes) -> Layout:
    """The layout of elements over freedoms (m, 12), of which those are worked out (6 count,) that are `stiffened`."""
    freedoms, wanted = np.frombuffer(between, dtype=np.int64).reshape(-1, 12), np.frombuffer(stiffened, dtype=bool)
    count = len(wanted) // 6
    if count > FEW:
        order = (_numbering(count, freedoms)[:, None] * 6 + np.arange(6)).ravel()
        free = order[wanted[order]]
    else:
        free = np.flatnonzero(wanted)
    where = np.full(6 * count, -1)
    where[free] = np.arange(len(free))
    made = Layout(free, where[freedoms])
    for shared in (made.free, made.dofs):
        shared.setflags(write=False)
    return made


def _numbering(count: int, freedoms: Ints) -> Ints:
    """Joints in the order of their equations."""
    from scipy.sparse import csr_array
    from scipy.sparse.csgraph import reverse_cuthill_mckee

    joints = freedoms[:, ::3] // 6  # a beam's joints twice each, a sheet's corners
    one, other = joints.ravel(), np.roll(joints, -1, axis=1).ravel()
    apart = one != other
    one, other = one[apart], other[apart]
    rows, columns = np.concatenate([one, other]), np.concatenate([other, one])
    starts = np.concatenate([[0], np.cumsum(np.bincount(rows, minlength=count))])
    order = np.argsort(rows, kind="stable")
    graph = csr_array((np.ones(len(rows)), columns[order], starts), shape=(count, count))
    return np.asarray(reverse_cuthill_mckee(graph, symmetric_mode=True), dtype=np.int64)
