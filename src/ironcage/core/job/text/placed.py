"""Commands about what is put into the car: place, person, chain, shaft, set, three, hole, align, drop, use."""

import math
import re
from typing import cast, get_args

import numpy as np

from ironcage.core.calc.car.mannequin import Limbs, stature_of
from ironcage.core.job import edits
from ironcage.core.job.edits.placed import Placed
from ironcage.core.job.geometry.bodies import turn_of
from ironcage.core.job.shelf.parts import generic
from ironcage.core.job.store.scans import triangles
from ironcage.core.job.text.command import Chosen, Command, Done, read_place
from ironcage.core.job.text.fields import change, read_shape, split_field
from ironcage.core.job.text.pipes import THROUGH_EXAMPLE, pipe_through
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import (
    Hole,
    Part,
    PartKind,
    Person,
    Picture,
    Sprocket,
)
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import said

CROOKED = math.radians(0.05)  # a part that stands further off square than this is said to


def things_of(job: Job, chosen: Chosen) -> list[Placed]:
    """The chosen parts, people, chains and shafts; refuses none."""
    things = [job.placed[c] for c in chosen if c in job.placed]
    if not things:
        raise Problem(
            "This needs a part, a person, a chain or a shaft, and none is chosen.",
            hint="Pick one on the table or in the list first.",
        )
    return things


def _part_of(job: Job, chosen: Chosen) -> Part:
    part = next((job.placed[c] for c in chosen if isinstance(job.placed.get(c), Part)), None)
    if not isinstance(part, Part):
        raise Problem("This needs a part, and none is chosen.", hint="Pick one on the table or in the list first.")
    return part


_MASS = re.compile(r"\s+mass\s+(\S+(?:\s*(?:kg|lb|g))?)\s*$", re.IGNORECASE)
_PIPE = re.compile(r"\bpipe\s+(?P<sizes>.+?)\s+through\s+(?P<places>.+)$", re.IGNORECASE)
_WORDS = re.compile(r"\b(box|cylinder|outline|pipe)\s+(?=[-−.\d])", re.IGNORECASE)
THREE_EXAMPLE = said.example(
    "three 0 0 0; [400] 0 0; 0 [300] 0 to [-1800] [10] [300]; [-1400] [12] [305]; [-1798] [310] [300]"
)
_PLACE = said.example("place engine Triple box [500] x [620] x [480] at [-1870] [0] [430] mass [84 in kg]")


def place(job: Job, chosen: Chosen, rest: str) -> Done:
    """`place KIND NAME SHAPE at x y z mass m`; without a shape a generic one of the shelf, sized by a number: `place
    tank 14 at …`."""
    units = units_of(job)
    text = " " + rest.strip()
    mass: float | None = None
    if match := _MASS.search(text):
        mass, text = units.read_mass(match[1]), text[: match.start()]
    if match := _PIPE.search(text):
        return _place_pipe(job, text[: match.start()].strip(), match["sizes"], match["places"], mass or 0.0)
    text, at, where = text.strip().partition(" at ")
    kind, body = _kind_and_name(text)
    if not at:
        raise Problem("The place is missing.", where=rest, hint=f"Write for example: {_PLACE}")
    if match := _WORDS.search(body):
        name, shape = body[: match.start()].strip(), read_shape(body[match.start() :], units)
    else:
        shelf = generic(kind, body, units)
        name, shape, mass = shelf.name, shelf.shape, shelf.mass if mass is None else mass
    made = edits.add_part(job, name or kind.capitalize(), kind, shape, read_place(job, where), mass or 0.0)
    return Done(f"Place {made.parts[-1].name}", made, (made.parts[-1].id,))


def _place_pipe(job: Job, head: str, sizes: str, where: str, mass: float) -> Done:
    """A pipe, hose or exhaust of a kind and a name, through places in the car; it stands where the first of them is."""
    kind, name = _kind_and_name(head or "hose")
    places = [read_place(job, place) for place in where.split(";") if place.strip()]
    if len(places) < 2:
        raise Problem("A pipe needs two places.", where="through", hint=f"Write for example: {THROUGH_EXAMPLE}")
    (x0, y0, z0), own = places[0], []
    for x, y, z in places:
        own.append((x - x0, y - y0, z - z0))
    shape = pipe_through(sizes, own, units_of(job))
    made = edits.add_part(job, name or kind.capitalize(), kind, shape, places[0], mass)
    return Done(f"Lay {made.parts[-1].name} through {len(places)} places", made, (made.parts[-1].id,))


