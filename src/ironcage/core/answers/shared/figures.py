"""A figure of the tally: its value, where it comes from, and how it is written."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ironcage.units import Units
from ironcage.units.quantity import COUNT, DAYS, LENGTH, MASS, SHARE, TORSIONAL_STIFFNESS, Quantity


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


QUANTITIES: Mapping[str, Quantity] = {
    "wheelbase": LENGTH,
    "frame mass": MASS,
    "car mass": MASS,
    "cg height": LENGTH,
    "front share": SHARE,
    "torsion": TORSIONAL_STIFFNESS,
    "clashes": COUNT,
    "welded": SHARE,
    "days left": DAYS,
}


def shown(figure: Figure, units: Units) -> str:
    """A figure as the builder reads it; a dash when it is not known."""
    return "–" if figure.value is None else QUANTITIES[figure.key].show(units, figure.value)


def difference(now: Figure, mark: Figure, units: Units) -> str:
    """A figure's signed difference from its value at the mark; empty when it shows none or either is unknown."""
    if now.value is None or mark.value is None:
        return ""
    delta = now.value - mark.value
    show = QUANTITIES[now.key].show
    text = show(units, abs(delta))
    if text == show(units, 0.0) or not math.isfinite(delta):
        return ""
    return f"{'+' if delta > 0 else '−'}{text}"
