"""Numbers as points and lines that a painter takes in one go, with no object of Python's for each of thousands."""

from typing import Any

import numpy as np
from PyQt6 import sip
from PyQt6.QtCore import QLineF, QPointF

from ironcage.core.calc.frames.beams import Floats


def points(places: Floats) -> "sip.array[QPointF | None]":
    """Places (n, 2), px."""
    return _filled(QPointF, places)


def lines(ends: Floats) -> "sip.array[QLineF | None]":
    """Lines (n, 4) from x, y to x, y, px."""
    return _filled(QLineF, ends)


def _filled(kind: type, rows: Floats) -> Any:
    """As many of a kind that Qt keeps as doubles in a row."""
    made: Any = sip.array(kind, len(rows))  # type: ignore[call-arg]  # which its stub leaves out
    if len(rows):
        room = sip.voidptr(made, rows.size * 8)
        np.frombuffer(room, dtype=np.float64).reshape(rows.shape)[:] = rows  # type: ignore[call-overload]
    return made
