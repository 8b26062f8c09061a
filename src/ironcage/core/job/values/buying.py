"""What bars are bought and how they are sawn: lengths on sale, what a cut takes, offcuts that are there."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ironcage.core.job.values.base import Id, Size, Value
from ironcage.units.quantity import LENGTH

Loss = Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False), LENGTH]
Sold = Annotated[tuple[Size, ...], Field(max_length=20)]


class OwnBars(Value):
    """The lengths in which one section is on sale, mm."""

    section: Annotated[str, Field(min_length=1, max_length=80)]
    lengths: Sold


class Offcut(Value):
    """A length of a section that is there already, mm."""

    id: Id
    section: Annotated[str, Field(min_length=1, max_length=80)]
    length: Size


class Buying(Value):
    """lengths: in which bars are on sale, mm, none said: as is usual where the job counts in its unit; own: for some
    sections others. kerf: what a cut takes; grip: what is lost of each bar; least: the shortest rest that is kept, mm.
    offcuts: what is there already; cars: how many are built, all of whose pieces are laid out together. sheet: in
    which size sheet is bought, width and height; sheet_gap: between plates on it, sheet_edge: along its rim, mm."""

    lengths: Sold = ()
    own: Annotated[tuple[OwnBars, ...], Field(max_length=500)] = ()
    kerf: Loss = 2.0
    grip: Loss = 0.0
    least: Loss = 300.0
    offcuts: Annotated[tuple[Offcut, ...], Field(max_length=2000)] = ()
    cars: Annotated[int, Field(ge=1, le=100)] = 1
    sheet: tuple[Size, Size] = (2000.0, 1000.0)
    sheet_gap: Loss = 6.0
    sheet_edge: Loss = 10.0
    last_offcut: Annotated[int, Field(ge=0, le=10**9)] = 0
