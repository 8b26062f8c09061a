"""Fits of round parts: how large a shaft or a bore of a nominal size may be, from ISO 286-2's tables (hole basis)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ironcage.problem import Problem
from ironcage.units import said

Fit = Literal["press", "push", "slide", "free"]
STEPS_MM = (3.0, 6.0, 10.0, 18.0, 30.0, 50.0, 80.0, 120.0, 180.0, 250.0)  # each up to and with
SHAFTS: Mapping[str, tuple[str, tuple[tuple[int, int], ...]]] = {  # by fit: its name, lower and upper limit, µm
    "press": (
        "p6",
        ((6, 12), (12, 20), (15, 24), (18, 29), (22, 35), (26, 42), (32, 51), (37, 59), (43, 68), (50, 79)),
    ),
    "push": ("h6", tuple((-t, 0) for t in (6, 8, 9, 11, 13, 16, 19, 22, 25, 29))),
    "slide": (
        "g6",
        (
            (-8, -2),
            (-12, -4),
            (-14, -5),
            (-17, -6),
            (-20, -7),
            (-25, -9),
            (-29, -10),
            (-34, -12),
            (-39, -14),
            (-44, -15),
        ),
    ),
    "free": (
        "f7",
        (
            (-16, -6),
            (-22, -10),
            (-28, -13),
            (-34, -16),
            (-41, -20),
            (-50, -25),
            (-60, -30),
            (-71, -36),
            (-83, -43),
            (-96, -50),
        ),
    ),
}
BORES_UM = (10, 12, 15, 18, 21, 25, 30, 35, 40, 46)  # H7: from the nominal size up
USES: Mapping[str, str] = {
    "press": "pressed in, stays",
    "push": "pushed in by hand, no play",
    "slide": "slides and turns with the least play",
    "free": "turns freely, with oil",
}


@dataclass(frozen=True)
class Limits:
    """A size as it is made. name: of the tolerance, as ISO 286 calls it; least, most: mm."""

    name: str
    least: float
    most: float


def _step(size_mm: float) -> int:
    if not 0 < size_mm <= STEPS_MM[-1]:
        raise Problem(
            f"There is no fit for {said.size(size_mm)} in the table.",
            where="fit",
            hint=f"Up to {said.size(STEPS_MM[-1])}.",
        )
    return next(n for n, most in enumerate(STEPS_MM) if size_mm <= most)


def shaft_limits(size_mm: float, fit: str) -> Limits:
    """What goes into an H7 bore of a nominal size. Raises Problem for a size beyond the table."""
    name, rows = SHAFTS[fit]
    low, high = rows[_step(size_mm)]
    return Limits(name, size_mm + low / 1000, size_mm + high / 1000)


def bore_limits(size_mm: float) -> Limits:
    """An H7 bore of a nominal size, as a reamer leaves it."""
    return Limits("H7", size_mm, size_mm + BORES_UM[_step(size_mm)] / 1000)
