"""What Log says, as neutral data. Hours, days, the builder's money."""

from datetime import date
from typing import Any

from ironcage.core.answers.log.ahead import ASSUMED
from ironcage.core.answers.log.days import LogDay, log_answer
from ironcage.core.job.values.logbook import LogEntry
from ironcage.core.job.values.model import Job

Said = dict[str, Any]


def say_log(job: Job) -> Said:
    """What is ahead, then the days, the newest first."""
    told = log_answer(job)
    ahead = told.ahead
    return {
        "hours_logged": round(told.hours, 3),
        "cost": round(told.cost, 2),
        "budget": told.budget,
        "hours_to_go": round(ahead.hours, 3),
        "hours_a_week": job.logbook.hours_a_week,
        "days_left": ahead.days_left,
        "hours_there": None if ahead.hours_there is None else round(ahead.hours_there, 3),
        "ready": _day(ahead.ready),
        "spare_days": ahead.spare_days,
        "idle_days": round(ahead.idle, 3),
        "to_do": [
            {
                "task": t.task.id,
                "text": t.task.text,
                "of": list(t.task.of),
                "hours": t.task.hours,
                "waits_for": list(t.waits),
                "begins": _day(t.begins),
                "ends": _day(t.ends),
            }
            for t in ahead.tasks
        ],
        "on_order": [
            {
                "order": o.order.id,
                "text": o.order.text,
                "of": list(o.order.of),
                "due": _day(o.order.due),
                "cost": o.order.cost,
                "overdue_days": o.overdue,
                "holds_up": list(o.holds),
                "costs_days": o.costs_days,
            }
            for o in ahead.orders
        ],
        "days": [_of_day(d) for d in told.days],
        "assumptions": list(ASSUMED),
    }


def _of_day(day: LogDay) -> Said:
    return {
        "day": _day(day.day),
        "hours": round(day.hours, 3),
        "cost": round(day.cost, 2),
        "entries": [_entry(e) for e in day.entries],
        "ordered": [o.id for o in day.ordered],
        "came": [o.id for o in day.came],
        "readings": [r.id for r in day.readings],
        "welds": [f"{e.tube} at {e.joint} {e.state}" for e in day.welds],
    }


def _entry(entry: LogEntry) -> Said:
    return {
        "entry": entry.id,
        "text": entry.text,
        "of": list(entry.of),
        "hours": entry.hours,
        "cost": entry.cost,
        "photos": list(entry.photos),
        "by_the_program": entry.kept,
    }


def _day(day: date | None) -> str:
    return "" if day is None else day.isoformat()
