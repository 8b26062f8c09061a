"""What the wheels of a beam axle do as they are steered about their kingpins, by a rack or a drop arm, and as it
moves on what holds it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ironcage.core.answers.run.drawn import DrawnLine
from ironcage.core.answers.run.liveaxle import LinkedRun, axle_of, held_lines, linked_run
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.linkage.axle import AxlePoses, axle_curves, axle_poses
from ironcage.core.calc.linkage.steering import MIRROR, Floats, KingpinWheel, Turn, steered, swung, turn_of
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, KingpinBeam

STEERS = 21
EACH_TRAVEL = 2  # of the travels of what it moves on
LEAST_STEER = math.radians(3)  # nearer to straight ahead, what toe was set tells more than how the wheels turn
SIDEWAYS, UP = np.array([0.0, 1.0, 0.0]), np.array([0.0, 0.0, 1.0])
ASSUMED = (
    "A beam moves level on what holds it, and stays where it is where nothing does; nothing has play; tyres are thin "
    "discs that roll without slip.",
    "Tie rods and drag link are straight from the rack or the drop arm to each steering arm; the right side mirrors "
    "the left. What holds it moves as under a live axle.",
)


@dataclass(frozen=True, eq=False)
class BeamSide:
    """A wheel of a beam at each travel and way of steering (n, m). turn: of its stub axle about its kingpin, steer: how
    the wheel heads from above, to the left, camber: positive with its top out, rad; centre, axis, contact, arm, rod
    (n, m, 3): of the wheel, along its axle to the left, the tyre's lowest point, the end of the steering arm, and where
    what turns it starts; pin (n, 3): along the kingpin, upwards; straight (n, 3): the contact straight ahead."""

    stub: KingpinWheel
    turn: Floats
    steer: Floats
    camber: Floats
    centre: Floats
    axis: Floats
    contact: Floats
    arm: Floats
    rod: Floats
    pin: Floats
    straight: Floats


@dataclass(frozen=True, eq=False)
class BeamGrid:
    """Where both wheels stand. travel (n,): of the beam, level, mm; rack (m,): the rack's way to the left, mm, or the
    drop arm's turn to the left, rad; closed (n, m): whether all rods and what it moves on reach; left, right: both
    wheels; turned (n, 3, 3), shift (n, 3): of the beam from ride height."""

    travel: Floats
    rack: Floats
    closed: np.ndarray
    left: BeamSide
    right: BeamSide
    turned: Floats
    shift: Floats

    def at(self, point: Floats) -> Floats:
        """Where a point of the beam stands (n, 3)."""
        return self.turned @ point + self.shift


@dataclass(frozen=True, eq=False)
class BeamTold:
    """What the wheels do at each travel and way of steering (n, m). left, right: how far both steer to the left, rad;
    camber: of the left one, positive with the top out, rise: of the car over it; caster, kingpin: the left kingpin's
    lean, positive with its top to the rear, and in, rad; scrub: from where it meets the ground out to the contact,
    trail: back to it, mm; ackermann, circle: as of `Turn`, nan nearly straight ahead and without a wheelbase; shift,
    ahead: of the beam's middle to the left and forwards, roll_centre: height over the ground, mm, roll_steer: to the
    left for each rad that its left end rises over its right one; these nan of a beam that stays where it is."""

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
    shift: Floats
    ahead: Floats
    roll_centre: Floats
    roll_steer: Floats


@dataclass(frozen=True, eq=False)
class BeamRun:
    """A beam over its whole travel and steering; base: the wheelbase, mm, None where that is not known; held: what it
    moves on, over travel and roll, None where it stays; limits: the travel beyond which that does not reach."""

    hung: KingpinBeam
    stub: KingpinWheel
    base: float | None
    held: LinkedRun | None
    found: BeamGrid
    told: BeamTold
    straight: int
    limits: tuple[float | None, float | None] = (None, None)

    @property
    def closes(self) -> bool:
        """Whether everything reaches everywhere."""
        return bool(self.found.closed.all())

    @property
    def rest(self) -> int:
        """The row of ride height."""
        return int(np.abs(self.found.travel).argmin())


@dataclass(frozen=True, eq=False)
class BeamStill:
    """A beam at one travel (mm), steered one way: each (1, 1)."""

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
    wheel = edits.paired_wheel(job, hung.axle)
    low, high, lean, toe = np.array(hung.lower), np.array(hung.upper), hung.camber, hung.toe
    axis = np.array([math.sin(toe) * math.cos(lean), math.cos(toe) * math.cos(lean), -math.sin(lean)])
    pin = (high - low) / np.linalg.norm(high - low)
    middle = np.array([wheel.x, wheel.y, wheel.z])
    return KingpinWheel(low, pin, np.array(hung.arm), middle, axis, wheel.diameter / 2)


@remembered("beams", "wheels", "joints", "parts", "people", "tubes", "shelf", "masses", "fittings", "brief")
def beam_runs(job: Job) -> tuple[BeamRun, ...]:
    """Every beam over its whole travel and steering, front first. Raises Problem where its wheels have gone, or what it
    moves on is incomplete."""
    return tuple(_run(job, hung) for hung in sorted(job.beams, key=lambda b: b.axle))


def _run(job: Job, hung: KingpinBeam) -> BeamRun:
    stub, base, most = stub_of(job, hung), weigh(job).wheelbase, most_steer(hung)
    ways = np.linspace(-most, most, STEERS) if most else np.zeros(1)
    held = linked_run(job, hung.hold) if hung.hold else None
    travel = held.found.travel[::EACH_TRAVEL] if held else np.zeros(1)
    found, told = stand(job, hung, stub, base, travel, ways)
    return BeamRun(
        hung, stub, base, held, found, told, int(np.abs(ways).argmin()), held.limits if held else (None, None)
    )


def stand(
    job: Job, hung: KingpinBeam, stub: KingpinWheel, base: float | None, travel: Floats, ways: Floats
) -> tuple[BeamGrid, BeamTold]:
    """A beam at each travel (n,), mm, steered by each of some ways (m,), mm or rad, and what both wheels do there, each
    (n, m). Raises Problem where what it moves on is incomplete."""
    hold = hung.hold
    poses = axle_poses(axle_of(job, hold), travel, travel) if hold else None
    turned = poses.turn if poses else np.repeat(np.eye(3)[None], len(travel), axis=0)
    shift = poses.shift if poses else np.zeros((len(travel), 3))
    left, right = both_wheels(hung, stub, turned, shift, ways)
    closed = np.isfinite(left.turn) & np.isfinite(right.turn)
    return BeamGrid(travel, ways, closed, left, right, turned, shift), _told(left, right, closed, base, poses)


def both_wheels(
    hung: KingpinBeam, stub: KingpinWheel, turned: Floats, shift: Floats, ways: Floats
) -> tuple[BeamSide, BeamSide]:
    """The left and the right wheel of a beam that is turned (n, 3, 3) and moved (n, 3), mm, steered by each of some
    ways (m,), mm or rad."""
    one, other = inner_ends(hung, ways)
    if hung.drag:
        dragged = replace(stub, arm=np.array(hung.drag))
        left = _side(dragged, one, math.dist(hung.drag, hung.rod), turned, shift)
        across = stub.at(stub.arm, left.turn)  # in the beam's own places, as what it turns with it is
        left = replace(left, stub=stub, arm=_placed(across, turned, shift))
        return left, _side(stub.mirrored, across, 2 * abs(float(stub.arm[1])), turned, shift, on_beam=True)
    length = math.dist(hung.arm, hung.rod)
    return _side(stub, one, length, turned, shift), _side(stub.mirrored, other, length, turned, shift)


def leaning_grid(run: BeamRun, held: LinkedRun, travel: Floats, roll: Floats, ways: Floats) -> BeamGrid:
    """A beam that moves, at pairs of a travel (n,), mm, and a lean (n,), rad, its left end up, each steered by each of
    some ways (m,), mm or rad."""
    lean = (held.axle.left[1] - held.axle.right[1]) / 2 * np.sin(roll)
    poses = axle_poses(held.axle, travel + lean, travel - lean)
    left, right = both_wheels(run.hung, run.stub, poses.turn, poses.shift, ways)
    closed = np.isfinite(left.turn) & np.isfinite(right.turn) & poses.closed[:, None]
    return BeamGrid(travel, ways, closed, left, right, poses.turn, poses.shift)


def _placed(points: Floats, turned: Floats, shift: Floats) -> Floats:
    """Places of the beam (n, m, 3) where it stands."""
    return np.asarray((turned[:, None] @ points[..., None])[..., 0] + shift[:, None])


def _side(
    stub: KingpinWheel, inner: Floats, length: float, turned: Floats, shift: Floats, *, on_beam: bool = False
) -> BeamSide:
    """A wheel that is turned from inner ends (m, 3) in the car's places or, where they go with the beam, (n, m, 3) in
    the beam's own."""
    local = inner if on_beam else (inner[None] - shift[:, None]) @ turned
    shape = local.shape[:2]
    turn = steered(stub, local.reshape(-1, 3), length).turn.reshape(shape)
    centre, arm = (_placed(stub.at(point, turn), turned, shift) for point in (stub.wheel, stub.arm))
    axis = _placed(stub.axis_at(turn), turned, np.zeros_like(shift))
    side = 1.0 if stub.wheel[1] >= 0 else -1.0
    ahead = np.zeros((len(turned), 1))
    straight = _contact(stub, _placed(stub.at(stub.wheel, ahead), turned, shift), turned[:, None] @ stub.axis)[:, 0]
    return BeamSide(
        stub,
        turn,
        np.arctan2(-axis[..., 0], axis[..., 1]),
        -side * np.arcsin(axis[..., 2]),
        centre,
        axis,
        _contact(stub, centre, axis),
        arm,
        _placed(local, turned, shift),
        turned @ stub.pin,
        straight,
    )


