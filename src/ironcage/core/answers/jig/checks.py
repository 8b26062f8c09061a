"""Snags of Jig: stands that are missing, off the table, too low or with nothing to carry."""

from collections.abc import Iterator

from ironcage.core.answers.jig import stands as jig
from ironcage.core.answers.shared.snag import Snag, named
from ironcage.core.job.values.model import Job
from ironcage.units import said

NEAR_SADDLE_MM = 0.05


def stands(job: Job) -> Iterator[Snag]:
    """Stands that are missing, off the table, too low or with nothing to carry."""
    made = jig.answer(job)
    if job.tubes and len(made.stands) < 3:
        yield Snag(
            "unknown",
            "no stands",
            "jig",
            f"{len(made.stands) or 'No'} {'joint stands' if len(made.stands) == 1 else 'joints stand'} "
            "on the table; three or more hold a frame.",
            (),
            "Choose joints and type: stand",
        )
    off = tuple(s.joint for s in made.stands if not s.on_table)
    if off:
        yield Snag(
            "wrong",
            "off the table",
            "jig",
            f"{named(off)} {'stands' if len(off) == 1 else 'stand'} off the table.",
            off,
            "Move or enlarge the table.",
        )
    low = tuple(s.joint for s in made.stands if s.saddle < job.table.least_saddle - NEAR_SADDLE_MM)
    if low and made.best_top_z is not None:
        yield Snag(
            "wrong",
            "saddle too low",
            "jig",
            f"The saddle at {named(low)} is lower than the least height of {said.size(job.table.least_saddle)}.",
            low,
            f"Put the table's top at {said.length(made.best_top_z)}.",
        )
    bare = tuple(s.joint for s in made.stands if not s.tube)
    if bare:
        yield Snag(
            "look",
            "nothing to carry",
            "jig",
            f"No tube at {named(bare)} is level enough for a saddle.",
            bare,
            "Choose another joint or clamp it.",
        )


CHECKS = (stands,)
