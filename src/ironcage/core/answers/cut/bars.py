"""Bars: what is bought for the pieces to be cut, and which are cut from which bar."""

from __future__ import annotations

from dataclasses import dataclass

from ironcage.core.answers.cut import pieces
from ironcage.core.answers.cut.markout import OF_PIECE, lengths
from ironcage.core.answers.cut.progress import progress
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.nest.bars import Layout, Saw, lay_out
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units.tables import INCH

USUAL_MM = {"mm": 6000.0, "inch": 240 * INCH}
OF_CAR = "·"  # between a piece and the number of the car, from the second on
HOW = (
    "Each piece, or each length that an insert joins, is laid out by its bar length, cut square, with a kerf for each. "
    "Grain, dents and a bend that needs the bar whole are not looked at; pieces of one section and material share bars."
)


@dataclass(frozen=True)
class SectionBars:
    """The bars of one section and material. pieces, lengths: by number, as the layout has them, mm, a
    piece that inserts join once for each length; kg and money (None:
    no price is known): of what is bought; problem: why they can't be laid out."""

    section: str
    material: str
    pieces: tuple[str, ...]
    lengths: tuple[float, ...]
    layout: Layout | None
    kg: float = 0.0
    money: float | None = None
    problem: str = ""


@dataclass(frozen=True)
class BarsAnswer:
    """Every section's bars, in the order of the cut list. done: how many pieces are cut already and left out."""

    sections: tuple[SectionBars, ...]
    done: int = 0

    @property
    def money(self) -> float | None:
        """What all bars cost that are bought; None where a price is missing."""
        return None if any(s.money is None for s in self.sections) else sum(s.money or 0.0 for s in self.sections)


@remembered("joints", "tubes", "shelf", "fittings", "buying", "brief", "cutting")
def find_bars(job: Job) -> BarsAnswer:
    """Lay all pieces that are still to be cut out on bars."""
    groups: dict[tuple[str, str], list[pieces.Piece]] = {}
    made, far = pieces.answer(job).pieces, progress(job)
    waiting = [piece for piece in made if not far[piece.id].done]
    for piece in waiting:
        groups.setdefault((piece.stock.name, piece.material), []).append(piece)
    sections = tuple(_section_bars(job, *key, some) for key, some in groups.items())
    return BarsAnswer(sections, len(made) - len(waiting))


def rests(job: Job) -> tuple[list[tuple[str, float]], list[tuple[str, float]]]:
    """What goes back to the shop's rack when all is cut, as section and length (mm): rests that are long enough and
    offcuts that nothing was cut from; and the offcuts that are used up."""
    left: list[tuple[str, float]] = []
    used: list[tuple[str, float]] = []
    for of in find_bars(job).sections:
        for bar in of.layout.bars if of.layout else ():
            if not bar.bought:
                used.append((of.section, bar.length))
            if bar.rest >= job.buying.least:
                left.append((of.section, bar.rest))
    return left, used


def piece_named(name: str) -> str:
    """The piece that something on a bar is of, or is a length of."""
    return name.split(OF_CAR, maxsplit=1)[0].split(OF_PIECE, maxsplit=1)[0]


def sold_lengths(job: Job, section: str) -> tuple[float, ...]:
    """In which lengths a section is on sale, mm."""
    own = next((o.lengths for o in job.buying.own if o.section == section), ())
    return own or job.buying.lengths or (USUAL_MM[units_of(job).length_unit],)


def _section_bars(job: Job, section: str, material: str, made: list[pieces.Piece]) -> SectionBars:
    buying, shelf = job.buying, job.section(section)
    each = [length for p in made for length in lengths(job, p)]
    cars = range(1, buying.cars + 1)
    names = tuple(of.name if car == 1 else f"{of.name}{OF_CAR}{car}" for car in cars for of in each)
    wanted = tuple(of.length for _ in cars for of in each)
    rack = [o.length for o in buying.offcuts if o.section == section]
    try:
        saw = Saw(buying.kerf, buying.grip)
        layout = lay_out(wanted, sold_lengths(job, section), rack, saw)
    except Problem as problem:
        return SectionBars(section, material, names, wanted, None, problem=str(problem))
    made_of = job.material(material)
    kg = shelf.shape.properties(made_of.poisson).area * made_of.density * 1e-9 * layout.bought
    money = shelf.price * layout.bought / 1000 if shelf.price or not layout.bought else None
    return SectionBars(section, material, names, wanted, layout, kg, money)
