"""People: whether they reach, how comfortably, and how much room there is round them.

Each reading is the least distance between limbs and what is there; the pedals are taken at rest and fully down, and the
tighter of the two is told. A person is a set of rods with round ends, so figures are good to a few centimetres of flesh
and clothing: try it in wood before steel.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ironcage.core.answers.place.clashes import nearest, slide_body
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.plates import frame_bodies
from ironcage.core.calc.car.mannequin import Pose, comfort, pose
from ironcage.core.calc.solids.convex import Floats, Solid
from ironcage.core.job.geometry.bodies import Body, placed_bodies, pose_of, tube_bodies
from ironcage.core.job.values import rules
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Person
from ironcage.units.quantity import Quantity

SIGHT_MM = 120.0  # what lies further to the side of the line of sight can be looked past
OUT_MM = 900.0  # how far a person lifts out, or slides to the side
ASSUMPTIONS = (
    "Limbs are rods with round ends; flesh, clothing and a slipping helmet are not in it.",
    "A pedal goes straight forward by its stroke; the foot turns with it.",
    "Comfortable angles after Rebiffé 1969, for road cars; a racing seat leans further back.",
)


@dataclass(frozen=True)
class RoomReading:
    """name: as rules call it; value: mm or rad, as its `quantity` says, None when it is not known; against: a tube or
    part; place: where (3,) mm or None; why: what is missing, or a word more."""

    name: str
    value: float | None
    against: str = ""
    place: tuple[float, float, float] | None = None
    why: str = ""

    @property
    def quantity(self) -> Quantity:
        """What it is a measure of."""
        return rules.READINGS[self.name]


@dataclass(frozen=True)
class PersonAnswer:
    """A posed person. short: limbs that do not reach and by how much, mm; angles: in degrees; beyond: angles out of
    the comfortable range and by how much; heel_lift: mm; readings by name."""

    id: str
    name: str
    aboard: bool
    short: Mapping[str, float]
    angles: Mapping[str, float]
    beyond: Mapping[str, float]
    heel_lift: float
    readings: tuple[RoomReading, ...]
    pose: Pose

    def reading(self, name: str) -> RoomReading | None:
        """A reading by its name."""
        return next((r for r in self.readings if r.name == name), None)


@remembered("people", "parts", "wheels", "joints", "tubes", "shelf", "fittings")
def people_seated(job: Job) -> tuple[PersonAnswer, ...]:
    """Everybody, aboard or not."""
    return seat_people(job, job.people)


def seat_people(job: Job, people: Sequence[Person]) -> tuple[PersonAnswer, ...]:
    """Some people, each alone in the car with what is placed in it."""
    tubes = frame_bodies(job)
    things = list(placed_bodies(job.but(people=(), chains=(), shafts=())))
    return tuple(_seated(person, things, tubes) for person in people)


def _seated(person: Person, things: Sequence[Body], tubes: Sequence[Body]) -> PersonAnswer:
    at_rest = pose_of(person)
    forward = np.add(person.seat.pedals, (person.seat.stroke, 0.0, 0.0))
    pressed_seat = replace(person.seat, pedals=(float(forward[0]), float(forward[1]), float(forward[2])))
    pressed = pose(person.limbs, pressed_seat, person.mass)
    made = []
    for name, read in READINGS.items():
        one, two = (read(p, things, tubes) for p in (at_rest, pressed))
        both = [r for r in (one, two) if r.value is not None]
        made.append(min(both, key=lambda r: r.value or 0.0) if both else one)
        if name in ("knee to wheel", "knee room") and len(both) == 2:
            made[-1] = replace(made[-1], why="pedals at rest" if made[-1] is one else "pedals down")
    short = {**at_rest.short, **pressed.short}
    return PersonAnswer(
        person.id,
        person.name,
        person.aboard,
        short,
        at_rest.angles,
        comfort(at_rest.angles),
        at_rest.heel_lift,
        tuple(made),
        at_rest,
    )


def _room(
    name: str, limbs: tuple[str, ...], of: Callable[[Body], bool]
) -> Callable[[Pose, Sequence[Body], Sequence[Body]], RoomReading]:
    """The least distance from some limbs to the things that `of` takes."""

    def read(pose: Pose, things: Sequence[Body], tubes: Sequence[Body]) -> RoomReading:
        solids = [s for label, s in pose.solids.items() if label.removeprefix("left ").removeprefix("right ") in limbs]
        gap, against, place = nearest(solids, [b for b in (*things, *tubes) if of(b)])
        if not against:
            return RoomReading(name, None, why="There is nothing there to measure to.")
        return RoomReading(name, gap, against, _place(place))

    return read


def _place(place: Floats) -> tuple[float, float, float]:
    x, y, z = (float(v) for v in place)
    return x, y, z


def _hoop_line(pose: Pose, things: Sequence[Body], tubes: Sequence[Body]) -> RoomReading:
    """How far the helmet stays below the line over both hoops, seen from the side; level where there is but one
    hoop."""
    tops = [_top([t for t in tubes if t.use == role]) for role in ("main hoop", "front hoop")]
    if tops[0] is None:
        return RoomReading("helmet to hoop line", None, why="No tube has the role of main hoop.")
    main = tops[0]
    front = tops[1] if tops[1] is not None else main + np.array([1.0, 0, 0])
    way = (front - main)[[0, 2]]
    way = way / np.linalg.norm(way) * (1 if way[0] > 0 else -1)
    helmet = pose.solids["helmet"]
    off = (helmet.points[0] - main)[[0, 2]]
    below = float(-(way[0] * off[1] - way[1] * off[0]))
    return RoomReading("helmet to hoop line", below - helmet.ball, "", _place(helmet.points[0] + [0, 0, helmet.ball]))


def _top(tubes: Sequence[Body]) -> Floats | None:
    """The highest place of some tubes, on their upper surface."""
    points = [p + [0, 0, s.ball] for t in tubes for s in t.solids for p in s.points]
    return max(points, key=lambda p: p[2]) if points else None


def _eyes(pose: Pose, things: Sequence[Body], tubes: Sequence[Body]) -> RoomReading:
    """How steeply a person can look down past everything ahead, near their own line of sight, and where that meets
    the ground."""
    eyes = pose.points["eyes"]
    steepest, against = math.pi / 2, ""
    for body in (*(t for t in things if t.use != "hand wheel"), *tubes):
        for s in body.solids:
            low, high = s.bounds
            beside = abs(float(np.clip(eyes[1], low[1], high[1]) - eyes[1])) > SIGHT_MM
            if high[0] <= eyes[0] + 50 or beside or low[2] > eyes[2]:  # behind, to the side, or overhead
                continue
            for p in s.points:
                top = p[2] + s.ball + (s.disc if abs(s.axis[2]) < 0.5 else 0.0)
                if p[0] > eyes[0] + 50:
                    down = math.atan2(eyes[2] - top, p[0] - eyes[0])
                    if down < steepest:
                        steepest, against = down, body.id
    if not against:
        return RoomReading("eyes over nose", None, why="There is nothing ahead.")
    why = "" if steepest > 0 else "The ground ahead can't be seen."
    return RoomReading("eyes over nose", steepest, against, _place(eyes), why)


def _ground(pose: Pose, things: Sequence[Body], tubes: Sequence[Body]) -> RoomReading:
    """How far ahead of the eyes the ground comes into sight over what `eyes over nose` looks past."""
    look = _eyes(pose, things, tubes)
    if look.value is None or look.value <= 0:
        return RoomReading("ground seen ahead", None, look.against, why=look.why)
    eyes = pose.points["eyes"]
    ahead = float(eyes[2]) / math.tan(look.value)
    return RoomReading("ground seen ahead", ahead, look.against, (float(eyes[0]) + ahead, float(eyes[1]), 0.0))


def _belt(name: str, role: str, start: str) -> Callable[[Pose, Sequence[Body], Sequence[Body]], RoomReading]:
    """The angle of a belt below level, from a point of the body back to the nearest place on the bar that it is
    mounted on."""

    def read(pose: Pose, things: Sequence[Body], tubes: Sequence[Body]) -> RoomReading:
        bars = [t for t in tubes if t.use == role]
        if not bars:
            return RoomReading(name, None, why=f"No tube has the role of {role}.")
        body = pose.points[start]
        _, against, there = nearest([Solid(np.array([body]), np.array([0.0, 0, 1]))], bars)
        back, down = body[0] - there[0], body[2] - there[2]
        if back <= 0:
            return RoomReading(name, None, why=f"The {role} is not behind the {start}.")
        return RoomReading(name, math.atan2(down, back), against, _place(there))

    return read


def _out(pose: Pose) -> tuple[tuple[str, list[Solid]], ...]:
    """What head and trunk pass on each way out: straight up, or up and out to the nearer side."""
    side = 1.0 if pose.points["hip"][1] >= 0 else -1.0
    body = [pose.solids["helmet"], pose.solids["trunk"]]
    ways = (("straight up", (0, 0, OUT_MM)), ("up and to the side", (0, 0.8 * side * OUT_MM, 0.6 * OUT_MM)))
    return tuple((words, [s.swept(np.array(way, dtype=float)) for s in body]) for words, way in ways)


def _egress(pose: Pose, things: Sequence[Body], tubes: Sequence[Body]) -> RoomReading:
    """Room round head and trunk on the better way out."""
    best: RoomReading | None = None
    for words, swept in _out(pose):
        gap, against, place = nearest(swept, [*tubes, *(t for t in things if t.use not in ("seat", "tyre"))])
        if against and (best is None or best.value is None or gap > best.value):
            best = RoomReading("egress room", gap, against, _place(place), why=words)
    return best or RoomReading("egress room", None, why="There is nothing there to measure to.")


def ways_out(job: Job) -> list[Body]:
    """What must stay clear for everybody aboard to get out by their better way, and for every part with a way out to
    be taken out."""
    tubes = list(tube_bodies(job))
    made = []
    for person in job.people:
        if person.aboard:
            swept = max(
                (way for _, way in _out(pose_of(person))), key=lambda way: nearest(way, tubes)[0] if tubes else 0.0
            )
            made.append(Body(f"{person.id}’s way out", person.name, "person", tuple(swept), ("",) * len(swept)))
    return [*made, *(replace(slide_body(p), id=f"{p.id}’s way out") for p in job.parts if any(p.slide))]


def _tube(body: Body) -> bool:
    return body.kind == "tube"


def _beside(body: Body) -> bool:
    """What shoulders and elbows can knock against: tubes, sheet and parts, but for what they lean on or hold."""
    return body.kind in ("tube", "sheet") or (
        body.kind == "part" and body.use not in ("seat", "hand wheel", "column", "pedals")
    )


READINGS: Mapping[str, Callable[[Pose, Sequence[Body], Sequence[Body]], RoomReading]] = {
    "helmet to hoop line": _hoop_line,
    "helmet to tubes": _room("helmet to tubes", ("helmet",), _tube),
    "shoulder room": _room("shoulder room", ("trunk", "upper arm"), _beside),
    "elbow room": _room("elbow room", ("upper arm", "forearm"), _beside),
    "knee to wheel": _room("knee to wheel", ("thigh", "shin"), lambda b: b.use == "hand wheel"),
    "knee room": _room(
        "knee room", ("thigh", "shin"), lambda b: b.kind in ("tube", "sheet") or b.use in ("dash", "column", "rack")
    ),
    "foot room": _room("foot room", ("foot",), lambda b: b.use not in ("pedals", "seat", "floor panel")),
    "eyes over nose": _eyes,
    "ground seen ahead": _ground,
    "harness angle": _belt("harness angle", "harness bar", "shoulder top"),
    "lap belt angle": _belt("lap belt angle", "lap bar", "hip"),
    "egress room": _egress,
}
