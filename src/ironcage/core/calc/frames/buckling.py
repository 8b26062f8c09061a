"""When a whole frame buckles: the factor on its loads at which it loses its stiffness (linear, of the perfect frame).

K·v = −λ·K_g·v with the consistent geometric stiffness of each beam under its axial force (Przemieniecki, eq. 15.38; the
sway and bending terms). Members must
be cut into several beams: with n of them the load of a pinned strut is over by about (π/n)⁴/720, 0.01 % for eight.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.frames.beams import Floats, Frame, to_global
from ironcage.core.calc.frames.eigen import largest
from ironcage.core.calc.frames.layout import layout

FAR = 1e-6  # a factor over a million is none


@dataclass(frozen=True, eq=False)
class Buckling:
    """factor: on the loads, infinite where nothing buckles; shape (n, 6): how it moves then, its largest travel 1."""

    factor: float
    shape: Floats


def geometric_stiffness(frame: Frame, axial: Floats) -> Floats:
    """Element matrices (m, 12, 12) in global axes for axial forces (m,), tension positive, N."""
    length = frame.lengths
    k = np.zeros((len(length), 12, 12))
    for v, r, sign in ((1, 5, 1.0), (2, 4, -1.0)):
        a, b = 1.2 / length, sign * 0.1 * np.ones_like(length)
        near, far = 2 * length / 15, -length / 30
        for i, j, value in (
            (v, v, a),
            (v + 6, v + 6, a),
            (v, v + 6, -a),
            (v, r, b),
            (v, r + 6, b),
            (v + 6, r, -b),
            (v + 6, r + 6, -b),
            (r, r, near),
            (r + 6, r + 6, near),
            (r, r + 6, far),
        ):
            k[:, i, j] = k[:, j, i] = axial * value
    return to_global(k, frame.axes)


def buckling(frame: Frame, held: NDArray[np.bool_], axial: Floats) -> Buckling:
    """The first buckling of a frame held (n, 6) where True under axial forces (m,), N, in its beams."""
    stiffness, freedoms = frame.elements
    laid = layout(len(frame.nodes), stiffness, freedoms, held)
    other = np.zeros_like(stiffness)
    other[: len(axial)] = -geometric_stiffness(frame, axial)
    values, vectors = largest(laid, stiffness, other, 1)
    moved = np.zeros(6 * len(frame.nodes))
    moved[laid.free] = vectors[:, 0]
    shape = moved.reshape(-1, 6)
    travel = float(np.linalg.norm(shape[:, :3], axis=1).max()) or 1.0
    mu = float(values[0])
    return Buckling(1 / mu if mu > FAR else np.inf, shape / travel)
