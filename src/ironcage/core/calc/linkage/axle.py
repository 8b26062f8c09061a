"""A live axle on links: where it stands at every travel of both its wheels, and what its links do to it on the way.

The axle is one rigid body. Both wheels' heights are given; of what is left free, its links keep their lengths as nearly
as they can, by least squares: four links and a track rod are one more than a rigid axle needs, and what they can't all
keep is taken up by bushes, and told as bind. Newton's method with exact derivatives, stepping outwards from ride
height. No angle is taken for small. x forward, y to the left, z up; mm, rad.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from ironcage.core.calc.linkage.wishbone import turning_centre
from ironcage.core.calc.vectors import cross

Floats = NDArray[np.float64]
STEP_MM = 50.0  # of travel, from one position to the guess of the next
SETTLED, NEAR = 1e-9, 1e-2  # of a step, mm and rad: of a position that is told, and of one on the way to it
MOST_TRIES = 60
LARGEST_TURN, LARGEST_MOVE_MM = 0.5, 300.0  # in one of Newton's steps: beyond them the links are being folded over
MOST_BIND_MM = 25.0  # that a link would have to be longer or shorter: beyond it nothing gives
LIMIT_WITHIN_MM, TINY = 0.01, 1e-12
LOOSE = 1e-6  # of the least singular value of all that holds an axle, against the largest: it can still move
ARM_MM = 500.0  # what a turn is weighed with against a move, for that


@dataclass(frozen=True, eq=False)
class LiveAxle:
    """Hard points at ride height, mm. inner, outer (k, 3): ends of the links on the frame and on the axle, k at least
    four; left, right (3,): the wheels' centres; radius: of the tyres where they stand; made (k,): which links are made,
    and can bind; the others stand for springs, which give. None: all of them."""

    inner: Floats
    outer: Floats
    left: Floats
    right: Floats
    radius: float
    made: NDArray[np.bool_] | None = None

    @cached_property
    def lengths(self) -> Floats:
        """Of the links (k,), mm."""
        return np.linalg.norm(self.outer - self.inner, axis=1)

    @cached_property
    def middle(self) -> Floats:
        """Between the wheels' centres (3,), which the axle's turn is told about."""
        return (self.left + self.right) / 2

    def free(self) -> bool:
        """Whether the axle could move with both wheels held in height and no link changing its length."""
        rows = _rows(self, np.eye(3)[None], self.middle[None])[0]
        rows = rows / np.array([1, 1, 1, ARM_MM, ARM_MM, ARM_MM])
        sizes = np.linalg.svd(rows / np.linalg.norm(rows, axis=1, keepdims=True), compute_uv=False)
        return bool(len(rows) < 6 or sizes[5] < LOOSE * sizes[0])


@dataclass(frozen=True, eq=False)
class AxlePoses:
    """Where an axle stands, each for n pairs of travels. left, right (n,): of the wheels' centres upwards; turn
    (n, 3, 3) and shift (n, 3): a point at q stands at turn q + shift; bind (n, k): how much longer each link would have
    to be; heave, roll (n, 6): how the axle moves and turns about its middle for each mm that both wheels rise, and for
    each mm that the left one rises and the right one falls; closed (n,): whether the links reach, within MOST_BIND_MM.
    Where they do not, all is nan."""

    axle: LiveAxle
    left: Floats
    right: Floats
    turn: Floats
    shift: Floats
    bind: Floats
    heave: Floats
    roll: Floats
    closed: NDArray[np.bool_]

    def at(self, point: Floats) -> Floats:
        """Where a point of the axle stands (n, 3)."""
        return self.turn @ point + self.shift

    def moves(self, rate: Floats, point: Floats) -> Floats:
        """How a point of the axle moves (n, 3) where the axle moves by a rate (n, 6)."""
        return rate[:, :3] + cross(rate[:, 3:], self.turn @ (point - self.axle.middle))


def axle_poses(axle: LiveAxle, left: Floats, right: Floats) -> AxlePoses:
    """Where the axle stands at travels of its left and its right wheel (n,), mm. Raises ValueError for an axle that its
    links leave free to move."""
    if axle.free():
        raise ValueError("the links leave the axle free to move")
    left, right = np.asarray(left, float), np.asarray(right, float)
    turn = np.repeat(np.eye(3)[None], len(left), axis=0)
    place = np.repeat(axle.middle[None], len(left), axis=0)
    closed = np.ones(len(left), bool)
    count = max(int(np.ceil(np.abs([left, right]).max(initial=0.0) / STEP_MM)), 1)
    for k in range(1, count + 1):
        within = SETTLED if k == count else NEAR
        turn, place, closed = _settled(axle, turn, place, closed, left * k / count, right * k / count, within)
    bind = _misses(axle, turn, place, left, right)[:, 2:]
    closed &= np.abs(bind).max(axis=1) <= MOST_BIND_MM
    rows = _rows(axle, turn, place)
    heave, roll = (_rate(rows, wheels) for wheels in (np.array([1.0, 1.0]), np.array([1.0, -1.0])))
    for told in (turn, place, bind, heave, roll):
        told[~closed] = np.nan
    return AxlePoses(axle, left, right, turn, place - turn @ axle.middle, bind, heave, roll, closed)


def axle_limit(axle: LiveAxle, way: float, far: float) -> float | None:
    """The travel of both wheels, mm, beyond which the links do not reach, upwards (way 1) or downwards (-1), to
    0.01 mm; None where they still do at `far`."""

    def reaches(travel: float) -> bool:
        return bool(axle_poses(axle, np.array([travel]), np.array([travel])).closed[0])

    good, bad = 0.0, far
    if reaches(way * far):
        return None
    while bad - good > LIMIT_WITHIN_MM:
        middle = (good + bad) / 2
        good, bad = (middle, bad) if reaches(way * middle) else (good, middle)
    return way * good


def _settled(
    axle: LiveAxle,
    turn: Floats,
    place: Floats,
    closed: NDArray[np.bool_],
    left: Floats,
    right: Floats,
    within: float,
) -> tuple[Floats, Floats, NDArray[np.bool_]]:
    """The axle's turn and place at travels (n,), from ones near by, to within a step, and which still are closed."""
    turn, place, closed = turn.copy(), place.copy(), closed.copy()
    go = np.flatnonzero(closed)
    for _ in range(MOST_TRIES):
        if not go.size:
            return turn, place, closed
        step = _step(_rows(axle, turn[go], place[go]), -_misses(axle, turn[go], place[go], left[go], right[go]))
        sizes = np.linalg.norm(step[:, 3:], axis=1), np.linalg.norm(step[:, :3], axis=1)
        lost = ~(np.isfinite(step).all(axis=1) & (sizes[0] < LARGEST_TURN) & (sizes[1] < LARGEST_MOVE_MM))
        closed[go[lost]] = False
        go, step = go[~lost], step[~lost]
        turn[go] = Rotation.from_rotvec(step[:, 3:]).as_matrix() @ turn[go]
        place[go] += step[:, :3]
        go = go[np.abs(step).max(axis=1, initial=0.0) >= within]
    closed[go] = False
    return turn, place, closed


