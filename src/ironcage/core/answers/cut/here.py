"""What it takes to cut the pieces here: minutes by what is done to each end, hours and money. What a tube laser cuts is
told apart; its bends are made here."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from ironcage.core.answers.cut.markout import lengths
from ironcage.core.answers.cut.pieces import Piece, answer
from ironcage.core.answers.cut.progress import progress
from ironcage.core.answers.cut.turned import TURNED_OF, find_turned
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
    "wrong are not in it. Only pieces that are still to be cut are counted; of those for a tube laser (‘laser’) only "
    "their bends."
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
    """What is done here. hours: in all; money: what they cost, None where no rate is typed; pieces: to be cut here;
    lasered: to be cut by a tube laser; ordered_hours, ordered_money: what the pieces of an order would take here, which
    are those for the laser or, where there are none, all with their bends."""

    works: tuple[WorkTime, ...]
    hours: float
    money: float | None
    pieces: int
    lasered: int
    ordered_hours: float
    ordered_money: float | None


def ordered(job: Job) -> tuple[Piece, ...]:
    """The pieces that a shop is asked for: of those that are still to be cut the ones for a tube laser or, where there
    are none, all."""
    far = progress(job)
    still = tuple(p for p in answer(job).pieces if not far[p.id].done)
    return tuple(p for p in still if p.laser) or still


@remembered("joints", "tubes", "shelf", "fittings", "cutting", "buying", *TURNED_OF)
def cut_here(job: Job) -> HereAnswer:
    """Count what is done to the pieces that are still to be cut."""
    far = progress(job)
    still = [p for p in answer(job).pieces if not far[p.id].done]
    here, out = [p for p in still if not p.laser], [p for p in still if p.laser]
    counts = _cuts(job, here) + _bends(still)
    counts["turn"] = sum(r.count for r in find_turned(job).rows if not r.problem)
    own = {t.work: t.minutes for t in job.cutting.minutes}
    each = WORKS | own
    works = tuple(
        WorkTime(work, counts[work], each[work], work in own) for work in WORKS if counts[work] or work in own
    )
    hours = sum(w.hours for w in works)
    asked = _cuts(job, out) if out else _cuts(job, here) + _bends(here)
    ordered_hours = sum(each[work] * count for work, count in asked.items()) / 60
    rate = job.cutting.rate
    return HereAnswer(
        works,
        hours,
        hours * rate if rate else None,
        len(here),
        len(out),
        ordered_hours,
        ordered_hours * rate if rate else None,
    )


def _cuts(job: Job, pieces: Sequence[Piece]) -> Counter[Work]:
    """The sawing of pieces, by kind; where an insert joins two lengths both are cut square."""
    counts: Counter[Work] = Counter()
    counts["piece"] = sum(len(lengths(job, p)) for p in pieces)
    counts["square"] = 2 * (counts["piece"] - len(pieces))
    for p in pieces:
        counts.update("several" if end.trims else end.kind for end in (p.first, p.second))
    return counts


def _bends(pieces: Sequence[Piece]) -> Counter[Work]:
    """The bends and folds of pieces."""
    works: list[Work] = ["bend" if b.radius else "fold" for p in pieces for b in p.bends]
    return Counter(works)
