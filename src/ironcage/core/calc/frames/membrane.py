"""Flat sheet that stiffens a frame in its own plane, held at the joints it spans.

Constant-strain triangles in plane stress (Turner and others 1956). A sheet of four corners is split along both
diagonals in turn and each split counts half, so that neither is favoured; one of more corners is fanned from its
middle, which is condensed out. What the sheet does between its corners (its own buckling, the edge tubes it stiffens)
is not in it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.frames.dense_elements import as_elements

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Membrane:
    """A sheet. corners: node numbers in order round it; thickness, mm, as far as it counts; e: MPa; poisson."""

    corners: tuple[int, ...]
    thickness: float
    e: float
    poisson: float

    def elements(self, nodes: Floats) -> list[tuple[Floats, Ints]]:
        """Stiffnesses (12, 12) in global axes with their freedoms (12,), from nodes (n, 3), mm. Freedoms that repeat
        carry zeros."""
        corners = self.corners
        if len(corners) == 3:
            return [self._padded(corners, self._triangle(nodes[list(corners)], 1.0))]
        if len(corners) == 4:
            a, b, c, d = corners
            return [
                self._padded(three, self._triangle(nodes[list(three)], 0.5))
                for three in ((a, b, c), (a, c, d), (a, b, d), (b, c, d))
            ]
        return self._fan(nodes)

    def _triangle(self, places: Floats, share: float) -> Floats:
        """Stiffness (9, 9) of a triangle (3, 3) in global axes."""
        x = places[1] - places[0]
        long = float(np.linalg.norm(x))
        x = x / long
        z = np.cross(x, places[2] - places[0])
        twice_area = float(np.linalg.norm(z)) * long
        if twice_area < 1e-9:
            return np.zeros((9, 9))
        y = np.cross(z / np.linalg.norm(z), x)
        flat = (places - places[0]) @ np.stack([x, y]).T
        b = np.zeros((3, 6))
        for i, (j, k) in enumerate(((1, 2), (2, 0), (0, 1))):
            dx, dy = flat[j, 1] - flat[k, 1], flat[k, 0] - flat[j, 0]
            b[:, 2 * i : 2 * i + 2] = np.array([[dx, 0], [0, dy], [dy, dx]]) / twice_area
        nu = self.poisson
        d = self.e / (1 - nu**2) * np.array([[1, nu, 0], [nu, 1, 0], [0, 0, (1 - nu) / 2]])
        plane = np.kron(np.eye(3), np.stack([x, y]))
        return np.asarray(share * self.thickness * twice_area / 2 * plane.T @ b.T @ d @ b @ plane)

    @staticmethod
    def _padded(corners: tuple[int, ...], k: Floats) -> tuple[Floats, Ints]:
        full = np.zeros((12, 12))
        full[:9, :9] = k
        freedoms = (np.array(corners)[:, None] * 6 + np.arange(3)).ravel()
        return full, np.concatenate([freedoms, freedoms[:3]])

    def _fan(self, nodes: Floats) -> list[tuple[Floats, Ints]]:
        """A sheet of many corners, its middle condensed out, shared out in twelves of freedoms."""
        corners = np.array(self.corners)
        count = len(corners)
        places = nodes[corners]
        middle = places.mean(axis=0)
        normal = np.linalg.svd(places - middle)[2][2]
        whole = np.zeros((3 * count + 3, 3 * count + 3))
        for n in range(count):
            m = (n + 1) % count
            rows = (np.array([n, m, count])[:, None] * 3 + np.arange(3)).ravel()
            whole[np.ix_(rows, rows)] += self._triangle(np.array([places[n], places[m], middle]), 1.0)
        inner = whole[-3:, -3:] + np.outer(normal, normal) * np.trace(
            whole[-3:, -3:]
        )  # nothing holds the middle square to the sheet
        k = whole[:-3, :-3] - whole[:-3, -3:] @ np.linalg.solve(inner, whole[-3:, :-3])
        return as_elements(k, (corners[:, None] * 6 + np.arange(3)).ravel())
