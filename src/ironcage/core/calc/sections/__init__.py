"""Cross-sections, one kind per module; each is a frozen value that knows its own properties.

A new kind is a module like `round.py` and a line in `AnySection`.
"""

from ironcage.core.calc.sections.angle import Angle
from ironcage.core.calc.sections.properties import SectionProperties
from ironcage.core.calc.sections.rect import Rect
from ironcage.core.calc.sections.round import Round

AnySection = Round | Rect | Angle

__all__ = ["Angle", "AnySection", "Rect", "Round", "SectionProperties"]
