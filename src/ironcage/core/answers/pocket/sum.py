"""What a quick sum is: what it asks, what it tells, its formula, and a sketch of what is measured where."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ironcage.problem import Problem
from ironcage.units import METRIC, Units
from ironcage.units.quantity import ANGLE, LENGTH, MASS, Quantity
from ironcage.units.shown import IMPERIAL, angle, angle_minutes

Values = Mapping[str, float]


@dataclass(frozen=True)
class Ask:
    """A figure that a sum asks for. name: as it is called; quantity: what it is a measure of; usual: what stands there
    to begin with, in internal units; least, most: what it must lie between."""

    name: str
    quantity: Quantity
    usual: float
    least: float = 0.0
    most: float = 1e6


@dataclass(frozen=True)
class Told:
    """A figure that a sum tells, in internal units; quantity None for words."""

    name: str
    value: float
    quantity: Quantity | None
    words: str = ""


@dataclass(frozen=True)
class Sketch:
    """A picture in a field 100 wide and 60 high, y up. lines: runs of points; dashed: runs that are only measured
    along; words: what is called so, and where."""

    lines: tuple[tuple[tuple[float, float], ...], ...]
    dashed: tuple[tuple[tuple[float, float], ...], ...] = ()
    words: tuple[tuple[float, float, str], ...] = ()


@dataclass(frozen=True)
class Sum:
    """A quick sum. name: as it is found; says: what it is for; formula: in signs; work: figures in, figures out."""

    name: str
    says: str
    asks: tuple[Ask, ...]
    formula: str
    sketch: Sketch
    work: Callable[[Values], tuple[Told, ...]]


def read(made: Sum, typed: Mapping[str, str], units: Units) -> dict[str, float]:
    """The figures that a sum asks for, from what was typed; what was left out is as usual. Raises Problem with the
    first that can't be."""
    values = {}
    for ask in made.asks:
        text = typed.get(ask.name, "").strip()
        value = ask.quantity.read(units, text) if text else ask.usual
        if not ask.least <= value <= ask.most:
            raise Problem(
                f"{ask.name.capitalize()} {ask.quantity.said(value)} can't be.",
                where=ask.name,
                hint=f"{ask.quantity.said(ask.least)} to {ask.quantity.said(ask.most)} can.",
            )
        values[ask.name] = value
    return values


def work_out(made: Sum, values: Values) -> tuple[Told, ...]:
    """What a sum tells. Raises Problem where its figures do not go together."""
    try:
        return made.work(values)
    except (ValueError, ZeroDivisionError, OverflowError):
        raise Problem(f"These figures make no {made.name}.", where=made.name, hint=made.says) from None


def both(told: Told) -> tuple[str, str]:
    """A figure in metric and in inches and pounds; the same words twice where it has no unit."""
    if told.quantity is None:
        return told.words, told.words
    if told.quantity is ANGLE:
        return angle(told.value, 2), angle_minutes(told.value)
    if told.quantity is LENGTH:
        return METRIC.fine(told.value), f"{IMPERIAL.fine(told.value)} · {IMPERIAL.length(told.value)}"
    if told.quantity is MASS:
        return METRIC.fine_mass(told.value), IMPERIAL.fine_mass(told.value)
    return told.quantity.show(METRIC, told.value), told.quantity.show(IMPERIAL, told.value)
