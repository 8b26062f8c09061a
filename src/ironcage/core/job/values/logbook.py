"""What was done, decided, spent and ordered, each on its day and tied to what it is about; and what is still to do.

Hours in hours, cost in the builder's money. An entry, an order or a task may name a thing that has since gone.
"""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from ironcage.core.job.values.base import Id, Value
from ironcage.units.quantity import HOURS, MONEY

Hours = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False), HOURS]
Cost = Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False), MONEY]
Words = Annotated[str, Field(min_length=1, max_length=2000)]
About = Annotated[tuple[Id, ...], Field(max_length=200)]
PhotoFile = Annotated[str, Field(pattern=r"^[0-9a-f]{16,64}\.(png|jpg)$")]


class LogEntry(Value):
    """Something that was done or decided. of: joints, tubes, parts or fittings that it is about; hours: how long it
    took; photos: the files they are kept in, by their content; kept: written by the program itself when the job was
    saved, from the names of that day's edits."""

    id: Id
    when: date
    text: Words
    of: About = ()
    hours: Hours = 0.0
    cost: Cost = 0.0
    photos: Annotated[tuple[PhotoFile, ...], Field(max_length=100)] = ()
    kept: bool = False


class Order(Value):
    """Something on order. of: what it is for; due: the day it is to come; arrived: the day it came."""

    id: Id
    text: Words
    ordered: date
    due: date
    of: About = ()
    cost: Cost = 0.0
    arrived: date | None = None


class Task(Value):
    """Something to do. hours: how long it will take; after: tasks that must be finished and orders that must have
    come before it can begin; done: the day it was finished."""

    id: Id
    text: Words
    of: About = ()
    hours: Hours = 0.0
    after: About = ()
    done: date | None = None


class Logbook(Value):
    """entries, orders and tasks in the order they were written; hours_a_week: that there are for the build, 0 not
    known."""

    entries: Annotated[tuple[LogEntry, ...], Field(max_length=20_000)] = ()
    orders: Annotated[tuple[Order, ...], Field(max_length=5000)] = ()
    tasks: Annotated[tuple[Task, ...], Field(max_length=5000)] = ()
    last_entry: Annotated[int, Field(ge=0, le=10**9)] = 0
    last_order: Annotated[int, Field(ge=0, le=10**9)] = 0
    last_task: Annotated[int, Field(ge=0, le=10**9)] = 0
    hours_a_week: Annotated[float, Field(ge=0, le=168, allow_inf_nan=False), HOURS] = 0.0
