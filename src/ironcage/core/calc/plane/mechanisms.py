"""If every joint were a hinge: the independent ways a frame would fold.

The rate at which each bar would stretch for a small motion of the joints is the rigidity matrix; motions that stretch
none, less the six of a rigid body, are mechanisms (Pellegrino and Calladine 1986). Their space has no natural axes.
Here it is told by the open bays: each mechanism is given one bay of its own, in which it alone shears, so bracing that
bay takes away just that one.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
SLACK = 1e-9  # a freedom with less than this share of stiffness left is free
EQUAL = 1e-6  # entries that differ by a smaller share are as large
SEEN = 0.02  # a bay that shears less than this share of the fold's largest travel stands still in it


@dataclass(frozen=True)
class Mechanism:
    """A way to fold. motion (n, 3): of the joints, its largest travel 1; bay: the row of the bay that is its own, or
    −1 where no bay shears and joints only leave their plane; shears: (bay row, share of the largest) of every bay
    that shears in it, most first."""

    motion: Floats
    bay: int
    shears: tuple[tuple[int, float], ...]


def find_mechanisms(nodes: Floats, bars: Ints, diagonals: Ints) -> tuple[Mechanism, ...]:
    """Every independent fold of bars (m, 2) hinged at nodes (n, 3), mm; `diagonals` (b, 2): a pair of nodes across each
    open bay.

    Nodes that no bar meets are left out. Empty when nothing folds.
    """
    used = np.unique(bars)
    if not len(used):
        return ()
    where = np.full(len(nodes), -1)
    where[used] = np.arange(len(used))
    places = nodes[used]
    free = _null_space(_product(places, where[bars]))
    rigid = free.T @ _rigid(places)  # a rigid body's motions stretch nothing, so they are among the free ones
    free = free @ np.linalg.qr(rigid, mode="complete")[0][:, rigid.shape[1] :]
    if not free.shape[1]:
        return ()
    motions, owners = _by_bays(free, _stretch(places, where[diagonals], free))
    motions = motions / _travel(motions)
    made = []
    for motion, shear, owner in zip(
        motions.T, np.abs(_stretch(places, where[diagonals], motions)).T, owners, strict=True
    ):
        whole = np.zeros((len(nodes), 3))
        whole[used] = motion.reshape(-1, 3)
        seen = np.flatnonzero(shear > SEEN)
        seen = seen[np.argsort(-shear[seen], kind="stable")]
        shares = shear[seen] / shear.max(initial=0.0)
        made.append(Mechanism(whole, owner, tuple(zip(seen.tolist(), shares.tolist(), strict=True))))
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

    Cholesky with complete pivoting (LAPACK's pstrf, Higham 1990) stops where no stiffness is left; the freedoms it has
    not reached then move freely and take the others along. A tenth of the time of its eigenvectors.
    """
    from scipy.linalg.lapack import dpstrf, dtrtrs

    size = len(product)
    lower, order, rank, _ = dpstrf(product, tol=SLACK * max(float(np.diagonal(product).max()), 1.0), lower=1)
    made = np.zeros((size, size - rank))
    if rank < size:
        loose = np.eye(size, size - rank, -rank)
        lower[rank:, rank:] = loose[rank:]  # in place of what was not reached; then one solution has both
        made[order - 1] = dtrtrs(lower, loose, lower=1, trans=1)[0]
        made = np.linalg.solve(np.linalg.cholesky(made.T @ made), made.T).T  # orthonormal: Cholesky QR
    return made


def _rigid(places: Floats) -> Floats:
    """An orthonormal basis (3n, 6) of the motions of a rigid body."""
    at = places - places.mean(axis=0)
    size = max(float(np.abs(at).max()), 1.0)
    x, y, z = (at / size).T
    made = np.zeros((len(places), 3, 6))
    made[:, :, :3] = np.eye(3)
    made[:, 1, 3], made[:, 2, 3] = -z, y  # about x, then y, then z
    made[:, 0, 4], made[:, 2, 4] = z, -x
    made[:, 0, 5], made[:, 1, 5] = -y, x
    u, s, _ = np.linalg.svd(made.reshape(-1, 6), full_matrices=False)
    return np.asarray(u[:, s > 1e-9])


def _by_bays(free: Floats, across: Floats) -> tuple[Floats, list[int]]:
    """The same motions (3n, c) mixed so that each of them alone shears one bay, as far as bays tell them apart; and
    those bays, −1 for the rest."""
    bays = _telling(across, free)
    own = free @ np.linalg.pinv(across[bays])
    rest = free @ np.linalg.qr(across[bays].T, mode="complete")[0][:, len(bays) :]
    freedoms = _telling(rest, rest)  # no bay shears in these: each moves one freedom that the others leave alone
    return np.hstack([own, rest @ np.linalg.inv(rest[freedoms])]), bays + [-1] * rest.shape[1]


def _telling(shown: Floats, motions: Floats) -> list[int]:
    """Rows of `shown` (b, c) that tell orthonormal motions (3n, c) apart, each the one that shows most of what those
    before it leave open, until it shows too little.

    Gram–Schmidt with pivoting (Businger & Golub 1965), which does not depend on how the motions are mixed. Of rows that
    show as much, as mirrored
    bays do, the first is taken: a small change of the frame does not leap to its other side.
    """
    left = shown.copy()
    picked: list[int] = []
    while len(picked) < shown.shape[1] and len(shown):
        sizes = np.sqrt((left * left).sum(axis=1))
        row = int((sizes > (1 - EQUAL) * sizes.max()).argmax())
        mix = left[row] / max(sizes[row], 1e-300)
        if sizes[row] <= SEEN * _travel(motions @ mix[:, None])[0]:
            break
        picked.append(row)
        left -= np.outer(left @ mix, mix)
    return picked


def _travel(motions: Floats) -> Floats:
    """The largest travel of any joint in each motion (c,)."""
    squares = motions * motions
    return np.asarray(np.sqrt((squares[::3] + squares[1::3] + squares[2::3]).max(axis=0)))
