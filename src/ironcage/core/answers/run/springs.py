"""What the coil-overs of each end do over travel: their squeeze and force, the wheel's rate and ride frequency, and
what is left until a bump stop, a solid damper, touching coils or full length."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.beam import BeamStill, beam_runs
from ironcage.core.answers.run.corner import AxleRun, Still, runs
from ironcage.core.answers.run.fork import ForkRun, ForkStill, fork_runs
from ironcage.core.answers.run.fork import stand as stand_fork
from ironcage.core.answers.run.leaves import leaves
from ironcage.core.answers.run.lever import WEIGHED
from ironcage.core.answers.run.liveaxle import LinkedRun, LinkedStill, axle_runs, lengths_at
from ironcage.core.answers.run.swing import SwingRun, SwingStill, arm_runs, is_carrier, stand
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.car.springs import (
    Air,
    Coil,
    Floats,
    bar_stiffness,
    frequency,
    leaning_stiffness,
    rate_for,
    roll_stiffness,
    wheel_rate,
)
from ironcage.core.calc.frames.load_distribution import G
from ironcage.core.calc.linkage.wishbone import curves, poses
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import HUNG, CoilOver, LinkedAxle, SteeringFork, SwingingArms, Wishbones
from ironcage.problem import Problem

SprungRun = AxleRun | LinkedRun | SwingRun | ForkRun
SprungEnd = Wishbones | LinkedAxle | SwingingArms | SteeringFork
SLOPE_MM, LEAN_RAD = 0.5, 0.002  # the steps by which the motion ratio's and a leaning spring's changes are taken
STOP_SHARES = (0.5, 0.75)  # of the travel up, for which a bump stop's height is told
SWINGS = (1.5, 2.0, 2.5)  # ride frequencies that a rate is told for, in a second
ASSUMED = (
    "At ride height a spring carries half of its axle's weight less what moves with the wheel; bump stops, dampers, "
    "bushes and tyres add no rate; an anti-roll bar holds by the twist of its middle alone."
)


@dataclass(frozen=True, eq=False)
class SpringCurves:
    """A coil-over at each travel and rack or roll (n, m); nan where a figure is not known. length: between its eyes,
    squeeze: how far the spring is pressed together, mm; force: in it, load: of it on the wheel, N; rate: at the wheel,
    N/mm; swings: ride frequency, Hz; to_stop, to_solid, to_bind, to_full: what is left until the bump stop is touched,
    the damper is solid, coils touch, and the damper is at full length, mm, negative beyond that."""

    length: Floats
    squeeze: Floats
    force: Floats
    load: Floats
    rate: Floats
    swings: Floats
    to_stop: Floats
    to_solid: Floats
    to_bind: Floats
    to_full: Floats


@dataclass(frozen=True)
class AtRest:
    """A coil-over at ride height. mass: that it carries, kg, None where that is not known; ratio: its shortening for
    each mm of travel, slope: how that changes, 1/mm; length: between its eyes, mm."""

    mass: float | None
    ratio: float
    slope: float
    length: float

    @property
    def force(self) -> float | None:
        """In the spring, N."""
        return None if self.mass is None else self.mass * G / self.ratio

    def pressure(self, coil: CoilOver) -> float | None:
        """Of an air spring, over that of the air outside, MPa; None of a coil, and where what it carries is not
        known."""
        spring = spring_of(coil)
        return spring.pressure(self.force) if isinstance(spring, Air) and self.force is not None else None


@dataclass(frozen=True, eq=False)
class Sprung:
    """The coil-overs of an end over its whole travel, and at ride height. roll: what both hold a leaning car with,
    N·mm/rad, None where a rate or what they carry is not known, bar: what an anti-roll bar adds, 0 without one; ends:
    at which travel each of SpringCurves' reserves is used up, mm, by its name without `to_`; only those that are, level
    and straight ahead; middle: the row and column of ride height in `over`; stops: how high a bump stop is, mm, that is
    touched at a share of the travel up, for each of STOP_SHARES, where the damper's closed length is known."""

    coil: CoilOver
    over: SpringCurves
    middle: tuple[int, int]
    rest: AtRest
    roll: float | None
    bar: float
    ends: Mapping[str, float]
    stops: Mapping[float, float]

    def rates(self) -> dict[float, float]:
        """The spring's rate, N/mm, for each of SWINGS; nothing where what it carries is not known, and of air,
        whose rate its load tells."""
        rest = self.rest
        if rest.mass is None or rest.force is None or self.coil.air.known:
            return {}
        told = {s: rate_for(s, rest.mass, rest.force, rest.ratio, rest.slope) for s in SWINGS}
        return {s: rate for s, rate in told.items() if rate > 0}


