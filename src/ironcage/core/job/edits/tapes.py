"""Tapes that stay on the table."""

from collections.abc import Sequence

from ironcage.core.job.values.model import Job, KeptTape
from ironcage.problem import Problem


def keep_tape(job: Job, things: Sequence[str]) -> Job:
    """Let a tape between two things, or the angle at the second of three joints, stay on the table. Raises Problem
    where it is there already."""
    if any(tape.things == tuple(things) for tape in job.tapes):
        raise Problem(f"A tape goes between {' and '.join(things)} already.", where=things[0])
    return job.but(tapes=(*job.tapes, KeptTape(things=tuple(things))))


def drop_tapes(job: Job, things: Sequence[str]) -> Job:
    """Take away the tape between some things, all that are held to one, or with nothing named all. Raises Problem where
    there is none."""
    kept = tuple(tape for tape in job.tapes if not set(things) <= set(tape.things))
    if len(kept) == len(job.tapes):
        raise Problem("There is no such tape on the table.", where=" ".join(things))
    return job.but(tapes=kept)
