"""The travels at which wheels are looked at."""

import numpy as np
from numpy.typing import NDArray

TRAVELS = 41


def travels(down: float, up: float) -> NDArray[np.float64]:
    """TRAVELS travels from as far down to as far up as a wheel goes (mm), ride height among them, nearly evenly."""
    if down + up <= 0:
        return np.zeros(1)
    below = min(max(round((TRAVELS - 1) * down / (down + up)), int(down > 0)), TRAVELS - 1 - int(up > 0))
    return np.concatenate([np.linspace(-down, 0.0, below + 1)[:-1], np.linspace(0.0, up, TRAVELS - below)])
