"""The log: entries of what was done, orders, tasks, and the hours there are."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from typing import Any

from ironcage.core.job.values.logbook import Logbook, LogEntry, Order, Task
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, nearest

LogItem = LogEntry | Order | Task
KEPT_LETTERS = 1500  # of an entry that the program keeps


def set_logbook(job: Job, **changes: Any) -> Job:
    """Change fields of the log: hours_a_week in hours."""
    return job.but(logbook=job.logbook.but(**changes))


def thing_named(job: Job, name: str) -> str:
    """The id of a joint, tube, part or fitting, whatever its case; refuses what is none."""
    known = [*job.joint_by_id, *job.tube_by_id, *job.placed, *job.fitting_by_id]
    if name.upper() in known:
        return name.upper()
    raise Problem(f"There is nothing called ‘{name}’.", where=name, hint=nearest(name.upper(), known))


def add_entry(job: Job, entry: LogEntry) -> Job:
    """Write an entry, with the next id; hours in hours, cost in the builder's money."""
    number = job.logbook.last_entry + 1
    new = entry.but(id=f"E{number}", of=_things(job, entry.of))
    return set_logbook(job, entries=(*job.logbook.entries, new), last_entry=number)


def add_order(job: Job, order: Order) -> Job:
    """Write down an order, with the next id. Refuses one that is due before it was ordered."""
    _demand_in_order(order)
    number = job.logbook.last_order + 1
    new = order.but(id=f"O{number}", of=_things(job, order.of))
    return set_logbook(job, orders=(*job.logbook.orders, new), last_order=number)


def add_task(job: Job, task: Task) -> Job:
    """Write down what is to be done, with the next id. Refuses one that waits for what is not in the log."""
    number = job.logbook.last_task + 1
    new = task.but(id=f"D{number}", of=_things(job, task.of), after=_awaited(job.logbook, task.after))
    return set_logbook(job, tasks=(*job.logbook.tasks, new), last_task=number)


def find_logged(job: Job, name: str) -> LogItem:
    """The entry, order or task of that id, whatever its case."""
    wanted = name.strip().upper()
    known = _by_id(job.logbook)
    if wanted in known:
        return known[wanted]
    raise Problem(
        f"The log has no ‘{name.strip()}’.",
        where=name,
        hint=nearest(wanted, known) or "Entries are E1, E2 …, orders O1 …, tasks D1 …",
    )


def change_logged(job: Job, name: str, **changes: Any) -> Job:
    """Change an entry, an order or a task: hours in hours, cost in the builder's money. Refuses a task that would
    wait for itself, and a field that the thing does not have."""
    old = find_logged(job, name)
    for field in changes:
        if field not in type(old).model_fields:
            raise Problem(f"{old.id} has no {field}.", where=field, hint=f"It is {_what(old)}.")
    if "of" in changes:
        changes["of"] = _things(job, changes["of"])
    if isinstance(old, Task) and "after" in changes:
        changes["after"] = _awaited(job.logbook, changes["after"])
    new = old.but(**changes)
    if isinstance(new, Order):
        _demand_in_order(new)
    made = _replaced(job, old, (new,))
    _demand_no_ring(made.logbook)
    return made


def remove_logged(job: Job, names: Iterable[str]) -> Job:
    """Take entries, orders or tasks out; tasks no longer wait for them."""
    gone = [find_logged(job, name) for name in names]
    for thing in gone:
        job = _replaced(job, thing, ())
    ids = {thing.id for thing in gone}
    tasks = tuple(t.but(after=tuple(a for a in t.after if a not in ids)) for t in job.logbook.tasks)
    return set_logbook(job, tasks=tasks)


def finish_task(job: Job, name: str, day: date, hours: float | None = None) -> Job:
    """A task is finished, and an entry is written of it; hours that it took, in hours, those it was to take where
    none are given."""
    task = find_logged(job, name)
    if not isinstance(task, Task):
        raise Problem(f"{task.id} is {_what(task)}.", where=name, hint="Finish a task: done D1.")
    if task.done:
        raise Problem(f"{task.id} was done on {task.done.isoformat()}.", where=name)
    known = tuple(n for n in task.of if _is_here(job, n))
    entry = LogEntry(id="new", when=day, text=task.text, of=known, hours=task.hours if hours is None else hours)
    return change_logged(add_entry(job, entry), task.id, done=day)


