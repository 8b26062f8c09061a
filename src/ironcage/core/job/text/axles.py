"""Commands about live axles: axle."""

import re
from collections.abc import Mapping

from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.text.running import (
    COIL_FIELDS,
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
from ironcage.problem import Problem
from ironcage.units import said

AXLE_EXAMPLE = "axle rear lower J5L upper J6L rod J7R"
SET_EXAMPLE = said.example("axle rear lower out [-2080], [430], [240]")
FIELDS: Mapping[str, tuple[str, Read]] = {
    "lower out": ("lower_out", read_point),
    "upper out": ("upper_out", read_point),
    "rod out": ("rod_out", read_point),
    "torque out": ("torque_out", read_point),
    "seat": ("seat", read_point),
    "spring out": ("spring_out", read_point),
    "up": ("up", read_length),
    "down": ("down", read_length),
    "roll": ("roll", read_angle),
    "link": ("link", read_length),
    "housing": ("housing", read_length),
    "margin": ("margin", read_length),
}
LADDER_EXAMPLE, TORQUE_EXAMPLE = "axle rear ladder J5L rod J7R", "axle rear lower J5L torque J9 rod J7R"
LEAF_EYES_EXAMPLE = "axle rear leaf eyes J5L J8L"
_ROD = r"(?: rod (?P<rod>\S+))?$"
_HUNG = tuple(
    re.compile(f"^{line}{_ROD}", re.IGNORECASE)
    for line in (
        r"lower (?P<lower>\S+) upper (?P<upper>\S+)",
        r"lower (?!out\b)(?P<lower>\S+) torque (?P<torque>\S+)",
        r"ladder (?P<ladder>\S+)",
        r"leaf eyes (?P<eye>\S+) (?P<shackle>\S+)",
    )
)
SPRING = re.compile(r"^spring (?!out\b)(\S+)$", re.IGNORECASE)


def axle(job: Job, chosen: Chosen, rest: str) -> Done:
    """Hangs both wheels of an end on a live axle, its links at joints of the left side and a track rod at any joint:
    `axle rear lower J5L upper J6L rod J7R`; on ladder bars, `axle rear ladder J5L rod J7R`; on lower links and a torque
    arm, `axle rear lower J5L torque J9 rod J7R`; on two leaf springs by their fixed eye and their shackle, `axle rear
    leaf eyes J5L J8L`; then sets its ends, `axle rear lower out -2080, 430, 240` (also upper out, rod out, spring out,
    torque out, seat), `spring J8L` or `spring none`, up, down, roll, link, housing, margin; what is known of its
    leaves, `axle rear leaf wide 60 thick 7 full 1 stepped 4 shackle 80`, as of `beam`; rate, free, solid, open, closed,
    stop and unsprung of its coil-overs, `eye` of its rod ends, `bar` of an anti-roll bar, as of `corner`;
    `axle rear gone`."""
    end, body = read_end(rest, AXLE_EXAMPLE)
    low = body.lower()
    if low == "gone":
        return Done(f"Take the {end} live axle out", edits.unhang_axle(job, end), chosen)
    if at := hangers(body):
        return Done(f"Hang the {end} wheels on a live axle", edits.hang_axle(job, end, at), chosen)
    if spring := SPRING.match(body):
        name = None if spring[1].lower() == "none" else spring[1]
        return Done(f"Set the spring of the {end} axle", edits.hang_axle_spring(job, end, name), chosen)
    if group := typed_group(job, end, body, chosen) or typed_hole(job, end, body, chosen):
        return group
    name, value = typed_field(job, {**FIELDS, **COIL_FIELDS}, body, f"{end} axle", f"{AXLE_EXAMPLE}, or {SET_EXAMPLE}")
    if name in COIL_FIELDS:
        return Done(f"Set {name} of the {end} coil-overs", edits.set_coil_over(job, end, **{name: value}), chosen)
    return Done(f"Set {name} of the {end} axle", edits.set_live_axle(job, end, **{FIELDS[name][0]: value}), chosen)


def hangers(body: str) -> edits.Hangers | None:
    """The joints that a line hangs an axle at; None of one that says something else. Raises Problem for two links at
    one joint that are not called ladder bars."""
    for line in _HUNG:
        if found := line.match(body):
            named = {name: joint for name, joint in found.groupdict().items() if joint}
            if bar := named.pop("ladder", None):
                return edits.Hangers(lower=bar, upper=bar, **named)
            if named.get("lower", "").upper() == named.get("upper", " ").upper():
                raise Problem(
                    f"Both links are hung at {named['lower']}.",
                    where=named["lower"],
                    hint="Name two joints, or type ladder and the joint for a ladder bar.",
                )
            return edits.Hangers(**named)
    return None


COMMANDS = (
    Command("axle", AXLE_EXAMPLE, f"hangs an end's wheels on a live axle on links; then {SET_EXAMPLE}, roll …", axle),
)
