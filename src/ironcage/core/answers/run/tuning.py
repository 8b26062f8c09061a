"""Points of a corner on wishbones moved within boxes so that its figures keep their bands.

Least squares over the travel, straight ahead: how far each banded figure is outside of its band, and, lightly, how far
each point is moved, so that of many ways the one that moves least is taken (`scipy.optimize.least_squares`, bounded).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.bands import Kept, kept_bands, off_band
from ironcage.core.answers.run.corner import AxleRun, run_of
from ironcage.core.answers.run.effects import CornerPoint, points_of
from ironcage.core.answers.run.figures import CORNER, Figure
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.linkage.wishbone import DoubleWishbone, curves, poses
from ironcage.core.job import edits
from ironcage.core.job.values.bands import Band, Dimension
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle
from ironcage.problem import Problem, nearest

TRAVELS = 17  # of the whole travel, at which the figures are looked at
ROUNDS = 30  # of least squares
PLACES = 1  # of a millimetre, to which points are put
COUNTS: Mapping[Dimension, float] = {"angle": 0.002, "length": 1.0, "share": 0.02, "ratio": 0.01}  # each as much as one
INSIDE = 0.1  # of what counts as one, that a figure is brought inside of its band
MOVING = 0.02  # what moving a point to the end of its box counts beside one
LOST = 50.0  # what each figure counts where the links do not reach


@dataclass(frozen=True)
class Move:
    """A point and how far it goes, (3,) mm; joint: that it is, if any."""

    point: str
    joint: str
    by: tuple[float, float, float]


@dataclass(frozen=True)
class Tuned:
    """The job with the points moved; moves: those that are; before, after: the bands of the end."""

    job: Job
    moves: tuple[Move, ...]
    before: tuple[Kept, ...]
    after: tuple[Kept, ...]


def tune(job: Job, axle: Axle, names: Sequence[str], box_mm: float, say: Callable[[float], None]) -> Tuned:
    """Move points of a corner, by their words, by at most `box_mm` along each axis; say: takes the share that is done,
    and may raise to stop. Joints of the frame move with their twins and with what is built on them. Raises Problem for
    an end without wishbones or without bands that points can meet, and for points that it does not have."""
    from scipy.optimize import least_squares  # slow to import, and needed here alone

    run = run_of(job, axle)
    wanted = _bands(job, run)
    if not box_mm > 0:
        raise Problem("Points that may move by nothing stay where they are.", where="box", hint="Type for example: 10")
    handles = _handles(run, names)
    reach = np.full(3 * len(handles), float(box_mm))
    cost = _Cost(run, wanted, handles, say)
    found = least_squares(cost, np.zeros(len(reach)), bounds=(-reach, reach), x_scale=reach, max_nfev=ROUNDS)
    made = np.round(found.x.reshape(-1, 3), PLACES)
    moved = _applied(job, axle, handles, made)
    moves = tuple(
        Move(points[0].words, points[0].joint, (float(by[0]), float(by[1]), float(by[2])))
        for points, by in zip(handles, made, strict=True)
        if by.any()
    )
    return Tuned(moved, moves, _of_end(job, axle), _of_end(moved, axle))


def _of_end(job: Job, axle: Axle) -> tuple[Kept, ...]:
    return tuple(k for k in kept_bands(job) if k.band.axle == axle)


def _bands(job: Job, run: AxleRun) -> list[tuple[Figure, Band]]:
    """The bands of figures that points move, as spring rates do not."""
    figures = {f.name: f for f in CORNER}
    found = [(figures[b.figure], b) for b in job.bands if b.axle == run.hung.axle and b.figure in figures]
    if not found:
        raise Problem(
            f"No figure of the {run.hung.axle} wheels has a band that points could meet.",
            where="band",
            hint=f"Type for example: band {run.hung.axle} camber -2 to 0.5",
        )
    return found


def _handles(run: AxleRun, names: Sequence[str]) -> list[list[CornerPoint]]:
    """The points to move; those that are one joint of the frame move as one."""
    known = {p.words: p for p in points_of(run.hung)}
    made: dict[str, list[CornerPoint]] = {}
    for name in dict.fromkeys(names):
        point = known.get(name)
        if point is None:
            raise Problem(
                f"A corner on wishbones has no point called ‘{name}’.",
                where=name,
                hint=nearest(name, known) or f"It has {'; '.join(known)}.",
            )
        same = [p for p in known.values() if p.joint == point.joint] if point.joint else [point]
        made[point.joint or point.words] = same
    if not made:
        raise Problem("No point that may move is picked.", where="points", hint="Pick some in the list of effects.")
    return list(made.values())


class _Cost:
    """What least squares makes small, from how far the points are moved (3 n,), mm."""

    def __init__(
        self,
        run: AxleRun,
        wanted: list[tuple[Figure, Band]],
        handles: list[list[CornerPoint]],
        say: Callable[[float], None],
    ) -> None:
        self.run, self.wanted, self.handles, self.say = run, wanted, handles, say
        rows = np.unique(np.linspace(0, len(run.found.travel) - 1, TRAVELS).round().astype(int))
        self.travel = run.found.travel[rows]
        self.asked, self.most = 0, ROUNDS * (3 * len(handles) + 1)

    def __call__(self, by: Floats) -> Floats:
        self.asked += 1
        self.say(min(self.asked / self.most, 1.0))
        corner: DoubleWishbone = self.run.corner
        for points, step in zip(self.handles, by.reshape(-1, 3), strict=True):
            for point in points:
                corner = point.moved(corner, step)
        try:
            told = curves(poses(corner, self.travel, np.zeros(1)), self.run.lever)
            values = [figure.value(told)[:, 0] for figure, _ in self.wanted]
        except np.linalg.LinAlgError:
            values = [np.full(len(self.travel), np.nan) for _ in self.wanted]
        parts = [self._off(band, figure, over) for (figure, band), over in zip(self.wanted, values, strict=True)]
        moved = [MOVING * by / np.sqrt(len(by))]
        return np.concatenate([p / np.sqrt(len(self.travel)) for p in parts] + moved)

    def _off(self, band: Band, figure: Figure, values: Floats) -> Floats:
        """How far a figure is outside of its band, narrowed a little, in what counts as one."""
        one = COUNTS[figure.dimension]
        within = INSIDE * one
        if band.least is not None and band.most is not None:
            within = min(within, (band.most - band.least) / 4)
        least, most = (None if v is None else v + way * within for v, way in ((band.least, 1.0), (band.most, -1.0)))
        off = off_band(band.but(least=least, most=most), values) / one
        off = np.where((self.travel >= band.start) & (self.travel <= band.stop), off, 0.0)
        return np.where(np.isfinite(values), off, LOST)


def _applied(job: Job, axle: Axle, handles: list[list[CornerPoint]], made: Floats) -> Job:
    """The job with its points moved; the joints first, for outer points are typed in the car's axes."""
    hung = edits.find_wishbones(job, axle)
    for points, by in zip(handles, made, strict=True):
        point = points[0]
        if not by.any():
            continue
        if point.joint:
            job = edits.move(job, [point.joint], *(float(v) for v in by))
        else:
            place = np.array(getattr(hung, point.name)) + by
            job = edits.set_wishbones(job, axle, **{point.name: tuple(round(float(v), 4) for v in place)})
    return job
