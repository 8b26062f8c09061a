"""How a car's weight stands to its wheelbase, by which links hold it up under brakes and drive."""

from ironcage.core.answers.shared.mass import weigh
from ironcage.core.job.values.model import Job

WEIGHED = ("parts", "people", "tubes", "shelf", "masses", "fittings", "brief", "chains")  # what a weight depends on


def lift_share(job: Job) -> float | None:
    """The height of the centre of gravity as a share of the wheelbase; None where masses or wheels are not known."""
    weighed = weigh(job)
    known = weighed.car.mass > 0 and weighed.wheelbase
    return float(weighed.car.cg[2]) / weighed.wheelbase if known and weighed.wheelbase else None
