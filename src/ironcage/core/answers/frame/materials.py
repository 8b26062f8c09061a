"""Frame: what it is made of, section by section, and the sheet and fittings on it. Bays and symmetry are answers of
their own."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ironcage.core.answers.shared import fittings
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.frame_arrays import lines
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.job.values.model import Job

if TYPE_CHECKING:
    from ironcage.core.answers.shared.fitted.shop import Fitted


@dataclass(frozen=True)
class SectionBill:
    """How much of one section and material is to be bought, tubes of a donor left out: tubes, metres centre to
    centre, kg."""

    section: str
    material: str
    tubes: int
    metres: float
    kg: float


@dataclass(frozen=True)
class FrameAnswer:
    """Counts, the length of all tubes (mm), mass (kg) of frame and of the fittings among it, size of the box round
    the joints (mm), the bill by section, how many tubes are of a donor and so not on it, and the fittings."""

    joints: int
    tubes: int
    pairs: int
    length: float
    mass: float
    cg: tuple[float, float, float]
    box: tuple[float, float, float]
    bill: tuple[SectionBill, ...]
    donors: int
    fittings_mass: float
    fittings: tuple[Fitted, ...]


@remembered("tubes")
def _alike(job: Job) -> dict[tuple[str, str], list[int]]:
    """The rows of the tubes of each section and material that are to be bought."""
    groups: dict[tuple[str, str], list[int]] = {}
    for k, t in enumerate(job.tubes):
        if t.donor:
            continue
        groups.setdefault((t.section, t.material), []).append(k)
    return groups


def answer(job: Job) -> FrameAnswer:
    """Count and weigh the frame."""
    weighed = weigh(job)
    bill = tuple(
        SectionBill(*key, len(rows), float(weighed.lengths[rows].sum()) / 1000, float(weighed.tube_masses[rows].sum()))
        for key, rows in _alike(job).items()
    )
    places = lines(job).nodes
    box = np.ptp(places, axis=0) if len(places) else np.zeros(3)
    x, y, z = (float(v) for v in weighed.frame.cg)
    return FrameAnswer(
        joints=len(job.joints),
        tubes=len(job.tubes),
        pairs=sum(1 for j in job.joints if j.twin and j.twin != j.id) // 2,
        length=float(weighed.lengths.sum()),
        mass=weighed.frame.mass,
        cg=(x, y, z),
        box=(float(box[0]), float(box[1]), float(box[2])),
        bill=tuple(sorted(bill, key=lambda b: -b.kg)),
        donors=sum(t.donor for t in job.tubes),
        fittings_mass=weighed.fittings,
        fittings=fittings.fitting_facts(job),
    )
