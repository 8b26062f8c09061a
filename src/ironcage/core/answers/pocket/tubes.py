"""Sums of tube and plate: a cope, what tube and sheet weigh, a length in every unit, how long a bolt must be."""

from __future__ import annotations

import math

import numpy as np

from ironcage.core.answers.pocket.sum import Ask, Sketch, Sum, Told, Values
from ironcage.core.calc.sections import Round
from ironcage.core.calc.tubes import cope
from ironcage.core.calc.tubes.ends import end_profile
from ironcage.core.calc.tubes.receivers import Prism
from ironcage.units.quantity import ANGLE, DENSITY, LENGTH, MASS, SHARE
from ironcage.units.shown import IMPERIAL
from ironcage.units.tables import INCH, PIPE_MM, SHEET_GAUGE_MM, TUBE_GAUGE_MM

STEEL = 7850.0  # kg/m³
THREADS_OUT = 2  # pitches of thread that stand out of the nut


def _cope(v: Values) -> tuple[Told, ...]:
    cut, onto = Round(v["tube"], v["wall"]), Round(v["onto"], v["onto"] / 2)
    way = np.array([[1.0, 0, 0], [0, 1, 0], [0, 0, 1]])
    other = np.array([math.cos(v["angle"]), 0.0, math.sin(v["angle"])])
    receiver = Prism(
        np.array([0.0, v["off centre"], 0.0]), np.stack([other, [0, 1, 0], np.cross(other, [0, 1, 0])]), onto.contour
    )
    profile = end_profile(cut, way, np.zeros(3), -1.0, receiver)
    saw = cope.nearest_saw(v["onto"])
    return (
        Told("longest point to shortest, on the paper", profile.shoulder - profile.template_tip, LENGTH),
        Told("longest point before the middle of the other tube", profile.template_tip, LENGTH),
        Told("shortest point before it", profile.shoulder, LENGTH),
        Told("round the tube", profile.girth_mm, LENGTH),
        Told("saw off square", math.pi / 2 - v["angle"], ANGLE),
        Told("hole saw", saw or 0.0, LENGTH if saw else None, "" if saw else "no common one is so large"),
    )


def _tube(v: Values) -> tuple[Told, ...]:
    bore = max(v["od"] - 2 * v["wall"], 0.0)
    area = math.pi / 4 * (v["od"] ** 2 - bore**2)
    kg = area * v["length"] * v["density"] * 1e-9
    return Told("weight", kg, MASS), Told("a metre of it", area * v["density"] * 1e-6, MASS), Told("bore", bore, LENGTH)


def _sheet(v: Values) -> tuple[Told, ...]:
    kg = v["length"] * v["width"] * v["thickness"] * v["density"] * 1e-9
    return Told("weight", kg, MASS), Told(
        "area", v["length"] * v["width"] / 1e6, None, f"{v['length'] * v['width'] / 1e6:.3f} m²"
    )


def _length(v: Values) -> tuple[Told, ...]:
    mm = v["length"]
    gauges = {f"{n} ga tube": size for n, size in TUBE_GAUGE_MM.items()} | {
        f"{n} ga sheet": s for n, s in SHEET_GAUGE_MM.items()
    }
    near = sorted(gauges, key=lambda name: abs(gauges[name] - mm))[:2]
    pipe = min(PIPE_MM, key=lambda name: abs(PIPE_MM[name][0] - mm))
    sixteenth = round(mm / INCH * 16) / 16 * INCH
    return (
        Told("length", mm, LENGTH),
        Told("nearest sixteenth", sixteenth, None, f"{IMPERIAL.length(sixteenth)}, {mm - sixteenth:+.2f} mm off"),
        Told("nearest gauges", 0.0, None, ", ".join(f"{name} {gauges[name]:.3f} mm" for name in near)),
        Told("nearest pipe", 0.0, None, f"{pipe} pipe is {PIPE_MM[pipe][0]:.2f} mm outside"),
        Told("feet", mm / 12 / INCH, None, f"{mm / 12 / INCH:.3f} ft"),
    )


def _bolt(v: Values) -> tuple[Told, ...]:
    needed = v["grip"] + v["washers"] + v["nut"] + THREADS_OUT * v["pitch"]
    step = 5.0 if needed > 25 else 2.0
    return (
        Told("least length under the head", needed, LENGTH),
        Told(
            "next length",
            0.0,
            None,
            f"{math.ceil(needed / step - 1e-9) * step:g} mm · {math.ceil(needed / INCH * 4 - 1e-9) / 4:g} in",
        ),
        Told("thread may begin at", v["grip"], LENGTH),
    )


def _overlap(v: Values) -> tuple[Told, ...]:
    """A flat bar lapped on something, with fillets along both sides of the overlap and across its end."""
    welded = 2 * v["overlap"] + v["width"]
    carries = welded * v["leg"] / math.sqrt(2) / math.sqrt(3)  # throat area, at yield in shear by von Mises
    plate = v["width"] * v["thickness"]
    full = max((plate * math.sqrt(6) / v["leg"] - v["width"]) / 2, 0.0)
    share = carries / plate
    return (
        Told("length of weld", welded, LENGTH),
        Told("the weld carries of what the bar does in pull", share, SHARE),
        Told("as strong as the bar from an overlap of", full, LENGTH),
        Told("so", 0.0, None, "the bar gives first" if share >= 1 else "the weld gives first: lap it further"),
    )


