"""Snags of the frame: slender tubes, tight corners, crowded joints, tubes that run through or nearly meet others,
loose ends, unlike materials, bays that fold."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import combinations

import numpy as np

from ironcage.core.answers.frame import bays
from ironcage.core.answers.frame.pivots import lined_up
from ironcage.core.answers.shared import fittings
from ironcage.core.answers.shared.joint_plans import STRAIGHT
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.answers.shared.snag import Snag, be, named
from ironcage.core.calc.tubes.centreline import demand_bendable
from ironcage.core.calc.tubes.segments import boxes_near, distances
from ironcage.core.job.geometry.routes import end_axes, pieces, route_of
from ironcage.core.job.values.fittings import AnyFitting, CrushTube, FishPlate, Insert, Panel, SlipJoint, TubeHoles
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said

SLENDER = 160.0  # length by radius of gyration: beyond, a strut bows before it carries much (Euler, ends held as pins)
TIGHT = math.radians(25)  # closer than this two tubes are hard to cut and to weld between
CROWD = 6  # tubes at a joint
MOST_TIGHT = 12  # told one by one
NEAR_MM = 6.0  # tubes that pass this near, wall to wall, were most likely meant to meet or to clear
WARP_MM = 5.0
SAME_SIZE_MM = 0.05
ONCE_IN_LINE = math.radians(
    20
)  # a bent tube and one of its make that turn by less at a joint were most likely one piece


def bent(job: Job) -> Iterator[Snag]:
    """Bends that have come too close since they were made, that no die on the shelf makes, and tapers between unlike
    shapes."""
    shapes = {s.name: s.shape for s in job.shelf.sections}
    no_die: dict[tuple[float, float], list[str]] = {}
    for t in (t for t in job.tubes if t.corners or t.taper):
        size = max(shapes[t.section].size)
        die = next(
            (d for d in job.shelf.dies if abs(d.od - size) < SAME_SIZE_MM and abs(d.radius - t.radius) < SAME_SIZE_MM),
            None,
        )
        try:
            demand_bendable(route_of(job, t), t.id, die.grip if die else 0.0)
        except Problem as problem:
            yield Snag("wrong", "can't be bent", "frame", problem.what, (t.id,), problem.hint)
        if t.radius and die is None:
            no_die.setdefault((size, t.radius), []).append(t.id)
        if t.taper and shapes[t.taper].kind != shapes[t.section].kind:
            yield Snag(
                "wrong",
                "can't taper",
                "frame",
                f"{t.id} can't taper from {t.section} to {t.taper}.",
                (t.id,),
                "Make both ends round, or both rectangular.",
            )
    for (size, radius), names in no_die.items():
        yield Snag(
            "unknown",
            "no die",
            "frame",
            f"{named(names)} {be(names)} bent to {said.size(radius)}, and there is no such die for "
            f"{said.size(size)} tube on the shelf.",
            tuple(names),
            f"Type: die {said.typing(size)} clr {said.typing(radius)}",
        )


def kinked(job: Job) -> Iterator[Snag]:
    """Bent tubes that ran on through a joint as one piece and no longer do, as when a joint on a hoop was moved."""
    if not any(t.radius for t in job.tubes):
        return
    axes = end_axes(job)
    for joint, tubes in job.tubes_at.items():
        for one, other in combinations(tubes, 2):
            if not (one.radius or other.radius) or (one.section, one.material) != (other.section, other.material):
                continue
            a, b = (axes[t.id, joint][0] * (1 if t.a == joint else -1) for t in (one, other))
            turn = math.pi - math.acos(float(np.clip(a @ b, -1, 1)))
            if STRAIGHT < turn < ONCE_IN_LINE:
                yield Snag(
                    "look",
                    "kinked",
                    "frame",
                    f"{one.id} and {other.id} kink by {math.degrees(turn):.1f}° at {joint}, so they are cut apart and "
                    f"mitred, not bent as one.",
                    (one.id, other.id, joint),
                    f"Move {joint} until they run on in line, or bend them again.",
                )


def slender(job: Job) -> Iterator[Snag]:
    """Tubes so long for their section that they bow."""
    radius = {}
    for name, material in {(t.section, t.material) for t in job.tubes}:
        p = job.section(name).shape.properties(job.material(material).poisson)
        radius[name, material] = math.sqrt(min(p.i_y, p.i_z) / p.area)
    lengths = weigh(job).lengths
    found = sorted(((lengths[n] / radius[t.section, t.material], t.id) for n, t in enumerate(job.tubes)), reverse=True)
    long = [(s, name) for s, name in found if s > SLENDER]
    if long:
        names = tuple(name for _, name in long)
        yield Snag(
            "look",
            "slender",
            "frame",
            f"{named(names)} {be(names)} slender: {long[0][0]:.0f} times the radius of gyration; over {SLENDER:.0f} a "
            f"strut bows early.",
            names,
            "Split it with a tube across, or take a larger section.",
        )


def tight(job: Job) -> Iterator[Snag]:
    """Tubes that meet at too sharp an angle, and joints with too many tubes."""
    axes = end_axes(job)
    sharp: list[tuple[float, str, str, str]] = []
    crowds = {joint: len(tubes) for joint, tubes in job.tubes_at.items() if len(tubes) > CROWD}
    if crowds:
        worst = sorted(crowds, key=lambda j: -crowds[j])
        told = named([f"{j} ({crowds[j]})" for j in worst])
        yield Snag(
            "look",
            "crowded joint",
            "frame",
            f"Many tubes meet at {told}; more than {CROWD} are hard to fit and to weld all round.",
            tuple(worst),
            "Let some of them land beside it, or at a joint of their own.",
        )
    for joint, tubes in job.tubes_at.items():
        ways = np.array([axes[t.id, joint][0] * (1 if t.a == joint else -1) for t in tubes])
        cosines = np.clip(ways @ ways.T, -1, 1)
        for i, j in zip(*np.triu_indices(len(tubes), 1), strict=True):
            if cosines[i, j] > math.cos(TIGHT):
                sharp.append((math.acos(float(cosines[i, j])), joint, tubes[i].id, tubes[j].id))
    sharp.sort()
    for angle, joint, one, other in sharp[:MOST_TIGHT]:
        yield Snag(
            "look",
            "tight angle",
            "frame",
            f"{one} and {other} meet at {math.degrees(angle):.0f}° at {joint}; under {math.degrees(TIGHT):.0f}° is "
            f"hard to cut and to weld between.",
            (joint, one, other),
            "Move one of their other ends.",
        )
    rest = tuple(dict.fromkeys(joint for _, joint, _, _ in sharp[MOST_TIGHT:]))
    if rest:
        yield Snag(
            "look",
            "tight angle",
            "frame",
            f"{len(sharp) - MOST_TIGHT} more pairs of tubes meet under {math.degrees(TIGHT):.0f}°, at {named(rest)}.",
            rest,
            "Move one of their other ends.",
        )


def passing(job: Job) -> Iterator[Snag]:
    """Tubes that run through others, that nearly meet, and joints that stand on a tube and are not joined to it."""
    if len(job.tubes) < 2:
        return
    lines = pieces(job)
    shapes = {s.name: s.shape for s in job.shelf.sections}
    half = np.array([min(shapes[t.section].size) / 2 for t in job.tubes])[lines.owner]
    low, high = np.minimum(lines.start, lines.stop) - half[:, None], np.maximum(lines.start, lines.stop) + half[:, None]
    pairs = boxes_near(low, high, NEAR_MM)
    number = {j.id: n for n, j in enumerate(job.joints)}
    ends = np.array([[number[e] for e in t.ends] for t in job.tubes])
    one, two = lines.owner[pairs[:, 0]], lines.owner[pairs[:, 1]]
    apart = (one != two) & ~(ends[one][:, :, None] == ends[two][:, None, :]).any(axis=(1, 2))
    pairs = pairs[apart]
    if not len(pairs):
        return
    a, b = pairs.T
    gap, s, t = distances(lines.start[a], lines.stop[a], lines.start[b], lines.stop[b])
    clear = gap - half[a] - half[b]
    worst: dict[tuple[int, int], tuple[float, float, float]] = {}
    for k in np.argsort(clear):
        key = int(lines.owner[a[k]]), int(lines.owner[b[k]])
        if clear[k] < NEAR_MM and key not in worst:
            at = [
                float(lines.share[p[k], 0] + q[k] * (lines.share[p[k], 1] - lines.share[p[k], 0]))
                for p, q in ((a, s), (b, t))
            ]
            worst[key] = (float(clear[k]), at[0], at[1])
    units = units_of(job)
    for (n, m), (room, at_n, at_m) in worst.items():
        yield _passing(job, n, m, room, (at_n, at_m), units.length(abs(room)))


def _passing(job: Job, n: int, m: int, room: float, at: tuple[float, float], words: str) -> Snag:
    first, second = job.tubes[n], job.tubes[m]
    for tube, other, share in ((first, second, at[0]), (second, first, at[1])):
        joint = tube.a if share < 1e-6 else tube.b if share > 1 - 1e-6 else ""
        if joint and room < 0:
            return Snag(
                "wrong",
                "not joined",
                "frame",
                f"{joint} stands in {other.id} and is not joined to it.",
                (joint, other.id, tube.id),
                f"Choose {other.id} and type: meet {joint}",
            )
    if room < 0:
        return Snag(
            "wrong",
            "tube through tube",
            "frame",
            f"{first.id} runs {words} into {second.id}.",
            (first.id, second.id),
            f"Move {first.id} or {second.id}, or join them where they cross: cross",
        )
    return Snag(
        "look",
        "nearly meeting",
        "frame",
        f"{first.id} passes {words} from {second.id}.",
        (first.id, second.id),
        "Join them, or give them room.",
    )


def loose_ends(job: Job) -> Iterator[Snag]:
    """Joints where one tube ends and nothing else is."""
    pickups = {p.joint for p in job.pickups}
    air = tuple(j for j, tubes in job.tubes_at.items() if len(tubes) == 1 and j not in pickups)
    if air:
        yield Snag(
            "look",
            "end in the air",
            "frame",
            f"One tube ends at {named(air)} and nothing else is there.",
            air,
            "Leave it if it is meant, as a tow eye is; else join it.",
        )


def materials(job: Job) -> Iterator[Snag]:
    """Joints where tubes of unlike material meet: one welds to the other, or it does not."""
    found: dict[tuple[str, str], list[str]] = {}
    for joint, tubes in job.tubes_at.items():
        kinds = sorted({t.material for t in tubes})
        for k, one in enumerate(kinds):
            for other in kinds[k + 1 :]:
                if not 0.8 < job.material(one).e / job.material(other).e < 1.25:
                    found.setdefault((one, other), []).append(joint)
    for (one, other), joints in found.items():
        yield Snag(
            "unknown",
            "unlike materials",
            "frame",
            f"{one} and {other} meet at {named(joints)}. They do not weld to each other: are they bolted?",
            tuple(joints),
            "Pin the ends that are bolted, or give both one material.",
        )


def folding(job: Job) -> Iterator[Snag]:
    """Bays that let the frame fold if joints were hinges."""
    ways = bays.find_bays(job).folding
    if ways:
        made = bays.find_bays(job)
        names = [made.bays[w.bay].name.replace(" ", "–") for w in ways]
        yield Snag(
            "look",
            "bays fold",
            "frame",
            f"If joints were hinges the frame would fold {len(ways)} way{'s' if len(ways) > 1 else ''}: "
            f"bay{'s' if len(names) > 1 else ''} {named(names)}.",
            made.bays[ways[0].bay].joints,
            "Frame, Bays says what would close each.",
        )


def fitted(job: Job) -> Iterator[Snag]:
    """Fittings that can't be made as they are, and panels that are not flat."""
    panels = {f.id for f in job.fittings if isinstance(f, Panel)}
    for f in fittings.fitting_facts(job):
        if f.problem:
            yield Snag(
                "wrong",
                "can't be fitted",
                "frame",
                f.problem,
                (f.id,),
                "Make them smaller or fewer, or take another place.",
            )
        if f.id in panels and f.warp > WARP_MM:
            yield Snag(
                "look",
                "warped panel",
                "frame",
                f"{f.id} is not flat: its corners lie up to {units_of(job).length(f.warp)} off one plane.",
                (f.id,),
                "Fold it along a diagonal, or move a joint.",
            )


