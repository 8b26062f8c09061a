"""Snags: everything that is wrong or unknown in a job, worst first, each with what it is about and a mend.

The same list is on the screen and in `iron-cage check`. A finding never changes the job. Each step says what to look
for; this only lists them.
"""

from collections.abc import Callable, Iterator

from ironcage.core.answers import brief, cut, frame, jig, log, place, prove, run, true
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.snag import RANK, Snag
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import HUNG

Check = Callable[[Job], Iterator[Snag]]
CHECKS: tuple[Check, ...] = (
    *frame.JOINED,
    *prove.PROVABLE,
    *place.WEIGHED,
    *cut.CHECKS,
    *jig.CHECKS,
    *place.CHECKS,
    *run.CHECKS,
    *brief.CHECKS,
    *frame.CHECKS,
    *prove.CHECKS,
    *true.CHECKS,
    *log.CHECKS,
)


@remembered(
    "joints",
    "tubes",
    "shelf",
    "fittings",
    "cutting",
    "pickups",
    "wheels",
    "masses",
    "table",
    "parts",
    "people",
    "chains",
    "shafts",
    "rules",
    "brief",
    "proving",
    "truing",
    "logbook",
    *HUNG,
    "bands",
)
def find_snags(job: Job) -> tuple[Snag, ...]:
    """Every snag of a job, worst first."""
    if not started(job):
        return ()
    found = [snag for check in CHECKS for snag in check(job)]
    return tuple(sorted(found, key=lambda s: RANK[s.severity]))


def started(job: Job) -> bool:
    """Whether there is anything in a job yet."""
    return bool(job.joints or job.placed or job.rules.rules)
