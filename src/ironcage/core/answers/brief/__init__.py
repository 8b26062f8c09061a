"""Brief: what is aimed at against what the job is (`aims`), and the builder's own rules, judged (`rules`)."""

from ironcage.core.answers.brief.checks import CHECKS
from ironcage.core.answers.brief.rules import judge_rules

__all__ = ["CHECKS", "judge_rules"]
