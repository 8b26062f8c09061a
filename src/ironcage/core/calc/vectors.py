"""Vectors of a few hundred points at a time, where NumPy's own routines spend most of their time on finding axes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def cross(a: Floats, b: Floats) -> Floats:
    """The vector product along the last axis, (..., 3); the two broadcast against each other."""
    return np.stack(
        [
            a[..., 1] * b[..., 2] - a[..., 2] * b[..., 1],
            a[..., 2] * b[..., 0] - a[..., 0] * b[..., 2],
            a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0],
        ],
        axis=-1,
    )
