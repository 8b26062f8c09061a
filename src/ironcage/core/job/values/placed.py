"""What is put into the car: parts with a shape, people, chains and shafts. Lengths mm, masses kg, angles rad."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ironcage.core.calc.car.mannequin import Limbs, Seat
from ironcage.core.job.values.base import (
    XYZ,
    Coordinate,
    Id,
    Name,
    Positive,
    Size,
    Turn,
    Value,
)

PartKind = Literal[
    "engine",
    "gearbox",
    "differential",
    "axle",
    "motor",
    "battery",
    "tank",
    "radiator",
    "seat",
    "pedals",
    "column",
    "hand wheel",
    "rack",
    "exhaust",
    "muffler",
    "hose",
    "glass",
    "wheel tub",
    "dash",
    "plate",
    "load",
    "other",
]
Weight = Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]
Margin = Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]
Travel = Annotated[float, Field(ge=0, le=2000, allow_inf_nan=False)]
Teeth = Annotated[int, Field(ge=6, le=250)]
Direction = tuple[
    Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)],
    Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)],
    Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)],
]


class Box(Value):
    """A box: its size along its own x, y and z, about its middle."""

    kind: Literal["box"] = "box"
    length: Size
    width: Size
    height: Size


class Cylinder(Value):
    """A cylinder along its own x, about its middle."""

    kind: Literal["cylinder"] = "cylinder"
    diameter: Size
    length: Size


class Outline(Value):
    """A flat outline in its own x and z, extruded to both sides along y."""

    kind: Literal["outline"] = "outline"
    corners: Annotated[tuple[tuple[Coordinate, Coordinate], ...], Field(min_length=3, max_length=60)]
    thickness: Size


class Pipe(Value):
    """A pipe, a hose or an exhaust along a centreline. points: both ends and the corners between, in its own axes from
    its place; radius: of the bends' centreline, 0 for sharp ones; mitres: how many make a bend where it is cut from
    straight tube, 0 where it is bent."""

    kind: Literal["pipe"] = "pipe"
    diameter: Size
    radius: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)] = 0.0
    points: Annotated[tuple[XYZ, ...], Field(min_length=2, max_length=60)]
    mitres: Annotated[int, Field(ge=0, le=30)] = 0


class Scan(Value):
    """A mesh that was measured or drawn elsewhere. digest: what its file is called by its content; low, high: its
    bounds in its own axes."""

    kind: Literal["scan"] = "scan"
    digest: Annotated[str, Field(pattern=r"^[0-9a-f]{16,64}$")]
    triangles: Annotated[int, Field(ge=1, le=20_000_000)]
    low: XYZ
    high: XYZ


Shape = Annotated[Box | Cylinder | Outline | Pipe | Scan, Field(discriminator="kind")]


class Hole(Value):
    """A mount hole, at a place in the part's own axes."""

    name: Name
    x: Coordinate
    y: Coordinate
    z: Coordinate
    diameter: Size


class Part(Value):
    """Something that is in the car. x, y, z: where the middle of its shape is; yaw, pitch, roll: how it is turned
    (see `solids.convex.rotation`); cg: its centre of gravity in its own axes; contents: what it holds besides its
    mass, kg, weighed while `full`; margin: what must be kept clear round it; slide: the way it has to come out, its
    length the distance, in the car's axes (zero: none); touches: ids and roles of what it may touch; mount:
    stiffness of each of its mounts, N/mm, where it carries the frame's load, else 0."""

    id: Id
    name: Name
    kind: PartKind = "other"
    shape: Shape
    x: Coordinate
    y: Coordinate
    z: Coordinate
    yaw: Turn = 0.0
    pitch: Turn = 0.0
    roll: Turn = 0.0
    mass: Weight = 0.0
    contents: Weight = 0.0
    full: bool = True
    cg: XYZ = (0.0, 0.0, 0.0)
    margin: Margin = 10.0
    slide: XYZ = (0.0, 0.0, 0.0)
    holes: Annotated[tuple[Hole, ...], Field(max_length=200)] = ()
    touches: Annotated[tuple[Name, ...], Field(max_length=200)] = ()
    mount: Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)] = 0.0

    @property
    def place(self) -> tuple[float, float, float]:
        """x, y, z in mm."""
        return self.x, self.y, self.z


class Person(Value):
    """Somebody who sits in the car; not aboard, they are kept but neither weighed nor checked. uses: the seat,
    pedals and hand wheel (ids of parts) that are theirs, which move with them and they with those."""

    id: Id
    name: Name
    mass: Positive
    limbs: Limbs
    seat: Seat
    margin: Margin = 30.0
    aboard: bool = True
    uses: Annotated[tuple[Id, ...], Field(max_length=20)] = ()


Plane = Literal["side", "plan", "front"]


