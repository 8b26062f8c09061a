"""How a frame rings, free or held: natural frequencies and shapes, with what kind of shape each is.

Consistent mass of each beam (Przemieniecki, eq. 11.20 without its shear terms, with the polar inertia of its section),
point masses at joints. The equations are shifted by a few hertz so that the six rigid motions can be factorised along.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.frames.beams import Floats, Frame, to_global
from ironcage.core.calc.frames.eigen import largest
from ironcage.core.calc.frames.layout import layout
from ironcage.core.calc.frames.rigs import rigid_motions

SHIFT_HZ, RIGID_HZ = 10.0, 0.5
ALIKE = 0.4  # how much of a mode's motion a pure twist or bend must tell for the mode to be called so
Kind = Literal["twist", "bending", "sideways", "local"]


@dataclass(frozen=True, eq=False)
class Mode:
    """hz; kind: what the frame does as a whole, local where mostly one tube rings; shape (n, 6), its largest travel
    1."""

    hz: float
    kind: Kind
    shape: Floats


def consistent_mass(frame: Frame, per_mm: Floats) -> Floats:
    """Element mass matrices (m, 12, 12) in global axes, in tonnes and mm (so that with N and mm time is in seconds);
    per_mm: kg a mm (m,)."""
    length, mass = frame.lengths, per_mm * frame.lengths * 1e-3
    m = np.zeros((len(length), 12, 12))

    def put(i: int, j: int, value: Floats) -> None:
        m[:, i, j] = m[:, j, i] = value

    polar = (frame.i_y + frame.i_z) / frame.area
    for i, near, far in ((0, mass / 3, mass / 6), (3, mass * polar / 3, mass * polar / 6)):
        put(i, i, near)
        put(i + 6, i + 6, near)
        put(i, i + 6, far)
    for v, r, s in ((1, 5, 1.0), (2, 4, -1.0)):
        put(v, v, 13 / 35 * mass)
        put(v + 6, v + 6, 13 / 35 * mass)
        put(v, v + 6, 9 / 70 * mass)
        put(v, r, s * 11 / 210 * mass * length)
        put(v + 6, r + 6, -s * 11 / 210 * mass * length)
        put(v, r + 6, -s * 13 / 420 * mass * length)
        put(v + 6, r, s * 13 / 420 * mass * length)
        put(r, r, mass * length**2 / 105)
        put(r + 6, r + 6, mass * length**2 / 105)
        put(r, r + 6, -mass * length**2 / 140)
    return to_global(m, frame.axes)


def modes(
    frame: Frame, per_mm: Floats, masses: Floats, count: int, held: NDArray[np.bool_] | None = None
) -> tuple[Mode, ...]:
    """The first `count` modes that are no rigid motion, rising. per_mm: kg a mm of each beam (m,); masses: kg at
    each node (n,); held (n, 6) where True, nothing unless given."""
    stiffness, freedoms = frame.elements
    beams = len(frame.ends)
    mass = np.zeros_like(stiffness)
    mass[:beams] = consistent_mass(frame, per_mm)
    lumps = np.flatnonzero(masses > 0)
    points = np.zeros((len(lumps), 12, 12))
    points[:, range(3), range(3)] = masses[lumps, None] * 1e-3
    at = np.repeat(lumps[:, None] * 6 + np.arange(6), 2, axis=0).reshape(-1, 12)
    shift = (2 * np.pi * SHIFT_HZ) ** 2
    stiffness, mass = np.concatenate([stiffness, points * 0]), np.concatenate([mass, points])
    laid = layout(
        len(frame.nodes),
        stiffness,
        np.concatenate([freedoms, at]),
        np.zeros((len(frame.nodes), 6), dtype=bool) if held is None else held,
    )
    values, vectors = largest(laid, stiffness + shift * mass, mass, count + 6)
    moved = np.zeros((6 * len(frame.nodes), len(values)))
    moved[laid.free] = vectors
    spread = _node_masses(frame, per_mm, masses)
    made: list[Mode] = []
    for value, shape in zip(values, moved.T, strict=True):
        hz = float(np.sqrt(max(1 / value - shift, 0.0)) / (2 * np.pi)) if value > 0 else np.inf
        if hz > RIGID_HZ and len(made) < count:
            parts = shape.reshape(-1, 6)
            travel = float(np.linalg.norm(parts[:, :3], axis=1).max())
            made.append(Mode(hz, _kind(frame.nodes, spread, parts[:, :3]), parts / travel))
    return tuple(made)


def _node_masses(frame: Frame, per_mm: Floats, masses: Floats) -> Floats:
    half = per_mm * frame.lengths / 2
    return masses + np.bincount(frame.ends.ravel(), np.repeat(half, 2), len(frame.nodes))


def _kind(nodes: Floats, mass: Floats, shape: Floats) -> Kind:
    """What a shape (n, 3) mostly is, by how much of it the plainest twist, bend and sideways bend along x tell
    (weighed by mass, rigid motion left out)."""
    weight = np.sqrt(np.repeat(mass, 3))
    x, y, z = (nodes - np.average(nodes, axis=0, weights=mass)).T
    zero = np.zeros_like(x)
    tried = {
        "twist": np.stack([zero, -x * z, x * y], axis=1),
        "bending": np.stack([-2 * x * z, zero, x**2], axis=1),
        "sideways": np.stack([-2 * x * y, x**2, zero], axis=1),
    }
    rigid = rigid_motions(nodes).reshape(len(nodes), 6, 6)[:, :3].reshape(-1, 6) * weight[:, None]
    basis = np.linalg.svd(rigid, full_matrices=False)

    def flexible(field: Floats) -> Floats:
        flat = field.reshape(-1) * weight
        kept = basis[0][:, basis[1] > basis[1][0] * 1e-9]
        left = flat - kept @ (kept.T @ flat)
        return np.asarray(left / (np.linalg.norm(left) or 1.0))

    own = flexible(shape)
    told = {kind: float(flexible(field) @ own) ** 2 for kind, field in tried.items()}
    best = max(told, key=lambda kind: told[kind])
    return best if told[best] >= ALIKE else "local"  # type: ignore[return-value]
