"""Sections compared: what one is against another, and the nearest equals that can be bought."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ironcage.core.job.shelf.library import library
from ironcage.core.job.values.model import Job, Material, Section

MOST = 6
ALIKE = 0.995  # within half a percent is as much
STIFF, STRONG = ("bending", "torsion"), ("moment", "torque")  # what sections are compared by


@dataclass(frozen=True)
class SectionFigures:
    """A section in a material. area mm²; bending: the lesser EI, N·mm²; torsion: GJ, N·mm²; moment: the bending moment
    about the weaker axis at which it begins to yield, N·mm, and torque the same in torsion (shear yields at 1/√3 of
    the tensile stress, von Mises); welded: the moment beside a weld, N·mm; kg: of a metre; price: of a metre, 0 not
    known."""

    name: str
    area: float
    bending: float
    torsion: float
    moment: float
    torque: float
    welded: float
    kg: float
    price: float


def figures(section: Section, material: Material) -> SectionFigures:
    """What a section is, in a material."""
    p, fibres = section.shape.properties(material.poisson), section.shape.fibres()
    modulus = min(p.i_y / fibres.z, p.i_z / fibres.y)
    return SectionFigures(
        section.name,
        p.area,
        material.e * min(p.i_y, p.i_z),
        material.g * p.j,
        modulus * material.yield_strength,
        fibres.twist * material.yield_strength / math.sqrt(3),
        modulus * material.as_welded_yield,
        p.area * material.density * 1e-6,
        section.price,
    )


def equals(
    job: Job, section: Section, material: Material, measures: Sequence[str] = STIFF
) -> tuple[SectionFigures, ...]:
    """The sections on the shelf and in the library of the same shape that are at least as much in all of some measures,
    STIFF, STRONG or both, lightest first."""
    wanted = figures(section, material)
    known = {s.name: s for s in (*library().sections, *job.shelf.sections)}
    made = [
        figures(s, material)
        for s in known.values()
        if s.name != section.name and s.shape.family == section.shape.family
    ]
    fits = [f for f in made if all(getattr(f, m) >= getattr(wanted, m) * ALIKE for m in measures)]
    return tuple(sorted(fits, key=lambda f: f.kg)[:MOST])