class Picture(Value):
    """A photo or drawing laid on a plane of the car, to take proportions from. digest: what its file is called by its
    content; x, y, z: its middle;
    width, height: as it lies; turn: anticlockwise as it is seen; dim: how far it is faded, 0 to 1."""

    id: Id
    name: Name
    digest: Annotated[str, Field(pattern=r"^[0-9a-f]{16,64}\.(png|jpg)$")]
    plane: Plane = "side"
    x: Coordinate
    y: Coordinate
    z: Coordinate
    width: Size
    height: Size
    turn: Turn = 0.0
    dim: Annotated[float, Field(ge=0, le=1)] = 0.5

    @property
    def place(self) -> tuple[float, float, float]:
        """x, y, z in mm."""
        return self.x, self.y, self.z


class Taped(Value):
    """A distance taped between the middles of two holes of a pattern."""

    a: Annotated[int, Field(ge=1, le=60)]
    b: Annotated[int, Field(ge=1, le=60)]
    distance: Size


class Pattern(Value):
    """Holes that must match something: what was taped between them, and their diameter."""

    id: Id
    name: Name
    taped: Annotated[tuple[Taped, ...], Field(min_length=1, max_length=400)]
    diameter: Size

    @property
    def readings(self) -> tuple[tuple[int, int, float], ...]:
        """What was taped as (first hole, second hole, mm)."""
        return tuple((t.a, t.b, t.distance) for t in self.taped)


class Adapter(Value):
    """A plate with the holes of two patterns, so that one thing bolts to another. one, other: the patterns' ids; x, y:
    how far the second pattern's middle is from the first's, in the first one's axes, mm; turn: by how much it is
    turned, rad; bore: a hole in the first one's middle, mm, 0 none; material: of the shelf, the last tube's where it is
    empty."""

    id: Id
    name: Name
    one: Id
    other: Id
    x: Coordinate = 0.0
    y: Coordinate = 0.0
    turn: Turn = 0.0
    bore: Annotated[float, Field(ge=0, le=1e4, allow_inf_nan=False)] = 0.0
    thickness: Size
    material: Annotated[str, Field(max_length=80)] = ""


class SectionLine(Value):
    """A line that joints are laid to, such as the roof or the glass: an axis, where it is, and the joints that
    follow it."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    axis: Literal["x", "y", "z"]
    at: Coordinate
    joints: Annotated[tuple[Id, ...], Field(max_length=1000)] = ()


class Sprocket(Value):
    """A sprocket or toothed pulley: teeth, middle, and how its shaft stands off the car's y: yaw (its left end ahead
    positive) and tilt (its left end up positive)."""

    teeth: Teeth
    x: Coordinate
    y: Coordinate
    z: Coordinate
    yaw: Turn = 0.0
    tilt: Turn = 0.0


class Chain(Value):
    """A chain or toothed belt from a driving to a driven wheel. width: over its outer plates or the belt; height: of
    its plates; up, down: travel of the driven wheel; span: from the driven shaft's left bearing to its right one;
    reach: from the left bearing to the wheel, to the right;
    left_off, right_off: how far each bearing's bore stands above its block's middle; most_angle, most_offset: the
    limits;
    wear: the share it may lengthen; gears: engine turns for one of the driving sprocket, one a gear; guarded: a
    guard is fitted."""

    id: Id
    name: Name
    belt: bool = False
    pitch: Size
    width: Size
    height: Size
    driving: Sprocket
    driven: Sprocket
    margin: Margin = 12.0
    up: Travel = 0.0
    down: Travel = 0.0
    span: Size = 300.0
    reach: Coordinate = 0.0
    left_off: Coordinate = 0.0
    right_off: Coordinate = 0.0
    most_angle: Annotated[float, Field(gt=0, le=0.2)] = 0.004363323129985824
    most_offset: Size = 1.0
    wear: Annotated[float, Field(ge=0, le=0.1)] = 0.015
    gears: Annotated[tuple[Positive, ...], Field(max_length=12)] = ()
    guarded: bool = False
    touches: Annotated[tuple[Name, ...], Field(max_length=200)] = ()


class Shaft(Value):
    """A shaft with a universal joint at each end: joint centres, axes of what it joins along the flow of power, how
    far its second yoke is turned against its first, diameter, and travel of its second joint; start_on, stop_on: the
    part that each end goes with, empty where it stays."""

    id: Id
    name: Name
    start: XYZ
    stop: XYZ
    drive: Direction = (-1.0, 0.0, 0.0)
    driven: Direction = (-1.0, 0.0, 0.0)
    phase: Turn = 0.0
    diameter: Size = 60.0
    margin: Margin = 15.0
    up: Travel = 0.0
    down: Travel = 0.0
    start_on: Annotated[str, Field(max_length=40)] = ""
    stop_on: Annotated[str, Field(max_length=40)] = ""
    touches: Annotated[tuple[Name, ...], Field(max_length=200)] = ()
