"""Rules that a builder copies from their own book: a clause in their words, a kind, and its numbers.

A kind says with its fields what it asks; how it is judged is in `answers/brief/rules`. Each kind's docstring is what
a builder reads of it, its fields are what is typed: `rule tube size role main hoop, od 45, wall 2.5: the clause`.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, Literal, get_args

from pydantic import Field

from ironcage.core.job.values.base import Id, Role, Value
from ironcage.units import said
from ironcage.units.quantity import ANGLE, COUNT, LENGTH, MASS, SHARE, STRESS, Quantity, quantity_of

Clause = Annotated[str, Field(min_length=1, max_length=1000)]
Length = Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False), LENGTH]
ANY_MASS = 1e6  # kg: an upper limit that is none
Mass = Annotated[float, Field(ge=0, le=ANY_MASS, allow_inf_nan=False), MASS]
Lean = Annotated[float, Field(ge=0, le=math.pi, allow_inf_nan=False), ANGLE]
Count = Annotated[int, Field(ge=0, le=10_000), COUNT]
Limit = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]  # of what READINGS says
Strength = Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False), STRESS]
Part = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False), SHARE]
Dangerous = Literal["engine", "motor", "gearbox", "tank", "battery", "differential", "chain", "shaft"]
SomeRole = Annotated[Role, Field(min_length=1)]
Reading = Literal[
    "helmet to hoop line",
    "helmet to tubes",
    "shoulder room",
    "elbow room",
    "knee to wheel",
    "knee room",
    "foot room",
    "eyes over nose",
    "ground seen ahead",
    "harness angle",
    "lap belt angle",
    "egress room",
]
READINGS: Mapping[str, Quantity] = {
    name: ANGLE if name in ("harness angle", "lap belt angle", "eyes over nose") else LENGTH
    for name in get_args(Reading)
}


class _Rule(Value):
    id: Id
    clause: Clause

    def quantity(self, field: str) -> Quantity | None:
        """What one of the fields is a measure of; None for words."""
        return quantity_of(type(self).model_fields[field])


class TubeSize(_Rule):
    """tubes of a role at least so large, for cars between two masses"""

    kind: Literal["tube size"] = "tube size"
    role: SomeRole
    od: Length
    wall: Length
    over: Mass = 0.0
    up_to: Mass = ANY_MASS


class Member(_Rule):
    """so many tubes of a role, at least"""

    kind: Literal["member"] = "member"
    role: SomeRole
    count: Count


class BraceAngle(_Rule):
    """tubes of a role lean from plumb between two angles"""

    kind: Literal["brace angle"] = "brace angle"
    role: SomeRole
    least: Lean = 0.0
    most: Lean = math.pi / 2


class Attachment(_Rule):
    """tubes of a role start no further from the top of another role's tubes"""

    kind: Literal["attachment"] = "attachment"
    role: SomeRole
    to: SomeRole
    most: Length


class Bend(_Rule):
    """bends of a role's tubes: centre-line radius at least, and how many"""

    kind: Literal["bend"] = "bend"
    role: SomeRole
    radius: Length
    count: Count = 10_000


class Sleeve(_Rule):
    """sleeves of a role's tubes: insertion depth, inspection hole, length and weld gap at least"""

    kind: Literal["sleeve"] = "sleeve"
    role: SomeRole
    depth: Length = 0.0
    hole: Length = 0.0
    length: Length = 0.0
    gap: Length = 0.0


class Room(_Rule):
    """a reading of everybody aboard, at least, at most, or both"""

    kind: Literal["room"] = "room"
    reading: Reading
    least: Limit | None = None
    most: Limit | None = None

    def quantity(self, field: str) -> Quantity | None:
        return READINGS[self.reading] if field in ("least", "most") else None


class Clearance(_Rule):
    """ground clearance, at least"""

    kind: Literal["ground clearance"] = "ground clearance"
    least: Length


class Envelope(_Rule):
    """overall length, width or height between two sizes"""

    kind: Literal["envelope"] = "envelope"
    size: Literal["length", "width", "height"]
    least: Length = 0.0
    most: Length = 1e6


class Wheels(_Rule):
    """wheelbase, front or rear track between two sizes"""

    kind: Literal["wheels"] = "wheels"
    size: Literal["wheelbase", "front track", "rear track"]
    least: Length = 0.0
    most: Length = 1e6


class Grade(_Rule):
    """tubes of a role are of a material: words of its name, what it yields at, MPa, or both"""

    kind: Literal["grade"] = "grade"
    role: SomeRole
    material: Annotated[str, Field(max_length=80)] = ""
    strength: Strength = 0.0


class Screen(_Rule):
    """sheet stands between everybody aboard and things of a kind, on at least so much of the straight lines to them"""

    kind: Literal["screen"] = "screen"
    against: Dangerous
    least: Part = 1.0


class Note(_Rule):
    """anything else, ticked by hand with a note"""

    kind: Literal["note"] = "note"
    ticked: bool = False
    note: Annotated[str, Field(max_length=1000)] = ""


AnyRule = (
    TubeSize
    | Member
    | BraceAngle
    | Attachment
    | Bend
    | Sleeve
    | Room
    | Clearance
    | Envelope
    | Wheels
    | Grade
    | Screen
    | Note
)
Rule = Annotated[AnyRule, Field(discriminator="kind")]
KINDS: dict[str, type[AnyRule]] = {str(k.model_fields["kind"].default): k for k in get_args(AnyRule)}
_TYPED = {
    "tube size": "rule tube size role main hoop, od [45], wall [2.5]: Main hoop no thinner than [45] x [2.5]",
    "member": "rule member role diagonal, count 4: Four diagonals or more",
    "brace angle": "rule brace angle role hoop brace, least 30, most 60: Hoop braces lean 30 to 60 degrees",
    "attachment": "rule attachment role hoop brace, to main hoop, most [150]: Braces start within [150] of the "
    "hoop's top",
    "bend": "rule bend role main hoop, radius [135], count 4: No tighter than three diameters",
    "sleeve": "rule sleeve role rail, depth [60], hole [6]: Inserts [60] deep with a [6] hole to look through",
    "room": "rule room reading helmet to hoop line, least [50]: Helmet [50] below the hoop line",
    "ground clearance": "rule ground clearance least [90]: Nothing lower than [90]",
    "envelope": "rule envelope size width, most [1700]: No wider than [1700]",
    "wheels": "rule wheels size wheelbase, least [2000], most [2600]: Wheelbase [2000] to [2600]",
    "grade": "rule grade role main hoop, material chromium, strength 435: Main hoop of chromium steel",
    "screen": "rule screen against engine, least 90%: A firewall between engine and people",
    "note": "rule note: Battery isolator within the driver's reach",
}
EXAMPLES: dict[str, str] = {kind: said.example(line) for kind, line in _TYPED.items()}