def _kind_and_name(text: str) -> tuple[PartKind, str]:
    """The kind of part that a line starts with, and what comes after it. Raises Problem for an unknown kind."""
    kinds = sorted(get_args(PartKind), key=len, reverse=True)
    kind = next((k for k in kinds if text.lower() == k or text.lower().startswith(k + " ")), None)
    if kind is None:
        word = text.split(maxsplit=1)[0] if text.split() else ""
        raise Problem(
            f"‘{word}’ is no kind of part.",
            where=word,
            hint=nearest(word, kinds) or f"There are {', '.join(get_args(PartKind))}.",
        )
    return cast(PartKind, kind), text[len(kind) :].strip()


_PERSON = re.compile(
    r"^\s*(?P<name>.+?)\s+(?:(?P<group>men|women)\s+(?P<percentile>[\d.]+)|(?P<stature>"
    r"\d+\s*(?:['’′]|ft|feet)(?:\s*\d[\d./ -]*(?:[\"”″]|in)?)?"  # feet and inches, with or without a space between them
    r"|[\d.]\S*(?:\s\d+/\d+\"?)?(?:\s*(?:mm|cm|m|in))?))\s*$",
    re.IGNORECASE,
)


def person(job: Job, chosen: Chosen, rest: str) -> Done:
    """`person NAME STATURE at x y z mass m` (the place of the hip); or `person NAME men 95 at …` from the table of
    statures."""
    units = units_of(job)
    text, mass = " " + rest.strip(), 77.0
    if match := _MASS.search(text):
        mass, text = units.read_mass(match[1]), text[: match.start()]
    text, at, where = text.strip().partition(" at ")
    match = _PERSON.match(text)
    if match is None or not at:
        raise Problem(
            "The person is incomplete.",
            where=rest,
            hint=said.example("Write for example: person Bryn [1780] at [-1330] [280] [320] mass [82 in kg]"),
        )
    if match["group"]:
        stature = stature_of(float(match["percentile"]), match["group"].lower())
    else:
        stature = units.read_length(match["stature"])
    limbs = Limbs.of_stature(stature)
    made = edits.add_person(job, match["name"], mass, limbs, edits.seat_for(limbs, read_place(job, where)))
    return Done(f"Seat {match['name']} down", made, (made.people[-1].id,))


_CHAIN = re.compile(
    r"^(?P<name>.*?)\s*teeth\s+(?P<a>\d+)\s+(?P<b>\d+)\s+pitch\s+(?P<pitch>.+?)"
    r"\s+from\s+(?P<p>.+?)\s+to\s+(?P<q>.+?)\s*$",
    re.IGNORECASE,
)


def chain(job: Job, chosen: Chosen, rest: str) -> Done:
    """`chain NAME teeth 15 40 pitch 15.875 from x y z to x y z`: the driving sprocket's middle, then the driven
    one's."""
    match = _CHAIN.match(rest.strip())
    if match is None:
        raise Problem(
            "The chain is incomplete.",
            where=rest,
            hint=said.example(
                "Write for example: chain Final teeth 15 40 pitch [15.875] from [-1870] [60] [330] "
                "to [-2300] [60] [300]"
            ),
        )
    pitch = units_of(job).read_length(match["pitch"])
    ends = []
    for teeth, where in ((match["a"], match["p"]), (match["b"], match["q"])):
        x, y, z = read_place(job, where)
        ends.append(Sprocket(teeth=int(teeth), x=x, y=y, z=z))
    made = edits.add_chain(
        job,
        name=match["name"] or "Chain",
        pitch=pitch,
        width=1.1 * pitch,
        height=0.95 * pitch,
        driving=ends[0],
        driven=ends[1],
    )
    return Done(f"Lay {made.chains[-1].name}", made, (made.chains[-1].id,))


