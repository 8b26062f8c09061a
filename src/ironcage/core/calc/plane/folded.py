"""Sheet with its edges folded square, laid flat: where its outline is cut and where its bends are."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ironcage.problem import Problem
from ironcage.units import said

Floats = NDArray[np.float64]
NEUTRAL = 0.44  # where a sheet keeps its length in a bend, as a share of its thickness from the inside
INWARD = 1e-9  # a corner that turns less to the right than this is straight


class FoldedSheet(NamedTuple):
    """outline (n, 2): to cut, mm; bends (k, 2, 2): the middle line of each bend from end to end."""

    outline: Floats
    bends: Floats


def folded_edges(rim: Floats, insets: Floats, high: float, thickness: float, radius: float) -> FoldedSheet:
    """A sheet whose edges are all folded square to the same side.

    rim (n, 2): anticlockwise; insets (n,): how far inside of each side of the rim, from a corner to the next, the outer
    face of its fold stands; high: of the folded edge over all; radius: inside the bend, mm. A bend takes
    π/2 · (radius + NEUTRAL · thickness) of sheet. Corners are left open as far as the bends reach. Raises Problem for a
    rim with an inner corner, a fold with no room for its bend, and folds that leave nothing between them.
    """
    setback = radius + thickness
    if high <= setback:
        raise Problem(
            f"A fold {said.size(high)} high has no room for its bend, which takes {said.size(setback)}.",
            where="fold",
            hint=f"Make it higher than {said.size(setback)}, or its radius less.",
        )
    ways = np.roll(rim, -1, axis=0) - rim
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    turns = np.roll(ways, 1, axis=0)
    if (turns[:, 0] * ways[:, 1] - turns[:, 1] * ways[:, 0] < -INWARD).any():
        raise Problem(
            "The sheet has an inner corner, where two folds would be in each other's way.",
            where="fold",
            hint="Make two panels of it, or fold no edges.",
        )
    outward = np.stack([ways[:, 1], -ways[:, 0]], axis=1)
    corners = _crossings(rim - (insets + setback)[:, None] * outward, ways)
    after = np.roll(corners, -1, axis=0)
    if (np.einsum("ij,ij->i", after - corners, ways) <= 0).any():
        raise Problem(
            "Nothing is left of the sheet between its folds.",
            where="fold",
            hint="Make the folds lower or the panel larger.",
        )
    bend = math.pi / 2 * (radius + NEUTRAL * thickness)
    out = (bend + high - setback) * outward
    outline = np.stack([corners, corners + out, after + out, after], axis=1).reshape(-1, 2)
    middle = bend / 2 * outward
    different = np.linalg.norm(outline - np.roll(outline, 1, axis=0), axis=1) > 1e-9
    return FoldedSheet(outline[different], np.stack([corners + middle, after + middle], axis=1))


def _crossings(places: Floats, ways: Floats) -> Floats:
    """Where each line, through a place (n, 2) along a way (n, 2), crosses the one before it; its own place where both
    run the same way."""
    before, way_before = np.roll(places, 1, axis=0), np.roll(ways, 1, axis=0)
    cross = way_before[:, 0] * ways[:, 1] - way_before[:, 1] * ways[:, 0]
    apart = places - before
    along = (apart[:, 0] * ways[:, 1] - apart[:, 1] * ways[:, 0]) / np.where(np.abs(cross) > INWARD, cross, 1.0)
    return np.where((np.abs(cross) > INWARD)[:, None], before + along[:, None] * way_before, places)
