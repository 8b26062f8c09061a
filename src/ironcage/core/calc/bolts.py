"""Holes that must match, and bolts through hollow tube: patterns from taped distances, holes at a splay, crush tubes."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.solids import Floats
from ironcage.problem import Problem

Pair = tuple[int, int]
SLIP_MM = 2.0  # a taped distance further off than this is more likely a slip than the tape


@dataclass(frozen=True, eq=False)
class Fitted:
    """A pattern laid flat. places (n, 2): hole 1 at the origin, hole 2 along x, the first one off that line at positive y; mm. off: how far each taped
    distance is from the fitted one, mm, by pair; worst: the largest of them."""

    places: Floats
    off: Mapping[Pair, float]

    @property
    def worst(self) -> float:
        """The largest misfit, mm."""
        return max((abs(v) for v in self.off.values()), default=0.0)


def fit_pattern(distances: Mapping[Pair, float]) -> Fitted:
    """Holes numbered from 1 from distances taped between their centres, mm; least squares, every tape reading alike.

    Begins with classical scaling (Torgerson 1952) of the distances, those not taped taken along the shortest way round. Raises Problem where
    holes are too few, or the readings do not hold each other.
    """
    from scipy.optimize import least_squares  # slow to import, and needed here alone

    holes = sorted({h for pair in distances for h in pair})
    count = len(holes)
    if count < 3:
        raise Problem("A pattern needs three holes or more.", where="holes", hint="Tape 1-2, 1-3 and 2-3.")
    if any(d <= 0 for d in distances.values()):
        raise Problem("A distance between holes must be more than nothing.", where="holes")
    row = {h: n for n, h in enumerate(holes)}
    pairs = [(row[a], row[b]) for a, b in distances]
    taped = np.array(list(distances.values()))
    if len(set(map(frozenset, pairs))) < 2 * count - 3:
        raise Problem(f"{count} holes need {2 * count - 3} distances, and {len(distances)} are taped.", where="holes",
                      hint="Tape the diagonals as well.")  # fmt: skip
    full = np.full((count, count), np.inf)
    np.fill_diagonal(full, 0.0)
    for (a, b), d in zip(pairs, taped, strict=True):
        full[a, b] = full[b, a] = d
    for k in range(count):
        full = np.minimum(full, full[:, k, None] + full[None, k])
    if not np.isfinite(full).all():
        raise Problem(
            "Some holes are not taped to the others.", where="holes", hint="Tape a distance from each to two others."
        )
    centre = np.eye(count) - 1 / count
    values, vectors = np.linalg.eigh(-0.5 * centre @ full**2 @ centre)
    start = vectors[:, -2:] * np.sqrt(np.maximum(values[-2:], 1e-6))
    ends = np.array(pairs)

    def misfit(flat: Floats) -> Floats:
        at = flat.reshape(-1, 2)
        return np.asarray(np.linalg.norm(at[ends[:, 0]] - at[ends[:, 1]], axis=1) - taped)

    tries = [
        start.ravel(),
        *(start.ravel() + np.random.default_rng(n).normal(0, 0.2 * taped.mean(), start.size) for n in range(8)),
    ]
    best = min((least_squares(misfit, t, xtol=1e-14, ftol=1e-14) for t in tries), key=lambda r: r.cost)
    off = dict(zip(distances, misfit(best.x).tolist(), strict=True))
    return Fitted(_laid(best.x.reshape(-1, 2)), off)


def _laid(at: Floats) -> Floats:
    at = at - at[0]
    turn = math.atan2(at[1, 1], at[1, 0])
    c, s = math.cos(turn), math.sin(turn)
    at = at @ np.array([[c, -s], [s, c]])
    side = next((y for y in at[2:, 1] if abs(y) > 1e-3), 0.0)
    return at * [1.0, -1.0 if side < 0 else 1.0]


@dataclass(frozen=True)
class SplayHole:
    """A hole in each of two walls that a straight shaft passes at an angle. across, along: the least hole across the lean and along it, mm; shift: how far
    the far hole's middle lies from the near one's, mm."""

    across: float
    along: float
    shift: float


def splay_hole(shaft_mm: float, wall_mm: float, span_mm: float, lean: float, clearance_mm: float = 0.0) -> SplayHole:
    """Holes for a shaft through two walls, `span` apart from outside to outside, leaning from square by `lean` (rad).

    Along the lean a wall cuts the shaft in an ellipse d / cos, and its own thickness adds t · tan. Clearance is all round, on the diameter.
    """
    if not shaft_mm > 0 or not 0 <= wall_mm <= span_mm / 2:
        raise Problem(
            "Shaft, wall and span do not go together.",
            where="wall",
            hint="The span is from outside to outside of both walls.",
        )
    if not abs(lean) < math.radians(75):
        raise Problem(
            f"A shaft {math.degrees(abs(lean)):.0f}° from square runs along the wall.",
            where="lean",
            hint="75° at most.",
        )
    size = shaft_mm + clearance_mm
    tangent = math.tan(abs(lean))
    return SplayHole(size, size / math.cos(lean) + wall_mm * tangent, (span_mm - wall_mm) * tangent)


# ISO 261 coarse pitch, ISO 4017 width across corners of the head, ISO 273 medium clearance hole, ISO 7089 washer; mm
BOLTS: Mapping[int, tuple[float, float, float, float]] = {
    5: (0.8, 8.79, 5.5, 10.0), 6: (1.0, 11.05, 6.6, 12.0), 8: (1.25, 14.38, 9.0, 16.0), 10: (1.5, 17.77, 11.0, 20.0),
    12: (1.75, 20.03, 13.5, 24.0), 14: (2.0, 23.36, 15.5, 28.0), 16: (2.0, 26.75, 17.5, 30.0), 20: (2.5, 33.53, 22.0, 37.0),
}  # fmt: skip
PROOF_MPA = {"8.8": 600.0, "10.9": 830.0}
TIGHTENED = 0.75  # of proof load, the usual tightening


@dataclass(frozen=True)
class CrushTube:
    """A tube that a bolt is tightened on through a hollow section. length: flush with both outside faces; bore; least_od: its outside at which the
    tightened bolt just does not crush it, and with which wall; clamp: the bolt's load, N; head, washer: what its ends take up, mm."""

    length: float
    bore: float
    least_od: float
    wall: float
    clamp: float
    head: float
    washer: float


def crush_tube(bolt: int, through_mm: float, yield_mpa: float, bolt_class: str = "8.8") -> CrushTube:
    """For a metric bolt through a section `through_mm` deep. Stress area after ISO 898-1: π/4 (d − 0.9382 p)²; the tube's ring carries the clamp
    load at yield over 1.5."""
    if bolt not in BOLTS:
        raise Problem(
            f"There is no M{bolt} in the table.", where="bolt", hint=f"There are M{', M'.join(map(str, BOLTS))}."
        )
    if bolt_class not in PROOF_MPA:
        raise Problem(
            f"There is no bolt class ‘{bolt_class}’ in the table.",
            where="class",
            hint=f"There are {', '.join(PROOF_MPA)}.",
        )
    if not through_mm > 0 or not yield_mpa > 0:
        raise Problem("The section's depth and the tube's yield must be more than nothing.", where="through_mm")
    pitch, head, bore, washer = BOLTS[bolt]
    clamp = TIGHTENED * PROOF_MPA[bolt_class] * math.pi / 4 * (bolt - 0.9382 * pitch) ** 2
    area = 1.5 * clamp / yield_mpa
    od = math.sqrt(bore**2 + 4 * area / math.pi)
    return CrushTube(through_mm, bore, od, (od - bore) / 2, clamp, head, washer)
