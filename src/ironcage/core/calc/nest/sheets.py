"""Plates laid out on sheets by the rectangles round them, so that few sheets are bought.

Each plate goes into one of the free rectangles, which may overlap, those within others dropped (maximal rectangles,
Jylänki 2010): where it leaves the shorter rest, or lowest, turned by a quarter freely or only where it must be. Plates
are tried in several orders, and the way that takes fewest sheets, and then least of the last one, is kept.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ironcage.problem import Problem
from ironcage.units import said

Way = Callable[[float, float, float, float, bool], tuple[float, ...]]  # rests beside, x, y, turned: the least is best
WAYS: tuple[Way, ...] = (
    lambda short, long, x, y, turned: (short, long, y, x),
    lambda short, long, x, y, turned: (float(turned), short, long, y, x),
    lambda short, long, x, y, turned: (y, x, short),
    lambda short, long, x, y, turned: (float(turned), y, x),
)
Free = tuple[float, float, float, float]  # x, y, width, height, mm
NIL = 1e-9
MOST_PLATES, FEW = 2000, 150  # more than a few are tried in fewer ways


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
    ways = WAYS if len(sizes) <= FEW else WAYS[:1]
    sorts = [sorted(range(len(sizes)), key=order) for order in orders]
    made = [_filled(order, sizes, (room[0], room[1]), gap, way) for order in sorts for way in ways]
    best = min(made, key=lambda sheets: (len(sheets), _reach(sheets[-1], sizes) if sheets else 0.0))
    area = sum((w + gap) * (h + gap) for w, h in sizes)
    kept = tuple(tuple(Placed(p.plate, p.x + edge, p.y + edge, p.turned) for p in one) for one in best)
    return SheetLayout(kept, math.ceil(area / (room[0] * room[1]) - NIL))


def _filled(
    order: Sequence[int], sizes: Sequence[tuple[float, float]], room: tuple[float, float], gap: float, way: Way
) -> list[list[Placed]]:
    """Sheets filled with plates in an order; a new one is begun when a plate goes on none of those there are."""
    sheets: list[tuple[list[Placed], list[Free]]] = []
    for n in order:
        width, height = sizes[n][0] + gap, sizes[n][1] + gap
        best = _best(sheets, width, height, way)
        if best is None:
            sheets.append(([], [(0.0, 0.0, *room)]))
            best = _best(sheets[-1:], width, height, way)
            assert best is not None  # it was looked at before that each fits
            best = (len(sheets) - 1, *best[1:])
        which, x, y, turned = best
        placed, free = sheets[which]
        placed.append(Placed(n, x, y, turned))
        taken = (x, y, height, width) if turned else (x, y, width, height)
        sheets[which] = (placed, _left(free, taken))
    return [placed for placed, _ in sheets]


def _best(
    sheets: Sequence[tuple[list[Placed], list[Free]]], width: float, height: float, way: Way
) -> tuple[int, float, float, bool] | None:
    """The sheet, place and turn that are best for a rectangle, on the first sheet that has room for it."""
    for number, (_, free) in enumerate(sheets):
        fits = [
            (way(min(w - a, h - b), max(w - a, h - b), x, y, turned), x, y, turned)
            for x, y, w, h in free
            for a, b, turned in ((width, height, False), (height, width, True))
            if a <= w + NIL and b <= h + NIL
        ]
        if fits:
            _, x, y, turned = min(fits)
            return number, x, y, turned
    return None


def _left(free: Sequence[Free], taken: Free) -> list[Free]:
    """The free rectangles that a taken one leaves. Those it cuts leave up to four each, of which those within others
    are dropped; one that it does not touch is within none of them, for then it was within what was cut."""
    tx, ty, tw, th = taken
    whole: list[Free] = []
    parts: dict[Free, None] = {}
    for one in free:
        x, y, w, h = one
        if tx >= x + w - NIL or tx + tw <= x + NIL or ty >= y + h - NIL or ty + th <= y + NIL:
            whole.append(one)
            continue
        if tx > x + NIL:
            parts[x, y, tx - x, h] = None
        if tx + tw < x + w - NIL:
            parts[tx + tw, y, x + w - tx - tw, h] = None
        if ty > y + NIL:
            parts[x, y, w, ty - y] = None
        if ty + th < y + h - NIL:
            parts[x, ty + th, w, y + h - ty - th] = None
    others = [*whole, *parts]
    return whole + [one for one in parts if not any(other is not one and _within(one, other) for other in others)]


def _within(one: Free, other: Free) -> bool:
    x, y, w, h = one
    a, b, c, d = other
    return x >= a - NIL and y >= b - NIL and x + w <= a + c + NIL and y + h <= b + d + NIL


def _reach(placed: Sequence[Placed], sizes: Sequence[tuple[float, float]]) -> float:
    """How far along it the last sheet is used, mm."""
    return max((p.x + sizes[p.plate][1 if p.turned else 0] for p in placed), default=0.0)
