"""`calc rodend`: how far a rod end tilts, the spacers that let it, and a link's tube between two of them."""

import math
from typing import Annotated, Any

from pydantic import Field

from ironcage.cli.calc.question import Asked
from ironcage.core.calc.linkage.rodends import Eye
from ironcage.problem import Problem

Size = Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]


class RodEndQuestion(Asked):
    """head: outside diameter of the eye; housing: how thick it is; ball: how wide its ball is; tilt_deg: how far it is
    to tilt; length, shank, engaged, lip: between both eyes of a link, from an eye to its thread's end, thread in the
    insert, and the insert outside of its tube; all mm."""

    head: Size
    housing: Size
    ball: Size
    tilt_deg: Annotated[float, Field(ge=0, le=60)] | None = None
    length: Size | None = None
    shank: Size | None = None
    engaged: Size | None = None
    lip: Annotated[float, Field(ge=0, le=1000)] = 0.0


def rodend(question: RodEndQuestion) -> dict[str, Any]:
    """How far it tilts, degrees; a spacer on either side of the ball, mm, for as far as it is to tilt; the tube of a
    link."""
    q = question
    if q.ball <= q.housing:
        raise Problem("The ball is no wider than its housing.", where="ball", hint="Measure both along the bolt.")
    eye = Eye(q.head, q.housing, q.ball)
    told: dict[str, Any] = {"can_tilt_deg": round(math.degrees(eye.limit), 3)}
    if q.tilt_deg is not None:
        spacer = eye.spacer(math.radians(q.tilt_deg))
        told["spacer_each_side"] = None if math.isnan(spacer) else round(spacer, 3)
    if q.length is not None:
        if q.shank is None or q.engaged is None:
            raise Problem("A link's tube needs shank and engaged.", where="shank", hint='Write: "shank": 54')
        told["tube"] = round(q.length - 2 * (q.shank - q.engaged + q.lip), 3)
    return {**told, "limits": "Faces beside the ball are as large as the head; the bolt is square to the link at rest."}
