"""Commands on tubes: tube, split, section, material, role, roll, pin, through, delete."""

import re
from itertools import pairwise
from typing import get_args

from ironcage.core.job import edits
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.shelf.library import library, section_called
from ironcage.core.job.text.command import Chosen, Command, Done, counted, joints_of, tubes_of
from ironcage.core.job.values.model import Job, Role, Section
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import Units, angle, said

MOST_NAMED = 8  # materials in a refusal


def tube(job: Job, chosen: Chosen, rest: str) -> Done:
    """Join two or more joints in a chain, named or chosen; section and material as the last tube unless typed."""
    words = rest.split()
    count = next((n for n, w in enumerate(words) if not re.fullmatch(r"[Jj]\d+[LRlr]?", w)), len(words))
    named = [job.joint(w).id for w in words[:count]]
    names = named or joints_of(job, chosen, need=2)
    if len(names) < 2:
        raise Problem(f"{names[0]} alone makes no tube.", where=names[0], hint="Name or choose a second joint.")
    usual = edits.like_the_last(job)
    typed = " ".join(words[count:])
    section: Section | str = section_called(job, typed) if typed else usual[0]
    made, laid = job, []
    for a, b in pairwise(names):
        before = len(made.tubes)
        made = edits.add_tube(made, a, b, section, *usual[1:])
        laid.append(made.tubes[before].id)  # its mirror comes after it, and changes with it
    new = [t.id for t in made.tubes[len(job.tubes) :]]
    added = new[0] if len(new) == 1 else " and ".join(new) if len(new) == 2 else f"{len(new)} tubes"
    return Done(
        f"Add {added}{_sizes(section, units_of(job)) if isinstance(section, Section) else ''}",
        made,
        tuple(laid),
    )


def _sizes(section: Section, units: Units) -> str:
    """The sizes of a section that was typed, as they were understood: `, 38.1 x 2.41 mm`."""
    told = [units.fine(v, unit=False).rstrip("0").rstrip(".") for v in section.shape.typed[0]]
    return f", {' x '.join(told)} {units.length_name}"


def split(job: Job, chosen: Chosen, rest: str) -> Done:
    """Split tubes in the middle, at a share (40%), or at a distance from the first joint or from a named one."""
    made = job
    names = tubes_of(job, chosen)
    for name in names:
        made = edits.split(made, name, _share(job, name, rest))
    fresh = tuple(j.id for j in made.joints[len(job.joints) :])
    return Done(f"Split {counted(names, 'tubes')}", made, fresh[:1])


def _share(job: Job, name: str, rest: str) -> float:
    text, _, end = rest.strip().partition("from ")
    here = job.tube(name)
    if not text.strip() or text.strip() == "middle":
        return 0.5
    if text.strip().endswith("%"):
        try:
            share = float(text.strip()[:-1]) / 100
        except ValueError:
            raise Problem(f"‘{text.strip()}’ is not a share.", where=text, hint="Write for example 40%") from None
    else:
        share = units_of(job).read_length(text) / route_of(job, here).length
    if end.strip():
        joint = job.joint(end.strip()).id
        if joint not in here.ends:
            raise Problem(f"{name} does not end at {joint}.", where=joint, hint=f"It ends at {here.a} and {here.b}.")
        share = 1 - share if joint == here.b else share
    return share


def section(job: Job, chosen: Chosen, rest: str) -> Done:
    """Give the chosen tubes a section."""
    names = tubes_of(job, chosen)
    found = section_called(job, rest)
    return Done(f"Make {counted(names, 'tubes')} {found.name}", edits.change_tubes(job, names, section=found), chosen)


def material(job: Job, chosen: Chosen, rest: str) -> Done:
    """Give the chosen tubes a material, by the start of its name."""
    names = tubes_of(job, chosen)
    known = {m.name: m for m in (*job.shelf.materials, *library().materials)}
    plain = rest.strip().lower()
    fits = [m for m in known.values() if plain and m.name.lower().startswith(plain)]
    if not fits:
        called = [name for name in known if plain and plain in name.lower()] or list(known)
        raise Problem(
            f"There is no material ‘{rest.strip()}’.",
            where=rest,
            hint=nearest(rest, known) or f"There are {', '.join(called[:MOST_NAMED])}.",
        )
    return Done(
        f"Make {counted(names, 'tubes')} {fits[0].name}", edits.change_tubes(job, names, material=fits[0]), chosen
    )


def role(job: Job, chosen: Chosen, rest: str) -> Done:
    """Say what the chosen tubes are for."""
    names = tubes_of(job, chosen)
    plain = rest.strip().lower()
    if plain not in get_args(Role):
        roles = [r for r in get_args(Role) if r]
        raise Problem(
            f"‘{rest.strip()}’ is not a role.",
            where=rest,
            hint=f"{nearest(plain, roles)} There are {', '.join(roles)}.".strip(),
        )
    return Done(
        f"Make {counted(names, 'tubes')} {plain or 'no role'}", edits.change_tubes(job, names, role=plain), chosen
    )