_SHAFT = re.compile(r"^(?P<name>.*?)\s*from\s+(?P<p>.+?)\s+to\s+(?P<q>.+?)\s*$", re.IGNORECASE)


def shaft(job: Job, chosen: Chosen, rest: str) -> Done:
    """`shaft NAME from x y z to x y z`: the middles of its two joints, in the flow of power."""
    match = _SHAFT.match(rest.strip())
    if match is None:
        raise Problem(
            "The shaft is incomplete.",
            where=rest,
            hint=said.example("Write for example: shaft Prop from [-700] 0 [420] to [-1700] 0 [330]"),
        )
    start, stop = read_place(job, match["p"]), read_place(job, match["q"])
    along = (
        (-1.0, 0.0, 0.0)
        if abs(stop[0] - start[0]) >= abs(stop[1] - start[1])
        else (0.0, 1.0 if stop[1] > start[1] else -1.0, 0.0)
    )
    if along[0] and stop[0] > start[0]:
        along = (1.0, 0.0, 0.0)
    made = edits.add_shaft(job, name=match["name"] or "Shaft", start=start, stop=stop, drive=along, driven=along)
    return Done(f"Lay {made.shafts[-1].name}", made, (made.shafts[-1].id,))


def set_field(job: Job, chosen: Chosen, rest: str) -> Done:
    """`set FIELD VALUE` on everything chosen that has the field; people: their limbs and seat as well."""
    things = things_of(job, chosen)
    made = job
    field = ""
    for thing in things:
        field, text = split_field(thing, rest)
        made = edits.put_placed(made, change(made, made.placed[thing.id], field, text))
    names = things[0].id if len(things) == 1 else f"{len(things)} things"
    follow = [t.name for t in made.placed.values() if t.id not in chosen and t is not job.placed[t.id]]
    with_it = f" ({', '.join(follow)} with it)" if follow else ""
    return Done(f"Set {field} of {names}{with_it}", made, chosen)


def _points(job: Job, text: str, words: str) -> np.ndarray:
    rows = [r for r in text.split(";") if r.strip()]
    if len(rows) != 3:
        raise Problem(
            f"Three points {words} are needed, and {len(rows)} came.",
            where=text,
            hint=f"Write: {THREE_EXAMPLE}",
        )
    units = units_of(job)
    points = []
    for r in rows:
        parts = [p.strip() for p in r.split(",")] if "," in r else r.split()
        if len(parts) != 3:
            raise Problem(f"‘{r.strip()}’ is not a place.", where=r, hint="Write x, y and z.")
        points.append([units.read_length(p) for p in parts])
    return np.array(points)


def three(job: Job, chosen: Chosen, rest: str) -> Done:
    """Pose the chosen part by three of its own points and where they were measured from the shown datum."""
    part = _part_of(job, chosen)
    own, to, there = rest.partition(" to ")
    if not to:
        raise Problem(
            "Where the three points were measured is missing.",
            where=rest,
            hint=f"Write: {THREE_EXAMPLE}",
        )
    datum = job.datum
    measured = _points(job, there, "as measured") + [datum.x, datum.y, datum.z]
    made, off = edits.put_by_points(job, part.id, _points(job, own, "of the part"), measured)
    return Done(f"Pose {part.name} by three points, {units_of(job).fine(off)} off at worst", made, chosen)


_HOLE = re.compile(r"^(?P<name>.*?)\s*at\s+(?P<at>.+?)\s+dia\s+(?P<dia>.+?)\s*$", re.IGNORECASE)


def hole(job: Job, chosen: Chosen, rest: str) -> Done:
    """Give the chosen part a mount hole, at a place in its own axes."""
    part, units = _part_of(job, chosen), units_of(job)
    match = _HOLE.match(rest.strip())
    parts = [p.strip() for p in match["at"].split("," if "," in match["at"] else None)] if match else []
    if match is None or len(parts) != 3:
        raise Problem(
            "The hole is incomplete.",
            where=rest,
            hint=said.example("Write for example: hole front left at [180], [220], [-240] dia [10]"),
        )
    x, y, z = (units.read_length(p) for p in parts)
    name = match["name"] or f"hole {len(part.holes) + 1}"
    made = edits.add_hole(job, part.id, Hole(name=name, x=x, y=y, z=z, diameter=units.read_length(match["dia"])))
    return Done(f"Give {part.name} the hole {name}", made, chosen)


