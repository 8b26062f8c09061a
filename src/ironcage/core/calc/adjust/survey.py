"""A survey of points by distances, heights and levels: where each stands, how sure that is, and which reading is wrong.

Least squares on the readings' own equations (Gauss and Newton, exact derivatives), each reading weighted by how
exactly it is read. What no reading tells stays where it was drawn: of all places that fit the readings equally well,
those with the least moves are taken (the generalised inverse; a free network in the sense of Meissl 1969). Each
reading is judged by what the others leave of it: its normalised residual (data snooping, Baarda 1968).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from ironcage.problem import Problem

Floats = NDArray[np.float64]
Kind = Literal["distance", "height", "level"]
SUSPECT = 3.29  # a normalised residual beyond it comes by chance once in a thousand readings
CHECKED = 0.01  # a reading with a smaller part left to the others is checked by nothing
SETTLED_MM = 1e-6  # each step is a thousandth of the one before or less: what is left to go is then under 1e-9
ROUNDS = 50
APART = "readings that contradict each other"  # where a survey that can't be adjusted is refused
LEAST_MM = 1e-6  # two points nearer than that have no direction between them
RANK = 1e-9  # a direction that the readings tell less of, against the one they tell most of, they do not tell at all
TOLD = 1e-4  # how much of a direction that nothing tells may be in a coordinate that is called told


@dataclass(frozen=True)
class Observed:
    """A reading between points by number. kind: the distance from a to b, mm; the height (z) of a, mm; the slope from
    a up to b, rad. sigma: how exactly it is read, in the same unit."""

    kind: Kind
    a: int
    b: int
    value: float
    sigma: float


@dataclass(frozen=True, eq=False)
class Judged:
    """What the adjustment leaves of each reading. residuals (m,): reading less adjusted; redundancy (m,): the part of
    an error in it that shows in its own residual, 0 to 1; normalised (m,): residual over its standard deviation, 0
    where nothing checks the reading; errors (m,): how wrong the reading would be if it alone were wrong."""

    residuals: Floats
    redundancy: Floats
    normalised: Floats
    errors: Floats

    @property
    def suspect(self) -> int | None:
        """The reading that is most likely wrong, by number; None where none stands out."""
        if not self.normalised.size:
            return None
        worst = int(np.abs(self.normalised).argmax())
        return worst if abs(self.normalised[worst]) > SUSPECT else None


@dataclass(frozen=True, eq=False)
class Adjusted:
    """Where the points are. places (n, 3) mm; covariance (n, 3, 3) mm², of what is told; told (n, 3): which coordinates
    the readings tell; group (n,): a number that points share which distances and levels tie together; judged; spare:
    readings beyond those that are needed; factor: the standard deviation of unit weight, 1 where the readings are as
    good as they are said to be, None with nothing to spare."""

    places: Floats
    covariance: Floats
    told: NDArray[np.bool_]
    group: NDArray[np.int32]
    judged: Judged
    spare: int
    factor: float | None


def adjusted(drawn: Floats, readings: Sequence[Observed], held: Sequence[tuple[int, int]] = ()) -> Adjusted:
    """Points (n, 3), mm, moved from where they are drawn so that the readings fit best.

    held: coordinates that stay, as point and axis. With none, the points are laid on the drawing as they fit it best,
    each group of points that readings tie together by itself.
    Raises Problem for a reading between points in one place, and for readings that contradict each other.
    """
    free = np.ones(drawn.size, dtype=bool)
    for point, axis in held:
        free[3 * point + axis] = False
    weights = np.array([1 / r.sigma for r in readings])
    places = drawn.astype(float).copy()
    for _ in range(ROUNDS):
        told, slopes = _predicted(places, readings)
        left = np.array([r.value for r in readings]) - told
        design = (slopes * weights[:, None])[:, free]
        # the whole move from the drawing, not the step, is kept least: so it does not matter by which way one came
        moved = (places - drawn).ravel()[free]
        u, sizes, rows = _decomposed(design)
        whole = rows.T @ ((u.T @ (left * weights + design @ moved)) / sizes)
        step = whole - moved
        places = drawn + _spread(whole, free).reshape(-1, 3)
        if np.abs(step).max(initial=0.0) < SETTLED_MM:
            break
    else:
        raise Problem(
            "The readings contradict each other.", where=APART, hint="Look for one that is far from the drawing."
        )
    left = misfits(places, readings)
    cofactors = np.zeros((drawn.size, drawn.size))
    cofactors[np.ix_(free, free)] = (rows.T / sizes**2) @ rows
    blocks = cofactors.reshape(len(drawn), 3, len(drawn), 3)
    spare = len(readings) - len(sizes)
    group = _tied(len(drawn), readings)
    factor = float(np.sqrt((left * weights) @ (left * weights) / spare)) if spare > 0 else None
    return Adjusted(
        places,
        np.einsum("ijik->ijk", blocks).copy(),
        _told(rows, free, [] if held else [_rigid(places, group == g) for g in np.unique(group)]),
        group,
        _judged(left * weights, u, weights),
        spare,
        factor,
    )


def misfits(places: Floats, readings: Sequence[Observed]) -> Floats:
    """How far each reading (m,) is from what it would be with the points at some places, in its own unit."""
    return np.array([r.value for r in readings]) - _predicted(places, readings)[0]


def _decomposed(design: Floats) -> tuple[Floats, Floats, Floats]:
    """What the readings tell of the free coordinates: the singular parts of a weighted design that are not nothing."""
    u, sizes, rows = np.linalg.svd(design, full_matrices=False)
    kept = sizes > RANK * max(float(sizes.max(initial=0.0)), 1e-300)
    return u[:, kept], sizes[kept], rows[kept]


def _spread(values: Floats, free: NDArray[np.bool_]) -> Floats:
    whole = np.zeros(free.size)
    whole[free] = values
    return whole


def _predicted(places: Floats, readings: Sequence[Observed]) -> tuple[Floats, Floats]:
    """What each reading would be (m,), and how it changes with each coordinate (m, 3n)."""
    row = np.arange(len(readings))
    a, b = (np.array([getattr(r, end) for r in readings], dtype=int) for end in ("a", "b"))
    kinds = np.array([r.kind for r in readings], dtype="U8")
    high, level = kinds == "height", kinds == "level"
    way = places[b] - places[a]
    size, run = np.linalg.norm(way, axis=1), np.hypot(way[:, 0], way[:, 1])
    if (~high & ((size < LEAST_MM) | (level & (run < LEAST_MM)))).any():
        raise Problem("Two points of a reading stand in one place, or one over the other.", where="readings")
    told = np.where(high, places[a, 2], np.where(level, np.arctan2(way[:, 2], run), size))
    size, run = np.where(high, 1.0, size), np.where(level, run, 1.0)
    along = way / size[:, None]
    up = np.stack([-way[:, 2] * way[:, 0] / run, -way[:, 2] * way[:, 1] / run, run], axis=1) / (size**2)[:, None]
    turn = np.where(level[:, None], up, along)
    slopes = np.zeros((len(readings), places.size))
    for axis in range(3):
        slopes[row, 3 * b + axis] = turn[:, axis]
        slopes[row, 3 * a + axis] = np.where(high, float(axis == 2), -turn[:, axis])
    return told, slopes


def _judged(weighted: Floats, u: Floats, weights: Floats) -> Judged:
    """weighted (m,): residuals over how exactly each is read; u (m, k): what of the readings the points took up."""
    redundancy = np.clip(1.0 - (u * u).sum(axis=1), 0.0, 1.0)
    checked = redundancy > CHECKED
    root = np.sqrt(np.where(checked, redundancy, 1.0))
    return Judged(
        weighted / weights,
        redundancy,
        np.where(checked, weighted / root, 0.0),
        np.where(checked, weighted / np.where(checked, redundancy, 1.0), 0.0) / weights,
    )


def _tied(count: int, readings: Sequence[Observed]) -> NDArray[np.int32]:
    """A number for each point, the same for points that distances and levels tie together."""
    ties = np.array([(r.a, r.b) for r in readings if r.kind != "height"], dtype=int).reshape(-1, 2)
    links = coo_array((np.ones(len(ties)), (ties[:, 0], ties[:, 1])), shape=(count, count))
    _, group = connected_components(links, directed=False)
    return group


def _told(rows: Floats, free: NDArray[np.bool_], unmeant: Sequence[Floats]) -> NDArray[np.bool_]:
    """Which coordinates (n, 3) the readings tell, held ones among them: those that a reading changes with, and with
    nothing in them of the directions that no reading tells. unmeant, each (3n, k): directions that no reading need
    tell, for they are laid on the drawing."""
    known = rows.T
    felt = (known * known).sum(axis=1) > TOLD**2
    if unmeant:
        further = np.hstack(unmeant)[free]
        new, sizes, _ = np.linalg.svd(further - known @ (known.T @ further), full_matrices=False)
        known = np.hstack([known, new[:, sizes > TOLD]])
    inside = (known * known).sum(axis=1)
    return (np.where(free, _spread(inside * felt, free), 1.0) > 1 - TOLD**2).reshape(-1, 3)


def _rigid(places: Floats, of: NDArray[np.bool_]) -> Floats:
    """How every coordinate (3n, 6) goes when some of the points are moved together along x, y, z and turned about
    them, each column of unit size or nothing."""
    middle = places - places[of].mean(axis=0)
    moves = [np.tile(axis, len(places)).astype(float) for axis in np.eye(3)]
    turns = [np.cross(axis, middle).ravel() for axis in np.eye(3)]
    motions = np.stack([*moves, *turns], axis=1) * np.repeat(of, 3)[:, None]
    size = np.linalg.norm(motions, axis=0)
    return motions / np.where(size > 1e-6, size, np.inf)
