"""A fitting as it is made, and what is looked up for many of one job."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.plane.flats import Flat
from ironcage.core.calc.sections import AnySection
from ironcage.core.job.geometry.routes import Pieces, Place, end_axes, pieces, route_of
from ironcage.core.job.values import fittings as kinds
from ironcage.core.job.values.model import Job, Tube
from ironcage.units import said


@dataclass(frozen=True)
class Stiffener:
    """What a fitting adds to a tube between two distances along it (mm): area, I about y and z, J, shear areas along
    y and z (6,)."""

    tube: str
    start: float
    stop: float
    adds: Floats


@dataclass(frozen=True)
class Fitted:
    """A fitting made. words: what to cut or buy; kg: all of its pieces; place (3,): its middle, mm; flat and count: its
    plates, where it is of plate; weld: length of weld, mm;
    saved: kg that holes save; thickness: mm of plate; warp: how far a panel's corners lie off one plane, mm;
    stiffens: tubes' added section; shown: its outline in the car, or the line along it, mm; unlike: plates of `count`
    that are cut otherwise than `flat`; left: the share of its tube's strength that holes leave; second:
    plates like the first ones that are laid on them, by thickness, mm, and how many."""

    id: str
    kind: str
    on: tuple[str, ...]
    words: str
    kg: float
    place: Floats
    material: str
    flat: Flat | None = None
    count: int = 1
    thickness: float = 0.0
    weld: float = 0.0
    saved: float = 0.0
    warp: float = 0.0
    stiffens: tuple[Stiffener, ...] = ()
    problem: str = ""
    shown: tuple[Place, ...] = ()
    unlike: tuple[Flat, ...] = ()
    left: float = 1.0
    second: tuple[float, int] = (0.0, 0)


class Shop:
    """What is looked up for many fittings of one job."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.axes = end_axes(job)
        self.shapes = {s.name: s.shape for s in job.shelf.sections}
        self.density = {m.name: m.density for m in job.shelf.materials}

    @cached_property
    def lines(self) -> Pieces:
        """The chords of all tubes."""
        return pieces(self.job)

    def shape(self, tube: str) -> AnySection:
        return self.shapes[self.job.tube_by_id[tube].section]

    def tube(self, name: str) -> Tube:
        return self.job.tube_by_id[name]

    def kg(self, area: float, thickness: float, material: str) -> float:
        return area * thickness * self.density[material] * 1e-9

    def spot(self, tube: str, at: float) -> tuple[Floats, float, float]:
        """The place (3,) at a distance along a tube, its size across, and its length."""
        route = route_of(self.job, self.tube(tube))
        return route.at(at)[0], max(self.shape(tube).size), route.length

    def section(self, shape: AnySection, material: str) -> Floats:
        p = shape.properties(self.job.material(material).poisson)
        return np.array([p.area, p.i_y, p.i_z, p.j, p.shear_area_y, p.shear_area_z])

    def of_plate(
        self,
        f: Any,
        on: tuple[str, ...],
        flat: Flat,
        thickness: float,
        count: int,
        material: str,
        place: Floats,
        words: str,
        **more: Any,
    ) -> Fitted:
        return Fitted(
            f.id,
            f.kind,
            on,
            words,
            count * self.kg(flat.area, thickness, material),
            place,
            material,
            flat,
            count,
            thickness,
            **more,
        )

    def pierced(self, f: kinds.Holes, made: dict[str, Fitted]) -> Fitted:
        """Lightening holes, cut in the plate they are in, which is then lighter."""
        host = made[f.host]
        if host.flat is None:
            return Fitted(
                f.id,
                f.kind,
                (f.host,),
                "no plate to cut them in",
                0.0,
                host.place,
                host.material,
                problem=f"{f.host} is no plate.",
            )
        holed = host.flat.with_holes(f.count, f.diameter)
        cut = f.count * math.pi * f.diameter * host.count
        words = f"{f.count} holes of {said.sizes(f.diameter)}, {said.whole_sizes(cut)} to cut"
        if holed is None:
            why = f"{f.count} holes of {said.size(f.diameter)} do not fit in {f.host} with half a diameter round each."
            return Fitted(f.id, f.kind, (f.host,), words, 0.0, host.place, host.material, problem=why)
        saved = host.count * self.kg(f.count * math.pi * f.diameter**2 / 4, host.thickness, host.material)
        made[f.host] = Fitted(**{**host.__dict__, "flat": holed, "kg": host.kg - saved})
        return Fitted(f.id, f.kind, (f.host,), words, 0.0, host.place, host.material, saved=saved)


def places_of(points: Floats) -> tuple[Place, ...]:
    """Rows (n, 3) as places."""
    return tuple((float(x), float(y), float(z)) for x, y, z in points)


def along(shop: Shop, tube: str, at: float, half: float) -> tuple[float, float]:
    """From where to where along its tube something reaches that is `half` long to either side, mm."""
    length = route_of(shop.job, shop.tube(tube)).length
    return max(at - half, 0.0), min(at + half, length)
