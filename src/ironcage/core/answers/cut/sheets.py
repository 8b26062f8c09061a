"""Sheet: every plate of the fittings, every flat part, plate part and adapter, by material and thickness, laid out on
the sheets to buy."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.fittings import fitting_facts
from ironcage.core.answers.shared.patterns import adapters
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.nest.sheets import SheetLayout, lay_on_sheets
from ironcage.core.calc.plane.flats import Flat
from ironcage.core.job.values.cutting import FlatPart
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Outline, Part
from ironcage.problem import Problem

HOW = (
    "Plates are laid out by the rectangle round each, turned to where that is smallest, with the gap between them and "
    "the edge kept; grain and what would fit into the hollow of another are not looked at. Plates that are alike are "
    "cut or drilled as a stack."
)


@dataclass(frozen=True)
class Plate:
    """One plate to cut. name: the fitting's id, with its number where it has several; outline (n, 2) and holes (x, y,
    diameter), mm, its lower left corner at 0, 0; size: of the rectangle round it; openings: other holes (k, 2); bends:
    middle lines of bends (2, 2)."""

    name: str
    kind: str
    outline: Floats
    holes: tuple[tuple[float, float, float], ...]
    size: tuple[float, float]
    openings: tuple[Floats, ...] = ()
    bends: tuple[Floats, ...] = ()


@dataclass(frozen=True)
class SheetPlates:
    """The plates of one material and thickness. used: the share of the sheets' area that is plate; kg: of the sheets;
    problem: why they can't be laid out."""

    material: str
    thickness: float
    plates: tuple[Plate, ...]
    layout: SheetLayout | None
    used: float = 0.0
    kg: float = 0.0
    problem: str = ""


@remembered("joints", "tubes", "shelf", "fittings", "buying", "patterns", "adapters", "cutting", "parts")
def find_sheets(job: Job) -> tuple[SheetPlates, ...]:
    """All plates laid out, the thickest first."""
    groups: dict[tuple[str, float], list[tuple[Plate, float]]] = {}
    for f in fitting_facts(job):
        if f.flat is not None and not f.problem:
            flats = [*(f.flat,) * (f.count - len(f.unlike)), *f.unlike]
            for n, flat in enumerate(flats, 1):
                name = f.id if len(flats) == 1 else f"{f.id}.{n}"
                groups.setdefault((f.material, f.thickness), []).append((_plate(name, f.kind, flat), flat.area))
        if f.flat is not None and not f.problem and f.second[1]:
            for n in range(f.second[1]):
                made = (_plate(f"{f.id}.second{n + 1}", f.kind, f.flat), f.flat.area)
                groups.setdefault((f.material, f.second[0]), []).append(made)
    for part in job.cutting.flats:
        flat = flat_of(part)
        names = [f"{part.name}.{n}" for n in range(1, part.count + 1)] if part.count > 1 else [part.name]
        names += [f"{name}, mirrored" for name in names] if part.handed else []
        material = part.material or (job.tubes[-1].material if job.tubes else "")
        for name in names if material else ():
            groups.setdefault((material, part.thickness), []).append((_plate(name, "flat part", flat), flat.area))
    for p in job.parts:
        if p.kind == "plate" and p.shape.kind == "outline" and job.tubes:
            flat = plate_part(p, p.shape)
            made = (_plate(p.name or p.id, "part", flat), flat.area)
            groups.setdefault((job.tubes[-1].material, p.shape.thickness), []).append(made)
    for a in adapters(job):
        if not a.problem and a.material:
            made = (_plate(a.name, "adapter", a.flat), a.flat.area)
            groups.setdefault((a.material, a.thickness), []).append(made)
    return tuple(_laid(job, *key, made) for key, made in sorted(groups.items(), key=lambda g: -g[0][1]))


def flat_of(part: FlatPart) -> Flat:
    """A flat part as a plate."""
    return Flat(np.array(part.outline, dtype=float), tuple((h.x, h.y, h.diameter) for h in part.holes))


def plate_part(part: Part, shape: Outline) -> Flat:
    """A part of the kind plate as it is cut: its outline, and those of its mount holes that go straight through it."""
    return Flat(np.array(shape.corners, dtype=float), tuple((h.x, h.z, h.diameter) for h in part.holes))


def _laid(job: Job, material: str, thickness: float, made: list[tuple[Plate, float]]) -> SheetPlates:
    plates = tuple(plate for plate, _ in made)
    buying = job.buying
    try:
        layout = lay_on_sheets([p.size for p in plates], buying.sheet, buying.sheet_gap, buying.sheet_edge)
    except Problem as problem:
        return SheetPlates(material, thickness, plates, None, problem=problem.sentence)
    area = len(layout.sheets) * buying.sheet[0] * buying.sheet[1]
    kg = area * thickness * job.material(material).density * 1e-9
    return SheetPlates(material, thickness, plates, layout, sum(a for _, a in made) / area, kg)


def _plate(name: str, kind: str, flat: Flat) -> Plate:
    """A plate turned to where the rectangle round it is smallest."""
    turn = min(_turns(flat.outline), key=lambda t: float(np.prod(np.ptp(flat.outline @ t.T, axis=0))))
    outline = flat.outline @ turn.T
    low = outline.min(axis=0)
    middles = np.array([h[:2] for h in flat.holes]).reshape(-1, 2) @ turn.T - low
    holes = tuple((float(x), float(y), d) for (x, y), (_, _, d) in zip(middles, flat.holes, strict=True))
    width, height = (float(v) for v in np.ptp(outline, axis=0))
    openings = tuple(opening @ turn.T - low for opening in flat.openings)
    bends = tuple(bend @ turn.T - low for bend in flat.bends)
    return Plate(name, kind, outline - low, holes, (width, height), openings, bends)


def _turns(outline: Floats) -> Iterator[Floats]:
    """Turns (2, 2) that lay one side of an outline level: the least rectangle has one of its sides along a side."""
    for way in np.roll(outline, -1, axis=0) - outline:
        size = float(np.hypot(*way))
        if size > 1e-9:
            c, s = way / size
            yield np.array([[c, s], [-s, c]])
