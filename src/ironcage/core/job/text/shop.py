"""Commands of the shop: bolt patterns, bolts through tube, section lines."""

import math
import re

from ironcage.core.calc.tubes.bolts import bolt_named, crush_tube, splay_hole
from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done, counted, joints_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Taped
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said, typed

_PATTERN = re.compile(r"^(?P<name>.*?)\s*(?P<taped>\d+-\d+\s.+?)\s+dia\s+(?P<dia>.+?)\s*$", re.IGNORECASE)
_PAIR = re.compile(r"^\s*(\d+)-(\d+)\s+(.+?)\s*$")
_PATTERN_EXAMPLE = said.example("pattern Hub 1-2 [100], 2-3 [100], 3-4 [100], 4-1 [100], 1-3 [141.4] dia [12.5]")


def pattern(job: Job, chosen: Chosen, rest: str) -> Done:
    """Keep a bolt pattern from what was taped between hole centres; `pattern H9 gone` lets it go."""
    if rest.strip().lower().endswith(" gone"):
        gone = edits.find_pattern(job, rest.strip()[:-5])
        return Done(f"Let pattern {gone.name} go", edits.remove_pattern(job, gone.id), chosen)
    match = _PATTERN.match(rest.strip())
    pairs = [_PAIR.match(p) for p in match["taped"].split(",")] if match else []
    if match is None or not all(pairs):
        raise Problem("The pattern is not all there.", where=rest, hint=f"Write for example: {_PATTERN_EXAMPLE}")
    units = units_of(job)
    taped = [Taped(a=int(p[1]), b=int(p[2]), distance=units.read_length(p[3])) for p in pairs if p]
    made = edits.add_pattern(job, match["name"] or "Pattern", taped, units.read_length(match["dia"]))
    return Done(f"Keep pattern {made.patterns[-1].name}", made, chosen)


_BOLT = re.compile(
    r"^\s*(?P<size>.+?)\s+through\s+(?P<through>.+?)(?:\s+wall\s+(?P<wall>.+?))?"
    r"(?:\s+lean\s+(?P<lean>.+?))?(?:\s+clearance\s+(?P<clearance>.+?))?\s*$",
    re.IGNORECASE,
)
MILD_YIELD_MPA = 235.0


def bolt(job: Job, chosen: Chosen, rest: str) -> Done:
    """What a bolt (`M10`, `1/2"`) or a shaft (`25`) through hollow tube asks for: holes, longer where it leans; for a
    bolt a crush tube, and room for its head. Changes nothing."""
    match = _BOLT.match(rest)
    if match is None:
        raise Problem(
            "The bolt is not all there.",
            where=rest,
            hint=said.example("Write for example: bolt M10 through [50] wall [3] lean 12"),
        )
    units = units_of(job)
    name = match["size"].strip()
    known = bolt_named(name) or (bolt_named(f'{name}"') if units.length_unit == "inch" else None)
    through = units.read_length(match["through"])
    if known is None and re.fullmatch(r"[Mm]\s*\d+", name):
        crush_tube(name, through, MILD_YIELD_MPA)  # refuses it, naming those there are
    tube = crush_tube(known.name, through, MILD_YIELD_MPA) if known else None
    size = known.diameter if known else units.read_length(name)
    slack = units.read_length(match["clearance"]) if match["clearance"] else tube.bore - size if tube else 0.0
    lean = typed.angle(match["lean"]) if match["lean"] else 0.0
    hole = splay_hole(size, units.read_length(match["wall"]) if match["wall"] else 0.0, through, lean, slack)
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
    return Done(words, job, chosen)


_LINE = re.compile(r"^(?P<name>.+?)\s+(?P<axis>[xyz])\s+(?P<at>.+?)\s*$", re.IGNORECASE)


def line(job: Job, chosen: Chosen, rest: str) -> Done:
    """Draw a section line, `line roof z 1340`; again to move it with the joints laid to it; `line roof gone`."""
    if rest.strip().lower().endswith(" gone"):
        name = rest.strip()[:-5].strip()
        return Done(f"Let line {name} go", edits.remove_line(job, name), chosen)
    match = _LINE.match(rest.strip())
    if match is None:
        raise Problem(
            "The line is not all there.", where=rest, hint=said.example("Write for example: line roof z [1340]")
        )
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
        "pattern",
        _PATTERN_EXAMPLE,
        "keeps a bolt pattern from what was taped between hole centres; ‘gone’ lets it go",
        pattern,
    ),
    Command(
        "bolt",
        said.example("bolt M10 through [50] wall [3] lean 12"),
        "says what holes, crush tube and room a bolt through hollow tube asks for",
        bolt,
    ),
    Command(
        "line",
        said.example("line roof z [1340]"),
        "draws a section line, or moves it with the joints laid to it; ‘gone’ lets it go",
        line,
    ),
    Command("lay", "lay roof", "lays the chosen joints to a section line; they follow it", lay),
)
