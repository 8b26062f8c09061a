"""Examples of lines that are written in millimetres, kilograms and kilonewtons, told in a builder's units."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

from ironcage.core.job.text.completion import FORMS
from ironcage.units import Units
from ironcage.units.tables import N_M_PER_DEGREE

_WORD = re.compile(r"[^\s,;:…]+")
_NUMBER = re.compile(r"-?\d+(?:\.\d+)?")
_ON_AXIS = re.compile(r"([xyzr][+-]?)(\d+(?:\.\d+)?)")
_UNIT = re.compile(r"\{(.+?)\}")
_WITH_UNIT = ("lb", "h", "min", "days", "weeks", "times", "%", "°", "teeth", "ga", "sch")
_MEASURED = {  # what figures count in after words that are in no form
    **dict.fromkeys(("wheelbase", "track", "length", "clearance", "+-", "od", "wall", "shrink", "apart"), "mm"),
    **dict.fromkeys(("box", "cylinder", "outline", "by", "pipe", "clr", "through", "lever", "dials"), "mm"),
    **dict.fromkeys(("minutes", "rate", "men", "women", "engine", "tank", "battery", "radiator"), ""),
    "mass": "kg",
}
_COUNTED = ("how many", "teeth", "number")  # fields whose figures are no measures
_NAMED = {"offcut": "of", "bars": "for", "price": "", "stock": ""}  # after which word a line's figures are names or MPa

Writer = Callable[[Units, float], str]
_WRITERS: dict[str, Writer] = {
    "mm": Units.sample,
    "kg": Units.sample_bare_mass,
    "N·m/deg": lambda units, value: units.sample_torsional_stiffness(value / N_M_PER_DEGREE),
    "N/mm": Units.sample_linear_stiffness,
}


def in_units(units: Units, line: str) -> str:
    """A line, or a piece of one such as `z+25`, with its figures as about that much in round figures of the builder's
    units. What the fields of its command count in is taken from `FORMS`; figures of names, counts, angles and such as
    say their unit stay."""
    words = list(_WORD.finditer(line))
    if not words:
        return line
    command = words[0][0].lower()
    kinds = dict(_kinds(FORMS.get(command, "")))
    kind, made, done = kinds.get("", ""), line[: words[0].start()], words[0].start()
    for n, word in enumerate(words):
        after = words[n + 1][0].lower() if n + 1 < len(words) else ""
        made += line[done : word.start()]
        made += _told(units, word[0], kind, after)
        done = word.end()
        if n or command not in FORMS:
            kind = kinds.get(word[0].lower(), _MEASURED.get(word[0].lower(), kind))
        if _NAMED.get(command) in ("", word[0].lower()):
            kind = ""
    return made + line[done:]


def _kinds(form: str) -> Iterator[tuple[str, str]]:
    """The words of a form with what the figures after each count in; the empty word for those before any other."""
    fields = form.split(", ")
    first = next((f for f in fields if _UNIT.search(f)), "")
    begins = not first.startswith("=") and not fields[0].startswith(_COUNTED)
    unit = _UNIT.search(first) if begins else None
    yield "", unit[1] if unit else ""
    for field in fields:
        if field.startswith("="):
            unit = _UNIT.search(field)
            yield field[1:].split()[0], unit[1] if unit else ""


def _told(units: Units, word: str, kind: str, after: str) -> str:
    """A word of a line, in other units where it is a figure."""
    if on_axis := _ON_AXIS.fullmatch(word):
        if after == "kn":
            return f"{on_axis[1]}{units.sample_force(float(on_axis[2]) * 1000).split()[0]}"
        return f"{on_axis[1]}{units.sample(float(on_axis[2]))}"
    if word in ("kN", "kg", "mm"):
        return {"kN": units.force_name, "kg": units.mass_unit, "mm": units.length_name}[word]
    if after == "kg" and _NUMBER.fullmatch(word):
        return units.sample_bare_mass(float(word))
    if after == "kn" and _NUMBER.fullmatch(word):
        return units.sample_force(float(word) * 1000).split()[0]
    if after in ("by", "mm"):
        kind = "mm"
    if kind in _WRITERS and _NUMBER.fullmatch(word) and after not in _WITH_UNIT and "/" not in after:
        return _WRITERS[kind](units, float(word))
    return word
