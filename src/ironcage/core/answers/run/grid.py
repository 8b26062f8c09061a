"""The travels at which wheels are looked at, and some of them."""

import numpy as np
from numpy.typing import NDArray

TRAVELS = 41


def travels(down: float, up: float) -> NDArray[np.float64]:
    """TRAVELS travels from as far down to as far up as a wheel goes (mm), ride height among them, nearly evenly."""
    if down + up <= 0:
        return np.zeros(1)
    below = min(max(round((TRAVELS - 1) * down / (down + up)), int(down > 0)), TRAVELS - 1 - int(up > 0))
    return np.concatenate([np.linspace(-down, 0.0, below + 1)[:-1], np.linspace(0.0, up, TRAVELS - below)])


def some_of(count: int, most: int) -> list[int]:
    """At most so many of a count of rows, evenly, the first and the last among them."""
    return sorted({round(at) for at in np.linspace(0, count - 1, min(most, count))})
