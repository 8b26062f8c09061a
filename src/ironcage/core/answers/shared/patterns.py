"""Bolt patterns laid flat: where each hole goes, how far each taped distance is off; and the plates that have the holes
of two."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.plane.flats import Flat
from ironcage.core.calc.plane.pattern import FittedPattern, PitchCircle, fit_pattern, pitch_circle
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Adapter
from ironcage.units import said

ROUND_MM = 1.0  # holes that are no further off a circle lie on a pitch circle
EDGE = 2.0  # hole diameters from a hole's middle to the plate's edge
LEAST_WEB = 1.0  # hole diameters of metal between two holes
CORNER = 16  # sides of a rounded corner


@dataclass(frozen=True)
class PatternAnswer:
    """A pattern: its fit, hole diameter (mm), and the pitch circle that its holes lie on, or None."""

    id: str
    name: str
    diameter: float
    fitted: FittedPattern
    circle: PitchCircle | None

    @property
    def middle(self) -> Floats:
        """The middle of its pitch circle, else of its holes (2,), mm."""
        return np.array(self.circle.middle) if self.circle else np.asarray(self.fitted.places.mean(axis=0))


@dataclass(frozen=True)
class AdapterAnswer:
    """An adapter: its plate, the first pattern's middle at 0, 0; holes: the name of each hole of `flat`; web: the least
    metal between two holes, mm, and between which; problem: what is wrong with it."""

    id: str
    name: str
    thickness: float
    material: str
    flat: Flat
    holes: tuple[str, ...]
    web: float
    nearest: tuple[str, str]
    problem: str = ""


@remembered("patterns")
def flat_patterns(job: Job) -> tuple[PatternAnswer, ...]:
    """Every pattern."""
    return tuple(_pattern(p.id, p.name, p.diameter, fit_pattern(p.readings)) for p in job.patterns)


def _pattern(name: str, called: str, diameter: float, fitted: FittedPattern) -> PatternAnswer:
    circle = pitch_circle(fitted.places)
    on_it = circle.off < ROUND_MM and circle.diameter < 3 * float(np.ptp(fitted.places, axis=0).max())
    return PatternAnswer(name, called, diameter, fitted, circle if on_it else None)


@remembered("patterns", "adapters", "tubes", "shelf")
def adapters(job: Job) -> tuple[AdapterAnswer, ...]:
    """Every adapter."""
    made = {p.id: p for p in flat_patterns(job)}
    return tuple(_adapter(job, a, made[a.one], made[a.other]) for a in job.adapters)


def _adapter(job: Job, a: Adapter, one: PatternAnswer, other: PatternAnswer) -> AdapterAnswer:
    c, s = math.cos(a.turn), math.sin(a.turn)
    first = one.fitted.places - one.middle
    second = (other.fitted.places - other.middle) @ np.array([[c, s], [-s, c]]) + [a.x, a.y]
    holes = [(float(x), float(y), one.diameter) for x, y in first]
    holes += [(float(x), float(y), other.diameter) for x, y in second]
    names = [f"{p.name} {h}" for p in (one, other) for h in p.fitted.holes]
    if a.bore:
        holes.append((0.0, 0.0, a.bore))
        names.append("bore")
    web, pair = min(
        (math.dist(p[:2], q[:2]) - (p[2] + q[2]) / 2, (names[n], names[m]))
        for n, p in enumerate(holes)
        for m, q in enumerate(holes[:n])
    )
    least = LEAST_WEB * min(one.diameter, other.diameter)
    problem = ""
    if web < least:
        gap = f"only {said.size(web)} of metal" if web > 0 else "no metal"
        problem = f"{a.name} has {gap} between {pair[0]} and {pair[1]}."
    material = a.material or (job.tubes[-1].material if job.tubes else "")
    flat = Flat(plate_outline(holes), tuple(holes))
    return AdapterAnswer(a.id, a.name, a.thickness, material, flat, tuple(names), web, pair, problem)


def plate_outline(holes: list[tuple[float, float, float]]) -> Floats:
    """The outline (n, 2) of a plate round holes (x, y, diameter, mm), EDGE diameters from the middle of each; round a
    bore half its diameter more than its own."""
    from scipy.spatial import ConvexHull

    turn = np.linspace(0, 2 * np.pi, CORNER, endpoint=False)
    least = min(d for *_, d in holes)
    rings = [
        [x, y] + min(EDGE * d, d / 2 + EDGE * least) * np.column_stack([np.cos(turn), np.sin(turn)])
        for x, y, d in holes
    ]
    points = np.vstack(rings)
    return np.asarray(points[ConvexHull(points).vertices])
