"""The job: everything a builder has told the program, as frozen values with stable ids.

Lengths mm, masses kg, angles rad; axes x forward, y left, z up from the ground under the front axle
line. Joints come in left/right pairs that name each other as `twin`; a joint on the centreline is its
own twin, and one that the builder has parted has none.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from functools import cached_property
from typing import Annotated, Any, Literal, Self, TypeVar, cast

from annotated_types import MaxLen
from pydantic import Field, model_validator

from ironcage.core.calc.sections import AnySection
from ironcage.core.job.values.bands import Band
from ironcage.core.job.values.base import (
    MOST,
    XYZ,
    Coordinate,
    Corner,
    Id,
    Name,
    Positive,
    Role,
    Size,
    Value,
)
from ironcage.core.job.values.buying import Buying
from ironcage.core.job.values.cutting import Cutting
from ironcage.core.job.values.fittings import Fitting
from ironcage.core.job.values.logbook import Logbook
from ironcage.core.job.values.offsets import Offsets
from ironcage.core.job.values.placed import (
    Adapter,
    Chain,
    Part,
    Pattern,
    Person,
    Picture,
    SectionLine,
    Shaft,
)
from ironcage.core.job.values.proving import Proving
from ironcage.core.job.values.references import check_references
from ironcage.core.job.values.rules import Rule
from ironcage.core.job.values.running import (
    AxleCarrier,
    KingpinBeam,
    LinkedAxle,
    SteeringFork,
    SwingingArms,
    Wishbones,
)
from ironcage.core.job.values.ties import Tie
from ironcage.core.job.values.truing import Truing
from ironcage.core.job.values.welding import Welding
from ironcage.problem import Problem, nearest
from ironcage.units.quantity import SHARE


class Datum(Value):
    """A named place that readings can be taken from."""

    name: Name
    x: Coordinate = 0.0
    y: Coordinate = 0.0
    z: Coordinate = 0.0


class UnitChoice(Value):
    """How the builder types and reads: what bare numbers mean, the finest inch fraction, kg or lb."""

    length: Literal["mm", "inch"] = "mm"
    fraction: Literal[0, 8, 16, 32, 64] = 16
    mass: Literal["kg", "lb"] = "kg"


TargetKind = Literal[
    "wheelbase",
    "front track",
    "rear track",
    "length",
    "width",
    "height",
    "ride height",
    "ground clearance",
    "mass",
    "power",
    "torque",
    "budget",
    "twist stiffness",
]


class Target(Value):
    """What a figure is meant to become, and how far off it may be: mm, kg, kW, N·m, N·mm/rad, or the builder's
    money."""

    kind: TargetKind
    value: Annotated[float, Field(ge=0, le=1e13, allow_inf_nan=False)]
    tolerance: Annotated[float, Field(ge=0, le=1e13, allow_inf_nan=False)] = 0.0


class OtherVehicle(Value):
    """A vehicle that this one is compared with: what is known of it, each kind once."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    figures: Annotated[tuple[Target, ...], Field(max_length=40)] = ()

    def figure(self, kind: str) -> float | None:
        """What is known of it, in internal units; None where that is not."""
        return next((f.value for f in self.figures if f.kind == kind), None)


class RuleProfile(Value):
    """Rules that a builder typed in from their own book. example: it is the made-up one that shows how."""

    name: Name = "No rules yet"
    example: bool = False
    rules: Annotated[tuple[Rule, ...], Field(max_length=1000)] = ()


class Brief(Value):
    """What is built, by whom, in which units, read from which datum, with which aims and by which day."""

    name: Name = "New job"
    builder: Name = ""
    vehicle: Name = ""
    units: UnitChoice = UnitChoice()
    datums: Annotated[tuple[Datum, ...], Field(max_length=200)] = (Datum(name="front axle line"),)
    shown_from: Name = "front axle line"
    targets: Annotated[tuple[Target, ...], Field(max_length=40)] = ()
    against: Annotated[tuple[OtherVehicle, ...], Field(max_length=100)] = ()
    deadline: date | None = None
    lock: Annotated[float, Field(ge=0, lt=1.5, allow_inf_nan=False)] = (
        0.0  # of the outer front wheel at full steer, rad; 0 not known
    )


class Section(Value):
    """A tube section on the shelf."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    shape: Annotated[AnySection, Field(discriminator="kind")]
    series: Literal["metric", "inch", "pipe", "own"] = "own"
    price: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] = 0.0  # the builder's money a metre, 0 not known


class Material(Value):
    """A material: moduli and strengths in MPa, density in kg/m³, and where the figures come from.

    `as_welded_yield` is what is left beside a weld.
    """

    name: Annotated[str, Field(min_length=1, max_length=80)]
    e: Positive
    g: Positive
    density: Positive
    yield_strength: Positive
    as_welded_yield: Positive
    source: Name = ""

    @property
    def poisson(self) -> float:
        """Poisson's ratio, from E = 2G(1 + ν)."""
        return self.e / (2 * self.g) - 1


