"""What it takes to cut the pieces here: minutes by what is done to each end, hours and money."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from ironcage.core.answers.cut.pieces import answer
from ironcage.core.answers.cut.progress import progress
from ironcage.core.answers.cut.turned import find_turned
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.job.values.cutting import WORKS, Work
from ironcage.core.job.values.model import Job

WORDS: dict[Work, str] = {
    "piece": "saw off, deburr",
    "square": "square end",
    "flat": "end onto a flat side",
    "mitre": "mitre",
    "cope": "hole-saw cope",
    "several": "end to several tubes",
    "bend": "bend",
    "fold": "notch and fold",
    "turn": "turned part",
}
HOW = (
    "Minutes are a stated table until you type your own (‘piece minutes cope 9’); fetching, setting up and what goes "
    "wrong are not in it. Only pieces that are still to be cut are counted."
)


@dataclass(frozen=True)
class WorkTime:
    """One kind of work. count: how often it is done; minutes: each; own: whether the builder typed them."""

    work: Work
    count: int
    minutes: float
    own: bool

    @property
    def hours(self) -> float:
        """In all."""
        return self.count * self.minutes / 60


@dataclass(frozen=True)
class HereAnswer:
    """What is done here. hours: in all; money: what they cost, None where no rate is typed; pieces: to be cut."""

    works: tuple[WorkTime, ...]
    hours: float
    money: float | None
    pieces: int


@remembered("joints", "tubes", "shelf", "fittings", "cutting", "buying")
def cut_here(job: Job) -> HereAnswer:
    """Count what is done to the pieces that are still to be cut."""
    far, counts, pieces = progress(job), Counter[Work](), 0
    for p in answer(job).pieces:
        if far[p.id].done:
            continue
        pieces += 1
        counts["piece"] += 1
        for end in (p.first, p.second):
            counts["several" if end.trims else end.kind] += 1
        for bend in p.bends:
            counts["bend" if bend.radius else "fold"] += 1
    counts["turn"] += sum(r.count for r in find_turned(job).rows if not r.problem)
    own = {t.work: t.minutes for t in job.cutting.minutes}
    works = tuple(
        WorkTime(work, counts[work], own.get(work, usual), work in own)
        for work, usual in WORKS.items()
        if counts[work] or work in own
    )
    hours = sum(w.hours for w in works)
    return HereAnswer(works, hours, hours * job.cutting.rate if job.cutting.rate else None, pieces)
