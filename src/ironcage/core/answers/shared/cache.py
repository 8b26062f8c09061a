"""Answers kept while the parts of the job they depend on are the same objects."""

from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import is_dataclass
from functools import wraps
from threading import Event, Lock
from typing import TypeVar

import numpy as np

from ironcage.core.job.values.model import Job

A = TypeVar("A")


def _freeze(answer: object) -> None:
    """Make every array in an answer read-only, however deep in tuples, mappings and dataclasses it lies: what is kept
    is shared by all who ask."""
    waiting, seen = [answer], set[int]()
    while waiting:
        value = waiting.pop()
        if isinstance(value, np.ndarray):
            value.setflags(write=False)
        elif isinstance(value, tuple | list):
            waiting += value
        elif isinstance(value, Mapping):
            waiting += value.values()
        elif is_dataclass(value) and not isinstance(value, type) and id(value) not in seen:
            seen.add(id(value))
            waiting += vars(value).values()


def remembered(*parts: str, keep: int = 4) -> Callable[[Callable[[Job], A]], Callable[[Job], A]]:
    """Remember the last `keep` answers of a function of a job, by the identity of the named parts.

    The parts are held, so an identity cannot be taken over by another object. Safe from several threads: one that
    asks what another is just working out waits for it. A refusal (an exception) is not remembered.
    """

    def around(answer: Callable[[Job], A]) -> Callable[[Job], A]:
        held: OrderedDict[tuple[int, ...], tuple[tuple[object, ...], A]] = OrderedDict()
        working: dict[tuple[int, ...], Event] = {}
        lock = Lock()

        @wraps(answer)
        def asked(job: Job) -> A:
            values = tuple(getattr(job, part) for part in parts)
            key = tuple(map(id, values))
            while True:
                with lock:
                    if key in held:
                        held.move_to_end(key)
                        return held[key][1]
                    other = working.get(key)
                    if other is None:
                        working[key] = Event()
                        break
                other.wait()
            try:
                made = answer(job)
                _freeze(made)
                with lock:
                    held[key] = (values, made)
                    while len(held) > keep:
                        held.popitem(last=False)
                return made
            finally:
                with lock:
                    working.pop(key).set()

        return asked

    return around
