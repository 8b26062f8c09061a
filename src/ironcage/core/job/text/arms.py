"""Commands about wheels on swinging arms: arm."""

import re
from collections.abc import Mapping

from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.text.running import (
    COIL_FIELDS,
    ROCKER,
    ROCKER_FIELDS,
    Read,
    read_angle,
    read_end,
    read_length,
    read_point,
    typed_field,
    typed_group,
    typed_hole,
)
from ironcage.core.job.values.model import Job

ARM_EXAMPLE = "arm rear axis J5L J6L"
FIELDS: Mapping[str, tuple[str, Read]] = {
    "spring out": ("spring_out", read_point),
    "camber": ("camber", read_angle),
    "toe": ("toe", read_angle),
    "up": ("up", read_length),
    "down": ("down", read_length),
    "link": ("link", read_length),
    "margin": ("margin", read_length),
}
_AXIS = re.compile(r"^axis (\S+) (\S+)$", re.IGNORECASE)
_SPRING = re.compile(r"^spring (?!out\b)(\S+)$", re.IGNORECASE)


def arm(job: Job, chosen: Chosen, rest: str) -> Done:
    """Hangs both wheels of an end on arms that swing about one axis, through two joints of the left side: `arm rear
    axis J5L J6L`; or through a joint and its twin, as a carrier of both: `arm rear axis J5L J5R`; then `spring J8L` or
    `spring none`, spring out, camber, toe, up, down, link, margin; rate, free, solid, open, closed, stop and unsprung
    of its coil-overs, `bar` of an anti-roll bar, `rocker J10L` of a push rod and its rocker, as of `corner`; `arm
    rear gone`."""
    end, body = read_end(rest, ARM_EXAMPLE)
    if body.lower() == "gone":
        return Done(f"Take the {end} arms out", edits.unhang_arms(job, end), chosen)
    if axis := _AXIS.match(body):
        return Done(f"Hang the {end} wheels on arms", edits.hang_arms(job, end, *axis.groups()), chosen)
    if spring := _SPRING.match(body):
        name = None if spring[1].lower() == "none" else spring[1]
        return Done(f"Set the spring of the {end} arms", edits.hang_arm_spring(job, end, name), chosen)
    if rocker := ROCKER.match(body):
        pivot = None if rocker[1].lower() == "none" else rocker[1]
        return Done(f"Set the rocker of the {end} arms", edits.hang_rocker(job, end, pivot), chosen)
    if group := typed_group(job, end, body, chosen) or typed_hole(job, end, body, chosen):
        return group
    name, value = typed_field(job, {**FIELDS, **COIL_FIELDS, **ROCKER_FIELDS}, body, f"{end} arm", ARM_EXAMPLE)
    if name in COIL_FIELDS:
        return Done(f"Set {name} of the {end} coil-overs", edits.set_coil_over(job, end, **{name: value}), chosen)
    if name in ROCKER_FIELDS:
        made = edits.set_push_rod(job, end, **{ROCKER_FIELDS[name][0]: value})
        return Done(f"Set {name} of the {end} arms", made, chosen)
    return Done(f"Set {name} of the {end} arms", edits.set_arms(job, end, **{FIELDS[name][0]: value}), chosen)


COMMANDS = (
    Command(
        "arm", ARM_EXAMPLE, "hangs an end's wheels on arms that swing about one axis; then spring J8L, up, down …", arm
    ),
)
