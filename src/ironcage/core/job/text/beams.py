"""Commands about beam axles with kingpins: beam."""

from collections.abc import Mapping

from ironcage.core.job import edits
from ironcage.core.job.text import axles
from ironcage.core.job.text.axles import hangers
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.text.running import (
    COIL_FIELDS,
    Read,
    read_angle,
    read_end,
    read_length,
    read_point,
    read_point_or_none,
    typed_field,
    typed_group,
)
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle
from ironcage.units import said

BEAM_EXAMPLE = "beam front"
SET_EXAMPLE = said.example("beam front arm [-90], [390], [130]")


FIELDS: Mapping[str, tuple[str, Read]] = {
    "lower": ("lower", read_point),
    "upper": ("upper", read_point),
    "arm": ("arm", read_point),
    "rod": ("rod", read_point),
    "drag": ("drag", read_point_or_none),
    "pivot": ("pivot", read_point_or_none),
    "column": ("column", read_point_or_none),
    "turn": ("turn", read_angle),
    "rack": ("rack", read_length),
    "camber": ("camber", read_angle),
    "toe": ("toe", read_angle),
    "link": ("link", read_length),
    "margin": ("margin", read_length),
}


ON_EXAMPLE, ON_SET_EXAMPLE = "beam front on leaf eyes J1L J2L", said.example("beam front on seat [0], [330], [250]")
HOLD_FIELDS = {name: read for name, read in axles.FIELDS.items() if name not in ("up", "down")}


def beam(job: Job, chosen: Chosen, rest: str) -> Done:
    """Puts both wheels of an end on a beam axle with kingpins: `beam front`; then sets its
    points, `beam front arm -90, 390, 130` (also lower and upper: the kingpin's ends; rod: the tie rod's inner end;
    drag: the end of a drag link on the left stub axle, `drag none` for a tie rod to each wheel; pivot and column: the
    foot of a drop arm and a place up its axis, `pivot none` for a rack), turn or rack: how far to
    each side, camber, toe, link, margin; `eye` of the tie rods' rod ends, as of `corner`; what is
    known of its leaf springs, `beam front leaf front 480 rear 520 wide 50 thick 6 full 1 stepped 3 base 700`, also
    arch, shackle, lean, unsprung, up, down, limit, `lies across`; lets it move on
    leaf springs, links or ladder bars, as of `axle`: `beam front on leaf eyes J1L J2L`, `on ladder J1L rod J4R`,
    `on seat 0, 330, 250`, `on spring J5L`, `on spring out …`; what is known of its coil-overs, `beam front rate 40`, as
    of `corner`; `on none` for one that stays where it is; `beam front gone`."""
    end, body = read_end(rest, BEAM_EXAMPLE)
    if not body:
        return Done(f"Put the {end} wheels on a beam axle", edits.hang_beam(job, end), chosen)
    if body.lower() == "gone":
        return Done(f"Take the {end} beam axle out", edits.unhang_beam(job, end), chosen)
    if body.lower().startswith("on "):
        return _on(job, chosen, end, body[3:].strip())
    if group := typed_group(job, end, body, chosen):
        return group
    name, value = typed_field(job, {**FIELDS, **COIL_FIELDS}, body, f"{end} beam", SET_EXAMPLE)
    if name in COIL_FIELDS:
        return Done(f"Set {name} of the {end} coil-overs", edits.set_coil_over(job, end, **{name: value}), chosen)
    changes = {FIELDS[name][0]: value}
    if name == "pivot" and value is None:
        changes["column"] = None
    return Done(f"Set {name} of the {end} beam", edits.set_beam(job, end, **changes), chosen)


def _on(job: Job, chosen: Chosen, end: Axle, body: str) -> Done:
    """What a beam moves on: joints, `none`, or an end on the beam."""
    if body.lower() == "none":
        return Done(f"Let the {end} beam stay where it is", edits.hold_beam(job, end, None), chosen)
    if at := hangers(body):
        return Done(f"Let the {end} beam move", edits.hold_beam(job, end, at), chosen)
    if spring := axles.SPRING.match(body):
        joint = None if spring[1].lower() == "none" else spring[1]
        return Done(f"Set the spring of the {end} beam", edits.hang_beam_spring(job, end, joint), chosen)
    name, value = typed_field(job, HOLD_FIELDS, body, f"{end} beam’s hold", f"{ON_EXAMPLE}, or {ON_SET_EXAMPLE}")
    return Done(f"Set {name} of the {end} beam", edits.set_hold(job, end, **{HOLD_FIELDS[name][0]: value}), chosen)


COMMANDS = (
    Command(
        "beam", BEAM_EXAMPLE, f"puts an end's wheels on a beam axle with kingpins; then {SET_EXAMPLE}, turn …", beam
    ),
)
