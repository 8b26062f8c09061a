"""What the tape measure tells, in words, and tapes that stay on the table."""

import math
import re
from collections.abc import Sequence

from ironcage.core.job import edits
from ironcage.core.job.geometry import measure
from ironcage.core.job.geometry.measure import Measured
from ironcage.core.job.text.command import Chosen, Done
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of

_KEEPS = re.compile(r"^(?P<things>(?:[\w]+\s+)*?)(?P<what>stays?|gone|all gone)$", re.IGNORECASE)


def read(job: Job, things: Sequence[str]) -> str:
    """What a tape on some things says: a tube's length and how it lies, two things apart, the angle of three joints;
    nothing where that is no tape."""
    joints = [t for t in things if t in job.joint_by_id]
    if len(things) == 1 and things[0] in job.tube_by_id:
        tube = job.tube_by_id[things[0]]
        found = measure.along(job, tube.id)
        long = units_of(job).length(found.distance)
        return f"{tube.id} is {long} long between its joints, {tube.section}; it {_lies(found)}"
    if len(things) == 2 and measure.known(job, things) and not any(_flat(job, t) for t in things):
        found = measure.between(job, *things)
        how = "from surface to surface" if found.faces else "as drawn"
        units = units_of(job)
        parts = ", ".join(f"{axis} {units.length(float(v))}" for axis, v in zip("xyz", found.parts, strict=True))
        apart = f"overlap by {units.length(-found.distance)}" if found.distance < 0 else units.length(found.distance)
        return f"{things[0]} to {things[1]}: {apart} {how} ({parts}); it {_lies(found)}"
    if len(things) == 3 and len(joints) == 3:
        angle = math.degrees(measure.angle_at(job, joints[0], joints[1], joints[2]))
        return f"The angle at {joints[1]} between {joints[0]} and {joints[2]} is {angle:.2f}°"
    return ""


def short(job: Job, things: Sequence[str]) -> str:
    """The figure alone, as it stands on a tape."""
    if len(things) == 3:
        return f"{math.degrees(measure.angle_at(job, things[0], things[1], things[2])):.2f}°"
    return units_of(job).length(measure.between(job, things[0], things[1]).distance)


def _flat(job: Job, thing: str) -> bool:
    return thing in {p.id for p in job.pictures}


def _lies(found: Measured) -> str:
    """`rises 3.20° and heads 12.00° to the left of straight ahead`."""
    lean = math.degrees(found.lean)
    rise = "is level" if abs(lean) < 0.005 else f"{'rises' if lean > 0 else 'falls'} {abs(lean):.2f}°"
    if found.heading is None:
        return rise
    heading = math.degrees(found.heading)
    side = "left" if heading > 0 else "right"
    ahead = "runs straight ahead" if abs(heading) < 0.005 else f"heads {abs(heading):.2f}° to the {side} of ahead"
    return f"{rise} and {ahead}"


def keeping(job: Job, chosen: Chosen, rest: str) -> Done | None:
    """`tape J1L J4R stays`, `tape J1L J4R gone`, `tape all gone`: tapes on the table. None for any other line."""
    match = _KEEPS.match(rest.strip())
    if match is None:
        return None
    things = tuple(word.upper() for word in match["things"].split()) or (() if "all" in match["what"] else chosen)
    if match["what"].lower().endswith("gone"):
        return Done("Take tapes away", edits.drop_tapes(job, things), chosen)
    told = read(job, things) if len(things) in (2, 3) else ""
    if not told:
        return None
    return Done(f"Keep a tape: {told}", edits.keep_tape(job, things), chosen)
