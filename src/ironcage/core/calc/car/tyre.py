"""Tyre sizes as they stand on the side wall, and the diameter and width they stand for."""

import re
from collections.abc import Callable
from dataclasses import dataclass

from ironcage.problem import Problem
from ironcage.units import said
from ironcage.units.tables import INCH

LEAST_MM, MOST_MM = 100.0, 2500.0


@dataclass(frozen=True)
class Tyre:
    """Outside diameter and section width as named, mm; unloaded, new, and by the name alone."""

    diameter: float
    width: float


def _metric(match: re.Match[str]) -> Tyre:
    width, aspect, rim = (float(g) for g in match.groups())
    return Tyre(2 * width * aspect / 100 + rim * INCH, width)


def _flotation(match: re.Match[str]) -> Tyre:
    diameter, width, _ = (float(g) for g in match.groups())
    return Tyre(diameter * INCH, width * INCH)


_KINDS: tuple[tuple[str, Callable[[re.Match[str]], Tyre]], ...] = (
    (r"(?:[A-Z]{1,2}\s?)?(\d{2,3})\s?/\s?(\d{2,3})\s?(?:[A-Z]{1,2})?\s?-?\s?(\d{1,2}(?:\.\d)?)", _metric),
    (r"(\d{1,2}(?:\.\d+)?)\s?[x×]\s?(\d{1,2}(?:\.\d+)?)\s?(?:-|R|\s)\s?(\d{1,2}(?:\.\d)?)", _flotation),
)


def read_tyre(code: str, length: Callable[[str], float] = float) -> Tyre:
    """`205/50R15`, `22x7-10`, or `570 by 165` in lengths that `length` reads. Raises Problem for a code that is
    none."""
    text = code.strip().translate(str.maketrans("×−", "x-"))
    for pattern, sizes in _KINDS:
        if match := re.fullmatch(pattern, text, re.IGNORECASE):
            return _likely(sizes(match), code)
    diameter, by, width = text.partition(" by ")
    if by:
        return _likely(Tyre(length(diameter), length(width)), code)
    raise Problem(
        f"‘{code.strip()}’ is not a tyre size.",
        where=code,
        hint=said.example("Write 205/50R15, 22x7-10, or diameter by width: [570] by [165]."),
    )


def _likely(tyre: Tyre, code: str) -> Tyre:
    if not LEAST_MM <= tyre.diameter <= MOST_MM or not 20 <= tyre.width < tyre.diameter:
        raise Problem(
            f"‘{code.strip()}’ would be a tyre of {said.whole(tyre.diameter)} diameter and "
            f"{said.whole(tyre.width)} width.",
            where=code,
            hint=said.example("Write 205/50R15, 22x7-10, or diameter by width: [570] by [165]."),
        )
    return tyre
