"""Commands about the car and the job: pickup, wheels, mass, datum, units, name, stand, table."""

import math
import re

from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done, counted, datum_named, joints_of, read_place
from ironcage.core.job.values.model import Job, UnitChoice
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import said, typed


def pickup(job: Job, chosen: Chosen, rest: str) -> Done:
    """Make the chosen joints suspension pickups of the front or rear; the mirrored ones follow."""
    end = rest.strip().lower()
    if end not in ("", "front", "rear"):
        raise Problem(f"‘{end}’ is not an axle.", where=end, hint="Write pickup front or pickup rear.")
    names = joints_of(job, chosen)
    made = job
    for name in names:
        if not any(p.joint == name for p in made.pickups) or len(names) == 1:
            made = edits.add_pickup(made, name, end)
    return Done(f"Make {counted(names, 'joints')} a pickup", made, chosen)


_WHEELS = re.compile(r"^\s*(\w+)\s+(.+?)\s+dia\s+(.+?)\s+width\s+(.+?)\s*$", re.IGNORECASE)


_RIM = re.compile(r"^\s*(front|rear)\s+rim\s+(.+?)\s*$", re.IGNORECASE)
_DISC = re.compile(r"^\s*(front|rear)\s+disc\s+(?P<size>.+?)(?:\s+in\s+(?P<inwards>.+?))?\s*$", re.IGNORECASE)


def wheels(job: Job, chosen: Chosen, rest: str) -> Done:
    """Add a pair of wheels: end, centre of the left one, tyre diameter and width, `wheels front 0 0 290 dia 580 width
    120` a single wheel on the centreline; `wheels front rim 330` says how wide their rims are inside, where links have
    room, `wheels front disc 240 in 20` how large their brake discs are, and how far inwards of the wheel's middle a
    disc's inner face stands, `disc none`."""
    if rim := _RIM.match(rest):
        end, inside = rim[1].lower(), units_of(job).read_length(rim[2])
        return Done(f"Set the {end} rims", edits.set_rim(job, end, inside), chosen)
    if disc := _DISC.match(rest):
        end, read = disc[1].lower(), units_of(job).read_length
        if disc["size"].lower() == "none":
            return Done(f"Take the {end} brake discs out", edits.set_disc(job, end, 0.0, 0.0), chosen)
        made = edits.set_disc(job, end, read(disc["size"]), read(disc["inwards"] or "0"))
        return Done(f"Set the {end} brake discs", made, chosen)
    match = _WHEELS.match(rest)
    if match is None:
        raise Problem(
            "The wheels are incomplete.",
            where=rest,
            hint=said.example("Write for example: wheels front [0] [650] [290] dia [580] width [165]"),
        )
    end, place, dia, width = match.groups()
    units = units_of(job)
    made = edits.add_wheel(job, end.lower(), read_place(job, place), units.read_length(dia), units.read_length(width))
    added = f"Add {end.lower()} wheels" if made.wheels[-1].y else f"Add a {end.lower()} wheel"
    return Done(added, made, chosen)


def rake(job: Job, chosen: Chosen, rest: str) -> Done:
    """Let the frame stand nose down by an angle on its tyres, or nose up with a minus: the rear wheels go up or down
    in it."""
    if not rest.strip():
        raise Problem("The angle is missing.", where="rake", hint="Write for example: rake 1.2")
    angle = typed.angle(rest)
    made, up = edits.set_rake(job, angle)
    way = "up" if up > 0 else "down"
    words = f"Rake {math.degrees(angle):g}°: rear wheels {units_of(job).length(abs(up))} {way} in the frame"
    return Done(words, made, chosen)


def mass(job: Job, chosen: Chosen, rest: str) -> Done:
    """Add something heavy at a place, or at the chosen joint."""
    match = re.match(r"^\s*([\d.+\-*/() ]+(?:kg|g|lbs?|oz|t)?(?=\s|$))\s*(.*)$", rest, re.IGNORECASE)
    if match is None:
        raise Problem(
            f"‘{rest.strip()}’ does not start with a mass.",
            where=rest,
            hint=said.example("Write for example: mass [84 in kg] Engine at [-1870] [0] [430]"),
        )
    kg = units_of(job).read_mass(match.group(1))
    name, at, place = match.group(2).partition(" at ")
    where = read_place(job, place) if at else job.joint(joints_of(job, chosen)[0]).place
    return Done(f"Add {name.strip() or 'a mass'}", edits.add_mass(job, name.strip() or "Mass", kg, where), chosen)


