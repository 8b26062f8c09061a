"""Commands that move much at once: stretch, turn, copy, slide, mirror."""

import re

import numpy as np

from ironcage.core.job import edits
from ironcage.core.job.text.axes import named_by_axis
from ironcage.core.job.text.command import Chosen, Command, Done, counted, joints_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import angle, said

_SIDES = {
    "ahead of": ("x", True),
    "behind": ("x", False),
    "above": ("z", True),
    "below": ("z", False),
    "outside": ("y", True),
}
_STRETCH = re.compile(
    rf"^(?P<side>{'|'.join(_SIDES)})\s+(?P<at>.+?)\s+by\s+(?P<by>.+?)(?P<sides>(?:\s+with(?:out)?\s.*)?)$",
    re.IGNORECASE,
)
STRETCH_EXAMPLE = said.example("stretch behind [-900] by [-150]")


def stretch(job: Job, chosen: Chosen, rest: str) -> Done:
    """Stretch or shorten everything at a plane: `stretch behind -900 by -150` brings all that stands behind x -900
    forward by 150. Sides: ahead of, behind, above, below, outside. Things that the plane passes through are named:
    `with B3`, they go; `without D1`, they stay."""
    match = _STRETCH.match(rest.strip())
    if match is None:
        raise Problem("The stretch is incomplete.", where=rest, hint=f"Write for example: {STRETCH_EXAMPLE}")
    axis, beyond = _SIDES[match["side"].lower()]
    units = units_of(job)
    at = units.read_length(match["at"]) + getattr(job.datum, axis)
    by = units.read_length(match["by"])
    sides: dict[str, bool] = {}
    for word, names in re.findall(r"\b(with|without)\s+((?:(?!with).)*)", match["sides"], re.IGNORECASE):
        sides |= {name.upper(): word.lower() == "with" for name in names.replace(",", " ").split()}
    made = edits.stretch(job, axis, at, by, beyond=beyond, sides=sides)  # type: ignore[arg-type]
    word = "Stretch" if by > 0 else "Shorten"
    return Done(f"{word} {match['side'].lower()} {match['at']} by {units.length(abs(by))}", made, chosen)


_TURN = re.compile(r"^(?P<angle>\S+)\s+about\s+(?P<axis>.+?)(?:\s+at\s+(?P<at>\S+))?$", re.IGNORECASE)
_AXES = {"x": (1.0, 0.0, 0.0), "y": (0.0, 1.0, 0.0), "z": (0.0, 0.0, 1.0)}


def turn(job: Job, chosen: Chosen, rest: str) -> Done:
    """Turn what is chosen: `turn 5 about y at J3L`, or about the line from one joint to another: `turn 5 about J1L
    J1R`."""
    match = _TURN.match(rest.strip())
    if match is None:
        raise Problem("The turn is incomplete.", where=rest, hint="Write for example: turn 5 about y at J1L")
    words = match["axis"].split()
    if len(words) == 2:
        one, other = (np.array(job.joint(w).place) for w in words)
        pivot, axis = one, other - one
        if np.linalg.norm(axis) < 0.5:
            raise Problem(
                f"{words[0]} and {words[1]} give no line.", where=words[0], hint="Name two joints that stand apart."
            )
    else:
        if words[0].lower() not in _AXES:
            raise Problem(f"‘{match['axis']}’ is no axis.", where="about", hint="Write x, y or z, or two joints.")
        axis = np.array(_AXES[words[0].lower()])
        at = match["at"] or joints_of(job, chosen)[0]
        pivot = np.array(job.joint(at).place)
    x, y, z = (float(v) for v in pivot)
    made = edits.turn(job, chosen, angle(match["angle"]), (x, y, z), axis)
    return Done(f"Turn {counted(list(chosen), 'things')} {match['angle']}° about {match['axis']}", made, chosen)