SUMS = (
    Sum(
        "cope",
        "The end of a round tube that lands on another",
        (
            Ask("tube", LENGTH, 38.0, 1.0, 600.0),
            Ask("wall", LENGTH, 2.0, 0.1, 300.0),
            Ask("onto", LENGTH, 45.0, 1.0, 600.0),
            Ask("angle", ANGLE, math.radians(60), math.radians(15), math.pi / 2),
            Ask("off centre", LENGTH, 0.0, 0.0, 300.0),
        ),
        "x(φ) = (√(R² − (r·cos φ − e)²) + r·sin φ·cos θ) / sin θ, the larger of outside and inside, "
        "as the paper is cut square through the wall",
        Sketch(
            (((5, 10), (95, 10)), ((5, 26), (95, 26)), ((40, 26), (66, 57)), ((58, 26), (84, 57))),
            (((5, 18), (95, 18)), ((42, 18), (75, 57))),
            ((1, 28, "onto"), (76, 45, "tube"), (58, 19, "angle")),
        ),
        _cope,
    ),
    Sum(
        "tube weight",
        "What a length of round tube weighs",
        (
            Ask("od", LENGTH, 38.0, 0.1, 1000.0),
            Ask("wall", LENGTH, 2.0, 0.01, 500.0),
            Ask("length", LENGTH, 6000.0),
            Ask("density", DENSITY, STEEL, 100.0, 25000.0),
        ),
        "kg = π/4 · (od² − (od − 2·wall)²) · length · density",
        Sketch(
            (
                ((8, 20), (92, 20)),
                ((8, 42), (92, 42)),
                ((8, 20), (5, 31), (8, 42), (11, 31), (8, 20)),
                ((92, 20), (95, 31), (92, 42)),
            ),
            (((8, 10), (92, 10)),),
            ((44, 3, "length"), (12, 29, "od"), (60, 44, "wall")),
        ),
        _tube,
    ),
    Sum(
        "sheet weight",
        "What a rectangle of sheet weighs",
        (
            Ask("length", LENGTH, 1250.0),
            Ask("width", LENGTH, 1250.0),
            Ask("thickness", LENGTH, 1.5, 0.01, 500.0),
            Ask("density", DENSITY, STEEL, 100.0, 25000.0),
        ),
        "kg = length · width · thickness · density",
        Sketch((((10, 15), (80, 15), (92, 45), (22, 45), (10, 15)),), (), ((40, 8, "length"), (88, 26, "width"))),
        _sheet,
    ),
    Sum(
        "length",
        "A length in every unit, with the nearest gauge and pipe",
        (Ask("length", LENGTH, 1.25 * INCH, 0.001, 1e6),),
        "1 in = 25.4 mm; gauges of tube by BWG, of sheet by the manufacturers' standard; pipe by ASME B36.10M",
        Sketch(
            (
                ((8, 20), (92, 20)),
                *(((x, 20), (x, 20 + (14 if n % 4 == 0 else 7))) for n, x in enumerate(range(8, 93, 7))),
            ),
            (),
            ((40, 8, "length"),),
        ),
        _length,
    ),
    Sum(
        "overlap",
        "How far a bar or plate must lap for its weld",
        (
            Ask("width", LENGTH, 50.0, 1.0, 2000.0),
            Ask("thickness", LENGTH, 4.0, 0.1, 100.0),
            Ask("leg", LENGTH, 4.0, 0.1, 100.0),
            Ask("overlap", LENGTH, 25.0, 0.0, 2000.0),
        ),
        "pull of the weld = (2·overlap + width) · leg/√2 · σ/√3, of the bar = width · thickness · σ; static pull "
        "in its own line, weld metal as strong as the bar; the bar beside the weld may be softer",
        Sketch(
            (
                ((5, 12), (60, 12), (60, 48), (5, 48)),
                ((95, 20), (34, 20), (34, 40), (95, 40)),
            ),
            (((34, 5), (60, 5)),),
            ((40, 0, "overlap"), (78, 28, "width"), (22, 28, "leg")),
        ),
        _overlap,
    ),
    Sum(
        "bolt grip",
        "How long a bolt must be",
        (
            Ask("grip", LENGTH, 50.0, 0.0, 2000.0),
            Ask("washers", LENGTH, 4.0, 0.0, 200.0),
            Ask("nut", LENGTH, 8.4, 0.0, 200.0),
            Ask("pitch", LENGTH, 1.5, 0.0, 20.0),
        ),
        "length = grip + washers + nut + two pitches of thread",
        Sketch(
            (
                ((6, 14), (6, 46), (18, 46), (18, 14), (6, 14)),
                ((18, 22), (88, 22), (88, 38), (18, 38)),
                ((68, 12), (68, 48), (80, 48), (80, 12), (68, 12)),
            ),
            (((18, 6), (68, 6)),),
            ((38, 0, "grip"), (70, 50, "nut")),
        ),
        _bolt,
    ),
)
