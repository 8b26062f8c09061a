"""Snags of Brief: rules that fail, and those that nobody has judged."""

from collections.abc import Iterator

from ironcage.core.answers.brief.rules import judge_rules
from ironcage.core.answers.shared.snag import Snag, named
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of


def ruled(job: Job) -> Iterator[Snag]:
    """Rules that fail, and those that nobody has judged."""
    units = units_of(job)
    for v in judge_rules(job):
        if v.state == "fail":
            by = f" by {v.quantity.show(units, -(v.by or 0))}" if v.quantity else ""
            yield Snag(
                "wrong",
                "rule failed",
                "brief",
                f"{v.rule} is missed{by}: {v.clause}",
                v.where,
                "Look at what was measured: Brief, Rules.",
            )
    open_rules = [v.rule for v in judge_rules(job) if v.state == "not known"]
    if open_rules:
        yield Snag(
            "unknown",
            "rule not judged",
            "brief",
            f"{named(open_rules)} can't be judged from the job.",
            (),
            "Judge them yourself, and tick the notes.",
        )


CHECKS = (ruled,)
