"""Links as they are drawn on the table."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ironcage.core.calc.frames.beams import Floats


@dataclass(frozen=True, eq=False)
class DrawnLine:
    """A straight line between two places (3,), mm; what: a link, a coil-over, or what the links carry."""

    what: Literal["link", "spring", "body"]
    start: Floats
    stop: Floats
