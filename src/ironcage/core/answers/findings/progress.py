"""How far each step of the work is: begun or not, and what share of it is done where that can be counted."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ironcage.core.answers import cut, weld
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import HUNG


@dataclass(frozen=True)
class Progress:
    """How far one step is. share: 0 to 1 of it that is done; None where it has no end to count towards."""

    begun: bool
    share: float | None = None


def _of_weld(job: Job) -> Progress:
    share = weld.welded_share(job)
    return Progress(share is not None, share)


def _of_log(job: Job) -> Progress:
    book = job.logbook
    share = sum(t.done is not None for t in book.tasks) / len(book.tasks) if book.tasks else None
    return Progress(bool(book.entries or book.tasks or book.orders), share)


_STEPS: Mapping[str, Callable[[Job], Progress]] = {
    "brief": lambda job: Progress(bool(job.brief.targets or job.rules.rules or job.brief.deadline)),
    "place": lambda job: Progress(bool(job.placed or job.masses)),
    "run": lambda job: Progress(any(getattr(job, kind) for kind in HUNG)),
    "frame": lambda job: Progress(bool(job.joints)),
    "prove": lambda job: Progress(bool(job.tubes and job.pickups)),
    "cut": lambda job: Progress(bool(job.tubes), cut.cut_share(job)),
    "jig": lambda job: Progress(bool(job.table.stands)),
    "weld": _of_weld,
    "true": lambda job: Progress(bool(job.truing.readings)),
    "log": _of_log,
}


def step_progress(job: Job) -> Mapping[str, Progress]:
    """How far each step is, by the step's key: of Cut the share of pieces that are cut, of Weld that of
    ends that are welded, of Log that of tasks that are
    done."""
    return {step: of(job) for step, of in _STEPS.items()}
