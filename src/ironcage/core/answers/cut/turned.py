"""What is turned on the lathe: bushes, spacers and adapters that were typed, and the stepped inserts and crush tubes of
the fittings, the threaded inserts of links with rod ends, equal ones gathered into one batch."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from ironcage.core.answers.run import RodEndInserts, rod_end_inserts
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.tubes.fits import Limits, bore_limits, shaft_limits
from ironcage.core.job.values.cutting import WORKS
from ironcage.core.job.values.fittings import CrushTube, Insert
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import HUNG
from ironcage.problem import Problem
from ironcage.units import said

PART_OFF_MM = 4.0  # of stock, for each: the tool that parts it off, and a face
HOW = (
    "Fits are of ISO 286 on the hole basis: into a bore that is reamed to H7. Each takes its length of stock and a "
    "little to face and part off; how long one takes is a stated figure until you type your own: piece minutes turn 15."
)
SAME_MM = 0.005  # sizes that differ by less are one size


@dataclass(frozen=True)
class TurnedRow:
    """A batch of equal parts. name, what; count: for one car; od, bore, length: mm; od_limits, bore_limits: where a fit
    is asked for; step: the outside of its second half and how long that is, mm, or None; material; of: the fittings
    or the wheel that they are for; cars: for how many; problem: why one can't be made."""

    name: str
    what: str
    count: int
    od: float
    bore: float
    length: float
    od_limits: Limits | None
    bore_limits: Limits | None
    step: tuple[float, float] | None
    material: str
    of: tuple[str, ...]
    cars: int
    problem: str = ""

    @property
    def stock(self) -> float:
        """Length of bar for all of them, mm."""
        return self.count * self.cars * (self.length + PART_OFF_MM)


@dataclass(frozen=True)
class TurnedAnswer:
    """All batches; minutes: that one part takes; hours: of all."""

    rows: tuple[TurnedRow, ...]
    minutes: float
    hours: float


TURNED_OF = (*HUNG, "wheels", "parts", "people", "masses", "brief", "shafts", "chains")  # besides what is cut


@remembered("tubes", "joints", "shelf", "fittings", "cutting", "buying", *TURNED_OF)
def find_turned(job: Job) -> TurnedAnswer:
    """Every batch, what was typed first."""
    rows = [_typed(job, n) for n in range(len(job.cutting.turned))]
    batches: dict[tuple[object, ...], TurnedRow] = {}
    for f in job.fittings:
        if isinstance(f, CrushTube) and f.shape == "round":
            length = min(job.section(job.tube_by_id[f.tube].section).shape.size)
            made = _of_fitting(job, f.tube, f"{f.kind}s", f.id, f.count, f.od, f.bore, length, None)
        elif isinstance(f, Insert) and f.od2:
            length = 2 * f.depth + f.gap
            made = _of_fitting(
                job, f.tube, "stepped inserts", f.id, 1, f.od, f.od - 2 * f.wall, length, (f.od2, f.depth + f.gap / 2)
            )
        else:
            continue
        key = (made.what, *(round(v / SAME_MM) for v in (made.od, made.bore, made.length)), made.step, made.material)
        old = batches.get(key)
        if old:
            made = TurnedRow(**{**made.__dict__, "count": old.count + made.count, "of": (*old.of, *made.of)})
        batches[key] = made
    every = (*rows, *batches.values(), *map(partial(_of_rod_ends, job), rod_end_inserts(job)))
    own = {t.work: t.minutes for t in job.cutting.minutes}
    minutes = own.get("turn", WORKS["turn"])
    return TurnedAnswer(every, minutes, sum(r.count * r.cars for r in every if not r.problem) * minutes / 60)


def _typed(job: Job, n: int) -> TurnedRow:
    part = job.cutting.turned[n]
    od = bore = None
    problem = ""
    try:
        od = shaft_limits(part.od, part.od_fit) if part.od_fit else None
        bore = bore_limits(part.bore) if part.reamed else None
    except Problem as refused:
        problem = refused.sentence
    step = (part.step_od, part.step_length) if part.step_od else None
    return TurnedRow(
        part.name,
        part.kind,
        part.count,
        part.od,
        part.bore,
        part.length,
        od,
        bore,
        step,
        part.material,
        (),
        job.buying.cars,
        problem,
    )


def _of_rod_ends(job: Job, of: RodEndInserts) -> TurnedRow:
    """The inserts that the rod ends of an end are screwed into, their shoulders against the tubes' ends."""
    name = f"{of.axle} rod-end inserts, thread {said.size(of.thread)}"
    step = (of.shoulder, of.lip) if of.lip else None
    return TurnedRow(
        name, "inserts", of.count, of.od, 0.0, of.length, None, None, step, "", (of.wheel,), job.buying.cars
    )


def _of_fitting(
    job: Job,
    tube: str,
    what: str,
    of: str,
    count: int,
    od: float,
    bore: float,
    length: float,
    step: tuple[float, float] | None,
) -> TurnedRow:
    material = job.tube_by_id[tube].material
    return TurnedRow(what, what, count, od, bore, length, None, None, step, material, (of,), job.buying.cars)
