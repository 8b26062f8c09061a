"""The list of Run: the points and settings of what both wheels of an end hang on, as they are typed."""

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace

from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import (
    AxleCarrier,
    CoilOver,
    KingpinBeam,
    LeafSpring,
    LinkedAxle,
    PushRod,
    RodEnds,
    RollBar,
    SteeringFork,
    SwingingArms,
    Wishbones,
)
from ironcage.units import Units

Place = tuple[float, float, float]
Joint = Callable[[str, str], "PointRow"]  # what hangs at a joint, and its id
Point = Callable[[str, str, Place], "PointRow"]  # the words of its line, what it is called, where it is


@dataclass(frozen=True)
class PointRow:
    """A point or a setting of a corner: its words in `corner AXLE WORDS VALUE`, what it is called, and its value as it
    is typed; joint: the joint that it is, where it is one; place: mm, of a point that is none and can be moved."""

    words: str
    name: str
    shown: str
    joint: str = ""
    place: Place | None = None

    @property
    def key(self) -> str:
        """What it is known by: several holes are called alike, and are told apart by where they are."""
        return self.words or (self.name if self.joint else f"{self.name} {self.shown}")


def point_rows(
    job: Job, hung: Wishbones | LinkedAxle | KingpinBeam | SwingingArms | SteeringFork | AxleCarrier, units: Units
) -> tuple[PointRow, ...]:
    """All points and settings, places from the shown datum: joints of the frame first, then what moves, then sizes."""

    def point(words: str, called: str, at: Place) -> PointRow:
        zero = job.datum
        parts = zip(at, (zero.x, zero.y, zero.z), strict=True)
        shown = ", ".join(units.length(v - o, unit=False) for v, o in parts)
        return PointRow(words, called, shown, place=at if words else None)

    def joint(called: str, name: str) -> PointRow:
        at = job.joint_by_id.get(name)
        return PointRow("", called, point("", called, at.place).shown if at else "has gone", name)

    if isinstance(hung, LinkedAxle):
        return tuple(_of_axle(hung, joint, point, units))
    if isinstance(hung, SwingingArms):
        return tuple(_of_arms(hung, joint, point, units))
    if isinstance(hung, AxleCarrier):
        return tuple(_of_carrier(hung, joint, point, units))
    if isinstance(hung, SteeringFork):
        return tuple(_of_fork(hung, joint, units))
    if isinstance(hung, KingpinBeam):
        return tuple(_of_beam(hung, joint, point, units))
    return tuple(_of_wishbones(hung, joint, point, units))


def _of_arms(hung: SwingingArms, joint: Joint, point: Point, units: Units) -> Iterable[PointRow]:
    yield joint("axis, one end", hung.first)
    yield joint("axis, other end", hung.second)
    if hung.spring:
        yield joint("coil-over, top", hung.spring)
    if hung.push:
        yield from _of_push(hung.push, joint, point)
    if hung.spring_out:
        yield point("spring out", "coil-over, on the rocker" if hung.push else "coil-over, foot", hung.spring_out)
    yield PointRow("camber", "camber set", f"{math.degrees(hung.camber):.2f}°")
    yield PointRow("toe", "toe in set", f"{math.degrees(hung.toe):.2f}°")
    yield PointRow("up", "travel up", units.length(hung.up))
    yield PointRow("down", "travel down", units.length(hung.down))
    yield PointRow("link", "arms' diameter", units.length(hung.link))
    yield PointRow("margin", "arms keep clear", units.length(hung.margin))
    if hung.spring:
        yield from _of_coil(hung.coil, point, units)
        yield from _of_bar(hung.bar, units)


def _of_carrier(hung: AxleCarrier, joint: Joint, point: Point, units: Units) -> Iterable[PointRow]:
    if hung.pivot:
        yield joint("pivot", hung.pivot)
    elif hung.slide:
        yield PointRow("slide", "slides along", ", ".join(f"{v:g}" for v in hung.slide))
    if hung.stay:
        yield joint("adjuster, frame", hung.stay)
    if hung.stay_out:
        yield point("stay out", "adjuster, carrier", hung.stay_out)
    yield PointRow("back", "set back, at most", units.length(hung.back))
    yield PointRow("forth", "set forth, at most", units.length(hung.forth))
    yield PointRow("link", "arms' diameter", units.length(hung.link))
    yield PointRow("margin", "arms keep clear", units.length(hung.margin))


