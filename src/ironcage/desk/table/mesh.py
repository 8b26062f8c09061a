"""Tubes as triangles: one prism a segment, all of a kind made at once."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.frames.beams import Floats, element_axes
from ironcage.core.calc.sections import AnySection


@dataclass(frozen=True)
class Mesh:
    """Points (n, 3) float32, normals (n, 3) float32, triangles (t, 3), and the row (n,) each point was made from."""

    points: NDArray[np.float32]
    normals: NDArray[np.float32]
    triangles: NDArray[np.int64]
    owner: NDArray[np.int64]


class DrawnOutline(NamedTuple):
    """The corners (k, 2) that a section is drawn with, mm, and whether they stand for a round one."""

    corners: Floats
    smooth: bool


def outline_of(section: AnySection, *, coarse: bool = False) -> DrawnOutline:
    """What a section is drawn with, coarse while things change."""
    return DrawnOutline(section.drawn(coarse=coarse), section.is_round)


def prisms(
    start: Floats,
    stop: Floats,
    roll: Floats,
    outlines: Sequence[DrawnOutline],
    shape: NDArray[np.int64],
    owner: NDArray[np.int64],
) -> Mesh:
    """Open prisms from start to stop (n, 3), each with one of `outlines` by its place, `shape` (n,); flat-shaded but
    for round ones, ends left open.

    `owner` (n,) says which tube a prism belongs to. Prisms of no length are left out.
    """
    way = stop - start
    keep = np.flatnonzero(np.sqrt((way * way).sum(axis=1)) > 1e-6)
    across = element_axes(start[keep], stop[keep], roll[keep])[:, 1:]  # (n, 2, 3)
    points, normals, owners = [np.zeros((0, 3), np.float32)], [np.zeros((0, 3), np.float32)], [owner[:0]]
    groups = []
    for n, (outline, smooth) in enumerate(outlines):
        of = shape[keep] == n
        rows = keep[of]
        if not rows.size:
            continue
        following = [*range(1, len(outline)), 0]
        # of a smooth one the normal of a corner is its own direction
        unit = outline if smooth else (outline[following] - outline) @ np.array([[0.0, -1.0], [1.0, 0.0]])
        away = ((unit / np.linalg.norm(unit, axis=1, keepdims=True)) @ across[of]).astype(np.float32)  # (n, k, 3)
        near = (outline @ across[of] + start[rows, None]).astype(np.float32)
        far = near + way[rows, None].astype(np.float32)
        if smooth:
            points.append(np.stack([near, far], axis=1).reshape(-1, 3))
            normals.append(np.stack([away, away], axis=1).reshape(-1, 3))
        else:
            points.append(np.stack([near, near[:, following], far[:, following], far], axis=2).reshape(-1, 3))
            normals.append(np.repeat(away, 4, axis=1).reshape(-1, 3))
        owners.append(np.repeat(owner[rows], len(points[-1]) // len(rows)))
        groups.append((len(rows), len(outline), smooth))
    return Mesh(np.concatenate(points), np.concatenate(normals), _triangles(tuple(groups)), np.concatenate(owners))


def joined(meshes: Sequence[Mesh]) -> Mesh:
    """Several meshes as one; owners stay as they are."""
    counts = np.cumsum([0, *(len(m.points) for m in meshes[:-1])])
    return Mesh(
        np.concatenate([m.points for m in meshes]),
        np.concatenate([m.normals for m in meshes]),
        np.concatenate([m.triangles + first for m, first in zip(meshes, counts, strict=True)]),
        np.concatenate([m.owner for m in meshes]),
    )


@lru_cache(8)  # the same object for frames of the same sections, however their joints move
def _triangles(groups: tuple[tuple[int, int, bool], ...]) -> NDArray[np.int64]:
    """The triangles (t, 3) of groups of prisms: how many, of how many sides, and whether sides share their corners,
    which then are the near rim and the far one."""
    made, base = [np.zeros((0, 3), np.int64)], 0
    for count, sides, smooth in groups:
        side = np.arange(sides)
        following = (side + 1) % sides
        if smooth:
            quads, each = np.stack([side, following, sides + following, sides + side], axis=1), 2 * sides
        else:
            quads, each = np.arange(4 * sides).reshape(-1, 4), 4 * sides
        corners = base + each * np.arange(count)[:, None, None] + quads  # (n, k, 4)
        made += [corners[..., list(three)].reshape(-1, 3) for three in ((0, 1, 2), (0, 2, 3))]
        base += each * count
    return np.concatenate(made)
