"""What all values of a job are made of: frozen, checked when made, with bounded names and numbers."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field

REACH_MM = 1e6
MOST = 50_000

Id = Annotated[str, Field(min_length=1, max_length=40)]
Name = Annotated[str, Field(max_length=200)]
Coordinate = Annotated[float, Field(ge=-REACH_MM, le=REACH_MM, allow_inf_nan=False)]
Size = Annotated[float, Field(gt=0, le=REACH_MM, allow_inf_nan=False)]
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

    def but(self, **changes: Any) -> Self:
        """The same value with some fields changed, checked."""
        held = self.__dict__  # read by name, not walked: another thread may just be keeping something there
        return type(self)(**{**{name: held[name] for name in type(self).model_fields}, **changes})
