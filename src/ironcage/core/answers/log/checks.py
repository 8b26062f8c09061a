"""Snags of Log: what is overdue, more hours than there are, more money than there is."""

from collections.abc import Iterator

from ironcage.core.answers.log.days import log_answer
from ironcage.core.answers.shared.snag import Snag, be, named
from ironcage.core.job.values.model import Job


def late(job: Job) -> Iterator[Snag]:
    """What is overdue, and whether the days and hours left are enough."""
    if not (job.logbook.orders or job.logbook.tasks):
        return
    ahead = log_answer(job).ahead
    overdue = [o for o in ahead.orders if o.overdue]
    if overdue:
        names = [o.order.text for o in overdue]
        yield Snag(
            "look",
            "overdue",
            "log",
            f"{named(names)} {be(names)} overdue, {overdue[0].order.text} by {overdue[0].overdue} "
            f"{'day' if overdue[0].overdue == 1 else 'days'}.",
            tuple(n for o in overdue for n in o.order.of),
            f"Ask for it; type: log {overdue[0].order.id} due in 2 weeks, or: arrived {overdue[0].order.id}",
        )
    spare = ahead.spare_days
    if spare is not None and spare < 0 and ahead.ready is not None:
        yield Snag(
            "look",
            "too late",
            "log",
            f"With {job.logbook.hours_a_week:g} h a week, the work is finished on {ahead.ready.isoformat()}, "
            f"{-spare} {'day' if spare == -1 else 'days'} after the deadline.",
            (),
            "See Log: leave something out, find more hours, or order sooner what holds up the most.",
        )


def spent(job: Job) -> Iterator[Snag]:
    """Whether more was spent than there is."""
    if not job.logbook.entries and not job.logbook.orders:
        return
    told = log_answer(job)
    if told.budget is not None and told.cost > told.budget:
        yield Snag(
            "look",
            "over budget",
            "log",
            f"{told.cost:,.0f} is spent and on order, and the budget is {told.budget:,.0f}.",
            (),
            "See Log and the aims in Brief.",
        )


CHECKS = (late, spent)