def take_delivery(job: Job, name: str, day: date) -> Job:
    """An order has come."""
    order = find_logged(job, name)
    if not isinstance(order, Order):
        raise Problem(f"{order.id} is {_what(order)}.", where=name, hint="Orders are O1, O2 …")
    if order.arrived:
        raise Problem(f"{order.id} came on {order.arrived.isoformat()}.", where=name)
    return change_logged(job, order.id, arrived=day)


def _gathered(done: Iterable[str]) -> list[str]:
    """Edits in a row that begin with the same word, told together: `Add T1, T2` for `Add T1` and `Add T2`."""
    made: list[str] = []
    for text in done:
        verb, _, what = text.partition(" ")
        if made and what and made[-1].startswith(f"{verb} "):
            made[-1] = f"{made[-1]}, {what}"
        else:
            made.append(text)
    return made


def keep_done(job: Job, done: Sequence[str], day: date) -> Job:
    """Write what was edited into the day's own entry, which the program keeps; the job as it is where nothing was.

    Where a day is too long to tell, its earliest edits are left out."""
    if not done:
        return job
    kept = next((e for e in reversed(job.logbook.entries) if e.kept and e.when == day), None)
    before = kept.text.split("; ") if kept else []
    text = "; ".join(_gathered(dict.fromkeys([*before, *done])))
    if len(text) > KEPT_LETTERS:
        text = f"… {re.split('[;,] ', text[-KEPT_LETTERS:], maxsplit=1)[-1]}"
    if kept is not None:
        return change_logged(job, kept.id, text=text)
    return add_entry(job, LogEntry(id="new", when=day, text=text, kept=True))


def _what(thing: LogItem) -> str:
    return {LogEntry: "an entry", Order: "an order", Task: "a task"}[type(thing)]


def _by_id(book: Logbook) -> Mapping[str, LogItem]:
    return {thing.id: thing for group in (book.entries, book.orders, book.tasks) for thing in group}


def _is_here(job: Job, name: str) -> bool:
    return any(name in known for known in (job.joint_by_id, job.tube_by_id, job.placed, job.fitting_by_id))


def _things(job: Job, names: Iterable[str]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(thing_named(job, n) for n in names))


def _awaited(book: Logbook, names: Iterable[str]) -> tuple[str, ...]:
    """The tasks and orders of those ids."""
    known = [*(t.id for t in book.tasks), *(o.id for o in book.orders)]
    wanted = [n.strip().upper() for n in names]
    for name in wanted:
        if name not in known:
            raise Problem(
                f"Nothing can wait for ‘{name}’: it is no task and no order.",
                where=name,
                hint=nearest(name, known) or ("The log has none yet." if not known else f"There are {known[0]} …"),
            )
    return tuple(dict.fromkeys(wanted))


def _demand_in_order(order: Order) -> None:
    if order.due < order.ordered:
        raise Problem(
            f"{order.text} is due on {order.due.isoformat()}, before it was ordered.",
            where="due",
            hint=f"It was ordered on {order.ordered.isoformat()}.",
        )


def _demand_no_ring(book: Logbook) -> None:
    """Refuse tasks that wait for each other in a ring."""
    after = {t.id: t.after for t in book.tasks}
    for task, awaited in after.items():
        reached, ahead = set[str](), list(awaited)
        while ahead:
            name = ahead.pop()
            if name == task:
                raise Problem(f"{task} would wait for itself.", where=task, hint="Take one of the two waits out.")
            if name not in reached:
                reached.add(name)
                ahead += after.get(name, ())


def _replaced(job: Job, old: LogItem, new: Sequence[Any]) -> Job:
    """The job with one logged thing replaced by others, or by none."""
    field = {LogEntry: "entries", Order: "orders", Task: "tasks"}[type(old)]
    listed: list[Any] = []
    for thing in getattr(job.logbook, field):
        listed += new if thing is old else [thing]
    return set_logbook(job, **{field: tuple(listed)})
