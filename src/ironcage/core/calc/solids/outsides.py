"""Solids as points: those whose hull they are, discs and balls with a few flat sides."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from ironcage.core.calc.solids.convex import Floats, Solid

ROUND = 28  # corners of a disc


def _ball() -> Floats:
    """Directions (n, 3) of a ball, in rings."""
    rings = [np.array([[0.0, 0, 1], [0, 0, -1]])]
    for polar in np.linspace(0, np.pi, 8)[1:-1]:
        turn = np.linspace(0, 2 * np.pi, max(round(14 * np.sin(polar)), 4), endpoint=False)
        rings.append(
            np.column_stack(
                [np.cos(turn) * np.sin(polar), np.sin(turn) * np.sin(polar), np.full(len(turn), np.cos(polar))]
            )
        )
    return np.vstack(rings)


_BALL = _ball()


def outside(solid: Solid) -> Floats:
    """Points (n, 3) whose hull is the solid, its discs and balls with a few flat sides."""
    points = solid.points
    if solid.disc:
        one = np.cross(solid.axis, (0.0, 0.0, 1.0) if abs(solid.axis[2]) < 0.9 else (1.0, 0.0, 0.0))
        one = one / np.linalg.norm(one)
        two = np.cross(solid.axis, one)
        turn = np.linspace(0, 2 * np.pi, ROUND, endpoint=False)
        rim = solid.disc * (np.cos(turn)[:, None] * one + np.sin(turn)[:, None] * two)
        points = (points[:, None] + rim).reshape(-1, 3)
    if solid.ball:
        points = (points[:, None] + solid.ball * _BALL).reshape(-1, 3)
    return points


def hull_of(solids: Iterable[Solid]) -> Solid:
    """The convex solid round some solids: all that they take up, and what is between them."""
    from scipy.spatial import ConvexHull

    points = np.concatenate([outside(solid) for solid in solids])
    return Solid(points[ConvexHull(points).vertices], np.array([0.0, 0.0, 1.0]))
