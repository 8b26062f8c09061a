"""A builder who does things at random: typed lines and mouse moves, some of them refused."""

import random

from ironcage.core.job import edits
from ironcage.core.job.commands import Done, understand
from ironcage.core.job.model import Job
from ironcage.problem import Problem

_ALWAYS = (
    *(3 * ("joint {x} {y} {z}", "joint {x} 0 {z}")),
    "joint {x} {y} {z}", "joint {x} 0 {z}", "joint {x} {y} {z} alone", "units inch 1/32 lb", "units mm kg", "name Tern", "table top {z}",
    "place battery {d} at {x} {y} {z}", "place motor Drive cylinder 200 x {d} at {x} 0 {z} mass 12", "person Ann {x1} at {x} {y} 330",
    "chain Final teeth 15 40 pitch 12.7 from {x} 60 {z} to -3000 60 300", "shaft Prop from 600 0 400 to {x} 0 {z}", "target mass {x1}",
    "profile example", "profile empty", "rule member role side, count {d}: Sides", "variant keep One", "variant open One", "deadline 2027-04-10",
    "line roof z {z}", "line roof z {x1}", "pattern Hub 1-2 {d}, 2-3 {d}, 1-3 {d} dia 8", "line roof gone",
    "mass 12 Pump at {x} 0 {z}", "datum post at {x} 0 {z}", "datum front axle line", "wheels front 0 {y} 290 dia 580 width 165",
)  # fmt: skip
_JOINTS = (
    "z+{d}",
    "x {x}",
    "y+{d} z-{d}",
    "r {d}",
    "part",
    "pair",
    "pickup",
    "pickup rear",
    "stand",
    "delete",
    "tube",
    "tube 25 x 1.5",
    "merge",
    "lay roof",
)
_PLACED = (
    "z+{d}", "x {x}", "set margin {d}", "set mass {d}", "set pedals x+{d}", "set thigh {x1}", "set driven x-{d}", "set slide up {z}", "drop {d}",
    "align ground", "align level B1", "use", "delete", "set up {d}", "hole foot at 0, 0, {d} dia 10", "set aboard no",
)  # fmt: skip
_TUBES = ("split", "split 30%", "section 25 x 2 round", "section 40 x 20 x 2", "role diagonal", "roll 45", "pin first", "material aluminium 6061",
          "delete", "through")  # fmt: skip


def step(job: Job, rng: random.Random) -> Done | None:
    """One random thing done to a job; None when it was refused."""
    joints, tubes = list(job.joint_by_id), list(job.tube_by_id)
    kind = (
        rng.choice("ajjttp" if job.placed else "ajjtt")
        if len(joints) > 8 and tubes
        else rng.choice("aaj")
        if joints
        else "a"
    )
    line = rng.choice({"a": _ALWAYS, "j": _JOINTS, "t": _TUBES, "p": _PLACED}[kind])
    values = {
        "x": rng.randrange(-2000, 400, 5),
        "y": rng.randrange(100, 700, 5),
        "z": rng.randrange(150, 1300, 5),
        "d": rng.randrange(5, 60),
        "x1": rng.randrange(400, 1900, 5),
    }
    chosen: tuple[str, ...] = ()
    if kind == "j":
        chosen = tuple(rng.sample(joints, min(len(joints), rng.choice((1, 2, 2)))))
    elif kind == "t":
        chosen = (rng.choice(tubes), *job.tube_by_id[rng.choice(tubes)].ends[:1])
    elif kind == "p":
        chosen = tuple(rng.sample(list(job.placed), min(len(job.placed), rng.choice((1, 1, 2)))))
    try:
        if kind == "j" and rng.random() < 0.2:
            return Done("drag", edits.move(job, chosen, dx=values["d"]), chosen)
        return understand(line.format(**values), job, chosen)
    except Problem:
        return None
