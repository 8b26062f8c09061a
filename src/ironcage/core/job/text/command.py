"""What a typed command is, and the small readers that all commands share."""

import re
from collections.abc import Callable
from dataclasses import dataclass

from pydantic import ValidationError

from ironcage.core.job.values.base import Value
from ironcage.core.job.values.model import Datum, Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest

Chosen = tuple[str, ...]


@dataclass(frozen=True)
class Done:
    """What a command makes: the name of the step for undo, the new job, and what is chosen afterwards."""

    name: str
    job: Job
    chosen: Chosen


@dataclass(frozen=True)
class Command:
    """A word that a builder types. `run` takes the job, what is chosen and the rest of the line."""

    word: str
    example: str
    says: str
    run: Callable[[Job, Chosen, str], Done]


_LIMITS = {"le": "at most", "ge": "at least", "lt": "less than", "gt": "more than"}


def refused(error: ValidationError, doing: str) -> Problem:
    """A value that the model refuses (too far, too large) as one sentence; `doing` is what was typed or done."""
    fault = error.errors(include_url=False)[0]
    field = str(fault["loc"][-1]).replace("_", " ") if fault["loc"] else "value"
    message = fault["msg"][0].lower() + fault["msg"][1:]
    quantity = Value.quantity_at(error.title, fault["loc"])
    limits = [(words, fault.get("ctx", {}).get(kind)) for kind, words in _LIMITS.items()]
    words, bound = next((limit for limit in limits if limit[1] is not None), ("", None))
    given = repr(fault["input"])
    if quantity is not None and bound is not None and isinstance(fault["input"], int | float):
        given, message = quantity.said(fault["input"]), f"it must be {words} {quantity.said(bound)}"
    return Problem(f"‘{doing}’ gives {field} {given}, but {message}.", where=field)


def joints_of(job: Job, chosen: Chosen, *, need: int = 1) -> list[str]:
    """The chosen joints; refuses fewer than `need`."""
    joints = [c for c in chosen if c in job.joint_by_id]
    if len(joints) < need:
        many = "a joint" if need == 1 else f"{need} joints"
        raise Problem(
            f"This needs {many}, and {len(joints) or 'none'} {'are' if len(joints) > 1 else 'is'} chosen.",
            hint="Pick on the table or in the list first.",
        )
    return joints


def tubes_of(job: Job, chosen: Chosen) -> list[str]:
    """The chosen tubes; refuses none."""
    tubes = [c for c in chosen if c in job.tube_by_id]
    if not tubes:
        raise Problem("This needs a tube, and none is chosen.", hint="Pick one on the table or in the list first.")
    return tubes


def counted(names: list[str], what: str) -> str:
    """`J4L` for one, `3 joints` for more."""
    return names[0] if len(names) == 1 else f"{len(names)} {what}"


def datum_named(job: Job, name: str) -> Datum:
    """A datum by its name, whatever its case."""
    for datum in job.brief.datums:
        if datum.name.lower() == name.strip().lower():
            return datum
    raise Problem(
        f"There is no datum ‘{name.strip()}’.", where=name, hint=nearest(name, [d.name for d in job.brief.datums])
    )


def with_datum(job: Job, text: str) -> tuple[str, Datum]:
    """A line without its `from NAME`, and that datum; the one that readings are shown from by default."""
    before, found, name = re.sub(r"\s+", " ", text).partition(" from ")
    if not found and text.strip().startswith("from "):
        before, found, name = "", " from ", text.strip()[5:]
    return before, datum_named(job, name) if found else job.datum


def read_place(job: Job, text: str) -> tuple[float, float, float]:
    """Three readings `x y z`, or with commas `0, 250, 12 3/8\"`, from the shown datum or `from NAME`; mm."""
    body, datum = with_datum(job, text)
    parts = [p.strip() for p in body.split(",")] if "," in body else body.split()
    if len(parts) != 3:
        raise Problem(
            f"‘{body.strip()}’ is not a place.",
            where=body,
            hint='Write x, y and z, with commas where a number has a space: 0, 250, 12 3/8"',
        )
    x, y, z = (units_of(job).read_length(p) for p in parts)
    return x + datum.x, y + datum.y, z + datum.z
