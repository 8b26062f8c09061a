"""`calc bend`: a tube by its corner points as a bender marks it; `calc section`: what a section is, beside another."""

import math
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Place, material_of, section_of
from ironcage.core.calc.tubes.centreline import Route, demand_bendable, from_card
from ironcage.problem import Problem


class BendQuestion(Asked):
    """Both ends and the corners between, in order (points), or what a card says: what is straight before, between and
    after the bends, and each bend's angle and clock; the bends' centre-line radius; the straight that the bender needs
    between two."""

    points: Annotated[tuple[Place, ...], Field(max_length=100)] = ()
    straights_mm: Annotated[tuple[Annotated[float, Field(ge=0, le=1e5)], ...], Field(max_length=100)] = ()
    bends_deg: Annotated[tuple[tuple[float, float], ...], Field(max_length=99)] = ()
    radius_mm: Annotated[float, Field(ge=0, le=1e5)]
    grip_mm: Annotated[float, Field(ge=0, le=1e4)] = 0.0


def bend(question: BendQuestion) -> dict[str, Any]:
    """Length along the centreline, and each bend from the first end: where it starts and stops, how far it turns,
    and how its plane is clocked from the last one's."""
    route = _route(question)
    demand_bendable(route, "the tube", question.grip_mm)
    return {
        "length_mm": round(route.length, 4),
        "points_mm": [[round(float(v), 4) for v in p] for p in route.points],
        "straights_mm": [round(float(v), 4) for v in route.straights],
        "bends": [
            {
                "start_mm": round(b.start, 4),
                "stop_mm": round(b.stop, 4),
                "deg": round(math.degrees(b.angle), 5),
                "clock_deg": round(math.degrees(b.clock), 5),
            }
            for b in route.bends
        ],
        "limits": "Centreline geometry: springback and stretch are the bender's own.",
    }


def _route(question: BendQuestion) -> Route:
    """The centreline by its points, or by a card: from the origin along x, its first bend towards y."""
    if len(question.points) > 1:
        return Route(np.array(question.points, dtype=float), question.radius_mm)
    if len(question.straights_mm) != len(question.bends_deg) + 1:
        raise Problem(
            f"{len(question.bends_deg)} bends lie between {len(question.bends_deg) + 1} straights, and "
            f"{len(question.straights_mm)} are given.",
            where="straights_mm",
            hint="Give points, or the straights before, between and after the bends.",
        )
    turns = [(math.radians(angle), math.radians(clock)) for angle, clock in question.bends_deg]
    return from_card(question.straights_mm, turns, question.radius_mm)


class SectionQuestion(Asked):
    """A section, by library name or size, its material, and another to compare with."""

    section: str
    material: str = "Drawn mild steel tube"
    beside: str = ""


def section(question: SectionQuestion) -> dict[str, Any]:
    """Area, second moments, torsion constant, least section modulus, the moment and torque at which it begins to
    yield (shear at 1/√3 of the tensile stress, von Mises), and weight; as shares of the other's where one is given."""
    made = _figures(question.section, question.material)
    if not question.beside:
        return made
    other = _figures(question.beside, question.material)
    return {
        **made,
        "beside": {
            "section": question.beside,
            **{k: round(v / other[k], 5) for k, v in made.items() if isinstance(v, float) and other[k]},
        },
    }


def _figures(name: str, material: str) -> dict[str, Any]:
    m = material_of(material)
    shape = section_of(name)
    p, far = shape.properties(m.poisson), shape.fibres()
    modulus = min(p.i_y / far.z, p.i_z / far.y)
    return {
        "section": name,
        "area_mm2": round(p.area, 4),
        "i_y_mm4": round(p.i_y, 3),
        "i_z_mm4": round(p.i_z, 3),
        "j_mm4": round(p.j, 3),
        "section_modulus_mm3": round(modulus, 4),
        "yield_moment_n_m": round(modulus * m.yield_strength / 1000, 4),
        "yield_moment_at_a_weld_n_m": round(modulus * m.as_welded_yield / 1000, 4),
        "yield_torque_n_m": round(far.twist * m.yield_strength / math.sqrt(3) / 1000, 4),
        "kg_per_m": round(p.area * m.density * 1e-6, 5),
    }
