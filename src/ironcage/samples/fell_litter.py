"""Fell Litter: Saltmarsh Fabrication's mountain-rescue stretcher carrier, rectangular rails with kicks over a live rear
axle.

Joints for the left side (or y = 0) in mm, mirrored; the kicks in the rails over the axle are mitred at e, f and g and
fish-plated, the one ahead of the cab is notched and folded.
"""

from typing import Any

from ironcage.core.job import edits
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Brief, Job
from ironcage.samples.making import framed, furnished, measured, standing, tacked

_JOINTS = {
    # the rails, nose to tail
    "a": (420, 330, 440),
    "b": (120, 330, 440),
    "c": (-430, 330, 380),
    "d": (-900, 330, 380),
    "e": (-1500, 330, 380),
    "f": (-1800, 330, 560),
    "g": (-2350, 330, 560),
    "h": (-2950, 330, 480),
    "b mid": (120, 0, 440),
    "d mid": (-900, 0, 380),
    "f mid": (-1800, 0, 560),
    "g mid": (-2350, 0, 560),
    # nose, hoops and cab
    "n": (160, 330, 660),
    "c out": (-430, 540, 380),
    "c dash": (-200, 560, 820),
    "c top": (-460, 450, 1480),
    "d out": (-900, 540, 380),
    "d hip": (-900, 560, 850),
    "d shoulder": (-918, 528, 1050),
    "d top": (-960, 450, 1540),
    # stretcher deck
    "k front": (-1040, 300, 700),
    "k mid": (-1800, 300, 700),
    "k rear": (-2950, 300, 700),
    "k middle": (-1800, 0, 700),
}

_RAIL, _CROSS, _HOOP, _DECK, _LIGHT = (
    "80 x 40 x 3 rectangular",
    "40 x 40 x 3 square",
    "40 x 40 x 3 square",
    "30 x 30 x 2 square",
    "25 x 25 x 2 square",
)

_TUBES = (
    ("rail", _RAIL, ["a > b > c > d > e > f > g > h"]),
    (
        "cross member",
        _CROSS,
        [
            "a > a'",
            "b > b mid",
            "c > c'",
            "d > d mid",
            "e > e'",
            "f > f mid",
            "g > g mid",
            "h > h'",
            "c > c out",
            "d > d out",
        ],
    ),
    ("main hoop", _HOOP, ["d out > d hip > d shoulder > d top > d top'"]),
    ("front hoop", _HOOP, ["c out > c dash > c top > c top'"]),
    ("hoop brace", _HOOP, ["d top > g"]),
    ("harness bar", _DECK, ["d shoulder > d shoulder'"]),
    (
        "side",
        _DECK,
        [
            "c top > d top",
            "c dash > d hip",
            "c out > d out",
            "a > n > c dash",
            "b > n",
            "n > n'",
            "c dash > c dash'",
            "d hip > f",
        ],
    ),
    ("rail", _DECK, ["k front > k mid > k rear"]),
    (
        "cross member",
        _DECK,
        [
            "k front > k front'",
            "k mid > k middle",
            "k rear > k rear'",
            "k front > d",
            "k mid > f",
            "k rear > h",
            "k mid > e",
        ],
    ),
    (
        "diagonal",
        _LIGHT,
        [
            "c > d mid",
            "e > d mid",
            "g > f mid",
            "h > g mid",
            "c out > d hip",
            "a > b mid",
            "k front > k middle",
            "k rear > k middle",
        ],
    ),
)

_MASSES = (
    ("Front corners and beam", 58.0, (0, 0, 317)), ("Links, springs and brakes, rear", 34.0, (-2060, 0, 360)),
    ("Winch, ropes and kit", 42.0, (330, 0, 520)),
)  # fmt: skip

