"""Commands on bolt patterns, and on the adapters that join two."""

import re

from ironcage.core.calc.plane.pattern import on_circle
from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Taped
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said, typed

_TAPED = re.compile(r"^(?P<name>.*?)\s*(?P<taped>\d+-\d+\s.+?)\s+dia\s+(?P<dia>.+?)\s*$", re.IGNORECASE)
_ROUND = re.compile(r"^(?P<name>.*?)\s*\b(?P<count>\d+)\s+on\s+(?P<circle>.+?)\s+dia\s+(?P<dia>.+?)\s*$", re.IGNORECASE)
_PAIR = re.compile(r"^\s*(\d+)-(\d+)\s+(.+?)\s*$")
_PATTERN_EXAMPLE = said.example("pattern Hub 1-2 [100], 2-3 [100], 3-4 [100], 4-1 [100], 1-3 [141.4] dia [12.5]")
_ADAPTER = re.compile(
    r"^(?P<name>.*?)\s*\bof\s+(?P<one>.+?)\s+and\s+(?P<other>.+?)"
    r"(?:\s+at\s+(?P<x>[^,\s]+)[,\s]+(?P<y>[^,\s]+))?(?:\s+turn\s+(?P<turn>\S+))?(?:\s+bore\s+(?P<bore>.+?))?"
    r"\s+thickness\s+(?P<thick>.+?)(?:\s+of\s+(?P<material>.+?))?\s*$",
    re.IGNORECASE,
)
_ADAPTER_EXAMPLE = said.example("adapter Motor plate of Hub and Motor turn 15 bore [60] thickness [10]")


def pattern(job: Job, chosen: Chosen, rest: str) -> Done:
    """Keep a bolt pattern from what was taped between hole centres, or by its pitch circle; `pattern H9 gone` lets it
    go."""
    if rest.strip().lower().endswith(" gone"):
        gone = edits.find_pattern(job, rest.strip()[:-5])
        return Done(f"Remove pattern {gone.name}", edits.remove_pattern(job, gone.id), chosen)
    units = units_of(job)
    if match := _ROUND.match(rest.strip()):
        readings = on_circle(int(match["count"]), units.read_length(match["circle"]))
    else:
        match = _TAPED.match(rest.strip())
        pairs = [_PAIR.match(p) for p in match["taped"].split(",")] if match else []
        if match is None or not all(pairs):
            raise Problem(
                "The pattern is incomplete.",
                where=rest,
                hint=f"Write for example: {_PATTERN_EXAMPLE}, or pattern Hub 5 on {said.typing(100)} dia "
                f"{said.typing(12.5)}",
            )
        readings = [(int(p[1]), int(p[2]), units.read_length(p[3])) for p in pairs if p]
    taped = [Taped(a=a, b=b, distance=d) for a, b, d in readings]
    made = edits.add_pattern(job, match["name"] or "Pattern", taped, units.read_length(match["dia"]))
    return Done(f"Keep pattern {made.patterns[-1].name}", made, chosen)


def adapter(job: Job, chosen: Chosen, rest: str) -> Done:
    """Keep a plate with the holes of two patterns, their middles together unless `at` says how far apart; `adapter NAME
    gone` lets it go."""
    if rest.strip().lower().endswith(" gone"):
        gone = edits.find_adapter(job, rest.strip()[:-5])
        return Done(f"Remove adapter {gone.name}", edits.remove_adapter(job, gone.id), chosen)
    match = _ADAPTER.match(rest.strip())
    if match is None:
        raise Problem("The adapter is incomplete.", where=rest, hint=f"Write for example: {_ADAPTER_EXAMPLE}")
    units = units_of(job)
    one, other = (edits.find_pattern(job, match[name]) for name in ("one", "other"))
    more = {name: units.read_length(match[name]) for name in ("x", "y", "bore") if match[name]}
    if match["turn"]:
        more["turn"] = typed.angle(match["turn"])
    made = edits.add_adapter(
        job,
        match["name"] or f"{one.name} to {other.name}",
        one.id,
        other.id,
        units.read_length(match["thick"]),
        material=match["material"] or "",
        **more,
    )
    return Done(f"Keep adapter {made.adapters[-1].name}", made, chosen)


COMMANDS = (
    Command(
        "pattern",
        _PATTERN_EXAMPLE,
        "keeps a bolt pattern from what was taped between hole centres, or by its pitch circle; ‘gone’ removes it",
        pattern,
    ),
    Command(
        "adapter",
        _ADAPTER_EXAMPLE,
        "keeps a plate with the holes of two patterns; ‘gone’ removes it",
        adapter,
    ),
)
