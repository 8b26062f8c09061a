"""Fittings: what each weighs, how it is cut, and what it does to the tubes it sits on."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.plane.flats import Flat, flattened
from ironcage.core.calc.plane.tabs import tab_foot
from ironcage.core.calc.sections import AnySection, Round
from ironcage.core.job.geometry.routes import Place, end_axes, route_of
from ironcage.core.job.geometry.tabs import clocked, tab_stand
from ironcage.core.job.values import fittings as kinds
from ironcage.core.job.values.model import Job, Tube
from ironcage.problem import Problem
from ironcage.units import said

EFFICIENCY = {
    "welded": 1.0,
    "bonded": 0.8,
    "riveted": 0.5,
}  # of a panel's membrane stiffness: stated, to be typed over by a twist test
ROUND = 72  # sides that the edge of a round plate is drawn with
SAME_FOOT_MM = 0.05  # two tabs of a stack whose feet differ by less are cut alike
SLIDES = 1 - 1e-6  # the share of a tube's axial and torsional stiffness that a slip joint takes away
ASSUMED = (
    "Panels are cut to the middles of the tubes round them, and hold the frame at its joints: 1.0 of the sheet counts "
    "where it is welded, 0.8 bonded, 0.5 riveted; "
    "its own buckling is not in it.",
    "Gussets and haunches stiffen half their leg in their own plane; sleeves, inserts and fish plates add their "
    "section over their length; a slip joint carries bending alone.",
)


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
    that are cut otherwise than `flat`."""

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


@remembered("joints", "tubes", "shelf", "fittings")
def fitting_facts(job: Job) -> tuple[Fitted, ...]:
    """Every fitting, in the job's order."""
    if not job.fittings:
        return ()
    shop = _Shop(job)
    made: dict[str, Fitted] = {}
    for f in sorted(job.fittings, key=lambda f: isinstance(f, kinds.Holes)):  # holes need their hosts first
        made[f.id] = MAKERS[f.kind](shop, f) if not isinstance(f, kinds.Holes) else shop.pierced(f, made)
    return tuple(made[f.id] for f in job.fittings)


def open_shares(job: Job) -> Mapping[str, float]:
    """The share of each plate that lightening holes take, by fitting."""
    made = {f.id: f for f in fitting_facts(job)}
    shares: dict[str, float] = {}
    for f in job.fittings:
        if isinstance(f, kinds.Holes) and not made[f.id].problem and (flat := made[f.host].flat):
            shares[f.host] = shares.get(f.host, 0.0) + f.count * math.pi * f.diameter**2 / 4 / flat.gross
    return shares


