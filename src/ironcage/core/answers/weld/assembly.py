"""In which order pieces can be put in: each after what its ends are cut against, by one straight slide."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ironcage.core.answers import cut
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.order.slides import order_in
from ironcage.core.calc.solids.convex import Solid, rod
from ironcage.core.job.geometry.routes import end_axes, route_of
from ironcage.core.job.values.model import Job, Tube
from ironcage.problem import Problem

LEAST_ANGLE = math.radians(20)  # of two tubes at a joint, to be cut back from each other: flatter ones run in line
MOST_CUT_BACK = 0.4  # of a tube's length, at either end
BEYOND_MM = 1.0
ASSUMED = (
    "Pieces slide in straight, in one of 34 directions, as rods that stop short of what they are cut against: what a "
    "saddle's lips reach past is taken to spring, and stands and the table are not looked at.",
    "Lower pieces come first where they may.",
)
WAYS = (  # how a direction is told, by its largest share
    ((0, 0, -1), "from above"),
    ((0, 0, 1), "from below"),
    ((-1, 0, 0), "from the front"),
    ((1, 0, 0), "from the rear"),
    ((0, -1, 0), "from the left"),
    ((0, 1, 0), "from the right"),
)


@dataclass(frozen=True)
class PutIn:
    """A piece to put in. way: from where it slides in, in words, '' where no straight slide brings it in; slide: the
    direction it moves in, a unit vector; after: the pieces that its ends are cut against."""

    piece: str
    tubes: tuple[str, ...]
    way: str
    slide: tuple[float, float, float] | None
    after: tuple[str, ...]


@dataclass(frozen=True)
class AssemblyAnswer:
    """steps: every piece, the first to be put in first; ring: pieces that are cut against each other in a ring."""

    steps: tuple[PutIn, ...]
    ring: tuple[str, ...]

    @property
    def stuck(self) -> tuple[str, ...]:
        """Pieces that no straight slide brings in."""
        return tuple(s.piece for s in self.steps if not s.way)


def put_in_order(job: Job, say: Callable[[float], None] = lambda share: None) -> AssemblyAnswer:
    """An order for every piece of the frame. say is told the share that is done, and may raise to stop. Raises Problem
    where nothing can be cut."""
    pieces = cut.answer(job).pieces
    if not pieces:
        raise Problem("There is no piece to put in.", where="tubes", hint="Join joints with tubes in Frame first.")
    number = {t: n for n, p in enumerate(pieces) for t in p.tubes}
    after = [
        frozenset(
            number[name]
            for end in (p.first, p.second)
            for name in ((end.onto, *end.trims) if end.kind in ("cope", "flat") else ())
            if name in number and not _meets_mirror(job, p, name)
        )
        - {n}
        for n, p in enumerate(pieces)
    ]
    backs = _cut_backs(job)
    solids = [_rods(job, p, backs) for p in pieces]
    low = [float(np.mean([s.points[:, 2].mean() for s in rods])) for rods in solids]
    made = order_in(solids, after, low, say)
    steps = []
    for n in made.order:
        way = made.ways[n]
        steps.append(
            PutIn(
                pieces[n].id,
                pieces[n].tubes,
                "" if way is None else _words(way),
                None if way is None else (float(way[0]), float(way[1]), float(way[2])),
                tuple(sorted(pieces[m].id for m in after[n])),
            )
        )
    return AssemblyAnswer(tuple(steps), tuple(pieces[n].id for n in made.circle))


def _meets_mirror(job: Job, piece: cut.Piece, name: str) -> bool:
    """Whether a tube is the mirror image of one of a piece: both are cut to the plane between them, and neither to the
    other."""
    twin = job.twin_tube(job.tube(name))
    return twin is not None and twin.id in piece.tubes


def _words(way: Floats) -> str:
    """From where something comes that moves along a direction: its two largest shares."""
    shares = sorted(((float(np.dot(way, unit)), words) for unit, words in WAYS), reverse=True)
    told = [words for share, words in shares[:2] if share > 0.35]
    return " and ".join([told[0], *(w.removeprefix("from ") for w in told[1:])])


def _cut_backs(job: Job) -> dict[tuple[str, str], float]:
    """How far each tube stops short of each of its joints, mm, so that it is clear of all that meets it there."""
    axes, made = end_axes(job), {}
    radius = {t.id: max(job.section(t.section).shape.size) / 2 for t in job.tubes}
    for joint, tubes in job.tubes_at.items():
        ways = {t.id: axes[t.id, joint][0] * (1 if t.a == joint else -1) for t in tubes}
        for t in tubes:
            far = 0.0
            for other in tubes:
                sine = float(np.linalg.norm(np.cross(ways[t.id], ways[other.id])))
                if other is not t and sine > math.sin(LEAST_ANGLE):
                    far = max(far, (radius[t.id] + radius[other.id] + BEYOND_MM) / sine)
            made[t.id, joint] = far
    return made


def _rods(job: Job, piece: cut.Piece, backs: dict[tuple[str, str], float]) -> list[Solid]:
    """A piece as rods, shorter at both of its ends."""
    made = []
    ends = {piece.first.joint, piece.second.joint}
    for name in piece.tubes:
        t = job.tube(name)
        line = np.array(route_of(job, t).line, dtype=float)
        line = _shortened(line, *(backs[t.id, j] if j in ends else 0.0 for j in t.ends))
        made += [rod(_radius(job, t), a, b) for a, b in pairwise(line)]
    return made


def _radius(job: Job, tube: Tube) -> float:
    return max(job.section(tube.section).shape.size) / 2


def _shortened(line: Floats, first: float, last: float) -> Floats:
    """A line (k, 3) without so much of its start and end, mm, of which MOST_CUT_BACK of its length stays at least."""
    steps = np.linalg.norm(np.diff(line, axis=0), axis=1)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    most = MOST_CUT_BACK * along[-1]
    start, stop = min(first, most), along[-1] - min(last, most)
    kept = along[(along > start) & (along < stop)]
    places = np.concatenate([[start], kept, [stop]])
    return np.stack([np.interp(places, along, line[:, k]) for k in range(3)], axis=1)
