"""Commands about what was measured on the built frame: tape, height, slope, true."""

import math
from datetime import date

from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done, joints_of
from ironcage.core.job.text.days import split_day
from ironcage.core.job.text.measure import keeping
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.core.job.values.truing import MeasuredHeight, MeasuredSlope, TapedDistance
from ironcage.problem import Problem
from ironcage.units import angle, said

TAPE_EXAMPLE = said.example("tape J1L J2R [1248.5]")
HEIGHT_EXAMPLE = said.example("height J1L [121]")
SLOPE_EXAMPLE = "slope J1L J1R 0.2"


def _named(job: Job, chosen: Chosen, rest: str, count: int, example: str) -> tuple[list[str], str, date]:
    """The joints that a reading is of, named first or chosen, what was read, and the day."""
    body, day = split_day(rest)
    words = body.split()
    names: list[str] = []
    while words and len(names) < count and words[0].upper() in job.joint_by_id:
        names.append(words.pop(0).upper())
    if words and len(names) < count and names:
        raise Problem(f"There is no joint ‘{words[0]}’.", where=words[0], hint=f"Write for example: {example}")
    if not names:
        picked = [c for c in chosen if c in job.joint_by_id]
        names = picked if len(picked) == count else joints_of(job, (), need=count)
    if not words:
        raise Problem("The reading is missing.", where=rest, hint=f"Write for example: {example}")
    return names, " ".join(words), day


def tape(job: Job, chosen: Chosen, rest: str) -> Done:
    """A distance by tape between two joints, named or chosen: `tape J1L J2R 1248.5`; `… stays` keeps the tape on the
    table as drawn."""
    if kept := keeping(job, chosen, rest):
        return kept
    (a, b), typed, day = _named(job, chosen, rest, 2, TAPE_EXAMPLE)
    distance = units_of(job).read_length(typed)
    made = edits.add_measured(job, TapedDistance(id="new", when=day, a=a, b=b, distance=distance))
    return Done(f"Tape {a} to {b}: {units_of(job).length(distance)}", made, chosen)


def height(job: Job, chosen: Chosen, rest: str) -> Done:
    """How high a joint stands over the table: `height J1L 121`."""
    (joint,), typed, day = _named(job, chosen, rest, 1, HEIGHT_EXAMPLE)
    size = units_of(job).read_length(typed)
    made = edits.add_measured(job, MeasuredHeight(id="new", when=day, joint=joint, height=size))
    return Done(f"{joint} stands {units_of(job).length(size)} over the table", made, chosen)


def slope(job: Job, chosen: Chosen, rest: str) -> Done:
    """A level laid from one joint to another, degrees up: `slope J1L J1R 0.2`."""
    (a, b), typed, day = _named(job, chosen, rest, 2, SLOPE_EXAMPLE)
    rise = angle(typed.removesuffix("°") if not typed.endswith("'°") else typed)
    made = edits.add_measured(job, MeasuredSlope(id="new", when=day, a=a, b=b, slope=rise))
    return Done(f"{a} to {b} rises {math.degrees(rise):.2f}°", made, chosen)


def true(job: Job, chosen: Chosen, rest: str) -> Done:
    """How the frame is measured: `true datum J1L J2L J1R`, `true best fit`, `true within 1.5`, `true tape error 1`,
    `true tape fine 0.5`, `true height fine 0.5`, `true level fine 0.05`; `true M3 1250` corrects a reading or
    takes its place, read today unless `on` a day; `true M3 gone` takes it away, `true none` all of them."""
    units, words = units_of(job), rest.strip()
    low = words.lower()
    if low == "none":
        return Done("Take all readings away", edits.set_truing(job, readings=()), chosen)
    if low == "best fit":
        return Done("Lay the readings on the drawing as they fit best", edits.set_true_datum(job, ()), chosen)
    if low.startswith("datum"):
        names = words[5:].replace(",", " ").split()
        names = joints_of(job, chosen, need=3) if names in ([], ["chosen"]) else names
        made = edits.set_true_datum(job, names)
        return Done(f"Lay the readings on {', '.join(made.truing.datum)}", made, chosen)
    for start, field in (
        ("within", "within"),
        ("tape error", "tape_error"),
        ("tape fine", "tape_fine"),
        ("height fine", "height_fine"),
    ):
        if low.startswith(f"{start} "):
            made = edits.set_truing(job, **{field: units.read_length(words[len(start) :])})
            return Done(f"Set {start} to {words[len(start) :].strip()}", made, chosen)
    if low.startswith("level fine "):
        return Done(f"Set {low}", edits.set_truing(job, level_fine=angle(words[11:].removesuffix("°"))), chosen)
    name, _, typed = words.partition(" ")
    old = edits.find_measured(job, name)
    if typed.strip().lower() == "gone":
        return Done(f"Take reading {old.id} away", edits.remove_measured(job, [old.id]), chosen)
    if not typed.strip():
        raise Problem(f"Nothing was typed for {old.id}.", where=old.id, hint="Write what was read, or gone.")
    read, day = split_day(typed)
    if isinstance(old, MeasuredSlope):
        changed: dict[str, float] = {"slope": angle(read.removesuffix("°"))}
    else:
        changed = {"distance" if isinstance(old, TapedDistance) else "height": units.read_length(read)}
    return Done(f"Correct {old.id}", edits.change_measured(job, old.id, when=day, **changed), chosen)


COMMANDS = (
    Command("tape", TAPE_EXAMPLE, "keeps a distance taped between two joints of the built frame", tape),
    Command("height", HEIGHT_EXAMPLE, "keeps how high a joint of the built frame stands over the table", height),
    Command("slope", SLOPE_EXAMPLE, "keeps the slope of a level laid from one joint to another, degrees", slope),
    Command(
        "true",
        said.example("true within [1.5]"),
        "sets how the built frame is measured: datum of three joints or best fit, within, tape error, how fine; "
        "corrects or takes away a reading",
        true,
    ),
)