@remembered(*HUNG, "joints", "wheels", *WEIGHED)
def sprung(job: Job) -> dict[str, Sprung]:
    """The coil-overs of each end that has some, by its name. Raises Problem as `runs`, `axle_runs`, `arm_runs`,
    `fork_runs` and `beam_runs` do."""
    found: list[SprungRun] = [*(runs(job) if job.wishbones else ()), *axle_runs(job), *arm_runs(job), *fork_runs(job)]
    found += [run.held for run in beam_runs(job) if run.held]
    return {run.hung.axle: made for run in found if (made := _sprung(job, run)) is not None}


def _sprung(job: Job, run: SprungRun) -> Sprung | None:
    told, travel = run.told, run.found.travel
    row = int(np.abs(travel).argmin())
    length, ratio = float(told.spring[row, run.straight]), float(told.motion_ratio[row, run.straight])
    if not np.isfinite(length) or abs(ratio) < 1e-6:
        return None
    near = _near(job, run, float(travel[row]), float(run.found.rack[run.straight]))
    slope = float(near[1][2, 0] - near[1][0, 0]) / (2 * SLOPE_MM)
    rest = AtRest(_carried(job, run.hung), ratio, slope, length)
    slopes = np.gradient(told.motion_ratio, travel, axis=0) if len(travel) > 1 else np.full_like(told.spring, slope)
    over = _curves(run.hung.coil, rest, told.spring, told.motion_ratio, slopes)
    return Sprung(
        run.hung.coil,
        over,
        (row, run.straight),
        rest,
        _roll(job, run, rest),
        _bar(job, run.hung),
        _ends(over, travel, run.straight),
        _stops(run.hung.coil, travel, told.spring[:, run.straight]),
    )


def _stops(coil: CoilOver, travel: Floats, length: Floats) -> dict[float, float]:
    """The heights of bump stops that are touched at shares of the travel up; those that can be."""
    up = float(travel[-1])
    if not coil.closed or up <= 0 or not np.isfinite(length).all():
        return {}
    made = {share: float(np.interp(share * up, travel, length)) - coil.closed for share in STOP_SHARES}
    return {share: height for share, height in made.items() if height > 0}


def roll_stiffnesses(job: Job) -> tuple[float, float]:
    """Of the front and the rear axle, N·mm/rad: as typed, else as their springs give it; 0 where neither is known."""
    p = job.proving
    if p.roll_front and p.roll_rear:
        return p.roll_front, p.roll_rear
    try:
        found, leafs = sprung(job), {told.axle: told.roll for told in leaves(job)}
    except Problem:  # Run says so
        found, leafs = {}, {}
    front, rear = (_held(found.get(end)) or leafs.get(end, 0.0) for end in ("front", "rear"))
    return p.roll_front or front, p.roll_rear or rear


def _held(of: Sprung | None) -> float:
    """What the springs and the bar of an end hold a leaning car with, N·mm/rad; 0 where that of the springs is not
    known."""
    return of.roll + of.bar if of and of.roll else 0.0


def _bar(job: Job, hung: SprungEnd) -> float:
    """What an end's anti-roll bar adds, N·mm/rad; 0 where it is not known."""
    if isinstance(hung, SteeringFork):
        return 0.0
    bar, track = hung.bar, 2 * abs(edits.left_wheel(job, hung.axle).y)
    if not (bar.od and bar.length and bar.arm):
        return 0.0
    return bar_stiffness(bar.od, bar.bore, bar.length, bar.arm, bar.ratio, track)


def springs_at(job: Job, still: Still | LinkedStill | SwingStill | BeamStill | ForkStill) -> SpringCurves | None:
    """The coil-over of the left wheel at one travel and rack or roll (1, 1); None where there is none."""
    of = sprung(job).get(still.run.hung.axle)
    if of is None or not still.found.closed[0, 0]:
        return None
    if isinstance(still, BeamStill):
        assert still.run.held is not None  # else it has no coil-overs
        lengths, ratios = _near(job, still.run.held, still.travel, 0.0)
    else:
        lengths, ratios = _near(job, still.run, still.travel, still.rack)
    slope = (ratios[2:] - ratios[:1]) / (2 * SLOPE_MM)
    return _curves(of.coil, of.rest, lengths[1:2], ratios[1:2], slope)


