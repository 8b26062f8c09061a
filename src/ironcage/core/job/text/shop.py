"""Commands of the shop: bolts through tube, section lines."""

import math
import re

import numpy as np

from ironcage.core.calc.car.column import column as find_column
from ironcage.core.calc.tubes.bolts import bolt_named, crush_tube, splay_hole
from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done, counted, joints_of, read_place
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said, typed

_BOLT = re.compile(
    r"^\s*(?P<size>.+?)\s+through\s+(?P<through>.+?)(?:\s+wall\s+(?P<wall>.+?))?"
    r"(?:\s+lean\s+(?P<lean>.+?))?(?:\s+clearance\s+(?P<clearance>.+?))?"
    r"(?:\s+race\s+(?P<race>.+?)\s+at\s+(?P<apart>.+?))?\s*$",
    re.IGNORECASE,
)
BOX_SIZES = 3  # height, width and wall of a rectangular tube
MILD_YIELD_MPA = 235.0
COLUMN_EXAMPLE = said.example("column [-900] [300] [620]; [-560] [300] [520]; [-300] [220] [330]; [-120] [160] [250]")


def bolt(job: Job, chosen: Chosen, rest: str) -> Done:
    """What a bolt (`M10`, `1/2"`) or a shaft (`25`) through hollow tube asks for: holes, longer where it leans; for a
    bolt a crush tube, and room for its head, beside a bearing's race where one is named. Changes nothing."""
    match = _BOLT.match(rest)
    if match is None:
        raise Problem(
            "The bolt is incomplete.",
            where=rest,
            hint=said.example("Write for example: bolt M10 through [50] wall [3] lean 12"),
        )
    units = units_of(job)
    name = match["size"].strip()
    known = bolt_named(name) or (bolt_named(f'{name}"') if units.length_unit == "inch" else None)
    sizes = re.split(r"\s*[x×]\s*", match["through"].strip())
    through = units.read_length(sizes[0])
    wall = match["wall"] or (sizes[-1] if len(sizes) == BOX_SIZES else "0")
    if known is None and re.fullmatch(r"[Mm]\s*\d+", name):
        crush_tube(name, through, MILD_YIELD_MPA)  # refuses it, naming those there are
    tube = crush_tube(known.name, through, MILD_YIELD_MPA) if known else None
    size = known.diameter if known else units.read_length(name)
    slack = units.read_length(match["clearance"]) if match["clearance"] else tube.bore - size if tube else 0.0
    lean = typed.angle(match["lean"]) if match["lean"] else 0.0
    hole = splay_hole(size, units.read_length(wall), through, lean, slack)
    what = f"Bolt {known.name}, class {next(iter(known.proof))}," if known else f"Shaft {units.length(size)}"
    leant = f" at {math.degrees(lean):.0f}°" if lean else ""
    words = f"{what} through {units.length(through)}{leant}: holes {units.fine(hole.across)}"
    if lean:
        words += f" by {units.fine(hole.along)} along the lean, the far one {units.fine(hole.shift)} off"
    if tube:
        words += (
            f"; crush tube {units.length(through)} long, bore {units.length(tube.bore)}, {units.fine(tube.least_od)} "
            f"outside or more in mild steel; clear "
            f"{units.fine(tube.head)} for the head, {units.length(tube.washer)} for a washer"
        )
        if match["race"]:
            room = units.read_length(match["apart"]) - units.read_length(match["race"]) / 2
            under = min((room - tube.head / 2, "head"), (room - tube.washer / 2, "washer"))
            how = (
                f"{units.fine(under[0])} between"
                if under[0] >= 0
                else f"in the way of each other by {units.fine(-under[0])}:"
            )
            words += f"; {how} its {under[1]} and the race"
    return Done(words, job, chosen)


def column(job: Job, chosen: Chosen, rest: str) -> Done:
    """What a steering column asks for, from the wheel’s end by its joints to the box: `column -900 300 620; -560 300
    520; -300 220 330; -120 160 250`: its joints' angles, how its yokes are set, bearings. Changes nothing."""
    places = [read_place(job, part) for part in rest.split(";") if part.strip()]
    told, units = find_column(np.array(places, float).reshape(-1, 3)), units_of(job)
    bends = ", ".join(f"{math.degrees(v):.1f}°" for v in told.angles)
    parts = ", ".join(units.length(v) for v in told.lengths)
    words = f"Column: joints bent {bends}; parts {parts}; it runs {100 * told.swing:.1f} % uneven"
    if told.yokes:
        yokes = ", ".join(f"{math.degrees(v):.0f}°" for v in told.yokes)
        words += f" with its second yokes turned {yokes}, {100 * told.in_line:.1f} % with all in line"
    if told.bearings:
        words += f"; {told.bearings} more bearing{'s' if told.bearings > 1 else ''} between its joints"
    return Done(words, job, chosen)


_LINE = re.compile(r"^(?P<name>.+?)\s+(?P<axis>[xyz])\s+(?P<at>.+?)\s*$", re.IGNORECASE)


def line(job: Job, chosen: Chosen, rest: str) -> Done:
    """Draw a section line, `line roof z 1340`; again to move it with the joints laid to it; `line roof gone`."""
    if rest.strip().lower().endswith(" gone"):
        name = rest.strip()[:-5].strip()
        return Done(f"Remove line {name}", edits.remove_line(job, name), chosen)
    match = _LINE.match(rest.strip())
    if match is None:
        raise Problem("The line is incomplete.", where=rest, hint=said.example("Write for example: line roof z [1340]"))
    axis = match["axis"].lower()
    at = units_of(job).read_length(match["at"]) + getattr(job.datum, axis)
    made = edits.put_line(job, match["name"], axis, at)  # type: ignore[arg-type]
    moved = sum(a is not b for a, b in zip(job.joints, made.joints, strict=True))
    follow = f"; {moved} joints follow" if moved else ""
    return Done(f"Put line {match['name']} at {axis} {match['at']}{follow}", made, chosen)


def lay(job: Job, chosen: Chosen, rest: str) -> Done:
    """Lay the chosen joints to a section line; they follow it from then on."""
    names = joints_of(job, chosen)
    return Done(f"Lay {counted(names, 'joints')} to {rest.strip()}", edits.lay_to_line(job, rest, names), chosen)


COMMANDS = (
    Command(
        "bolt",
        said.example("bolt M10 through [50] wall [3] lean 12"),
        "says what holes, crush tube and room a bolt through hollow tube asks for",
        bolt,
    ),
    Command(
        "column",
        COLUMN_EXAMPLE,
        "says what a steering column’s joints, yokes and bearings have to be, from the wheel’s end to the box",
        column,
    ),
    Command(
        "line",
        said.example("line roof z [1340]"),
        "draws a section line, or moves it with the joints laid to it; ‘gone’ removes it",
        line,
    ),
    Command("lay", "lay roof", "lays the chosen joints to a section line; they follow it", lay),
)
