"""Typed fields of a declared value: `field value, field value`, read as its annotations say."""

from __future__ import annotations

import types
from collections.abc import Callable, Iterable
from typing import Any, Literal, Union, get_args, get_origin

from pydantic.fields import FieldInfo

from ironcage.core.job.values.base import Value
from ironcage.problem import Problem, nearest
from ironcage.units import Units
from ironcage.units.quantity import LENGTH, quantity_of


def plain(annotation: Any) -> Any:
    """An annotation without its bounds and without None."""
    base = annotation
    while get_origin(base) in (Union, types.UnionType) or hasattr(base, "__metadata__"):
        base = get_args(base)[0]
    return base


def read_value(field: FieldInfo, name: str, text: str, units: Units) -> Any:
    """A field from what was typed: a choice, words, a count, ids in a row, or the quantity that it declares."""
    base = plain(field.annotation)
    if get_origin(base) is Literal:
        if text not in get_args(base):
            options = [str(o) for o in get_args(base) if o]
            raise Problem(
                f"‘{text}’ is no {name}.", where=name, hint=nearest(text, options) or f"There are {', '.join(options)}."
            )
        return text
    if get_origin(base) is tuple:
        return tuple(w.upper() for w in text.replace("-", " ").split())
    if base is str:
        return text
    if base is bool:
        return text == "yes"
    if base is int:
        return read_number(int, name, text)
    return (quantity_of(field) or LENGTH).read(units, text)


def read_number(kind: type, name: str, text: str) -> Any:
    """A bare number, with or without a sign of degrees."""
    try:
        return kind(text.removesuffix("°").removesuffix("deg").strip())
    except ValueError:
        raise Problem(f"‘{text}’ is no number for {name}.", where=name, hint="Write for example 30") from None


def read_fields(
    form: type[Value], body: str, hidden: Iterable[str], what: str, read: Callable[[FieldInfo, str, str], Any]
) -> tuple[dict[str, Any], list[str]]:
    """The fields of a form that were typed, by `read(field, name, text)`, and the needed ones that were not;
    `hidden` ones can't be typed."""
    known = {n.replace("_", " "): n for n in form.model_fields if n not in hidden}
    longest_first = sorted(known, key=len, reverse=True)
    values: dict[str, Any] = {}
    for part in filter(None, (p.strip() for p in body.split(","))):
        word = next((w for w in longest_first if part.lower() == w or part.lower().startswith(w + " ")), "")
        if not word:
            raise Problem(f"{what} has no ‘{part}’.", where=part, hint=f"It has {', '.join(known)}.")
        values[known[word]] = read(form.model_fields[known[word]], known[word], part[len(word) :].strip())
    missing = [w for w, n in known.items() if form.model_fields[n].is_required() and n not in values]
    return values, missing


def kind_at_start(text: str, kinds: Iterable[str], what: str) -> tuple[str, str]:
    """The kind that a line starts with, and the rest; refuses an unknown one with the nearest."""
    names = list(kinds)
    kind = next((k for k in sorted(names, key=len, reverse=True) if text.strip().lower().startswith(k)), None)
    if kind is None:
        word = " ".join(text.split()[:2])
        raise Problem(
            f"‘{word}’ is no kind of {what}.", where=word, hint=nearest(word, names) or f"There are {', '.join(names)}."
        )
    return kind, text.strip()[len(kind) :].strip()
