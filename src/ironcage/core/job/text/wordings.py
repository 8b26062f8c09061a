"""First guesses about what has a name in words, the sheet of offsets and tapes, written again as lines of ours."""

import re
from collections.abc import Iterator
from typing import NamedTuple

from ironcage.core.job.geometry.names import called, named_with
from ironcage.core.job.text.command import Chosen
from ironcage.core.job.values.model import Job


class Retold(NamedTuple):
    """A line written again, and what is chosen for it."""

    line: str
    chosen: Chosen


_ID = r"[a-z]\d+[lr]?"
_PICK = r"(?:select|choose|pick|find|show|highlight|where is|go to)"
_STARTS = {
    "single seat": r"single[\s\-]?seat(?:er)?|one[\s\-]?seat(?:er)?",
    "two seats": r"(?:two|twin)[\s\-]?seat(?:er|s)?",
    "kart": r"(?:go[\s\-]?)?kart",
    "ladder": r"ladder",
}


def of_names(text: str, job: Job, chosen: Chosen) -> Iterator[Retold]:
    """Joints and tubes chosen, moved and named by words, and parts by theirs."""
    if m := _full(rf"{_PICK}\s+(?:(?:all|only|every)\s+)*(.+)", text):
        yield Retold(f"choose {_singular(m[1])}", chosen)
    if m := _full(rf"(?:rename|name|call)\s+({_ID})\s+(?:as\s+|to\s+)?(.+)", text):
        yield Retold(f"call {m[2]}", (m[1].upper(),))
    if m := _full(
        r"(?:move\s+|raise\s+|shift\s+)?(.+?)\s+((?:up|down|left|right|forward|back|[xyz][+\-]?)\s*[\d.].*)", text
    ):
        found = called(job, m[1]) or named_with(job, _singular(m[1])) or _part(job, m[1])
        if found:
            ends = dict.fromkeys(e for f in found for e in (job.tube_by_id[f].ends if f in job.tube_by_id else (f,)))
            yield Retold(_along(m[2]), tuple(ends))
    if m := _full(rf"(?:mirror|copy|duplicate)\s+({_ID}|.+?)(\s+(?:\d+ times\s+)?[xyz][+\-].*)?", text):
        found = (m[1].upper(),) if _full(_ID, m[1]) else _part(job, m[1])
        word = "mirror" if text.lower().startswith("mirror") else "copy"
        if found and (word == "mirror") == (m[2] is None):
            yield Retold(f"{word}{m[2] or ''}", found)


def of_sheet(text: str, chosen: Chosen) -> Iterator[Retold]:
    """The sheet of offsets, and tapes that stay."""
    for start, words in _STARTS.items():
        if _full(rf"(?:(?:start|new|make|lay)\s+)?(?:{words})(?:\s+(?:frame|chassis|sheet))?", text):
            yield Retold(f"sheet {start}", chosen)
    if m := _full(r"(?:add|new|put|insert)\s+station\s+(?:at\s+)?(.+)", text):
        yield Retold(f"sheet station {m[1]}", chosen)
    if m := _full(r"(?:add|new)\s+line\s+(.+)", text):
        yield Retold(f"sheet line {m[1]}", chosen)
    if _full(r"(?:offset\s+)?sheet(?:\s+of offsets)?", text):
        yield Retold("sheet", chosen)  # which says what can be done with one
    if _full(r"(?:lay|build|make)\s+(?:frame|sheet)(?:\s+of offsets)?", text):
        yield Retold("sheet lay", chosen)
    if m := _full(rf"(?:keep|leave)\s+tape\s+({_ID}\s+(?:to\s+|and\s+)?{_ID})", text):
        named = " ".join(re.findall(_ID, m[1], re.IGNORECASE))
        yield Retold(f"tape {named} stays", chosen)


def of_pull_and_pipes(text: str, chosen: Chosen) -> Iterator[Retold]:
    """What the car pulls with; pipes and hoses through places."""
    if m := _full(r"(?:(?:engine|motor)\s+)?torque\s+(?:of\s+|is\s+)?([\d.].*)", text):
        yield Retold(f"pull torque {m[1]}", chosen)
    if m := _full(
        r"(?:(?:lay|route|run|add|place)\s+)?(?:(\w+)\s+)?(hose|pipe|exhaust|header|fuel line|brake line)\s+"
        r"([\d.].*?)\s+(?:through|via)\s+(.+)",
        text,
    ):
        kind = "exhaust" if m[2] in ("exhaust", "header") else "hose"
        yield Retold(f"place {kind} {(m[1] or m[2]).capitalize()} pipe {m[3]} through {m[4]}", chosen)
    if m := _full(r"(?:rule\s+)?(?:material\s+)?(.+?)\s+(?:must|has to|should)\s+be\s+(.+)", text):
        yield Retold(f"rule grade role {m[1]}, material {_MATERIALS.get(m[2].lower(), m[2])}: {text}", chosen)


_MATERIALS = {"chromoly": "chromium", "chromo": "chromium", "cromoly": "chromium", "chrome moly": "chromium"}


def _full(pattern: str, text: str) -> re.Match[str] | None:
    return re.fullmatch(pattern, text, re.IGNORECASE)


def _singular(words: str) -> str:
    return " ".join(re.sub(r"(?<=[a-z]{3})s$", "", word) for word in words.lower().split())


_WAYS = {"up": "z+", "down": "z-", "left": "y+", "right": "y-", "forward": "x+", "back": "x-"}


def _along(way: str) -> str:
    word, _, amount = way.partition(" ")
    return f"{_WAYS[word.lower()]}{amount}" if word.lower() in _WAYS else way


def _part(job: Job, words: str) -> Chosen:
    """The one part that words mean: its name begins with them, or its kind is named so."""
    plain = words.lower().strip()
    found = [p.id for p in job.parts if p.name.lower().startswith(plain)] or [
        p.id for p in job.parts if p.kind == plain
    ]
    return tuple(found) if len(found) == 1 else ()
