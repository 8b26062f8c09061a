"""Sections compared: what one is against another, and the nearest equals that can be bought."""

from __future__ import annotations

from dataclasses import dataclass

from ironcage.core.job.shelf.library import library
from ironcage.core.job.values.model import Job, Material, Section

MOST = 6


@dataclass(frozen=True)
class SectionFigures:
    """A section in a material. area mm²; bending: the lesser EI, N·mm²; torsion: GJ, N·mm²; kg: of a metre; price:
    of a metre, 0 not known."""

    name: str
    area: float
    bending: float
    torsion: float
    kg: float
    price: float


def figures(section: Section, material: Material) -> SectionFigures:
    """What a section is, in a material."""
    p = section.shape.properties(material.poisson)
    return SectionFigures(
        section.name,
        p.area,
        material.e * min(p.i_y, p.i_z),
        material.g * p.j,
        p.area * material.density * 1e-6,
        section.price,
    )


def equals(job: Job, section: Section, material: Material) -> tuple[SectionFigures, ...]:
    """The sections on the shelf and in the library of the same shape that bend and twist at least as stiffly,
    lightest first."""
    wanted = figures(section, material)
    known = {s.name: s for s in (*library().sections, *job.shelf.sections)}
    made = [
        figures(s, material)
        for s in known.values()
        if s.name != section.name and s.shape.family == section.shape.family
    ]
    fits = [f for f in made if f.bending >= wanted.bending * ALIKE and f.torsion >= wanted.torsion * ALIKE]
    return tuple(sorted(fits, key=lambda f: f.kg)[:MOST])


ALIKE = 0.995  # within half a percent is as stiff
