"""Where a twisted frame's work is done, bay by bay."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ironcage.core.answers import frame
from ironcage.core.answers.prove import stiffness
from ironcage.core.job.values.model import Job


def by_bay(job: Job) -> stiffness.ProveAnswer:
    """Prove's answer with the share of the twist's energy in each bay, most first: each tube's is shared by the bays
    that it is a side of, so that what is in no bay is left out."""
    told = stiffness.answer(job)
    row = {t.id: n for n, t in enumerate(job.tubes)}
    found = frame.find_bays(job).bays
    sides = np.zeros(len(job.tubes))
    for bay in found:
        sides[[row[t] for t in bay.tubes]] += 1
    each = told.energy / np.maximum(sides, 1)
    shares = [
        stiffness.BayShare(b.corners, b.joints, b.state, float(each[[row[t] for t in b.tubes]].sum())) for b in found
    ]
    return replace(told, bays=tuple(sorted(shares, key=lambda s: -s.energy)))
