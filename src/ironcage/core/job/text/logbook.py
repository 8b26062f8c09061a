"""Commands of the log: did, todo, done, order, arrived, log.

Clauses stand after semicolons, each begun by its word: `did Hoop feet welded; of J3L J3R; 2.5 h; cost 40`.
"""

import re
from collections.abc import Callable, Mapping
from datetime import date
from typing import Any

from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.text.days import read_day, split_day
from ironcage.core.job.values.logbook import LogEntry, Order, Task
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, nearest
from ironcage.units import typed

DID_EXAMPLE = "did Hoop feet tacked; of J1L J1R; 2.5 h; cost 40"
TODO_EXAMPLE = "todo Mount the engine; of J2L; 6 h"
ORDER_EXAMPLE = "order Sprocket 54 teeth; due 2027-01-15; cost 85"
HOURS = re.compile(r"^[\d.,/ ]+(?:h|hr|hrs|hours?|min|minutes)$", re.IGNORECASE)

Read = Callable[[Job, str], Any]


def _names(job: Job, text: str) -> tuple[str, ...]:
    return tuple(text.replace(",", " ").split())


def _day(job: Job, text: str) -> date:
    return read_day(text)


def _cost(job: Job, text: str) -> float:
    return typed.number(text)


def _hours(job: Job, text: str) -> float:
    return typed.hours(text)


def _words(job: Job, text: str) -> str:
    if not text.strip():
        raise Problem("No words were typed.", where="text", hint="Write a word or two of what it is.")
    return text.strip()


_OF = {"of": ("of", _names)}
_CLAUSES: Mapping[type, Mapping[str, tuple[str, Read]]] = {
    LogEntry: {**_OF, "hours": ("hours", _hours), "cost": ("cost", _cost), "on": ("when", _day)},
    Order: {**_OF, "due": ("due", _day), "cost": ("cost", _cost), "ordered": ("ordered", _day)},
    Task: {**_OF, "hours": ("hours", _hours), "after": ("after", _names)},
}
_CHANGES: Mapping[type, Mapping[str, tuple[str, Read]]] = {
    kind: {**known, "text": ("text", _words), **({"arrived": ("arrived", _day)} if kind is Order else {})}
    for kind, known in _CLAUSES.items()
}


def _clauses(job: Job, kind: type, rest: str, chosen: Chosen, example: str) -> tuple[str, dict[str, Any]]:
    """The words of a line and the fields that its clauses give; what is chosen is what it is of where nothing is
    named."""
    words, *parts = (part.strip() for part in rest.split(";"))
    if not words:
        raise Problem("No words were typed.", where=rest, hint=f"Write for example: {example}")
    known, fields = _CLAUSES[kind], dict[str, Any]()
    for part in filter(None, parts):
        word, _, text = part.partition(" ")
        if HOURS.match(part) and "hours" in known:
            word, text = "hours", part
        if word.lower() not in known:
            raise Problem(
                f"‘{part}’ is not understood.",
                where=part,
                hint=nearest(word.lower(), known) or f"Write for example: {example}",
            )
        name, read = known[word.lower()]
        fields[name] = read(job, text)
    if "of" not in fields:
        fields["of"] = tuple(chosen)
    return words, fields


def did(job: Job, chosen: Chosen, rest: str) -> Done:
    """What was done or decided, with the things it is about (those chosen where none are named), hours, cost, and the
    day where it was not today: `did Hoop feet tacked; of J1L J1R; 2.5 h; cost 40; on yesterday`."""
    words, fields = _clauses(job, LogEntry, rest, chosen, DID_EXAMPLE)
    entry = LogEntry(**{"id": "new", "text": words, "when": date.today(), **fields})
    return Done(f"Log {words}", edits.add_entry(job, entry), chosen)


