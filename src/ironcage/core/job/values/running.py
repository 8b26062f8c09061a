"""How wheels are hung: the links of each axle. Lengths mm, angles rad; places of the left side."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from typing import Annotated, Literal, TypeVar

from pydantic import Field

from ironcage.core.job.values.base import XYZ, Id, Size, Value
from ironcage.units.quantity import ANGLE, LENGTH, LINEAR_STIFFNESS, MASS, STRESS

Lean = Annotated[float, Field(ge=-0.5, le=0.5, allow_inf_nan=False), ANGLE]
Travel = Annotated[float, Field(ge=0, le=400, allow_inf_nan=False), LENGTH]
Length = Annotated[float, Field(ge=0, le=3000, allow_inf_nan=False), LENGTH]
SpringOn = Literal["lower", "upper", "upright"]
Axle = Literal["front", "rear"]
# fields that are places of the car, in whatever wheels hang on
PLACES = {"lower_out", "upper_out", "tie_in", "tie_out", "spring_out", "pivot", "column", "axis", "rod_out", "rod_in"}
PLACES |= {"torque_out", "seat", "lower", "upper", "arm", "rod", "drag", "stay_out", "holes", "tops"}
# those of them that go with the wheel; of a coil-over on a rocker its end does not
OUTER = PLACES - {"tie_in", "pivot", "column", "axis", "rod_in", "rod", "tops"}
# the parts of a job that say what its wheels hang on
HUNG = ("wishbones", "live_axles", "beams", "arms", "forks", "carriers")


class RodEnds(Value):
    """The rod ends that the links of an end are screwed to, all alike; mm, 0 where a figure is not known. thread: its
    diameter; shank: from the eye's middle to the end of the thread, start: to where the thread starts; nut: how thick
    its jam nut is; lip: how far an insert stands out of its tube; engaged: thread in the insert, as set up; head:
    outside diameter of the eye, housing: how thick that is, ball: how wide its ball is; tilt: how far the ball joints
    of wishbones may tilt, rad."""

    thread: Length = 0.0
    shank: Length = 0.0
    start: Length = 0.0
    nut: Length = 0.0
    lip: Length = 0.0
    engaged: Length = 0.0
    head: Length = 0.0
    housing: Length = 0.0
    ball: Length = 0.0
    tilt: Annotated[float, Field(ge=0, lt=1.5, allow_inf_nan=False), ANGLE] = 0.0


class AirSpring(Value):
    """What is known of an air spring at ride height; mm, 0 where a figure is not known. across: the diameter that its
    pressure works on; column: how long its air would be in a tube of that diameter, its volume by that area."""

    across: Length = 0.0
    column: Length = 0.0

    @property
    def known(self) -> bool:
        """Whether enough is known of it to tell its rate."""
        return bool(self.across and self.column)


class CoilOver(Value):
    """A spring on its damper, one at each wheel; 0 where a figure is not known. rate: of the spring, N/mm; free, solid:
    its length alone, and pressed until its coils touch; air: of an air spring in place of it; open, closed: between the
    damper's eyes at full length and pressed together; stop: how high its bump stop is; unsprung: what moves with the
    wheel, kg; holes: other places that its foot can be bolted at, tops: that its top can, of the left side."""

    rate: Annotated[float, Field(ge=0, le=5000, allow_inf_nan=False), LINEAR_STIFFNESS] = 0.0
    free: Length = 0.0
    solid: Length = 0.0
    open: Length = 0.0
    closed: Length = 0.0
    stop: Length = 0.0
    unsprung: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False), MASS] = 0.0
    air: AirSpring = AirSpring()
    holes: Annotated[tuple[XYZ, ...], Field(max_length=8)] = ()
    tops: Annotated[tuple[XYZ, ...], Field(max_length=8)] = ()


class RollBar(Value):
    """An anti-roll bar across the car; mm, 0 where a figure is not known. od, bore: of the part that twists, bore 0 a
    solid one; length: of that; arm: from its axis square to its drop links; ratio: how far a drop link goes for each mm
    that its wheel rises."""

    od: Length = 0.0
    bore: Length = 0.0
    length: Length = 0.0
    arm: Length = 0.0
    ratio: Annotated[float, Field(ge=0, le=3, allow_inf_nan=False)] = 1.0


class PushRod(Value):
    """A push or pull rod and its rocker, of the left side. pivot: the joint that the rocker turns at; axis: a second
    place on its axis; rod_out: the rod's outer end, on what the spring stands on; rod_in: its end on the rocker."""

    pivot: Id
    axis: XYZ
    rod_out: XYZ
    rod_in: XYZ


