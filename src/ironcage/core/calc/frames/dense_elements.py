"""A stiffness over many freedoms, shared out into elements of twelve as every other element of a frame has."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def as_elements(k: Floats, freedoms: Ints) -> list[tuple[Floats, Ints]]:
    """A stiffness over many freedoms as several (12, 12) ones that add up to it."""
    blocks = [np.arange(n, min(n + 6, len(freedoms))) for n in range(0, len(freedoms), 6)]
    made = []
    for a, one in enumerate(blocks):
        for two in blocks[a + 1 :] or ([] if a else [one]):
            rows = np.concatenate([one, two]) if two is not one else one
            part = np.zeros((12, 12))
            kept = k[np.ix_(rows, rows)].copy()
            share = max(len(blocks) - 1, 1)
            size = len(one)
            kept[:size, :size] /= share
            kept[size:, size:] /= share
            part[: len(rows), : len(rows)] = kept
            made.append((part, np.concatenate([freedoms[rows], np.repeat(freedoms[rows[:1]], 12 - len(rows))])))
    return made
