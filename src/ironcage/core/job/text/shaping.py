"""Commands that shape tubes: die, bend, hoop, kick, jog, land, taper, height, donor, laser, price."""

import math
import re
from dataclasses import dataclass
from typing import Any, get_args

import numpy as np

from ironcage.core.calc.sections import depth
from ironcage.core.calc.tubes.kicks import Make, kinked
from ironcage.core.job import edits
from ironcage.core.job.geometry.routes import end_axes
from ironcage.core.job.shelf.library import FIRST_SECTION, section_called
from ironcage.core.job.text.axes import named_by_axis
from ironcage.core.job.text.command import Chosen, Command, Done, counted, read_place, tubes_of
from ironcage.core.job.values.model import Die, Job, Tube
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import angle, said
from ironcage.units.quantity import SHARE
from ironcage.units.tables import LBF

_DIE = re.compile(
    r"^(?P<od>.+?)\s+clr\s+(?P<radius>.+?)(?:\s+grip\s+(?P<grip>.+?))?(?:\s+springback\s+(?P<back>.+?))?"
    r"(?:\s+room\s+(?P<room>.+?))?(?:\s+under\s+(?P<under>.+?))?(?P<gone>\s+gone)?$",
    re.IGNORECASE,
)


def die(job: Job, chosen: Chosen, rest: str) -> Done:
    """Put a bending die on the shelf: `die 38 clr 114 grip 60 springback 4% room 1500 under 900`; `gone` at
    the end takes it away."""
    match = _DIE.match(rest.strip())
    if match is None:
        raise Problem(
            "The die is incomplete.",
            where=rest,
            hint=said.example("Write the tube's size and the radius: die [38] clr [114] grip [60]"),
        )
    units = units_of(job)
    od, radius = units.read_length(match["od"]), units.read_length(match["radius"])
    if match["gone"]:
        return Done(
            f"Take the {units.sizes(od)} to {units.sizes(radius)} die off the shelf",
            edits.remove_die(job, od, radius),
            chosen,
        )
    before = next((d for d in job.shelf.dies if (d.od, d.radius) == (od, radius)), Die(od=od, radius=radius))
    sizes = {name: units.read_length(match[name]) for name in ("grip", "room", "under") if match[name]}
    if match["back"]:
        sizes["springback"] = SHARE.read(units, match["back"])
    return Done(
        f"Keep a die for {units.sizes(od)} to {units.sizes(radius)}", edits.put_die(job, before.but(**sizes)), chosen
    )


def _one_tube(job: Job, chosen: Chosen) -> Tube:
    names = tubes_of(job, chosen)
    if len(names) > 1:
        raise Problem(f"One tube at a time, and {len(names)} are chosen.", where=names[0], hint="Choose one of them.")
    return job.tube(names[0])


def _die_for(job: Job, tube: Tube, typed: str | None) -> Die:
    size = max(job.section(tube.section).shape.size)
    return edits.die_for(job, size, units_of(job).read_length(typed) if typed else None)


def _split_off(text: str, *words: str) -> tuple[str, dict[str, str]]:
    """A line without the `word value` pairs at its end, and those."""
    found: dict[str, str] = {}
    body = f" {text} "
    marks = sorted(
        (m.start(), m.group(1).lower(), m.end())
        for w in words
        for m in re.finditer(rf"\s({w})(?=\s)", body, re.IGNORECASE)
    )
    for n, (_, word, end) in enumerate(marks):
        stop = marks[n + 1][0] if n + 1 < len(marks) else len(body)
        found[word] = body[end:stop].strip()
    return (body[: marks[0][0]] if marks else body).strip(), found


def bend(job: Job, chosen: Chosen, rest: str) -> Done:
    """Bend the chosen tube through corner points, `bend 0 400 900; 0 -400 900 clr 114`, with a die of yours; `fold`
    in place of clr notches and folds it; `bend straight` straightens it."""
    tube = _one_tube(job, chosen)
    if rest.strip().lower() == "straight":
        return Done(f"Straighten {tube.id}", edits.shape(job, tube.id, np.zeros((0, 3))), chosen)
    fold = rest.strip().lower().endswith(" fold")
    body, more = _split_off(re.sub(r"\s+fold\s*$", "", rest, flags=re.IGNORECASE), "clr")
    if not body:
        raise Problem(
            "A bend needs corner points.",
            where=tube.id,
            hint=said.example("Write where the straights would meet: bend 0 [400] [900]; 0 [-400] [900]"),
        )
    corners = np.array([read_place(job, part) for part in body.split(";")])
    tool = None if fold else _die_for(job, tube, more.get("clr"))
    made = edits.shape(job, tube.id, corners, tool.radius if tool else 0.0, tool.grip if tool else 0.0)
    return Done(
        f"{'Fold' if fold else 'Bend'} {tube.id} at {len(corners)} corner{'s' if len(corners) > 1 else ''}",
        made,
        chosen,
    )


