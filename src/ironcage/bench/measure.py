"""Timing: the median of several runs, two things in turn so that a drifting machine hits both alike."""

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class BenchLine:
    """A measured figure, what was wanted of it, and whether it holds."""

    what: str
    measured: str
    wanted: str
    holds: bool


def seconds(act: Callable[[], object]) -> float:
    """Wall time of one run."""
    start = time.perf_counter()
    act()
    return time.perf_counter() - start


def median(act: Callable[[], object], runs: int = 7) -> float:
    """Median wall time of several runs after one that is not counted."""
    act()
    return statistics.median(seconds(act) for _ in range(runs))


def in_turn(one: Callable[[], object], other: Callable[[], object], runs: int = 5) -> tuple[float, float, float]:
    """Medians of two acts run in turn, and the median of their ratios other/one."""
    one()
    other()
    pairs = [(seconds(one), seconds(other)) for _ in range(runs)]
    return (
        statistics.median(a for a, _ in pairs),
        statistics.median(b for _, b in pairs),
        statistics.median(b / a for a, b in pairs),
    )
