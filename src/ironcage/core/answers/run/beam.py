"""What the wheels of a beam axle do as they are steered about their kingpins, by a rack or a drop arm."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.drawn import DrawnLine
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.linkage.steering import MIRROR, Floats, KingpinWheel, Steered, Turn, steered, swung, turn_of
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, KingpinBeam

STEERS = 21
LEAST_STEER = math.radians(3)  # nearer to straight ahead, what toe was set tells more than how the wheels turn
SIDEWAYS = np.array([0.0, 1.0, 0.0])
ASSUMED = (
    "The beam stays where it is and nothing has play; tyres are thin discs that roll without slip.",
    "Tie rods are straight from the rack or the drop arm to each steering arm; the right side mirrors the left.",
)


@dataclass(frozen=True, eq=False)
class BeamGrid:
    """Where both wheels stand. travel (1,): none; rack (m,): the rack's way to the left, mm, or the drop arm's turn to
    the left, rad; closed (1, m): whether both tie rods reach; left, right: both stub axles (m,)."""

    travel: Floats
    rack: Floats
    closed: np.ndarray
    left: Steered
    right: Steered


@dataclass(frozen=True, eq=False)
class BeamTold:
    """What the wheels do at each way of steering (1, m). left, right: how far both steer to the left, rad; camber: of
    the left one, positive with the top out, rise: of the car over it; caster, kingpin: the left kingpin's lean,
    positive with its top to the rear, and in, rad; scrub: from where it meets the ground out to the contact, trail:
    back to it, mm; ackermann, circle: as of `Turn`, nan nearly straight ahead and without a wheelbase."""

    left: Floats
    right: Floats
    camber: Floats
    rise: Floats
    caster: Floats
    kingpin: Floats
    scrub: Floats
    trail: Floats
    ackermann: Floats
    circle: Floats


@dataclass(frozen=True, eq=False)
class BeamRun:
    """A beam over its whole steering; base: the wheelbase, mm, None where that is not known."""

    hung: KingpinBeam
    stub: KingpinWheel
    base: float | None
    found: BeamGrid
    told: BeamTold
    straight: int
    limits: tuple[float | None, float | None] = (None, None)

    @property
    def closes(self) -> bool:
        """Whether both tie rods reach everywhere."""
        return bool(self.found.closed.all())


@dataclass(frozen=True, eq=False)
class BeamStill:
    """A beam steered one way: each (1, 1)."""

    run: BeamRun
    travel: float
    rack: float
    found: BeamGrid
    told: BeamTold


def most_steer(hung: KingpinBeam) -> float:
    """How far a beam's rack or drop arm goes to each side, mm or rad."""
    return hung.turn if hung.pivot else hung.rack


def stub_of(job: Job, hung: KingpinBeam) -> KingpinWheel:
    """The left stub axle. Raises Problem where its wheel has gone."""
    wheel = edits.left_wheel(job, hung.axle)
    low, high, lean, toe = np.array(hung.lower), np.array(hung.upper), hung.camber, hung.toe
    axis = np.array([math.sin(toe) * math.cos(lean), math.cos(toe) * math.cos(lean), -math.sin(lean)])
    pin = (high - low) / np.linalg.norm(high - low)
    middle = np.array([wheel.x, wheel.y, wheel.z])
    return KingpinWheel(low, pin, np.array(hung.arm), middle, axis, wheel.diameter / 2)


@remembered("beams", "wheels", "joints", "parts", "people", "tubes", "shelf", "masses", "fittings", "brief")
def beam_runs(job: Job) -> tuple[BeamRun, ...]:
    """Every beam over its whole steering, front first. Raises Problem where its wheels have gone."""
    return tuple(_run(job, hung) for hung in sorted(job.beams, key=lambda b: b.axle))


def _run(job: Job, hung: KingpinBeam) -> BeamRun:
    stub, base, most = stub_of(job, hung), weigh(job).wheelbase, most_steer(hung)
    ways = np.linspace(-most, most, STEERS) if most else np.zeros(1)
    found, told = stand(hung, stub, base, ways)
    return BeamRun(hung, stub, base, found, told, int(np.abs(ways).argmin()))