_FIT = re.compile(r"^(?P<name>.*?)\s*at\s+(?P<at>.+?)(?:\s+within\s+(?P<within>.+?))?\s*$", re.IGNORECASE)
FIT_WITHIN_MM = 20.0


def fit(job: Job, chosen: Chosen, rest: str) -> Done:
    """Find a hole in the chosen scan near a place, by fitting a cylinder or a circle; it becomes a mount hole of the
    part."""
    from ironcage.core.calc.solids.roundfits import fit_round

    part, units = _part_of(job, chosen), units_of(job)
    mesh = triangles(part.shape.digest) if part.shape.kind == "scan" else None
    if mesh is None:
        raise Problem(
            f"{part.name} is no scan that is here.",
            where=part.id,
            hint="Holes are fitted in scans: ‘Put in…’, A scan mesh.",
        )
    match = _FIT.match(rest.strip())
    if match is None:
        raise Problem(
            "Say where to look.",
            where=rest,
            hint=said.example("Write for example: fit front left at [-1800], [220], [310] within [20]"),
        )
    turn, at = turn_of(part), np.array(part.place)
    within = units.read_length(match["within"]) if match["within"] else FIT_WITHIN_MM
    found = fit_round(mesh, turn.T @ (np.array(read_place(job, match["at"])) - at), within)
    name = match["name"] or f"hole {len(part.holes) + 1}"
    x, y, z = (float(v) for v in found.centre)
    made = edits.add_hole(job, part.id, Hole(name=name, x=x, y=y, z=z, diameter=2 * found.radius))
    lean = turn @ found.axis
    return Done(
        f"Fit {name}: a {found.kind} of {units.fine(2 * found.radius)}, {units.fine(found.residual)} off on "
        f"{found.points:,} points, axis "
        f"{lean[0]:+.3f} {lean[1]:+.3f} {lean[2]:+.3f}",
        made,
        chosen,
    )


def align(job: Job, chosen: Chosen, rest: str) -> Done:
    """Lay the chosen part on the ground, on the centreline, square to the car, or level, abreast or in line with
    another part, by their middles or by a hole of each."""
    part, words = _part_of(job, chosen), " ".join(rest.split())
    ways = ("ground", "centreline", "square", "level", "abreast", "in line")
    to = next((w for w in ways if words.lower().startswith(w)), words.lower())
    made = edits.align(job, part.id, to, words[len(to) :].strip())
    now = edits.find_part(made, part.id)
    lean = max(abs(angle - math.pi / 2 * round(angle / (math.pi / 2))) for angle in (now.yaw, now.pitch, now.roll))
    crooked = (
        f"; it stands {math.degrees(lean):.1f}° off square: align square" if to == "level" and lean > CROOKED else ""
    )
    return Done(f"Align {part.name} {words}{crooked}", made, chosen)


def drop(job: Job, chosen: Chosen, rest: str) -> Done:
    """Let the chosen part down until it touches, or is so far off the ground."""
    part = _part_of(job, chosen)
    clearance = units_of(job).read_length(rest) if rest.strip() else 0.0
    made, on = edits.drop(job, part.id, clearance)
    rests = f"{units_of(job).length(clearance)} off the ground" if on == "ground" else f"its margin off {on}"
    return Done(f"Drop {part.name}: it is {rests}", made, chosen)


def use(job: Job, chosen: Chosen, rest: str) -> Done:
    """Tie the chosen person to the chosen parts: the seat, pedals and hand wheel that are theirs."""
    people = [job.placed[c] for c in chosen if isinstance(job.placed.get(c), Person)]
    parts = tuple(c for c in chosen if isinstance(job.placed.get(c), Part))
    if len(people) != 1 or not parts:
        raise Problem(
            "This needs one person and the parts they use.",
            hint="Pick the person, then their seat, pedals and hand wheel.",
        )
    who = cast(Person, people[0])
    made = edits.put_placed(job, who.but(uses=tuple(dict.fromkeys((*who.uses, *parts)))))
    return Done(f"Tie {who.name} to {len(parts)} part{'s' * (len(parts) > 1)}", made, chosen)


