"""Live axles: hung at joints, their ends on the axle set, taken out."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ironcage.core.job.edits.running import demand_unhung, left_joint, left_wheel, paired_wheel, three
from ironcage.core.job.values.model import Job, Wheel
from ironcage.core.job.values.running import Axle, LinkedAxle
from ironcage.problem import Problem

# where the ends on the axle are put to begin with: shares of the tyre's diameter and of the half track
BELOW_SHARE, ABOVE_SHARE, ROD_SHARE = 0.15, 0.18, 0.55
DROP_MM = 60.0  # a torque arm's drop link, to begin with
APART_MM = 100.0  # the least between the joints of a leaf spring's eyes
SIDED = ("lower", "upper", "eye", "shackle")
Place = tuple[float, float, float]


def find_live_axle(job: Job, axle: str) -> LinkedAxle:
    """The live axle of that end; refuses an end that has none."""
    for found in job.live_axles:
        if found.axle == axle:
            return found
    raise Problem(
        f"The {axle} wheels are on no live axle yet.",
        where=axle,
        hint=f"Type for example: axle {axle} lower J5L upper J6L rod J7R",
    )


@dataclass(frozen=True)
class Hangers:
    """The joints that an axle is hung at, those of the left side where there are two: of its links, both the same for
    ladder bars; of the drop link of a torque arm; of a leaf spring's front eye and of its shackle; of a track rod."""

    lower: str | None = None
    upper: str | None = None
    torque: str | None = None
    eye: str | None = None
    shackle: str | None = None
    rod: str | None = None


def hung_as(hung: LinkedAxle) -> str:
    """The line that hangs an axle as it is hung."""
    rod = f" rod {hung.rod}" if hung.rod else ""
    if hung.eye:
        return f"axle {hung.axle} leaf eyes {hung.eye} {hung.shackle}{rod}"
    if hung.ladder:
        return f"axle {hung.axle} ladder {hung.lower}{rod}"
    if hung.torque:
        return f"axle {hung.axle} lower {hung.lower} torque {hung.torque}{rod}"
    return f"axle {hung.axle} lower {hung.lower} upper {hung.upper}{rod}"


def hang_axle(job: Job, axle: Axle, at: Hangers) -> Job:
    """Hang an axle at joints, as `held_at` does. Refuses an end that is hung otherwise."""
    demand_unhung(job, axle, but="axle")
    before = next((a for a in job.live_axles if a.axle == axle), LinkedAxle(axle=axle))
    sprung = {"spring": None, "spring_out": None} if at.eye else {}
    return _put(job, held_at(job, before, at).but(**sprung))


def held_at(job: Job, before: LinkedAxle, at: Hangers) -> LinkedAxle:
    """An axle held at joints. Ends on it are proposed from its wheels; those that it has already stay. Refuses eyes of
    a spring that are not one behind the other, and joints on the right."""
    wheel = paired_wheel(job, before.axle)
    sided = {name: left_joint(job, joint) for name in SIDED if (joint := getattr(at, name))}
    middle = {name: job.joint(joint).id for name in ("torque", "rod") if (joint := getattr(at, name))}
    if "eye" in sided and abs(job.joint(sided["eye"]).x - job.joint(sided["shackle"]).x) < APART_MM:
        raise Problem(
            f"{sided['eye']} and {sided['shackle']} are not one behind the other, as a leaf spring’s eyes are.",
            where=sided["shackle"],
            hint="Name the joint of its front eye, then the one of its shackle.",
        )
    joints = {name: sided.get(name) or middle.get(name) for name in (*SIDED, "torque", "rod")}
    outs = {
        out: (getattr(before, out) or proposed(job, wheel, joints[name] or "")) if joints[name] else None
        for name, out, proposed in _OUTS
    }
    return before.but(**joints, **outs)


def set_live_axle(job: Job, axle: str, **changes: Any) -> Job:
    """Change fields of a live axle, mm and rad. Refuses an end on the axle of a link that it does not have."""
    return _put(job, changed(find_live_axle(job, axle), **changes))


def changed(hung: LinkedAxle, **changes: Any) -> LinkedAxle:
    """An axle with fields changed, mm and rad. Refuses an end of a link that it does not have."""
    for joint, out, _ in _OUTS:
        if out in changes and getattr(hung, joint) is None:
            raise Problem(
                f"The {hung.axle} axle has no {out.replace('_', ' ')}, for it does not hang so.",
                where=out,
                hint=f"It is hung by: {hung_as(hung)}",
            )
    return hung.but(**changes)


def hang_axle_spring(job: Job, axle: str, joint: str | None) -> Job:
    """Hang a coil-over at a joint of the left side, its foot on the axle under it until that is set; None takes it
    out."""
    return _put(job, sprung_at(job, find_live_axle(job, axle), joint))


def sprung_at(job: Job, hung: LinkedAxle, joint: str | None) -> LinkedAxle:
    """An axle with a coil-over at a joint of the left side, or without. Refuses one that stands on leaf springs."""
    if joint and hung.eye:
        raise Problem(
            f"The {hung.axle} axle stands on leaf springs.", where=joint, hint="Hang it on links to give it coil-overs."
        )
    if joint is None:
        return hung.but(spring=None, spring_out=None)
    name, wheel = left_joint(job, joint), left_wheel(job, hung.axle)
    foot = hung.spring_out or three((wheel.x, job.joint(name).y, wheel.z + hung.housing / 2))
    return hung.but(spring=name, spring_out=foot)


def unhang_axle(job: Job, axle: str) -> Job:
    """Take a live axle out."""
    gone = find_live_axle(job, axle)
    return job.but(live_axles=tuple(a for a in job.live_axles if a is not gone))


def _put(job: Job, made: LinkedAxle) -> Job:
    return job.but(live_axles=(*(a for a in job.live_axles if a.axle != made.axle), made))


def _below(job: Job, wheel: Wheel, joint: str) -> Place:
    return three((wheel.x, job.joint(joint).y, wheel.z - BELOW_SHARE * wheel.diameter))


def _above(job: Job, wheel: Wheel, joint: str) -> Place:
    return three((wheel.x, job.joint(joint).y, wheel.z + ABOVE_SHARE * wheel.diameter))


def _under(job: Job, _wheel: Wheel, joint: str) -> Place:
    """The front of a torque arm, under the joint that its drop link hangs from."""
    x, y, z = job.joint(joint).place
    return three((x, y, z - DROP_MM))


def _over(job: Job, wheel: Wheel, joint: str) -> Place:
    """The seat of a leaf spring, on the axle."""
    return three((wheel.x, job.joint(joint).y, wheel.z + LinkedAxle(axle="rear").housing / 2))


def _across(job: Job, wheel: Wheel, joint: str) -> Place:
    """A level track rod's far end."""
    at = job.joint(joint)
    return three((at.x, (-1.0 if at.y > 0 else 1.0) * ROD_SHARE * wheel.y, at.z))


_OUTS: tuple[tuple[str, str, Callable[[Job, Wheel, str], Place]], ...] = (
    ("lower", "lower_out", _below),
    ("upper", "upper_out", _above),
    ("torque", "torque_out", _under),
    ("eye", "seat", _over),
    ("rod", "rod_out", _across),
)
