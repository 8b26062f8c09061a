"""Commands about proving the frame: level, case, combine, welds, ovalise, stress, rollstiff, reading."""

import math
import re
from typing import Any, cast

from ironcage.core.job import edits
from ironcage.core.job.text.axes import begins_by_axis, by_axis
from ironcage.core.job.text.command import Chosen, Command, Done, joints_of
from ironcage.core.job.text.forms import read_number
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.proving import (
    CHAIN,
    LEVELS,
    PLACES,
    PULLS,
    STANDARD,
    Case,
    Combination,
    PointLoad,
    Pull,
    Reading,
    Term,
)
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import Units, said

RIGID = 1e6  # N/mm of each mount bolted metal to metal
PULL_EXAMPLE = "pull torque 62 gears 2.7 x 1.9 x 3.4 grip 1.1"
READING_EXAMPLE = said.example("reading [40 kg] front 0.42 rear 0.05")
CASE_EXAMPLE = said.example("case Rollover: J9L z-[12 kN] y [3 kN], J9R z-[12 kN] held J1L J1R J27L J27R")


def level(job: Job, chosen: Chosen, rest: str) -> Done:
    """How hard the car is used: `level brake 1.3`; `level usual` goes back to what a new job has."""
    body = rest.strip().lower()
    if body == "usual":
        return Done("Take the usual levels", edits.usual_levels(job), chosen)
    what = next((k for k in sorted(LEVELS, key=len, reverse=True) if body.startswith(k)), None)
    if what is None:
        word = body.split()[0] if body else ""
        raise Problem(
            f"‘{word}’ is no level.",
            where=word or "level",
            hint=nearest(word, LEVELS) or f"There are {', '.join(LEVELS)}.",
        )
    units = units_of(job)
    value = _level(what, body[len(what) :].strip(), units)
    return Done(
        f"Set the level {what} to {level_text(what, value, units)}",
        edits.set_level(job, what.replace(" ", "_"), value),
        chosen,
    )


def level_text(what: str, value: float, units: Units) -> str:
    """A level as the builder reads it, with what it counts in."""
    amount = units.small_force(value) if what in PULLS else f"{value:g}"
    return f"{amount} {LEVELS[what]}"


def _level(what: str, text: str, units: Units) -> float:
    """A level as typed: a pull in any unit of force, anything else a bare number, with or without the unit that it is
    told in."""
    if what in PULLS:
        return units.read_force(text)
    return read_number(float, what, re.sub(r"\s*(?:g|x|times)$", "", text))


def pull(job: Job, chosen: Chosen, rest: str) -> Done:
    """What the car pulls away with: `pull torque 62 gears 2.7 x 1.9 x chain grip 1.1`, `front` or `all` for the driven
    wheels; `pull gone` forgets it."""
    body = rest.strip().lower()
    if body == "gone":
        return Done("Forget what the car pulls with", edits.set_proving(job, pull=None), chosen)
    units = units_of(job)
    words = re.split(r"\b(torque|gears?|grip|rear|front|all)\b", body)
    told = {word.rstrip("s"): text.strip(" ,;") for word, text in zip(words[1::2], words[2::2], strict=True)}
    if not told.get("torque") or words[0].strip():
        raise Problem(
            f"‘{words[0].strip() or body or 'pull'}’ does not say what the car pulls with.",
            where="pull",
            hint=f"Write for example: {PULL_EXAMPLE}",
        )
    gears = tuple(
        CHAIN if text.strip() == "chain" else read_number(float, "gears", text.strip())
        for text in re.split(r"[x×*]", told.get("gear") or "1")
    )
    driven = next((w for w in ("front", "all") if w in told), "rear")
    made = Pull(
        torque=units.read_torque(told["torque"]),
        gears=gears,
        grip=read_number(float, "grip", told["grip"]) if told.get("grip") else 0.0,
        driven=driven,
    )
    if CHAIN in gears and not job.chains:
        raise Problem("There is no chain whose teeth could be counted.", where="gears", hint="Type its ratio instead.")
    return Done(
        f"Pull with {units.torque(made.torque)} on the {driven} wheels", edits.set_proving(job, pull=made), chosen
    )


def case(job: Job, chosen: Chosen, rest: str) -> Done:
    """A case of your own, `case NAME: JOINT z-12 kN, JOINT … held JOINTS`; `case tow at J1L` says where a standard
    one takes hold (`at chosen`); `case NAME gone`."""
    head, colon, body = rest.strip().partition(":")
    if colon:
        return _own_case(job, chosen, head.strip(), body)
    if head.lower().endswith(" gone"):
        name = head[:-5].strip()
        if name.lower() in PLACES:
            return Done(f"Take the case {name.lower()} away", edits.take_hold(job, cast(Any, name.lower()), ()), chosen)
        return Done(f"Take the case {name} away", edits.remove_case(job, name), chosen)
    what, _, where = head.partition(" at ")
    if what.strip().lower() not in PLACES or not where:
        raise Problem(
            f"‘{head}’ is no case.", where="case", hint=f"Write for example: {CASE_EXAMPLE}, or case tow at J1L."
        )
    names = joints_of(job, chosen) if where.strip().lower() == "chosen" else where.replace(",", " ").split()
    kind = what.strip().lower()
    return Done(f"Take hold at {' '.join(names)} for {kind}", edits.take_hold(job, cast(Any, kind), names), chosen)


