"""Points of an end moved within boxes so that its figures keep their bands.

Least squares over the travel, straight ahead and level (of a beam that is steered, over its steering): how far each
banded figure is outside of its band, and, lightly, how far each point is moved, so that of many ways the one that
moves least is taken (`scipy.optimize.least_squares`, bounded).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.bands import Kept, end_runs, kept_bands, off_band
from ironcage.core.answers.run.figures import SPRINGS, Figure
from ironcage.core.answers.run.tunable import Handle, Tunable, tunable
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.values.bands import Band, Dimension
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle
from ironcage.problem import Problem, nearest

ROUNDS = 30  # of least squares
PLACES = 1  # of a millimetre, to which points are put
COUNTS: Mapping[Dimension, float] = {  # each as much as one
    **{"angle": 0.002, "length": 1.0, "share": 0.02, "fine share": 0.01, "ratio": 0.01, "circle": 100.0},
    **{"pitches": 0.05, "room": 1.0, "rate": 0.5, "frequency": 0.02, "force": 20.0},
}
INSIDE = 0.1  # of what counts as one, that a figure is brought inside of its band
MOVING = 0.02  # what moving a point to the end of its box counts beside one
LOST = 50.0  # what each figure counts where the links no longer reach


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
    """Move points of an end, by their words, by at most `box_mm` along each axis; say: takes the share that is done,
    and may raise to stop. Joints of the frame move with their twins and with what is built on them. Raises Problem for
    an end that hangs on nothing or is without bands that points can meet, and for points that it does not have."""
    from scipy.optimize import least_squares  # slow to import, and needed here alone

    run = end_runs(job).get(axle)
    if run is None:
        raise Problem(f"The {axle} wheels hang on nothing yet.", where=axle, hint="Hang them first: Run, Hang.")
    of = tunable(job, run)
    wanted = _bands(job, of)
    if not box_mm > 0:
        raise Problem("Points that may move by nothing stay where they are.", where="box", hint="Type for example: 10")
    handles = _handles(of, names)
    reach = np.full(3 * len(handles), float(box_mm))
    cost = _Cost(of, wanted, handles, float(box_mm), say)
    found = least_squares(cost, np.zeros(len(reach)), bounds=(-reach, reach), x_scale=reach, max_nfev=ROUNDS)
    made = np.round(found.x.reshape(-1, 3), PLACES)
    moved = of.moved(list(zip(handles, made, strict=True)))
    moves = tuple(
        Move(handle.words, handle.joint, (float(by[0]), float(by[1]), float(by[2])))
        for handle, by in zip(handles, made, strict=True)
        if by.any()
    )
    return Tuned(moved, moves, _of_end(job, axle), _of_end(moved, axle))


def _of_end(job: Job, axle: Axle) -> tuple[Kept, ...]:
    return tuple(k for k in kept_bands(job) if k.band.axle == axle)


def _bands(job: Job, of: Tunable) -> list[tuple[Figure, Band]]:
    """The bands of figures that points move."""
    figures = {f.name: f for f in (*of.figures, *SPRINGS)}
    found = [(figures[b.figure], b) for b in job.bands if b.axle == of.axle and b.figure in figures]
    if not found:
        raise Problem(
            f"No figure of the {of.axle} wheels has a band that points could meet.",
            where="band",
            hint=f"Type for example: band {of.axle} {next(iter(figures))} -2 to 0.5",
        )
    return found


def _handles(of: Tunable, names: Sequence[str]) -> list[Handle]:
    """The points to move; those that are one joint of the frame move as one."""
    known = {handle.words: handle for handle in of.handles}
    made: dict[str, Handle] = {}
    for name in dict.fromkeys(names):
        handle = known.get(name)
        if handle is None:
            raise Problem(
                f"The {of.axle} end has no point called ‘{name}’.",
                where=name,
                hint=nearest(name, known) or f"It has {'; '.join(known)}.",
            )
        made.setdefault(handle.joint or handle.words, handle)
    if not made:
        raise Problem("No point that may move is picked.", where="points", hint="Pick some in the list of effects.")
    return list(made.values())


class _Cost:
    """What least squares makes small, from how far the points are moved (3 n,), mm."""

    def __init__(
        self,
        of: Tunable,
        wanted: list[tuple[Figure, Band]],
        handles: list[Handle],
        box: float,
        say: Callable[[float], None],
    ) -> None:
        self.of, self.wanted, self.handles, self.box, self.say = of, wanted, handles, box, say
        self.asked, self.most = 0, ROUNDS * (3 * len(handles) + 1)
        self.known = [np.isfinite(over) for over in of.told([figure for figure, _ in wanted], [])]

    def __call__(self, by: Floats) -> Floats:
        self.asked += 1
        self.say(min(self.asked / self.most, 1.0))
        figures = [figure for figure, _ in self.wanted]
        try:
            values = self.of.told(figures, list(zip(self.handles, by.reshape(-1, 3), strict=True)))
        except (np.linalg.LinAlgError, Problem):
            values = [np.full(len(self.of.looked_at(figure)), np.nan) for figure in figures]
        parts = [
            np.where(np.isfinite(over), self._off(band, figure, over), np.where(known, LOST, 0.0))
            for (figure, band), over, known in zip(self.wanted, values, self.known, strict=True)
        ]
        moved = [MOVING * by / self.box / np.sqrt(len(by))]
        return np.concatenate([p / np.sqrt(len(p)) for p in parts] + moved)

    def _off(self, band: Band, figure: Figure, values: Floats) -> Floats:
        """How far a figure is outside of its band, narrowed a little, in what counts as one."""
        one, at = COUNTS[figure.dimension], self.of.looked_at(figure)
        within = INSIDE * one
        if band.least is not None and band.most is not None:
            within = min(within, (band.most - band.least) / 4)
        least, most = (None if v is None else v + way * within for v, way in ((band.least, 1.0), (band.most, -1.0)))
        off = off_band(band.but(least=least, most=most), values) / one
        along = any(at is travel for travel in (self.of.travel, self.of.sprung_at))
        return np.where((at >= band.start) & (at <= band.stop), off, 0.0) if along else off
