"""Sentences that carry quantities: a figure stays a figure inside a text until somebody reads it.

What the core says, in refusals, findings and descriptions, is put together long before it is known in which units
it will be read. So a quantity stands in the text as a mark: what it is, its value, and how it reads in metric.
`ironcage.units.said` makes the marks, `Units.say` writes them out in the builder's units, and `plain` in metric.
"""

import re
from collections.abc import Callable

_OPEN, _BETWEEN, _SHUT = "\ue000", "\ue001", "\ue002"  # of the private use area: nobody types them
_MARK = re.compile(f"{_OPEN}([^{_BETWEEN}]*){_BETWEEN}([^{_BETWEEN}]*){_BETWEEN}([^{_SHUT}]*){_SHUT}")


def mark(kind: str, value: float, metric: str) -> str:
    """A quantity as part of a text. kind: which way of writing it; value: in internal units; metric: as it reads in
    metric."""
    return f"{_OPEN}{kind}{_BETWEEN}{float(value)!r}{_BETWEEN}{metric}{_SHUT}"


def rewrite(text: str, write: Callable[[str, float], str]) -> str:
    """A text with each quantity written out by `write(kind, value)`."""
    return _MARK.sub(lambda m: write(m[1], float(m[2])), text)


def plain(text: str) -> str:
    """A text with its quantities in metric."""
    return _MARK.sub(lambda m: m[3], text)