def _own_case(job: Job, chosen: Chosen, name: str, body: str) -> Done:
    if name.lower() in STANDARD:
        raise Problem(f"{name} is one of the standard cases.", where=name, hint="Give yours another name.")
    loads_text, _, held_text = body.partition(" held ")
    units, loads = units_of(job), []
    for part in filter(None, (p.strip() for p in loads_text.split(","))):
        joint, _, forces = part.partition(" ")
        if not begins_by_axis(forces):
            raise Problem(
                f"‘{part}’ is no load.",
                where=name or "case",
                hint=said.example("Write a joint and its forces: J9L z-[12 kN] y [3 kN]"),
            )
        axes = {amount.axis: units.read_force(amount.typed) for amount in by_axis(forces)}
        loads.append(PointLoad(joint=job.joint(joint).id, **axes))
    if not loads or not name:
        raise Problem(
            "The case loads nothing." if name else "The case has no name.",
            where="case",
            hint=f"Write for example: {CASE_EXAMPLE}",
        )
    held = tuple(job.joint(j).id for j in held_text.replace(",", " ").split())
    return Done(f"Put in the case {name}", edits.put_case(job, Case(name=name, loads=tuple(loads), held=held)), chosen)


def combine(job: Job, chosen: Chosen, rest: str) -> Done:
    """Cases at the same time: `combine Kerb in a corner: 1 bump one front + 0.8 cornering left`."""
    name, colon, body = rest.strip().partition(":")
    terms = []
    for part in filter(None, (p.strip() for p in body.split("+"))):
        factor, _, called = part.partition(" ")
        try:
            terms.append(Term(case=called.strip(), factor=float(factor)))
        except ValueError:
            terms.append(Term(case=part))
    if not colon or not name.strip() or not terms:
        raise Problem(
            "The combination is incomplete.",
            where="combine",
            hint="Write for example: combine Kerb: 1 bump front + 0.8 cornering left",
        )
    known = (*STANDARD, *(c.name for c in job.proving.cases))
    return Done(
        f"Combine {name.strip()}",
        edits.put_combination(job, Combination(name=name.strip(), parts=tuple(terms)), known),
        chosen,
    )


def welds(job: Job, chosen: Chosen, rest: str) -> Done:
    """How rigid the welded joints are against bending, 1 for rigid: `welds 0.9`."""
    value = read_number(float, "welds", rest.strip())
    if not 0.01 <= value <= 1:
        raise Problem(
            f"{value:g} is no joint factor.",
            where="welds",
            hint="Give a figure from 0.01, nearly a hinge, to 1, rigid.",
        )
    return Done(f"Set the joint factor to {value:g}", edits.set_proving(job, joint=value), chosen)


def ovalise(job: Job, chosen: Chosen, rest: str) -> Done:
    """Whether bends are softer because their section goes oval: `ovalise on`, `ovalise off`."""
    word = rest.strip().lower()
    if word not in ("on", "off"):
        raise Problem(f"‘{word}’ is neither on nor off.", where="ovalise", hint="Write ovalise on or ovalise off.")
    return Done(
        f"Bends {'go oval' if word == 'on' else 'keep their section'}",
        edits.set_proving(job, ovalise=word == "on"),
        chosen,
    )


def stress(job: Job, chosen: Chosen, rest: str) -> Done:
    """Let an engine or gearbox carry load between its mounts (joints tied to its holes): `stress B22 rigid`, `stress
    B22 800` N/mm a mount, `stress B22 gone`."""
    name, _, how = rest.strip().partition(" ")
    word = how.strip().lower()
    units = units_of(job)
    mount = RIGID if word == "rigid" else 0.0 if word == "gone" else units.read_linear_stiffness(word)
    made = edits.stress_part(job, name, mount)
    part = next(p for p in made.parts if p.id.lower() == name.lower())
    says = (
        f"{part.name} carries load at {units.linear_stiffness(mount)} a mount"
        if mount
        else f"{part.name} carries no load"
    )
    return Done(says, made, chosen)


_ROLL = re.compile(r"\b(front|rear)\s+([^\s,]+(?:\s+(?!front\b|rear\b)[^\s,]+)?)", re.IGNORECASE)