def _contact(stub: KingpinWheel, centre: Floats, axis: Floats) -> Floats:
    """The lowest point of the tyre (…, 3)."""
    up = UP - axis[..., 2:] * axis
    return np.asarray(centre - stub.radius * up / np.linalg.norm(up, axis=-1, keepdims=True))


def _told(left: BeamSide, right: BeamSide, closed: np.ndarray, base: float | None, poses: AxlePoses | None) -> BeamTold:
    shape = closed.shape
    track = 2 * abs(float(left.stub.wheel[1]))
    known = closed & (np.abs(left.steer + right.steer) / 2 > LEAST_STEER)
    turns = [
        turn_of(float(a), float(b), track, base) if does and base and base > 0 else Turn(0.0, 0.0, math.nan, math.nan)
        for a, b, does in zip(left.steer.flat, right.steer.flat, known.flat, strict=True)
    ]
    pin, ground = left.pin[:, None], left.straight[:, None, 2:]
    foot = _placed(np.broadcast_to(left.stub.kingpin, (*shape, 3)), *_moved(poses, shape[0]))
    meets = foot + (ground - foot[..., 2:]) / pin[..., 2:] * pin  # the kingpin's axis on the ground
    moving = axle_curves(poses) if poses else None
    nothing = np.full(shape, np.nan)

    def over(values: Floats) -> Floats:
        return np.repeat(values[:, None], shape[1], axis=1)

    return BeamTold(
        left=left.steer,
        right=right.steer,
        camber=left.camber,
        rise=left.straight[:, None, 2] - left.contact[..., 2],
        caster=over(np.arctan2(-left.pin[:, 0], left.pin[:, 2])),
        kingpin=over(np.arctan2(-left.pin[:, 1], left.pin[:, 2])),
        scrub=left.contact[..., 1] - meets[..., 1],
        trail=meets[..., 0] - left.contact[..., 0],
        ackermann=np.array([t.ackermann for t in turns]).reshape(shape),
        circle=np.array([t.circle if math.isfinite(t.circle) else math.nan for t in turns]).reshape(shape),
        shift=over(moving.aside) if moving else nothing,
        ahead=over(moving.ahead) if moving else nothing,
        roll_centre=over(moving.roll_centre) if moving else nothing,
        roll_steer=over(moving.roll_steer) if moving else nothing,
    )