def _misses(axle: LiveAxle, turn: Floats, place: Floats, left: Floats, right: Floats) -> Floats:
    """How far each is from where it should be (n, 2 + k), mm: the two wheels' heights, and the links' lengths."""
    arms = (turn[:, None] @ (axle.outer - axle.middle)[None, :, :, None])[..., 0]
    lengths = np.linalg.norm(arms + place[:, None] - axle.inner, axis=2) - axle.lengths
    heights = [
        (turn @ (wheel - axle.middle))[:, 2] + place[:, 2] - wheel[2] - travel
        for wheel, travel in ((axle.left, left), (axle.right, right))
    ]
    return np.column_stack([*heights, lengths])


def _rows(axle: LiveAxle, turn: Floats, place: Floats) -> Floats:
    """Exact derivatives of `_misses` by the axle's move and turn about its middle (n, 2 + k, 6)."""
    arms = (turn[:, None] @ (axle.outer - axle.middle)[None, :, :, None])[..., 0]
    along = arms + place[:, None] - axle.inner
    along /= np.linalg.norm(along, axis=2, keepdims=True)
    made = np.zeros((len(turn), 2 + len(axle.inner), 6))
    for n, wheel in enumerate((axle.left, axle.right)):
        arm = turn @ (wheel - axle.middle)
        made[:, n, 2] = 1.0
        made[:, n, 3], made[:, n, 4] = arm[:, 1], -arm[:, 0]
    made[:, 2:, :3] = along
    made[:, 2:, 3:] = cross(arms, along)
    return made


def _step(rows: Floats, right: Floats) -> Floats:
    """The move and turn (n, 6) that answers the two wheels' heights exactly and the links as nearly as it can."""
    heights, links = rows[:, :2], rows[:, 2:]
    across = np.swapaxes(links, 1, 2)
    system = np.zeros((len(rows), 8, 8))
    system[:, :6, :6] = across @ links + TINY * np.eye(6)  # so that nothing is quite locked
    system[:, :6, 6:] = np.swapaxes(heights, 1, 2)
    system[:, 6:, :6] = heights
    told = np.concatenate([(across @ right[:, 2:, None])[..., 0], right[:, :2]], axis=1)
    return np.asarray(np.linalg.solve(system, told[..., None])[:, :6, 0])


