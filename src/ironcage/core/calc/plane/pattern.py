"""A bolt pattern from distances taped between its holes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.solids.convex import Floats
from ironcage.problem import Problem
from ironcage.units import said

Reading = tuple[int, int, float]  # first hole, second hole, mm
SLIP_MM = 2.0  # a taped distance further off than this is more likely a slip than the tape
MOST_HOLES = 60
LOOSE = 1e-7  # of the largest singular value: a motion of the holes that changes no taped distance
TRIES = 8  # other starts where the first fits badly


@dataclass(frozen=True, eq=False)
class FittedPattern:
    """A pattern laid flat. holes: their numbers, rising; places (n, 2): the first hole at the origin, the second
    along x, the first one off that line at positive y; mm. readings: what was taped, a pair taped twice among it
    twice; off (k,): how far each is from the fitted distance, mm; spare: how many readings check others; doubts:
    what these readings can't tell, in sentences."""

    holes: tuple[int, ...]
    places: Floats
    readings: tuple[Reading, ...]
    residuals: Floats
    spare: int
    doubts: tuple[str, ...]

    @property
    def worst(self) -> int:
        """Which reading is furthest off."""
        return int(np.abs(self.residuals).argmax())


def fit_pattern(readings: Sequence[Reading]) -> FittedPattern:
    """Holes numbered from 1 from distances taped between their centres, mm; least squares, every tape reading alike.

    Begins with classical scaling (Torgerson 1952) of the distances, those not taped taken along the shortest way round.
    Raises Problem where holes are too few, or the readings do not hold each other.
    """
    for a, b, d in readings:
        if a == b:
            raise Problem(
                f"A distance from hole {a} to itself was taped.", where="holes", hint="Write two holes, such as 1-2."
            )
        if not d > 0:
            raise Problem(
                "A distance between holes must be more than nothing.", where="holes", hint=f"Tape {a}-{b} again."
            )
    holes = sorted({h for a, b, _ in readings for h in (a, b)})
    count = len(holes)
    if count < 3:
        raise Problem("A pattern needs three holes or more.", where="holes", hint="Tape 1-2, 1-3 and 2-3.")
    row = {h: n for n, h in enumerate(holes)}
    ends = np.array([(row[a], row[b]) for a, b, _ in readings])
    taped = np.array([d for *_, d in readings])
    pairs = {frozenset(pair) for pair in ends.tolist()}
    if len(pairs) < 2 * count - 3:
        raise Problem(
            f"{count} holes need {2 * count - 3} distances, and {len(pairs)} are taped.",
            where="holes",
            hint="Tape the diagonals as well.",
        )
    start = _scaled(count, ends, taped)
    _demand_held(ends, holes)
    tries, rng = [_settled(start, ends, taped)], np.random.default_rng(1)
    while np.abs(_misfit(tries[-1], ends, taped)).max() > SLIP_MM and len(tries) <= TRIES:
        tries.append(_settled(start + rng.normal(0, 0.2 * taped.mean(), start.shape), ends, taped))
    best = min(tries, key=lambda at: float((_misfit(at, ends, taped) ** 2).sum()))
    doubts = _mirrored(best, ends, taped, holes)
    spare = len(readings) - (2 * count - 3)
    if spare == 0:
        doubts.append("Nothing checks these readings: one read wrong, by however much, shows no misfit. Tape one more.")
    return FittedPattern(tuple(holes), _laid(best), tuple(readings), _misfit(best, ends, taped), spare, tuple(doubts))


def on_circle(count: int, diameter_mm: float) -> list[Reading]:
    """The readings of so many holes at even steps on a pitch circle (mm): each to the next two.

    Raises Problem for fewer than three, and for more than a pattern has.
    """
    if count > MOST_HOLES:
        raise Problem(f"A pattern has {MOST_HOLES} holes at most, and this has {count}.", where="holes")
    if count < 3:
        raise Problem("A pitch circle has three holes or more.", where="holes", hint="Write for example: 5 on 100")
    far = [diameter_mm * math.sin(step * math.pi / count) for step in (1, 2)]
    pairs = {frozenset((n, (n + step) % count)): far[step - 1] for n in range(count) for step in (2, 1)}
    return [(min(pair) + 1, max(pair) + 1, d) for pair, d in sorted(pairs.items(), key=lambda p: sorted(p[0]))]


@dataclass(frozen=True)
class PitchCircle:
    """The circle that passes holes best. middle: x, y, mm; diameter; off: how far a hole is off it at most, mm."""

    middle: tuple[float, float]
    diameter: float
    off: float


def pitch_circle(places: Floats) -> PitchCircle:
    """The circle of least squares through holes (n, 2), by Kåsa's linear form (1976)."""
    rows = np.column_stack([2 * places, np.ones(len(places))])
    (x, y, rest), *_ = np.linalg.lstsq(rows, (places**2).sum(axis=1), rcond=None)
    radius = math.sqrt(max(rest + x * x + y * y, 0.0))
    off = np.abs(np.hypot(*(places - [x, y]).T) - radius)
    return PitchCircle((float(x), float(y)), 2 * radius, float(off.max()))


