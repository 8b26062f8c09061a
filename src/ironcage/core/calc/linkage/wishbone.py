"""A wheel on two wishbones, a tie rod and a coil-over: where everything stands over travel and steer.

The upright is one rigid body. Its six freedoms are held by the lengths of both legs of both wishbones and of the tie
rod, and by the height of the wheel's centre; Newton's method with exact derivatives closes them, stepping outwards from
ride height. No angle is taken for small. Left side: x forward, y to the left, z up; mm, rad.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from ironcage.core.calc.linkage.rocker import Rocker
from ironcage.core.calc.linkage.steering import swung
from ironcage.core.calc.vectors import cross

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]
SpringOn = Literal["lower", "upper", "upright"]
STEP_MM = 25.0  # of travel or rack, from one closed position to the guess of the next
CLOSED_MM = 1e-9
MOST_TRIES = 25
LARGEST_TURN = 0.5  # rad in one of Newton's steps: beyond it the links are being folded over
FURTHEST_CENTRE_MM = 1e5  # of where an upright turns: further away it goes straight
FURTHEST_MM = 600.0  # that a limit of travel is looked for
LIMIT_WITHIN_MM = 0.01


@dataclass(frozen=True, eq=False)
class DropArm:
    """What a tie rod's inner end turns on. pivot (3,): a place on its axis, way (3,): unit vector along that."""

    pivot: Floats
    way: Floats

    def sideways(self, end: Floats) -> float:
        """How far an end (3,) goes to the left for each rad that the arm turns, mm."""
        return float(cross(self.way, end - self.pivot)[1])

    def ends(self, end: Floats, moved: Floats) -> Floats:
        """Where an end (3,) stands (n, 3) as the arm is turned by what moves it to the left by so much at first (n,),
        mm."""
        return swung(end, self.pivot, self.way, np.asarray(moved, float) / self.sideways(end))


@dataclass(frozen=True, eq=False)
class DoubleWishbone:
    """Hard points of a left corner at ride height, each (3,) mm. lower, upper: the inboard ends (2, 3), front then
    rear; axis: unit vector along the wheel's axle, outboard; radius: of the tyre where it stands; spring_on: what the
    coil-over's outer end is fixed to; rocker: what a push rod from there turns, the coil-over's outer end on it; None
    where the coil-over stands there itself; drop: the drop arm or idler that the tie rod's inner end is on, None where
    a rack moves it."""

    lower: Floats
    lower_out: Floats
    upper: Floats
    upper_out: Floats
    tie_in: Floats
    tie_out: Floats
    wheel: Floats
    axis: Floats
    radius: float
    spring_in: Floats
    spring_out: Floats
    spring_on: SpringOn = "lower"
    rocker: Rocker | None = None
    drop: DropArm | None = None

    @property
    def carried(self) -> Floats:
        """What of the coil-over or the push rod an arm or the upright carries (3,)."""
        return self.rocker.push_out if self.rocker else self.spring_out

    @cached_property
    def lengths(self) -> Floats:
        """Of both lower legs, both upper legs and the tie rod, (5,) mm."""
        return np.linalg.norm(self._inner(np.zeros(1))[0] - self._outer, axis=1)

    @cached_property
    def _outer(self) -> Floats:
        """The outer end of each of the five links (5, 3)."""
        return np.array([self.lower_out, self.lower_out, self.upper_out, self.upper_out, self.tie_out])

    def _inner(self, rack: Floats) -> Floats:
        """The inner end of each of the five links where the rack has moved left by so much, (n, 5, 3)."""
        ends = np.array([*self.lower, *self.upper, self.tie_in])
        made = np.repeat(ends[None], len(rack), axis=0)
        made[:, 4] = self.tie_ends(rack)
        return made

    def tie_ends(self, rack: Floats) -> Floats:
        """The tie rod's inner end (n, 3) where the rack has moved left by so much (n,), mm, or the drop arm as it does
        from where it stands straight ahead."""
        if self.drop is None:
            return self.tie_in + np.outer(rack, [0.0, 1.0, 0.0])
        return self.drop.ends(self.tie_in, rack)


