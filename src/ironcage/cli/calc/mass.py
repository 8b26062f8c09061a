"""`calc mass`: total, centre of gravity and axle split of things at places."""

from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, Place, plain
from ironcage.core.calc.mass import axle_split, total


class AskedMass(Asked):
    """Something heavy at a place."""

    mass: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]
    at: Place
    name: str = ""


class Question(Asked):
    """Things in kg at places in mm; axles by x, forward positive."""

    parts: Annotated[list[AskedMass], Field(min_length=1, max_length=100_000)]
    front_x: Number | None = None
    rear_x: Number | None = None


def answer(question: Question) -> dict[str, Any]:
    """Total in kg, centre of gravity in mm; with both axles, their shares."""
    summed = total(np.array([p.mass for p in question.parts]), np.array([p.at for p in question.parts]))
    said: dict[str, Any] = {"mass_kg": round(summed.mass, 6), "cg_mm": plain(summed.cg)}
    if question.front_x is not None and question.rear_x is not None:
        share = axle_split(float(summed.cg[0]), question.front_x, question.rear_x)
        said |= {
            "front_share": round(share, 6),
            "front_kg": round(share * summed.mass, 6),
            "rear_kg": round((1 - share) * summed.mass, 6),
        }
    return said
