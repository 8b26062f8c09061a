"""Tally: the few figures that never leave the eye (`readout`), and two jobs side by side (`compare`)."""

from ironcage.core.answers.tally.compare import SAME_MM, compare_jobs
from ironcage.core.answers.tally.readout import answer, quick, slow

__all__ = ["SAME_MM", "answer", "compare_jobs", "quick", "slow"]
