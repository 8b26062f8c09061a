"""Reading a calculator's JSON, and the pieces that several calculators ask for."""

import json
from typing import Annotated, Any, TypeVar

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ironcage.core.calc.sections import AnySection
from ironcage.core.job.shelf.library import library, read_section
from ironcage.core.job.values.model import Material
from ironcage.problem import Problem, nearest
from ironcage.units import METRIC

MOST_CHARACTERS = 16 * 2**20
Number = Annotated[float, Field(allow_inf_nan=False, ge=-1e9, le=1e9)]
Place = tuple[Number, Number, Number]


class Asked(BaseModel):
    """A part of a calculator's question; unknown names are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid")


Q = TypeVar("Q", bound=Asked)


def asked(kind: type[Q], text: str) -> Q:
    """The question in a JSON text. Raises Problem with the first thing wrong and where."""
    if len(text) > MOST_CHARACTERS:
        raise Problem(f"The question is over {MOST_CHARACTERS // 2**20} MB.", where="input")
    try:
        data = json.loads(text)
    except RecursionError:
        raise Problem("The question is nested too deeply.", where="input") from None
    except ValueError as error:
        raise Problem(f"The question is not JSON (line {getattr(error, 'lineno', 1)}).", where="input") from None
    return demand(kind, data)


def demand(kind: type[Q], data: Any) -> Q:
    """Neutral data as a part of a question. Raises Problem with the first thing wrong and where."""
    try:
        return kind.model_validate(data)
    except ValidationError as error:
        fault = error.errors(include_url=False)[0]
        place = ".".join(str(step) for step in fault["loc"]) or "the question"
        message = fault["msg"][0].lower() + fault["msg"][1:]
        hint = nearest(str(fault["loc"][-1]), kind.model_fields) if fault["type"] == "extra_forbidden" else ""
        raise Problem(f"{place}: {message}.", where=place, hint=hint) from None


def section_of(text: str) -> AnySection:
    """A section from its library name or its sizes, such as `38 x 2` or `40 x 20 x 2`."""
    return read_section(text, METRIC).shape


def material_of(name: str) -> Material:
    """A material from the library by its name."""
    for material in library().materials:
        if material.name.lower() == name.lower():
            return material
    raise Problem(
        f"There is no material ‘{name}’.", where=name, hint=nearest(name, [m.name for m in library().materials])
    )


def plain(array: Any, places: int = 6) -> Any:
    """An array as nested lists of rounded numbers."""
    return np.round(np.asarray(array, dtype=float), places).tolist()
