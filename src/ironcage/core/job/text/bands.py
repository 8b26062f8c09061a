"""The command for bounds that figures of wheels that move are to keep: band."""

import re
from collections.abc import Callable, Mapping

from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.text.running import read_end
from ironcage.core.job.values.bands import FIGURES, Band, Dimension
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import Units, angle, typed

BAND_EXAMPLE = "band front camber -2 to 0.5"
_SPAN = re.compile(r"^(?P<bounds>.+?)(?:\s+over\s+(?P<start>.+?)\s+to\s+(?P<stop>.+))?$", re.IGNORECASE)
_ONE = re.compile(r"^at\s+(?P<which>least|most)\s+(?P<value>.+)$", re.IGNORECASE)
_BOTH = re.compile(r"^(?P<least>.+?)\s+to\s+(?P<most>.+)$", re.IGNORECASE)


def _angle(_: Units, text: str) -> float:
    return angle(text.removesuffix("°"))


def _share(_: Units, text: str) -> float:
    return typed.number(text.removesuffix("%")) / 100


def _number(_: Units, text: str) -> float:
    return typed.number(text.lower().removesuffix("hz"))


_READ: Mapping[Dimension, Callable[[Units, str], float]] = {
    "angle": _angle,
    "length": Units.read_length,
    "room": Units.read_length,
    "circle": Units.read_length,
    "share": _share,
    "fine share": _share,
    "ratio": _number,
    "force": Units.read_force,
    "rate": Units.read_linear_stiffness,
    "frequency": _number,
    "pitches": _number,
}


def band(job: Job, chosen: Chosen, rest: str) -> Done:
    """Sets between which bounds a figure of an end is to stay over the travel: `band front camber -2 to 0.5`; or `at
    least 5`, `at most 40`; on a part of the travel, `over -30 to 40`; `band front camber gone`."""
    end, body = read_end(rest, BAND_EXAMPLE)
    low = body.lower()
    name = max((f for f in FIGURES if low == f.lower() or low.startswith(f"{f.lower()} ")), key=len, default=None)
    if name is None:
        words = re.split(r"\s+(?=-?\d|at |gone)", low)[0]
        raise Problem(
            f"No figure of wheels that move is called ‘{words}’." if words else "The band is incomplete.",
            where=words or "band",
            hint=nearest(words, FIGURES) or f"Write for example: {BAND_EXAMPLE}",
        )
    text = body[len(name) :].strip()
    if text.lower() == "gone":
        return Done(f"Take the band of {end} {name} away", edits.remove_band(job, end, name), chosen)
    least, most, span = _bounds(units_of(job), name, text)
    made = edits.put_band(job, Band(axle=end, figure=name, least=least, most=most, **span))
    return Done(f"Set the band of {end} {name}", made, chosen)


def _bounds(units: Units, name: str, text: str) -> tuple[float | None, float | None, dict[str, float]]:
    """The least, the most and the stretch of travel of a band, as they are typed."""
    read = _READ[FIGURES[name]]
    whole = _SPAN.match(text.replace("−", "-"))
    if whole and whole["start"]:
        span = {"start": units.read_length(whole["start"]), "stop": units.read_length(whole["stop"])}
    else:
        span = {}
    bounds = whole["bounds"] if whole else ""
    if one := _ONE.match(bounds):
        value = read(units, one["value"].strip())
        return (value, None, span) if one["which"].lower() == "least" else (None, value, span)
    if both := _BOTH.match(bounds):
        return read(units, both["least"].strip()), read(units, both["most"].strip()), span
    raise Problem(
        f"‘{text}’ is no band." if text else f"Nothing was typed for the band of {name}.",
        where=text or name,
        hint=f"Write for example: {BAND_EXAMPLE}, or at least 0.5, or at most 2.",
    )


COMMANDS = (
    Command(
        "band",
        BAND_EXAMPLE,
        "sets between which bounds a figure of an end’s wheels is to stay over their travel; ‘gone’ takes it away",
        band,
    ),
)