def _scaled(count: int, ends: Floats, taped: Floats) -> Floats:
    """Where classical scaling puts the holes (n, 2)."""
    full = np.full((count, count), np.inf)
    np.fill_diagonal(full, 0.0)
    for (a, b), d in zip(ends, taped, strict=True):
        full[a, b] = full[b, a] = d
    for k in range(count):
        full = np.minimum(full, full[:, k, None] + full[None, k])
    if not np.isfinite(full).all():
        raise Problem(
            "Some holes are not taped to the others.", where="holes", hint="Tape a distance from each to two others."
        )
    centre = np.eye(count) - 1 / count
    values, vectors = np.linalg.eigh(-0.5 * centre @ full**2 @ centre)
    return np.asarray(vectors[:, -2:] * np.sqrt(np.maximum(values[-2:], 1e-6)))


def _misfit(at: Floats, ends: Floats, taped: Floats) -> Floats:
    return np.asarray(np.linalg.norm(at[ends[:, 0]] - at[ends[:, 1]], axis=1) - taped)


def _slopes(at: Floats, ends: Floats) -> Floats:
    """How each taped distance changes with each hole's x and y (k, 2n)."""
    way = at[ends[:, 0]] - at[ends[:, 1]]
    way = way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-9)
    made = np.zeros((len(ends), len(at), 2))
    rows = np.arange(len(ends))
    made[rows, ends[:, 0]], made[rows, ends[:, 1]] = way, -way
    return made.reshape(len(ends), -1)


def _settled(start: Floats, ends: Floats, taped: Floats) -> Floats:
    """The holes (n, 2) of least squares that a start leads to (Levenberg and Marquardt, as in MINPACK, which is quick
    enough for every key).

    It wants as many rows as there are coordinates: three empty ones stand for where the whole plate lies, which no
    tape tells.
    """
    from scipy.optimize import least_squares  # slow to import, and needed here alone

    free = np.zeros((3, start.size))
    made = least_squares(
        lambda flat: np.append(_misfit(flat.reshape(-1, 2), ends, taped), np.zeros(3)),
        start.ravel(),
        jac=lambda flat: np.vstack([_slopes(flat.reshape(-1, 2), ends), free]),
        method="lm",
        xtol=1e-14,
        ftol=1e-14,
    )
    return np.asarray(made.x.reshape(-1, 2))


def _demand_held(ends: Floats, holes: Sequence[int]) -> None:
    """Refuse readings that let a hole move: the distances' slopes then have more idle motions than the three of the
    whole plate.

    Looked at with the holes at places drawn by lot (Laman 1970), so that holes in line with each other don't count as
    loose.
    """
    at = np.random.default_rng(5).normal(size=(len(holes), 2))
    _, sizes, motions = np.linalg.svd(_slopes(at, ends))
    held = int((sizes > LOOSE * sizes[0]).sum())
    if held < 2 * len(holes) - 3:
        idle = motions[held:].reshape(-1, len(holes), 2)
        moved = np.linalg.norm(_within(idle, at), axis=(0, 2))
        loose = holes[int(moved.argmax())]
        raise Problem(
            f"Hole {loose} is not held by what was taped: it can still move.",
            where="holes",
            hint=f"Tape {loose} to another hole, off the line of the first.",
        )


def _within(motions: Floats, at: Floats) -> Floats:
    """Motions (m, n, 2) less what moves and turns all the holes together."""
    x, y = (at - at.mean(axis=0)).T
    zero, one = np.zeros_like(x), np.ones_like(x)
    whole = np.stack([np.stack([one, zero], 1), np.stack([zero, one], 1), np.stack([-y, x], 1)]).reshape(3, -1)
    basis = np.linalg.qr(whole.T)[0]
    flat = motions.reshape(len(motions), -1)
    return np.asarray((flat - flat @ basis @ basis.T).reshape(motions.shape))


def _mirrored(at: Floats, ends: Floats, taped: Floats, holes: Sequence[int]) -> list[str]:
    """Holes taped to two others alone, which may lie on either side of the line through those."""
    found = []
    worst = max(float(np.abs(_misfit(at, ends, taped)).max()), SLIP_MM)
    for n, hole in enumerate(holes):
        others = sorted({int(k) for pair in ends.tolist() if n in pair for k in pair} - {n})
        if len(others) != 2:
            continue
        a, b = at[others]
        along = (b - a) / max(float(np.linalg.norm(b - a)), 1e-9)
        foot = a + ((at[n] - a) @ along) * along
        there = at.copy()
        there[n] = 2 * foot - at[n]
        apart = float(np.linalg.norm(there[n] - at[n]))
        if len(holes) > 3 and apart > SLIP_MM and np.abs(_misfit(there, ends, taped)).max() <= worst:
            one, other = (holes[k] for k in others)
            found.append(
                f"Hole {hole} hangs on two readings and fits as well {said.whole(apart)} away, across the line "
                f"from {one} to {other}. Tape it to a third hole."
            )
    return found


def _laid(at: Floats) -> Floats:
    at = at - at[0]
    turn = math.atan2(at[1, 1], at[1, 0])
    c, s = math.cos(turn), math.sin(turn)
    at = at @ np.array([[c, -s], [s, c]])
    side = next((y for y in at[2:, 1] if abs(y) > 1e-3), 0.0)
    return at * [1.0, -1.0 if side < 0 else 1.0]
