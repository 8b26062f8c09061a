"""Kinds of measure. A field, a reading or a figure declares which one it is, once; how it is typed, shown and named,
and what scripts get, follows from that.

On a field of a value it stands in the annotation, `Annotated[float, Field(ge=0), LENGTH]`, and `quantity_of` finds
it.
"""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any, get_args

from pydantic.fields import FieldInfo

from ironcage.units import typed
from ironcage.units.shown import METRIC, WRITERS, Units, written
from ironcage.units.shown import angle as angle_text
from ironcage.units.tables import N_M_PER_DEGREE


@dataclass(frozen=True)
class Quantity:
    """A kind of measure. neutral: the unit that scripts get it in, and per how many of those one internal unit is;
    show: as the builder reads it; typing: as the builder would type it; read: what the builder typed."""

    name: str
    neutral: str
    per: float
    show: Callable[[Units, float], str]
    typing: Callable[[Units, float], str]
    read: Callable[[Units, str], float]

    def said(self, value: float) -> str:
        """A value as part of a sentence that is read in whatever units (`ironcage.told`)."""
        kind = self.name.replace(" ", "_")
        return written(kind, value) if kind in WRITERS else self.show(METRIC, value)


def _number(units: Units, text: str) -> float:
    return typed.number(text)


def _share(units: Units, text: str) -> float:
    plain = text.strip()
    return typed.number(plain[:-1]) / 100 if plain.endswith("%") else typed.number(plain)


def _angle(units: Units, text: str) -> float:
    return typed.angle(text)


LENGTH = Quantity(
    "length", "mm", 1.0, Units.length, lambda u, mm: u.length(mm, unit=False), lambda u, text: u.read_length(text)
)
MASS = Quantity("mass", "kg", 1.0, Units.mass, Units.mass, lambda u, text: u.read_mass(text))
ANGLE = Quantity(
    "angle", "deg", 180 / math.pi, lambda u, rad: angle_text(rad), lambda u, rad: f"{math.degrees(rad):g}°", _angle
)
SHARE = Quantity(
    "share", "share", 1.0, lambda u, part: f"{part * 100:.1f} %", lambda u, part: f"{part * 100:g}%", _share
)
COUNT = Quantity("count", "", 1.0, lambda u, n: f"{n:.0f}", lambda u, n: f"{n:.0f}", _number)
DAYS = Quantity("days", "days", 1.0, lambda u, n: f"{n:.0f}", lambda u, n: f"{n:.0f}", _number)
HOURS = Quantity("hours", "h", 1.0, lambda u, n: f"{n:g} h", lambda u, n: f"{n:g} h", lambda u, text: typed.hours(text))
MONEY = Quantity("money", "", 1.0, lambda u, n: f"{n:,.0f}", lambda u, n: f"{n:g}", _number)
POWER = Quantity("power", "kW", 1.0, Units.power, Units.power, lambda u, text: u.read_power(text))
TORQUE = Quantity("torque", "N·m", 1.0, Units.torque, Units.torque, lambda u, text: u.read_torque(text))
TORSIONAL_STIFFNESS = Quantity(
    "torsional stiffness",
    "N·m/deg",
    N_M_PER_DEGREE,
    Units.torsional_stiffness,
    Units.torsional_stiffness,
    lambda u, text: u.read_torsional_stiffness(text),
)
LINEAR_STIFFNESS = Quantity(
    "linear stiffness",
    "N/mm",
    1.0,
    Units.linear_stiffness,
    Units.linear_stiffness,
    lambda u, text: u.read_linear_stiffness(text),
)
STRESS = Quantity("stress", "MPa", 1.0, lambda u, mpa: f"{mpa:.0f} MPa", lambda u, mpa: f"{mpa:g}", _number)
NUMBER = Quantity("number", "", 1.0, lambda u, n: f"{n:.4g}", lambda u, n: f"{n:g}", _number)
TURNS = Quantity("turns", "1/min", 1.0, lambda u, n: f"{n:,.0f} rpm", lambda u, n: f"{n:g}", _number)
SPEED = Quantity("speed", "m/s", 1.0, Units.speed, Units.speed, _number)
DENSITY = Quantity("density", "kg/m³", 1.0, lambda u, n: f"{n:,.0f} kg/m³", lambda u, n: f"{n:g}", _number)


def quantity_of(field: FieldInfo) -> Quantity | None:
    """The quantity that the annotation of a field of a value declares; None where it declares none."""
    return next((part for part in (*field.metadata, *_within(field.annotation)) if isinstance(part, Quantity)), None)


def _within(annotation: Any) -> Iterator[Any]:
    """What the parts of an annotation declare: those of a tuple, or beside None."""
    for part in get_args(annotation):
        yield from getattr(part, "__metadata__", ())
        yield from _within(part)
