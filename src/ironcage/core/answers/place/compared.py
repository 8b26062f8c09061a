"""People compared: several statures in every seat, in the job as it is and in each variant that is kept beside it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ironcage.core.answers.place.people import PersonAnswer, seat_people
from ironcage.core.job.edits.placed import with_stature
from ironcage.core.job.values.model import Job

MOST_STATURES = 12
NOW = "as it is"


@dataclass(frozen=True)
class Compared:
    """Somebody of a stature (mm) in a seat. state: the variant, or NOW; seat: the name of the person whose it is;
    told: what is told of a person who sits there."""

    state: str
    seat: str
    stature: float
    told: PersonAnswer

    @property
    def room(self) -> float | None:
        """The least room round them, mm, of those readings that are lengths; None where none can be told."""
        known = [r.value for r in self.told.readings if r.value is not None and r.quantity.name == "length"]
        return min(known, default=None)


def compare_people(job: Job, statures: Sequence[float]) -> tuple[Compared, ...]:
    """Everybody aboard, each as tall as every one of some statures (mm), their own limbs in proportion, in the job and
    in its variants. Raises Problem for a stature beyond the tables."""
    return tuple(_compared(job, statures))


def _compared(job: Job, statures: Sequence[float]) -> Iterator[Compared]:
    states = ((NOW, job), *((v.name, v.job) for v in job.variants))
    for state, kept in states:
        aboard = [p for p in kept.people if p.aboard]
        tried = [with_stature(p, mm) for p in aboard for mm in statures[:MOST_STATURES]]
        for person, told in zip(tried, seat_people(kept, tried), strict=True):
            yield Compared(state, person.name, person.limbs.stature, told)
