"""Commands that put joints somewhere: joint, x, y, z, r, part, pair, merge."""

from ironcage.core.job import edits
from ironcage.core.job.text.axes import by_axis
from ironcage.core.job.text.command import Chosen, Command, Done, counted, joints_of, read_place, with_datum
from ironcage.core.job.text.structure import split
from ironcage.core.job.text.ties import on_tube, place_joint
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said


def joint(job: Job, chosen: Chosen, rest: str) -> Done:
    """Add a joint and, unless `alone`, the one opposite."""
    on = on_tube(job, rest)
    if on:
        return split(job, (on[0],), on[1])
    alone = rest.rstrip().endswith(" alone")
    made = place_joint(job, rest) or edits.add_joint(
        job, read_place(job, rest.rstrip().removesuffix(" alone")), mirrored=not alone
    )
    new = tuple(j.id for j in made.joints[len(job.joints) :])
    return Done(f"Add {' and '.join(new)}", made, new[:1])


def coordinates(job: Job, chosen: Chosen, text: str) -> Done:
    """`x 100` puts, `z+25` moves; several axes in one line; `r` counts rearward from the datum. Joints and placed
    things alike."""
    names = [c for c in chosen if c in job.placed]
    names = [*joints_of(job, chosen, need=0 if names else 1), *names]
    body, datum = with_datum(job, text)
    units = units_of(job)
    puts: dict[str, float] = {}
    moves: dict[str, float] = {}
    for amount in by_axis(body, "xyzr"):
        axis, value = amount.axis, units.read_length(amount.typed)
        if amount.moves:
            moves["dx" if axis == "r" else f"d{axis}"] = -value if axis == "r" else value
        elif axis == "r":
            puts["x"] = datum.x - value
        else:
            puts[axis] = getattr(datum, axis) + value
    made = edits.put_things(job, names, **puts) if puts else job
    made = edits.move_things(made, names, **moves) if moves else made
    return Done(
        f"Move {counted(names, 'things' if any(n in job.placed for n in names) else 'joints')} {text.strip()}",
        made,
        chosen,
    )


def merge(job: Job, chosen: Chosen, rest: str) -> Done:
    """Merge the second chosen joint into the first."""
    names = [job.joint(n).id for n in rest.split()] or joints_of(job, chosen, need=2)
    if len(names) != 2:
        raise Problem(f"Two joints can be merged, and {len(names)} are named.", hint="Choose the one that stays first.")
    return Done(f"Merge {names[1]} into {names[0]}", edits.merge(job, names[0], names[1]), (names[0],))


def part(job: Job, chosen: Chosen, rest: str) -> Done:
    """Part the chosen joints from their mirrors."""
    names = joints_of(job, chosen)
    return Done(f"Part {counted(names, 'joints')} from the mirror", edits.unpair(job, names), chosen)


def pair(job: Job, chosen: Chosen, rest: str) -> Done:
    """Pair two joints that stand opposite each other."""
    names = joints_of(job, chosen, need=2)
    return Done(f"Pair {names[0]} with {names[1]}", edits.pair(job, names[0], names[1]), chosen)


COMMANDS = (
    Command(
        "joint",
        said.example("joint [0] [250] [300]"),
        said.example(
            "adds a joint and its mirror (‘alone’: none); also at B1 foot, beside J2L z[-40], on T3L 40%, "
            "from J2L to z [200]"
        ),
        joint,
    ),
    Command(
        "x",
        said.example("x [100]"),
        said.example("puts the chosen joints at x; x+[25] moves them; y and z likewise, several in one line"),
        coordinates,
    ),
    Command("r", "r 45 1/2 from firewall", "puts the chosen joints so far rearward of a datum", coordinates),
    Command("merge", "merge", "makes two chosen joints one; the first stays", merge),
    Command("part", "part", "parts the chosen joints from their mirrors", part),
    Command("pair", "pair", "pairs two joints that stand opposite each other", pair),
)