def hoop(job: Job, chosen: Chosen, rest: str) -> Done:
    """Lay a hoop: `hoop main height 1050 width 1100 clr 114 lean 8 at -1400 200`, its feet at that x and z; on a
    chosen pair of joints, without `at`. `top` makes it narrower at the top; a section may follow the kind."""
    body, more = _split_off(rest, "height", "width", "clr", "lean", "at", "top")
    units = units_of(job)
    kind, _, typed = body.partition(" ")
    roles = {"main": "main hoop", "front": "front hoop", "": ""}
    if kind.lower() not in roles:
        kind, typed = "", body
    last = job.tubes[-1].section if job.tubes else FIRST_SECTION
    section = section_called(job, typed or last)
    if "height" not in more:
        raise Problem(
            "A hoop needs a height.",
            where="hoop",
            hint=said.example("Write for example: hoop main height [1050] width [1100] clr [114] at [-1400] [200]"),
        )
    tool = edits.die_for(job, max(section.shape.size), units.read_length(more["clr"]) if "clr" in more else None)
    if "at" in more:
        if "width" not in more:
            raise Problem("A hoop needs a width.", where="hoop", hint=said.example("Add for example: width [1100]"))
        half = units.read_length(more["width"]) / 2
        x, _, z = read_place(job, _with_y(more["at"], half))
        left, right = (x, half, z), (x, -half, z)
    else:
        pair = [job.joint_by_id[c] for c in chosen if c in job.joint_by_id]
        if len(pair) == 1 and pair[0].twin not in (None, pair[0].id):
            pair.append(job.joint_by_id[pair[0].twin or ""])
        if len(pair) != 2:
            raise Problem(
                "A hoop stands on two joints.",
                where="hoop",
                hint=said.example("Choose a joint and its mirror, or say where: at [-1400] [200]"),
            )
        left, right = (pair[0].place, pair[1].place) if pair[0].y >= pair[1].y else (pair[1].place, pair[0].place)
    top = units.read_length(more["top"]) if "top" in more else math.dist(left, right)
    made, name = edits.hoop(
        job,
        (left, right),
        units.read_length(more["height"]),
        top,
        angle(more.get("lean", "0")),
        tool,
        section,
        roles[kind.lower()],
    )
    return Done(f"Lay a {roles[kind.lower()] or 'hoop'}, {name}", made, (name,))


def _with_y(text: str, half: float) -> str:
    """`x z` with the hoop's half width between, so that it reads as a place."""
    body, found, datum = text.partition(" from ")
    parts = [p.strip() for p in body.split(",")] if "," in body else body.split()
    if len(parts) != 2:
        raise Problem(
            f"‘{body.strip()}’ is not where a hoop can stand.",
            where="at",
            hint=said.example("Give x and z of its feet: at [-1400] [200]"),
        )
    return f"{parts[0]}, {half}mm, {parts[1]}{found}{datum}"


@dataclass(frozen=True)
class _Kick:
    way: str
    offset: str
    more: dict[str, str]
    make: Make


def _kick(rest: str, example: str) -> _Kick:
    body, more = _split_off(rest, "angle", "at", "to", "from", "clr", "by")
    words = body.split(maxsplit=1)
    if len(words) != 2 or "at" not in more:
        raise Problem("The kick is incomplete.", where=rest, hint=f"Write for example: {example}")
    make = more.get("by", "bend" if "clr" in more else "fold").lower()
    if make not in get_args(Make):
        raise Problem(f"A kick can't be made by {make}.", where="by", hint=f"There are {', '.join(get_args(Make))}.")
    return _Kick(words[0].lower(), words[1], more, make)  # type: ignore[arg-type]