def todo(job: Job, chosen: Chosen, rest: str) -> Done:
    """What is to be done, how many hours it will take, and what it waits for: `todo Mount the engine; 6 h; after
    O1 D2`."""
    words, fields = _clauses(job, Task, rest, chosen, TODO_EXAMPLE)
    return Done(f"Put {words} on the list", edits.add_task(job, Task(id="new", text=words, **fields)), chosen)


def order(job: Job, chosen: Chosen, rest: str) -> Done:
    """Something ordered, and the day it is due: `order Sprocket 54 teeth; due in 6 weeks; cost 85`."""
    words, fields = _clauses(job, Order, rest, chosen, ORDER_EXAMPLE)
    if "due" not in fields:
        raise Problem(f"When is {words} due?", where="due", hint=f"Write for example: {ORDER_EXAMPLE}")
    made = Order(**{"id": "new", "text": words, "ordered": min(date.today(), fields["due"]), **fields})
    return Done(f"Order {words}, due {made.due.isoformat()}", edits.add_order(job, made), chosen)


def arrived(job: Job, chosen: Chosen, rest: str) -> Done:
    """An order has come: `arrived O1`, or `arrived O1 on yesterday`."""
    name, day = split_day(rest.strip())
    found = edits.find_logged(job, name)
    return Done(f"{found.id} has come: {found.text}", edits.take_delivery(job, name, day), chosen)


def done(job: Job, chosen: Chosen, rest: str) -> Done:
    """A task is finished, which also writes an entry: `done D1`, `done D1; 3.5 h`, `done D1 on yesterday`."""
    head, _, hours = rest.partition(";")
    name, day = split_day(head.strip())
    found = edits.find_logged(job, name)
    taken = typed.hours(hours) if hours.strip() else None
    return Done(f"{found.id} is done: {found.text}", edits.finish_task(job, name, day, taken), chosen)


def log(job: Job, chosen: Chosen, rest: str) -> Done:
    """Changes what stands in the log: `log E3 hours 4`, `log O1 due 2027-02-01`, `log D2 after O1`, `log E3 text …`,
    `log O1 not arrived`, `log D2 not done`, `log E3 gone`; `log week 12 h`: the hours there are for the build each
    week."""
    name, _, body = rest.strip().partition(" ")
    body = body.strip()
    if name.lower() == "week":
        hours = typed.hours(body)
        return Done(f"There are {hours:g} h a week", edits.set_logbook(job, hours_a_week=hours), chosen)
    found = edits.find_logged(job, name)
    low = body.lower()
    if low == "gone":
        return Done(f"Take {found.id} out of the log", edits.remove_logged(job, [found.id]), chosen)
    if low in ("not arrived", "not done"):
        field = low.removeprefix("not ")
        return Done(f"{found.id} has {low}", edits.change_logged(job, found.id, **{field: None}), chosen)
    known = _CHANGES[type(found)]
    word, _, text = body.partition(" ")
    if word.lower() not in known:
        raise Problem(
            f"{found.id} has no ‘{word}’.",
            where=word or name,
            hint=nearest(word.lower(), known) or f"It has {', '.join(known)}; gone takes it out.",
        )
    field, read = known[word.lower()]
    value = read(job, "" if text.strip().lower() == "none" and word.lower() in ("of", "after") else text)
    return Done(f"Set {word.lower()} of {found.id}", edits.change_logged(job, found.id, **{field: value}), chosen)


COMMANDS = (
    Command("did", DID_EXAMPLE, "logs what was done or decided, with hours, cost and what it is about", did),
    Command("todo", TODO_EXAMPLE, "puts something to do on the list, with hours and what it waits for", todo),
    Command("done", "done D1; 3.5 h", "finishes a task and logs it; ‘on yesterday’ for another day", done),
    Command("order", ORDER_EXAMPLE, "notes something ordered and the day it is due", order),
    Command("arrived", "arrived O1", "an order has come", arrived),
    Command("log", "log week 12 h", "the hours there are a week; also log E3 hours 4, log O1 due in 2 weeks", log),
)
