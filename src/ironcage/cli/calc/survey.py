"""`calc survey`: where points stand by distances, heights and levels that contradict each other a little."""

import math
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, Place, plain
from ironcage.core.calc.adjust.survey import CHECKED, Observed, adjusted
from ironcage.problem import Problem, nearest

KINDS: dict[str, Literal["distance", "height", "level"]] = {
    "distance": "distance",
    "height": "height",
    "level_deg": "level",
}
Positive = Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]


class SurveyReading(Asked):
    """A reading: of two points and a distance in mm or a level in degrees, or of one point and its height in mm.
    sigma: one standard deviation, in the same unit."""

    of: Annotated[tuple[str, ...], Field(min_length=1, max_length=2)]
    distance: Number | None = None
    height: Number | None = None
    level_deg: Number | None = None
    sigma: Positive


class SurveyQuestion(Asked):
    """Points by name where they are drawn, mm; readings; held: the axes that a point keeps, such as
    `{"A": "xyz", "B": "yz", "C": "z"}`; none for the best fit."""

    points: Annotated[dict[str, Place], Field(min_length=1, max_length=500)]
    readings: Annotated[list[SurveyReading], Field(min_length=1, max_length=5000)]
    held: dict[str, str] = Field(default_factory=dict)


def survey(question: SurveyQuestion) -> dict[str, Any]:
    """Each point's place in mm, with its standard deviations what of it is told, and a number that
    points share which distances and levels tie together; each reading judged."""
    names = list(question.points)
    index = {name: n for n, name in enumerate(names)}
    held = [
        (_row(index, name), "xyz".index(axis)) for name, axes in question.held.items() for axis in _axes(name, axes)
    ]
    observed = [_observed(r, n, index) for n, r in enumerate(question.readings)]
    found = adjusted(np.array(list(question.points.values()), dtype=float), observed, held)
    scales = [180 / math.pi if o.kind == "level" else 1.0 for o in observed]
    judged = found.judged
    return {
        "points": [
            {
                "point": name,
                "at_mm": plain(found.places[n], 6),
                "sigma_mm": plain(np.sqrt(np.maximum(np.diagonal(found.covariance[n]), 0)), 6),
                "told": "".join(axis for axis, told in zip("xyz", found.told[n], strict=True) if told),
                "group": int(found.group[n]) + 1,
            }
            for n, name in enumerate(names)
        ],
        "readings": [
            {
                "of": list(r.of),
                "left": round(float(judged.residuals[n]) * scales[n], 6),
                "redundancy": round(float(judged.redundancy[n]), 6),
                "w": round(float(judged.normalised[n]), 6),
                "error_if_wrong": round(float(judged.errors[n]) * scales[n], 6),
                "checked": bool(judged.redundancy[n] > CHECKED),
            }
            for n, r in enumerate(question.readings)
        ],
        "spare_readings": found.spare,
        "factor": None if found.factor is None else round(found.factor, 6),
        "suspect": None if judged.suspect is None else judged.suspect + 1,
    }


def _row(index: dict[str, int], name: str) -> int:
    if name not in index:
        raise Problem(f"There is no point ‘{name}’.", where=name, hint=nearest(name, index))
    return index[name]


def _axes(name: str, axes: str) -> str:
    if not axes or set(axes) - set("xyz"):
        raise Problem(f"‘{axes}’ are no axes to hold {name} by.", where=f"held.{name}", hint="Write for example xyz.")
    return axes


def _observed(r: SurveyReading, n: int, index: dict[str, int]) -> Observed:
    given = [(word, getattr(r, word)) for word in KINDS if getattr(r, word) is not None]
    if len(given) != 1:
        raise Problem(
            f"readings.{n} says {len(given)} things; it needs one of {', '.join(KINDS)}.", where=f"readings.{n}"
        )
    word, value = given[0]
    wanted = 1 if word == "height" else 2
    if len(r.of) != wanted:
        raise Problem(f"readings.{n}: a {word} is of {wanted}, and {len(r.of)} are named.", where=f"readings.{n}")
    scale = math.pi / 180 if word == "level_deg" else 1.0
    rows = [_row(index, name) for name in r.of]
    return Observed(KINDS[word], rows[0], rows[-1], value * scale, r.sigma * scale)
