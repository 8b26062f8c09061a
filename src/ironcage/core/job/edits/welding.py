"""How far the welding is: states of ends, what welds shrink by."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import Any, Literal

from ironcage.core.job.values.model import Job
from ironcage.core.job.values.welding import EndState, WallShrink, WeldState
from ironcage.problem import Problem, nearest


def set_welding(job: Job, **changes: Any) -> Job:
    """Change how it is welded: fields of `Welding`, mm and shares."""
    return job.but(welding=job.welding.but(**changes))


def ends_of(job: Job, chosen: Iterable[str]) -> tuple[tuple[str, str], ...]:
    """The ends, as tube and joint, that chosen tubes and joints name: both of a tube alone, all at a joint alone, and
    with both chosen those of the tubes at the joints. Refuses none."""
    names = list(chosen)
    tubes = [n for n in names if n in job.tube_by_id]
    joints = [n for n in names if n in job.joint_by_id]
    if tubes:
        found = [(t, j) for t in tubes for j in job.tube_by_id[t].ends if not joints or j in joints]
    else:
        found = [(t.id, j) for j in joints for t in job.tubes_at.get(j, ())]
    if not found:
        raise Problem(
            "This needs a tube's end, and none is chosen.",
            hint="Choose a tube, or a joint for all ends there, or name them: welded T12L J3L",
        )
    return tuple(dict.fromkeys(found))


def set_ends(job: Job, ends: Iterable[tuple[str, str]], state: WeldState | Literal["open"], day: date) -> Job:
    """Say how far ends are, given as tube and joint, since a day. Refuses ends that are not there."""
    wanted = tuple(ends)
    for tube, joint in wanted:
        if joint not in job.tube(tube).ends:
            raise Problem(
                f"{tube} has no end at {joint}.",
                where=tube,
                hint=f"It goes from {job.tube(tube).a} to {job.tube(tube).b}.",
            )
    kept = tuple(e for e in job.welding.ends if (e.tube, e.joint) not in set(wanted))
    made = () if state == "open" else tuple(EndState(tube=t, joint=j, state=state, when=day) for t, j in wanted)
    return set_welding(job, ends=(*kept, *made))


def put_shrink(job: Job, made: WallShrink) -> Job:
    """Note how much a process shrinks a wall, in place of what was noted for it."""
    kept = tuple(s for s in job.welding.shrinks if (s.process.lower(), s.wall) != (made.process.lower(), made.wall))
    return set_welding(job, shrinks=(*kept, made))


def set_process(job: Job, process: str) -> Job:
    """How it is welded. Refuses a process of which no shrinkage is known."""
    known = {s.process.lower(): s.process for s in job.welding.shrinks}
    if process.lower() not in known:
        raise Problem(
            f"How much {process} shrinks is not known.",
            where=process,
            hint=nearest(process.lower(), known) or "Type it first: weld shrink stick wall 3 0.6",
        )
    return set_welding(job, process=known[process.lower()])
