"""How far a convex solid can go along a way before it is as near to another as it may be, for many pairs at once.

Each step goes as far as the plane between the two nearest places allows, which never goes too far: all of the other
solid lies behind that plane.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ironcage.core.calc.solids.convex import Floats, Solid
from ironcage.core.calc.solids.gaps import gaps

ENOUGH_MM = 0.005
MOST_STEPS = 60
PASSES = 1e-6  # as a cosine: a solid that comes no nearer along its way passes by
CLEAR_MM = 1.0  # between the two where the search begins


def approach(moving: Sequence[Solid], still: Sequence[Solid], way: Floats, margins: Floats) -> Floats:
    """How far (m,) each of some solids, coming from far off along the unit `way` (3,), is from where it stands when it
    first is as near to its other solid as its margin (m,): positive further on, mm; infinite where it passes by."""
    count = len(moving)
    if not count:
        return np.zeros(0)
    at = np.array([_least(s, way) + _least(m, -way) for m, s in zip(moving, still, strict=True)]) - margins - CLEAR_MM
    rows = np.arange(count)
    for _ in range(MOST_STEPS):
        now = [moving[n].moved(np.eye(3), at[n] * way) for n in rows.tolist()]
        made = gaps(now, [still[n] for n in rows.tolist()])
        between = made.on_second - made.on_first
        size = np.linalg.norm(between, axis=1)
        rate = np.divide(between @ way, size, out=np.ones(len(rows)), where=size > 0)
        left = made.distance - margins[rows]
        passes = (rate < PASSES) & (left > ENOUGH_MM)
        at[rows[passes]] = np.inf
        at[rows[~passes]] += np.maximum(left, 0.0)[~passes] / np.maximum(rate[~passes], PASSES)
        rows = rows[~passes & (left > ENOUGH_MM)]
        if not rows.size:
            break
    return at


def _least(solid: Solid, way: Floats) -> float:
    """The least place of a solid along a unit direction, mm."""
    across = float(np.sqrt(max(0.0, 1.0 - float(solid.axis @ way) ** 2)))
    return float((solid.points @ way).min()) - solid.disc * across - solid.ball
