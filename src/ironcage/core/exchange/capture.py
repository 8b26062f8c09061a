"""The card by which a donor's corner is measured, and what was measured by it."""

from __future__ import annotations

import math
from typing import get_args

from ironcage.core.answers.run.captured import INNER, OUTER, captured
from ironcage.core.exchange.story import Story
from ironcage.core.job.edits.points import Points, demand_within_reach
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import said
from ironcage.units.tables import UNITS_MM

SLOPE = "lower arm slope"
CAUTION = "A spring under load can kill: take it out, or hold the corner by a stay, before a link comes off."
ROOM = "________"
STEPS = (
    "Bolt the bare subframe to a level table, its own levels true, so high that every point can be reached from above.",
    "Snap a line on the table along the car’s middle, half way between the arms’ inner bolts left and right, and one "
    "square to it. All x are measured forward from the second line, all y to the left from the first, all z up from "
    "the table, each to the middle of a bolt, a ball or a wheel. Drop a plumb bob to the table for x and y.",
    "Leave the spring out, and hold the corner still by a stay while you measure: all points belong to one position.",
    f"Measure the left side, and the same y and z on the right: where they differ by more than {said.whole(2.0)}, the "
    "subframe is bent or is not level.",
    "Find how steeply the lower arm falls at ride height, from its inner bolts to its ball joint, seen from the front: "
    "on the donor before it is taken apart, on its own wheels, or from a photo. The corner is then settled to that.",
    "Check three distances with a tape, along the links. They must come out of the points to a millimetre.",
)
CHECKS = (
    ("lower arm front", "lower ball joint"),
    ("lower ball joint", "upper ball joint"),
    ("tie rod inner", "tie rod outer"),
)


def axle_named(text: str) -> Axle:
    """The end that a word names; refuses any other."""
    found = next((a for a in get_args(Axle) if a == text.strip().lower()), None)
    if found is None:
        raise Problem(f"‘{text}’ is no end of the car.", where=text, hint="Write front, or rear.")
    return found


def to_capture(job: Job, which: str) -> bytes:
    """The card of an end as PDF, A4."""
    axle, units = axle_named(which), units_of(job)
    story = Story(units)
    story.title(f"Capture card: {axle} corner on wishbones")
    story.words(f"{job.brief.name}. Donor: {ROOM}{ROOM}   measured by {ROOM}{ROOM}   on {ROOM}")
    story.words(CAUTION)
    for n, step in enumerate(STEPS, 1):
        story.words(f"{n}. {step}")
    story.heading(f"Points of the left side, {units.length_name}")
    head = ("point", "x, forward", "y, to the left", "z, up", "right: y", "right: z")
    story.table(head, [(f"{axle} {name}", *[ROOM] * 5) for name in (*INNER, *OUTER)])
    story.heading("At ride height")
    story.words(f"{axle} {SLOPE}, degrees down to its ball joint: {ROOM}   Camber {ROOM}   Toe in {ROOM}")
    story.heading("Distances to check")
    story.table(("from", "to", "by tape"), [(one, other, ROOM) for one, other in CHECKS])
    story.heading("Into the job")
    story.words(
        "Type the points as a CSV, one a row: name, x, y, z, under a head such as name, x mm, y mm, z mm; names as "
        f"they stand here. The slope is a row of its own, its degrees under x: {axle} {SLOPE}, 6, 0, 0. Leave it out "
        "where all was measured at ride height. Bring it in as a measured corner: it is moved so that its wheel stands "
        "where the car’s does, so a wider track moves each side out."
    )
    return story.pdf(f"{job.brief.name}, capture card", CAUTION)


def bring_capture(job: Job, points: Points, unit: str) -> tuple[Job, str]:
    """Hang the corner that a card tells, its points in a unit; and words on how it came. Raises Problem for rows that
    are none of one card, and as `captured` does."""
    known = (*INNER, *OUTER, SLOPE)
    ends = {name.strip().lower().partition(" ")[0] for name, _ in points.named}
    if len(ends) != 1 or not ends <= set(get_args(Axle)):
        raise Problem(
            "The rows of a card begin with the end that they are of, all with one.",
            where="card",
            hint="For example: front lower ball joint, 12, 590, 180",
        )
    axle = axle_named(ends.pop())
    measured, slope = dict[str, tuple[float, float, float]](), None
    for name, place in points.named:
        word = " ".join(name.lower().split()[1:])
        if word not in known:
            raise Problem(f"The card has no ‘{word}’.", where=word, hint=nearest(word, known) or f"It has {known[0]} …")
        if word == SLOPE:
            slope = math.radians(place[0])
        else:
            x, y, z = (v * UNITS_MM[unit] for v in place)
            measured[word] = (x, y, z)
    demand_within_reach(list(measured.values()), "The card")
    made = captured(job, axle, measured, slope)
    settled = f"settled {said.length(made.settled)} to its slope, " if slope is not None else ""
    x, y, z = made.moved
    return made.job, (
        f"{axle} corner: {made.joints} joints came, {settled}moved {said.length(x)} forward, {said.length(y)} out and "
        f"{said.length(z)} up to its wheel. Camber and toe are yours to set."
    )
