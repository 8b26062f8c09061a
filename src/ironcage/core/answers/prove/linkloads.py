"""What pulls and pushes the links of the wheels in the load cases, and how much of their tubes that takes."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers import run
from ironcage.core.answers.prove import cases
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.frames.strength import column_stress
from ironcage.core.job.values.model import Job

LINKS_ASSUMED = (
    "Links pull and push along themselves, their ends pinned; the tube alone is judged, by its yield beside the welds "
    "of its inserts and as a column. Rod ends, inserts, bolts and brackets are not in it, nor is a knock from the side."
)


@dataclass(frozen=True)
class LinkLoad:
    """A link of an end in its worst cases. pull, push: N, each the most of both sides, in which case, 0 and nothing
    where it is never pulled or pushed; used: how much of its tube that takes; section, material: of the tube."""

    axle: str
    link: str
    pull: float
    pull_case: str
    push: float
    push_case: str
    used: float
    section: str
    material: str


@remembered(*cases.CASE_PARTS)
def link_loads(job: Job) -> tuple[LinkLoad, ...]:
    """Every link that only pulls and pushes. Raises Problem where the links of an end are incomplete."""
    links = run.axial_links(job)
    if not links:
        return ()
    told = [case for case in cases.load_cases(job) if not case.problem]
    material = run.frame_material(job)
    made = []
    for link in links:
        forces = [
            (float(push.force @ link.ways[push.what]), case.name)
            for case in told
            for push in case.pushes
            if push.what in link.ways
        ]
        pull, pull_case = max([(force, name) for force, name in forces if force > 0], default=(0.0, ""))
        push, push_case = min([(force, name) for force, name in forces if force < 0], default=(0.0, ""))
        if not forces:
            continue
        section = link.section.shape.properties(material.poisson)
        radius = math.sqrt(min(section.i_y, section.i_z) / section.area)
        critical = column_stress(
            np.array([link.length]), np.array([radius]), np.array([material.e]), np.array([material.yield_strength])
        )[0]
        most = max(pull, -push) / section.area / material.as_welded_yield
        used = max(most, -push / section.area / float(critical))
        made.append(
            LinkLoad(
                link.axle,
                link.name,
                pull,
                pull_case,
                -push,
                push_case,
                used,
                link.section.name,
                material.name,
            )
        )
    return tuple(made)
