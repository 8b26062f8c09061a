"""Bars: the lengths on sale, the saw, and the offcuts that are there."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from typing import Any

from ironcage.core.job.values.buying import Offcut, OwnBars
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, nearest


def set_buying(job: Job, **changes: Any) -> Job:
    """Change fields of how bars are bought and sawn; lengths in mm."""
    return job.but(buying=job.buying.but(**changes))


def set_bars(job: Job, lengths: Sequence[float], section: str = "") -> Job:
    """Say in which lengths (mm) bars are on sale, all or those of a section; with no length, as is usual, or as the
    others are."""
    kept = tuple(dict.fromkeys(sorted(lengths)))
    if not section:
        return set_buying(job, lengths=kept)
    others = tuple(own for own in job.buying.own if own.section != section)
    return set_buying(job, own=(*others, OwnBars(section=section, lengths=kept)) if kept else others)


def add_offcut(job: Job, section: str, length: float) -> Job:
    """Put an offcut (mm) on the rack, with the next id."""
    number = job.buying.last_offcut + 1
    new = Offcut(id=f"K{number}", section=section, length=length)
    return set_buying(job, offcuts=(*job.buying.offcuts, new), last_offcut=number)


def take_offcuts(job: Job, rests: Iterable[tuple[str, float]]) -> Job:
    """Put offcuts, as section and length (mm), on the job's rack: of sections that its tubes have, and such as are not
    on it yet."""
    used = {name for t in job.tubes for name in (t.section, t.taper, t.cut_from)}
    there = Counter((o.section, round(o.length, 1)) for o in job.buying.offcuts)
    for section, length in rests:
        if there[section, round(length, 1)]:
            there[section, round(length, 1)] -= 1
        elif section in used:
            job = add_offcut(job, section, length)
    return job


def remove_offcut(job: Job, name: str) -> Job:
    """Take an offcut off the rack."""
    found = next((o for o in job.buying.offcuts if o.id == name.upper()), None)
    if found is None:
        raise Problem(
            f"There is no offcut ‘{name}’.", where=name, hint=nearest(name.upper(), [o.id for o in job.buying.offcuts])
        )
    return set_buying(job, offcuts=tuple(o for o in job.buying.offcuts if o is not found))
