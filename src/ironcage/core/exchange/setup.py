"""The set-up sheet: each end at ride height, its links as they are made and set, with room for what was measured."""

from __future__ import annotations

import math
from collections.abc import Iterable

from ironcage.core.answers.run.bands import end_runs
from ironcage.core.answers.run.links import ASSUMED, EndLinks, LinkMade, links_made
from ironcage.core.exchange.lists import table, unit_of
from ironcage.core.exchange.story import Story
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import KingpinBeam, SwingingArms, Wishbones
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said

CAUTION = "Jam nuts tight, and enough thread in every end, before the car moves; look again after the first run."
ROOM = "________"
HEAD = ("link", "between middles", "left", "right", "tube to cut", "goes from", "to", "tilts", "can tilt", "spacers")


def to_setup(job: Job) -> bytes:
    """The sheet as PDF, A4. Refuses a job whose wheels hang on nothing; raises Problem as `end_runs` does."""
    ends = _demand_ends(job)
    story = Story(units_of(job))
    story.title(f"{job.brief.name}: set-up sheet")
    story.words("At ride height, straight ahead; links of the left side, the right ones are their mirror images.")
    for end in ends.values():
        story.heading(f"{end.axle.capitalize()} wheels")
        for line in _stands(job, end):
            story.words(line)
        if end.links:
            story.table(HEAD, [link_cells(link) for link in end.links])
    story.heading("How it is meant")
    for line in ASSUMED:
        story.words(line)
    return story.pdf(f"{job.brief.name}, set-up sheet", CAUTION)


def to_links_csv(job: Job) -> bytes:
    """The links as CSV, one a row. Refuses a job whose wheels hang on nothing; raises Problem as `end_runs` does."""
    ends = _demand_ends(job)
    unit, size, places = unit_of(job)
    head = ["end", "link", f"between middles {unit}", f"tube {unit}", f"goes from {unit}", f"to {unit}"]
    head += ["tilts inner deg", "tilts outer deg", "can tilt deg"]
    rows = []
    for end in ends.values():
        for link in end.links:
            lengths = (link.length, link.tube, link.shortest, link.longest)
            told = [round(math.degrees(t.most), 2) for t in link.tilts]
            limit = next((round(math.degrees(t.limit), 2) for t in link.tilts if t.limit is not None), "")
            rows.append(
                [end.axle, link.name, *("" if v is None else round(v / size, places) for v in lengths)]
                + ([*told, limit] if len(told) == 2 else ["", *told, limit] if told else ["", "", ""])
            )
    return table(head, rows, units_of(job))


def _demand_ends(job: Job) -> dict[str, EndLinks]:
    ends = links_made(job)
    if not ends:
        raise Problem("No wheel is hung yet.", where="setup", hint="Run is where wheels are hung: press 3.")
    return ends


def _stands(job: Job, end: EndLinks) -> Iterable[str]:
    """How an end stands, in words."""
    hung = end_runs(job)[end.axle].hung
    wheel = edits.left_wheel(job, hung.axle)
    apart = "" if wheel.single else f", {said.length(2 * abs(wheel.y))} apart"
    yield f"Wheel centres {said.length(wheel.z)} over the ground{apart}. {ROOM}"
    if isinstance(hung, Wishbones | KingpinBeam | SwingingArms):
        yield (
            f"Camber {math.degrees(hung.camber):.2f}°, toe in {math.degrees(hung.toe):.2f}° a wheel. Measured: camber "
            f"{ROOM} left, {ROOM} right; toe {ROOM}"
        )
    if end.coil_over is not None:
        yield f"Coil-overs {said.fine(end.coil_over)} between their eyes. {ROOM}"
    if end.eyes.engaged:
        yield f"{said.fine(end.eyes.engaged)} of thread engaged in each insert."


def link_cells(link: LinkMade) -> list[str]:
    """A link as it stands in a table: as of HEAD."""
    lengths = (link.tube, link.shortest, link.longest)
    limit = next((f"{math.degrees(t.limit):.1f}°" for t in link.tilts if t.limit is not None), "–")
    spacers = [t.spacer for t in link.tilts if t.spacer is not None]
    return [
        link.name,
        said.fine(link.length),
        ROOM,
        ROOM,
        *("–" if v is None else said.fine(v) for v in lengths),
        " / ".join(f"{math.degrees(t.most):.1f}°" for t in link.tilts) or "–",
        limit,
        ("none helps" if any(map(math.isnan, spacers)) else said.fine(max(spacers))) if spacers else "–",
    ]
