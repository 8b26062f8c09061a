"""How far the welding is: every end of every tube that is built, and how many of them are welded."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.job.geometry.flanges import flanges
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.welding import WeldState

STATES: tuple[Literal["open", "tacked", "welded", "checked"], ...] = ("open", "tacked", "welded", "checked")
DONE: tuple[WeldState, ...] = ("welded", "checked")


@dataclass(frozen=True)
class TubeEnd:
    """An end of a tube at a joint, its state and since when."""

    tube: str
    joint: str
    state: Literal["open", "tacked", "welded", "checked"]
    when: date | None = None

    @property
    def done(self) -> bool:
        """Whether it is welded, looked at or not."""
        return self.state in DONE


@remembered("tubes", "fittings", "welding")
def tube_ends(job: Job) -> tuple[TubeEnd, ...]:
    """Every end of every tube but those of a donor and those that are bolted on, in the tubes' order."""
    bolted = flanges(job)
    known = {(e.tube, e.joint): e for e in job.welding.ends}
    made = []
    for t in job.tubes:
        for joint in () if t.donor else (e for e in t.ends if (t.id, e) not in bolted):
            e = known.get((t.id, joint))
            made.append(TubeEnd(t.id, joint, e.state, e.when) if e else TubeEnd(t.id, joint, "open"))
    return tuple(made)


def welded_share(job: Job) -> float | None:
    """The share of ends that are welded; None before the first end was tacked."""
    ends = tube_ends(job)
    if all(e.state == "open" for e in ends):
        return None
    return sum(e.done for e in ends) / len(ends)