class Die(Value):
    """A bending die: the tube's outside diameter (or height), the centre-line radius it bends to, the straight it
    needs between two bends, mm; springback: the share of the angle bent that springs back. room: how far from the
    die's middle there is room for what is bent already to swing, and under: how far below the plane of bending, mm, to
    the bender's frame, a wall or the floor; None where that was not typed."""

    od: Size
    radius: Size
    grip: Annotated[float, Field(ge=0, le=5000, allow_inf_nan=False)] = 0.0
    springback: Annotated[float, Field(ge=0, le=0.5, allow_inf_nan=False), SHARE] = 0.0
    room: Annotated[float, Field(gt=0, le=1e5, allow_inf_nan=False)] | None = None
    under: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)] | None = None


class Shelf(Value):
    """The sections and materials this job uses or keeps at hand, and the builder's bending dies."""

    sections: Annotated[tuple[Section, ...], Field(max_length=5000)] = ()
    materials: Annotated[tuple[Material, ...], Field(max_length=1000)] = ()
    dies: Annotated[tuple[Die, ...], Field(max_length=200)] = ()


class Joint(Value):
    """A point where tubes meet. `through` names the tube that runs through it, if the builder chose one; `tie` what
    it follows; `called` is the builder's own name for it, without a side."""

    id: Id
    x: Coordinate
    y: Coordinate
    z: Coordinate
    twin: Id | None = None
    through: Id | None = None
    tie: Tie | None = None
    called: Name = ""

    @property
    def place(self) -> tuple[float, float, float]:
        """x, y, z in mm."""
        return self.x, self.y, self.z


class Tube(Value):
    """A tube between two joints; `roll` turns its section about its axis (rad).

    corners: where its straight runs meet, none for a straight tube. Each is told from the end it belongs to, so that a
    bent tube follows its joints: those of the first half from the first end, those of the second half from the second,
    one in the middle from half way between them. radius: of the bends on the centreline, 0 where it is notched and
    folded. offset_a, offset_b: how far its ends land beside their joints. taper: the section at its second end, where
    that is another. cut_from: the section it is cut down from. donor: it is there already, and is neither bought nor
    cut. laser: its piece is sent to a tube laser. called: the builder's own name for it, without a side. sequence: its
    turn to be put in, the least first.
    """

    id: Id
    a: Id
    b: Id
    section: str
    material: str
    role: Role = ""
    roll: Annotated[float, Field(ge=-7, le=7, allow_inf_nan=False)] = 0.0
    pinned_a: bool = False
    pinned_b: bool = False
    corners: Annotated[tuple[XYZ, ...], Field(max_length=40)] = ()
    radius: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)] = 0.0
    offset_a: XYZ = (0.0, 0.0, 0.0)
    offset_b: XYZ = (0.0, 0.0, 0.0)
    taper: str = ""
    cut_from: str = ""
    donor: bool = False
    laser: bool = False
    called: Name = ""
    sequence: Annotated[int, Field(ge=-99, le=99)] = 0

    @property
    def ends(self) -> tuple[str, str]:
        """Both joints."""
        return self.a, self.b

    @cached_property
    def shaped(self) -> bool:
        """Whether its centreline is other than the straight line between its joints."""
        return bool(self.corners) or any(self.offset_a) or any(self.offset_b)


class Pickup(Value):
    """A joint where the suspension of one corner is fixed."""

    id: Id
    joint: Id
    corner: Corner


class Wheel(Value):
    """A wheel: the place of its centre, tyre diameter and width, the tyre's size as it was typed, and the inside
    diameter of its rim, mm, 0 where that is not known; disc: diameter of its brake disc, disc_in: how far inwards of
    the wheel's middle the disc's inner face stands, mm. A single wheel on the centreline is kept as two halves in one
    place, so that each corner has one."""

    id: Id
    corner: Corner
    x: Coordinate
    y: Coordinate
    z: Coordinate
    diameter: Size
    width: Size
    tyre: Name = ""
    rim: Annotated[float, Field(ge=0, le=3000, allow_inf_nan=False)] = 0.0
    disc: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)] = 0.0
    disc_in: Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)] = 0.0

    @property
    def single(self) -> bool:
        """Whether it is half of a single wheel on the centreline."""
        return self.y == 0.0

    @property
    def second_half(self) -> bool:
        """Whether it is the half of a single wheel that goes without saying."""
        return self.single and self.corner.endswith("right")

    @property
    def tyre_name(self) -> str:
        """What its tyre is called."""
        return f"{self.corner.partition(' ')[0] if self.single else self.corner} tyre"


