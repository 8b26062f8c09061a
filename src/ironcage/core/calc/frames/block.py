"""An engine or gearbox that carries load: a rigid body held to the frame at its mounts, each a spring in all three
directions and free to turn.

The body's own six freedoms are condensed out: K = S − S·R·(Rᵀ·S·R)⁻¹·Rᵀ·S, with the mounts' stiffness S and the rigid
motions R.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.frames.dense_elements import as_elements

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Block:
    """A body. corners: the joints it is bolted to, by number; mount: stiffness of each, N/mm."""

    corners: tuple[int, ...]
    mount: float

    def elements(self, nodes: Floats) -> list[tuple[Floats, Ints]]:
        """Stiffnesses (12, 12) in global axes with their freedoms (12,), from nodes (n, 3), mm."""
        places = nodes[list(self.corners)]
        x, y, z = (places - places.mean(axis=0)).T
        zero = np.zeros(len(places))
        rigid = np.concatenate(
            [
                np.tile(np.eye(3), (len(places), 1)),
                np.stack([[zero, z, -y], [-z, zero, x], [y, -x, zero]]).transpose(2, 1, 0).reshape(-1, 3),
            ],
            axis=1,
        )
        # of mounts in one line the turn about that line is no motion of theirs, which the pseudo-inverse leaves out
        k = self.mount * (np.eye(len(rigid)) - rigid @ np.linalg.pinv(rigid))
        freedoms = (np.array(self.corners)[:, None] * 6 + np.arange(3)).ravel()
        return as_elements(k, freedoms)
