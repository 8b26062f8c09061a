"""Commands about an axle that is set on the frame for its chain: carrier."""

import re
from collections.abc import Mapping

from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.text.running import Read, read_end, read_length, read_point, typed_field
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import typed

CARRIER_EXAMPLE = "carrier rear slide -1 0 0"
PIVOT_EXAMPLE = "carrier rear pivot J25L"
FIELDS: Mapping[str, tuple[str, Read]] = {
    "stay out": ("stay_out", read_point),
    "back": ("back", read_length),
    "forth": ("forth", read_length),
    "link": ("link", read_length),
    "margin": ("margin", read_length),
}
_SLIDE = re.compile(r"^slide\s+(.+)$", re.IGNORECASE)
_PIVOT = re.compile(r"^pivot (\S+)$", re.IGNORECASE)
_STAY = re.compile(r"^stay (?!out\b)(\S+)$", re.IGNORECASE)


def carrier(job: Job, chosen: Chosen, rest: str) -> Done:
    """Lets an end's axle be set on the frame to tighten its chain: slid along a way, `carrier rear slide -1 0 0`
    straight back, or swung about a joint and its twin, `carrier rear pivot J25L`; then back and forth (how far it can
    be set away from the driving sprocket, and towards it), `stay J30L` or `stay none` (an adjuster of one that
    swings), stay out, link, margin; `carrier rear gone`."""
    end, body = read_end(rest, CARRIER_EXAMPLE)
    if body.lower() == "gone":
        return Done(f"Take the {end} carrier out", edits.unhang_carrier(job, end), chosen)
    if way := _SLIDE.match(body):
        parts = way[1].replace(",", " ").split()
        if len(parts) != 3:
            raise Problem(f"‘{way[1]}’ is no way to slide along.", where=way[1], hint="Straight back is -1 0 0.")
        x, y, z = map(typed.number, parts)
        return Done(f"Let the {end} axle slide for its chain", edits.slide_carrier(job, end, (x, y, z)), chosen)
    if pivot := _PIVOT.match(body):
        return Done(f"Let the {end} axle swing for its chain", edits.swing_carrier(job, end, pivot[1]), chosen)
    if stay := _STAY.match(body):
        name = None if stay[1].lower() == "none" else stay[1]
        return Done(f"Set the adjuster of the {end} carrier", edits.hang_stay(job, end, name), chosen)
    name, value = typed_field(job, FIELDS, body, f"{end} carrier", CARRIER_EXAMPLE)
    return Done(f"Set {name} of the {end} carrier", edits.set_carrier(job, end, **{FIELDS[name][0]: value}), chosen)


COMMANDS = (
    Command(
        "carrier",
        CARRIER_EXAMPLE,
        f"lets an end's axle be set for its chain; or {PIVOT_EXAMPLE}; then back, forth, stay J30L …",
        carrier,
    ),
)
