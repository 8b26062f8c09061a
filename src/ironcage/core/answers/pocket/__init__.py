"""Pocket: the quick sums of the shop, with or without a job. `sum` says what a sum is, `shapes`, `tubes` and `drive`
hold them, SUMS lists them in the order of the list on the screen.

A new sum is a `Sum` in the fitting module and a name in its SUMS. May import `calc`, `units` and the shelf.
"""

from ironcage.core.answers.pocket import drive, shapes, tubes
from ironcage.core.answers.pocket.sum import Ask, Sketch, Sum, Told, read, work_out
from ironcage.problem import Problem, nearest

SUMS: tuple[Sum, ...] = (*shapes.SUMS, *tubes.SUMS, *drive.SUMS)


def find_sum(name: str) -> Sum:
    """The sum of that name, whatever its case."""
    for made in SUMS:
        if made.name == name.strip().lower():
            return made
    known = [s.name for s in SUMS]
    raise Problem(
        f"There is no sum ‘{name.strip()}’.", where=name, hint=nearest(name, known) or f"There are {', '.join(known)}."
    )


__all__ = ["SUMS", "Ask", "Sketch", "Sum", "Told", "find_sum", "read", "work_out"]
