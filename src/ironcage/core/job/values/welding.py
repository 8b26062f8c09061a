"""How far the welding is: the state of each tube's end, how much welds shrink, how tacks hold."""

from __future__ import annotations

from datetime import date
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field

from ironcage.core.job.values.base import Id, Size, Value
from ironcage.units.quantity import LENGTH, SHARE

WeldState = Literal["tacked", "welded", "checked"]
Part = Annotated[float, Field(ge=0.01, le=1, allow_inf_nan=False), SHARE]
Shrunk = Annotated[float, Field(ge=0, le=10, allow_inf_nan=False), LENGTH]
Process = Annotated[str, Field(min_length=1, max_length=40)]


class EndState(Value):
    """The state of a tube's end at a joint, since a day; an end that is not listed is open."""

    tube: Id
    joint: Id
    state: WeldState
    when: date


class WallShrink(Value):
    """How much a process shortens a tube of a wall by a weld all round its end, mm."""

    process: Process
    wall: Size
    shrink: Shrunk


USUAL_SHRINK = (
    WallShrink(process="MIG", wall=1.5, shrink=0.3),
    WallShrink(process="MIG", wall=3.0, shrink=0.5),
    WallShrink(process="TIG", wall=1.5, shrink=0.2),
    WallShrink(process="TIG", wall=3.0, shrink=0.35),
)


class Welding(Value):
    """ends: those that are no longer open; process: how it is welded; shrinks: what is typed of how much each process
    shrinks each wall, between which it is taken on a straight line; spread: how far a weld may be off that, as a share;
    tack: what share of bending a tacked end carries."""

    ends: Annotated[tuple[EndState, ...], Field(max_length=100_000)] = ()
    process: Process = "MIG"
    shrinks: Annotated[tuple[WallShrink, ...], Field(max_length=200)] = USUAL_SHRINK
    spread: Part = 0.4
    tack: Part = 0.3

    def shrink_of(self, wall: float) -> float:
        """What a weld all round the end of a tube of a wall (mm) shortens it by, mm; the nearest figure beyond those
        that are known, 0 where none is of this process."""
        known = sorted((s.wall, s.shrink) for s in self.shrinks if s.process.lower() == self.process.lower())
        if not known:
            return 0.0
        for (a, low), (b, high) in pairwise(known):
            if a <= wall <= b:
                return low + (high - low) * (wall - a) / (b - a)
        return known[0][1] if wall < known[0][0] else known[-1][1]