def _moved(poses: AxlePoses | None, count: int) -> tuple[Floats, Floats]:
    if poses is None:
        return np.repeat(np.eye(3)[None], count, axis=0), np.zeros((count, 3))
    return poses.turn, poses.shift


def inner_ends(hung: KingpinBeam, ways: Floats) -> tuple[Floats, Floats]:
    """Where both tie rods' inner ends stand (m, 3), left and right, as the rack or the drop arm moves."""
    ends = np.array(hung.rod), np.array(hung.rod) * MIRROR
    if hung.pivot is None or hung.column is None:
        return ends[0] + np.outer(ways, SIDEWAYS), ends[1] + np.outer(ways, SIDEWAYS)
    pivot = np.array(hung.pivot)
    way = np.array(hung.column) - pivot
    way = way / np.linalg.norm(way) * (1 if way[2] >= 0 else -1)
    return swung(ends[0], pivot, way, ways), swung(ends[1], pivot, way, ways)


def beam_at(job: Job, end: Axle, travel: float, rack: float) -> BeamStill:
    """A beam at a travel (mm), steered by a rack's way (mm) or a drop arm's turn (rad) to the left, kept within what is
    typed in. Raises Problem where it is not hung."""
    edits.find_beam(job, end)
    run = next(r for r in beam_runs(job) if r.hung.axle == end)
    most, leaf = most_steer(run.hung), run.hung.leaf
    way = float(np.clip(rack, -most, most))
    rise = float(np.clip(travel, -leaf.down, leaf.up)) if run.held else 0.0
    found, told = stand(job, run.hung, run.stub, run.base, np.array([rise]), np.array([way]))
    return BeamStill(run, rise, way, found, told)


