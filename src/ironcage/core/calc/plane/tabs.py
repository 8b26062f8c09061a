"""The outline of a tab that is cut to the tube it stands on."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.tubes.receivers import Receiver, facing, passing

Floats = NDArray[np.float64]
AROUND = 24  # chords that the foot of a tab is drawn in: a hundredth of a mm on tubes in use


def tab_foot(receiver: Receiver, hole: Floats, off: Floats, across: Floats, width: float) -> tuple[Floats, float]:
    """Where the plane of a tab meets its tube.

    hole (3,): the hole's middle; off, across (3,): unit directions in the plate, away from the tube and square to that;
    width: of the tab, mm. Told are the foot (25, 2), from one side to the other: across, and off from the hole
    (negative: towards the tube), mm; and by how much the widest part misses the tube, mm, 0 where all of it lands.
    """
    aside = np.linspace(-width / 2, width / 2, AROUND + 1)
    places = hole + aside[:, None] * across
    left, _ = facing(receiver, off)(places)
    return np.column_stack([aside, left]), float(passing(receiver, off, places).max())