def stand(hung: KingpinBeam, stub: KingpinWheel, base: float | None, ways: Floats) -> tuple[BeamGrid, BeamTold]:
    """A beam steered by each of some ways (m,), mm or rad, and what both wheels do there, each (1, m)."""
    length = math.dist(hung.arm, hung.rod)
    one, other = inner_ends(hung, ways)
    left, right = steered(stub, one, length), steered(stub.mirrored, other, length)
    closed = np.isfinite(left.turn) & np.isfinite(right.turn)
    track = 2 * abs(float(stub.wheel[1]))
    known = closed & (np.abs(left.steer + right.steer) / 2 > LEAST_STEER)
    turns = [
        turn_of(float(a), float(b), track, base) if does and base and base > 0 else Turn(0.0, 0.0, math.nan, math.nan)
        for a, b, does in zip(left.steer, right.steer, known, strict=True)
    ]
    pin = stub.pin
    ground = stub.contact_height
    meets = stub.kingpin + (ground - stub.kingpin[2]) / pin[2] * pin  # the kingpin's axis on the ground
    rows = {
        "left": left.steer,
        "right": right.steer,
        "camber": left.camber,
        "rise": left.rise,
        "caster": np.full(len(ways), math.atan2(-pin[0], pin[2])),
        "kingpin": np.full(len(ways), math.atan2(-pin[1], pin[2])),
        "scrub": left.contact[:, 1] - meets[1],
        "trail": meets[0] - left.contact[:, 0],
        "ackermann": np.array([t.ackermann for t in turns]),
        "circle": np.array([t.circle if math.isfinite(t.circle) else math.nan for t in turns]),
    }
    told = BeamTold(**{name: values[None] for name, values in rows.items()})
    return BeamGrid(np.zeros(1), ways, closed[None], left, right), told


def inner_ends(hung: KingpinBeam, ways: Floats) -> tuple[Floats, Floats]:
    """Where both tie rods' inner ends stand (m, 3), left and right, as the rack or the drop arm moves."""
    ends = np.array(hung.rod), np.array(hung.rod) * MIRROR
    if hung.pivot is None or hung.column is None:
        return ends[0] + np.outer(ways, SIDEWAYS), ends[1] + np.outer(ways, SIDEWAYS)
    pivot = np.array(hung.pivot)
    way = np.array(hung.column) - pivot
    way = way / np.linalg.norm(way) * (1 if way[2] >= 0 else -1)
    return swung(ends[0], pivot, way, ways), swung(ends[1], pivot, way, ways)


def beam_at(job: Job, end: Axle, rack: float) -> BeamStill:
    """A beam steered by a rack's way (mm) or a drop arm's turn (rad) to the left, kept within what is typed in. Raises
    Problem where it is not hung."""
    edits.find_beam(job, end)
    run = next(r for r in beam_runs(job) if r.hung.axle == end)
    most = most_steer(run.hung)
    way = float(np.clip(rack, -most, most))
    found, told = stand(run.hung, run.stub, run.base, np.array([way]))
    return BeamStill(run, 0.0, way, found, told)


def rods(run: BeamRun, found: BeamGrid) -> tuple[tuple[str, Floats, Floats], ...]:
    """Both tie rods by name, their inner and outer ends (m, 3), mm."""
    ends = inner_ends(run.hung, found.rack)
    return tuple(
        (f"{side} tie rod", inner, stub.at(stub.arm, turned.turn))
        for side, stub, inner, turned in (
            ("left", run.stub, ends[0], found.left),
            ("right", run.stub.mirrored, ends[1], found.right),
        )
    )


def wheels(run: BeamRun, found: BeamGrid) -> tuple[tuple[str, Floats, Floats], ...]:
    """Both wheels by side: their centres and axles' directions (m, 3)."""
    return tuple(
        (side, stub.at(stub.wheel, turned.turn), stub.axis_at(turned.turn))
        for side, stub, turned in (("left", run.stub, found.left), ("right", run.stub.mirrored, found.right))
    )


def drawn(still: BeamStill) -> tuple[DrawnLine, ...]:
    """The beam with its kingpins, steering arms and tie rods where it stands, as lines; nothing where a tie rod does
    not reach."""
    run, found, hung = still.run, still.found, still.run.hung
    if not found.closed[0, 0]:
        return ()
    made = [DrawnLine("link", inner[0], outer[0]) for _, inner, outer in rods(run, found)]
    middles = []
    for mirror, (_, centre, _), (_, _, arm) in zip(
        (np.ones(3), MIRROR), wheels(run, found), rods(run, found), strict=True
    ):
        low, high = np.array(hung.lower) * mirror, np.array(hung.upper) * mirror
        middle = (low + high) / 2
        middles.append(middle)
        made += [DrawnLine("body", low, high), DrawnLine("body", middle, centre[0]), DrawnLine("body", middle, arm[0])]
    made.append(DrawnLine("body", middles[0], middles[1]))
    if hung.pivot and hung.column:
        made += [DrawnLine("link", np.array(hung.pivot), end[0]) for end in inner_ends(hung, found.rack)]
        made.append(DrawnLine("body", np.array(hung.pivot), np.array(hung.column)))
    return tuple(made)