def _rate(rows: Floats, wheels: Floats) -> Floats:
    right = np.zeros((len(rows), rows.shape[1]))
    right[:, :2] = wheels
    return _step(rows, right)


@dataclass(frozen=True, eq=False)
class AxleCurves:
    """What an axle does at each pose (n,); angles rad, lengths mm. steer: to the left, by the axle's own turn;
    pinion: nose up; aside: of the axle's middle to the left, ahead: forward, from ride height; roll_centre: height
    over the ground of the place in the axle's plane across the car that does not move sideways as the axle rolls;
    roll_steer: steer to the left for each rad that the axle rolls with its left wheel up; anti: how steeply the
    contacts rise rearward as both wheels rise, the tangent of the angle that drive or braking at the housing lifts
    or holds the car by; side_centre (n, 2): where the axle turns as both wheels rise, seen from the side, how far
    ahead of its contacts and over the ground, nan where it is too far to tell; bind: the most that a link that is
    made would have to be longer or shorter."""

    steer: Floats
    pinion: Floats
    aside: Floats
    ahead: Floats
    roll_centre: Floats
    roll_steer: Floats
    anti: Floats
    side_centre: Floats
    bind: Floats


def axle_curves(found: AxlePoses) -> AxleCurves:
    """What the axle does at each pose. Tyres are thin discs that turn with the axle; drive and brakes work on its
    housing."""
    axle = found.axle
    across = found.at(axle.left) - found.at(axle.right)
    middle = found.at(axle.middle)
    ground = (found.at(axle.left)[:, 2] + found.at(axle.right)[:, 2]) / 2 - axle.radius
    lean = np.arctan2(across[:, 2], np.hypot(across[:, 0], across[:, 1]))
    sideways, turning = found.roll[:, 1], found.roll[:, 3]  # of the middle, and about x; v(h) = sideways - turning·h
    heave = found.heave
    forward = found.turn[:, :, 0]
    drop = np.array([0.0, 0.0, -axle.radius])
    contact = heave[:, :3] + cross(heave[:, 3:], np.broadcast_to(drop, heave[:, :3].shape))
    rolls = found.roll[:, 3] * np.cos(lean)
    return AxleCurves(
        steer=np.arctan2(-across[:, 0], across[:, 1])
        - np.arctan2(-(axle.left - axle.right)[0], (axle.left - axle.right)[1]),
        pinion=np.arctan2(forward[:, 2], np.hypot(forward[:, 0], forward[:, 1])),
        aside=middle[:, 1] - axle.middle[1],
        ahead=middle[:, 0] - axle.middle[0],
        roll_centre=middle[:, 2] + sideways / turning - ground,
        roll_steer=found.roll[:, 5] / rolls,
        anti=-contact[:, 0] / contact[:, 2],
        side_centre=turning_centre(contact[:, ::2], -heave[:, 4]),
        bind=np.abs(found.bind if axle.made is None else found.bind[:, axle.made]).max(axis=1, initial=0.0)
        + 0 * found.bind[:, 0],
    )


def axle_forces(axle: LiveAxle, springs: Floats, at: Floats, force: Floats, moment: Floats) -> Floats:
    """What each link and then each coil-over pulls with at ride height (k + s,), N, negative where it pushes, by
    statics of the rigid axle: a force (3,) N at a place (3,) mm and a moment (3,) N·mm on it. springs (s, 2, 3): their
    ends on the frame and on the axle. Where there are more of them than statics tells, the sum of squares is the least.

    Raises ValueError where they do not hold the axle.
    """
    inner, outer = np.vstack([axle.inner, springs[:, 0]]), np.vstack([axle.outer, springs[:, 1]])
    ways = (inner - outer) / np.linalg.norm(inner - outer, axis=1, keepdims=True)
    arms = (outer - axle.middle) / ARM_MM
    rows = np.vstack([ways.T, cross(arms, ways).T])
    sizes = np.linalg.svd(rows, compute_uv=False)
    if len(sizes) < 6 or sizes[5] < LOOSE * sizes[0]:
        raise ValueError("the links and coil-overs leave the axle free to move")
    turning = moment + cross(at - axle.middle, force)
    return np.asarray(np.linalg.lstsq(rows, -np.concatenate([force, turning / ARM_MM]), rcond=None)[0])
