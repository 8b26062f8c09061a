"""What a builder tells about proving the frame: how it is modelled, how hard the car is driven, cases from their own
book, and what was measured on the real frame.

Forces N, lengths mm, angles rad, stiffness N·mm/rad. Cases name joints that may since have gone; the answer then says
so.
"""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from ironcage.core.job.values.base import Id, Name, Value

Force = Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]
Multiple = Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)]
Share = Annotated[float, Field(ge=0.01, le=1, allow_inf_nan=False)]
Stiff = Annotated[float, Field(ge=0, le=1e13, allow_inf_nan=False)]
Called = Annotated[str, Field(min_length=1, max_length=80)]


class Levels(Value):
    """How hard the car is used. bump: a wheel's load over its own at rest; landing: all four; brake, corner, drive:
    g; tow: pull as a share of the car's weight; strap: pull of each tie-down strap, harness: of each shoulder strap,
    N; final_drive: turns of the drive shaft for one of the wheels."""

    bump: Multiple = 3.0
    landing: Multiple = 4.0
    brake: Multiple = 1.1
    corner: Multiple = 1.2
    drive: Multiple = 0.6
    tow: Multiple = 0.5
    strap: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] = 5000.0
    harness: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] = 7000.0
    final_drive: Annotated[float, Field(gt=0, le=50, allow_inf_nan=False)] = 4.0


CHAIN = 0.0  # stands among gears for the ratio of the first chain


class Pull(Value):
    """What the car pulls away with. torque: the most that the engine turns with, N·m; gears: ratios from the engine to
    the wheels, one after the other, CHAIN for that of the chain as it is laid; grip: of the tyres, force by load, 0 not
    known; driven: which wheels."""

    torque: Annotated[float, Field(gt=0, le=1e5, allow_inf_nan=False)]
    gears: Annotated[tuple[Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)], ...], Field(max_length=6)] = ()
    grip: Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)] = 0.0
    driven: Literal["rear", "front", "all"] = "rear"


LEVELS = {
    "bump": "times its load at rest",
    "landing": "times its load at rest",
    "brake": "g",
    "corner": "g",
    "drive": "g",
    "tow": "of the car's weight",
    "strap": "a strap",
    "harness": "a strap",
    "final drive": "turns of the shaft to one of the wheels",
}
PULLS = ("strap", "harness")  # levels that are a force
STANDARD = (
    "static",
    "bump front",
    "bump front left",
    "bump front right",
    "bump rear",
    "bump rear left",
    "bump rear right",
    "landing",
    "braking",
    "cornering left",
    "cornering right",
    "acceleration",
    "tow",
    "jack",
    "strap",
    "harness",
)
PLACES = ("tow", "jack", "strap", "harness")  # cases that need to know at which joints


class At(Value):
    """Where a case takes hold: the joints."""

    what: Literal["tow", "jack", "strap", "harness"]
    joints: Annotated[tuple[Id, ...], Field(min_length=1, max_length=20)]


class PointLoad(Value):
    """A force on a joint, N, along the car's axes."""

    joint: Id
    x: Force = 0.0
    y: Force = 0.0
    z: Force = 0.0


class Case(Value):
    """Loads from the builder's own book. held: joints that hold the frame in x, y and z meanwhile; none: the car's
    own masses answer with their inertia."""

    name: Called
    loads: Annotated[tuple[PointLoad, ...], Field(min_length=1, max_length=200)]
    held: Annotated[tuple[Id, ...], Field(max_length=200)] = ()


class Term(Value):
    """A case and what it is multiplied with."""

    case: Called
    factor: Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)] = 1.0


class Combination(Value):
    """Cases at the same time."""

    name: Called
    parts: Annotated[tuple[Term, ...], Field(min_length=1, max_length=20)]


class Reading(Value):
    """A reading of the twist test: the weight hung on the beam, kg, and how far the frame turned at the front and at
    the rear stands, rad."""

    mass: Annotated[float, Field(ge=0, le=5000, allow_inf_nan=False)]
    front: Annotated[float, Field(ge=-1, le=1, allow_inf_nan=False)]
    rear: Annotated[float, Field(ge=-1, le=1, allow_inf_nan=False)] = 0.0


class TwistTest(Value):
    """A twist test of the real frame. lever: from the frame's middle to the weight along the beam, mm; reading_error:
    how exactly an angle is read, rad."""

    when: date | None = None
    lever: Annotated[float, Field(gt=0, le=20_000, allow_inf_nan=False)] = 1000.0
    reading_error: Annotated[float, Field(ge=0, le=0.1, allow_inf_nan=False)] = 0.0002
    readings: Annotated[tuple[Reading, ...], Field(max_length=200)] = ()


class Logged(Value):
    """What the frame was on a day: twist stiffness, mass in kg, and what had been done to it."""

    when: date
    note: Name
    torsion: Stiff
    mass: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]


class Proving(Value):
    """joint: how rigid the welds are in bending, 1 rigid (see `frames.beams.with_end_fixity`); ovalise: bends are
    softer because they go oval; roll_front, roll_rear: roll stiffness of both axles, 0 not known; pull: what the car
    pulls away with, None not known."""

    joint: Share = 1.0
    ovalise: bool = False
    roll_front: Stiff = 0.0
    roll_rear: Stiff = 0.0
    levels: Levels = Levels()
    pull: Pull | None = None
    places: Annotated[tuple[At, ...], Field(max_length=10)] = ()
    cases: Annotated[tuple[Case, ...], Field(max_length=200)] = ()
    combinations: Annotated[tuple[Combination, ...], Field(max_length=200)] = ()
    test: TwistTest = TwistTest()
    log: Annotated[tuple[Logged, ...], Field(max_length=2000)] = ()

    def at(self, what: str) -> tuple[str, ...]:
        """The joints where a case takes hold."""
        return next((p.joints for p in self.places if p.what == what), ())
