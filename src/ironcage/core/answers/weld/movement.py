"""Where joints go as the ends that are left are welded: two orders side by side, and which weld comes next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.weld.states import DONE, TubeEnd, tube_ends
from ironcage.core.calc.frames.beams import Floats, Frame
from ironcage.core.calc.welding.forecast import EndWeld, Forecast, balanced, forecast
from ironcage.core.calc.welding.shrink import Shrinkage
from ironcage.core.job.geometry.routes import end_axes
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

REST = 2  # welds between two at the same joint, where another can be taken
ASSUMED = (
    "Each weld goes all round and shortens its tube's end by what is typed for its wall; what is still open is tacked "
    "first. Welded ends are rigid, tacked ones carry the share of bending that is typed, stands hold their "
    "joints in place until they let go after the last weld.",
    "It is a forecast to compare orders with: heat, gaps and fit-up are not in it, and each weld may be off by the "
    "spread that is typed.",
)


@dataclass(frozen=True)
class WeldStep:
    """A weld in its order. worst: how far the watched joint that is off most then is, mm, and which; off: how far its
    own joint is."""

    tube: str
    joint: str
    worst: float
    worst_joint: str
    off: float


@dataclass(frozen=True)
class WeldOrder:
    """An order of welds. worst: the furthest that a watched joint is off at any time; left: how far each watched joint
    is off once the stands have let go, the furthest first, mm."""

    name: str
    steps: tuple[WeldStep, ...]
    worst: float
    left: tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class WeldAnswer:
    """ends: every end; orders: those compared, the one that keeps watched joints nearest first; watched: pickups, or
    all joints where there is none. No orders where all is welded."""

    ends: tuple[TubeEnd, ...]
    orders: tuple[WeldOrder, ...]
    watched: tuple[str, ...]

    @property
    def next(self) -> WeldStep | None:
        """The weld to lay next."""
        return self.orders[0].steps[0] if self.orders else None


@dataclass(frozen=True, eq=False)
class LeftToWeld:
    """A frame in the midst of its welding, for the forecast. rigid (tubes, 2): ends that are welded; welds: what is
    left, in the order of the tubes; held: joints on stands, rows: those watched, by number."""

    frame: Frame
    rigid: NDArray[np.bool_]
    welds: tuple[EndWeld, ...]
    held: tuple[int, ...]
    rows: tuple[int, ...]


def left_to_weld(job: Job, watched: Sequence[str] = ()) -> LeftToWeld:
    """The frame as it stands between the welds that are laid and those that are left."""
    left = [e for e in tube_ends(job) if not e.done]
    index = {j.id: n for n, j in enumerate(job.joints)}
    beams = {t.id: n for n, t in enumerate(job.tubes)}
    rigid = np.ones((len(job.tubes), 2), dtype=bool)
    for e in left:
        rigid[beams[e.tube], job.tube_by_id[e.tube].ends.index(e.joint)] = False
    return LeftToWeld(
        beam_frame(job),
        rigid,
        tuple(_welds(job, left, beams)),
        tuple(index[s] for s in job.table.stands if s in job.tubes_at),
        tuple(index[w] for w in watched),
    )


@remembered("joints", "tubes", "shelf", "fittings", "parts", "proving", "welding", "table", "pickups")
def weld_answer(job: Job) -> WeldAnswer:
    """How far it is welded, and what the welds that are left will do. Raises Problem for a frame that is in pieces or
    can move, and for one with no tubes to weld."""
    ends = tube_ends(job)
    if not ends:
        raise Problem("There is nothing to weld.", where="tubes", hint="Join joints with tubes in Frame first.")
    watched = tuple(dict.fromkeys(p.joint for p in job.pickups if p.joint in job.tubes_at)) or tuple(job.tubes_at)
    left = [e for e in ends if not e.done]
    if not left:
        return WeldAnswer(ends, (), watched)
    now, tack = left_to_weld(job, watched), job.welding.tack
    along = sorted(range(len(left)), key=lambda n: _along(job, left[n]))
    orders = {
        "balanced": balanced(now.frame, now.rigid, now.welds, tack, now.held, now.rows, REST, _last_at(job)),
        "nose to tail": tuple(now.welds[n] for n in along),
    }
    told = [
        _told(name, job, forecast(now.frame, now.rigid, order, tack, now.held), now.rows, watched)
        for name, order in orders.items()
    ]
    return WeldAnswer(ends, tuple(sorted(told, key=lambda o: o.worst)), watched)


def _last_at(job: Job) -> list[int]:
    """The joints of the welds that were laid last, by number, the last one last."""
    index = {j.id: n for n, j in enumerate(job.joints)}
    laid = [e.joint for e in job.welding.ends if e.state in DONE and e.joint in index]
    return [index[joint] for joint in laid[-REST:]]


def _along(job: Job, end: TubeEnd) -> tuple[float, float, str]:
    joint = job.joint_by_id[end.joint]
    return -joint.x, joint.z, f"{end.joint} {end.tube}"


def _welds(job: Job, left: Sequence[TubeEnd], beams: dict[str, int]) -> list[EndWeld]:
    axes, shapes = end_axes(job), {s.name: s.shape for s in job.shelf.sections}
    made = []
    for e in left:
        tube = job.tube_by_id[e.tube]
        wall = shapes[tube.taper if tube.taper and e.joint == tube.b else tube.section].wall_mm
        short = job.welding.shrink_of(wall)
        made.append(EndWeld(beams[e.tube], tube.ends.index(e.joint), Shrinkage(short, 0.0, 0.0), axes[e.tube, e.joint]))
    return made


def _told(name: str, job: Job, made: Forecast, rows: Sequence[int], watched: Sequence[str]) -> WeldOrder:
    off: Floats = np.linalg.norm(made.moves[:, rows, :3], axis=2)
    index = {j.id: n for n, j in enumerate(job.joints)}
    steps = []
    for n, weld in enumerate(made.order):
        tube = job.tubes[weld.beam]
        joint = tube.ends[weld.end]
        at = int(off[n].argmax())
        own = float(np.linalg.norm(made.moves[n, index[joint], :3]))
        steps.append(WeldStep(tube.id, joint, float(off[n, at]), watched[at], own))
    after = np.linalg.norm(made.free[rows, :3], axis=1)
    left = sorted(zip(watched, map(float, after), strict=True), key=lambda pair: -pair[1])
    return WeldOrder(name, tuple(steps), float(off.max()), tuple(left))
