"""Prove: how stiff the frame is in twist and bending, where it twists, and which tubes work."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ironcage.core.answers.shared.beam_model import beam_frame, fresh_frame
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.frame_arrays import lines
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.frames import rigs
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import said

FRAME_PARTS = ("joints", "tubes", "shelf", "fittings", "pickups", "parts", "proving")  # what stiffness depends on
TORQUE = 1e6  # N·mm, the 1,000 N·m that every figure of the twist test is for
BENDING_FORCE = 1000.0  # N

ASSUMPTIONS = (
    "Tubes rigidly welded on their centrelines, or beside them where they land so; bends as chords; small movements; "
    "material within its elastic range.",
    "Panels hold their joints with the stated share of their sheet; welds are as rigid as the joint factor says, 1 "
    "for rigid: a real welded frame is usually somewhat softer.",
    "Twist: the mean of the rear left pickups held in x, y, z, of the rear right in x, z, of the front in z (its "
    "reaction is "
    "zero); equal and opposite vertical loads at the front; angle = atan((z left − z right) / b). The pickups of a "
    "corner may move against each other, as nothing joins them "
    "until an upright does; on a rigid fixture, each held by itself, the frame reads stiffer, which stands beside it.",
    f"Sideways: {said.round_force(1000)} at the joints of the bending test, held back by all pickups with the least "
    "forces that balance it; stiffness by the work it does.",
    "A corner with several pickups shares its load equally and moves by their mean.",
    "An estimate of stiffness, not of strength, and no judgement of a roll structure: for that ask your "
    "sanctioning body and a licensed engineer.",
)


@dataclass(frozen=True)
class Station:
    """A place along the frame where twist is read: x (mm), the pair of joints, twist (rad) under TORQUE."""

    x: float
    left: str
    right: str
    twist: float


@dataclass(frozen=True)
class Region:
    """The frame between two neighbouring stations: slope: how fast it twists, rad/mm under TORQUE; energy: its
    tubes' share of the twist's strain energy."""

    front: Station
    rear: Station
    slope: float
    energy: float


@dataclass(frozen=True)
class BayShare:
    """A bay's corners, the joints round it, whether it is open, and the share of the twist's energy in its sides."""

    corners: tuple[str, ...]
    joints: tuple[str, ...]
    state: str
    energy: float


@dataclass(frozen=True)
class ProveAnswer:
    """Stiffness and how it comes about.

    lateral: N/mm sideways at the same joints, against the pickups; regions: the twist's share of energy between
    neighbouring stations; bays: where they were asked for (`work.by_bay`). torsion N·mm/rad, with the mean of each rear
    corner's pickups held; clamped: the same with every rear pickup held by itself, None where that can't be worked out;
    angle rad under TORQUE at the front; track mm between the loads; bending N/mm at `bending_at` (the loaded joints),
    None where no joint between the axles can be loaded; energy (m,) share of twist strain energy by tube, in job order;
    twisted and bent: displacements (n, 6) under TORQUE and BENDING_FORCE; soft: the two stations between
    which the twist per millimetre is greatest; mass kg and cg mm of the frame.
    """

    torsion: float
    clamped: float | None
    angle: float
    track: float
    front_reaction: float
    bending: float | None
    bending_at: tuple[str, ...]
    lateral: float | None
    stations: tuple[Station, ...]
    soft: tuple[Station, Station] | None
    regions: tuple[Region, ...]
    energy: Floats
    twisted: Floats
    bent: Floats
    mass: float
    cg: tuple[float, float, float]
    corners: dict[str, tuple[str, ...]]
    assumptions: tuple[str, ...] = ASSUMPTIONS
    bays: tuple[BayShare, ...] = ()

    @property
    def per_kg(self) -> float:
        """Torsional stiffness by frame mass, N·mm/rad/kg."""
        return self.torsion / self.mass


@dataclass(frozen=True, eq=False)
class Loose:
    """A job's frame with nothing holding it: index: rows of its joints by name."""

    whole: rigs.FreeFrame
    index: dict[str, int]


