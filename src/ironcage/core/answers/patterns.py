"""Bolt patterns laid flat: where each hole goes, and how far each taped distance is off."""

from dataclasses import dataclass

from ironcage.core.answers.cache import remembered
from ironcage.core.calc.bolts import Fitted, fit_pattern
from ironcage.core.job.model import Job


@dataclass(frozen=True)
class PatternAnswer:
    """A pattern: its fit, hole diameter (mm), and hole numbers in the order of the fit's places."""

    id: str
    name: str
    diameter: float
    holes: tuple[int, ...]
    fitted: Fitted


@remembered("patterns")
def answer(job: Job) -> tuple[PatternAnswer, ...]:
    """Every pattern."""
    made = []
    for p in job.patterns:
        taped = {(t.a, t.b): t.distance for t in p.taped}
        holes = tuple(sorted({h for pair in taped for h in pair}))
        made.append(PatternAnswer(p.id, p.name, p.diameter, holes, fit_pattern(taped)))
    return tuple(made)
