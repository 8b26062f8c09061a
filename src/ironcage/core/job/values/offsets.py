"""The sheet of offsets: where the lines of a frame run, station by station, as builders write it down before cutting.

A cell that is laid names its joint, and is read from it: the joint alone says where it is. One that is not yet laid
holds its place. All places are of centrelines, whatever face the builder tapes to.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from ironcage.core.job.values.base import Coordinate, Id, Name, Role, Value

Face = Literal["inside", "centre", "outside"]
Level = Literal["underside", "centre", "top"]
Lean = Literal["none", "up to the front", "up to the rear", "zigzag", "both"]
Half = Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]
MOST_STATIONS, MOST_LINES = 100, 20


class SheetLine(Value):
    """A line of the frame along the car. section: of its rails and cross members, as it is called on the shelf;
    crossed: a cross member joins both sides at every station that is not open; braced: one diagonal a bay lies between
    both sides."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    section: Name
    crossed: bool = True
    braced: bool = False
    role: Role = "rail"


class Cell(Value):
    """Where a line passes a station: half width from the centreline and height of its centreline, mm; open: no cross
    member lies there, as where people sit; joint: the one that is laid there, on the left or on the centreline."""

    half: Half
    z: Coordinate
    open: bool = False
    joint: Id | None = None


class Station(Value):
    """A plane across the car at x, mm, and where each line passes it, None where it does not."""

    x: Coordinate
    cells: Annotated[tuple[Cell | None, ...], Field(max_length=MOST_LINES)]


class Offsets(Value):
    """The sheet: its lines, the lowest first, and its stations from the front. face, over_both, level: how widths and
    heights are read and typed; lean: which way the diagonals of the sides run; web: section of uprights and
    diagonals."""

    lines: Annotated[tuple[SheetLine, ...], Field(max_length=MOST_LINES)] = ()
    stations: Annotated[tuple[Station, ...], Field(max_length=MOST_STATIONS)] = ()
    face: Face = "centre"
    over_both: bool = False
    level: Level = "centre"
    lean: Lean = "zigzag"
    web: Name = ""

    def cells(self) -> Iterator[tuple[int, int, Cell]]:
        """Every filled cell with the numbers of its station and its line."""
        for s, station in enumerate(self.stations):
            for n, cell in enumerate(station.cells):
                if cell is not None:
                    yield s, n, cell
