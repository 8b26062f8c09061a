"""The builder's own sections and materials: stock NAME = SIZES, stock NAME = e … g … density … yield … welded …"""

import re

from ironcage.core.job import edits
from ironcage.core.job.shelf.library import read_section
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.values.model import Job, Material
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import said

_FIELDS = {"e": "e", "g": "g", "density": "density", "yield": "yield_strength", "welded": "as_welded_yield"}
EXAMPLE = "stock Shop steel = e 210000 g 81000 density 7850 yield 400 welded 320"


def stock(job: Job, chosen: Chosen, rest: str) -> Done:
    """Put a section of the builder's own, or a material, on the shelf; one of that name gets the new figures."""
    name, found, figures = (part.strip() for part in rest.partition("="))
    if not found or not name:
        raise Problem(
            "A name and what it is are missing.",
            where="stock",
            hint=f"Write for example: stock Hoop = 45 x 2.5, or {EXAMPLE}",
        )
    if re.match(r"(e|g|density|yield|welded)\s", figures, re.IGNORECASE):
        return Done(f"Put {name} on the shelf", edits.put_material(job, _material(name, figures)), chosen)
    section = read_section(figures, units_of(job)).but(name=name, series="own")
    return Done(f"Put {name} on the shelf", edits.put_section(job, section), chosen)


def _material(name: str, figures: str) -> Material:
    """A material from words and numbers in turn: moduli and strengths in MPa, density in kg/m³."""
    words = figures.split()
    values: dict[str, float] = {}
    for word, number in zip(words[::2], [*words[1::2], ""], strict=False):
        if word.lower() not in _FIELDS:
            raise Problem(
                f"A material has no ‘{word}’.",
                where=word,
                hint=nearest(word, _FIELDS) or f"It has {', '.join(_FIELDS)}.",
            )
        try:
            values[_FIELDS[word.lower()]] = float(number.replace(",", ""))
        except ValueError:
            raise Problem(
                f"‘{number}’ after {word} is not a number.", where=word, hint=f"Write for example: {EXAMPLE}"
            ) from None
    missing = [word for word, field in _FIELDS.items() if field not in values]
    if missing:
        raise Problem(f"{name} still needs {', '.join(missing)}.", where=name, hint=f"Write for example: {EXAMPLE}")
    return Material(name=name, source="the builder's own", **values)


COMMANDS = (
    Command(
        "stock",
        EXAMPLE,
        said.example("puts a material of your own on the shelf; ‘stock Hoop = [45] x [2.5]’ a section"),
        stock,
    ),
)
