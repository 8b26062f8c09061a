"""The shape of deflected beams between their joints."""

import numpy as np

from ironcage.core.calc.frames.beams import Floats, Frame, Ints


def moved(frame: Frame, u: Floats, scale: float, beam: Ints, share: Floats) -> Floats:
    """How far places on members move (k, 3), mm, under displacements u (n, 6) drawn `scale` times as large: each at a
    share (k,) of the way along `beam` (k,).

    Across each beam by the cubic that fits its end displacements and turns (Hermite, exact for an unloaded slender beam
    rigidly joined), along it straight; a pinned end keeps its joint's turn, which only the drawing shows. A bent member
    is drawn as if what moves the straight line between its joints moved it.
    """
    d = frame.element_displacements(u)[beam] * scale
    s, length = share, frame.lengths[beam]
    h1, h2 = 1 - 3 * s**2 + 2 * s**3, 3 * s**2 - 2 * s**3
    h3, h4 = (s - 2 * s**2 + s**3) * length, (s**3 - s**2) * length
    along = d[:, 0] * (1 - s) + d[:, 6] * s
    y = d[:, 1] * h1 + d[:, 7] * h2 + d[:, 5] * h3 + d[:, 11] * h4
    z = d[:, 2] * h1 + d[:, 8] * h2 - d[:, 4] * h3 - d[:, 10] * h4
    return np.asarray(np.einsum("ki,kij->kj", np.stack([along, y, z], axis=-1), frame.axes[beam]))
