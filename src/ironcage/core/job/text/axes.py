"""Amounts by axis, `x 100 z+25` or `z-12 kN, y 3 kN`: the one way in which lines name axes, and places made from it."""

import re
from dataclasses import dataclass

from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said

_AXIS = re.compile(r"(?:^|(?<=[\s,]))([a-z])(?=[\s+\-−\d.(])", re.IGNORECASE)


@dataclass(frozen=True)
class ByAxis:
    """One amount of a line. typed: as it was typed, with its sign; moves: whether a sign follows the axis at once,
    `x-5`, which moves, where `x -5` puts."""

    axis: str
    typed: str
    moves: bool


def begins_by_axis(text: str, axes: str = "xyz") -> bool:
    """Whether a text begins with one of the axes and an amount."""
    first = _AXIS.match(text.strip())
    return first is not None and first.group(1).lower() in axes


def by_axis(text: str, axes: str = "xyz") -> list[ByAxis]:
    """The amounts of a text in their order. Raises Problem where it does not begin with an axis."""
    body = text.strip()
    if not begins_by_axis(body, axes):
        raise Problem(
            f"‘{body}’ does not start with an axis.",
            where=text,
            hint=said.example("Write for example: x [100] z+[25]"),
        )
    at = [found for found in _AXIS.finditer(body) if found.group(1).lower() in axes]
    ends = [*(found.start() for found in at[1:]), len(body)]
    amounts = [body[found.end() : end] for found, end in zip(at, ends, strict=True)]
    return [
        ByAxis(found.group(1).lower(), amount.strip(" ,"), amount[:1] in ("+", "-", "−"))
        for found, amount in zip(at, amounts, strict=True)
    ]


def named_by_axis(
    job: Job, text: str, before: tuple[float, float, float], zero: tuple[float, float, float]
) -> tuple[float, float, float]:
    """A place as three readings from `zero`, or by axis, `x+40 z 310`, from where it was before; mm."""
    units, body = units_of(job), text.strip()
    if not any(found.group(1).lower() in "xyz" for found in _AXIS.finditer(body)):
        parts = [p.strip() for p in body.split(",")] if "," in body else body.split()
        if len(parts) != 3:
            raise Problem(
                f"‘{body}’ is not a place.",
                where=body,
                hint=said.example("Write x, y and z, or move it by axis: x+[40] z[-10]"),
            )
        x, y, z = (units.read_length(p) + o for p, o in zip(parts, zero, strict=True))
        return x, y, z
    place = list(before)
    for amount in by_axis(body):
        axis, value = "xyz".index(amount.axis), units.read_length(amount.typed)
        place[axis] = place[axis] + value if amount.moves else zero[axis] + value
    return place[0], place[1], place[2]
