"""Within which bounds a figure of an end's wheels is to stay over their travel."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from ironcage.core.job.values.base import Value
from ironcage.core.job.values.running import Axle

Dimension = Literal[
    "angle", "length", "room", "circle", "share", "fine share", "ratio", "force", "rate", "frequency", "pitches"
]
FIGURES: Mapping[str, Dimension] = {  # what is told of wheels that move, and what it is counted in
    "camber": "angle",
    "toe in": "angle",
    "caster": "angle",
    "kingpin inclination": "angle",
    "scrub radius": "length",
    "trail": "length",
    "track change": "length",
    "wheelbase change": "length",
    "roll centre": "length",
    "front centre aside": "length",
    "front centre height": "length",
    "side centre ahead": "length",
    "side centre height": "length",
    "braking anti": "share",
    "drive anti": "share",
    "motion ratio": "ratio",
    "coil-over length": "length",
    "shift": "length",
    "axle steer": "angle",
    "pinion": "angle",
    "bump steer": "angle",
    "caster over travel": "angle",
    "roll steer": "fine share",
    "anti-squat": "share",
    "bind": "length",
    "left wheel steers": "angle",
    "right wheel steers": "angle",
    "Ackermann": "share",
    "turning circle": "circle",
    "lifts the car": "length",
    "anti-lift": "share",
    "sprockets apart": "length",
    "head angle": "angle",
    "wheel steers": "angle",
    "wheel leans": "angle",
    "anti-dive": "share",
    "leg length": "length",
    "pitches needed": "pitches",
    "axle rises": "length",
    "adjuster length": "length",
    "wheel load": "force",
    "wheel rate": "rate",
    "ride frequency": "frequency",
    "to the bump stop": "room",
    "to solid": "room",
    "to coil bind": "room",
    "to full length": "room",
}


def _known(name: str) -> str:
    if name not in FIGURES:
        raise ValueError(f"no figure of wheels that move is called {name}")
    return name


Bound = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
ALL_MM = 1000.0  # more travel, up or down, than any wheel has


class Band(Value):
    """A figure of an end, straight ahead or level, and the least and the most that it is to be, in rad, mm, N, N/mm, Hz
    or as a share, None where it may be as little or as much as it is; from `start` to `stop` of travel, mm, of a beam
    over all of its steering."""

    axle: Axle
    figure: Annotated[str, AfterValidator(_known)]
    least: Bound | None = None
    most: Bound | None = None
    start: Bound = -ALL_MM
    stop: Bound = ALL_MM

    @property
    def partial(self) -> bool:
        """Whether it holds on a part of the travel alone."""
        return self.start > -ALL_MM or self.stop < ALL_MM
