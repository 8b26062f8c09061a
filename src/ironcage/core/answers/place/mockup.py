"""The mock-up: the cockpit's tubes as square timber with butt ends, to sit in before any steel is cut.

A tube belongs to the cockpit when it comes within REACH of somebody aboard or of what they hold. Where tubes meet, one
stick runs through (as in the cut list) and the others butt against its side.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers import cut
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.job.geometry.bodies import person_body, tube_bodies
from ironcage.core.job.geometry.routes import Place, route_of
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import said

REACH_MM = 250.0
STICK_MM = 20.0


@dataclass(frozen=True)
class Stick:
    """A stick to cut. piece: the tubes it stands for; length: from butt to butt, mm; ends: the joints, or corners of a
    bent tube; angles: of each end off square, rad;
    places (2, 3): of its ends, mm."""

    piece: str
    tubes: tuple[str, ...]
    length: float
    ends: tuple[str, str]
    angles: tuple[float, float]
    places: tuple[Place, Place]


@dataclass(frozen=True)
class Mockup:
    """Sticks, longest first, and how much timber they are together, mm."""

    sticks: tuple[Stick, ...]
    total: float


@remembered("people", "joints", "tubes", "shelf", "cutting")
def timber_mockup(job: Job) -> Mockup:
    """The sticks round everybody aboard. Raises Problem when nobody is, or nothing is near them."""
    aboard = [person_body(p) for p in job.people if p.aboard]
    if not aboard:
        raise Problem(
            "Nobody is aboard to build a mock-up round.",
            where="mock-up",
            hint=said.example("Seat somebody in Place: person Bryn [1780] at [-1330] [280] [320]"),
        )
    low = np.min([b.bounds[0] for b in aboard], axis=0) - REACH_MM
    high = np.max([b.bounds[1] for b in aboard], axis=0) + REACH_MM
    near = {b.id for b in tube_bodies(job) if (b.bounds[1] > low).all() and (b.bounds[0] < high).all()}
    pieces = [p for p in cut.answer(job).pieces if near & set(p.tubes)] if job.tubes else []
    sticks = [s for p in pieces for s in (_legs(job, p) if p.bends else [_stick(job, p)])]
    sticks = [s for s in sticks if s.length > 0]
    if not sticks:
        raise Problem("No tube is near anybody aboard.", where="mock-up", hint="Lay the cockpit in Frame first.")
    sticks.sort(key=lambda s: -s.length)
    return Mockup(tuple(sticks), sum(s.length for s in sticks))


def _stick(job: Job, piece: cut.Piece) -> Stick:
    """A piece as a stick: half of the stick that it butts against comes off each end that lands on another."""
    length, angles = piece.centre, []
    for end in (piece.first, piece.second):
        lands = end.kind in ("cope", "flat")
        lean = math.pi / 2 - end.angle if lands else 0.0
        if lands:
            length -= STICK_MM / 2 / max(math.sin(end.angle), 0.2)
        angles.append(lean)
    ends = piece.first.joint, piece.second.joint
    return Stick(
        piece.id,
        piece.tubes,
        length,
        ends,
        (angles[0], angles[1]),
        (job.joint_by_id[ends[0]].place, job.joint_by_id[ends[1]].place),
    )


def _legs(job: Job, piece: cut.Piece) -> list[Stick]:
    """A bent piece as a stick from corner to corner, each mitred by half the bend; timber does not bend."""
    made = []
    for name in piece.tubes:
        route = route_of(job, job.tube_by_id[name])
        points = [(float(x), float(y), float(z)) for x, y, z in route.points]
        words = [job.tube_by_id[name].a, *(f"corner {n + 1}" for n in range(len(points) - 2)), job.tube_by_id[name].b]
        halves = [0.0, *(float(a) / 2 for a in route.angles), 0.0]
        for n in range(len(points) - 1):
            made.append(
                Stick(
                    name,
                    (name,),
                    math.dist(points[n], points[n + 1]),
                    (words[n], words[n + 1]),
                    (halves[n], halves[n + 1]),
                    (points[n], points[n + 1]),
                )
            )
    return made
