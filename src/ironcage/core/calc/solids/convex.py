"""Convex solids: what a part, a limb, a tyre or a tube takes up in space.

A solid is the hull of points, swelled by a flat disc across an axis and by a ball. A box is eight points; a
cylinder two points and a disc; a rod with round ends two points and a ball; a plate of any convex outline its corners.
That one form has an exact furthest point in any direction, which is all that `gaps` needs.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.problem import Problem

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Solid:
    """points (k, 3) mm; axis (3,) unit, across which a disc of radius `disc` lies; `ball` radius; mm."""

    points: Floats
    axis: Floats
    disc: float = 0.0
    ball: float = 0.0

    @property
    def bounds(self) -> Floats:
        """Least and greatest x, y, z (2, 3) that the solid reaches."""
        made: Floats = bounds_of([self])[0]
        return made

    def moved(self, turn: Floats, by: Floats) -> Solid:
        """Turned by a rotation (3, 3), columns the new axes, then moved by (3,) mm."""
        return Solid(self.points @ turn.T + by, turn @ self.axis, self.disc, self.ball)

    def swept(self, by: Floats) -> Solid:
        """Everything it passes when it slides along (3,) mm: the hull of its start and its end."""
        return Solid(np.vstack([self.points, self.points + by]), self.axis, self.disc, self.ball)


def bounds_of(solids: Sequence[Solid]) -> Floats:
    """Least and greatest x, y, z (n, 2, 3) that each of some solids reaches, mm."""
    starts = np.cumsum([0, *(len(s.points) for s in solids[:-1])])
    points = np.concatenate([s.points for s in solids])
    axes, discs, balls = (np.array([getattr(s, name) for s in solids]) for name in ("axis", "disc", "ball"))
    out = discs[:, None] * np.sqrt(np.maximum(0.0, 1.0 - axes**2)) + balls[:, None]
    low, high = (way.reduceat(points, starts) for way in (np.minimum, np.maximum))
    return np.stack([low - out, high + out], axis=1)


_NO_AXIS = np.array([0.0, 0.0, 1.0])
_CORNERS = np.array([[x, y, z] for x in (-0.5, 0.5) for y in (-0.5, 0.5) for z in (-0.5, 0.5)])


def box(size: tuple[float, float, float]) -> Solid:
    """A box of size x, y, z about the origin, mm."""
    return Solid(_CORNERS * np.array(size), _NO_AXIS)


def cylinder(radius: float, start: Floats, stop: Floats) -> Solid:
    """A flat-ended cylinder from start to stop (3,), mm."""
    way = np.asarray(stop, dtype=float) - start
    return Solid(np.array([start, stop], dtype=float), way / np.linalg.norm(way), radius)


def rod(radius: float, start: Floats, stop: Floats) -> Solid:
    """A rod with round ends from start to stop (3,), mm."""
    return Solid(np.array([start, stop], dtype=float), _NO_AXIS, 0.0, radius)


def ball(radius: float, centre: Floats) -> Solid:
    """A ball, mm."""
    return Solid(np.array([centre], dtype=float), _NO_AXIS, 0.0, radius)


def plate(outline: Floats, thickness: float) -> list[Solid]:
    """A flat outline (k, 2) in x and y, half its thickness above and below z = 0, as convex pieces; mm.

    Hollow outlines are cut into triangles by clipping ears (Meisters 1975). Raises Problem for an outline that crosses
    itself or encloses nothing.
    """
    corners = np.asarray(outline, dtype=float)
    if len(corners) >= 3 and _crosses_itself(corners):
        raise Problem(
            "The outline crosses itself.", where="outline", hint="Give its corners in order round the outside."
        )
    area = _area(corners)
    if len(corners) < 3 or abs(area) < 1.0:
        raise Problem("The outline encloses nothing.", where="outline", hint="Give three corners or more, in order.")
    if area < 0:
        corners = corners[::-1]
    pieces = [corners] if _convex(corners) else _ears(corners)
    half = thickness / 2
    return [
        Solid(np.vstack([np.column_stack([p, np.full(len(p), z)]) for z in (-half, half)]), _NO_AXIS) for p in pieces
    ]


def _area(corners: Floats) -> float:
    x, y = corners.T
    return float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum() / 2)


def _turns(corners: Floats) -> Floats:
    """Twice the signed area at each corner: positive where it turns left."""
    before, after = np.roll(corners, 1, axis=0), np.roll(corners, -1, axis=0)
    one, two = corners - before, after - corners
    return np.asarray(one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0])


def _convex(corners: Floats) -> bool:
    return bool((_turns(corners) >= -1e-9).all())


def _crosses_itself(corners: Floats) -> bool:
    count = len(corners)
    after = np.roll(corners, -1, axis=0)

    def side(a: Floats, b: Floats, p: Floats) -> float:
        return float((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]))

    for i in range(count):
        for j in range(i + 2, count):
            if i == 0 and j == count - 1:
                continue
            a, b, c, d = corners[i], after[i], corners[j], after[j]
            if side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0:
                return True
    return False


def _ears(corners: Floats) -> list[Floats]:
    left, pieces = list(range(len(corners))), []
    while len(left) > 3:
        for n in range(len(left)):
            tri = corners[[left[n - 1], left[n], left[(n + 1) % len(left)]]]
            others = corners[[k for k in left if k not in (left[n - 1], left[n], left[(n + 1) % len(left)])]]
            if _area(tri) > 1e-9 and not _inside(tri, others).any():
                pieces.append(tri)
                left.pop(n)
                break
        else:
            flat = [
                n
                for n in range(len(left))
                if abs(_area(corners[[left[n - 1], left[n], left[(n + 1) % len(left)]]])) <= 1e-9
            ]
            if not flat:
                raise Problem(
                    "The outline can't be cut into pieces: it touches or crosses itself.",
                    where="outline",
                    hint="Move the corners where it comes back to itself apart.",
                )
            left.pop(flat[0])  # a corner on the line between its neighbours, which nothing is lost with
    return [*pieces, corners[left]]


def _inside(tri: Floats, points: Floats) -> NDArray[np.bool_]:
    signs = np.stack([
        (b[0] - a[0]) * (points[:, 1] - a[1]) - (b[1] - a[1]) * (points[:, 0] - a[0])
        for a, b in ((tri[0], tri[1]), (tri[1], tri[2]), (tri[2], tri[0]))
    ])  # fmt: skip
    return np.asarray((signs > 1e-9).all(axis=0))


def rotation(yaw: float, pitch: float, roll: float) -> Floats:
    """The turn (3, 3) of a pose, columns the part's axes: roll about x, then pitch about y (nose down positive),
    then yaw about z (to the left positive); rad."""
    cy, sy, cp, sp, cr, sr = (f(a) for a in (yaw, pitch, roll) for f in (math.cos, math.sin))
    return np.array(
        [
            [cy * cp, cy * sp * sr - sy * cr, cy * sp * cr + sy * sr],
            [sy * cp, sy * sp * sr + cy * cr, sy * sp * cr - cy * sr],
            [-sp, cp * sr, cp * cr],
        ]
    )


def angles(turn: Floats) -> tuple[float, float, float]:
    """Yaw, pitch and roll (rad) of a rotation (3, 3); the other way round of `rotation`."""
    pitch = math.asin(float(np.clip(-turn[2, 0], -1, 1)))
    if abs(turn[2, 0]) > 1 - 1e-12:  # straight up or down: only yaw and roll together are known
        return math.atan2(-turn[0, 1], turn[1, 1]), pitch, 0.0
    return math.atan2(turn[1, 0], turn[0, 0]), pitch, math.atan2(turn[2, 1], turn[2, 2])


def by_three_points(own: Floats, there: Floats) -> tuple[Floats, Floats]:
    """The turn (3, 3) and move (3,) that bring three points of a part (3, 3, rows) to where they were measured.

    Least squares after Kabsch 1976, so small errors of the tape are shared. Raises Problem for three points in a line.
    """
    for points, what in ((own, "on the part"), (there, "as measured")):
        spread = np.linalg.svd(points - points.mean(axis=0), compute_uv=False)
        if spread[1] < 1e-3 * max(spread[0], 1e-9) or spread[0] < 1.0:
            raise Problem(
                f"The three points {what} lie in a line.",
                where="points",
                hint="Take one that stands well off the line of the other two.",
            )
    a, b = own - own.mean(axis=0), there - there.mean(axis=0)
    u, _, vt = np.linalg.svd(a.T @ b)
    flip = np.diag([1.0, 1.0, np.sign(np.linalg.det(vt.T @ u.T))])
    turn = vt.T @ flip @ u.T
    return turn, there.mean(axis=0) - turn @ own.mean(axis=0)
