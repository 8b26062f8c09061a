"""What happened, day by day: entries, what came and was ordered, readings taken, ends tacked and welded; with hours
and cost."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import get_args

from ironcage.core.answers.log.ahead import Ahead, look_ahead
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.job.values.logbook import LogEntry, Order
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.truing import AnyMeasured
from ironcage.core.job.values.welding import EndState, WeldState


@dataclass(frozen=True)
class LogDay:
    """A day. hours, cost: of its entries; cost also of what was ordered."""

    day: date
    entries: tuple[LogEntry, ...]
    ordered: tuple[Order, ...]
    came: tuple[Order, ...]
    readings: tuple[AnyMeasured, ...]
    welds: tuple[EndState, ...] = ()

    @property
    def welded(self) -> tuple[tuple[WeldState, tuple[str, ...]], ...]:
        """The states that ends came to, and which, joint by joint: `T1L, T6 at J1L`."""
        made = []
        for state in get_args(WeldState):
            joints: dict[str, list[str]] = {}
            for e in self.welds:
                if e.state == state:
                    joints.setdefault(e.joint, []).append(e.tube)
            if joints:
                made.append((state, tuple(f"{', '.join(tubes)} at {joint}" for joint, tubes in joints.items())))
        return tuple(made)

    @property
    def hours(self) -> float:
        """Hours of its entries."""
        return sum(e.hours for e in self.entries)

    @property
    def cost(self) -> float:
        """Cost of its entries and orders."""
        return sum(e.cost for e in self.entries) + sum(o.cost for o in self.ordered)


@dataclass(frozen=True)
class LogAnswer:
    """The log as it stands on a day. days: the newest first."""

    days: tuple[LogDay, ...]
    ahead: Ahead
    hours: float
    cost: float
    budget: float | None

    def day(self, wanted: date) -> LogDay:
        """A day, empty where nothing happened."""
        return next((d for d in self.days if d.day == wanted), LogDay(wanted, (), (), (), ()))


def log_answer(job: Job, today: date | None = None) -> LogAnswer:
    """The log as it stands on a day, today where none is given."""
    days = _days(job)
    budget = next((t.value for t in job.brief.targets if t.kind == "budget"), None)
    return LogAnswer(
        days,
        look_ahead(job, today or date.today()),
        sum(d.hours for d in days),
        sum(d.cost for d in days),
        budget,
    )


@remembered("logbook", "truing", "welding")
def _days(job: Job) -> tuple[LogDay, ...]:
    book = job.logbook
    taken = [r for r in job.truing.readings if r.when]
    dates = {e.when for e in book.entries} | {o.ordered for o in book.orders}
    dates |= {e.when for e in job.welding.ends}
    dates |= {o.arrived for o in book.orders if o.arrived} | {r.when for r in taken if r.when}
    return tuple(
        LogDay(
            day,
            tuple(e for e in book.entries if e.when == day),
            tuple(o for o in book.orders if o.ordered == day),
            tuple(o for o in book.orders if o.arrived == day),
            tuple(r for r in taken if r.when == day),
            tuple(e for e in job.welding.ends if e.when == day),
        )
        for day in sorted(dates, reverse=True)
    )
