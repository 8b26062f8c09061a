"""Which pieces are cut, what they measure, and how far off they may be."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from ironcage.core.job.values.base import Coordinate, Id, Size, Value
from ironcage.units.quantity import LENGTH

PieceState = Literal["open", "cut", "checked", "rejected"]
Measured = Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False), LENGTH]
Between = Annotated[float, Field(ge=0, le=3.2, allow_inf_nan=False)]
Allowed = Annotated[float, Field(ge=0, le=50, allow_inf_nan=False), LENGTH]


class PieceMade(Value):
    """A piece that has been cut, named by a tube of it. when: the day; span: how long that tube's centreline was from
    joint to joint then, mm; length: measured over its longest points, mm, 0 where it was not measured; why: it was
    rejected; section: of that tube then; meets: the tubes at both of its joints and at which angle to each, rad, empty
    of a record from before these were kept. Of several that are kept for tubes of one piece the last counts, so that
    one may say it is open again."""

    tube: Id
    state: PieceState
    when: date
    span: Size
    length: Measured = 0.0
    why: Annotated[str, Field(max_length=300)] = ""
    section: Annotated[str, Field(max_length=80)] = ""
    meets: Annotated[tuple[tuple[Id, Between], ...], Field(max_length=200)] = ()


Work = Literal["piece", "square", "flat", "mitre", "cope", "several", "bend", "fold", "turn"]
WORKS: dict[Work, float] = {  # what is done to pieces, and the minutes that each usually takes
    "piece": 4.0,
    "square": 1.0,
    "flat": 4.0,
    "mitre": 4.0,
    "cope": 8.0,
    "several": 18.0,
    "bend": 8.0,
    "fold": 20.0,
    "turn": 12.0,
}


class WorkMinutes(Value):
    """How long one kind of work takes in this shop, minutes."""

    work: Work
    minutes: Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)]


class TurnedPart(Value):
    """Something to turn. kind: what it is called; od: its outside, and od_fit: how it goes into a reamed bore of that
    size, empty where od is as typed; bore: 0 none; reamed: whether it is reamed to H7; step_od, step_length: another
    outside over so much of its length, 0 none; count: for one car; mm."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    kind: Literal["bush", "spacer", "adapter", "pin"] = "bush"
    od: Size
    od_fit: Literal["", "press", "push", "slide", "free"] = ""
    bore: Measured = 0.0
    reamed: bool = False
    length: Size
    step_od: Measured = 0.0
    step_length: Measured = 0.0
    count: Annotated[int, Field(ge=1, le=10_000)] = 1
    material: Annotated[str, Field(max_length=80)] = ""


class FlatHole(Value):
    """A hole of a flat part: its middle and diameter, mm; nut: the thread of a nut that is welded over it, or empty."""

    x: Coordinate
    y: Coordinate
    diameter: Size
    nut: Annotated[str, Field(max_length=20)] = ""


class FlatPart(Value):
    """A part cut from flat stock by its own outline. outline: its corners in order, x and y, mm; count: for one car;
    handed: of each as many mirrored."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    outline: Annotated[tuple[tuple[Coordinate, Coordinate], ...], Field(min_length=3, max_length=400)]
    holes: Annotated[tuple[FlatHole, ...], Field(max_length=400)] = ()
    thickness: Size
    material: Annotated[str, Field(max_length=80)] = ""
    count: Annotated[int, Field(ge=1, le=10_000)] = 1
    handed: bool = False


class Cutting(Value):
    """pieces: those that have been cut. within: how far off its length a piece may be; gap: how much shorter than that
    it may be where the weld can fill it, shared by both ends; root: the gap that is left for the weld between an end
    and what it lands on, mm; minutes: of work, where the shop's own differ from the usual; rate: what an hour costs;
    turned: what is turned on the lathe besides what fittings ask for; flats: what is cut from sheet besides them."""

    pieces: Annotated[tuple[PieceMade, ...], Field(max_length=50_000)] = ()
    within: Allowed = 0.5
    gap: Allowed = 1.0
    root: Allowed = 0.0
    minutes: Annotated[tuple[WorkMinutes, ...], Field(max_length=20)] = ()
    rate: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] = 0.0
    turned: Annotated[tuple[TurnedPart, ...], Field(max_length=500)] = ()
    flats: Annotated[tuple[FlatPart, ...], Field(max_length=500)] = ()
