"""Jobs made by typing."""

from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job


def typed(job: Job, *lines: str, chosen: tuple[str, ...] = ()) -> Job:
    """The job after some lines; each starts with what the one before chose, the first with `chosen`."""
    for line in lines:
        done = understand(line, job, chosen)
        job, chosen = done.job, done.chosen
    return job
