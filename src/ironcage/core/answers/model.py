"""A job as arrays: joints, tube ends, section figures, ready for `calc`."""

import numpy as np

from ironcage.core.answers.cache import remembered
from ironcage.core.calc.beams import Frame
from ironcage.core.job.model import Job


@remembered("joints", "tubes", "shelf")
def beam_frame(job: Job) -> Frame:
    """The job's frame as shear-flexible beams, in the order of `job.joints` and `job.tubes`.

    Tubes are rigidly joined on their centrelines. Raises Problem when there is no tube or one has no length.
    """
    index = {j.id: n for n, j in enumerate(job.joints)}
    materials = {m.name: m for m in job.shelf.materials}
    shapes = {s.name: s.shape for s in job.shelf.sections}
    figures = {}
    for section, material in {(t.section, t.material) for t in job.tubes}:
        m = materials[material]
        p = shapes[section].properties(m.poisson)
        figures[section, material] = (
            m.e, m.g, p.area, p.i_y, p.i_z, p.j, p.shear_area_y, p.shear_area_z, p.tilt,
        )  # fmt: skip
    rows = np.array([figures[t.section, t.material] for t in job.tubes]).reshape(-1, 9)
    return Frame(
        nodes=np.array([j.place for j in job.joints]).reshape(-1, 3),
        ends=np.array([(index[t.a], index[t.b]) for t in job.tubes], dtype=np.int64).reshape(-1, 2),
        e=rows[:, 0], g=rows[:, 1], area=rows[:, 2], i_y=rows[:, 3], i_z=rows[:, 4], j=rows[:, 5],
        shear_area_y=rows[:, 6], shear_area_z=rows[:, 7],
        roll=rows[:, 8] + np.array([t.roll for t in job.tubes]),
        pinned=np.array([(t.pinned_a, t.pinned_b) for t in job.tubes], dtype=bool).reshape(-1, 2),
        node_names=tuple(j.id for j in job.joints),
        beam_names=tuple(t.id for t in job.tubes),
    )  # fmt: skip