def _inside(f: AnyFitting) -> list[tuple[str, float, float]]:
    """Where a piece or a row of them is in a tube or goes through it: the tube, from where to where along it, mm."""
    if isinstance(f, Insert):
        half = f.depth + f.gap / 2
    elif isinstance(f, SlipJoint):
        half = f.engaged / 2
    elif isinstance(f, CrushTube | TubeHoles):
        half = (f.od if isinstance(f, CrushTube) else f.diameter) / 2
    else:
        return []
    count, pitch = (f.count, f.pitch) if isinstance(f, CrushTube | TubeHoles) else (1, 0.0)
    return [(f.tube, f.at + n * pitch - half, f.at + n * pitch + half) for n in range(count)]


def in_one_place(job: Job) -> Iterator[Snag]:
    """Pieces inside one tube that would be in the same place, and fish plates that reach past both ends of theirs."""
    held: dict[str, list[tuple[AnyFitting, tuple[str, float, float]]]] = {}
    for f in job.fittings:
        for span in _inside(f):
            held.setdefault(span[0], []).append((f, span))
    told: set[tuple[str, str]] = set()
    for (one, a), (other, b) in (pair for there in held.values() for pair in combinations(there, 2)):
        both = min(a[2], b[2]) - max(a[1], b[1])
        holes = isinstance(one, TubeHoles) and isinstance(other, TubeHoles)  # these may be on different sides
        if both > SAME_SIZE_MM and one.id != other.id and not holes and (one.id, other.id) not in told:
            told.add((one.id, other.id))
            yield Snag(
                "wrong",
                "in one place",
                "frame",
                f"{one.kind[0].upper()}{one.kind[1:]} {one.id} and {other.kind} {other.id} are in one place in {a[0]}, "
                f"over {said.length(both)}.",
                (one.id, other.id),
                f"Move one along the tube. Type: add {other.id} at {said.typing(round(a[2] + (b[2] - b[1]) / 2 + 1))}",
            )
    for f, made in zip(job.fittings, fittings.fitting_facts(job), strict=True):
        if isinstance(f, FishPlate):
            length = route_of(job, job.tube_by_id[f.tube]).length
            covered = sum(s.stop - s.start for s in made.stiffens)
            if f.at - f.length / 2 < 0 and f.at + f.length / 2 > length and covered < f.length - SAME_SIZE_MM:
                yield Snag(
                    "wrong",
                    "too long a plate",
                    "frame",
                    f"Fish plate {f.id} is {said.length(f.length)} long and reaches past both ends of {f.tube}, which "
                    f"is {said.length(length)}.",
                    (f.id,),
                    f"Type: add {f.id} length {said.typing(round(length))}",
                )


CHECKS = (bent, kinked, slender, tight, passing, loose_ends, materials, folding, fitted, in_one_place, lined_up)