_PIN = re.compile(r"^(?P<one>[^;]+);(?P<other>.+?)\s+apart\s+(?P<apart>.+?)(?P<upright>\s+upright)?\s*$", re.IGNORECASE)
READINGS = {"side": "xz", "plan": "xy", "front": "yz"}


def scale(job: Job, chosen: Chosen, rest: str) -> Done:
    """Scale the chosen picture: two places on it as they read now, and how far apart they really are; level by
    default, or `upright`."""
    picture = next((job.placed[c] for c in chosen if isinstance(job.placed.get(c), Picture)), None)
    if not isinstance(picture, Picture):
        raise Problem("This needs a picture, and none is chosen.", hint="Pick one in the list of what is placed.")
    match = _PIN.match(rest.strip())
    axes, units = READINGS[picture.plane], units_of(job)
    example = f"Write the {axes[0]} and {axes[1]} of two points: scale 0 300; -2300 310 apart 2300"
    if match is None:
        raise Problem("The two points are incomplete.", where=rest, hint=example)
    places = []
    for text in (match["one"], match["other"]):
        parts = [p.strip() for p in text.split("," if "," in text else None)]
        if len(parts) != 2:
            raise Problem(f"‘{text.strip()}’ is not a point of the {picture.plane} plane.", where=text, hint=example)
        spot = dict(zip("xyz", picture.place, strict=True))
        spot |= {a: units.read_length(p) + getattr(job.datum, a) for a, p in zip(axes, parts, strict=True)}
        places.append((spot["x"], spot["y"], spot["z"]))
    made = edits.scale_picture(
        job, picture.id, places[0], places[1], units.read_length(match["apart"]), upright=bool(match["upright"])
    )
    return Done(f"Scale {picture.name} by {match['apart']}", made, chosen)


COMMANDS = (
    Command(
        "scale",
        said.example("scale 0 [300]; [-2300] [310] apart [2300]"),
        "scales the chosen picture by two of its points and how far apart they are; ‘upright’ for its height alone",
        scale,
    ),
    Command(
        "place",
        _PLACE,
        said.example(
            "puts a part: kind, name, shape, place, mass; without a shape a generic one: place tank 14 at 0 0 [300]"
        ),
        place,
    ),
    Command(
        "person",
        said.example("person Bryn [1780] at [-1330] [280] [320] mass [82 in kg]"),
        "seats a person of a stature, or of a table: person Bryn men 95 at …",
        person,
    ),
    Command(
        "chain",
        said.example("chain Final teeth 15 40 pitch [15.875] from [-1870] [60] [330] to [-2300] [60] [300]"),
        "lays a chain or belt between two wheels",
        chain,
    ),
    Command(
        "shaft",
        said.example("shaft Prop from [-700] 0 [420] to [-1700] 0 [330]"),
        "lays a shaft with a joint at each end",
        shaft,
    ),
    Command(
        "set",
        said.example("set pedals x+[40]"),
        "changes a field of the chosen part, person, chain or shaft; the card in Place lists them",
        set_field,
    ),
    Command(
        "three",
        said.example(
            "three 0 0 0; [400] 0 0; 0 [300] 0 to [-1800] [10] [300]; [-1400] [12] [305]; [-1798] [310] [300]"
        ),
        "poses the chosen part by three of its points and where they were measured",
        three,
    ),
    Command(
        "hole",
        said.example("hole front left at [180], [220], [-240] dia [10]"),
        "gives the chosen part a mount hole, in its own axes",
        hole,
    ),
    Command(
        "fit",
        said.example("fit front left at [-1800], [220], [310] within [20]"),
        "finds a hole in the chosen scan near a place; it becomes a mount hole",
        fit,
    ),
    Command(
        "align",
        "align level B2",
        "lays the chosen part: ground, centreline, square; level, abreast or in line with another, or hole to hole",
        align,
    ),
    Command(
        "drop",
        said.example("drop [90]"),
        "lets the chosen part down until it touches or is so far off the ground",
        drop,
    ),
    Command("use", "use", "ties the chosen person to the chosen seat, pedals and hand wheel; they move together", use),
)