def rods(run: BeamRun, found: BeamGrid) -> tuple[tuple[str, Floats, Floats], ...]:
    """The rods that steer by name, their inner and outer ends (n, m, 3), mm."""
    left, right = found.left, found.right
    if run.hung.drag is None:
        return ("left tie rod", left.rod, left.arm), ("right tie rod", right.rod, right.arm)
    end = _placed(run.stub.at(np.array(run.hung.drag), left.turn), found.turned, found.shift)
    return ("drag link", left.rod, end), ("tie rod", left.arm, right.arm)


def wheels(found: BeamGrid) -> tuple[tuple[str, BeamSide], ...]:
    """Both wheels by side."""
    return ("left", found.left), ("right", found.right)


def drawn(job: Job, still: BeamStill) -> tuple[DrawnLine, ...]:
    """The beam with its kingpins, steering arms and rods and what it moves on where it stands, as lines; nothing where
    a rod does not reach."""
    run, found, hung = still.run, still.found, still.run.hung
    if not found.closed[0, 0]:
        return ()
    made = [DrawnLine("link", inner[0, 0], outer[0, 0]) for _, inner, outer in rods(run, found)]
    middles = []
    for mirror, (_, side) in zip((np.ones(3), MIRROR), wheels(found), strict=True):
        low, high = (found.at(np.array(end) * mirror)[0] for end in (hung.lower, hung.upper))
        middle = (low + high) / 2
        middles.append(middle)
        made += [DrawnLine("body", low, high), DrawnLine("body", middle, side.centre[0, 0])]
        made.append(DrawnLine("body", middle, side.arm[0, 0]))
    made.append(DrawnLine("body", middles[0], middles[1]))
    if hung.pivot and hung.column:
        ends = inner_ends(hung, found.rack)[: 1 if hung.drag else 2]
        made += [DrawnLine("link", np.array(hung.pivot), end[0]) for end in ends]
        made.append(DrawnLine("body", np.array(hung.pivot), np.array(hung.column)))
    if run.held:
        made += held_lines(job, run.held, still.travel)
    return tuple(made)