class Wishbones(Value):
    """An axle on double wishbones. lower, upper: the joints of the left side that the arms are hung at, front then
    rear; lower_out, upper_out, tie_out: ball joints on the upright; tie_in: the tie rod's inner end, on the rack;
    spring: the joint that the coil-over is hung at, spring_out: its outer end, spring_on: what carries that end;
    camber, toe: as set at ride height, negative with the top in, positive with the front edge in; up, down: the
    wheel's travel; rack: its travel to either side, 0 where nothing steers; pivot, column: the left drop arm's foot,
    which carries `tie_in` where a box steers and no rack, an idler mirroring it on the right, and a place higher up on
    its axis; `rack` is then how far the end goes along its way; link: outside diameter of the arms and
    the rod; margin: to be kept clear by them; coil: what is known of the coil-over; eyes: of the rod ends; bar: of
    the anti-roll bar; push: a push rod and its rocker, whose end of the coil-over `spring_out` then is."""

    axle: Axle
    lower: tuple[Id, Id]
    upper: tuple[Id, Id]
    lower_out: XYZ
    upper_out: XYZ
    tie_in: XYZ
    tie_out: XYZ
    spring: Id
    spring_out: XYZ
    spring_on: SpringOn = "lower"
    camber: Lean = 0.0
    toe: Lean = 0.0
    up: Travel = 60.0
    down: Travel = 60.0
    rack: Annotated[float, Field(ge=0, le=200, allow_inf_nan=False), LENGTH] = 0.0
    pivot: XYZ | None = None
    column: XYZ | None = None
    link: Size = 25.0
    margin: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False), LENGTH] = 5.0
    coil: CoilOver = CoilOver()
    eyes: RodEnds = RodEnds()
    push: PushRod | None = None
    bar: RollBar = RollBar()

    @property
    def joints(self) -> tuple[str, ...]:
        """The joints of the left side that its arms and coil-over hang at."""
        pivots = (self.push.pivot,) if self.push else ()
        return tuple(dict.fromkeys((*self.lower, *self.upper, self.spring, *pivots)))


class LeafSpring(Value):
    """The leaf springs of a beam or a live axle; mm, 0 where a figure is not known. lies: one on either side along the
    car, or one across it, clamped in its middle. front, rear: along it from its seat to each eye, of one across the car
    its arms; wide, thick: of each leaf; full, stepped: how many full-length leaves there are, and shorter ones; arch:
    of its seat out of the line of its eyes; shackle: its length, lean: of its lower end outwards; base: between both
    springs; unsprung: what moves with a wheel, kg; up, down: travel; limit: the stress that it may have, MPa. Of a live
    axle arch, base and travel follow from where its springs hang, and so do its arms where they are not typed."""

    lies: Literal["along", "across"] = "along"
    front: Length = 0.0
    rear: Length = 0.0
    wide: Length = 0.0
    thick: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False), LENGTH] = 0.0
    full: Annotated[int, Field(ge=0, le=40)] = 1
    stepped: Annotated[int, Field(ge=0, le=40)] = 0
    arch: Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False), LENGTH] = 0.0
    shackle: Length = 0.0
    lean: Annotated[float, Field(ge=-1.5, le=1.5, allow_inf_nan=False), ANGLE] = 0.0
    base: Length = 0.0
    unsprung: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False), MASS] = 0.0
    up: Travel = 50.0
    down: Travel = 50.0
    limit: Annotated[float, Field(ge=0, le=3000, allow_inf_nan=False), STRESS] = 0.0

    @property
    def known(self) -> bool:
        """Whether enough is known of it to tell its rate."""
        sized = bool(self.front and self.rear and self.leaved)
        return sized and (self.lies == "across" or self.base > 0)

    @property
    def across(self) -> bool:
        """Whether it is known and lies across the car."""
        return self.lies == "across" and self.known

    @property
    def leaved(self) -> bool:
        """Whether its leaves are known."""
        return bool(self.wide and self.thick and self.full + self.stepped)


