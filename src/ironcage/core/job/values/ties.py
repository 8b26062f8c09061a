"""What a joint can be tied to, and where it then stands: it follows when that moves, and can't be moved by itself."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ironcage.core.job.values.base import XYZ, Id, Name, Value

Share = Annotated[float, Field(gt=0, lt=1, allow_inf_nan=False)]


class ToHole(Value):
    """at a part's mount hole, so far from it in the car's axes"""

    kind: Literal["hole"] = "hole"
    thing: Id
    hole: Name
    offset: XYZ = (0.0, 0.0, 0.0)


class ToJoint(Value):
    """so far from another joint, as a bracket beside a pickup is"""

    kind: Literal["joint"] = "joint"
    joint: Id
    offset: XYZ


class Between(Value):
    """on the straight line between two joints, at a share of it from the first"""

    kind: Literal["between"] = "between"
    a: Id
    b: Id
    share: Share


AnyTie = ToHole | ToJoint | Between
Tie = Annotated[AnyTie, Field(discriminator="kind")]
