"""What to do: every snag that the steps look for (`checks`, a list of theirs), the next useful thing
(`advice`), and how far each step is (`progress`)."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.findings.advice import Advice, next_step
    from ironcage.core.answers.findings.checks import find_snags
    from ironcage.core.answers.findings.progress import Progress, step_progress
else:
    __getattr__ = exports(
        __name__,
        advice="Advice next_step",
        checks="find_snags",
        progress="Progress step_progress",
    )

__all__ = ["Advice", "Progress", "find_snags", "next_step", "step_progress"]