class SwingingArms(Value):
    """Wheels on arms that swing about one axis. first, second: the joints that the axis runs through: two of the left
    side, the right wheel's being their mirror image; or one and its twin, and both wheels swing as one on a carrier.
    spring: the joint of the left side that a coil-over is hung at, spring_out: its end on the arm; camber, toe: as set
    at ride height; up, down: travel; link: outside diameter of the arms; margin: to be kept clear by them; coil: what
    is known of each coil-over; bar: of the anti-roll bar; push: a push rod and its rocker, whose end of the coil-over
    `spring_out` then is."""

    axle: Axle
    first: Id
    second: Id
    spring: Id | None = None
    spring_out: XYZ | None = None
    camber: Lean = 0.0
    toe: Lean = 0.0
    up: Travel = 60.0
    down: Travel = 60.0
    link: Size = 38.0
    margin: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False), LENGTH] = 5.0
    coil: CoilOver = CoilOver()
    bar: RollBar = RollBar()
    push: PushRod | None = None

    @property
    def joints(self) -> tuple[str, ...]:
        """The joints of the left side that they hang at."""
        own = ((self.spring,) if self.spring else ()) + ((self.push.pivot,) if self.push else ())
        return tuple(dict.fromkeys((self.first, self.second, *own)))


class SteeringFork(Value):
    """A single front wheel in a telescopic fork. top, low: the joints on the centreline that are the steering head's
    bearings; up, down: travel; turn: how far it is steered to each side; apart: between the middles of its legs; link:
    outside diameter of those; margin: to be kept clear by them; coil: what is known of the spring in each leg, its
    lengths from the lower bearing down to the axle, along the legs."""

    axle: Literal["front"] = "front"
    top: Id
    low: Id
    up: Travel = 60.0
    down: Travel = 60.0
    turn: Annotated[float, Field(ge=0, le=1.2, allow_inf_nan=False), ANGLE] = 0.6
    apart: Length = 0.0
    link: Size = 45.0
    margin: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False), LENGTH] = 5.0
    coil: CoilOver = CoilOver()

    @property
    def joints(self) -> tuple[str, ...]:
        """The joints of its head."""
        return self.top, self.low


class AxleCarrier(Value):
    """An axle that is set on the frame to tighten its chain, and stays there as it drives. slide: the way that it is
    slid along, of any length, away from the driving sprocket; or pivot: the joint of the left side that it swings at,
    its axis going on to the joint's twin. stay: the joint of the left side that an adjuster is hung at, stay_out: its
    end on the carrier; back, forth: how far the axle's middle can be set from where it stands, away from the driving
    sprocket and towards it, mm; link: outside diameter of its arms and adjusters; margin: to be kept clear by them."""

    axle: Axle = "rear"
    slide: XYZ | None = None
    pivot: Id | None = None
    stay: Id | None = None
    stay_out: XYZ | None = None
    back: Travel = 20.0
    forth: Travel = 5.0
    link: Size = 38.0
    margin: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False), LENGTH] = 5.0

    @property
    def joints(self) -> tuple[str, ...]:
        """The joints of the left side that it hangs at."""
        return tuple(name for name in (self.pivot, self.stay) if name)


class LinkedAxle(Value):
    """A live axle on links, ladder bars or leaf springs. lower, upper: the joint of the left side that each link is
    hung at, lower_out, upper_out: its end on the axle; both legs of a ladder bar are hung at one joint; the right
    side's are their mirror images. torque: the joint that the front of a torque arm hangs from by a drop link,
    torque_out: the arm's front, which goes with the axle. eye, shackle: the joints of the left side that a leaf
    spring's front eye and the top of its shackle are at, seat: its main leaf over the axle, leaf: what is known of it.
    rod: the joint that a track rod is hung at, rod_out: its end on the axle; spring: the joint of the left side that a
    coil-over is hung at, spring_out: its end on the axle; each may be left out. up, down: travel of both wheels; roll:
    how far the axle leans to either side; link, housing: outside diameters of the links and of the axle; margin: to be
    kept clear by them; coil: what is known of each coil-over; eyes: of the links' rod ends; bar: of the anti-roll
    bar."""

    axle: Axle
    lower: Id | None = None
    upper: Id | None = None
    lower_out: XYZ | None = None
    upper_out: XYZ | None = None
    torque: Id | None = None
    torque_out: XYZ | None = None
    eye: Id | None = None
    shackle: Id | None = None
    seat: XYZ | None = None
    leaf: LeafSpring = LeafSpring()
    rod: Id | None = None
    rod_out: XYZ | None = None
    spring: Id | None = None
    spring_out: XYZ | None = None
    up: Travel = 60.0
    down: Travel = 60.0
    roll: Annotated[float, Field(ge=0, le=0.35, allow_inf_nan=False), ANGLE] = 0.07
    link: Size = 28.0
    housing: Size = 76.0
    margin: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False), LENGTH] = 5.0
    coil: CoilOver = CoilOver()
    bar: RollBar = RollBar()
    eyes: RodEnds = RodEnds()

    @property
    def joints(self) -> tuple[str, ...]:
        """The joints that it is hung at, of the left side where there are two."""
        return tuple(dict.fromkeys(name for _, name in self.named_joints))

    @property
    def named_joints(self) -> tuple[tuple[str, str], ...]:
        """What hangs at each of those joints, and the joint."""
        named = (
            ("ladder bar, frame" if self.ladder else "lower link, frame", self.lower),
            ("upper link, frame", None if self.ladder else self.upper),
            ("drop link, frame", self.torque),
            ("leaf, front eye", self.eye),
            ("leaf, shackle", self.shackle),
            ("track rod, frame", self.rod),
        )
        return tuple((words, joint) for words, joint in named if joint)

    @property
    def ladder(self) -> bool:
        """Whether both of its links on a side are the legs of a ladder bar."""
        return self.lower is not None and self.lower == self.upper


