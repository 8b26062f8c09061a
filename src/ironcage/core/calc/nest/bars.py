"""Parts laid out on bars: which are cut from which bar, so that little is bought and little is left.

Bars are filled one after the other: each takes one of the longest parts that are left and then what fills it best,
which is found exactly (subset sums, Martello and Toth 1990, chapter 4). The filling is tried again with other parts
first, and the least that has to be bought is kept. Offcuts that are there are filled before anything is bought.

The bound is what the parts and their cuts would take without any rest, in whole bars; no layout buys less.
"""

import math
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ironcage.problem import Problem
from ironcage.units import said

GRID = 10  # steps a mm in which parts are fitted, each rounded up
TRIES = 40
MOST_ANY = 6  # bars of a try whose length is drawn
LIKELY = 3  # of the longest parts that are left: one of them is put in first
MOST_PARTS = 5000


@dataclass(frozen=True)
class Saw:
    """kerf: what a cut takes; grip: what is lost of each bar at its end, held or out of square; mm."""

    kerf: float = 2.0
    grip: float = 0.0


@dataclass(frozen=True)
class Bar:
    """A bar to cut. length mm; parts: by number, in the order in which they are cut, the longest first; rest: what is
    left of it, mm; bought: whether it is to be bought, or is there already."""

    length: float
    parts: tuple[int, ...]
    rest: float
    bought: bool


@dataclass(frozen=True)
class Layout:
    """bars; bought: their length in all that is to be bought, bound: the least that any layout must buy, mm."""

    bars: tuple[Bar, ...]
    bought: float
    bound: float

    @property
    def proven(self) -> bool:
        """Whether no layout buys less."""
        return self.bought <= self.bound + 1 / GRID


def lay_out(
    lengths: Sequence[float],
    stock: Sequence[float],
    rack: Sequence[float] = (),
    saw: Saw = Saw(),
    say: Callable[[float], None] = lambda share: None,
) -> Layout:
    """Lay parts (mm) out on bars of the lengths on sale and on offcuts that are there. say is told the share that is
    done, and may raise to stop. Raises Problem for a part that is longer than every bar."""
    if len(lengths) > MOST_PARTS:
        raise Problem(f"{len(lengths):,} parts are more than {MOST_PARTS:,}.", hint="Lay them out in batches.")
    longest = max([*stock, *rack], default=0.0)
    room = longest - saw.grip
    for length in lengths:
        if length > room:
            raise Problem(
                f"A part of {said.length(length)} is longer than the longest bar, {said.length(longest)}"
                + (f" less {said.length(saw.grip)} for the grip." if saw.grip else "."),
                hint="Buy a longer bar, or join it from two lengths (add insert).",
            )
    bound = _bound(lengths, stock, rack, saw)
    best: Layout | None = None
    rng = random.Random(1)
    for attempt in range(TRIES):
        say(attempt / TRIES)
        bars = _filled(lengths, stock, rack, saw, rng if attempt else None)
        if bars is None:
            continue
        bought = sum(bar.length for bar in bars if bar.bought)
        if best is None or (bought, -_longest_rest(bars)) < (best.bought, -_longest_rest(best.bars)):
            best = Layout(tuple(bars), bought, bound)
        if best.proven:
            break
    say(1.0)
    if best is None:
        raise Problem(
            "The offcuts do not hold all parts, and no bar is on sale.", hint="Say which lengths can be bought."
        )
    return best


def _longest_rest(bars: Sequence[Bar]) -> float:
    return max((bar.rest for bar in bars), default=0.0)


