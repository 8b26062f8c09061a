"""Commands about a single front wheel in a fork: fork."""

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
    typed_field,
    typed_group,
)
from ironcage.core.job.values.model import Job

FORK_EXAMPLE = "fork front head J1 J2"
FIELDS: Mapping[str, tuple[str, Read]] = {
    "up": ("up", read_length),
    "down": ("down", read_length),
    "turn": ("turn", read_angle),
    "apart": ("apart", read_length),
    "link": ("link", read_length),
    "margin": ("margin", read_length),
}
_HEAD = re.compile(r"^head (\S+) (\S+)$", re.IGNORECASE)


def fork(job: Job, chosen: Chosen, rest: str) -> Done:
    """Hangs a single front wheel in a telescopic fork that turns in a steering head at two joints on the centreline:
    `fork front head J1 J2`; then up, down, turn (how far it is steered to each side), apart (between its legs), link
    (their diameter), margin; rate, free, solid, open, closed, stop and unsprung of the spring in each leg, its lengths
    from the lower bearing down to the axle; `fork front gone`."""
    end, body = read_end(rest, FORK_EXAMPLE)
    if body.lower() == "gone":
        return Done(f"Take the {end} fork out", edits.unhang_fork(job, end), chosen)
    if head := _HEAD.match(body):
        return Done(f"Hang the {end} wheel in a fork", edits.hang_fork(job, end, *head.groups()), chosen)
    if group := typed_group(job, end, body, chosen):
        return group
    name, value = typed_field(job, {**FIELDS, **COIL_FIELDS}, body, f"{end} fork", FORK_EXAMPLE)
    if name in COIL_FIELDS:
        return Done(f"Set {name} of the {end} fork", edits.set_coil_over(job, end, **{name: value}), chosen)
    return Done(f"Set {name} of the {end} fork", edits.set_fork(job, end, **{FIELDS[name][0]: value}), chosen)


COMMANDS = (
    Command("fork", FORK_EXAMPLE, "hangs a single front wheel in a fork; then up, down, turn, apart, rate …", fork),
)