class KingpinBeam(Value):
    """A beam axle, its wheels steered about kingpins. lower, upper: the left kingpin's ends; arm: the end of its
    steering arm; rod: the tie rod's inner end; the right side mirrors them. drag: the end on the left stub axle of a
    drag link that starts at `rod` and alone is moved, a tie rod from steering arm to steering arm then turning the
    right wheel; None where both wheels have a tie rod of their own. pivot, column: the foot of the drop arm that moves
    them, and a place higher up on the axis that it turns about, None where a rack does; on: the links or leaf springs
    that it moves on, None where it is taken to stay where it is; turn, rack: how far
    either goes to each side; camber, toe: as set straight ahead, negative with the top in, positive with the front edge
    in; link: outside diameter of the tie rods; margin: to be kept clear by them; eyes: what is known of their rod ends;
    leaf: of its leaf springs; coil, bar: of coil-overs and an anti-roll bar on one that moves."""

    axle: Axle
    lower: XYZ
    upper: XYZ
    arm: XYZ
    rod: XYZ
    drag: XYZ | None = None
    pivot: XYZ | None = None
    column: XYZ | None = None
    turn: Annotated[float, Field(ge=0, le=1.4, allow_inf_nan=False), ANGLE] = 0.4
    rack: Annotated[float, Field(ge=0, le=200, allow_inf_nan=False), LENGTH] = 30.0
    camber: Lean = 0.0
    toe: Lean = 0.0
    link: Size = 12.0
    margin: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False), LENGTH] = 5.0
    eyes: RodEnds = RodEnds()
    leaf: LeafSpring = LeafSpring()
    on: LinkedAxle | None = None
    coil: CoilOver = CoilOver()
    bar: RollBar = RollBar()

    @property
    def hold(self) -> LinkedAxle | None:
        """What it moves on, with its springs and their travel; None where it stays where it is."""
        if self.on is None:
            return None
        sprung = {"leaf": self.leaf, "coil": self.coil, "bar": self.bar}
        return self.on.but(axle=self.axle, up=self.leaf.up, down=self.leaf.down, **sprung)


Hung = TypeVar("Hung", bound=Value)


def moved_places(hung: Hung, shift: Callable[[XYZ], XYZ], names: Collection[str] = PLACES) -> Hung:
    """What wheels hang on with every place of some names moved, and nothing else: joints that it names move by
    themselves."""

    def moved(name: str, value: object) -> object:
        if isinstance(value, Value):
            return moved_places(value, shift, names)
        if name not in names or not isinstance(value, tuple) or not value or isinstance(value[0], str):
            return value
        return shift(value) if isinstance(value[0], float) else tuple(shift(place) for place in value)

    changes = {name: moved(name, getattr(hung, name)) for name in type(hung).model_fields}
    return hung.but(**{name: new for name, new in changes.items() if new != getattr(hung, name)})


def with_names(hung: Hung, names: Mapping[str, str]) -> Hung:
    """What wheels hang on with the joints that it names under other names; those that are not in `names` stay."""

    def named(value: object) -> object:
        if isinstance(value, Value):
            return with_names(value, names)
        if isinstance(value, str):
            return names.get(value, value)
        return tuple(map(named, value)) if isinstance(value, tuple) else value

    changes = {name: named(getattr(hung, name)) for name in type(hung).model_fields}
    return hung.but(**{name: new for name, new in changes.items() if new != getattr(hung, name)})