def _of_fork(hung: SteeringFork, joint: Joint, units: Units) -> Iterable[PointRow]:
    yield joint("head, upper bearing", hung.top)
    yield joint("head, lower bearing", hung.low)
    yield PointRow("up", "travel up", units.length(hung.up))
    yield PointRow("down", "travel down", units.length(hung.down))
    yield PointRow("turn", "turned, each way", f"{math.degrees(hung.turn):.1f}°")
    yield PointRow("apart", "between both legs", units.length(hung.apart))
    yield PointRow("link", "legs' diameter", units.length(hung.link))
    yield PointRow("margin", "legs keep clear", units.length(hung.margin))
    yield from _of_spring(hung.coil, units, ("leg, full length", "leg, pressed together"))


def _of_beam(hung: KingpinBeam, joint: Joint, point: Point, units: Units) -> Iterable[PointRow]:
    for words, name in hung.on.named_joints if hung.on else ():
        yield joint(words, name)
    yield point("lower", "kingpin, lower end", hung.lower)
    yield point("upper", "kingpin, upper end", hung.upper)
    yield point("arm", "steering arm's end", hung.arm)
    yield point("rod", "drag link, inner" if hung.drag else "tie rod, inner", hung.rod)
    called = "drag link, outer"
    yield point("drag", called, hung.drag) if hung.drag else PointRow("drag", called, "none: two tie rods")
    if hung.on:
        yield from (replace(row, words=f"on {row.words}") for row in _axle_ends(hung.on, point))
    yield _drop_arm(hung.pivot, point)
    if hung.column:
        yield point("column", "up the column", hung.column)
    if hung.pivot:
        yield PointRow("turn", "drop arm, each way", f"{math.degrees(hung.turn):.1f}°")
    else:
        yield PointRow("rack", "rack, each way", units.length(hung.rack))
    yield PointRow("camber", "camber set", f"{math.degrees(hung.camber):.2f}°")
    yield PointRow("toe", "toe in set", f"{math.degrees(hung.toe):.2f}°")
    yield PointRow("link", "tie rods' diameter", units.length(hung.link))
    yield PointRow("margin", "tie rods keep clear", units.length(hung.margin))
    yield from _of_leaf(hung, units)
    if hung.on and hung.on.spring:
        yield joint("coil-over, top", hung.on.spring)
        if hung.on.spring_out:
            yield point("on spring out", "coil-over, foot", hung.on.spring_out)
        yield from _of_coil(hung.coil, point, units)
    if hung.on:
        yield from _of_bar(hung.bar, units)
    yield from _of_eyes(hung.eyes, units)


def _drop_arm(pivot: Place | None, point: Point) -> PointRow:
    """Where the drop arm that steers turns, or that a rack does."""
    called = "drop arm's pivot"
    return point("pivot", called, pivot) if pivot else PointRow("pivot", called, "none: a rack")


def _of_leaf(hung: KingpinBeam, units: Units) -> Iterable[PointRow]:
    """What is known of the leaf springs of a beam; their arms, arch and base follow from where they hang, if that is
    told."""
    leaf = hung.leaf
    if not (hung.on and hung.on.eye):
        yield PointRow("leaf lies", "leaf springs lie", leaf.lies)
        for words, name, value in (
            ("front", "leaf, seat to front eye", leaf.front),
            ("rear", "leaf, seat to rear eye", leaf.rear),
            ("base", "between springs", leaf.base),
        ):
            yield PointRow(f"leaf {words}", name, units.length(value) if value else "–")
        yield PointRow("leaf arch", "arch at ride height", units.length(leaf.arch))
    yield from _of_leaves(leaf, units)
    yield PointRow("leaf up", "travel up", units.length(leaf.up))
    yield PointRow("leaf down", "travel down", units.length(leaf.down))


