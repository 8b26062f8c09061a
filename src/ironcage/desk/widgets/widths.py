"""How wide the columns of a list are in the room there is: words are shortened first, then the columns that matter
least make way."""

from collections.abc import Sequence
from dataclasses import dataclass

AWAY = 0


@dataclass(frozen=True)
class Wish:
    """What a column would like. whole: pixels in which all its cells can be read; least: pixels below which it says
    nothing; needed: whether a decision is taken by it, so that it never makes way."""

    whole: int
    least: int
    needed: bool


def widths(wishes: Sequence[Wish], room: int) -> tuple[int, ...]:
    """A width for each column, pixels; AWAY for one that makes way, the last first. The longest are shortened until
    all fit."""
    there = list(range(len(wishes)))
    while sum(wishes[n].least for n in there) > room:
        spare = next((n for n in reversed(there) if not wishes[n].needed), None)
        if spare is None:
            break
        there.remove(spare)
    left = max(room - sum(wishes[n].least for n in there), 0)
    level = _level([wishes[n] for n in there], left)
    return tuple(max(w.least, min(w.whole, level)) if n in there else AWAY for n, w in enumerate(wishes))


def _level(wishes: Sequence[Wish], left: int) -> int:
    """The width to which longer columns are shortened, so that what all have beyond their least is at most `left`."""
    low, high = 0, max((w.whole for w in wishes), default=0)
    while low < high:
        middle = (low + high + 1) // 2
        if sum(max(min(w.whole, middle) - w.least, 0) for w in wishes) <= left:
            low = middle
        else:
            high = middle - 1
    return low
