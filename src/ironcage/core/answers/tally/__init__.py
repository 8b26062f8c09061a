"""Tally: the few figures that never leave the eye (`readout`), and two jobs side by side (`compare`)."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.tally.compare import SAME_MM, compare_jobs
    from ironcage.core.answers.tally.readout import answer, quick, slow
else:
    __getattr__ = exports(
        __name__,
        compare="SAME_MM compare_jobs",
        readout="answer quick slow",
    )

__all__ = ["SAME_MM", "answer", "compare_jobs", "quick", "slow"]