def copy(job: Job, chosen: Chosen, rest: str) -> Done:
    """Copy the chosen tubes with their joints, and parts: `copy x-300`, or in a row: `copy 3 times x-300`."""
    match = re.match(r"^(\d+)\s+times\s+(.*)$", rest.strip(), re.IGNORECASE)
    times, body = (int(match[1]), match[2]) if match else (1, rest)
    if not 1 <= times <= 100:
        raise Problem(f"{times} copies can't be made at once.", where="copy", hint="1 to 100.")
    by = named_by_axis(job, body, (0.0, 0.0, 0.0), (0.0, 0.0, 0.0))
    made = edits.copy(job, chosen, by, times)
    new = [t.id for t in made.tubes[len(job.tubes) :]] or [j.id for j in made.joints[len(job.joints) :]]
    new += [p.id for p in made.parts[len(job.parts) :]]
    return Done(f"Copy {counted(list(chosen), 'things')}{f' {times} times' if times > 1 else ''}", made, tuple(new))


def slide(job: Job, chosen: Chosen, rest: str) -> Done:
    """Slide the chosen joint along the line of two others, `slide 20 along J1L J2L`, or a pickup along its arm's
    pivot axis: `slide 20`."""
    name = joints_of(job, chosen)[0]
    typed, _, line = rest.partition(" along ")
    words = line.split()
    if words and len(words) != 2:
        raise Problem(
            "A line needs two joints.", where=line, hint=said.example("Write for example: slide [20] along J1L J2L")
        )
    along = (words[0], words[1]) if words else edits.axis_of_pickup(job, name)
    by = units_of(job).read_length(typed)
    return Done(
        f"Slide {name} by {units_of(job).length(by)} along the line from {along[0]} to {along[1]}",
        edits.slide(job, name, by, along),
        chosen,
    )


def mirror(job: Job, chosen: Chosen, rest: str) -> Done:
    """Make the other side of what is chosen and has none; of a part its mirror image."""
    names = rest.split() or list(chosen)
    made = edits.mirror(job, [n.upper() for n in names])
    new = tuple(p.id for p in made.parts[len(job.parts) :])
    return Done(f"Mirror {counted(names, 'things') if names else ''}", made, new or tuple(chosen))


_SEVER = re.compile(r"^at\s+(?P<at>.+?)\s+keep\s+(?P<keep>ahead|behind)$", re.IGNORECASE)


def sever(job: Job, chosen: Chosen, rest: str) -> Done:
    """Cut the donor's tubes across and keep one side: `sever at -900 keep ahead`."""
    match = _SEVER.match(rest.strip())
    if match is None:
        raise Problem(
            "The cut is incomplete.", where=rest, hint=said.example("Write for example: sever at [-900] keep ahead")
        )
    x = units_of(job).read_length(match["at"]) + job.datum.x
    return Done(f"Cut the donor at {match['at']}", edits.sever(job, x, ahead=match["keep"].lower() == "ahead"), ())


COMMANDS = (
    Command(
        "stretch",
        STRETCH_EXAMPLE,
        "stretches or shortens everything at a plane: ahead of, behind, above, below, outside; with B3, without D1 "
        "say who goes",
        stretch,
    ),
    Command(
        "turn",
        "turn 5 about y at J1L",
        "turns what is chosen about x, y or z at a joint, or about the line of two joints",
        turn,
    ),
    Command(
        "copy",
        said.example("copy 2 times x[-300]"),
        "copies the chosen tubes with their joints, and parts, once or in a row",
        copy,
    ),
    Command(
        "slide",
        said.example("slide [20] along J1L J2L"),
        "slides the chosen joint along a line; a pickup along its own axis",
        slide,
    ),
    Command(
        "sever",
        said.example("sever at [-900] keep ahead"),
        "cuts the donor’s tubes across and keeps what is ahead of the cut, or behind",
        sever,
    ),
    Command(
        "mirror", "mirror", "makes the other side of what is chosen and has none, and the mirror image of parts", mirror
    ),
)
