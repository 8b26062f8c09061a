"""Answers kept while the parts of the job they depend on are the same objects."""

import re
from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass
from functools import cache, wraps
from threading import Event, Lock
from typing import Any, Literal, TypeVar
from weakref import ref

import numpy as np

from ironcage.core.job.values.model import Job

A = TypeVar("A")


_frozen: dict[int, ref[Any]] = {}  # parts of answers that are frozen already and may come in another answer again


def freeze_part(part: object) -> None:
    """Make every array in a part of an answer read-only, once for all answers that it is in."""
    _freeze(part)
    number = id(part)
    _frozen[number] = ref(part, lambda _: _frozen.pop(number, None))


def _freeze(answer: object) -> None:
    """Make every array in an answer read-only, however deep in tuples, mappings and dataclasses it lies: what is kept
    is shared by all who ask."""
    waiting: list[Any] = [answer]
    seen = set[int]()
    while waiting:
        value = waiting.pop()
        kind = _held_in(value.__class__)
        if kind == "array":
            value.setflags(write=False)
        elif kind == "row":
            waiting += value
        elif kind == "mapping":
            waiting += value.values()
        elif kind == "fields" and id(value) not in seen and id(value) not in _frozen:
            seen.add(id(value))
            waiting += vars(value).values()


_WORDS_AND_NUMBERS = {"str", "int", "float", "bool", "None", "tuple"}


@cache
def _held_in(kind: type) -> Literal["array", "row", "mapping", "fields", ""]:
    """How things of a type hold others; nothing for those that hold none or, by what their fields are declared to be,
    nothing but words and numbers. Asked once a type: answers hold thousands."""
    if issubclass(kind, np.ndarray):
        return "array"
    if issubclass(kind, tuple | list):
        return "row"
    if issubclass(kind, Mapping):
        return "mapping"
    if not is_dataclass(kind):
        return ""
    declared = " ".join(field.type if isinstance(field.type, str) else repr(field.type) for field in fields(kind))
    return "" if set(re.findall(r"\w+", declared)) <= _WORDS_AND_NUMBERS else "fields"


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
