"""Rod ends: how far a link's ends tilt on their bolts, how far they can, and the spacer that lets them.

A link turns freely about the bolt at either end, and rolls about its own length until both ends share what is left of
that. The tilt of an end is the angle between its bolt and the direction that the bolt has in the link at ride height.
Angles rad, lengths mm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.vectors import cross

Floats = NDArray[np.float64]
PARALLEL = 1e-6  # between a link and a direction: no bolt is square to it that way


def bolt_across(link: Floats, towards: Floats) -> Floats:
    """The direction (3,) square to a link (3,) that is nearest to another (3,): how its bolt lies. Along the car where
    the link runs that way itself."""
    unit = link / np.linalg.norm(link)
    for way in (towards, np.array([1.0, 0.0, 0.0])):
        across = way - (way @ unit) * unit
        if (size := float(np.linalg.norm(across))) > PARALLEL:
            return np.asarray(across / size)
    raise ValueError("a link has no length")


def tilts(links: Floats, bolts: tuple[Floats, Floats], rest: tuple[Floats, tuple[Floats, Floats]]) -> Floats:
    """How far both ends of a link tilt (..., 2), where it runs (..., 3) from its first end to its second and its bolts
    lie (..., 3); rest: the same at ride height, each (3,)."""
    along = links / np.linalg.norm(links, axis=-1, keepdims=True)
    slants = [np.sum(bolt * along, axis=-1) for bolt in bolts]
    twist = _twist(along, bolts) - _twist(rest[0] / np.linalg.norm(rest[0]), rest[1])
    half = ((twist + math.pi) % (2 * math.pi) - math.pi) / 2
    tilted = [np.arccos(np.clip(np.sqrt(np.maximum(1 - s**2, 0.0)) * np.cos(half), -1, 1)) for s in slants]
    return np.stack(tilted, axis=-1)


def _twist(along: Floats, bolts: tuple[Floats, Floats]) -> Floats:
    """How far the second bolt is turned from the first about the link."""
    one, other = (bolt - np.sum(bolt * along, axis=-1, keepdims=True) * along for bolt in bolts)
    turned = np.sum(cross(one, other) * along, axis=-1)
    return np.asarray(np.arctan2(turned, np.sum(one * other, axis=-1)))


@dataclass(frozen=True)
class Eye:
    """A rod end's eye. head: its outside diameter; housing: how thick it is, ball: how wide its ball is, along the
    bolt; all mm, between faces as large as the head."""

    head: float
    housing: float
    ball: float

    @property
    def _corner(self) -> float:
        """From the ball's middle to the edge of the head."""
        return math.hypot(self.head, self.housing)

    @property
    def limit(self) -> float:
        """How far it tilts until the edge of its head touches the face beside it."""
        return math.asin(min(self.ball / self._corner, 1.0)) - math.atan2(self.housing, self.head)

    def spacer(self, tilt: float) -> float:
        """How thick a spacer on either side of the ball lets it tilt so far; 0 where none is needed. nan where the
        head turns past its own edge, and no spacer helps."""
        turned = tilt + math.atan2(self.housing, self.head)
        if turned > math.pi / 2:
            return math.nan
        return max((self._corner * math.sin(turned) - self.ball) / 2, 0.0)
