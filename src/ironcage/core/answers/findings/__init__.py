"""What to do: every snag that the steps look for (`checks`, a list of theirs), and the next useful thing (`advice`)."""

from ironcage.core.answers.findings.advice import Advice, next_step
from ironcage.core.answers.findings.checks import find_snags

__all__ = ["Advice", "find_snags", "next_step"]