_SEAT = "outline -60 0, 420 0, 440 90, 40 80, -60 560, -140 550, -100 0 by 400"
_PARTS: tuple[tuple[Any, ...], ...] = (
    (
        "engine",
        "Engine, flat twin",
        "box 380 x 420 x 220",
        (-1240, 0, 545),
        46.0,
        {"slide": "left 800", "margin": "15"},
    ),
    ("gearbox", "Gearbox, low range", "box 170 x 220 x 190", (-1565, 0, 520), 31.0, {}),
    (
        "axle",
        "Live rear axle",
        "cylinder 76 x 1000",
        (-2080, 0, 317),
        44.0,
        {"yaw": "90", "touches": "differential, tyre, shaft"},
    ),
    ("differential", "Differential", "box 240 x 250 x 230", (-2080, 0, 330), 22.0, {"touches": "axle, shaft"}),
    ("battery", "Battery", "box 190 x 180 x 150", (270, 0, 555), 16.0, {"slide": "up 250"}),
    ("tank", "Tank, 20 litres", "box 340 x 180 x 300", (-1190, -455, 480), 4.0, {"contents": "15"}),
    ("radiator", "Radiator", "box 60 x 420 x 300", (470, 0, 640), 11.0, {}),
    ("seat", "Driver's seat", _SEAT, (-800, 248, 440), 7.0, {"touches": "rail, diagonal, cross member"}),
    ("seat", "Attendant's seat", _SEAT, (-800, -246, 440), 7.0, {"touches": "rail, diagonal, cross member"}),
    ("pedals", "Pedals", "box 90 x 150 x 150", (35, 205, 535), 5.0, {}),
    ("hand wheel", "Hand wheel", "box 40 x 340 x 340", (-365, 248, 1102), 1.6, {"pitch": "35"}),
    (
        "load",
        "Stretcher",
        "box 1850 x 520 x 90",
        (-1990, 0, 775),
        21.0,
        {"slide": "rearward 1900", "touches": "person"},
    ),
)
_PEOPLE = (
    (
        "Idris",
        1810,
        88.0,
        (-712, 246, 565),
        {
            "back": "12",
            "pedals": "35, 205, 535",
            "feet": "105",
            "floor": "430",
            "wheel": "-365, 248, 1102",
            "wheel size": "340",
            "margin": "10",
            "uses": "Driver's seat, Pedals, Hand wheel",
        },
    ),
    (
        "Maren",
        1680,
        66.0,
        (-722, -246, 590),
        {
            "back": "12",
            "pedals": "0, -205, 535",
            "feet": "105",
            "floor": "430",
            "wheel": "none",
            "stroke": "0",
            "margin": "10",
            "uses": "Attendant's seat",
        },
    ),
    (
        "Casualty",
        1740,
        80.0,
        (-1960, 0, 925),
        {
            "back": "85",
            "pedals": "-1090, 0, 955",
            "feet": "160",
            "floor": "845",
            "wheel": "none",
            "stroke": "0",
            "splay": "2",
            "margin": "20",
        },
    ),
)
_SHAFT = "shaft Propshaft from -1652 0 440 to -1958 0 360"
_DRIVE = {"up": "90", "down": "70", "diameter": "50", "touches": "gearbox, differential"}
_LINES = (
    "tyre front 25x8-12",
    "tyre rear 25x10-12",
    "profile example",
    "deadline 2027-09-30",
    "target wheelbase 2080 +- 10",
    "target front track 1100 +- 15",
    "target rear track 1100 +- 15",
    "target length 3700",
    "target width 1450",
    "target height 1650",
    "target ground clearance 210",
    "target mass 780 kg",
    "target power 22",
    "target torque 48",
    "target budget 9500",
    "level corner 0.7",
    "level landing 3",
    "rollstiff front 240 rear 260",
    "axle rear lower J5L upper J6L rod J7R",
    "axle rear lower out -2080, 330, 300",
    "axle rear upper out -2080, 330, 520",
    "axle rear rod out -2160, 300, 330",
    "axle rear spring J7L",
    "axle rear spring out -2130, 330, 320",
    "axle rear down 70",
    "axle rear roll 4",
    "case tow at J1L J1R",
    "case harness at J19L J19R",
)
_KICK = "bend -60 330 440; -164 330 380 fold"  # the rail's Z behind the front cross member
_FITTINGS: tuple[tuple[str, tuple[str, ...], str], ...] = (  # kind, what it is on by name, the rest
    ("fish plate", ("d", "e"), "at {end}, length 260, depth 60, thickness 4"),
    ("fish plate", ("e", "f"), "at {end}, length 260, depth 60, thickness 4"),
    ("panel", ("a", "b", "b mid", "b'", "a'"), "thickness 1.5, fixing riveted, pitch 50"),
    ("panel", ("c", "d", "d mid", "d'", "c'"), "thickness 1.5, fixing riveted, pitch 50"),
    (
        "panel",
        ("k front", "k mid", "k middle", "k mid'", "k front'"),
        "thickness 2, material aluminium, fixing riveted, pitch 60",
    ),
    (
        "panel",
        ("k mid", "k rear", "k rear'", "k mid'", "k middle"),
        "thickness 2, material aluminium, fixing riveted, pitch 60",
    ),
    ("gusset", ("d top", "d top'", "d shoulder"), "leg 90, thickness 3"),
    ("gusset", ("c top", "c top'", "c dash"), "leg 90, thickness 3"),
)
_LOG = (
    "log week 8 h",
    "did Donor axle measured and drawn, spring seats cut off; of B18; 6 h; on 2026-10-31",
    "did Rails kicked and mitred, on the stands; of J3L J3R J5L J5R; 11 h; cost 265; on 2026-11-08",
    "order Low range gearbox; of B17; ordered 2026-10-20; due 2027-03-12; cost 480",
    "todo Cross members between the rails; 10 h",
    "todo Cage over the crew; 22 h; after D1",
    "todo Gearbox cradle; of B17; 8 h; after D1 O1",
    "todo Stretcher rails and their latches; 12 h; after D2",
)
_SLIPS = (-0.5, 0.3, 0.9, -0.4, 0.2)  # of the readings on the rails, mm
_STANDS = ("a", "c", "e", "h")