def rollstiff(job: Job, chosen: Chosen, rest: str) -> Done:
    """Roll stiffness of both axles: `rollstiff front 300 rear 220`; 0 leaves it to the springs that Run knows."""
    found = {end.lower(): text for end, text in _ROLL.findall(rest)}
    if not found or _ROLL.sub("", rest).strip(" ,"):
        raise Problem(
            f"‘{rest.strip()}’ is no roll stiffness.",
            where="rollstiff",
            hint=said.example("Write for example: rollstiff front [300 N·m/deg] rear [220 N·m/deg]"),
        )
    units = units_of(job)
    changes = {f"roll_{end}": units.read_torsional_stiffness(text) for end, text in found.items()}
    return Done(
        "Set the roll stiffness: "
        + ", ".join(f"{end} {units.torsional_stiffness(changes[f'roll_{end}'])}" for end in found),
        edits.set_proving(job, **changes),
        chosen,
    )


def reading(job: Job, chosen: Chosen, rest: str) -> Done:
    """The twist test of the real frame: `reading 40 kg front 0.42 rear 0.05` (degrees by a level) or `reading 40 kg
    dials 3.1 -2.9 0.2 -0.1 apart 900`; `reading lever 1200`, `reading off 0.02`, `reading 2 gone`, `reading none`."""
    units, words = units_of(job), rest.strip().lower()
    first, _, more = words.partition(" ")
    if words == "none":
        return Done("Start the twist test again", edits.clear_test(job), chosen)
    if first == "lever":
        return Done(f"Set the lever to {more}", edits.change_test(job, lever=units.read_length(more)), chosen)
    if first == "off":
        return Done(
            f"Angles are read to {more}°",
            edits.change_test(job, reading_error=math.radians(read_number(float, "off", more.rstrip("°")))),
            chosen,
        )
    if more == "gone":
        return Done(
            f"Take reading {first} away", edits.remove_reading(job, int(read_number(float, "reading", first))), chosen
        )
    level_read = re.fullmatch(r"(.+?)\s+front\s+(\S+?)°?(?:\s+rear\s+(\S+?)°?)?", words)
    dials_read = re.fullmatch(r"(.+?)\s+dials\s+(\S+)\s+(\S+)(?:\s+(\S+)\s+(\S+))?\s+apart\s+(.+)", words)
    if level_read:
        mass, front, rear = level_read.groups()
        turned = [math.radians(read_number(float, "reading", t or "0")) for t in (front, rear)]
    elif dials_read:
        mass, *dials, apart = dials_read.groups()
        rises = [units.read_length(d or "0") for d in dials]
        across = units.read_length(apart)
        if across <= 0:
            raise Problem(
                "The dials do not stand apart.",
                where="apart",
                hint=said.example("Give the distance between them: apart [900]"),
            )
        turned = [math.atan((left - right) / across) for left, right in (rises[:2], rises[2:])]
    else:
        raise Problem(
            f"‘{rest.strip()}’ is no reading.",
            where="reading",
            hint=f"Write for example: {READING_EXAMPLE}",
        )
    made = edits.add_reading(job, Reading(mass=units.read_mass(mass), front=turned[0], rear=turned[1]))
    return Done(f"Read {math.degrees(turned[0] - turned[1]):.3f}° under {mass}", made, chosen)


COMMANDS = (
    Command(
        "pull",
        PULL_EXAMPLE,
        "sets what the car pulls away with: engine torque, gears one after the other (‘chain’ for the chain’s teeth), "
        "grip of the tyres; ‘front’ or ‘all’ for the driven wheels; ‘gone’ forgets it",
        pull,
    ),
    Command(
        "level", "level brake 1.3", f"sets how hard the car is used: {', '.join(LEVELS)}; ‘usual’ goes back", level
    ),
    Command(
        "case",
        CASE_EXAMPLE,
        "puts in a load case of your own; ‘case tow at J1L’ sets where a standard one takes hold; ‘gone’ takes one "
        "away",
        case,
    ),
    Command(
        "combine",
        "combine Kerb in a corner: 1 bump front + 0.8 cornering left",
        "adds up cases, each with its factor",
        combine,
    ),
    Command("welds", "welds 0.9", "sets how rigid the welded joints are in bending, 1 for rigid", welds),
    Command("ovalise", "ovalise on", "sets whether bends are softer because they go oval", ovalise),
    Command(
        "stress",
        "stress B22 rigid",
        said.example(
            "lets an engine or gearbox carry load between its mounts: rigid, so stiff a mount ([800 N/mm]), or gone"
        ),
        stress,
    ),
    Command(
        "rollstiff",
        said.example("rollstiff front [300 N·m/deg] rear [220 N·m/deg]"),
        "sets the roll stiffness of both axles",
        rollstiff,
    ),
    Command(
        "reading",
        READING_EXAMPLE,
        "enters a reading of the twist test, by a level (degrees) or by dials; lever, off, gone, none",
        reading,
    ),
)
