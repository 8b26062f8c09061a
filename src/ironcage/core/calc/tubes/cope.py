"""Tube ends: how far the cut stands off the joint along every line of the wall.

A tube end is a bundle of straight lines parallel to the tube's axis, on its outer and on its inner
surface. What it lands on (a round tube, a rectangular one, a mitre plane) tells for each line where it
leaves the receiver on the way into the tube's body. That distance, measured along the axis from the
joint, is the profile; a cut made square through the wall must clear both surfaces, so the further of
the two governs. A hole saw of the receiver's diameter cuts both surfaces exactly.

Two lengths follow from it. The saddle tip is what a hole saw leaves: the furthest point of the outer wall, feather
edges included; lines that miss the receiver have no cut and do not count. The template tip is what is left by a cut
square through the wall along the paper, which clears both surfaces. Both, and the shoulder, are looked for between the
lines too.

Frame: `axes` (3, 3) are the tube's x, y, z as rows, x from its first end to its second; distances are
positive into the tube, negative past the joint. Round the tube, positions follow the outline: from +y
towards +z, right-handed about x.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.sections import AnySection
from ironcage.core.calc.tubes.receivers import Receiver, Sights
from ironcage.problem import Problem

Floats = NDArray[np.float64]
LINES = 360  # lines round the wall: one a degree, 0.001 mm of a 50 mm tube's profile lost between two
PARALLEL = math.radians(5)  # flatter than this, two tubes lie side by side and no cope joins them


@dataclass(frozen=True)
class Profile:
    """One tube end. Arrays (n,) follow the outline; mm and rad.

    round_mm: developed position on the outer surface. outer, inner: distance of the cut from the joint along the axis
    on each surface, inner square through the wall from outer. cut: what a cut square through the wall must clear.
    middle: of the wall's middle, on the average.
    misses: share of the outer lines that do not touch the receiver. mark: position angle of the index mark,
    right-handed about x from y.
    saddle_tip, template_tip: the furthest point of a hole saw's cut and of a cut along the paper; shoulder: the deepest
    point of both; distances from the joint, negative past it.
    """

    round_mm: Floats
    girth_mm: float
    outer: Floats
    inner: Floats
    cut: Floats
    middle: float
    misses: float
    mark: float
    saddle_tip: float
    template_tip: float
    shoulder: float

    @property
    def bar(self) -> float:
        """Where a bar that both cuts can be made from ends, squarely, mm from the joint."""
        return min(self.saddle_tip, self.template_tip)


def demand_crossing(way: Floats, direction: Floats) -> float:
    """The acute angle (rad) between a tube and what it lands on; refuses one too flat to cope."""
    angle = math.acos(min(1.0, abs(float(way @ direction))))
    if angle < PARALLEL:
        raise Problem(
            f"The tubes meet at {math.degrees(angle):.1f}°, too flat to cut one to the other.",
            hint="Lap or sleeve them, or move a joint to open the angle.",
        )
    return angle


SHALLOW = math.radians(25)  # flatter than this a joint is hard to weld and to cut


def cautions(angle: float, misses: float, onto: str) -> tuple[str, ...]:
    """What to know of a cut: how much of it lands on nothing, and whether it is too shallow (rad) to cut and weld
    well."""
    found = []
    if misses > 0.001:
        found.append(f"wider than {onto}: {misses:.0%} of the way round lands on nothing")
    if angle < SHALLOW:
        found.append(f"only {math.degrees(angle):.0f}° to {onto}: hard to cut and to weld")
    return tuple(found)


@dataclass(frozen=True, eq=False)
class Foot:
    """A tube end that lands on another at a joint: its section, and `axes` and `way` as of `TubeEnd`."""

    section: AnySection
    axes: Floats
    way: float


def overhang(feet: Sequence[Foot], joint: Floats, receiver: Receiver, outward: Floats) -> float:
    """How far past the joint (3,), along the receiver's unit `outward` (3,), the footprints of tube ends reach, mm."""
    if not feet:
        return 0.0
    walls = [foot.section.contour.lines(LINES)[1] for foot in feet]
    whose = np.repeat(np.arange(len(feet)), [len(wall) for wall in walls])
    across, wall = np.array([foot.axes[1:] for foot in feet])[whose], np.concatenate(walls)
    asides = np.einsum("ni,nij->nj", wall, across)  # of the lines from their tubes' axes
    ways = np.array([foot.way * foot.axes[0] for foot in feet])
    sights = Sights([receiver] * len(feet), ways)
    places = np.einsum("nij,nj->ni", sights.turn[whose], joint + asides) + sights.shift[whose]
    far, touches = sights.leave(whose, *(lambda some, k=k: places[some, k, None] for k in range(3)))
    reached = asides @ outward + far[:, 0] * (ways @ outward)[whose]
    return float(reached[touches[:, 0]].max(initial=0.0))


# Hole saws in common series, mm.
SAWS_MM = (19, 20, 22, 24, 25, 27, 29, 30, 32, 33, 35, 37, 38, 40, 41, 43, 44, 46, 48, 50, 51, 52, 54, 56, 57, 59,
           60, 64, 65, 67, 68, 70, 73, 76, 79, 83, 86, 89, 92, 95, 98, 102, 105, 108, 111, 114)  # fmt: skip


@cache
def nearest_saw(od_mm: float) -> float | None:
    """The common hole saw closest to a receiver's outside diameter, mm; None beyond 1 mm of any."""
    saw = min(SAWS_MM, key=lambda s: abs(s - od_mm))
    return float(saw) if abs(saw - od_mm) <= 1.0 else None
