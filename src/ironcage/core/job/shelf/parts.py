"""Generic parts, sized by one number, so that a first layout does not wait for a catalogue.

Sizes and masses are of middling things of their kind and only a start: measure the real part, then type its size.
"""

import re
from dataclasses import dataclass

from ironcage.core.job.values.placed import Box, Cylinder, PartKind, Shape
from ironcage.problem import Problem
from ironcage.units import Units, said


@dataclass(frozen=True)
class Generic:
    """A generic part. of: what its number counts; base: that number for `size` (mm: a box's three or a cylinder's
    diameter and length) and `mass` kg; all sizes grow with the cube root of the number, the mass in proportion.
    fixed: kg that it weighs besides."""

    of: str
    base: float
    size: tuple[float, ...]
    mass: float
    fixed: float = 0.0


SHELF: dict[PartKind, Generic] = {
    "engine": Generic("litres", 1.0, (420, 520, 480), 62, 20),
    "gearbox": Generic("kg", 40, (480, 320, 340), 40),
    "differential": Generic("kg", 28, (300, 340, 260), 28),
    "axle": Generic("kg", 60, (110, 1250), 60),
    "motor": Generic("kW", 60, (230, 330), 42, 6),
    "battery": Generic("Ah", 60, (242, 175, 190), 15),
    "tank": Generic("litres", 14, (350, 230, 190), 10.5, 3),
    "radiator": Generic("kW", 60, (60, 600, 360), 6, 2),
    "seat": Generic("kg", 7, (560, 420, 640), 7),
    "pedals": Generic("kg", 5, (160, 320, 260), 5),
    "column": Generic("kg", 3, (40, 700), 3),
    "hand wheel": Generic("kg", 1.2, (60, 300, 300), 1.2),
    "rack": Generic("kg", 4, (70, 620), 4),
    "exhaust": Generic("kg", 9, (60, 1400), 9),
    "muffler": Generic("kg", 6, (160, 480), 6),
    "load": Generic("kg", 100, (600, 400, 400), 100),
}


@dataclass(frozen=True)
class FromShelf:
    """A generic part made to size."""

    name: str
    shape: Shape
    mass: float


def generic(kind: PartKind, text: str, units: Units) -> FromShelf:
    """A generic part of a kind by the number in the text, which may begin with a name; the middling one without a
    number. A mass without a unit counts in the builder's."""
    if kind not in SHELF:
        raise Problem(
            f"There is no generic {kind}.",
            where=kind,
            hint=said.example("Give its shape: box [500] x [620] x [480] or cylinder [250] x [600]"),
        )
    shelf = SHELF[kind]
    match = re.match(
        r"^(?P<name>.*?)\s*(?P<number>\d+(?:\.\d+)?)?\s*(?P<unit>litres?|l|kw|kg|lbs?|ah)?\s*$",
        text.strip(),
        re.IGNORECASE,
    )
    weighed = shelf.of == "kg"
    number = shelf.base
    if match and match["number"]:
        number = units.read_mass(f"{match['number']}{match['unit'] or ''}") if weighed else float(match["number"])
    name = (match["name"] if match else text).strip()
    if not 0.01 * shelf.base <= number <= 100 * shelf.base:
        raise Problem(
            f"A {kind} of {_amount(number, shelf)} is not in the shelf's range.",
            where=text,
            hint=f"{_amount(0.01 * shelf.base, shelf)} to {_amount(100 * shelf.base, shelf)} can be chosen.",
        )
    grown = (number / shelf.base) ** (1 / 3)
    sizes = [round(s * grown, 1) for s in shelf.size]
    shape: Shape
    if len(sizes) == 2:
        shape = Cylinder(diameter=sizes[0], length=sizes[1])
    else:
        shape = Box(length=sizes[0], width=sizes[1], height=sizes[2])
    return FromShelf(name, shape, round(shelf.mass * number / shelf.base + shelf.fixed, 2))


def _amount(number: float, shelf: Generic) -> str:
    return said.mass(number) if shelf.of == "kg" else f"{number:g} {shelf.of}"
