"""Fittings of tube: sleeves over a tube, pieces inside it, and what goes through it."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ironcage.core.answers.shared.fitted.shop import Fitted, Shop, Stiffener, along
from ironcage.core.calc.sections import Angle, Rect, Round
from ironcage.core.calc.sections.holed import NetSection, net_section
from ironcage.core.calc.tubes.flats import flat_width
from ironcage.core.job.geometry.routes import axes_at, route_of
from ironcage.core.job.geometry.tabs import clocked
from ironcage.core.job.values import fittings as kinds
from ironcage.units import said

SLOT_PLAY_MM = 0.5  # that a slot is wider than its plate
END_MM = 0.5  # a row that ends so far past its tube still counts as on it
SLIDES = 1 - 1e-6  # the share of a tube's axial and torsional stiffness that a slip joint takes away


def _of_tube(shop: Shop, f: Any, shape: Round, length: float, half: float, words: str, weld: float) -> Fitted:
    """A piece of round tube in or over a tube, which stiffens it for `half` to either side."""
    place, _, _ = shop.spot(f.tube, f.at)
    material = shop.tube(f.tube).material
    adds = shop.section(shape, material)
    start, stop = along(shop, f.tube, f.at, half)
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


def doubler(shop: Shop, f: kinds.Doubler) -> Fitted:
    """A sleeve over a round tube, or four plates round a square one."""
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
    start, stop = along(shop, f.tube, f.at, f.length / 2)
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


def insert(shop: Shop, f: kinds.Insert) -> Fitted:
    """A piece inside that joins two lengths."""
    shape = Round(f.od, f.wall)
    length = 2 * f.depth + f.gap
    step = f" to {said.sizes(f.od2)}" if f.od2 else ""
    extra = f", look hole {said.sizes(f.hole)}" if f.hole else ""
    extra += f", {f.rosettes} rosettes of {said.sizes(f.rosette)} a side" if f.rosettes else ""
    weld = 2 * math.pi * max(shop.shape(f.tube).size) + 2 * f.rosettes * math.pi * f.rosette
    return _of_tube(
        shop,
        f,
        shape,
        length,
        length / 2,
        f"tube {said.sizes(f.od)}{step} x {said.sizes(f.wall)}, {said.sizes(length)} long, "
        f"{said.sizes(f.depth)} into each{extra}",
        weld,
    )


def slip_joint(shop: Shop, f: kinds.SlipJoint) -> Fitted:
    """A smaller tube that slides in a larger one; it carries bending alone."""
    own = shop.section(shop.shape(f.tube), shop.tube(f.tube).material)
    stop = "" if f.stop == "no" else ", with a stop"
    if f.least or f.most:
        least, most = f.least or f.engaged, f.most or f.engaged
        stop += f", goes from {said.sizes(least)} to {said.sizes(most)} in, {said.sizes(most - least)} of travel"
    words = f"tube {said.sizes(f.od)} x {said.sizes(f.wall)}, {said.sizes(f.engaged)} in{stop}, cross-bolted"
    made = _of_tube(shop, f, Round(f.od, f.wall), 2 * max(f.engaged, f.most), f.engaged / 2, words, math.pi * f.od)
    one = made.stiffens[0]
    free = np.array([-SLIDES * own[0], 0.0, 0.0, -SLIDES * own[3], 0.0, 0.0])
    return Fitted(**{**made.__dict__, "stiffens": (Stiffener(one.tube, one.start, one.stop, free),)})


def crush_tubes(shop: Shop, f: kinds.CrushTube) -> Fitted:
    """Short tubes through a tube, one or a row."""
    place, size, _ = shop.spot(f.tube, f.at)
    area = math.pi / 4 * (f.od**2 - f.bore**2) if f.shape == "round" else f.od**2 - math.pi / 4 * f.bore**2
    material = shop.tube(f.tube).material
    what = "tube" if f.shape == "round" else "square"
    words = f"{what} {said.sizes(f.od)} bore {said.sizes(f.bore)}, {said.sizes(size)} long, through{_row(f)}"
    girth = math.pi * f.od if f.shape == "round" else 4 * f.od
    return Fitted(
        f.id,
        f.kind,
        (f.tube,),
        words,
        f.count * shop.kg(area, size, material),
        place,
        material,
        weld=f.count * 2 * girth,
        problem=_past_end(shop, f),
    )


def _row(f: kinds.CrushTube | kinds.TubeHoles) -> str:
    return f", {f.count} off, {said.sizes(f.pitch)} apart" if f.count > 1 else ""


def _past_end(shop: Shop, f: kinds.CrushTube | kinds.TubeHoles) -> str:
    """What is wrong with a row whose tube has become too short for it; nothing where it fits."""
    length, last = shop.spot(f.tube, f.at)[2], f.at + (f.count - 1) * f.pitch
    if last <= length + END_MM:
        return ""
    return f"{f.id} reaches {said.length(last - length)} past the end of {f.tube}."


def tube_holes(shop: Shop, f: kinds.TubeHoles) -> Fitted:
    """Holes drilled in a tube: its section there, and what it weighs less."""
    tube, shape = shop.tube(f.tube), shop.shape(f.tube)
    place, _, length = shop.spot(f.tube, f.at)
    if isinstance(shape, Angle):
        why = f"{f.tube} is {tube.section}: what holes leave is worked out for round and rectangular tube."
        return Fitted(f.id, f.kind, (f.tube,), "holes", 0.0, place, tube.material, problem=why)
    net = _net(shop, f, shape)
    own = shop.section(shape, tube.material)
    lost = own * [net.area - 1, net.i_y - 1, net.i_z - 1, *[net.area - 1] * 3]
    spots = [f.at + n * f.pitch for n in range(f.count)]
    drilled = math.pi / 4 * f.diameter**2 * shape.wall_mm * f.walls
    words = (
        f"{said.sizes(f.diameter)}{' through' if f.walls == 2 else ', one wall'}{_row(f)}; leaves "
        f"{net.area:.0%} of the strength in pull, {net.bending:.0%} in bending"
    )
    half = f.diameter / 2
    return Fitted(
        f.id,
        f.kind,
        (f.tube,),
        words,
        -f.count * drilled * shop.density[tube.material] * 1e-9,
        place,
        tube.material,
        stiffens=tuple(
            Stiffener(f.tube, max(at - half, 0.0), min(at + half, length), lost) for at in spots if at - half < length
        ),
        problem=_past_end(shop, f),
        left=min(net.area, net.bending),
        saved=f.count * drilled * shop.density[tube.material] * 1e-9,
    )


def _net(shop: Shop, f: kinds.TubeHoles, shape: Round | Rect) -> NetSection:
    axes = axes_at(shop.job, shop.tube(f.tube), f.at)
    middle = route_of(shop.job, shop.tube(f.tube)).at(f.at)[0]
    drill = clocked(axes[0], float(middle[1]), f.clock)
    return net_section(shape, f.diameter, (float(drill @ axes[1]), float(drill @ axes[2])), f.walls)


def flattened_end(shop: Shop, f: kinds.FlattenedEnd) -> Fitted:
    """A tube's end that is pressed flat: how wide it becomes."""
    tube, shape = shop.tube(f.tube), shop.shape(f.tube)
    wide = flat_width(max(shape.size), shape.wall_mm)
    words = (
        f"pressed flat over {said.sizes(f.length)}, {said.whole_sizes(wide)} wide, hole {said.sizes(f.hole)}, "
        f"{said.sizes(f.past)} past its middle; bolted, it is a hinge across its flat (pin)"
    )
    place = np.array(shop.job.joint_by_id[f.joint].place)
    return Fitted(f.id, f.kind, (f.joint, f.tube), words, 0.0, place, tube.material)


def slot(shop: Shop, f: kinds.Slot) -> Fitted:
    """A tube's end that goes over a plate."""
    tube, shape = shop.tube(f.tube), shop.shape(f.tube)
    lost = 2 * f.depth * (f.thickness + SLOT_PLAY_MM) * shape.wall_mm * shop.density[tube.material] * 1e-9
    words = f"slotted {said.sizes(f.depth)} deep on both sides, for a plate of {said.sizes(f.thickness)}"
    place = np.array(shop.job.joint_by_id[f.joint].place)
    return Fitted(f.id, f.kind, (f.joint, f.tube), words, -lost, place, tube.material, weld=4 * f.depth, saved=lost)
