"""Distances between straight pieces of centreline, many at once."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def distances(a: Floats, b: Floats, c: Floats, d: Floats) -> tuple[Floats, Floats, Floats]:
    """How near the pieces a–b and c–d (n, 3) come to each other (n,), mm, and the shares (n,), 0 to 1, at which they
    do.

    The unconstrained nearest places are clamped to the pieces in turn (Ericson, Real-Time Collision Detection, 5.1.9).
    """
    u, v, w = b - a, d - c, a - c
    uu, vv = (np.maximum(np.einsum("ij,ij->i", x, x), 1e-12) for x in (u, v))
    uv, uw, vw = (np.einsum("ij,ij->i", x, y) for x, y in ((u, v), (u, w), (v, w)))
    denominator = uu * vv - uv**2
    skew = denominator > 1e-9 * uu * vv
    s = np.where(skew, np.clip((uv * vw - vv * uw) / np.where(skew, denominator, 1.0), 0, 1), 0.0)
    t = (uv * s + vw) / vv
    s = np.where(t < 0, np.clip(-uw / uu, 0, 1), np.where(t > 1, np.clip((uv - uw) / uu, 0, 1), s))
    t = np.clip(t, 0, 1)
    gap = np.linalg.norm(w + s[:, None] * u - t[:, None] * v, axis=1)
    return gap, s, t


def boxes_near(low: Floats, high: Floats, reach: float) -> NDArray[np.int64]:
    """Pairs (p, 2), first less than second, of boxes (n, 3) that come within `reach` of each other, mm, by sweeping
    along x."""
    order = np.argsort(low[:, 0])
    stop = np.searchsorted(low[order, 0], high[order, 0] + reach, side="right")
    counts = np.maximum(stop - np.arange(len(order)) - 1, 0)
    first = np.repeat(np.arange(len(order)), counts)
    second = first + 1 + np.arange(len(first)) - np.repeat(np.cumsum(counts) - counts, counts)
    one, two = order[first], order[second]
    near = ((low[one] <= high[two] + reach) & (low[two] <= high[one] + reach)).all(axis=1)
    pairs = np.stack([one[near], two[near]], axis=1)
    pairs.sort(axis=1)
    return pairs