@dataclass(frozen=True, eq=False)
class Poses:
    """Where an upright stands. travel (n,), rack (m,): mm; turn (n, m, 3, 3) and shift (n, m, 3): a point at q stands
    at turn q + shift; rate (n, m, 6): how it moves and turns for each mm of travel, the first three at the origin of
    the upright's turn, its lower ball joint; closed (n, m): whether the links reach. Where they do not, all is nan."""

    corner: DoubleWishbone
    travel: Floats
    rack: Floats
    turn: Floats
    shift: Floats
    rate: Floats
    closed: NDArray[np.bool_]

    def at(self, point: Floats) -> Floats:
        """Where a point of the upright stands, (n, m, 3)."""
        return self.turn @ point + self.shift

    def some(self, rows: Ints, columns: Ints) -> Poses:
        """The poses at some of the travels and some of the racks, by number."""
        at = np.ix_(rows, columns)
        turn, shift, rate = (a[at] for a in (self.turn, self.shift, self.rate))
        return Poses(self.corner, self.travel[rows], self.rack[columns], turn, shift, rate, self.closed[at])

    def moves(self, point: Floats) -> Floats:
        """How a point of the upright moves for each mm of travel, (n, m, 3)."""
        arm = self.turn @ (point - self.corner.lower_out)
        return self.rate[..., :3] + cross(self.rate[..., 3:], arm)


def poses(corner: DoubleWishbone, travel: Floats, rack: Floats) -> Poses:
    """Where the upright stands at each travel of the wheel's centre upwards (n,) and each move of the rack to the left
    (m,), mm."""
    travel, rack = np.asarray(travel, float), np.asarray(rack, float)
    n, m = len(travel), len(rack)
    stops, states = _stops(corner, travel, rack)
    near = [_last_before(stops, float(t)) for t in travel]
    start = _State(
        np.concatenate([states[k].turn for k in near]),
        np.concatenate([states[k].place for k in near]),
        np.concatenate([states[k].closed for k in near]),
    )
    each_rack, each_travel = np.tile(rack, n), np.repeat(travel, m)
    end = _closed(corner, each_rack, each_travel, start, each_travel - np.repeat(stops[near], m))
    rate = np.full((n * m, 6), np.nan)
    jacobian = _jacobian(corner, end.turn[end.closed], end.place[end.closed], corner._inner(each_rack[end.closed]))
    rate[end.closed] = _solved(jacobian, np.repeat([[0.0, 0, 0, 0, 0, 1]], len(jacobian), axis=0))
    end.turn[~end.closed], end.place[~end.closed] = np.nan, np.nan
    turn, place = end.turn.reshape(n, m, 3, 3), end.place.reshape(n, m, 3)
    shift = place - turn @ corner.lower_out
    return Poses(corner, travel, rack, turn, shift, rate.reshape(n, m, 6), end.closed.reshape(n, m))


@dataclass(eq=False)
class _State:
    """The upright's turn (m, 3, 3), its lower ball joint's place (m, 3), and whether the links reach (m,)."""

    turn: Floats
    place: Floats
    closed: NDArray[np.bool_]


