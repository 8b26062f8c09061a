"""First guesses: what people mean by a line that no command understands, in words they know from elsewhere.

`retold` writes such a line again as lines that the commands do understand, the likeliest first; `known` answers a
question about the job; `meaning` names the right line where neither is possible. They are only asked about lines that
were refused, so a line that a command understands never changes its meaning.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache
from pathlib import Path

from ironcage.core.job.text import measure
from ironcage.core.job.text.command import Chosen, Done
from ironcage.core.job.text.wordings import Retold, of_names, of_pull_and_pipes, of_sheet
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import Units, said
from ironcage.units.tables import INCH

_ID = r"[a-z]\d+[lr]?"
_JOINTS = rf"{_ID}(?:[\s,\-]+(?:to|and|with|from)?\s*{_ID})*,?"
_SIZE = (
    r"[\d./\"' \-]*\d[\"]?\s*(?:mm|in)?(?:\s*x\s*[\d./\"' \-]*\d[\"]?\s*(?:mm|in)?){1,2}(?:\s+(?:round|square|angle))?"
)
_LENGTH = r"(?:\d+(?:[\s\-]+\d+/\d+)?|\d+/\d+|\d*\.\d+|\d+\.\d*)\s*(?:mm|cm|inch(?:es)?|in|ft|\"|')?"
_ADD = r"(?:add|create|make|draw|put|insert|new|lay|build|do|place|i want|i need|give me)"
_JOINT = r"(?:joints?|nodes?|points?|vertex|vertices|corner point)"
_TUBE = (
    r"(?:tubes?|pipes?|bars?|members?|beams?|elements?|struts?|braces?|sticks?|rods?|diagonals?|lines?|rails?|"
    r"connect|join|link|tie up)"
)
_GONE = r"(?:erase|remove|delete|del|rm|bin|scrap|trash|destroy|get rid of|throw away|throw out|take out|kill)"
_FILLED = re.compile(
    r"\b(?:the|a|an|it|its|this|these|that|those|them|me|please|now|just|together|here|there|some|another|one more|"
    r"my|our)\b",
    re.IGNORECASE,
)
_POLITE = re.compile(
    r"^(?:please|can you|could you|i want to|i would like to|let's|lets|let us|how do i|how can i)\s+", re.I
)
_WAYS = {
    "up": "z+",
    "higher": "z+",
    "down": "z-",
    "lower": "z-",
    "forward": "x+",
    "forwards": "x+",
    "fore": "x+",
    "ahead": "x+",
    "back": "x-",
    "backward": "x-",
    "backwards": "x-",
    "rearward": "x-",
    "aft": "x-",
    "left": "y+",
    "right": "y-",
}
_WAY = "|".join(sorted(_WAYS, key=len, reverse=True))
_PARTS = {
    "engine": "engine",
    "motor": "engine",
    "seat": "seat",
    "fuel tank": "tank",
    "petrol tank": "tank",
    "gas tank": "tank",
    "tank": "tank",
    "battery": "battery",
    "steering wheel": "hand wheel",
    "hand wheel": "hand wheel",
    "radiator": "radiator",
    "pedals": "pedals",
    "pedal box": "pedals",
    "gearbox": "gearbox",
    "transmission": "gearbox",
    "diff": "differential",
    "differential": "differential",
    "exhaust": "exhaust",
    "silencer": "muffler",
    "dashboard": "dash",
    "dash": "dash",
    "steering rack": "rack",
}
_PART = "|".join(sorted(_PARTS, key=len, reverse=True))
_PEOPLE = "driver|passenger|rider|pilot|occupant|co-driver|person|child|kid|man|woman|dad|mum"
_UNITS = {"inch 1/16 lb": "inch|inches|in|imperial|pounds|feet", "mm kg": "metric|mm|millimetres|millimeters|kg|si"}
_AIMS = {
    "wheelbase": "wheelbase|wheel base",
    "front track": "front track",
    "rear track": "rear track",
    "mass": "target weight",
    "budget": "budget",
    "length": "overall length",
    "ground clearance": "ground clearance",
}


_OURS_BUT_NOT_MEANT = re.compile(
    r"^(?:tyre grip|lay (?:a )?(?:fuel|brake|coolant|hose|pipe)|line tool|rule (?:material|firewall)|"
    r"roll (?:bar|cage|hoop|cent(?:re|er))|bend (?:radius|die)|"
    r"weld (?:these|those|them|it|this|that|together|joints?)\b|"
    rf"add (?:a |the )?(?:{_PART}|{_PEOPLE}|hoop|floor|wheels?|chain)|"
    rf"place (?:a |the )?(?:{_PEOPLE})\b)"
)
# commands' words that people also use for something else, or more freely than the command allows
RETOLD = (
    *("add", "line", "profile", "joint", "tube", "delete", "lower", "cross", "use", "set", "split", "copy"),
    *("lay", "mirror", "call", "choose", "sheet", "name", "place"),
)


def tidied(line: str) -> str:
    """A line without courtesies, articles, equals signs and a full stop."""
    text = _POLITE.sub("", line.strip().rstrip(".!?").strip())
    text = _FILLED.sub(" ", text).replace("=", " ").replace("×", "x")
    text = re.sub(r"\binch(?:es)?\b", '"', text, flags=re.I)
    text = re.sub(r"(?<=\d)\s+\"", '"', text)
    return " ".join(text.split()).strip(" ,")


def retold(line: str, job: Job, chosen: Chosen) -> Iterator[Retold]:
    """Lines that a command may understand and that mean the same, the likeliest first."""
    text = tidied(line)
    yield from of_sheet(text, chosen)
    yield from of_pull_and_pipes(text, chosen)
    yield from of_names(text, job, chosen)
    yield from _of_joints(text)
    yield from _of_moves(text, job, chosen)
    yield from _of_tubes(text, job, chosen)
    yield from _of_things(text, chosen)
    yield from _of_job(text, chosen)


def _full(pattern: str, text: str) -> re.Match[str] | None:
    return re.fullmatch(pattern, text, re.IGNORECASE)


def _names(job: Job, text: str | None) -> Chosen:
    """The ids in a text that the job knows; none of them where one is not known."""
    found = [w.upper() for w in re.findall(_ID, text or "", re.IGNORECASE)]
    known = [n for n in found if n in job.joint_by_id or n in job.tube_by_id or n in job.placed]
    return tuple(known) if len(known) == len(found) else ()


def _of_joints(text: str) -> Iterator[Retold]:
    if m := _full(rf"(?:{_ADD}\s+)?{_JOINT}\s+(?:at\s+)?,?\s*(.+)", text):
        place = m[1]
        if by := _full(r"x\s*(\S+?),?\s+y\s*(\S+?),?\s+z\s*(\S+)", place):
            place = ", ".join(by.groups())
        if numbered := _full(r"\d+((?:\s+-?\d+(?:\.\d+)?){3})", place):  # a node with a number of its own
            place = numbered[1].strip()
        yield Retold(f"joint {place.replace(',', ', ') if ',' in place else place}", ())


def _of_moves(text: str, job: Job, chosen: Chosen) -> Iterator[Retold]:
    verb = r"(?:move|shift|raise|lift|lower|drop|push|pull|nudge|bring|translate|slide)"
    m = _full(rf"(?P<verb>{verb}\b)?\s*(?:joint|tube|part)?\s*(?P<names>{_JOINTS})?\s*(?P<rest>.*)", text)
    if m is None or not (m["verb"] or m["names"] or _full(rf"(?:(?:{_WAY})\b|[xyz]\s*[-+]?\s*[\d.]).*", m["rest"])):
        return
    names = _names(job, m["names"]) if m["names"] else chosen
    rest = re.sub(r"^by\s+", "", m["rest"], flags=re.I)
    size = rf"(?:by\s+)?(?P<size>{_LENGTH})"
    if way := _full(rf"(?P<way>{_WAY})\s+{size}|{size.replace('size', 'first')}\s+(?P<after>{_WAY})", rest):
        yield Retold(_WAYS[(way["way"] or way["after"]).lower()] + (way["size"] or way["first"]), names)
    elif _full(_LENGTH, rest) and (m["verb"] or "").lower() in ("raise", "lift", "lower", "drop"):
        yield Retold(("z+" if m["verb"].lower() in ("raise", "lift") else "z-") + rest, names)
    elif (by := _full(r"([-+]?[\d.]+)[\s,]+([-+]?[\d.]+)[\s,]+([-+]?[\d.]+)", rest)) and m["verb"]:
        moved = [f"{a}{v if v[0] in '+-' else '+' + v}" for a, v in zip("xyz", by.groups(), strict=True) if float(v)]
        yield Retold(" ".join(moved), names)
    elif (by := _full(r"([xyz])\s+([\d./].*)", rest)) and m["verb"]:
        yield Retold(f"{by[1]}+{by[2]}", names)
    elif (by := _full(rf"[xyz]\s*({_LENGTH})\s+({_WAY})", rest)) and rest[0].lower() == _WAYS[by[2].lower()][0]:
        yield Retold(_WAYS[by[2].lower()] + by[1], names)
    elif _full(r"[xyz]\s*[-+]?\s*[\d.].*", rest):
        yield Retold(re.sub(r"([xyz])\s*([-+])\s*", r"\1\2", rest), names)


def _of_tubes(text: str, job: Job, chosen: Chosen) -> Iterator[Retold]:
    size = _as_size(text)
    if m := _full(
        rf"(?:{_ADD}\s+)?{_TUBE}(?:\s+tube)?(?:\s+(?:from|between|in|of))*\s*({_JOINTS})?\s*({_SIZE})?", size
    ):
        named = " ".join(re.findall(_ID, m[1] or "", re.IGNORECASE)).upper()
        yield Retold(" ".join(filter(None, ("tube", named, m[2]))), chosen)
    if m := _full(rf"({_SIZE})\s+(?:{_TUBE})", size):
        yield Retold(f"tube {m[1]}", chosen)
    change = r"(?:profile|cross section|cross-section|size|section|change|make|set|use|resize)?"
    if m := _full(rf"{change}\s*({_JOINTS})?\s*(?:to|as|into)?\s*({_SIZE})", size):
        yield Retold(f"section {m[2]}", _names(job, m[1]) if m[1] else chosen)
    if m := _full(rf"{_GONE}\s*(?:{_JOINT}|{_TUBE}|part)?\s*({_JOINTS})?", text):
        yield Retold("delete", _names(job, m[1]) if m[1] else chosen)
    if _full(
        r"(?:divide|halve|bisect|break|chop|cut|split)(?:\s+(?:in|into|to))?(?:\s+(?:half|two|2|halves|middle))?", text
    ):
        yield Retold("split", chosen)
    if m := _full(r"(?:duplicate|clone)\s+(.+)", text):
        yield Retold(f"copy {m[1]}", chosen)
    if m := _full(r"(?:rotate|spin)\s+(?:by\s+)?([-\d.]+)(?:\s*(?:°|deg|degrees))?", text):
        yield Retold(f"roll {m[1]}", chosen)
    if m := _full(r"(?:release|hinge|pinned|pin|ball joint)\s+(first|second|both|none)(?:\s+ends?)?", text):
        yield Retold(f"pin {m[1].lower()}", chosen)
    if m := _full(rf"(?:select|pick|choose|show|find|highlight|where is|go to)\s+({_JOINTS})", text):
        names = _names(job, m[1])
        if names:
            yield Retold(" ".join(names), ())
    if m := _full(r"(?:bender|die|bending die)\s+(.*\d.*)", text):
        yield Retold(f"die {m[1]}", chosen)
    if m := _full(r"(main|front)\s+hoop\s+(.+)", text):
        yield Retold(f"hoop {m[1].lower()} {m[2]}", chosen)


def _as_size(text: str) -> str:
    """Sizes as they are spoken, `od 30 wall 2`, `1.5" .095 wall`, `25x2`, as ours."""
    text = re.sub(r"(?<=[\d\"])x(?=[\d.])", " x ", text, flags=re.I)
    text = re.sub(
        r"\b(?:od|dia|diameter)\s+([\d./\"]+)\s*(?:by|x|,)?\s*(?:wall|wt|thickness|t)\s+([\d./\"]+)", r"\1 x \2", text
    )
    return re.sub(r"([\d./\"]+)\s+(?:by\s+)?([\d./\"]+)\s+wall\b", r"\1 x \2", text, flags=re.I)


def _of_things(text: str, chosen: Chosen) -> Iterator[Retold]:
    if m := _full(rf"(?:{_ADD}\s+)?({_PART})\b\s*(.*)", text):
        kind = _PARTS[m[1].lower()]
        yield Retold(f"place {kind} {_litres(m[2])}".strip(), chosen)
    if m := _full(
        rf"(?:{_ADD}\s+)?({_PEOPLE})\b\s*([a-z][\w' \-]*?)?\s*(\d[\d.'\" ]*\s*(?:m|cm|mm|ft)?)?\s*(at\s+.+)?", text
    ):
        called = m[2] or m[1].capitalize()
        yield Retold(" ".join(filter(None, ("person", called, (m[3] or "").strip(), m[4]))), chosen)
    if m := _full(r"(front|rear)\s+wheels?\s+(?:at\s+)?(.+)", text):
        yield Retold(f"wheels {m[1].lower()} {m[2]}", chosen)
    if m := _full(r"(?:tires?|tyres?)\s+(.+)", text):
        yield Retold(f"tyre {m[1]}", chosen)


def _litres(text: str) -> str:
    return re.sub(r"(\d+)\s*(?:litres?|liters?|l)\b", r"\1", text, flags=re.I)


def _of_job(text: str, chosen: Chosen) -> Iterator[Retold]:
    for line, words in _UNITS.items():
        asked = rf"(?:(?:change|switch|set|go)\s+)?(?:units?|use|work in)?\s*(?:to|in)?\s*(?:{words})(?:\s+units)?"
        if _full(asked, text.replace('"', "inches")):
            yield Retold(f"units {line}", chosen)
    for kind, words in _AIMS.items():
        if m := _full(rf"(?:set|target|aim at|make)?\s*(?:{words})\s*(?:to|of|is|at)?\s*(\d.*)", text):
            yield Retold(f"target {kind} {m[1]}", chosen)
    if m := _full(r"(?:braking|brake|brakes)\s+([\d.]+)\s*g?", text):
        yield Retold(f"level brake {m[1]}", chosen)


def known(line: str, job: Job, chosen: Chosen) -> Done | None:
    """What the job or plain arithmetic answers: sums, lengths in another unit, how long a tube is, how far two joints
    are apart, where one stands. The job stays as it is. None where nothing of that is asked."""
    units, text = units_of(job), tidied(line)
    told = _sum(line.strip(), units)
    if told is None and (m := _full(rf"(?:how long|length|how long is|length of|how long is tube)\s*({_ID})?", text)):
        names = _names(job, m[1]) if m[1] else chosen
        told = next((measure.read(job, (n,)) for n in names if n in job.tube_by_id), None)
    far = r"(?:how far|distance|measure|measure distance|how far is|how far apart are|tape)\b"
    if told is None and (m := _full(rf"{far}(?:\s+(?:is|from|between|of))*\s*({_JOINTS})?", text)):
        told = measure.read(job, _names(job, m[1]) if m[1] else chosen) or None
    return None if told is None else Done(told, job, chosen)


def _sum(line: str, units: Units) -> str | None:
    """A length worked out: after an equals sign, or said to be wanted in another unit."""
    if m := re.fullmatch(r"(.+?)\s+(?:in|to|as)\s+(mm|millimet\w+|cm|in|inch|inches|\")", line, re.IGNORECASE):
        metric = m[2].lower()[0] in "mc"
        try:
            value = (Units("inch") if metric else Units()).read_length(m[1])
        except Problem:
            return None
        return f'{m[1].strip()} = {value:,.2f} mm = {value / INCH:,.3f}"'
    if not line.startswith("="):
        return None
    value = units.read_length(line[1:])
    number = f"{value / units.bare_mm:,.4f}".rstrip("0").rstrip(".")
    return f"{line[1:].strip()} = {number} ({units.length(value)})"


@cache
def _leads() -> tuple[tuple[re.Pattern[str], str], ...]:
    """What words lead where, as `leads.txt` has it."""
    lines = Path(__file__).with_name("leads.txt").read_text("utf-8").splitlines()
    rows = (line.split(" :: ") for line in lines if line and not line.startswith("#"))
    return tuple((re.compile(rf"\b(?:{words})\b"), leads) for words, leads in rows)


def meaning(line: str) -> str:
    """Where to look for what a line seems to be about; empty where nothing is known of it."""
    text = tidied(line).lower()
    return next((said.example(leads) for words, leads in _leads() if words.search(text)), "")


def spoken(line: str) -> str:
    """The same for a line that begins with a command's word and is about something else: `roll bar`."""
    text = " ".join(line.lower().split())
    return meaning(text) if _OURS_BUT_NOT_MEANT.search(text) else ""