@remembered(*FRAME_PARTS)
def loose(job: Job) -> Loose:
    """The frame ready to be loaded; its factorisation serves every question. Raises Problem where there is none."""
    frame = beam_frame(job)
    return Loose(rigs.FreeFrame(frame), {name: n for n, name in enumerate(frame.node_names)})


@dataclass(frozen=True, eq=False)
class Rigged:
    """A job's frame on its rig: index: rows of its joints by name; corners: the pickups of each."""

    rig: rigs.Rig
    index: dict[str, int]
    corners: dict[str, tuple[str, ...]]


@remembered(*FRAME_PARTS, "wheels")
def rigged(job: Job) -> Rigged:
    """The frame ready to be twisted. Raises Problem naming what is missing."""
    if single := next((w for w in job.wheels if w.single), None):
        raise Problem(
            f"With a single {single.corner.partition(' ')[0]} wheel nothing twists the frame between four corners.",
            where="wheels",
            hint="Strength tells what the frame bears in each load case.",
        )
    held = loose(job)
    index = held.index
    corners = {c: tuple(p.joint for p in job.pickups if p.corner == c) for c in rigs.CORNERS}
    for corner, names in corners.items():
        for name in names:
            if name not in job.tubes_at:
                raise Problem(f"The {corner} pickup {name} is on no tube.", where=name, hint="Join it to the frame.")
    nodes = {c: tuple(index[n] for n in names) for c, names in corners.items()}
    return Rigged(rigs.Rig(held.whole.frame, nodes, held.whole), index, corners)


@remembered(*FRAME_PARTS, "wheels")
def twist(job: Job) -> rigs.TwistResult:
    """The twist test alone, all that the tally wants. Raises Problem when it can't be done, naming what is missing
    or loose."""
    return rigs.twist_test(rigged(job).rig, TORQUE)


@remembered(*FRAME_PARTS)
def answer(job: Job) -> ProveAnswer:
    """Twist and bend the frame. Raises Problem when it can't be done, naming what is missing or loose."""
    held, twisted = rigged(job), twist(job)
    rig, index, corners, frame = held.rig, held.index, held.corners, held.rig.frame
    middle = bending_joints(job, rig)
    hung = tuple(index[n] for n in middle)
    bend = rigs.bending_loads(rig, hung, BENDING_FORCE) if hung else np.zeros(frame.nodes.size * 2)
    side = rigs.lateral_loads(rig, hung, BENDING_FORCE) if hung else bend
    u, _ = rig.displacements(np.column_stack([bend, side]))
    energy = np.maximum(frame.strain_energy(twisted.u), 0.0)  # a tube that does nothing may round below
    stations = _stations(job, index, twisted.u)
    weighed = weigh(job)
    x, y, z = (float(v) for v in weighed.frame.cg)
    return ProveAnswer(
        torsion=twisted.stiffness,
        clamped=_clamped(rig),
        angle=twisted.angle,
        track=twisted.track,
        front_reaction=twisted.front_reaction,
        bending=BENDING_FORCE / -float(np.mean(u[list(hung), 2, 0])) if hung else None,
        bending_at=middle,
        stations=stations,
        soft=_softest(stations),
        energy=energy / energy.sum(),
        twisted=twisted.u,
        bent=u[:, :, 0],
        mass=weighed.frame.mass,
        cg=(x, y, z),
        corners=corners,
        lateral=BENDING_FORCE**2 / float(side @ u[:, :, 1].ravel()) if hung else None,
        regions=_regions(job, stations, energy / energy.sum()),
    )


def _clamped(rig: rigs.Rig) -> float | None:
    try:
        return rigs.clamped_twist(rig, TORQUE)
    except Problem:
        return None


def modelled(job: Job) -> str:
    """How the builder chose to model the frame, in a sentence."""
    p = job.proving
    said = [
        "Welds are rigid" if p.joint == 1 else f"Welds give (joint factor {p.joint:g})",
        f"bends {'go oval' if p.ovalise else 'keep their section'}",
    ]
    carrying = [part.name for part in job.parts if part.mount]
    return "; ".join(said + ([f"{', '.join(carrying)} carries load"] if carrying else [])) + "."


