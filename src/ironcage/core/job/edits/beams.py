"""Beam axles whose wheels are steered about kingpins: put in, their points set, taken out."""

from __future__ import annotations

import math
from typing import Any

from ironcage.core.job.edits.axles import Hangers, changed, held_at, sprung_at
from ironcage.core.job.edits.running import demand_unhung, paired_wheel, three
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, KingpinBeam, LinkedAxle
from ironcage.problem import Problem

# what is proposed: the kingpin's middle inside the wheel and its half length, as shares of the tyre's width and
# diameter, its leans, and how far behind it the steering arm ends
INSIDE_SHARE, HALF_SHARE, CASTER, INCLINED, BEHIND_SHARE = 0.75, 0.2, math.radians(10), math.radians(8), 0.35
ROD_BESIDE_MM = 30.0  # the tie rod's inner end beside the middle of the car


def find_beam(job: Job, axle: str) -> KingpinBeam:
    """The beam of that end; refuses an end that has none."""
    for found in job.beams:
        if found.axle == axle:
            return found
    raise Problem(f"The {axle} wheels are on no beam axle yet.", where=axle, hint=f"Type: beam {axle}")


def hang_beam(job: Job, axle: Axle) -> Job:
    """Put the wheels of an end on a beam axle with kingpins, its points proposed from the wheel; one that is there
    stays as it is. Refuses an end that is hung otherwise."""
    demand_unhung(job, axle, but="beam")
    if any(b.axle == axle for b in job.beams):
        return job
    return _put(job, KingpinBeam(axle=axle, **_proposed(job, axle)))


def set_beam(job: Job, axle: str, **changes: Any) -> Job:
    """Change fields of a beam, mm and rad. Refuses a kingpin, a tie rod, a drag link or a column without length, and a
    drop arm without a column's direction."""
    made = find_beam(job, axle).but(**changes)
    if made.pivot and made.column is None:
        x, y, z = made.pivot
        made = made.but(column=(x, y, z + 100.0))  # upright until it is told
    for name, one, other in (
        ("kingpin", made.lower, made.upper),
        ("tie rod", made.arm, made.rod),
        ("drag link", made.drag, made.rod if made.drag else None),
        ("column", made.pivot, made.column),
    ):
        if one and other and math.dist(one, other) < 1.0:
            raise Problem(f"The {axle} {name} would have no length.", where=name, hint="Give its two ends apart.")
    if made.upper[2] <= made.lower[2]:
        raise Problem(
            f"The {axle} kingpin would be upside down.", where="kingpin", hint="Its upper end is higher than its lower."
        )
    return _put(job, made)


def hold_beam(job: Job, axle: Axle, at: Hangers | None) -> Job:
    """Let a beam move on links or leaf springs at joints; None: it stays where it is. Refuses as `held_at` does."""
    beam = find_beam(job, axle)
    if at is None:
        return _put(job, beam.but(on=None))
    sprung = {"spring": None, "spring_out": None} if at.eye else {}
    return _put(job, beam.but(on=held_at(job, beam.on or LinkedAxle(axle=axle), at).but(**sprung)))


def hang_beam_spring(job: Job, axle: str, joint: str | None) -> Job:
    """Hang a coil-over of a beam that moves at a joint of the left side; None takes it out. Refuses as `sprung_at`
    does, and a beam that stays where it is."""
    return _put(job, find_beam(job, axle).but(on=sprung_at(job, _hold(job, axle), joint)))


def set_hold(job: Job, axle: str, **changes: Any) -> Job:
    """Change fields of what a beam moves on, mm and rad. Refuses a beam that stays where it is, and as `changed`
    does."""
    return _put(job, find_beam(job, axle).but(on=changed(_hold(job, axle), **changes)))


def _hold(job: Job, axle: str) -> LinkedAxle:
    beam = find_beam(job, axle)
    if beam.on is None:
        raise Problem(
            f"The {axle} beam stays where it is.",
            where=axle,
            hint=f"Let it move on something: beam {axle} on leaf eyes J1L J2L",
        )
    return beam.on


def unhang_beam(job: Job, axle: str) -> Job:
    """Take a beam axle out."""
    gone = find_beam(job, axle)
    return job.but(beams=tuple(b for b in job.beams if b is not gone))


def _put(job: Job, made: KingpinBeam) -> Job:
    return job.but(beams=(*(b for b in job.beams if b.axle != made.axle), made))


def _proposed(job: Job, axle: Axle) -> dict[str, Any]:
    """A kingpin just inside the wheel, its steering arm on the line to the middle of the other axle, so that both
    wheels nearly roll on one centre, and a rack between the tie rods."""
    wheel = paired_wheel(job, axle)
    y, half, back = wheel.y - INSIDE_SHARE * wheel.width, HALF_SHARE * wheel.diameter, BEHIND_SHARE * wheel.diameter
    other = next((w for w in job.wheels if not w.corner.startswith(axle)), None)
    inwards = y * back / abs(other.x - wheel.x) if other and abs(other.x - wheel.x) > back else 0.0
    behind = -back if other is None or other.x < wheel.x else back
    arm = three((wheel.x + behind, y - inwards, wheel.z))
    return {
        "lower": three((wheel.x + half * math.tan(CASTER), y + half * math.tan(INCLINED), wheel.z - half)),
        "upper": three((wheel.x - half * math.tan(CASTER), y - half * math.tan(INCLINED), wheel.z + half)),
        "arm": arm,
        "rod": (arm[0], ROD_BESIDE_MM, arm[2]),
    }
