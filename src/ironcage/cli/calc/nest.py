"""`calc nest`: parts laid out on bars, so that little is bought."""

from typing import Annotated, Any

from pydantic import Field

from ironcage.cli.calc.question import Asked
from ironcage.core.calc.nest.bars import Saw, lay_out

Length = Annotated[float, Field(gt=0, le=1e6)]
Loss = Annotated[float, Field(ge=0, le=1000)]


class NestQuestion(Asked):
    """parts_mm: each part's length; bars_mm: the lengths on sale; offcuts_mm: what is there already; kerf_mm: what a
    cut takes; grip_mm: what is lost of each bar."""

    parts_mm: Annotated[tuple[Length, ...], Field(min_length=1, max_length=5000)]
    bars_mm: Annotated[tuple[Length, ...], Field(max_length=20)] = ()
    offcuts_mm: Annotated[tuple[Length, ...], Field(max_length=2000)] = ()
    kerf_mm: Loss = 2.0
    grip_mm: Loss = 0.0


def nest(question: NestQuestion) -> dict[str, Any]:
    """Each bar with the numbers of its parts (from 0) in the order in which they are cut, and what is bought in all."""
    q = question
    made = lay_out(q.parts_mm, q.bars_mm, q.offcuts_mm, Saw(q.kerf_mm, q.grip_mm))
    return {
        "bought_mm": round(made.bought, 2),
        "least_mm": round(made.bound, 2),
        "proven": made.proven,
        "bars": [
            {"length_mm": bar.length, "bought": bar.bought, "parts": list(bar.parts), "rest_mm": round(bar.rest, 2)}
            for bar in made.bars
        ],
    }
