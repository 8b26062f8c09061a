"""Sums of lines and angles: diagonal, slope, taper, wedge, kick, mitre, bend, chord, equal divisions."""

from __future__ import annotations

import math

from ironcage.core.answers.pocket.sum import Ask, Sketch, Sum, Told, Values
from ironcage.problem import Problem
from ironcage.units import said
from ironcage.units.quantity import ANGLE, COUNT, LENGTH

RIGHT = math.pi / 2


def _diagonal(v: Values) -> tuple[Told, ...]:
    size = math.hypot(v["length"], v["width"])
    return (
        Told("diagonal", size, LENGTH),
        Told("angle to the length", math.atan2(v["width"], v["length"]), ANGLE),
    )


def _slope(v: Values) -> tuple[Told, ...]:
    return (
        Told("angle", math.atan2(v["rise"], v["run"]), ANGLE),
        Told("along the slope", math.hypot(v["rise"], v["run"]), LENGTH),
        Told("rise", v["rise"] / v["run"], None, f"{100 * v['rise'] / v['run']:.2f} in 100"),
    )


def _taper(v: Values) -> tuple[Told, ...]:
    half = math.atan2((v["large"] - v["small"]) / 2, v["length"])
    return (
        Told("each side", half, ANGLE),
        Told("both sides together", 2 * half, ANGLE),
        Told("along the side", v["length"] / math.cos(half), LENGTH),
    )


def _wedge(v: Values) -> tuple[Told, ...]:
    mouth = 2 * (v["depth"] - v["wall"]) * math.tan(v["angle"] / 2)
    return (
        Told("wedge at the open face", mouth, LENGTH),
        Told("half each side of the line", mouth / 2, LENGTH),
        Told("each saw cut off square", v["angle"] / 2, ANGLE),
    )


def _kick(v: Values) -> tuple[Told, ...]:
    return (
        Told("along the sloping part", v["offset"] / math.sin(v["angle"]), LENGTH),
        Told("forward it takes", v["offset"] / math.tan(v["angle"]), LENGTH),
        Told("tube more than straight", v["offset"] * math.tan(v["angle"] / 2), LENGTH),
        Told("each mitre off square", v["angle"] / 2, ANGLE),
    )


def _mitre(v: Values) -> tuple[Told, ...]:
    off = (math.pi - v["angle"]) / 2
    return (
        Told("saw off square", off, ANGLE),
        Told("long point before short point", v["depth"] * math.tan(off), LENGTH),
        Told("face of the cut", v["depth"] / math.cos(off), LENGTH),
    )


def _bend(v: Values) -> tuple[Told, ...]:
    arc, back = v["radius"] * v["angle"], v["radius"] * math.tan(v["angle"] / 2)
    return (
        Told("tube in the bend", arc, LENGTH),
        Told("corner to start of the bend", back, LENGTH),
        Told("shorter than round the corner", 2 * back - arc, LENGTH),
    )


def _chord(v: Values) -> tuple[Told, ...]:
    if v["height"] > v["chord"]:
        raise Problem(
            "An arc so high over its chord goes round more than three quarters.",
            where="height",
            hint=f"Give a height up to {said.length(v['chord'])}.",
        )
    radius = v["chord"] ** 2 / (8 * v["height"]) + v["height"] / 2
    angle = 4 * math.atan2(2 * v["height"], v["chord"])
    return Told("radius", radius, LENGTH), Told("arc", radius * angle, LENGTH), Told("angle", angle, ANGLE)


def _divisions(v: Values) -> tuple[Told, ...]:
    count = round(v["pieces"])
    apart = v["length"] / count
    return (
        Told("apart", apart, LENGTH),
        Told("last mark, from the first end", apart * (count - 1), LENGTH),
        Told("gap between bars", apart - v["bar"], LENGTH),
    )