def _stops(corner: DoubleWishbone, travel: Floats, rack: Floats) -> tuple[Floats, list[_State]]:
    """Travels a step apart from ride height as far as is asked for, upwards and downwards, and the upright there at
    every rack: what each position is sought from. Every steer is turned to at ride height first."""
    m = len(rack)
    state = _State(
        np.repeat(np.eye(3)[None], m, axis=0), np.repeat(corner.lower_out[None], m, axis=0), np.ones(m, bool)
    )
    count = max(int(np.ceil(np.abs(rack).max(initial=0.0) / STEP_MM)), 1)
    for k in range(count):
        state = _closed(corner, rack * (k + 1) / count, np.zeros(m), state, np.zeros(m))
    stops, states = [0.0], [state]
    for far in (travel.max(initial=0.0), travel.min(initial=0.0)):
        step, now = np.copysign(STEP_MM, far), state
        for k in range(1, int(abs(far) // STEP_MM) + 1):
            now = _closed(corner, rack, np.full(m, k * step), now, np.full(m, step))
            stops.append(float(k * step))
            states.append(now)
    return np.array(stops), states


def _last_before(stops: Floats, travel: float) -> int:
    """Which stop is the furthest on the way from ride height to a travel."""
    on_the_way = (stops * travel >= 0) & (np.abs(stops) <= abs(travel) + 1e-9)
    return int(np.argmax(np.where(on_the_way, np.abs(stops), -1.0)))


def _closed(corner: DoubleWishbone, rack: Floats, travel: Floats, state: _State, ahead: Floats) -> _State:
    """The links closed at each rack and travel (m,), from a state near by; ahead (m,): the
    travel from there, mm."""
    inner, lengths = corner._inner(rack), corner.lengths
    turn, place, good = state.turn.copy(), state.place.copy(), state.closed.copy()
    rows = np.flatnonzero(good & (ahead != 0))
    if rows.size:
        further = np.zeros((len(rows), 6))
        further[:, 5] = ahead[rows]
        guess = _solved(_jacobian(corner, turn[rows], place[rows], inner[rows]), further)
        turn[rows], place[rows] = _moved(turn[rows], place[rows], guess)
    left = np.flatnonzero(good)
    for _ in range(MOST_TRIES):
        misses = _misses(corner, turn[left], place[left], inner[left], lengths, travel[left])
        left, misses = left[(far := np.abs(misses).max(axis=1) > CLOSED_MM)], misses[far]
        if not left.size:
            return _State(turn, place, good)
        step = _solved(_jacobian(corner, turn[left], place[left], inner[left]), -misses)
        lost = ~np.isfinite(step).all(axis=1) | (np.linalg.norm(step[:, 3:], axis=1) > LARGEST_TURN)
        good[left[lost]] = False
        left, step = left[~lost], step[~lost]
        turn[left], place[left] = _moved(turn[left], place[left], step)
    good[left] = False
    return _State(turn, place, good)


def _solved(jacobian: Floats, right: Floats) -> Floats:
    """The step (m, 6) of each; nan where the links are locked."""
    made = np.full_like(right, np.nan, dtype=float)
    firm = np.abs(np.linalg.det(jacobian)) > 1e-12
    made[firm] = np.linalg.solve(jacobian[firm], right[firm][..., None])[..., 0]
    return made


def _moved(turn: Floats, place: Floats, step: Floats) -> tuple[Floats, Floats]:
    held = np.where(np.isfinite(step), step, 0.0)
    return Rotation.from_rotvec(held[:, 3:]).as_matrix() @ turn, place + held[:, :3]


def _misses(
    corner: DoubleWishbone, turn: Floats, place: Floats, inner: Floats, lengths: Floats, travel: Floats
) -> Floats:
    """How far each is from closed (m, 6), mm: the five lengths, and the wheel's height."""
    outer = turn[:, None] @ (corner._outer - corner.lower_out)[None, :, :, None]
    along = outer[..., 0] + place[:, None] - inner
    wheel = (turn @ (corner.wheel - corner.lower_out))[:, 2] + place[:, 2]
    apart = (np.einsum("mkc,mkc->mk", along, along) - lengths**2) / (2 * lengths)
    return np.concatenate([apart, (wheel - corner.wheel[2] - travel)[:, None]], axis=1)


def _jacobian(corner: DoubleWishbone, turn: Floats, place: Floats, inner: Floats) -> Floats:
    """Exact derivatives of `_misses` by the upright's move and turn about its lower ball joint, (m, 6, 6)."""
    arms = (turn[:, None] @ (corner._outer - corner.lower_out)[None, :, :, None])[..., 0]
    along = (arms + place[:, None] - inner) / corner.lengths[:, None]
    made = np.empty((len(turn), 6, 6))
    made[:, :5, :3] = along
    made[:, :5, 3:] = cross(arms, along)
    made[:, 5, :3] = (0.0, 0.0, 1.0)
    wheel = turn @ (corner.wheel - corner.lower_out)
    made[:, 5, 3:] = np.stack([wheel[:, 1], -wheel[:, 0], np.zeros(len(turn))], axis=1)
    return made


def travel_limit(corner: DoubleWishbone, rack: float, way: float) -> float | None:
    """The travel, mm, beyond which the links can't close, upwards (way 1) or downwards (-1), to 0.01 mm; None where
    they still do at 600 mm."""
    steps = way * np.arange(0.0, FURTHEST_MM + 1, STEP_MM)
    found = poses(corner, steps, np.array([rack])).closed[:, 0]
    if found.all():
        return None
    bad = int(np.argmin(found))
    if bad == 0:
        return 0.0
    good, far = steps[bad - 1], steps[bad]
    while abs(far - good) > LIMIT_WITHIN_MM:
        middle = (good + far) / 2
        if poses(corner, np.array([good, middle]), np.array([rack])).closed[-1, 0]:
            good = middle
        else:
            far = middle
    return float(good)


def link_shares(corner: DoubleWishbone, travel: float) -> Floats:
    """How hard each of the five links (5,), as of `lengths`, holds the wheel straight ahead against going on, near a
    travel where they lock: what is in each for a force of 1 up or down at the wheel's centre; nan where they do not
    reach."""
    found = poses(corner, np.array([0.0, travel]), np.zeros(1))
    turn = found.turn[1]
    place = found.at(corner.lower_out)[1]
    if not found.closed[1, 0]:
        return np.full(5, np.nan)
    rows = _jacobian(corner, turn, place, corner._inner(np.zeros(1)))[0]
    return np.abs(np.linalg.lstsq(rows[:5].T, rows[5], rcond=None)[0])


@dataclass(frozen=True, eq=False)
class CornerCurves:
    """What the wheel does at each travel and rack, each (n, m); angles rad, lengths mm, nan where the links do not
    reach. camber: positive with the top out; toe_in: positive with the front edge in; steer: to the left; caster,
    kingpin: the lean of the line of both ball joints, positive with its top to the rear, and in; scrub: from where that
    line meets the ground out to the contact, trail: back to it; contact (n, m, 3): where the tyre stands; out, ahead:
    the contact's move from ride height; roll_centre: its height over the ground, by the contact's path in the front
    view; spring: the coil-over's length; motion_ratio: its shortening for each mm of travel; braking, driving: how much
    of the car's dive or lift the links hold, as a share, where all braking force works on this end's uprights at the
    contact, and all drive at the wheel's centre, nan where the lever is not known; front_centre: where the upright
    turns seen from the front, how far it is to the left of the car's middle and over the ground, side_centre: seen
    from the side, how far it is ahead of the contact and over the ground, each (n, m, 2), nan where it is too far."""

    camber: Floats
    toe_in: Floats
    caster: Floats
    kingpin: Floats
    scrub: Floats
    trail: Floats
    contact: Floats
    out: Floats
    ahead: Floats
    roll_centre: Floats
    spring: Floats
    motion_ratio: Floats
    braking: Floats
    driving: Floats
    front_centre: Floats
    side_centre: Floats

    @property
    def steer(self) -> Floats:
        """The left wheel's steer to the left, rad."""
        return -self.toe_in


def curves(found: Poses, lever: float = math.nan) -> CornerCurves:
    """What the wheel does at each pose; lever: the wheelbase over the height of the centre of gravity, negative of a
    front wheel.

    The contact is the lowest point of a thin disc of the tyre's radius. The roll centre is where the line across the
    contact's path, seen from the front, meets the middle of the car: the upright's own point there is followed, as
    what a sideways force at the contact works on. Brakes and drive are held by the slope of the same point's path in
    the side view, and of the wheel's centre: the tangent of the angle to its instant centre, times the lever.
    """
    corner = found.corner
    axis = found.turn @ corner.axis
    up = np.array([0.0, 0.0, 1.0]) - axis[..., 2:] * axis
    up /= np.linalg.norm(up, axis=-1, keepdims=True)
    wheel = found.at(corner.wheel)
    contact = wheel - corner.radius * up
    low, high = found.at(corner.lower_out), found.at(corner.upper_out)
    line = high - low
    ground = low + line * ((contact[..., 2] - low[..., 2]) / line[..., 2])[..., None]
    heading = np.stack([axis[..., 1], -axis[..., 0], np.zeros_like(axis[..., 0])], axis=-1)
    heading /= np.linalg.norm(heading, axis=-1, keepdims=True)
    side = np.stack([-heading[..., 1], heading[..., 0], np.zeros_like(axis[..., 0])], axis=-1)
    path = found.rate[..., :3] + cross(found.rate[..., 3:], contact - low)
    moves = found.moves(corner.wheel)
    start = corner.wheel - corner.radius * _upright(corner.axis)
    length, shortens = _spring(found)
    return CornerCurves(
        camber=np.arcsin(-axis[..., 2]),
        toe_in=np.arctan2(axis[..., 0], axis[..., 1]),
        caster=np.arctan2(-line[..., 0], line[..., 2]),
        kingpin=np.arctan2(-line[..., 1], line[..., 2]),
        scrub=((contact - ground) * side).sum(axis=-1),
        trail=((ground - contact) * heading).sum(axis=-1),
        contact=contact,
        out=contact[..., 1] - start[1],
        ahead=contact[..., 0] - start[0],
        roll_centre=contact[..., 1] * path[..., 1] / path[..., 2],
        spring=length,
        motion_ratio=shortens,
        braking=-lever * path[..., 0] / path[..., 2],
        driving=-lever * moves[..., 0] / moves[..., 2],
        front_centre=turning_centre(path[..., 1:], found.rate[..., 3]) + contact[..., 1:2] * [1.0, 0.0],
        side_centre=turning_centre(path[..., ::2], -found.rate[..., 4]),
    )


def turning_centre(path: Floats, turn: Floats) -> Floats:
    """Where something turns, seen along an axis: as seen from one of its places that moves by (…, 2), while the whole
    turns by (…) rad from the first direction to the second; nan beyond FURTHEST_CENTRE_MM."""
    with np.errstate(divide="ignore", invalid="ignore"):
        found = np.stack([-path[..., 1], path[..., 0]], axis=-1) / turn[..., None]
    return np.where(np.linalg.norm(found, axis=-1, keepdims=True) < FURTHEST_CENTRE_MM, found, np.nan)


def _upright(axis: Floats) -> Floats:
    """The wheel's own upwards direction, across its axis."""
    up = np.array([0.0, 0.0, 1.0]) - axis[2] * axis
    made: Floats = up / np.linalg.norm(up)
    return made


def spring_end(found: Poses) -> tuple[Floats, Floats]:
    """Where the coil-over's outer end stands, and how it moves for each mm of travel, both (n, m, 3)."""
    place, moves = carried_end(found)
    rocker = found.corner.rocker
    if rocker is None:
        return place, moves
    turn = rocker.turn(place)
    end = rocker.at(found.corner.spring_out, turn)
    return end, rocker.rate(turn, place, moves)[..., None] * cross(rocker.axis, end - rocker.pivot)


def carried_end(found: Poses) -> tuple[Floats, Floats]:
    """The same of what an arm or the upright carries: the coil-over's end, or the push rod's."""
    corner = found.corner
    if corner.spring_on == "upright":
        return found.at(corner.carried), found.moves(corner.carried)
    lower = corner.spring_on == "lower"
    inner, out = (corner.lower, corner.lower_out) if lower else (corner.upper, corner.upper_out)
    hinge = (inner[1] - inner[0]) / np.linalg.norm(inner[1] - inner[0])
    now = _across(found.at(out) - inner[0], hinge)
    size = np.linalg.norm(now, axis=-1, keepdims=True)
    place = inner[0] + arm_carried(found, lower, corner.carried - inner[0])
    turning = (found.moves(out) * cross(hinge, now / size)).sum(axis=-1, keepdims=True) / size
    return place, turning * cross(hinge, place - inner[0])


def arm_carried(found: Poses, lower: bool, way: Floats) -> Floats:
    """A direction, or a way from an end of its hinge (3,), as the lower or the upper arm carries it (n, m, 3)."""
    corner = found.corner
    inner, out = (corner.lower, corner.lower_out) if lower else (corner.upper, corner.upper_out)
    hinge = (inner[1] - inner[0]) / np.linalg.norm(inner[1] - inner[0])
    own = _across(out - inner[0], hinge)
    first = own / np.linalg.norm(own)
    parts = np.array([first, cross(hinge, first), hinge]) @ way
    now = _across(found.at(out) - inner[0], hinge)
    ahead = now / np.linalg.norm(now, axis=-1, keepdims=True)
    return np.asarray(parts[0] * ahead + parts[1] * cross(hinge, ahead) + parts[2] * hinge)


def _across(v: Floats, unit: Floats) -> Floats:
    made: Floats = v - (v @ unit)[..., None] * unit
    return made


def _spring(found: Poses) -> tuple[Floats, Floats]:
    end, moves = spring_end(found)
    along = end - found.corner.spring_in
    length = np.linalg.norm(along, axis=-1)
    return length, -(moves * along).sum(axis=-1) / length