def _near(job: Job, run: SprungRun, travel: float, rack: float) -> tuple[Floats, Floats]:
    """The coil-over's length and motion ratio (3, 1) just under a travel, at it, and just over it."""
    rows = travel + np.array([-SLOPE_MM, 0.0, SLOPE_MM])
    if isinstance(run, LinkedRun):
        return lengths_at(job, run, rows, np.array([rack]))
    if isinstance(run, SwingRun):
        swung = stand(job, run.hung, run.arm, rows)[1]
        return swung.spring, swung.motion_ratio
    if isinstance(run, ForkRun):
        slid = stand_fork(job, run.fork, rows, np.array([rack]))[1]
        return slid.spring, slid.motion_ratio
    told = curves(poses(run.corner, rows, np.array([rack])))
    return told.spring, told.motion_ratio


def spring_of(coil: CoilOver) -> Coil | Air | None:
    """The spring of a coil-over; None where its rate is not known."""
    if coil.air.known:
        return Air(coil.air.across, coil.air.column)
    return Coil(coil.rate) if coil.rate else None


def _curves(coil: CoilOver, rest: AtRest, length: Floats, ratio: Floats, slope: Floats) -> SpringCurves:
    nothing = np.full_like(length, np.nan)
    squeeze = force = load = rate = swings = nothing
    spring = spring_of(coil)
    if spring and rest.force is not None and rest.mass is not None:
        force, own = spring.at(rest.force, rest.length - length)
        if isinstance(spring, Coil):
            squeeze = force / spring.rate
        load = force * ratio
        rate = np.where(force > 0, wheel_rate(own, force, ratio, slope), 0.0)
        swings = frequency(rate, rest.mass)
    return SpringCurves(
        length,
        squeeze,
        force,
        load,
        rate,
        swings,
        to_stop=length - coil.closed - coil.stop if coil.closed and coil.stop else nothing,
        to_solid=length - coil.closed if coil.closed else nothing,
        to_bind=coil.free - coil.solid - squeeze if coil.free and coil.solid else nothing,
        to_full=coil.open - length if coil.open else nothing,
    )


def _carried(job: Job, hung: SprungEnd) -> float | None:
    """What one spring of an end carries at rest, kg; None where wheels or masses are missing, or less is left than
    moves with the wheel."""
    weighed = weigh(job)
    if weighed.front_share is None or weighed.car.mass <= 0:
        return None
    share = weighed.front_share if hung.axle == "front" else 1 - weighed.front_share
    halves = 2 if edits.left_wheel(job, hung.axle).single else 1  # of the wheel that moves
    carried = share * weighed.car.mass / 2 - hung.coil.unsprung / halves
    return carried if carried > 0 else None


def _roll(job: Job, run: SprungRun, rest: AtRest) -> float | None:
    spring, force = spring_of(run.hung.coil), rest.force
    if spring is None or force is None or isinstance(run, ForkRun):
        return None
    if isinstance(run, SwingRun) and is_carrier(job, run.hung):
        return None  # a carrier's own stiffness holds the car, not its springs
    rate = float(spring.at(force, np.zeros(1))[1][0])
    if not isinstance(run, LinkedRun):
        track = 2 * abs(edits.left_wheel(job, run.hung.axle).y)
        return roll_stiffness(wheel_rate(rate, force, rest.ratio, rest.slope), track)
    lengths = lengths_at(job, run, np.zeros(1), np.array([-LEAN_RAD, 0.0, LEAN_RAD]))[0][0]
    rise = float(lengths[2] - lengths[0]) / (2 * LEAN_RAD)
    bend = float(lengths[2] - 2 * lengths[1] + lengths[0]) / LEAN_RAD**2
    return leaning_stiffness(rate, force / rate, rise, bend)


def _ends(over: SpringCurves, travel: Floats, straight: int) -> dict[str, float]:
    """Where each reserve is used up first, going up, or down for full length and a loose spring."""
    reserves = {
        "stop": over.to_stop,
        "solid": over.to_solid,
        "bind": over.to_bind,
        "full": over.to_full,
        "loose": over.force,
    }
    made = {}
    for name, values in reserves.items():
        way = -1 if name in ("full", "loose") else 1
        left, at = values[::way, straight], travel[::way]
        past = np.flatnonzero(left <= 0)
        if past.size:
            n = int(past[0])
            made[name] = float(at[n]) if n == 0 else float(np.interp(0.0, -left[n - 1 : n + 1], at[n - 1 : n + 1]))
    return made