class _Shop:
    """What is looked up for many fittings of one job."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.axes = end_axes(job)
        self.shapes = {s.name: s.shape for s in job.shelf.sections}
        self.density = {m.name: m.density for m in job.shelf.materials}

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


def _panel(shop: _Shop, f: kinds.Panel) -> Fitted:
    places = np.array([shop.job.joint_by_id[j].place for j in f.joints])
    outline, warp = flattened(places)
    flat = Flat(outline)
    material = f.material
    fixings = f", {round(flat.edge / f.pitch)} {'rivets' if f.fixing == 'riveted' else 'stitches'}" if f.pitch else ""
    along, across = (said.whole_sizes(float(size)) for size in np.ptp(outline, axis=0))
    words = f"sheet {said.sizes(f.thickness)}, {along} x {across}, {f.fixing}{fixings}"
    weld = flat.edge if f.fixing == "welded" else 0.0
    return shop.of_plate(
        f,
        f.joints,
        flat,
        f.thickness,
        1,
        material,
        places.mean(axis=0),
        words,
        weld=weld,
        warp=warp,
        shown=_places(places),
    )


def _corner(shop: _Shop, joint: str, tubes: tuple[str, str], leg: float) -> tuple[Flat, Floats, Floats, Floats]:
    """The plate in a corner, its three corners in the car (3, 3), and the two tubes' directions away from the joint
    (3,), (3,).

    It reaches `leg` along both tubes from the joint, and starts where their faces meet.
    """
    at = np.array(shop.job.joint_by_id[joint].place)
    ways = [shop.axes[t, joint][0] * (1 if shop.tube(t).a == joint else -1) for t in tubes]
    angle = math.acos(float(np.clip(ways[0] @ ways[1], -1, 1)))
    halves = [max(shop.shape(t).size) / 2 for t in tubes]
    across = [(o - (o @ w) * w) / max(math.sin(angle), 1e-9) for w, o in ((ways[0], ways[1]), (ways[1], ways[0]))]
    # the faces meet at p·way0 + q·way1, which is half a tube from either axis
    meet = ways[0] * halves[1] / math.sin(angle) + ways[1] * halves[0] / math.sin(angle)
    corners = np.array([meet, leg * ways[0] + halves[0] * across[0], leg * ways[1] + halves[1] * across[1]])
    flat = np.stack([corners @ ways[0], corners @ across[0]], axis=1)
    return Flat(flat), at + corners, ways[0], ways[1]


def _stiffened(shop: _Shop, f: Any, plates: int) -> tuple[Stiffener, ...]:
    """The two tubes of a corner plate, stiffer over half its leg, as tube and half of its depth bent together."""
    made = []
    _, _, one, two = _corner(shop, f.joint, f.tubes, f.leg)
    normal = np.cross(one, two)
    normal = normal / np.linalg.norm(normal)
    for name in f.tubes:
        tube, axes = shop.tube(name), shop.axes[name, f.joint]
        own = shop.section(shop.shape(name), tube.material)
        depth, area = f.leg / 2, f.leg / 2 * f.thickness * plates
        lever = (max(shop.shape(name).size) + depth) / 2
        gain = plates * f.thickness * depth**3 / 12 + own[0] * area / (own[0] + area) * lever**2
        about_y, about_z = float(normal @ axes[1]) ** 2, float(normal @ axes[2]) ** 2
        length = route_of(shop.job, tube).length
        start = 0.0 if tube.a == f.joint else max(length - f.leg / 2, 0.0)
        made.append(
            Stiffener(
                name, start, min(start + f.leg / 2, length), np.array([0.0, gain * about_y, gain * about_z, 0, 0, 0])
            )
        )
    return tuple(made)


def _gusset(shop: _Shop, f: kinds.Gusset) -> Fitted:
    flat, corners, *_ = _corner(shop, f.joint, f.tubes, f.leg)
    words = f"plate {said.sizes(f.thickness)}, corner {said.sizes(f.leg)} x {said.sizes(f.leg)}" + (
        f", {f.plates} off" if f.plates > 1 else ""
    )
    material = shop.tube(f.tubes[0]).material
    return shop.of_plate(
        f,
        (f.joint, *f.tubes),
        flat,
        f.thickness,
        f.plates,
        material,
        corners.mean(axis=0),
        words,
        shown=_places(corners),
        weld=f.plates * 2 * (f.leg - max(shop.shape(f.tubes[0]).size) / 2),
        stiffens=_stiffened(shop, f, f.plates),
    )


def _haunch(shop: _Shop, f: kinds.Haunch) -> Fitted:
    flat, corners, *_ = _corner(shop, f.joint, f.tubes, f.leg)
    material = shop.tube(f.tubes[0]).material
    strip = float(np.linalg.norm(flat.outline[1] - flat.outline[2]))
    width = min(shop.shape(f.tubes[0]).size)
    words = (
        f"2 plates {said.sizes(f.thickness)}, corner {said.sizes(f.leg)} x {said.sizes(f.leg)}, "
        f"and a strip {said.whole_sizes(strip)} x {said.sizes(width)}"
    )
    kg = 2 * shop.kg(flat.area, f.thickness, material) + shop.kg(strip * width, f.thickness, material)
    return Fitted(
        f.id,
        f.kind,
        (f.joint, *f.tubes),
        words,
        kg,
        corners.mean(axis=0),
        material,
        flat,
        2,
        f.thickness,
        shown=_places(corners),
        weld=2 * flat.edge + 2 * width,
        stiffens=_stiffened(shop, f, 2),
    )


def _places(points: Floats) -> tuple[Place, ...]:
    return tuple((float(x), float(y), float(z)) for x, y, z in points)


def _laid(shop: _Shop, tube: str, at: float, outline: Floats) -> tuple[Place, ...]:
    """An outline (n, 2), along a tube and across it, in the car; across is up, or for an upright tube outward."""
    place, way = route_of(shop.job, shop.tube(tube)).at(at)
    across = clocked(way, float(place[1]), 0.0)
    return _places(place + outline[:, :1] * way + outline[:, 1:] * across)


def _along(shop: _Shop, tube: str, at: float, half: float) -> tuple[float, float]:
    length = route_of(shop.job, shop.tube(tube)).length
    return max(at - half, 0.0), min(at + half, length)


def _fish_plate(shop: _Shop, f: kinds.FishPlate) -> Fitted:
    place, _, _ = shop.spot(f.tube, f.at)
    x, y = f.length / 2, f.depth / 2
    tip = min(f.depth, f.length / 3)
    points = [[-x, -y], [x, -y], [x, y], [-x, y]]
    if f.ends == "tapered":
        points = [[-x, 0], [tip - x, -y], [x - tip, -y], [x, 0], [x - tip, y], [tip - x, y]]
    flat = Flat(np.array(points, dtype=float))
    material = shop.tube(f.tube).material
    width = min(shop.shape(f.tube).size)
    area = f.sides * f.depth * f.thickness
    adds = np.array([area, area * f.depth**2 / 12, area * ((width + f.thickness) / 2) ** 2, 0.0, 0.0, area * 5 / 6])
    start, stop = _along(shop, f.tube, f.at, f.length / 2)
    return shop.of_plate(
        f,
        (f.tube,),
        flat,
        f.thickness,
        f.sides,
        material,
        place,
        f"plate {said.sizes(f.thickness)}, {said.sizes(f.length)} x {said.sizes(f.depth)}, {f.ends} ends, "
        f"{f.sides} off",
        weld=f.sides * flat.edge,
        shown=_laid(shop, f.tube, f.at, flat.outline),
        stiffens=(Stiffener(f.tube, start, stop, adds),),
    )


def _of_tube(shop: _Shop, f: Any, shape: Round, length: float, half: float, words: str, weld: float) -> Fitted:
    """A piece of round tube in or over a tube, which stiffens it for `half` to either side."""
    place, _, _ = shop.spot(f.tube, f.at)
    material = shop.tube(f.tube).material
    adds = shop.section(shape, material)
    start, stop = _along(shop, f.tube, f.at, half)
    kg = adds[0] * length * shop.density[material] * 1e-9
    return Fitted(
        f.id,
        f.kind,
        (f.tube,),
        words,
        float(kg),
        place,
        material,
        weld=weld,
        stiffens=(Stiffener(f.tube, start, stop, adds),),
    )


def _doubler(shop: _Shop, f: kinds.Doubler) -> Fitted:
    shape = shop.shape(f.tube)
    size = max(shape.size)
    if shape.is_round:
        sleeve = Round(size + 2 * f.wall, f.wall)
        words = (
            f"tube {said.sizes(sleeve.od_mm)} x {said.sizes(f.wall)}, {said.sizes(f.length)} long, "
            f"bore {said.sizes(size)}"
        )
        return _of_tube(shop, f, sleeve, f.length, f.length / 2, words, 2 * math.pi * sleeve.od_mm)
    width, height = shape.size
    material = shop.tube(f.tube).material
    area = 2 * (width + height) * f.wall
    adds = np.array(
        [
            area,
            f.wall * height**3 / 6 + 2 * width * f.wall * (height / 2) ** 2,
            f.wall * width**3 / 6 + 2 * height * f.wall * (width / 2) ** 2,
            2 * f.wall * (width * height) ** 2 / (width + height),
            area / 2,
            area / 2,
        ]
    )
    place, _, _ = shop.spot(f.tube, f.at)
    start, stop = _along(shop, f.tube, f.at, f.length / 2)
    words = (
        f"4 plates {said.sizes(f.wall)} round {said.sizes(width)} x {said.sizes(height)}, {said.sizes(f.length)} long"
    )
    return Fitted(
        f.id,
        f.kind,
        (f.tube,),
        words,
        shop.kg(area, f.length, material),
        place,
        material,
        weld=8 * f.length,
        stiffens=(Stiffener(f.tube, start, stop, adds),),
    )


def _insert(shop: _Shop, f: kinds.Insert) -> Fitted:
    shape = Round(f.od, f.wall)
    length = 2 * f.depth + f.gap
    extra = f", look hole {said.sizes(f.hole)}" if f.hole else ""
    extra += f", {f.rosettes} rosettes of {said.sizes(f.rosette)} a side" if f.rosettes else ""
    weld = 2 * math.pi * max(shop.shape(f.tube).size) + 2 * f.rosettes * math.pi * f.rosette
    return _of_tube(
        shop,
        f,
        shape,
        length,
        length / 2,
        f"tube {said.sizes(f.od)} x {said.sizes(f.wall)}, {said.sizes(length)} long, "
        f"{said.sizes(f.depth)} into each{extra}",
        weld,
    )


def _slip(shop: _Shop, f: kinds.SlipJoint) -> Fitted:
    own = shop.section(shop.shape(f.tube), shop.tube(f.tube).material)
    stop = "" if f.stop == "no" else ", with a stop"
    words = f"tube {said.sizes(f.od)} x {said.sizes(f.wall)}, {said.sizes(f.engaged)} in{stop}, cross-bolted"
    made = _of_tube(shop, f, Round(f.od, f.wall), 2 * f.engaged, f.engaged / 2, words, math.pi * f.od)
    one = made.stiffens[0]
    free = np.array([-SLIDES * own[0], 0.0, 0.0, -SLIDES * own[3], 0.0, 0.0])
    return Fitted(**{**made.__dict__, "stiffens": (Stiffener(one.tube, one.start, one.stop, free),)})


def _crush_tube(shop: _Shop, f: kinds.CrushTube) -> Fitted:
    place, size, _ = shop.spot(f.tube, f.at)
    area = math.pi / 4 * (f.od**2 - f.bore**2)
    material = shop.tube(f.tube).material
    words = f"tube {said.sizes(f.od)} bore {said.sizes(f.bore)}, {said.sizes(size)} long, through"
    return Fitted(
        f.id, f.kind, (f.tube,), words, shop.kg(area, size, material), place, material, weld=2 * math.pi * f.od
    )


def _tab(shop: _Shop, f: kinds.Tab) -> Fitted:
    words = (
        f"plate {said.sizes(f.thickness)}, {said.sizes(f.width)} x {said.sizes(f.height)}, hole {said.sizes(f.hole)}"
        + (f", {f.tabs} drilled in one stack, {said.sizes(f.gap)} apart" if f.tabs > 1 else "")
    )
    material = shop.tube(f.tube).material
    try:
        stand = tab_stand(shop.job, f)
    except Problem as problem:  # what it carries has been moved
        return Fitted(f.id, f.kind, (f.tube,), words, 0.0, shop.spot(f.tube, f.at)[0], material, problem=str(problem))
    across = np.cross(stand.bolt, stand.off)
    flats, misses, shown = [], 0.0, np.zeros((0, 3))
    for nth in range(f.tabs):
        hole = stand.hole + (nth - (f.tabs - 1) / 2) * (f.gap + f.thickness) * stand.bolt
        foot, beside = tab_foot(stand.tube, hole, stand.off, across, f.width)
        head = f.height - stand.reach
        outline = np.vstack([foot, [[f.width / 2, head], [-f.width / 2, head]]])
        flats.append(Flat(outline + [0, stand.reach], ((0.0, stand.reach, f.hole),)))
        misses = max(misses, beside)
        if not nth:
            shown = hole + outline[:, :1] * across + outline[:, 1:] * stand.off
    wrong = ""
    if stand.reach + f.hole / 2 >= f.height:
        wrong = (
            f"{f.id} is {said.length(f.height)} high and does not reach round its hole, "
            f"{said.length(stand.reach)} off {f.tube}."
        )
    elif misses:
        wrong = f"{f.id} is wider than {f.tube}, {said.length(misses)} over its side."
    unlike = [flat for flat in flats[1:] if np.abs(flat.outline - flats[0].outline).max() > SAME_FOOT_MM]
    kg = sum(shop.kg(flat.area, f.thickness, material) for flat in flats)
    return Fitted(
        f.id,
        f.kind,
        (f.tube,),
        words + (", each cut to its own foot" if unlike else ""),
        kg,
        stand.hole,
        material,
        flats[0],
        f.tabs,
        f.thickness,
        weld=f.tabs * 2 * f.width,
        problem=wrong,
        shown=_places(shown),
        unlike=tuple(unlike),
    )


def _cap(shop: _Shop, f: kinds.Cap) -> Fitted:
    tube = shop.tube(f.tube)
    shape = shop.shapes[tube.taper if tube.taper and f.joint == tube.b else tube.section]
    axes, place = shop.axes[f.tube, f.joint], np.array(shop.job.joint_by_id[f.joint].place)
    outline = shape.contour.lines(ROUND)[1]
    words = f"plate {said.sizes(f.thickness)} as large as the end, " + " x ".join(
        map(said.sizes, dict.fromkeys(shape.size))
    )
    return shop.of_plate(
        f,
        (f.joint, f.tube),
        Flat(outline, ((0.0, 0.0, f.hole),) if f.hole else ()),
        f.thickness,
        1,
        tube.material,
        place,
        words,
        weld=shape.contour.girth,
        shown=_places(place + outline @ axes[1:]),
    )


MAKERS: Mapping[str, Callable[[_Shop, Any], Fitted]] = {
    "panel": _panel,
    "gusset": _gusset,
    "haunch": _haunch,
    "fish plate": _fish_plate,
    "doubler": _doubler,
    "insert": _insert,
    "crush tube": _crush_tube,
    "tab": _tab,
    "slip joint": _slip,
    "cap": _cap,
}