def _of_leaves(leaf: LeafSpring, units: Units) -> Iterable[PointRow]:
    """What is known of leaves and shackles wherever they hang."""
    for words, name, value in (
        ("wide", "leaf, width", leaf.wide),
        ("thick", "leaf, thickness", leaf.thick),
        ("shackle", "shackle’s length", leaf.shackle),
    ):
        yield PointRow(f"leaf {words}", name, units.length(value) if value else "–")
    yield PointRow("leaf full", "leaves of full length", str(leaf.full))
    yield PointRow("leaf stepped", "shorter leaves", str(leaf.stepped))
    yield PointRow("leaf lean", "shackle leans outwards", f"{math.degrees(leaf.lean):.1f}°")
    yield PointRow("leaf unsprung", "moves with a wheel", units.mass(leaf.unsprung) if leaf.unsprung else "–")
    yield PointRow("leaf limit", "stress allowed, MPa", f"{leaf.limit:g}" if leaf.limit else "–")


def _of_wishbones(hung: Wishbones, joint: Joint, point: Point, units: Units) -> Iterable[PointRow]:
    for arm, names in (("lower", hung.lower), ("upper", hung.upper)):
        for end, name in zip(("front", "rear"), names, strict=True):
            yield joint(f"{arm} arm, {end}", name)
    yield joint("coil-over, top", hung.spring)
    yield point("lower out", "lower ball joint", hung.lower_out)
    yield point("upper out", "upper ball joint", hung.upper_out)
    yield point("tie out", "tie rod, outer", hung.tie_out)
    yield point("tie in", "tie rod, inner", hung.tie_in)
    if hung.rack:
        yield _drop_arm(hung.pivot, point)
    if hung.column:
        yield point("column", "up the drop arm’s axis", hung.column)
    if hung.push:
        yield from _of_push(hung.push, joint, point)
    yield point("spring out", "coil-over, on the rocker" if hung.push else "coil-over, foot", hung.spring_out)
    yield PointRow("spring on", "push rod stands on" if hung.push else "its foot stands on", hung.spring_on)
    yield PointRow("camber", "camber set", f"{math.degrees(hung.camber):.2f}°")
    yield PointRow("toe", "toe in set", f"{math.degrees(hung.toe):.2f}°")
    yield PointRow("up", "travel up", units.length(hung.up))
    yield PointRow("down", "travel down", units.length(hung.down))
    yield PointRow("rack", "drop arm’s end, each way" if hung.pivot else "rack, each way", units.length(hung.rack))
    yield PointRow("link", "links' diameter", units.length(hung.link))
    yield PointRow("margin", "links keep clear", units.length(hung.margin))
    yield from _of_coil(hung.coil, point, units)
    yield from _of_bar(hung.bar, units)
    yield from _of_eyes(hung.eyes, units, balls=True)


def _of_push(push: PushRod, joint: Joint, point: Point) -> Iterable[PointRow]:
    """A push rod and its rocker."""
    yield joint("rocker", push.pivot)
    yield point("rocker axis", "a place on its axis", push.axis)
    yield point("rod out", "push rod, outer", push.rod_out)
    yield point("rod in", "push rod, on the rocker", push.rod_in)


def _of_bar(bar: RollBar, units: Units) -> Iterable[PointRow]:
    """What is known of an anti-roll bar."""
    for words, name, value in (
        ("od", "anti-roll bar, outside", bar.od),
        ("bore", "anti-roll bar, bore", bar.bore),
        ("length", "anti-roll bar, length", bar.length),
        ("arm", "anti-roll bar, arm", bar.arm),
    ):
        yield PointRow(f"bar {words}", name, units.length(value) if value else "–")
    yield PointRow("bar ratio", "drop link for each of travel", f"{bar.ratio:g}")