def kick(job: Job, chosen: Chosen, rest: str) -> Done:
    """Kick the chosen rail sideways from a place on: `kick up 80 angle 30 at 600 by fold`; its far joint goes with
    it. by: bend (with a die), fold (notch and wedge) or mitre."""
    return _kicked(job, chosen, rest, Z_EXAMPLE)


def jog(job: Job, chosen: Chosen, rest: str) -> Done:
    """Take the chosen tube out of the way and back: `jog out 60 angle 45 at 300 to 800 by fold`."""
    return _kicked(job, chosen, rest, JOG_EXAMPLE)


Z_EXAMPLE, JOG_EXAMPLE = (
    said.example("kick up [80] angle 30 at [600] by fold"),
    said.example("jog out [60] angle 45 at [300] to [800] by fold"),
)


def _kicked(job: Job, chosen: Chosen, rest: str, example: str) -> Done:
    tube, asked, units = _one_tube(job, chosen), _kick(rest, example), units_of(job)
    if example is JOG_EXAMPLE and "to" not in asked.more:
        raise Problem("A jog comes back.", where="to", hint=f"Say where: {example}")
    turned = angle(asked.more.get("angle", "45"))
    tool = _die_for(job, tube, asked.more.get("clr")) if asked.make == "bend" else None
    end = asked.more.get("from", "")
    if end and job.joint(end).id not in tube.ends:
        raise Problem(f"{tube.id} does not end at {end}.", where=end, hint=f"It ends at {tube.a} and {tube.b}.")
    offset = units.read_length(asked.offset)
    made = edits.kick(
        job,
        tube.id,
        offset,
        turned,
        units.read_length(asked.more["at"]),
        asked.way,
        from_end=job.joint(end).id if end else "",
        back=units.read_length(asked.more["to"]) if "to" in asked.more else None,
        radius=tool.radius if tool else 0.0,
        grip=tool.grip if tool else 0.0,
        joints=asked.make == "mitre",
    )
    shape = job.section(tube.section).shape
    axes = end_axes(job)[tube.id, tube.a]
    _, y, z = (float(v) for v in axes @ edits.way_of(job, tube, asked.way))
    cost = kinked(
        (depth(shape, z, y), depth(shape, y, z)), shape.wall_mm, turned, 4 if "to" in asked.more else 2, asked.make
    )
    word = "Jog" if "to" in asked.more else "Kick"
    return Done(f"{word} {tube.id} {asked.way} {units.length(offset)}: {cost.words(units)}", made, (tube.id,))


def land(job: Job, chosen: Chosen, rest: str) -> Done:
    """Let the chosen tube land beside a joint: `land J3L z-20`; `land J3L on` brings it back."""
    tube = _one_tube(job, chosen)
    name, _, off = rest.strip().partition(" ")
    joint = job.joint(name)
    if off.strip().lower() == "on":
        return Done(f"Land {tube.id} on {joint.id}", edits.land_beside(job, tube.id, joint.id, (0.0, 0.0, 0.0)), chosen)
    if not off.strip():
        raise Problem(
            f"How far beside {joint.id}?",
            where=joint.id,
            hint=said.example(f"Write for example: land {joint.id} z[-20]"),
        )
    place = named_by_axis(job, off, (0.0, 0.0, 0.0), (0.0, 0.0, 0.0))
    made = edits.land_beside(job, tube.id, joint.id, place)
    a, b = (np.array(job.joint_by_id[e].place) for e in tube.ends)
    beside = float(np.linalg.norm(np.cross((b - a) / np.linalg.norm(b - a), place)))
    units = units_of(job)
    force = LBF if units.inches else 1000.0  # N; along a tube that lands e beside its joint it bends it by F·e
    return Done(
        f"Land {tube.id} {units.length(math.dist(place, (0, 0, 0)))} beside {joint.id}: each "
        f"{'lbf' if units.inches else 'kN'} along it bends the joint by {units.torque(force * beside / 1000)}",
        made,
        chosen,
    )


def taper(job: Job, chosen: Chosen, rest: str) -> Done:
    """Let the chosen tubes taper to a section at their second end, or at a joint: `taper 60 x 30 x 3 at J3L`; `taper
    none`."""
    names = tubes_of(job, chosen)
    body, more = _split_off(rest, "at")
    if body.lower() == "none":
        return Done(f"Take the taper off {counted(names, 'tubes')}", edits.taper(job, names, None), chosen)
    section = section_called(job, body)
    return Done(
        f"Taper {counted(names, 'tubes')} to {section.name}",
        edits.taper(job, names, section, more.get("at", "")),
        chosen,
    )