def datum(job: Job, chosen: Chosen, rest: str) -> Done:
    """Show readings from a datum, or add one: `datum firewall at -1620 0 220`; `datum table gone` removes it."""
    name, at, place = rest.partition(" at ")
    if at:
        return Done(f"Add datum {name.strip()}", edits.add_datum(job, name.strip(), read_place(job, place)), chosen)
    if rest.strip().endswith(" gone"):
        gone = datum_named(job, rest.strip().removesuffix(" gone"))
        return Done(f"Remove datum {gone.name}", edits.remove_datum(job, gone.name), chosen)
    shown = datum_named(job, rest)
    return Done(f"Read from {shown.name}", edits.set_brief(job, shown_from=shown.name), chosen)


def units(job: Job, chosen: Chosen, rest: str) -> Done:
    """Choose units: mm or inch, the finest fraction (8, 16, 32, 64 or decimal), kg or lb."""
    choice = job.brief.units
    for word in rest.lower().split():
        if word in ("mm", "inch", "inches", "in"):
            choice = choice.but(length="mm" if word == "mm" else "inch")
        elif word in ("kg", "lb"):
            choice = choice.but(mass=word)
        elif word == "decimal" or word.removeprefix("1/") in ("8", "16", "32", "64"):
            choice = choice.but(fraction=0 if word == "decimal" else int(word.removeprefix("1/")))
        else:
            raise Problem(
                f"‘{word}’ is not a choice of units.",
                where=word,
                hint=nearest(word, ["mm", "inch", "kg", "lb", "decimal"]) or "Write for example: units inch 1/16 lb",
            )
    return Done("Choose units", edits.set_brief(job, units=UnitChoice(**dict(choice))), chosen)


def _brief(field: str) -> Command:
    def run(job: Job, chosen: Chosen, rest: str) -> Done:
        if not rest.strip():
            raise Problem(f"The {field} is missing.", where=field, hint=f"Write for example: {field} Sandpiper")
        first, _, more = rest.strip().partition(" ")
        if more and first.upper() in (*job.joint_by_id, *job.tube_by_id):
            raise Problem(
                f"{first} is not the job, whose {field} this line sets.",
                where=first,
                hint=f"Choose it and type: call {more}",
            )
        return Done(f"Set {field}", edits.set_brief(job, **{field: rest.strip()}), chosen)

    return Command(field, f"{field} Sandpiper", f"sets the job's {field}", run)


def stand(job: Job, chosen: Chosen, rest: str) -> Done:
    """Put the chosen joints and their mirrors on stands, or take them off."""
    names = joints_of(job, chosen)
    made = edits.toggle_stands(job, names)
    on = len(made.table.stands) > len(job.table.stands)
    return Done(f"{'Put' if on else 'Take'} {counted(names, 'joints')} {'on' if on else 'off'} stands", made, chosen)


_TABLE = {
    "length": "length",
    "width": "width",
    "top": "top_z",
    "saddle": "least_saddle",
    "x": "corner_x",
    "y": "corner_y",
}


def table(job: Job, chosen: Chosen, rest: str) -> Done:
    """Set the jig table: length, width, top (its height z), saddle (least height), x and y of its rear right corner."""
    word, _, value = rest.strip().partition(" ")
    if word.lower() not in _TABLE:
        raise Problem(
            f"The table has no ‘{word}’.",
            where=word,
            hint=f"{nearest(word, _TABLE)} There are {', '.join(_TABLE)}.".strip(),
        )
    size = units_of(job).read_length(value)
    return Done(f"Set table {word}", edits.set_table(job, **{_TABLE[word.lower()]: size}), chosen)


COMMANDS = (
    Command("pickup", "pickup front", "makes the chosen joints suspension pickups", pickup),
    Command(
        "wheels", said.example("wheels front [0] [650] [290] dia [580] width [165]"), "adds a pair of wheels", wheels
    ),
    Command("rake", "rake 1.2", "lets the frame stand nose down by so many degrees on its tyres", rake),
    Command(
        "mass",
        said.example("mass [84 in kg] Engine at [-1870] [0] [430]"),
        "adds something heavy at a place or at the chosen joint",
        mass,
    ),
    Command("datum", "datum firewall", "shows readings from a datum; ‘at x y z’ adds one, ‘gone’ removes it", datum),
    Command("units", "units inch 1/16 lb", "chooses what bare numbers mean and how figures are written", units),
    _brief("name"),
    _brief("builder"),
    _brief("vehicle"),
    Command("stand", "stand", "puts the chosen joints on stands, or takes them off", stand),
    Command("table", said.example("table top [120]"), "sets the jig table: length, width, top, saddle, x, y", table),
)