def torsion_of(job: Job) -> float:
    """Twist stiffness alone, N·mm/rad, kept nowhere: for trying many values of one thing."""
    frame = fresh_frame(job)
    index = {name: n for n, name in enumerate(frame.node_names)}
    rig = rigs.Rig(frame, {c: tuple(index[p.joint] for p in job.pickups if p.corner == c) for c in rigs.CORNERS})
    return rigs.twist_test(rig, TORQUE).stiffness


def bending_joints(job: Job, rig: rigs.Rig) -> tuple[str, ...]:
    """The lowest pair of joints near the middle between the axles, where the bending load hangs; none where all
    joints stand at the axles or beyond them."""
    front = (rig.place("front left")[0] + rig.place("front right")[0]) / 2
    rear = (rig.place("rear left")[0] + rig.place("rear right")[0]) / 2
    margin = 0.1 * (front - rear)
    used = [j for j in job.joints if j.id in job.tubes_at and rear + margin < j.x < front - margin]
    if not used:
        return ()
    low = min(j.z for j in used) + 0.2 * (max(j.z for j in used) - min(j.z for j in used))
    sides = [[j for j in used if j.z <= low and s * j.y > 1] for s in (1, -1)]
    if not all(sides):
        sides = [[j for j in used if j.z <= low]]
    middle, half = (front + rear) / 2, abs(front - rear) / 2 or 1.0
    widest = max(abs(j.y) for j in used) or 1.0
    best = [min(side, key=lambda j: abs(j.x - middle) / half - 0.5 * abs(j.y) / widest) for side in sides]
    return tuple(j.id for j in best)


def _stations(job: Job, index: dict[str, int], u: Floats) -> tuple[Station, ...]:
    """The lowest mirrored pair at each place along the frame, front to rear."""
    pairs = [j for j in job.joints if j.twin and j.twin != j.id and j.y > 25 and j.id in job.tubes_at]
    lowest: dict[int, str] = {}
    for j in sorted(pairs, key=lambda j: -j.z):
        if j.twin in job.tubes_at:
            lowest[round(j.x / 20)] = j.id
    rows = np.array([(index[i], index[job.joint_by_id[i].twin or ""]) for i in lowest.values()], dtype=np.int64)
    if not len(rows):
        return ()
    twist = rigs.twist_along(lines(job).nodes, rows, u)
    found = [
        Station(job.joint_by_id[i].x, i, job.joint_by_id[i].twin or "", float(t))
        for i, t in zip(lowest.values(), twist, strict=True)
    ]
    return tuple(sorted(found, key=lambda s: -s.x))


def _regions(job: Job, stations: tuple[Station, ...], energy: Floats) -> tuple[Region, ...]:
    """The frame cut at its stations; a tube that reaches over several is shared out by its length along x."""
    nodes, ends = lines(job)
    x = nodes[:, 0][ends]
    low, high = x.min(axis=1), x.max(axis=1)
    long = np.maximum(high - low, 1e-9)
    made = []
    for a, b in pairwise(stations):
        inside = np.clip(np.minimum(high, a.x) - np.maximum(low, b.x), 0, None) / long
        across = (high - low <= 1e-9) & (low <= a.x) & (low > b.x)
        made.append(
            Region(a, b, abs(a.twist - b.twist) / max(a.x - b.x, 1e-9), float(energy @ np.where(across, 1.0, inside)))
        )
    return tuple(made)


def _softest(stations: tuple[Station, ...]) -> tuple[Station, Station] | None:
    """The neighbouring stations, at least 100 mm apart, between which the frame twists most per millimetre."""
    spans = []
    for i, a in enumerate(stations):
        b = next((s for s in stations[i + 1 :] if a.x - s.x >= 100), None)
        if b is not None:
            spans.append((abs(a.twist - b.twist) / (a.x - b.x), a, b))
    return max(spans, key=lambda s: s[0])[1:] if spans else None
