"""Place: where everything heavy or fixed is, who fits, what clashes, how the car stands."""

from __future__ import annotations

from dataclasses import dataclass

from ironcage.core.answers.place import clashes, drives, patterns, people
from ironcage.core.answers.shared import fittings
from ironcage.core.answers.shared.mass import MassAnswer, StanceAnswer, stance, weigh
from ironcage.core.job.values.model import Job


@dataclass(frozen=True)
class PlaceAnswer:
    """Everything that Place shows."""

    weighed: MassAnswer
    stance: StanceAnswer | None
    clashes: clashes.ClashAnswer
    people: tuple[people.PersonAnswer, ...]
    chains: tuple[drives.ChainAnswer, ...]
    shafts: tuple[drives.ShaftAnswer, ...]
    patterns: tuple[patterns.PatternAnswer, ...]
    sheet: tuple[fittings.Fitted, ...]


def answer(job: Job) -> PlaceAnswer:
    """The whole of Place."""
    made_chains, made_shafts = drives.find_drives(job)
    return PlaceAnswer(
        weigh(job),
        stance(job),
        clashes.find_clashes(job),
        people.people_seated(job),
        made_chains,
        made_shafts,
        patterns.flat_patterns(job),
        fittings.fitting_facts(job),
    )
