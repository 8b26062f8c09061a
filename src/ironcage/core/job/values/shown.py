"""How a job is shown: the units that its builder chose."""

from ironcage.core.job.values.model import Job
from ironcage.units import Units


def units_of(job: Job) -> Units:
    """The units that a job is typed and shown in."""
    choice = job.brief.units
    return Units(choice.length, choice.fraction, choice.mass)
