"""Jig: where each stand goes on the table, how high its saddle is, and which diagonals prove it (`stands`)."""

from ironcage.core.answers.jig.checks import CHECKS
from ironcage.core.answers.jig.stands import Stand

__all__ = ["CHECKS", "Stand"]
