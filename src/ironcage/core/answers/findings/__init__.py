"""What to do: every snag that the steps look for (`checks`, a list of theirs), and the next useful thing (`advice`)."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.findings.advice import Advice, next_step
    from ironcage.core.answers.findings.checks import find_snags
else:
    __getattr__ = exports(
        __name__,
        advice="Advice next_step",
        checks="find_snags",
    )

__all__ = ["Advice", "find_snags", "next_step"]
