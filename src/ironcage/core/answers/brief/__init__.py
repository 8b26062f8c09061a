"""Brief: what is aimed at against what the job is (`aims`), and the builder's own rules, judged (`rules`)."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.brief.checks import CHECKS
    from ironcage.core.answers.brief.rules import judge_rules
else:
    __getattr__ = exports(
        __name__,
        checks="CHECKS",
        rules="judge_rules",
    )

__all__ = ["CHECKS", "judge_rules"]
