"""Sandpiper: Saltmarsh Fabrication's two-seat beach-sprint car, a transverse triple behind the seats.

Joints are given for the left side (or y = 0) in mm and mirrored; tubes by the names of their joints here.
A tube name ending in an apostrophe is the joint on the right side.
"""

from itertools import pairwise

from ironcage.core.job import edits
from ironcage.core.job.model import Brief, Job

_JOINTS = {
    # nose and front suspension bay; the rails run straight from a through b to c
    "a low": (330, 170, 230), "a up": (330, 170, 430), "a up mid": (330, 0, 430),
    "b low": (150, 192.5, 230), "b up": (150, 192.5, 452.5), "b low mid": (150, 0, 230), "b up mid": (150, 0, 452.5),
    "c low": (-150, 230, 230), "c up": (-150, 230, 490),
    # front hoop, cockpit sides and floor
    "d low": (-620, 520, 220), "d mid": (-620, 530, 560), "d top": (-660, 430, 900), "d floor": (-620, 0, 220),
    "e low": (-1150, 541.2, 220), "e mid": (-1150, 545.9, 549.4), "e floor": (-1150, 0, 220),
    # main hoop
    "f low": (-1620, 560, 220), "f mid": (-1620, 560, 540), "f harness": (-1620, 560, 870),
    "f shoulder": (-1620, 560, 1100), "f top": (-1620, 420, 1340),
    "f floor": (-1620, 0, 220), "f belt": (-1620, 0, 870), "f roof": (-1620, 0, 1340),
    # engine bay and rear suspension
    "g low": (-1870, 450, 220), "h low": (-2120, 340, 220), "h up": (-2120, 360, 560), "h low mid": (-2120, 0, 220),
    "i low": (-2480, 300, 220), "i up": (-2480, 320, 575), "i up mid": (-2480, 0, 575),
}  # fmt: skip

_HOOP, _RAIL, _CROSS, _LIGHT = "45 x 2.5 round", "38 x 2 round", "30 x 1.5 round", "25 x 1.5 round"
_STEEL = "Cold-drawn steel tube"

# role, section, tubes as chains of joints
_TUBES = (
    ("main hoop", _HOOP, ["f low > f mid > f harness > f shoulder > f top > f roof"]),
    ("front hoop", _HOOP, ["d low > d mid > d top > d top'"]),
    ("hoop brace", _RAIL, ["f top > i up"]),
    ("rail", _RAIL, [
        "a low > b low > c low > d low > e low > f low > g low > h low > i low",
        "a up > b up > c up > d mid > e mid > f mid > h up > i up",
    ]),
    ("cross member", _CROSS, [
        "a low > a low'", "a up > a up mid", "b low > b low mid", "b up > b up mid", "c low > c low'", "c up > c up'",
        "d low > d floor", "e low > e floor", "f low > f floor", "f mid > f mid'", "f harness > f belt",
        "g low > g low'", "h low > h low mid", "h up > h up'", "i low > i low'", "i up > i up mid",
        "d floor > e floor > f floor",
    ]),
    ("side", _CROSS, ["a low > a up", "b low > b up", "c low > c up", "e low > e mid", "h low > h up", "i low > i up",
                      "c up > d top"]),
    ("engine bay", _CROSS, ["g low > f mid", "g low > h up"]),
    ("diagonal", _LIGHT, [
        "a low > a up mid", "a low > b up", "b up > c low", "c low > d mid", "d low > e mid", "e mid > f low",
        "h low > i up", "a low > b low mid", "c low > b low mid", "a up > b up mid", "c up > b up mid",
        "c low > d floor", "d low > e floor", "f low > e floor", "f floor > g low", "g low > h low mid",
        "i low > h low mid", "i low > i up mid", "f floor > f mid", "f mid > f belt", "f shoulder > f belt",
        "f belt > f top",
    ]),
)  # fmt: skip

_MASSES = (
    ("Engine, transverse triple", 84.0, (-1870, 0, 430)), ("Driver, Bryn", 82.0, (-1330, 280, 470)),
    ("Passenger, Ottilie", 68.0, (-1330, -280, 470)), ("Fuel, 14 litres", 10.5, (-1720, 0, 330)),
    ("Battery", 9.0, (-20, 0, 300)), ("Spool, sprocket and axle", 31.0, (-2300, 0, 290)),
    ("Front corners, both", 46.0, (0, 0, 290)), ("Rear corners, both", 52.0, (-2300, 0, 300)),
    ("Seats and harnesses", 19.0, (-1400, 0, 430)), ("Steering and pedals", 15.0, (-330, 150, 480)),
    ("Radiator and water", 12.0, (300, 0, 340)), ("Floor and body panels", 24.0, (-1000, 0, 380)),
)  # fmt: skip

_STANDS = ("a low", "c low", "e low", "f low", "h low", "i low")


def build() -> Job:
    """The whole job, made with the builder's own edits."""
    job = Job(brief=Brief(name="Sandpiper", builder="Saltmarsh Fabrication", vehicle="Two-seat beach-sprint car"))
    job = edits.add_datum(job, "firewall", (-1620, 0, 220))
    job = edits.add_datum(job, "table top", (0, 0, 120))
    ids = {}
    for name, place in _JOINTS.items():
        job = edits.add_joint(job, (float(place[0]), float(place[1]), float(place[2])))
        ids[name] = job.joints[-1 if place[1] == 0 else -2].id
        ids[name + "'"] = job.joints[-1].id
    for role, section, chains in _TUBES:
        for chain in chains:
            joints = [ids[name.strip()] for name in chain.split(">")]
            for a, b in pairwise(joints):
                job = edits.add_tube(job, a, b, section, _STEEL, role)
    job = edits.add_wheel(job, "front", (0, 660, 285), 570, 165)
    job = edits.add_wheel(job, "rear", (-2300, 650, 300), 600, 215)
    for name in ("b low", "b up", "c low", "c up"):
        job = edits.add_pickup(job, ids[name], "front")
    for name in ("h low", "h up"):
        job = edits.add_pickup(job, ids[name], "rear")
    for name, kg, at in _MASSES:
        job = edits.add_mass(job, name, kg, (float(at[0]), float(at[1]), float(at[2])))
    job = edits.set_table(
        job, corner_x=-2850.0, corner_y=-750.0, length=3600.0, width=1500.0, top_z=120.0, least_saddle=80.0
    )
    return edits.toggle_stands(job, [ids[name] for name in _STANDS])
