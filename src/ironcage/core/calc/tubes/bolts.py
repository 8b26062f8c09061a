"""Bolts and shafts through hollow tube: holes at a splay, crush tubes, room for heads and washers."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ironcage.problem import Problem
from ironcage.units.tables import INCH


@dataclass(frozen=True)
class SplayHole:
    """A hole in each of two walls that a straight shaft passes at an angle. across, along: the least hole across the
    lean and along it, mm; shift: how far the far hole's middle lies from the near one's, mm."""

    across: float
    along: float
    shift: float


def splay_hole(shaft_mm: float, wall_mm: float, span_mm: float, lean: float, clearance_mm: float = 0.0) -> SplayHole:
    """Holes for a shaft through two walls, `span` apart from outside to outside, leaning from square by `lean` (rad).

    Along the lean a wall cuts the shaft in an ellipse d / cos, and its own thickness adds t · tan. Clearance is all
    round, on the diameter.
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


@dataclass(frozen=True)
class Bolt:
    """A bolt and what fits it, mm: its diameter, the area that its thread carries load on (mm²), its head over
    corners at most, a clearance hole, a washer's outside; its usual class first, each with its proof stress, MPa."""

    name: str
    diameter: float
    stress_area: float
    corners: float
    clearance: float
    washer: float
    proof: Mapping[str, float]


def _metric(size: int, pitch: float, flats: float, clearance: float, washer: float) -> Bolt:
    """ISO 261 coarse pitch, ISO 4017 head (the largest corners are the largest flats times 2/√3), ISO 273 medium
    hole, ISO 7089 washer; stress area and proof stress after ISO 898-1: class 8.8 has 580 MPa up to M16 and 600
    above."""
    area = math.pi / 4 * (size - 0.9382 * pitch) ** 2
    proof = {"8.8": 580.0 if size <= 16 else 600.0, "10.9": 830.0}
    return Bolt(f"M{size}", size, area, flats * 2 / math.sqrt(3), clearance, washer, proof)


def _inch(name: str, size: float, threads: int, flats: float, clearance: float, washer: float) -> Bolt:
    """Unified coarse thread (ASME B1.1), hex head (B18.2.1), normal clearance hole (B18.2.8), narrow washer
    (B18.21.1); proof stress of grades 5 and 8 after SAE J429."""
    area = math.pi / 4 * (size - 0.9743 / threads) ** 2 * INCH**2
    return Bolt(
        name,
        size * INCH,
        area,
        flats * INCH * 2 / math.sqrt(3),
        clearance * INCH,
        washer * INCH,
        {"5": 586.0, "8": 827.0},
    )


BOLTS: Mapping[str, Bolt] = {
    b.name: b
    for b in (
        _metric(5, 0.8, 8, 5.5, 10),
        _metric(6, 1.0, 10, 6.6, 12),
        _metric(8, 1.25, 13, 9, 16),
        _metric(10, 1.5, 16, 11, 20),
        _metric(12, 1.75, 18, 13.5, 24),
        _metric(14, 2.0, 21, 15.5, 28),
        _metric(16, 2.0, 24, 17.5, 30),
        _metric(20, 2.5, 30, 22, 37),
        _inch('1/4"', 1 / 4, 20, 7 / 16, 9 / 32, 5 / 8),
        _inch('5/16"', 5 / 16, 18, 1 / 2, 11 / 32, 11 / 16),
        _inch('3/8"', 3 / 8, 16, 9 / 16, 13 / 32, 13 / 16),
        _inch('7/16"', 7 / 16, 14, 5 / 8, 15 / 32, 59 / 64),
        _inch('1/2"', 1 / 2, 13, 3 / 4, 9 / 16, 1 + 1 / 16),
        _inch('5/8"', 5 / 8, 11, 15 / 16, 11 / 16, 1 + 5 / 16),
        _inch('3/4"', 3 / 4, 10, 1 + 1 / 8, 13 / 16, 1 + 15 / 32),
    )
}
TIGHTENED = 0.75  # of proof load, the usual tightening


def bolt_named(text: str) -> Bolt | None:
    """The bolt called so, `M10` or `1/2"`; None for what is no name of a bolt, such as a shaft's size."""
    plain = "".join(text.split()).upper().replace("IN", '"').replace("''", '"')
    return BOLTS.get(plain)


@dataclass(frozen=True)
class CrushTubeSize:
    """A tube that a bolt is tightened on through a hollow section. length: flush with both outside faces; bore;
    least_od: its outside at which the tightened bolt just does not crush it, and with which wall; clamp: the bolt's
    load, N; head, washer: what its ends take up, mm."""

    length: float
    bore: float
    least_od: float
    wall: float
    clamp: float
    head: float
    washer: float


def crush_tube(name: str, through_mm: float, yield_mpa: float, bolt_class: str = "") -> CrushTubeSize:
    """For a bolt through a section `through_mm` deep, of its usual class unless one is named; the tube's ring carries
    the clamp load at yield over 1.5."""
    bolt = bolt_named(name)
    if bolt is None:
        raise Problem(f"There is no bolt ‘{name}’ in the table.", where="bolt", hint=f"There are {', '.join(BOLTS)}.")
    grade = bolt_class or next(iter(bolt.proof))
    if grade not in bolt.proof:
        raise Problem(
            f"There is no class ‘{bolt_class}’ for {bolt.name} in the table.",
            where="class",
            hint=f"There are {', '.join(bolt.proof)}.",
        )
    if not through_mm > 0 or not yield_mpa > 0:
        raise Problem("The section's depth and the tube's yield must be more than nothing.", where="through_mm")
    clamp = TIGHTENED * bolt.proof[grade] * bolt.stress_area
    area = 1.5 * clamp / yield_mpa
    od = math.sqrt(bolt.clearance**2 + 4 * area / math.pi)
    return CrushTubeSize(through_mm, bolt.clearance, od, (od - bolt.clearance) / 2, clamp, bolt.corners, bolt.washer)
