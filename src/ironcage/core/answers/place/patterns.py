"""Bolt patterns laid flat: where each hole goes, and how far each taped distance is off."""

from dataclasses import dataclass

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.plane.pattern import FittedPattern, fit_pattern
from ironcage.core.job.values.model import Job


@dataclass(frozen=True)
class PatternAnswer:
    """A pattern: its fit, and hole diameter (mm)."""

    id: str
    name: str
    diameter: float
    fitted: FittedPattern


@remembered("patterns")
def flat_patterns(job: Job) -> tuple[PatternAnswer, ...]:
    """Every pattern."""
    return tuple(PatternAnswer(p.id, p.name, p.diameter, fit_pattern(p.readings)) for p in job.patterns)
