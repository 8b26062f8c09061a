"""Where an axle that is set for its chain stands over its adjustment, and where whole chains lie tight."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.drawn import DrawnLine
from ironcage.core.answers.run.grid import travels
from ironcage.core.answers.run.swing import chain_of
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.car import chain as chains
from ironcage.core.calc.linkage.setting import Floats, Slid, Swung, Way, rising, tight_at
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, AxleCarrier
from ironcage.problem import Problem
from ironcage.units import said

MIRROR = np.array([1.0, -1.0, 1.0])
SIDES = (("left", np.ones(3)), ("right", MIRROR))
FURTHER_MM = 200.0  # beyond the adjustment, within which it is told where a chain would be tight
STEPS = 2001  # of the settings between which that is found
ASSUMED = (
    "The axle is set alike on both sides and does not move as it drives. The chain lies tight on pitch circles; one of "
    "odd links has a half link.",
)


@dataclass(frozen=True, eq=False)
class CarrierGrid:
    """Where an axle stands that is set by `travel` (n,), mm, away from the driving sprocket; rack (1,): none; closed
    (n, 1): always."""

    travel: Floats
    rack: Floats
    closed: np.ndarray
    way: Way

    def at(self, point: Floats) -> Floats:
        """Where a point that is set with the axle stands (n, 1, 3)."""
        return self.way.at(point, self.travel)[:, None]


@dataclass(frozen=True, eq=False)
class CarrierTold:
    """What setting the axle does (n, 1). centres: between the sprockets of its chain, mm, pitches: what a chain needs
    to lie tight, nan without one; rises: the axle, ahead: how far it goes forwards, mm; stay: the adjuster's length,
    mm, nan without one."""

    centres: Floats
    pitches: Floats
    rises: Floats
    ahead: Floats
    stay: Floats


@dataclass(frozen=True)
class Tight:
    """A chain of some links: how far the axle is set where it lies tight new, and worn to its limit, mm, nan where that
    is far beyond the adjustment; new_fits, worn_fits: whether that is within it."""

    links: int
    new: float
    worn: float
    new_fits: bool
    worn_fits: bool


@dataclass(frozen=True, eq=False)
class CarrierRun:
    """An axle over its whole adjustment. tight: the chains of whole links that lie tight within it, and the next
    shorter and longer one of even links where none does."""

    hung: AxleCarrier
    wheel: Floats
    found: CarrierGrid
    told: CarrierTold
    tight: tuple[Tight, ...]
    straight: int = 0
    limits: tuple[float | None, float | None] = (None, None)
    closes: bool = True


@dataclass(frozen=True, eq=False)
class CarrierStill:
    """An axle at one setting, mm: each (1, 1)."""

    run: CarrierRun
    travel: float
    rack: float
    found: CarrierGrid
    told: CarrierTold


def way_of(job: Job, hung: AxleCarrier) -> Way:
    """The way that an axle is set along. Raises Problem where its pivot or the wheel has gone."""
    wheel = edits.left_wheel(job, hung.axle)
    middle = np.array([wheel.x, 0.0, wheel.z])
    chain = chain_of(job, hung.axle)
    driving = np.array([chain.driving.x, 0.0, chain.driving.z]) if chain else middle + [1.0, 0.0, 0.0]
    if hung.pivot is None:
        along = np.array(hung.slide or (-1.0, 0.0, 0.0))
        return Slid(along / np.linalg.norm(along) * _away(along, middle - driving))
    joint = job.joint_by_id.get(hung.pivot)
    twin = job.joint_by_id.get(joint.twin or "") if joint else None
    if joint is None or twin is None:
        raise Problem(
            f"The {hung.axle} carrier swings at {hung.pivot}, which has gone or has no twin.",
            where=hung.pivot,
            hint=f"Hang it again: carrier {hung.axle} pivot",
        )
    pivot, across = np.array([joint.x, 0.0, joint.z]), np.array([0.0, 1.0, 0.0])
    lever = float(np.linalg.norm(middle - pivot))
    if lever < 1.0:
        raise Problem(f"The {hung.axle} carrier’s pivot runs through its axle.", where=joint.id, hint="Move it away.")
    return Swung(pivot, across * _away(np.cross(across, middle - pivot), middle - driving), lever)


def _away(moves: Floats, out: Floats) -> float:
    """1 where a way leads away from the driving sprocket, -1 where it leads towards it."""
    return 1.0 if moves @ out >= 0 else -1.0


@remembered("carriers", "joints", "wheels", "chains")
def carrier_runs(job: Job) -> tuple[CarrierRun, ...]:
    """The axle of each end that is set for its chain over its whole adjustment. Raises Problem as `way_of` does."""
    return tuple(_run(job, hung) for hung in job.carriers)


def _run(job: Job, hung: AxleCarrier) -> CarrierRun:
    wheel = edits.left_wheel(job, hung.axle)
    way = way_of(job, hung)
    found, told = stand(job, hung, way, travels(hung.forth, hung.back))
    return CarrierRun(hung, np.array([wheel.x, wheel.y, wheel.z]), found, told, _tight(job, hung, way))


def stand(job: Job, hung: AxleCarrier, way: Way, set_by: Floats) -> tuple[CarrierGrid, CarrierTold]:
    """An axle at settings (n,), mm, and what that does."""
    wheel = edits.left_wheel(job, hung.axle)
    middle = np.array([wheel.x, 0.0, wheel.z])
    at, nothing = way.at(middle, set_by), np.full(len(set_by), np.nan)
    centres, pitches = _apart(job, hung, way, set_by) or (nothing, nothing)
    stay = nothing
    if hung.stay and hung.stay_out and hung.stay in job.joint_by_id:
        inner = np.array(job.joint_by_id[hung.stay].place)
        stay = np.linalg.norm(way.at(np.array(hung.stay_out), set_by) - inner, axis=1)
    rows = (centres, pitches, at[:, 2] - middle[2], at[:, 0] - middle[0], stay)
    grid = CarrierGrid(set_by, np.zeros(1), np.ones((len(set_by), 1), bool), way)
    return grid, CarrierTold(*(row[:, None] for row in rows))


def _apart(job: Job, hung: AxleCarrier, way: Way, set_by: Floats) -> tuple[Floats, Floats] | None:
    """How far the sprockets of the chain are apart (n,), mm, and the pitches it then needs; None without a chain."""
    chain = chain_of(job, hung.axle)
    if chain is None:
        return None
    driving, driven = (np.array([s.x, s.y, s.z]) for s in (chain.driving, chain.driven))
    out = way.at(driven, set_by) - driving
    centres = np.hypot(out[:, 0], out[:, 2])
    teeth = (chain.driving.teeth, chain.driven.teeth)
    least = sum(chains.pitch_radius(z, chain.pitch) for z in teeth)
    needs = [chains.length_in_pitches(chain.pitch, teeth, c) if c > least else np.nan for c in centres]
    return centres, np.array(needs)


def _tight(job: Job, hung: AxleCarrier, way: Way) -> tuple[Tight, ...]:
    """The whole chains that lie tight within the adjustment, else the even ones next to it."""
    chain = chain_of(job, hung.axle)
    set_by = np.linspace(-hung.forth - FURTHER_MM, hung.back + FURTHER_MM, STEPS)
    found = _apart(job, hung, way, set_by)
    if chain is None or found is None:
        return ()
    stretch = rising(np.where(np.isfinite(found[1]), found[0], np.nan), int(np.abs(set_by).argmin()))
    apart, needs, at = found[0][stretch], found[1][stretch], set_by[stretch]
    within = (at >= -hung.forth) & (at <= hung.back) & np.isfinite(needs)
    if not within.any():
        return ()  # it does not tighten
    teeth = (chain.driving.teeth, chain.driven.teeth)
    low, high = float(needs[within].min()), float(needs[within].max())
    links = list(range(int(np.ceil(low - chains.SNUG)), int(np.floor(high + chains.SNUG)) + 1))
    if not links:
        links = [2 * int(low // 2), 2 * int(low // 2) + 2]

    def setting(count: float) -> float:
        try:
            return tight_at(apart, at, chains.centres_for(chain.pitch, teeth, count))
        except Problem:  # so few do not reach round both sprockets
            return float("nan")

    made = []
    for count in links:
        new, worn = setting(count), setting(count * (1.0 + chain.wear))
        made.append(Tight(count, new, worn, *(-hung.forth <= v <= hung.back for v in (new, worn))))
    return tuple(made)


def carrier_at(job: Job, end: Axle, set_by: float) -> CarrierStill:
    """The axle of an end at a setting, mm, kept within what is typed in. Raises Problem where it is on no carrier."""
    edits.find_carrier(job, end)
    run = next(r for r in carrier_runs(job) if r.hung.axle == end)
    set_by = float(np.clip(set_by, -run.hung.forth, run.hung.back))
    found, told = stand(job, run.hung, run.found.way, np.array([set_by]))
    return CarrierStill(run, set_by, 0.0, found, told)


def carrier_lines(job: Job, run: CarrierRun, found: CarrierGrid) -> Iterator[tuple[str, Floats, Floats]]:
    """Arms, adjusters and the axle by name: both ends (n, 3), mm."""
    hung, wheel = run.hung, run.wheel
    for side, mirror in SIDES:
        if hung.pivot:
            inner = np.array(job.joint_by_id[hung.pivot].place)
            outer = found.at(np.array([wheel[0], inner[1], wheel[2]]))[:, 0]
            yield f"{side} arm", np.broadcast_to(inner * mirror, outer.shape), outer * mirror
        if hung.stay and hung.stay_out and hung.stay in job.joint_by_id:
            end = found.at(np.array(hung.stay_out))[:, 0]
            start = np.array(job.joint_by_id[hung.stay].place)
            yield f"{side} adjuster", np.broadcast_to(start * mirror, end.shape), end * mirror
    if wheel[1]:
        middle = found.at(wheel)[:, 0]
        yield "axle", middle, middle * MIRROR


def drawn(job: Job, still: CarrierStill) -> tuple[DrawnLine, ...]:
    """Arms, adjusters and the axle where they stand, as lines."""
    kinds = {"adjuster": "spring", "axle": "body"}
    return tuple(
        DrawnLine(kinds.get(name.split()[-1], "link"), one[0], other[0])  # type: ignore[arg-type]
        for name, one, other in carrier_lines(job, still.run, still.found)
    )


def set_words(set_by: float) -> str:
    """How far an axle is set, in words."""
    if abs(set_by) < 1e-9:
        return "as it stands"
    return f"set {said.length(abs(set_by))} {'back' if set_by > 0 else 'forth'}"