def _filled(
    lengths: Sequence[float], stock: Sequence[float], rack: Sequence[float], saw: Saw, rng: random.Random | None
) -> list[Bar] | None:
    """Bars filled one after the other; None where offcuts run out and nothing is on sale."""
    left = sorted(range(len(lengths)), key=lambda n: (-lengths[n], n))
    bars = []
    for length in sorted(rack):
        if parts := _fill(left, lengths, length, saw, rng):
            bars.append(_bar(length, parts, lengths, saw, bought=False))
            left = [n for n in left if n not in set(parts)]
    any_length = rng.randrange(MOST_ANY + 1) if rng else 0  # else all but the last bar would be of one length
    while left:
        fills = [(length, _fill(left, lengths, length, saw, rng)) for length in sorted(set(stock))]
        fills = [(length, parts) for length, parts in fills if parts]
        if not fills:
            return None
        whole = next(((length, parts) for length, parts in fills if len(parts) == len(left)), None)
        if rng and any_length and not whole:
            any_length -= 1
            length, parts = rng.choice(fills)
        else:
            length, parts = whole or min(fills, key=lambda fill: (_waste(fill[0], fill[1], lengths, saw), -fill[0]))
        bars.append(_bar(length, parts, lengths, saw, bought=True))
        left = [n for n in left if n not in set(parts)]
    return bars


def _waste(length: float, parts: Sequence[int], lengths: Sequence[float], saw: Saw) -> float:
    """The share of a bar that becomes no part."""
    return round(1 - sum(lengths[n] for n in parts) / length, 6)


def _bar(length: float, parts: Sequence[int], lengths: Sequence[float], saw: Saw, *, bought: bool) -> Bar:
    taken = sum(lengths[n] for n in parts) + saw.kerf * len(parts)
    rest = length - saw.grip - taken
    return Bar(length, tuple(sorted(parts, key=lambda n: (-lengths[n], n))), max(rest, 0.0), bought)


def _fill(
    left: Sequence[int], lengths: Sequence[float], length: float, saw: Saw, rng: random.Random | None
) -> tuple[int, ...]:
    """The parts that fill a bar best, one of the longest that it holds among them. left: parts by number, the longest
    first. The last cut of a bar may run out of its end, so a kerf more fits in."""
    room = math.floor((length - saw.grip + saw.kerf) * GRID + 1e-6)
    sizes = {n: math.ceil((lengths[n] + saw.kerf) * GRID - 1e-6) for n in left}
    fits = [n for n in left if sizes[n] <= room]
    if not fits:
        return ()
    first = fits[0] if rng is None else fits[rng.randrange(min(LIKELY, len(fits)))]
    rest, mask = room - sizes[first], (1 << (room - sizes[first] + 1)) - 1
    reached, steps = 1, []  # bit k: a sum of k can be had from the parts so far
    for n in fits:
        if n != first and sizes[n] <= rest:
            steps.append((n, reached))
            reached |= (reached << sizes[n]) & mask
            if reached >> rest:  # full; and the longer parts are gone first, which are harder to place later
                break
    at, taken = reached.bit_length() - 1, [first]
    for n, before in reversed(steps):
        if not before >> at & 1:
            taken.append(n)
            at -= sizes[n]
    return tuple(taken)


def _bound(lengths: Sequence[float], stock: Sequence[float], rack: Sequence[float], saw: Saw) -> float:
    """The least length that has to be bought, mm."""
    need = sum(lengths) + saw.kerf * len(lengths)
    need -= sum(max(length - saw.grip + saw.kerf, 0.0) for length in rack)
    if need <= 0 or not stock:
        return 0.0
    rooms = {length: length - saw.grip + saw.kerf for length in set(stock)}
    if len(rooms) == 1:
        ((length, room),) = rooms.items()
        half = sum(size + saw.kerf > room / 2 for size in lengths) - len(rack)  # no two of these share a bar
        return length * max(math.ceil(need / room - 1e-9), half)
    return _in_whole_bars(min(need / room * length for length, room in rooms.items()), stock)


def _in_whole_bars(least: float, stock: Sequence[float]) -> float:
    """The least sum of whole bars, to the millimetre, that is no less than some length."""
    top = math.ceil(least) + math.ceil(max(stock))
    sums, mask = 1, (1 << (top + 1)) - 1
    for length in {math.floor(length) for length in stock}:
        step = length
        while step and step <= top:  # once, twice, four times as many of it
            sums |= (sums << step) & mask
            step *= 2
    enough = sums >> math.floor(least)
    return max(least, math.floor(least) + (enough & -enough).bit_length() - 1)
