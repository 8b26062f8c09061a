"""Plates laid out on sheets by the rectangles round them, so that few sheets are bought.

Each plate goes where it leaves the shorter rest in one of the free rectangles, lying or turned by a quarter; free
rectangles may overlap, and those within others are dropped (maximal rectangles, Jylänki 2010). Plates are tried in
several orders, and the one that takes fewest sheets, and then least of the last one, is kept.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ironcage.problem import Problem
from ironcage.units import said

Free = tuple[float, float, float, float]  # x, y, width, height, mm
MOST_PLATES = 2000


@dataclass(frozen=True)
class Placed:
    """A plate on a sheet, by number: its lower left corner from that of the sheet, mm; turned: by a quarter."""

    plate: int
    x: float
    y: float
    turned: bool


@dataclass(frozen=True)
class SheetLayout:
    """What lies on each sheet; bound: how many sheets any layout takes at least, by area alone."""

    sheets: tuple[tuple[Placed, ...], ...]
    bound: int


def lay_on_sheets(
    sizes: Sequence[tuple[float, float]], sheet: tuple[float, float], gap: float, edge: float
) -> SheetLayout:
    """Lay rectangles (width, height) out on sheets of a size, a gap apart and an edge from the rim, all mm. Refuses one
    that fits no sheet."""
    if len(sizes) > MOST_PLATES:
        raise Problem(f"{len(sizes)} plates are more than can be laid out, {MOST_PLATES}.", where="plates")
    room = tuple(side - 2 * edge + gap for side in sheet)
    for width, height in sizes:
        if sorted((width + gap, height + gap))[0] > min(room) or max(width, height) + gap > max(room):
            raise Problem(
                f"A plate of {said.length(width)} x {said.length(height)} does not fit a sheet of "
                f"{said.sizes(sheet[0])} x {said.sizes(sheet[1])}.",
                where="plates",
                hint="Name a larger sheet, for example: " + said.example("plates [3000] x [1500]"),
            )
    orders: tuple[Callable[[int], tuple[float, ...]], ...] = (
        lambda n: (-max(sizes[n]), -min(sizes[n])),
        lambda n: (-sizes[n][0] * sizes[n][1],),
        lambda n: (-sum(sizes[n]),),
        lambda n: (-min(sizes[n]), -max(sizes[n])),
    )
    made = [_filled(sorted(range(len(sizes)), key=order), sizes, (room[0], room[1]), gap) for order in orders]
    best = min(made, key=lambda sheets: (len(sheets), _reach(sheets[-1], sizes) if sheets else 0.0))
    area = sum((w + gap) * (h + gap) for w, h in sizes)
    kept = tuple(tuple(Placed(p.plate, p.x + edge, p.y + edge, p.turned) for p in one) for one in best)
    return SheetLayout(kept, math.ceil(area / (room[0] * room[1]) - 1e-9))


def _filled(
    order: Sequence[int], sizes: Sequence[tuple[float, float]], room: tuple[float, float], gap: float
) -> list[list[Placed]]:
    """Sheets filled with plates in an order; a new one is begun when a plate goes on none of those there are."""
    sheets: list[tuple[list[Placed], list[Free]]] = []
    for n in order:
        width, height = sizes[n][0] + gap, sizes[n][1] + gap
        best = _best(sheets, width, height)
        if best is None:
            sheets.append(([], [(0.0, 0.0, *room)]))
            best = _best(sheets[-1:], width, height)
            assert best is not None  # it was looked at before that each fits
            best = (len(sheets) - 1, *best[1:])
        which, x, y, turned = best
        placed, free = sheets[which]
        placed.append(Placed(n, x, y, turned))
        taken = (x, y, height, width) if turned else (x, y, width, height)
        sheets[which] = (placed, _left(free, taken))
    return [placed for placed, _ in sheets]


def _best(
    sheets: Sequence[tuple[list[Placed], list[Free]]], width: float, height: float
) -> tuple[int, float, float, bool] | None:
    """The sheet, place and turn that leave the shortest rest beside a rectangle, on the first sheet that has one."""
    for number, (_, free) in enumerate(sheets):
        fits = [
            (min(w - a, h - b), max(w - a, h - b), y, x, turned)
            for x, y, w, h in free
            for a, b, turned in ((width, height, False), (height, width, True))
            if a <= w + 1e-9 and b <= h + 1e-9
        ]
        if fits:
            _, _, y, x, turned = min(fits)
            return number, x, y, turned
    return None


def _left(free: Sequence[Free], taken: Free) -> list[Free]:
    """The free rectangles that a taken one leaves, without those that lie within others."""
    tx, ty, tw, th = taken
    made: list[Free] = []
    for x, y, w, h in free:
        if tx >= x + w - 1e-9 or tx + tw <= x + 1e-9 or ty >= y + h - 1e-9 or ty + th <= y + 1e-9:
            made.append((x, y, w, h))
            continue
        if tx > x + 1e-9:
            made.append((x, y, tx - x, h))
        if tx + tw < x + w - 1e-9:
            made.append((tx + tw, y, x + w - tx - tw, h))
        if ty > y + 1e-9:
            made.append((x, y, w, ty - y))
        if ty + th < y + h - 1e-9:
            made.append((x, ty + th, w, y + h - ty - th))
    made = list(dict.fromkeys(made))
    return [one for one in made if not any(other != one and _within(one, other) for other in made)]


def _within(one: Free, other: Free) -> bool:
    x, y, w, h = one
    a, b, c, d = other
    return x >= a - 1e-9 and y >= b - 1e-9 and x + w <= a + c + 1e-9 and y + h <= b + d + 1e-9


def _reach(placed: Sequence[Placed], sizes: Sequence[tuple[float, float]]) -> float:
    """How far along it the last sheet is used, mm."""
    return max((p.x + sizes[p.plate][1 if p.turned else 0] for p in placed), default=0.0)
