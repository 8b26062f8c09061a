"""Typed text to internal units and back: mm, N, N·mm, kg, radians inside; the builder's outside.

`typed` reads what a builder writes, `shown` writes what a builder reads, `tables` holds gauges and
pipe sizes. Nothing here knows a job or a screen. Start with `typed.length`.
"""

from ironcage.units.shown import METRIC, Units
from ironcage.units.typed import UnitProblem, angle, force, length, mass

__all__ = ["METRIC", "UnitProblem", "Units", "angle", "force", "length", "mass"]