SUMS = (
    Sum(
        "diagonal",
        "Both sides of a rectangle: is it square?",
        (Ask("length", LENGTH, 2300.0, 0.1), Ask("width", LENGTH, 900.0, 0.1)),
        "d = √(length² + width²)",
        Sketch(
            (((10, 8), (90, 8), (90, 52), (10, 52), (10, 8)),),
            (((10, 8), (90, 52)),),
            ((46, 2, "length"), (91, 28, "width"), (40, 32, "diagonal")),
        ),
        _diagonal,
    ),
    Sum(
        "slope",
        "Rise over run as an angle",
        (Ask("rise", LENGTH, 120.0), Ask("run", LENGTH, 1000.0, 0.1)),
        "angle = arctan(rise / run)",
        Sketch((((10, 8), (90, 8), (90, 45), (10, 8)),), (), ((46, 2, "run"), (91, 24, "rise"), (24, 10, "angle"))),
        _slope,
    ),
    Sum(
        "taper",
        "How far each side leans between two sizes",
        (Ask("large", LENGTH, 60.0), Ask("small", LENGTH, 40.0), Ask("length", LENGTH, 600.0, 0.1)),
        "each side = arctan((large − small) / 2 / length)",
        Sketch(
            (((10, 5), (10, 55), (90, 42), (90, 18), (10, 5)),),
            (((10, 30), (90, 30)),),
            ((1, 28, "large"), (91, 28, "small"), (44, 32, "length")),
        ),
        _taper,
    ),
    Sum(
        "wedge",
        "What to cut out of a tube so that it folds by an angle",
        (
            Ask("angle", ANGLE, math.radians(16.5), math.radians(0.1), math.radians(120)),
            Ask("depth", LENGTH, 40.0, 0.1),
            Ask("wall", LENGTH, 2.0),
        ),
        "wedge = 2 · (depth − wall) · tan(angle / 2)",
        Sketch(
            (((5, 15), (95, 15)), ((5, 45), (42, 45), (50, 18), (58, 45), (95, 45))),
            (((42, 45), (58, 45)),),
            ((43, 48, "wedge"), (0, 28, "depth"), (46, 26, "angle")),
        ),
        _wedge,
    ),
    Sum(
        "kick",
        "An offset in a rail by two equal bends or mitres",
        (Ask("offset", LENGTH, 80.0, 0.1), Ask("angle", ANGLE, math.radians(30), math.radians(1), math.radians(89))),
        "sloping = offset / sin(angle); forward = offset / tan(angle)",
        Sketch(
            (((5, 12), (35, 12), (62, 45), (95, 45)),),
            (((35, 12), (62, 12), (62, 45)),),
            ((63, 26, "offset"), (41, 6, "forward"), (38, 32, "sloping"), (42, 14, "angle")),
        ),
        _kick,
    ),
    Sum(
        "mitre",
        "The saw for two tubes that meet at an angle",
        (
            Ask("angle", ANGLE, math.radians(90), math.radians(20), math.radians(179)),
            Ask("depth", LENGTH, 40.0, 0.1),
        ),
        "saw off square = (180° − angle) / 2; long point = depth · tan(that)",
        Sketch(
            (((8, 8), (8, 52), (24, 52), (24, 24), (92, 24), (92, 8), (8, 8)), ((8, 8), (24, 24))),
            (),
            ((10, 54, "depth"), (26, 27, "angle"), (12, 10, "mitre")),
        ),
        _mitre,
    ),
    Sum(
        "bend",
        "Tube that a bend takes, and where it starts",
        (
            Ask("radius", LENGTH, 114.0, 0.1),
            Ask("angle", ANGLE, RIGHT, math.radians(0.1), math.radians(180) - 1e-6),
        ),
        "arc = radius · angle (rad); corner to start = radius · tan(angle / 2)",
        Sketch(
            (((5, 10), (50, 10), (62, 13), (71, 21), (75, 32), (75, 55)),),
            (((50, 10), (75, 10), (75, 32)), ((50, 10), (50, 34), (75, 34))),
            ((55, 3, "start"), (52, 22, "radius"), (77, 10, "corner")),
        ),
        _bend,
    ),
    Sum(
        "chord",
        "The radius of an arc by its chord and its height",
        (Ask("chord", LENGTH, 900.0, 0.1), Ask("height", LENGTH, 120.0, 0.01)),
        "radius = chord² / (8 · height) + height / 2",
        Sketch(
            (((10, 12), (25, 29), (40, 37), (50, 39), (60, 37), (75, 29), (90, 12)),),
            (((10, 12), (90, 12)), ((50, 12), (50, 39))),
            ((44, 5, "chord"), (52, 24, "height")),
        ),
        _chord,
    ),
    Sum(
        "divisions",
        "Equal spaces along a length",
        (Ask("length", LENGTH, 1200.0, 0.1), Ask("pieces", COUNT, 5, 1, 500), Ask("bar", LENGTH, 25.0)),
        "apart = length / pieces; gap = apart − bar",
        Sketch(
            (((8, 15), (92, 15)), *(((x, 15), (x, 45)) for x in (8, 29, 50, 71, 92))),
            (((8, 50), (92, 50)),),
            ((44, 53, "length"), (14, 4, "apart")),
        ),
        _divisions,
    ),
)
