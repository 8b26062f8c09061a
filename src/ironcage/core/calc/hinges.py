"""If every joint were a hinge: the independent ways a frame would fold.

The rate at which each bar would stretch for a small motion of the joints is the rigidity matrix; motions that stretch none, less the six of a rigid body, are
mechanisms (Pellegrino and Calladine 1986). Their space has no natural axes. Here it is told by the open bays: each mechanism is given one bay of its
own, that shears in it and in no other (Gauss–Jordan with the largest pivot), so bracing that bay takes away just that one.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
SLACK = 1e-9  # a freedom with less than this share of stiffness left is free
SEEN = 0.02  # a bay that shears less than this share of the fold's largest travel stands still in it


@dataclass(frozen=True)
class Fold:
    """A way to fold. motion (n, 3): of the joints, its largest travel 1; bay: the row of the bay that is its own, or −1 where no bay shears and joints
    only leave their plane; shears: (bay row, share of the largest) of every bay that shears in it, most first."""

    motion: Floats
    bay: int
    shears: tuple[tuple[int, float], ...]


def folds(nodes: Floats, bars: Ints, diagonals: Ints) -> tuple[Fold, ...]:
    """Every independent fold of bars (m, 2) hinged at nodes (n, 3), mm; `diagonals` (b, 2): a pair of nodes across each open bay.

    Nodes that no bar meets are left out. Empty when nothing folds.
    """
    used = np.unique(bars)
    if not len(used):
        return ()
    where = np.full(len(nodes), -1)
    where[used] = np.arange(len(used))
    places = nodes[used]
    free = _null_space(_product(places, where[bars]))
    rigid = _rigid(places)
    free = free - rigid @ (rigid.T @ free)
    u, s, _ = np.linalg.svd(free, full_matrices=False)
    free = u[:, s > 0.5]  # projections of an orthonormal set: what is left has singular values 1, what was rigid 0
    if not free.shape[1]:
        return ()
    motions, owners = _by_bays(free, _stretch(places, where[diagonals], free))
    shears = np.abs(_stretch(places, where[diagonals], motions))
    made = []
    for n, owner in enumerate(owners):
        motion = motions[:, n].reshape(-1, 3)
        travel = float(np.linalg.norm(motion, axis=1).max())
        whole = np.zeros((len(nodes), 3))
        whole[used] = motion / travel
        shear = shears[:, n] / travel
        seen = (
            [(int(b), float(shear[b] / shear.max())) for b in np.argsort(-shear, kind="stable") if shear[b] > SEEN]
            if len(shear)
            else []
        )
        made.append(Fold(whole, owner, tuple(seen)))
    return tuple(made)


def _ways(places: Floats, bars: Ints) -> Floats:
    """Unit directions (m, 3) of bars."""
    way = places[bars[:, 1]] - places[bars[:, 0]]
    return np.asarray(way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-9))


def _stretch(places: Floats, bars: Ints, motions: Floats) -> Floats:
    """Rates of stretch (m, c) of bars in motions (3n, c) of nodes."""
    moved = motions.reshape(len(places), 3, -1)
    return np.einsum("mk,mkc->mc", _ways(places, bars), moved[bars[:, 1]] - moved[bars[:, 0]])


def _product(places: Floats, bars: Ints) -> Floats:
    """RᵀR (3n, 3n) of the rigidity matrix R (m, 3n), put together bar by bar."""
    way = _ways(places, bars)
    both = np.concatenate([-way, way], axis=1)
    freedoms = (bars[:, :, None] * 3 + np.arange(3)).reshape(-1, 6)
    size = 3 * len(places)
    at = freedoms[:, :, None] * size + freedoms[:, None, :]
    made = np.bincount(at.ravel(), (both[:, :, None] * both[:, None, :]).ravel(), size * size)
    return np.asarray(made.reshape(size, size), dtype=np.float64)


def _null_space(product: Floats) -> Floats:
    """An orthonormal basis of the motions that stretch nothing, from RᵀR.

    Cholesky with complete pivoting (LAPACK's pstrf, Higham 1990) stops where no stiffness is left; the freedoms it has not
    reached then move freely and take the others along. A tenth of the time of its eigenvectors.
    """
    from scipy.linalg import solve_triangular
    from scipy.linalg.lapack import dpstrf

    size = len(product)
    lower, order, rank, _ = dpstrf(product, tol=SLACK * max(float(np.diagonal(product).max()), 1.0), lower=1)
    made = np.zeros((size, size - rank))
    if rank < size:
        rows = order - 1
        made[rows[rank:]] = np.eye(size - rank)
        made[rows[:rank]] = -solve_triangular(
            lower[:rank, :rank], lower[rank:, :rank].T, lower=True, trans=1, check_finite=False
        )
        made = np.linalg.qr(made)[0]
    return made


def _rigid(places: Floats) -> Floats:
    """An orthonormal basis (3n, 6) of the motions of a rigid body."""
    at = places - places.mean(axis=0)
    size = max(float(np.abs(at).max()), 1.0)
    shifts = np.tile(np.eye(3), (len(places), 1))
    turns = np.stack([np.cross(axis, at / size).ravel() for axis in np.eye(3)], axis=1)
    u, s, _ = np.linalg.svd(np.hstack([shifts, turns]), full_matrices=False)
    return np.asarray(u[:, s > 1e-9])


def _by_bays(free: Floats, across: Floats) -> tuple[Floats, list[int]]:
    """The same motions mixed so that each of them alone shears one bay, as far as bays tell them apart; and those bays, −1 for the rest."""
    motions, shear = free.copy(), across.copy()
    owners = [-1] * free.shape[1]
    done: list[int] = []
    while len(done) < free.shape[1] and len(shear):
        left = [c for c in range(free.shape[1]) if c not in done]
        best = np.abs(shear[:, left]) / _travel(motions[:, left])
        row, column = np.unravel_index(int(best.argmax()), best.shape)
        if best[row, column] <= SEEN:
            break
        pivot = left[int(column)]
        factor = shear[row, pivot]
        motions[:, pivot] /= factor
        shear[:, pivot] /= factor
        share = shear[row].copy()
        share[pivot] = 0.0
        motions -= np.outer(motions[:, pivot], share)
        shear -= np.outer(shear[:, pivot], share)
        owners[pivot] = int(row)
        done.append(pivot)
    rest = [c for c in range(free.shape[1]) if c not in done]
    if rest:  # motions that no bay shears in: told apart by the joints that move most
        motions[:, rest] = _apart(motions[:, rest])
    return motions, owners


def _travel(motions: Floats) -> Floats:
    """The largest travel of any joint in each motion (c,)."""
    return np.asarray(np.linalg.norm(motions.reshape(-1, 3, motions.shape[1]), axis=1).max(axis=0))


def _apart(motions: Floats) -> Floats:
    """Motions mixed so that each moves one freedom that the others leave alone."""
    made = motions.copy()
    done: list[int] = []
    for _ in range(made.shape[1]):
        left = [c for c in range(made.shape[1]) if c not in done]
        row, column = np.unravel_index(int(np.abs(made[:, left]).argmax()), (len(made), len(left)))
        pivot = left[int(column)]
        made[:, pivot] /= made[row, pivot]
        share = made[row].copy()
        share[pivot] = 0.0
        made -= np.outer(made[:, pivot], share)
        done.append(pivot)
    return made
