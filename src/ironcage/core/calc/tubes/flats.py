"""Round tube that is pressed flat: between round and flat it is taken as two straight sides and two half rounds.

Pressing bends the wall and does not stretch it, so the line at the middle of the wall keeps its length. Springing back
and thinning in the folds are not in it.
"""

from __future__ import annotations

import math

import numpy as np

from ironcage.core.calc.frames.beams import Floats


def flat_width(od_mm: float, wall_mm: float) -> float:
    """How wide a round tube is where it is pressed flat, mm: half the girth of its bore, and two walls."""
    return pressed_width(od_mm, 2 * wall_mm)


def pressed_width(od_mm: float, height_mm: float) -> float:
    """How wide a round tube is where it is pressed to a height, mm: the middle of the wall keeps its length, so each
    straight side gets pi / 2 of what the height lost."""
    return height_mm + math.pi / 2 * (od_mm - height_mm)


def pressed(od_mm: float, wall_mm: float, height_mm: float, turns: Floats) -> tuple[Floats, Floats, Floats]:
    """The outer and the inner wall and the outward normals (n, 2) of a tube that is pressed to a height, its width
    along the first axis; turns (n,): where the places were round the tube before, from the first axis, rad."""
    straight = math.pi / 4 * (od_mm - height_mm)  # half of a side
    radius = (height_mm - wall_mm) / 2  # of a half round, at the middle of the wall
    quarter, girth = math.pi / 2 * radius, math.pi * (od_mm - wall_mm)
    along = (turns / (2 * math.pi) * girth + quarter) % girth  # from the start of the first half round
    lap = 2 * (quarter + straight)
    side, here = np.divmod(along, lap)
    angle = np.minimum(here / max(radius, 1e-12), math.pi) - math.pi / 2 + math.pi * side
    normals = np.column_stack([np.cos(angle), np.sin(angle)])
    way = np.where(side > 0, -1.0, 1.0)
    moved = way * (straight - np.maximum(here - 2 * quarter, 0.0))
    middle = radius * normals + np.column_stack([moved, np.zeros_like(moved)])
    return middle + wall_mm / 2 * normals, middle - wall_mm / 2 * normals, normals
