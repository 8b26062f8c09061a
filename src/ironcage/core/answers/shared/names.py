"""What a builder calls the thing of an id."""

from ironcage.core.job.values.model import Job


def name_of(job: Job, name: str) -> str:
    """A part's or a person's name, a wheel's corner, a fitting's kind and id; a joint's or tube's id."""
    if name in job.placed:
        return job.placed[name].name or name
    if name in job.fitting_by_id:
        return f"{job.fitting_by_id[name].kind} {name}"
    wheel = next((w for w in job.wheels if w.id == name), None)
    return wheel.tyre_name if wheel else name
