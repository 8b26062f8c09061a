"""A figure of the tally: its value, where it comes from, and how it is written."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from ironcage.units import Units
from ironcage.units.tables import N_M_PER_DEGREE


@dataclass(frozen=True)
class Origin:
    """Where a figure comes from: the formula in words, what went in, what was assumed, and its source."""

    formula: str
    inputs: str
    assumed: str
    source: str


@dataclass(frozen=True)
class Figure:
    """One figure. value: internal units, None when not known and `missing` says why. step: where it is explained."""

    key: str
    label: str
    value: float | None
    step: str
    origin: Origin
    missing: str = ""


def _percent(value: float) -> str:
    return f"{value * 100:.1f} %"


def _count(value: float) -> str:
    return f"{value:.0f}"


def _writers(units: Units) -> dict[str, Callable[[float], str]]:
    return {
        "wheelbase": units.length,
        "frame mass": units.mass,
        "car mass": units.mass,
        "cg height": units.length,
        "front share": _percent,
        "torsion": units.torsional_stiffness,
        "clashes": _count,
        "days left": _count,
    }


NEUTRAL: dict[
    str, tuple[str, float]
] = {  # the unit that a figure is told in to scripts, and how much of it one of its own is
    "wheelbase": ("mm", 1.0),
    "frame mass": ("kg", 1.0),
    "car mass": ("kg", 1.0),
    "cg height": ("mm", 1.0),
    "front share": ("share", 1.0),
    "torsion": ("N·m/deg", N_M_PER_DEGREE),
    "clashes": ("", 1.0),
    "days left": ("days", 1.0),
}


def shown(figure: Figure, units: Units) -> str:
    """A figure as the builder reads it; a dash when it is not known."""
    return "–" if figure.value is None else _writers(units)[figure.key](figure.value)


def difference(now: Figure, mark: Figure, units: Units) -> str:
    """A figure's signed difference from its value at the mark; empty when it shows none or either is unknown."""
    if now.value is None or mark.value is None:
        return ""
    delta = now.value - mark.value
    text = _writers(units)[now.key](abs(delta))
    if text == _writers(units)[now.key](0.0) or not math.isfinite(delta):
        return ""
    return f"{'+' if delta > 0 else '−'}{text}"