_PICKUPS = (("a", "front"), ("b", "front"), ("e", "rear"), ("g", "rear"))
_TABLE = {
    "corner_x": -3200.0,
    "corner_y": -750.0,
    "length": 3900.0,
    "width": 1500.0,
    "top_z": 240.0,
    "least_saddle": 80.0,
}


def build() -> Job:
    """The whole job, made with the builder's own edits."""
    job = Job(
        brief=Brief(name="Fell Litter", builder="Saltmarsh Fabrication", vehicle="Mountain-rescue stretcher carrier")
    )
    job = edits.add_datum(job, "rear axle line", (-2080, 0, 0))
    job, ids = framed(job, _JOINTS, _TUBES, "Structural hollow section")
    job = edits.add_wheel(job, "front", (0, 550, 317), 635, 203)
    job = edits.add_wheel(job, "rear", (-2080, 550, 317), 635, 254)
    job = standing(job, ids, _PICKUPS, _MASSES, _TABLE, _STANDS)
    job = _fitted(job, ids)
    job = furnished(job, _PARTS, _PEOPLE, ((_SHAFT, _DRIVE),), (*_LINES, *_LOG))
    job = tacked(job, 500, "2026-11-08")
    return measured(job, (ids[n] for n in _STANDS), _SLIPS, "2026-11-09")


def _fitted(job: Job, ids: dict[str, str]) -> Job:
    """The kick in the rails, and sheet and fittings by the joints that they are on."""

    def tube(a: str, b: str) -> str:
        return job.tube_by_ends[frozenset((ids[a], ids[b]))].id

    job = understand(_KICK, job, (tube("b", "c"),)).job
    for kind, on, rest in _FITTINGS:
        if kind == "panel":
            line = f"add panel joints {' '.join(ids[n] for n in on)}, {rest}"
        elif kind == "gusset":
            line = f"add gusset joint {ids[on[0]]}, tubes {tube(on[0], on[1])} {tube(on[0], on[2])}, {rest}"
        else:
            name = tube(on[0], on[1])
            line = f"add fish plate tube {name}, {rest.format(end=round(route_of(job, job.tube(name)).length))}"
        job = understand(line, job).job
    return job
