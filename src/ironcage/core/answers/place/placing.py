"""Place: where everything heavy or fixed is, who fits, what clashes, how the car stands."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from ironcage.core.answers.place import clashes, compared, drives, mends, people, sectionlines
from ironcage.core.answers.shared import fittings
from ironcage.core.answers.shared.mass import MassAnswer, StanceAnswer, stance, weigh
from ironcage.core.answers.shared.patterns import AdapterAnswer, PatternAnswer, adapters, flat_patterns
from ironcage.core.job.values.model import Job

if TYPE_CHECKING:
    from ironcage.core.answers.shared.fitted.shop import Fitted


@dataclass(frozen=True)
class PlaceAnswer:
    """Everything that Place shows. mended: what clears the clash that is picked, where one is;
    compared: people of the statures that were asked for."""

    weighed: MassAnswer
    stance: StanceAnswer | None
    clashes: clashes.ClashAnswer
    people: tuple[people.PersonAnswer, ...]
    chains: tuple[drives.ChainAnswer, ...]
    shafts: tuple[drives.ShaftAnswer, ...]
    patterns: tuple[PatternAnswer, ...]
    adapters: tuple[AdapterAnswer, ...]
    sheet: tuple[Fitted, ...]
    lines: tuple[sectionlines.LineAnswer, ...]
    mended: mends.Mended | None = None
    compared: tuple[compared.Compared, ...] = ()


def answer(job: Job, picked: tuple[str, str] | None = None, statures: tuple[float, ...] = ()) -> PlaceAnswer:
    """The whole of Place, what clears the clash of the two things that are picked, and people of some statures (mm)."""
    made_chains, made_shafts = drives.find_drives(job)
    return PlaceAnswer(
        weigh(job),
        stance(job),
        clashes.find_clashes(job),
        people.people_seated(job),
        made_chains,
        made_shafts,
        flat_patterns(job),
        adapters(job),
        fittings.fitting_facts(job),
        sectionlines.section_lines(job),
        mends.mend_pair(job, *picked) if picked else None,
        compared.compare_people(job, statures) if statures else (),
    )
