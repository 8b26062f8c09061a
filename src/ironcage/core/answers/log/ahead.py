"""What is still to do: which task can begin now, what the others wait for, and the day when all is done.

One pair of hands takes the tasks one after another, those that can begin first in the order they were written. A week's
hours are spread evenly over its seven days.
"""

from __future__ import annotations

import heapq
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from ironcage.core.job.values.logbook import Logbook, Order, Task
from ironcage.core.job.values.model import Job

ASSUMED = (
    "Tasks are done one after another, those that can begin first in the order they were written; the week's hours "
    "are spread evenly over seven days; an order that is overdue is assumed to come tomorrow.",
)
MOST_YEARS = 20  # that a forecast looks ahead


@dataclass(frozen=True)
class TaskAhead:
    """A task that is not done. waits: the ids of tasks and orders that it waits for today; begins, ends: by the
    forecast, None where it can't be worked out."""

    task: Task
    waits: tuple[str, ...]
    begins: date | None = None
    ends: date | None = None


@dataclass(frozen=True)
class OrderAhead:
    """An order that has not come. overdue: days past its day; holds: the ids of tasks that wait for it; costs_days:
    how many days earlier all would be done if it came today, None where it can't be worked out."""

    order: Order
    overdue: int
    holds: tuple[str, ...]
    costs_days: int | None = None


@dataclass(frozen=True)
class Ahead:
    """What is ahead on a day. hours: those of the tasks left; days_left: to the deadline; hours_there: what the week's
    hours make of those days; ready: by when all is done by the forecast; idle: days without work that can be done."""

    today: date
    tasks: tuple[TaskAhead, ...]
    orders: tuple[OrderAhead, ...]
    hours: float
    days_left: int | None
    hours_there: float | None
    ready: date | None
    idle: float

    @property
    def spare_days(self) -> int | None:
        """Days between the forecast and the deadline, negative when it comes too late."""
        if self.ready is None or self.days_left is None:
            return None
        return self.days_left - (self.ready - self.today).days


def look_ahead(job: Job, today: date) -> Ahead:
    """What is left to do, seen from a day."""
    book = job.logbook
    plan = _forecast(book, today, _coming(book, today))
    still = {t.id for t in book.tasks if not t.done} | {o.id for o in book.orders if not o.arrived}
    tasks = tuple(
        TaskAhead(t, tuple(a for a in t.after if a in still), *plan.days.get(t.id, (None, None)))
        for t in book.tasks
        if not t.done
    )
    days_left = None if job.brief.deadline is None else (job.brief.deadline - today).days
    rate = book.hours_a_week / 7
    return Ahead(
        today,
        tasks,
        _orders(book, today, plan.ready),
        sum(t.task.hours for t in tasks),
        days_left,
        None if days_left is None or not rate else max(days_left, 0) * rate,
        plan.ready,
        plan.idle,
    )


def _orders(book: Logbook, today: date, ready: date | None) -> tuple[OrderAhead, ...]:
    made = []
    for order in book.orders:
        if order.arrived:
            continue
        costs = None
        if ready is not None:
            sooner = _forecast(book, today, {**_coming(book, today), order.id: today}).ready
            costs = None if sooner is None else (ready - sooner).days
        holds = tuple(t.id for t in book.tasks if not t.done and order.id in t.after)
        made.append(OrderAhead(order, max((today - order.due).days, 0), holds, costs))
    return tuple(sorted(made, key=lambda o: o.order.due))


def _coming(book: Logbook, today: date) -> dict[str, date]:
    """The day each order is reckoned to come."""
    tomorrow = today + timedelta(days=1)
    return {
        o.id: o.due if o.due > today else today if o.due == today else tomorrow for o in book.orders if not o.arrived
    }


@dataclass(frozen=True)
class _Plan:
    days: Mapping[str, tuple[date, date]]
    ready: date | None
    idle: float


def _forecast(book: Logbook, today: date, coming: Mapping[str, date]) -> _Plan:
    """When each task begins and ends, in days from today; nothing where no hours a week are known."""
    rate = book.hours_a_week / 7
    left = {t.id: t for t in book.tasks if not t.done}
    if not rate or sum(t.hours for t in left.values()) > rate * 366 * MOST_YEARS:
        return _Plan({}, None, 0.0)
    place = {name: n for n, name in enumerate(left)}
    waits = {name: {a for a in t.after if a in left or a in coming} for name, t in left.items()}
    freed: dict[str, list[str]] = {}
    for name, awaited in waits.items():
        for other in awaited:
            freed.setdefault(other, []).append(name)
    free = [n for name, n in place.items() if not waits[name]]  # a heap: sorted already
    names = list(left)
    arrivals = sorted(((day - today).days, name) for name, day in coming.items())
    now = idle = 0.0
    ended: dict[str, tuple[float, float]] = {}

    def met(name: str) -> None:
        for other in freed.get(name, ()):
            waits[other].discard(name)
            if not waits[other]:
                heapq.heappush(free, place[other])

    while len(ended) < len(left):
        while arrivals and arrivals[0][0] <= now:
            met(arrivals.pop(0)[1])
        if free:
            name = names[heapq.heappop(free)]
            ended[name] = now, now + left[name].hours / rate
            now = ended[name][1]
            met(name)
        else:
            idle += arrivals[0][0] - now  # no task waits for itself, so an order is what is waited for
            now = arrivals[0][0]
    return _Plan({n: (_day(today, a), _day(today, b)) for n, (a, b) in ended.items()}, _day(today, now), idle)


def _day(today: date, days: float) -> date:
    """The day on which so many days from now fall."""
    return today + timedelta(days=int(days + 1e-9))
