"""Stations across the frame: inside and outside width where rails splay, the cross members that would go there, and
what a cut would leave of a donor."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ironcage.core.job.geometry.routes import at_plane, route_of
from ironcage.core.job.values.model import Job
from ironcage.units import said

SHORTEST_STUB = 1.5  # of the tube's depth: less to weld to leaves no room for a joint and a sleeve
FLATTEST = math.radians(50)  # between a cut and the tube's axis: flatter, the weld runs far along the tube
STEEPEST = math.radians(30)  # a tube at more than this to the centreline is no rail


@dataclass(frozen=True)
class Width:
    """A pair of rails at a station. left, right: the tubes; centre: between their axes; outside, inside: over and
    between their faces; member: length of a cross member from axis to axis, mm;
    splay: the angle of the left rail to the centreline seen from above, positive where the frame widens forward,
    rad; z: of the rails there."""

    left: str
    right: str
    centre: float
    outside: float
    inside: float
    member: float
    splay: float
    z: float


def widths(job: Job, x: float) -> tuple[Width, ...]:
    """Every pair of mirrored tubes that a plane across the car at x (mm) passes through, lowest first."""
    made = []
    for t in job.tubes:
        twin = job.twin_tube(t)
        if twin is None or twin.id == t.id or job.joint_by_id[t.a].y + job.joint_by_id[t.b].y <= 0:
            continue
        for place, way in at_plane(job, t, x):
            shape = job.section(t.section).shape
            across = abs(float(way[1]))
            width = shape.level_mm
            y = float(place[1])
            splay = math.atan2(float(way[1]) * (1 if way[0] >= 0 else -1), abs(float(way[0])))
            if abs(splay) > STEEPEST:
                continue
            face = width / math.cos(splay)  # the tube's width as a plane across the car cuts it
            made.append(
                Width(
                    t.id, twin.id, 2 * y, 2 * y + face, 2 * y - face, 2 * y, splay if across else 0.0, float(place[2])
                )
            )
    return tuple(sorted(made, key=lambda w: (round(w.z, 1), w.centre)))


@dataclass(frozen=True)
class Stub:
    """What a cut across the car leaves of a donor's tube. joint: the one it still reaches; left: straight length
    from there to the cut, mm; angle: between the cut and the tube's axis, rad, π/2 square; weld: length round the
    cut, mm; warning: what is wrong with it, or nothing."""

    tube: str
    joint: str
    left: float
    angle: float
    weld: float
    warning: str


def stubs(job: Job, x: float, *, ahead: bool) -> tuple[Stub, ...]:
    """What a cut at x (mm) leaves of each donor tube, when what lies ahead of it (or behind) is kept."""
    made = []
    for t in (t for t in job.tubes if t.donor):
        for place, way in at_plane(job, t, x):
            keep_b = (way[0] > 0) == ahead
            joint = job.joint_by_id[t.b if keep_b else t.a]
            route = route_of(job, t)
            along = route.nearest(place)
            left = route.length - along if keep_b else along
            bends = [b for b in route.bends if (b.stop > along if keep_b else b.start < along)]
            straight = min((abs((b.start if keep_b else b.stop) - along) for b in bends), default=left)
            shape = job.section(t.section).shape
            angle = math.asin(min(1.0, abs(float(way[0]))))
            made.append(
                Stub(
                    t.id,
                    joint.id,
                    straight,
                    angle,
                    _round(shape.size, angle, is_round=shape.is_round),
                    _warning(straight, angle, max(shape.size)),
                )
            )
    return tuple(made)


def _round(size: tuple[float, float], angle: float, *, is_round: bool) -> float:
    """Length round a cut: of an ellipse (Ramanujan 1914), or of a rectangle with its height on the slant."""
    slant = 1 / max(math.sin(angle), 0.05)
    if is_round:
        a, b = size[0] / 2, size[0] / 2 * slant
        h = ((a - b) / (a + b)) ** 2
        return math.pi * (a + b) * (1 + 3 * h / (10 + math.sqrt(4 - 3 * h)))
    return 2 * (size[0] + size[1] * slant)


def _warning(left: float, angle: float, size: float) -> str:
    if left < SHORTEST_STUB * size:
        return f"only {said.whole(left)} left to weld to; " + (
            f"{said.whole(SHORTEST_STUB * size)} is the least that takes a joint"
        )
    if angle < FLATTEST:
        return f"cut at {math.degrees(angle):.0f}° to the tube: the weld runs far along it"
    return ""
