"""Whether a corner whose pickups were moved moves its wheel as before: so it does where they slide along their own
pivot axis."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.corner import AxleRun
from ironcage.core.calc.linkage.wishbone import CornerCurves

ANGLES = ("camber", "toe_in", "caster", "kingpin")
LENGTHS = ("scrub", "trail", "out", "ahead")


@dataclass(frozen=True)
class Alike:
    """By how much figures of two corners differ at most anywhere on their way: angles, rad, and lengths, mm."""

    angle: float
    length: float


def differs(one: AxleRun, other: AxleRun) -> Alike | None:
    """How far a wheel moves otherwise than on other pickups; None where the pickups are the same, or the wheels are not
    looked at alike."""
    same = all(np.array_equal(getattr(one.corner, arm), getattr(other.corner, arm)) for arm in ("lower", "upper"))
    if same or one.found.closed.shape != other.found.closed.shape or not (one.closes and other.closes):
        return None
    if not np.array_equal(one.found.travel, other.found.travel) or not np.array_equal(one.found.rack, other.found.rack):
        return None
    return Alike(*(_most(one.told, other.told, names) for names in (ANGLES, LENGTHS)))


def _most(one: CornerCurves, other: CornerCurves, names: tuple[str, ...]) -> float:
    return max(float(np.abs(getattr(one, name) - getattr(other, name)).max()) for name in names)
