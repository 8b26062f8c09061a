"""A builder who does things at random: typed lines and mouse moves, some of them refused."""

import random

from ironcage.core.job import edits
from ironcage.core.job.text import Done, understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

_ALWAYS = (
    *(3 * ("joint {x} {y} {z}", "joint {x} 0 {z}")),
    "joint {x} {y} {z}",
    "joint {x} 0 {z}",
    "joint {x} {y} {z} alone",
    "units inch 1/32 lb",
    "units mm kg",
    "name Tern",
    "table top {z}",
    "place battery {d} at {x} {y} {z}",
    "place motor Drive cylinder 200 x {d} at {x} 0 {z} mass 12",
    "person Ann {x1} at {x} {y} 330",
    "chain Final teeth 15 40 pitch 12.7 from {x} 60 {z} to -3000 60 300",
    "shaft Prop from 600 0 400 to {x} 0 {z}",
    "target mass {x1}",
    "profile example",
    "profile empty",
    "rule member role side, count {d}: Sides",
    "variant keep One",
    "variant open One",
    "deadline 2027-04-10",
    "line roof z {z}",
    "line roof z {x1}",
    "pattern Hub 1-2 {d}, 2-3 {d}, 1-3 {d} dia 8",
    "line roof gone",
    "die 38 clr 60",
    "die 25 clr 50 grip 10",
    "hoop main 38 x 2 height {x1} width {x1} lean 8 at {x} {z}",
    "bars 6000 {x1}",
    "plates 2000 x {x1}",
    "add cap joint {j}, tube {t}, thickness 2",
    "piece {t} cut",
    "piece {t} checked {d}",
    "piece {t} rejected: bent",
    "piece {t} open",
    "saw kerf 2.5 grip {d}",
    "offcut {x1} of 38 x 2 round",
    "offcut K1 gone",
    "stretch ahead of {x} by {d}",
    "stretch behind {x} by -{d}",
    "stretch outside {y} by {d}",
    "lock 30",
    "add panel joints {j} {k} {l}, thickness 1.5, fixing riveted, pitch 30",
    "joint beside {j} z-{d}",
    "joint from {j} to z {z}",
    "joint on {t} 40%",
    "cross {t} {u}",
    "add {f} gone",
    "add holes host {f}, count 2, diameter 12",
    "add {f} thickness 2",
    "hole foot at 0, 0, {d} dia 10",
    "joint at B1 foot",
    "mass 12 Pump at {x} 0 {z}",
    "datum post at {x} 0 {z}",
    "datum front axle line",
    "wheels front 0 {y} 290 dia 580 width 165",
    "level bump {d}",
    "case Book: {j} z-{z} y {d} held {k} {l}",
    "case tow at {j}",
    "combine Both: 1 braking + 2 Book",
    "case Book gone",
    "welds 0.{d}",
    "rollstiff front {d} rear {d}",
    "sheet single seat",
    "sheet kart",
    "sheet from frame",
    "sheet line sill 40 x 40 x 2",
    "sheet line sill gone",
    "sheet line lower rail 25 x 2",
    "sheet line upper rail crossed no",
    "sheet {x}: {y}, {z}; {y}, {z}; -",
    "sheet {x}: {y}, {z} open",
    "sheet {x}: {d}",
    "sheet station {x} to {x1}",
    "sheet station {x} gone",
    "sheet widths over both outside",
    "sheet heights top",
    "sheet diagonals both",
    "sheet diagonals zigzag",
    "sheet diagonals none",
    "sheet web 20 x 2",
    "sheet lay",
    "sheet lay",
    "sheet lay",
    "reading {d} kg front 0.{d}",
    "corner front lower {j} {k} upper {l} {j} spring {k}",
    "corner front rate {d}",
    "corner front pivot {x}, {y}, {z}",
    "corner front column {x}, {y}, {z}",
    "corner front pivot none",
    "corner front air across 70 column {d}",
    "corner front hole {x}, {y}, {z}",
    "corner front eye thread 12 shank {d} start 20 engaged 18",
    "corner front bar od 22 bore 16 length 700 arm {d}",
    "corner front rocker {l}",
    "corner front rod in {x}, {y}, {z}",
    "corner front rocker none",
    "band front camber -2 to 0.5",
    "band front camber gone",
    "corner front gone",
    "axle rear lower {j} upper {k} rod {l}",
    "axle rear spring {j}",
    "axle rear ladder {j} rod {l}",
    "axle rear lower {j} torque {k} rod {l}",
    "axle rear torque out {x}, 0, {z}",
    "axle rear leaf eyes {j} {k}",
    "axle rear seat {x}, {y}, {z}",
    "axle rear leaf wide 60 thick 7 stepped 4 shackle {d}",
    "axle rear gone",
    "beam front",
    "beam front arm {x}, {y}, {z}",
    "beam front pivot {x}, 0, {z}",
    "beam front leaf front {d} rear {d} wide 40 thick 5 base 500",
    "beam front leaf lies across",
    "beam front drag {x}, {y}, {z}",
    "beam front on leaf eyes {j} {k}",
    "beam front on seat {x}, {y}, {z}",
    "beam front on ladder {j} rod {l}",
    "beam front on spring {j}",
    "beam front rate {d}",
    "beam front on none",
    "beam front gone",
    "arm rear axis {j} {k}",
    "arm rear spring {j}",
    "arm rear rocker {l}",
    "arm rear rod in {x}, {y}, {z}",
    "arm rear gone",
)
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
    "tie to {j}",
    "tie between {j} {k}",
    "tie 40% between {j} {k}",
    "untie",
    "turn 5 about y",
    "turn 12 about x",
    "slide {d} along {j} {k}",
    "mirror",
    "copy x-{x1}",
)
_PLACED = (
    "z+{d}",
    "x {x}",
    "set margin {d}",
    "set mass {d}",
    "set pedals x+{d}",
    "set thigh {x1}",
    "set driven x-{d}",
    "set slide up {z}",
    "drop {d}",
    "align ground",
    "align level B1",
    "use",
    "delete",
    "set up {d}",
    "hole foot at 0, 0, {d} dia 10",
    "set aboard no",
)
_TUBES = (
    "split",
    "split 30%",
    "section 25 x 2 round",
    "section 40 x 20 x 2",
    "role diagonal",
    "roll 45",
    "pin first",
    "material aluminium 6061",
    "delete",
    "through",
    "kick up {d} angle 30 at {d} by fold",
    "kick out {d} angle 45 at {d} by mitre",
    "jog in 20 angle 45 at {d} to 200",
    "bend straight",
    "kick up {d} angle 30 at {d} by bend",
    "taper 20 x 1.5",
    "taper 30 x 20 x 2",
    "taper none",
    "lower to 30",
    "land {e} z-{d}",
    "land {e} on",
    "copy 2 times x-{x1}",
    "sequence -1",
    "donor",
    "laser",
    "add doubler at {d}, length 60, wall 2",
    "add insert at {d}, od 20.8, wall 2, depth 30",
    "add fish plate at {d}, length 90, depth 30, thickness 3",
    "add tab at {d}, width 40, height 40, thickness 4, hole 10",
    "add gusset tubes {t} {u}, leg 40, thickness 2",
    "mirror",
    "meet {j}",
    "turn 5 about z at {j}",
)


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
    names = {"j": joints, "k": joints, "l": joints, "t": tubes, "u": tubes, "f": list(job.fitting_by_id)}
    values |= {key: rng.choice(known) if known else "-" for key, known in names.items()}
    chosen: tuple[str, ...] = ()
    if kind == "j":
        chosen = tuple(rng.sample(joints, min(len(joints), rng.choice((1, 2, 2)))))
    elif kind == "t":
        tube = rng.choice(tubes)
        values["e"] = job.tube_by_id[tube].a
        chosen = (tube,) if rng.random() < 0.7 else (tube, *job.tube_by_id[rng.choice(tubes)].ends[:1])
    elif kind == "p":
        chosen = tuple(rng.sample(list(job.placed), min(len(job.placed), rng.choice((1, 1, 2)))))
    try:
        if kind == "j" and rng.random() < 0.2:
            return Done("drag", edits.move(job, chosen, dx=values["d"]), chosen)
        if kind == "t" and rng.random() < 0.1 and (clipping := edits.clip(job, tubes[: len(tubes) // 2])):
            return Done("paste", *edits.paste(edits.delete(job, chosen), clipping))
        return understand(line.format(**values), job, chosen)
    except Problem:
        return None
