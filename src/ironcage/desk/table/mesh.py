"""Tubes as triangles: one prism a segment, all of a kind made at once."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.beams import Floats, element_axes
from ironcage.core.calc.sections import AnySection

SIDES = {"round": 12, "rect": 4, "angle": 6}
COARSE_SIDES = 8  # of round tube, while things change


@dataclass(frozen=True)
class Mesh:
    """Points (n, 3) float32, normals (n, 3) float32, triangles (t, 3), and the row (n,) each point was made from."""

    points: NDArray[np.float32]
    normals: NDArray[np.float32]
    triangles: NDArray[np.int64]
    owner: NDArray[np.int64]


def outline_of(section: AnySection, *, coarse: bool = False) -> Floats:
    """The corners (k, 2) that a section is drawn with, mm."""
    return section.outline(COARSE_SIDES if coarse and section.kind == "round" else SIDES[section.kind])


def prisms(start: Floats, stop: Floats, roll: Floats, outlines: list[Floats], owner: NDArray[np.int64]) -> Mesh:
    """Open prisms from start to stop (n, 3) with an outline each, flat-shaded, ends left open.

    `owner` (n,) says which tube a prism belongs to. Prisms of no length are left out.
    """
    keep = np.linalg.norm(stop - start, axis=1) > 1e-6
    start, stop, roll, owner = start[keep], stop[keep], roll[keep], owner[keep]
    outlines = [o for o, k in zip(outlines, keep, strict=True) if k]
    axes = element_axes(start, stop, roll) if len(start) else np.zeros((0, 3, 3))
    points, normals, triangles, owners, base = [], [], [], [], 0
    counts = np.array([len(o) for o in outlines], dtype=np.int64)
    for sides in np.unique(counts):
        rows = np.flatnonzero(counts == sides)
        shape = np.stack([outlines[r] for r in rows])  # (n, k, 2)
        following = [*range(1, int(sides)), 0]
        section_axes = axes[rows, 1:]
        smooth = sides in (SIDES["round"], COARSE_SIDES)  # then the normal of a corner is its own direction
        if smooth:
            unit = shape
        else:
            edge = shape[:, following] - shape
            unit = np.stack([edge[..., 1], -edge[..., 0]], axis=-1)
        away = (unit / np.sqrt((unit * unit).sum(axis=-1, keepdims=True))) @ section_axes
        rim = shape @ section_axes
        near, far = rim + start[rows, None], rim + stop[rows, None]
        quad = np.stack([near, near[:, following], far[:, following], far], axis=2)  # (n, k, 4, 3)
        beside = away[:, following] if smooth else away
        light = np.stack([away, beside, beside, away], axis=2)
        count = len(rows) * int(sides)
        first = base + 4 * np.arange(count)[:, None]
        triangles += [first + np.array(corner) for corner in ((0, 1, 2), (0, 2, 3))]
        points.append(quad.reshape(-1, 3))
        normals.append(light.reshape(-1, 3))
        owners.append(np.repeat(owner[rows], 4 * int(sides)))
        base += 4 * count
    if not points:
        return Mesh(
            np.zeros((0, 3), np.float32),
            np.zeros((0, 3), np.float32),
            np.zeros((0, 3), np.int64),
            np.zeros(0, np.int64),
        )
    return Mesh(np.concatenate(points).astype(np.float32), np.concatenate(normals).astype(np.float32),
                np.concatenate(triangles), np.concatenate(owners))  # fmt: skip