def lower(job: Job, chosen: Chosen, rest: str) -> Done:
    """Section the chosen rectangular tubes to a lower height: `lower to 40`."""
    names = tubes_of(job, chosen)
    height = units_of(job).read_length(rest.strip().removeprefix("to ").strip())
    return Done(
        f"Cut {counted(names, 'tubes')} down to {units_of(job).length(height)}",
        edits.cut_down(job, names, height),
        chosen,
    )


def donor(job: Job, chosen: Chosen, rest: str) -> Done:
    """Say that the chosen tubes are there already, of a donor, and are neither bought nor cut: `donor`; `donor no`
    takes it back."""
    return _marked(job, chosen, rest, "donor", ("of the donor", "new tube"))


def laser(job: Job, chosen: Chosen, rest: str) -> Done:
    """Send the pieces of the chosen tubes to a tube laser: `laser`; `laser no` has them cut by hand again."""
    return _marked(job, chosen, rest, "laser", ("cut by a tube laser", "cut by hand"))


def _marked(job: Job, chosen: Chosen, rest: str, field: str, words: tuple[str, str]) -> Done:
    """Mark the chosen tubes, or with ‘no’ take the mark back; words: for a mark, and for none."""
    names = tubes_of(job, chosen)
    taken_back = rest.strip().lower() in ("no", "off")
    mark: dict[str, Any] = {field: not taken_back}
    return Done(f"{counted(names, 'tubes')}: {words[taken_back]}", edits.change_tubes(job, names, **mark), chosen)


def price(job: Job, chosen: Chosen, rest: str) -> Done:
    """What a section on the shelf costs a metre, in your money: `price 38 x 2 round 6.50`."""
    name, _, money = rest.strip().rpartition(" ")
    try:
        value = float(money.replace(",", "."))
    except ValueError:
        raise Problem(
            f"‘{money}’ is no price.", where="price", hint="Write for example: price 38 x 2 round 6.50"
        ) from None
    held = job.section(name)
    return Done(f"{held.name} costs {value:g} a metre", edits.put_section(job, held.but(price=value)), chosen)


def lock(job: Job, chosen: Chosen, rest: str) -> Done:
    """How far the outer front wheel turns at full steer, degrees, for the turning circle: `lock 32`."""
    return Done(f"Set the steering lock to {rest.strip()}°", edits.set_brief(job, lock=angle(rest)), chosen)


COMMANDS = (
    Command(
        "die",
        said.example("die [38] clr [114] grip [60]"),
        "puts a bending die on the shelf: tube size, centre-line radius, straight it needs between bends",
        die,
    ),
    Command(
        "bend",
        "bend straight",
        "bends the chosen tube through corner points with a die (clr) or notched (fold); straight straightens it",
        bend,
    ),
    Command(
        "hoop",
        said.example("hoop main [38] x [2] height [1050] width [1100] lean 8 at [-1400] [200]"),
        "lays a hoop: height, width, top, radius (clr), lean, feet at x and z",
        hoop,
    ),
    Command(
        "kick",
        Z_EXAMPLE,
        "kicks the chosen rail sideways from a place on, its far joint with it; by bend, fold or mitre",
        kick,
    ),
    Command("jog", JOG_EXAMPLE, "takes the chosen tube round something and back to its line", jog),
    Command(
        "land",
        said.example("land J1L z[-20]"),
        "lets the chosen tube land so far beside a joint; ‘on’ brings it back",
        land,
    ),
    Command(
        "taper", "taper none", "lets the chosen tubes taper to a section at their second end, or at a joint", taper
    ),
    Command("lower", said.example("lower to [40]"), "cuts the chosen rectangular tubes down to a lower height", lower),
    Command(
        "donor",
        "donor",
        "marks the chosen tubes as a donor's: already there, neither bought nor cut; ‘no’ takes it back",
        donor,
    ),
    Command(
        "laser",
        "laser",
        "sends the pieces of the chosen tubes to a tube laser instead of cutting them by hand; ‘no’ takes it back",
        laser,
    ),
    Command("price", "price 38 x 2 round 6.50", "sets what a section costs a metre", price),
    Command("lock", "lock 32", "sets how far the outer front wheel steers, for the turning circle", lock),
)