def _of_eyes(eyes: RodEnds, units: Units, *, balls: bool = False) -> Iterable[PointRow]:
    """What is known of the rod ends of links, and of the ball joints of wishbones."""
    for words, name, value in (
        ("thread", "rod end, thread", eyes.thread),
        ("shank", "rod end, eye to thread’s end", eyes.shank),
        ("start", "rod end, eye to thread’s start", eyes.start),
        ("nut", "jam nut", eyes.nut),
        ("lip", "insert outside its tube", eyes.lip),
        ("engaged", "thread engaged", eyes.engaged),
        ("head", "rod end, eye’s diameter", eyes.head),
        ("housing", "rod end, eye’s thickness", eyes.housing),
        ("ball", "rod end, ball’s width", eyes.ball),
    ):
        yield PointRow(f"eye {words}", name, units.length(value) if value else "–")
    if balls:
        yield PointRow("eye tilt", "ball joints can tilt", f"{math.degrees(eyes.tilt):.1f}°" if eyes.tilt else "–")


def _of_coil(coil: CoilOver, point: Point, units: Units) -> Iterable[PointRow]:
    """What is known of a coil-over."""
    yield from _of_spring(coil, units, ("damper, full length", "damper, pressed together"))
    for hole in coil.holes:
        yield point("", "another hole for its foot", hole)
    for hole in coil.tops:
        yield point("", "another hole for its top", hole)


def _of_spring(coil: CoilOver, units: Units, ends: tuple[str, str]) -> Iterable[PointRow]:
    """What is known of a spring and its damper; ends: what its length is called at both ends of its travel."""
    yield PointRow("rate", "spring's rate", units.spring_rate(coil.rate) if coil.rate else "–")
    for words, value in (("across", coil.air.across), ("column", coil.air.column)):
        name = "air spring, diameter" if words == "across" else "air spring, column of air"
        yield PointRow(f"air {words}", name, units.length(value) if value else "–")
    for words, name, value in (
        ("free", "spring alone, length", coil.free),
        ("solid", "coils touching, length", coil.solid),
        ("open", ends[0], coil.open),
        ("closed", ends[1], coil.closed),
        ("stop", "bump stop's height", coil.stop),
    ):
        yield PointRow(words, name, units.length(value) if value else "–")
    yield PointRow("unsprung", "moves with a wheel", units.mass(coil.unsprung) if coil.unsprung else "–")


def _of_axle(hung: LinkedAxle, joint: Joint, point: Point, units: Units) -> Iterable[PointRow]:
    for words, name in hung.named_joints:
        yield joint(words, name)
    if hung.spring:
        yield joint("coil-over, top", hung.spring)
    yield from _axle_ends(hung, point)
    if hung.spring_out:
        yield point("spring out", "coil-over, foot", hung.spring_out)
    yield PointRow("roll", "roll, each way", f"{math.degrees(hung.roll):.2f}°")
    yield PointRow("up", "travel up", units.length(hung.up))
    yield PointRow("down", "travel down", units.length(hung.down))
    yield PointRow("link", "links' diameter", units.length(hung.link))
    yield PointRow("housing", "axle's diameter", units.length(hung.housing))
    yield PointRow("margin", "links keep clear", units.length(hung.margin))
    if hung.eye:
        yield from _of_leaves(hung.leaf, units)
    if hung.spring:
        yield from _of_coil(hung.coil, point, units)
    if hung.spring or hung.eye:
        yield from _of_bar(hung.bar, units)
    yield from _of_eyes(hung.eyes, units)


def _axle_ends(hung: LinkedAxle, point: Point) -> Iterable[PointRow]:
    """The ends of links and springs on an axle."""
    lower, upper = "lower link, axle", "upper link, axle"
    if hung.ladder:
        lower, upper = "ladder bar’s lower leg", "ladder bar’s upper leg"
    for words, name, out in (
        ("lower out", lower, hung.lower_out),
        ("upper out", upper, hung.upper_out),
        ("torque out", "torque arm’s front", hung.torque_out),
        ("seat", "leaf, seat", hung.seat),
        ("rod out", "track rod, axle", hung.rod_out),
    ):
        if out:
            yield point(words, name, out)
