"""Lightening holes: the twist stiffness that they cost, beside the weight that they save (which `fittings` tells)."""

from ironcage.core.answers.prove import stiffness
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.job import edits
from ironcage.core.job.values.fittings import Holes, Panel
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem


@remembered(*stiffness.FRAME_PARTS)
def twist_costs(job: Job) -> dict[str, float]:
    """The share of twist stiffness that each set of holes, with its mirror, takes from the frame, by fitting: 0.01
    where it would be 1 % stiffer without.

    Only of holes in panels, whose sheet carries less for them (`fittings.open_shares`); plates in corners count by
    their outline. None of a frame that can't be twisted.
    """
    made = {}
    for f in job.fittings:
        if isinstance(f, Holes) and isinstance(job.fitting_by_id[f.host], Panel):
            try:
                without = stiffness.torsion_of(edits.remove_fittings(job, [f.id]))
                made[f.id] = without / stiffness.twist(job).stiffness - 1
            except Problem:
                return {}
    return made
