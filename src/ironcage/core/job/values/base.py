"""What all values of a job are made of: frozen, checked when made, with bounded names and numbers."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field

from ironcage.units.quantity import LENGTH, Quantity, quantity_of

REACH_MM = 1e6
MOST = 50_000

Id = Annotated[str, Field(min_length=1, max_length=40)]
Name = Annotated[str, Field(max_length=200)]
Coordinate = Annotated[float, Field(ge=-REACH_MM, le=REACH_MM, allow_inf_nan=False), LENGTH]
Size = Annotated[float, Field(gt=0, le=REACH_MM, allow_inf_nan=False), LENGTH]
Positive = Annotated[float, Field(gt=0, le=1e9, allow_inf_nan=False)]
Corner = Literal["front left", "front right", "rear left", "rear right"]
XYZ = tuple[Coordinate, Coordinate, Coordinate]
Turn = Annotated[float, Field(ge=-7, le=7, allow_inf_nan=False)]
Role = Literal[
    "",
    "main hoop",
    "front hoop",
    "hoop brace",
    "rail",
    "cross member",
    "side",
    "diagonal",
    "engine bay",
    "harness bar",
    "lap bar",
    "floor",
    "nose",
    "bulkhead",
    "suspension",
]


class Value(BaseModel):
    """A frozen value that is checked when made."""

    model_config = ConfigDict(frozen=True, extra="forbid", strict=False, defer_build=True)

    @classmethod
    def quantity_at(cls, title: str, path: tuple[int | str, ...]) -> Quantity | None:
        """What a refused field is a measure of. title, path: the class and the place that the refusal names."""
        names = [str(part) for part in path]
        for kind in _below(cls):
            if kind.__name__ == title or kind.__name__ in names:
                for name in names:
                    if name in kind.model_fields and (found := quantity_of(kind.model_fields[name])):
                        return found
        return None

    def but(self, **changes: Any) -> Self:
        """The same value with some fields changed, checked."""
        held = self.__dict__  # read by name, not walked: another thread may just be keeping something there
        return type(self)(**{**{name: held[name] for name in type(self).model_fields}, **changes})


def _below(kind: type[Value]) -> Iterator[type[Value]]:
    for made in kind.__subclasses__():
        yield made
        yield from _below(made)
