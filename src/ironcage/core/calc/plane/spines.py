"""Plates along a line that turns: their outline beside it, mitred at every turn."""

from __future__ import annotations

import math

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.problem import Problem
from ironcage.units import said

STRAIGHT = math.radians(0.05)  # a line that turns less goes straight on


def flattened_line(places: Floats) -> tuple[Floats, float]:
    """A line in space (n, 3) laid into the plane that fits it best, starting along x (n, 2), and the furthest that one
    of its corners is off that plane, mm."""
    middle = places.mean(axis=0)
    right, up, normal = np.linalg.svd(np.vstack([places - middle, np.zeros((3, 3))]))[2]
    flat = (places - middle) @ np.stack([right, up]).T
    first = flat[1] - flat[0]
    c, s = first / np.linalg.norm(first)
    return flat @ np.array([[c, -s], [s, c]]), float(np.abs((places - middle) @ normal).max())


def turns_of(line: Floats) -> list[float]:
    """The angle (rad, left positive) of every corner of a flat line (n, 2) at which it does not go straight on."""
    ways = np.diff(line, axis=0)
    heads = np.arctan2(ways[:, 1], ways[:, 0])
    turns = (np.diff(heads) + math.pi) % (2 * math.pi) - math.pi
    return [float(t) for t in turns if abs(t) > STRAIGHT]


def along_spine(line: Floats, depth: float, tip: float) -> Floats:
    """The outline (k, 2), anticlockwise, mm, of a plate so deep along a flat line (n, 2), half of it to either side,
    which narrows to a point over `tip` mm at both ends (0: square ends).

    Raises Problem where a corner is so near to an end or to the next that the plate has no room to turn.
    """
    ways = np.diff(line, axis=0)
    lengths = np.linalg.norm(ways, axis=1)
    ways = ways / lengths[:, None]
    need = [tip, *(depth / 2 * abs(math.tan(t / 2)) for t in _all_turns(ways)), tip]
    for n, length in enumerate(lengths):
        if need[n] + need[n + 1] > length + 1e-9:
            raise Problem(
                f"A plate {said.sizes(depth)} deep has no room to turn: there are {said.length(float(length))} of "
                f"straight tube, and it needs {said.length(need[n] + need[n + 1])}.",
                hint="Make it longer, or less deep.",
            )
    asides = np.column_stack([-ways[:, 1], ways[:, 0]])
    left, right = [], []
    for n, place in enumerate(line):
        before, after = max(n - 1, 0), min(n, len(ways) - 1)
        if n in (0, len(line) - 1):
            inward = ways[0] if n == 0 else -ways[-1]
            place = place + tip * inward
        mitre = asides[before] + asides[after]
        mitre = mitre / (mitre @ asides[after]) * depth / 2
        left.append(place + mitre)
        right.append(place - mitre)
    ends = [line[-1:], line[:1]] if tip else [line[:0], line[:0]]
    return np.vstack([right, ends[0], left[::-1], ends[1]])


def _all_turns(ways: Floats) -> list[float]:
    cosines = np.clip(np.einsum("ij,ij->i", ways[:-1], ways[1:]), -1, 1)
    return [float(t) for t in np.arccos(cosines)]