def roll(job: Job, chosen: Chosen, rest: str) -> Done:
    """Turn the section of the chosen tubes about their axes."""
    names = tubes_of(job, chosen)
    return Done(
        f"Roll {counted(names, 'tubes')} {rest.strip()}°", edits.change_tubes(job, names, roll=angle(rest)), chosen
    )


_PINS = {"first": (True, False), "second": (False, True), "both": (True, True), "none": (False, False)}


def pin(job: Job, chosen: Chosen, rest: str) -> Done:
    """Make ends of the chosen tubes ball joints: first, second, both, none."""
    names = tubes_of(job, chosen)
    which = rest.strip().lower() or "both"
    if which not in _PINS:
        raise Problem(
            f"‘{rest.strip()}’ is no end.", where=rest, hint="Write pin first, pin second, pin both or pin none."
        )
    a, b = _PINS[which]
    words = "Weld both ends of" if which == "none" else f"Pin {which} of"
    return Done(f"{words} {counted(names, 'tubes')}", edits.change_tubes(job, names, pinned_a=a, pinned_b=b), chosen)


MOST_TURNS = 99


def sequence(job: Job, chosen: Chosen, rest: str) -> Done:
    """Say in which turn the chosen tubes go in, at every joint they share with others."""
    names = tubes_of(job, chosen)
    text = rest.strip().replace("−", "-")
    if not re.fullmatch(r"[-+]?\d{1,3}", text) or abs(int(text)) > MOST_TURNS:
        raise Problem(
            f"‘{rest.strip()}’ is no turn." if text else "The number of the turn is missing.",
            where=rest,
            hint=f"Write a whole number from -{MOST_TURNS} to {MOST_TURNS}, such as sequence -1; 0 is where all begin.",
        )
    made = edits.change_tubes(job, names, sequence=int(text))
    return Done(f"Put {counted(names, 'tubes')} in at turn {int(text)}", made, chosen)


def through(job: Job, chosen: Chosen, rest: str) -> Done:
    """Let the chosen tube run through the chosen joint; with a joint alone, leave it to the program."""
    joint = joints_of(job, chosen)[0]
    tubes = [c for c in chosen if c in job.tube_by_id]
    words = f"Run {tubes[0]} through {joint}" if tubes else f"Let the program choose at {joint}"
    return Done(words, edits.set_through(job, joint, tubes[0] if tubes else None), chosen)


def delete(job: Job, chosen: Chosen, rest: str) -> Done:
    """Delete what is chosen, on both sides."""
    names = rest.split() or list(chosen)
    parts = {p.id for p in job.pickups} | {p.id for p in job.wheels} | {p.id for p in job.masses}
    if names and all(n in parts for n in names):
        return Done(f"Remove {counted(names, 'parts')}", edits.remove_parts(job, names), ())
    placed = [n.upper() for n in names if n.upper() in job.placed]
    if placed:
        others = [n for n in names if n.upper() not in job.placed]
        made = edits.remove_placed(job, placed)
        return Done(f"Remove {counted(placed, 'things')}", edits.delete(made, others) if others else made, ())
    fitted = [n.upper() for n in names if n.upper() in job.fitting_by_id]
    if fitted:
        made = edits.remove_fittings(job, fitted)
        others = [n for n in names if n.upper() not in job.fitting_by_id]
        return Done(f"Remove {counted(fitted, 'fittings')}", edits.delete(made, others) if others else made, ())
    return Done(f"Delete {counted(names, 'things') if names else ''}", edits.delete(job, names), ())


COMMANDS = (
    Command(
        "tube",
        said.example("tube J1L J2L [38] x [2]"),
        "joins the chosen (or named) joints in a chain; section as the last tube unless typed",
        tube,
    ),
    Command(
        "split",
        said.example("split [300] from J1L"),
        "splits the chosen tubes in the middle, at a share (40%) or at a distance",
        split,
    ),
    Command("section", 'section 1-1/2" x 12 ga', "gives the chosen tubes a section, by name or by sizes", section),
    Command("material", "material chromium", "gives the chosen tubes a material", material),
    Command("role", "role diagonal", "sets what the chosen tubes are for", role),
    Command("roll", "roll 45", "turns the section of the chosen tubes about their axes, degrees", roll),
    Command("pin", "pin both", "makes ends of the chosen tubes ball joints: first, second, both, none", pin),
    Command("through", "through", "lets the chosen tube run through the chosen joint; others are cut to it", through),
    Command(
        "sequence",
        "sequence -1",
        "sets in which turn the chosen tubes go in: where tubes meet, each is cut to those of an earlier turn",
        sequence,
    ),
    Command("delete", "delete", "deletes what is chosen or named, on both sides", delete),
)
