"""How a line that is being typed can go on: the word that is begun, and the fields that come next with their units."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import get_args

from ironcage.core.job.edits.starts import STARTS
from ironcage.core.job.geometry.names import names
from ironcage.core.job.text import COMMANDS
from ironcage.core.job.text.fields import FIELDS
from ironcage.core.job.values.base import Role
from ironcage.core.job.values.fittings import KINDS as FITTINGS
from ironcage.core.job.values.model import Job, TargetKind
from ironcage.core.job.values.placed import PartKind
from ironcage.core.job.values.proving import LEVELS
from ironcage.core.job.values.rules import KINDS as RULES
from ironcage.core.job.values.shown import units_of

MOST_TOLD = 6  # choices that are named

# The fields of a line in the order in which they are typed. What may be left out has a ?; after = stands a word that
# is typed as it is, with what follows it.
FORMS: dict[str, str] = {
    "joint": "x {mm}, y {mm}, z {mm}, alone?",
    "x": "place {mm}",
    "r": "distance {mm}, =from datum?",
    "tube": "joint, joint, section or sizes {mm}?",
    "split": "share % or distance {mm}?, =from joint?",
    "section": "name or sizes {mm}",
    "material": "name",
    "role": "role",
    "roll": "angle °",
    "sequence": "turn",
    "pin": "first/second/both/none",
    "delete": "names?",
    "die": "tube size {mm}, =clr radius {mm}, =grip straight {mm}?, =springback share %?, =room to swing {mm}?, "
    "=under the plane {mm}?",
    "bend": "corner, x {mm}, y {mm}, z {mm}, =clr radius {mm}",
    "hoop": "main/front, section {mm}, =height {mm}, =width {mm}, =lean °, =at x {mm}, z {mm}",
    "kick": "up/down/in/out, distance {mm}, =angle °, =at place {mm}, =by fold/bend/mitre",
    "jog": "up/down/in/out, distance {mm}, =angle °, =at place {mm}, =to place {mm}, =by fold/bend/mitre",
    "land": "joint, axis and distance {mm}",
    "taper": "section",
    "lower": "=to height {mm}",
    "price": "section, price a metre",
    "lock": "angle °",
    "bars": "length {mm}, length {mm}?, =for section?",
    "saw": "=kerf {mm}?, =grip {mm}?, =least {mm}?",
    "cars": "how many",
    "plates": "width {mm}, =x height {mm}, =gap {mm}?, =edge {mm}?",
    "piece": "names?, cut/checked/rejected/open, length {mm}?",
    "offcut": "length {mm}, =of section",
    "sheet": "kind, size?",
    "stretch": "side, place {mm}, =by distance {mm}",
    "turn": "angle °, =about x/y/z, =at joint",
    "copy": "how many times?, axis and distance {mm}",
    "slide": "distance {mm}, =along joint, joint",
    "sever": "=at place {mm}, =keep ahead/behind",
    "call": "name",
    "choose": "words of its name",
    "tie": "to or between, joint, joint?",
    "meet": "joint",
    "add": "kind, field and value {mm}",
    "pickup": "front/rear",
    "wheels": "front/rear, x {mm}, y {mm}, z {mm}, =dia {mm}, =width {mm}",
    "rake": "° nose down",
    "mass": "mass {kg}, name, =at x {mm}?, y {mm}?, z {mm}?",
    "datum": "name, =at x {mm}?, y {mm}?, z {mm}?",
    "units": "mm/inch, finest fraction?, kg/lb?",
    "name": "name of the job",
    "builder": "name",
    "vehicle": "what it is",
    "table": "length/width/top/saddle/x/y, {mm}",
    "stock": "name, figures or sizes {mm} after =",
    "target": "figure, value, +- give or take?",
    "against": "name and colon, figure {mm}, …",
    "tyre": "front/rear, size",
    "deadline": "day as 2027-04-10",
    "rule": "kind, what it asks, in your words after a colon",
    "tick": "rule, note?",
    "profile": "name",
    "variant": "keep/open/gone, name",
    "scale": "x {mm}, z {mm}; x {mm}, z {mm}, =apart distance {mm}",
    "place": "kind, name?, shape?, =at x {mm}, y {mm}, z {mm}, =mass {kg}?",
    "person": "name, stature {mm}, =at x {mm}, y {mm}, z {mm}, =mass {kg}?",
    "chain": "name, =teeth number, number, =pitch {mm}, =from x {mm}, y {mm}, z {mm}, =to x {mm}, y {mm}, z {mm}",
    "shaft": "name, =from x {mm}, y {mm}, z {mm}, =to x {mm}, y {mm}, z {mm}",
    "set": "part?, field, value",
    "three": "three of its points {mm}, =to where they were measured {mm}",
    "hole": "name, =at x {mm}, y {mm}, z {mm}, =dia {mm}",
    "fit": "hole, name, =at x {mm}, y {mm}, z {mm}, =within {mm}",
    "align": "ground/centreline/square/level/abreast/in line, hole?, =to part or part and hole?",
    "drop": "off the ground {mm}?",
    "corner": "front/rear, =lower joint, joint, =upper joint, joint, =spring joint",
    "axle": "front/rear, =lower joint, =upper joint, =rod joint?",
    "beam": "front/rear, point or size?, x {mm}?, y {mm}?, z {mm}?",
    "band": "front/rear, figure, least or =at least/most, =over travel {mm}?",
    "arm": "front/rear, =axis joint, joint",
    "carrier": "front/rear, =slide x, y, z or =pivot joint",
    "fork": "front, =head joint, joint",
    "pattern": "name, holes as 1-2, distance {mm}, =dia {mm}",
    "flat": "name, x {mm} y {mm}; …, =holes x {mm} y {mm} =dia {mm} =nut thread?; …?, =thickness {mm}, "
    "=count number?, =handed?",
    "turned": "bush/spacer/adapter/pin, name, =od {mm}, press/push/slide/free?, =bore {mm}?, reamed?, =length {mm}, "
    "=count number?",
    "adapter": "name, =of pattern, =and pattern, =at x {mm}?, y {mm}?, =turn °?, =bore {mm}?, =thickness {mm}",
    "bolt": "thread, =through size {mm}, =wall {mm}, =lean °?",
    "column": "x {mm} y {mm} z {mm}; …",
    "line": "name, x/y/z, place {mm}",
    "lay": "line",
    "level": "load, how hard",
    "pull": "=torque value {N·m}, =gears ratio x ratio, =grip force by load?, front/all?",
    "case": "name, joint, axis and force {kN}, =held joints",
    "combine": "name, factor and case, + factor and case",
    "welds": "0 to 1",
    "ovalise": "on or off",
    "stress": "part, rigid/stiffness {N/mm}/gone",
    "rollstiff": "=front {N·m/deg}, =rear {N·m/deg}",
    "reading": "mass {kg}, =front °, =rear °",
    "tacked": "tube?, joint, =on day?",
    "welded": "tube?, joint, =on day?",
    "checked": "joint, =on day?",
    "open": "tube, joint",
    "weld": "shrink/process/spread/tack, value",
    "tape": "thing, thing, distance {mm}?",
    "height": "joint, height {mm}",
    "slope": "joint, joint, angle °",
    "true": "within/datum/tape/best fit, value {mm}",
    "did": "what, =of names?, hours h?, =cost money?",
    "todo": "what, =of names?, hours h?, =after task?",
    "done": "task, hours h?",
    "order": "what, =due day, =cost money?",
    "arrived": "order",
    "log": "week, hours h",
}

_CHOICES: dict[str, Callable[[Job], Iterable[str]]] = {
    "role": lambda job: filter(None, get_args(Role)),
    "material": lambda job: (m.name for m in job.shelf.materials),
    "section": lambda job: (s.name for s in job.shelf.sections),
    "taper": lambda job: (s.name for s in job.shelf.sections),
    "price": lambda job: (s.name for s in job.shelf.sections),
    "pin": lambda job: ("first", "second", "both", "none"),
    "sheet": lambda job: STARTS,
    "add": lambda job: FITTINGS,
    "pickup": lambda job: ("front", "rear"),
    "datum": lambda job: (d.name for d in job.brief.datums),
    "target": lambda job: get_args(TargetKind),
    "rule": lambda job: RULES,
    "variant": lambda job: ("keep", "open", "gone"),
    "place": lambda job: get_args(PartKind),
    "set": lambda job: dict.fromkeys(name for fields in FIELDS.values() for name in fields),
    "align": lambda job: ("ground", "centreline", "level", "abreast of", "in line with"),
    "lay": lambda job: (line.name for line in job.lines),
    "level": lambda job: LEVELS,
    "choose": lambda job: names(job).values(),
}


_WORDS = tuple(c.word for c in COMMANDS)


@dataclass(frozen=True)
class Completion:
    """How a line can go on. adds: letters that finish the word that is begun, the likeliest; others: more words that
    it could be, or that can come now; fields: what is still to be typed, with units, where the line has a form."""

    adds: str = ""
    others: tuple[str, ...] = ()
    fields: str = ""


def completion(line: str, job: Job) -> Completion:
    """How a line that has been typed so far can go on."""
    word, space, rest = line.lstrip().partition(" ")
    command, rest = word.lower(), rest.lstrip()
    fields = _fields_left(command, rest, job) if command in FORMS else ""
    if not space:
        found = [*_begun(word, _WORDS), *sorted(_begun(word, _named(job)), key=len)] if word else []
        return Completion(
            "" if fields else "".join(f[len(word) :] for f in found[:1]), tuple(found[1:MOST_TOLD]), fields
        )
    choices = list(_CHOICES[command](job)) if command in _CHOICES else []
    if not rest:
        return Completion("", tuple(choices[:MOST_TOLD]), fields)
    last = re.split(r"[ ,]", rest)[-1]
    found, begun = _begun(rest, choices), rest
    if not found and last and command in FORMS:
        found, begun = sorted(_begun(last, _named(job)), key=len), last
    return Completion("".join(f[len(begun) :] for f in found[:1]), tuple(found[1:MOST_TOLD]), fields)


def _named(job: Job) -> tuple[str, ...]:
    return (*job.joint_by_id, *job.tube_by_id, *job.placed)


def _begun(text: str, words: Iterable[str]) -> list[str]:
    """Words that begin with a text and go on, whatever their capitals."""
    low = text.lower()
    return [w for w in words if w.lower().startswith(low) and len(w) > len(text)]


def _fields_left(command: str, rest: str, job: Job) -> str:
    """The fields that have not been typed, in the builder's units, what may be left out in brackets."""
    units = units_of(job)
    names_of = {
        "mm": units.length_name,
        "kg": units.mass_unit,
        "kN": units.force_name,
        "N·m": "lbf·ft" if units.inches else "N·m",
        "N/mm": units.linear_stiffness_name,
        "N·m/deg": units.torsional_stiffness_name,
    }
    words, fields = rest.lower().replace(",", " ").split(), FORMS[command].split(", ")
    there = [f for f in fields if f[0] == "=" and f[1:].split()[0] in words]
    typed = len(words) - 2 * len(there)
    left = []
    for field in (f for f in fields if f not in there):
        typed -= field[0] != "="
        if typed < 0 or field[0] == "=":
            plain = field.removeprefix("=").removesuffix("?")
            left.append(f"({plain})" if field.endswith("?") else plain)
    said = ", ".join(left)
    for ours, theirs in names_of.items():
        said = said.replace(f"{{{ours}}}", theirs)
    return said