class PointMass(Value):
    """Something heavy at a place."""

    id: Id
    name: Name
    mass: Positive
    x: Coordinate
    y: Coordinate
    z: Coordinate


class JigTable(Value):
    """The jig table in the car's axes: its rear right corner (x, y), its size along x and y, the height z of
    its top, and the least height of a saddle above it. `stands` are the joints that stand on it."""

    corner_x: Coordinate = -3000.0
    corner_y: Coordinate = -750.0
    length: Size = 3600.0
    width: Size = 1500.0
    top_z: Coordinate = 0.0
    least_saddle: Size = 60.0
    stands: Annotated[tuple[Id, ...], Field(max_length=1000)] = ()


class KeptTape(Value):
    """A tape that stays on the table: between two things by id, or, of three joints, the angle at the second. It is
    kept, and not drawn, while one of them is gone."""

    things: Annotated[tuple[Id, ...], Field(min_length=2, max_length=3)]


class Variant(Value):
    """Another state of this job, kept beside it."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    note: Name = ""
    job: Job


class Job(Value):
    """A whole job. Make changed jobs with the functions in `edits`."""

    brief: Brief = Brief()
    shelf: Shelf = Shelf()
    joints: Annotated[tuple[Joint, ...], Field(max_length=MOST)] = ()
    tubes: Annotated[tuple[Tube, ...], Field(max_length=MOST)] = ()
    pickups: Annotated[tuple[Pickup, ...], Field(max_length=1000)] = ()
    wheels: Annotated[tuple[Wheel, ...], Field(max_length=40)] = ()
    masses: Annotated[tuple[PointMass, ...], Field(max_length=1000)] = ()
    table: JigTable = JigTable()
    parts: Annotated[tuple[Part, ...], Field(max_length=5000)] = ()
    people: Annotated[tuple[Person, ...], Field(max_length=100)] = ()
    chains: Annotated[tuple[Chain, ...], Field(max_length=100)] = ()
    shafts: Annotated[tuple[Shaft, ...], Field(max_length=200)] = ()
    pictures: Annotated[tuple[Picture, ...], Field(max_length=300)] = ()
    patterns: Annotated[tuple[Pattern, ...], Field(max_length=1000)] = ()
    adapters: Annotated[tuple[Adapter, ...], Field(max_length=200)] = ()
    lines: Annotated[tuple[SectionLine, ...], Field(max_length=300)] = ()
    offsets: Offsets = Offsets()
    tapes: Annotated[tuple[KeptTape, ...], Field(max_length=200)] = ()
    fittings: Annotated[tuple[Fitting, ...], Field(max_length=5000)] = ()
    rules: RuleProfile = RuleProfile()
    proving: Proving = Proving()
    wishbones: Annotated[tuple[Wishbones, ...], Field(max_length=2)] = ()
    live_axles: Annotated[tuple[LinkedAxle, ...], Field(max_length=2)] = ()
    beams: Annotated[tuple[KingpinBeam, ...], Field(max_length=2)] = ()
    arms: Annotated[tuple[SwingingArms, ...], Field(max_length=2)] = ()
    forks: Annotated[tuple[SteeringFork, ...], Field(max_length=1)] = ()
    carriers: Annotated[tuple[AxleCarrier, ...], Field(max_length=2)] = ()
    bands: Annotated[tuple[Band, ...], Field(max_length=100)] = ()
    welding: Welding = Welding()
    truing: Truing = Truing()
    logbook: Logbook = Logbook()
    buying: Buying = Buying()
    cutting: Cutting = Cutting()
    variants: Annotated[tuple[Variant, ...], Field(max_length=20)] = ()
    last_joint: Annotated[int, Field(ge=0, le=10**9)] = 0
    last_tube: Annotated[int, Field(ge=0, le=10**9)] = 0
    last_part: Annotated[int, Field(ge=0, le=10**9)] = 0
    last_fitting: Annotated[int, Field(ge=0, le=10**9)] = 0

    @model_validator(mode="after")
    def _sound(self) -> Self:
        """Refuse a job whose parts name each other wrongly."""
        check_references(self)
        return self

    def but(self, **changes: Any) -> Self:
        """The same job with some parts changed; parts not named are kept as the very same objects."""
        demand_within_limits(changes)
        kept = {name: getattr(self, name) for name in type(self).model_fields}
        made = cast(Self, type(self).model_construct(**{**kept, **changes}))
        check_references(made, since=self)
        for name, parts in _INDEXES.items():
            index = self.__dict__.get(name)
            if index is not None and all(getattr(made, part) is kept[part] for part in parts):
                made.__dict__[name] = index
        return made

    @cached_property
    def joint_by_id(self) -> Mapping[str, Joint]:
        """Joints by id."""
        return {j.id: j for j in self.joints}

    @cached_property
    def tube_by_id(self) -> Mapping[str, Tube]:
        """Tubes by id."""
        return {t.id: t for t in self.tubes}

    @cached_property
    def tube_by_ends(self) -> Mapping[frozenset[str], Tube]:
        """Tubes by their pair of joints; where a straight and a bent one join the same two, as under a hoop, the
        straight one."""
        found: dict[frozenset[str], Tube] = {}
        for t in self.tubes:
            if not t.corners or frozenset(t.ends) not in found:
                found[frozenset(t.ends)] = t
        return found

    @cached_property
    def _bent_by_ends(self) -> Mapping[frozenset[str], Tube]:
        return {frozenset(t.ends): t for t in self.tubes if t.corners}

    def tube_between(self, ends: tuple[str, str], *, bent: bool) -> Tube | None:
        """The straight, or the bent, tube that joins two joints."""
        found = self._bent_by_ends.get(frozenset(ends)) if bent else self.tube_by_ends.get(frozenset(ends))
        return found if found and bool(found.corners) == bent else None

    @cached_property
    def tubes_at(self) -> Mapping[str, tuple[Tube, ...]]:
        """Tubes by joint."""
        found: dict[str, list[Tube]] = {}
        for tube in self.tubes:
            found.setdefault(tube.a, []).append(tube)
            found.setdefault(tube.b, []).append(tube)
        return {joint: tuple(tubes) for joint, tubes in found.items()}

    def joint(self, name: str) -> Joint:
        """The joint of that id; refuses an unknown one with the nearest known."""
        return _find(self.joint_by_id, name, "joint")

    def tube(self, name: str) -> Tube:
        """The tube of that id; refuses an unknown one with the nearest known."""
        return _find(self.tube_by_id, name, "tube")

    def twin_tube(self, tube: Tube) -> Tube | None:
        """The tube on the other side; the tube itself when it crosses the centreline evenly."""
        twins = [self.joint_by_id[end].twin for end in tube.ends]
        if not all(twins):
            return None
        return self.tube_between((twins[0] or "", twins[1] or ""), bent=bool(tube.corners))

    def section(self, name: str) -> Section:
        """A section on the shelf."""
        return _find({s.name: s for s in self.shelf.sections}, name, "section")

    def material(self, name: str) -> Material:
        """A material on the shelf."""
        return _find({m.name: m for m in self.shelf.materials}, name, "material")

    @cached_property
    def placed(self) -> Mapping[str, Part | Person | Chain | Shaft | Picture]:
        """Parts, people, chains, shafts and pictures by id."""
        groups = (self.parts, self.people, self.chains, self.shafts, self.pictures)
        return {thing.id: thing for group in groups for thing in group}

    @cached_property
    def fitting_by_id(self) -> Mapping[str, Fitting]:
        """Fittings by id."""
        return {f.id: f for f in self.fittings}

    @property
    def datum(self) -> Datum:
        """The datum that readings are shown from."""
        return next(d for d in self.brief.datums if d.name == self.brief.shown_from)


def _limit(name: str) -> int | None:
    return next((m.max_length for m in Job.model_fields[name].metadata if isinstance(m, MaxLen)), None)


LIMITS: Mapping[str, int] = {
    name: most for name in Job.model_fields if (most := _limit(name))
}  # how many of each a job holds


def demand_within_limits(changes: Mapping[str, Any]) -> None:
    """Refuse more of anything than a job's file may hold."""
    for name, new in changes.items():
        most = LIMITS.get(name)
        if most is not None and len(new) > most:
            raise Problem(f"A job holds {most} {name} at most.", where=name, hint="Take out what is not needed first.")


_INDEXES = {  # by what a job's parts are looked up, and those parts: a changed job takes over what is still true of it
    "joint_by_id": ("joints",),
    "tube_by_id": ("tubes",),
    "tube_by_ends": ("tubes",),
    "_bent_by_ends": ("tubes",),
    "tubes_at": ("tubes",),
    "placed": ("parts", "people", "chains", "shafts", "pictures"),
    "fitting_by_id": ("fittings",),
}
T = TypeVar("T")


def _find(known: Mapping[str, T], name: str, what: str) -> T:
    if name in known:
        return known[name]
    upper = next((k for k in known if k.lower() == name.lower()), None)
    if upper is not None:
        return known[upper]
    raise Problem(f"There is no {what} ‘{name}’.", where=name, hint=nearest(name, known))


__all__ = [
    "AnySection",
    "Brief",
    "Corner",
    "Datum",
    "Die",
    "JigTable",
    "Job",
    "Joint",
    "KeptTape",
    "Material",
    "Pickup",
    "PointMass",
    "Role",
    "RuleProfile",
    "Section",
    "Shelf",
    "Target",
    "TargetKind",
    "Tube",
    "UnitChoice",
    "Value",
    "Variant",
    "Wheel",
]
