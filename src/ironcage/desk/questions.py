"""What the window asks of the core, put so that it can be asked from another thread.

The answer modules are imported by the thread that first needs them: the window is on the screen by then.
"""

import gc
from collections.abc import Mapping
from functools import cache
from typing import TYPE_CHECKING

from ironcage.core.job.values.model import Job

if TYPE_CHECKING:
    from ironcage.core.answers.findings import Advice, Progress
    from ironcage.core.answers.shared.figures import Figure
    from ironcage.core.answers.shared.snag import Snag


def figures(job: Job, mark: Job) -> "tuple[tuple[Figure, ...], tuple[Figure, ...]]":
    """The tally of a job, and of the job at the mark."""
    from ironcage.core.answers import tally

    return tally.quick(job), tally.quick(mark)


def clashes(job: Job, mark: Job) -> "tuple[tuple[Figure, ...], tuple[Figure, ...]]":
    """The clashes of a job, and of the job at the mark."""
    from ironcage.core.answers import tally

    return (tally.slow(job),), (tally.slow(mark),)


def findings(job: Job) -> "tuple[tuple[Snag, ...], Advice, Mapping[str, Progress]]":
    """Every snag, the next thing to do, and how far each step is."""
    from ironcage.core.answers import findings

    found = findings.find_snags(job)
    _keep_what_is_loaded()
    return found, findings.next_step(job, found), findings.step_progress(job)


@cache
def _keep_what_is_loaded() -> None:
    """By now all that answers is loaded and stays: the garbage collector need not look through it, which takes 25 ms
    in the midst of an edit."""
    gc.freeze()
