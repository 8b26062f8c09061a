"""Where an end stands on its way, in words: its travel, and how far it leans or is steered."""

from __future__ import annotations

import math

from ironcage.core.answers.run.beam import BeamRun
from ironcage.units import said

NOTHING = 1e-9


def leaning_words(travel: float, roll: float = 0.0) -> str:
    """A travel, mm, and how far an axle leans, rad, its left wheel up."""
    leans = f"{math.degrees(abs(roll)):.1f}° of roll, {'left' if roll > 0 else 'right'} wheel up"
    return _at(travel, leans if abs(roll) > NOTHING else "")


def racked_words(travel: float, rack: float, called: str) -> str:
    """A travel and how far a rack, or what else is called so, is moved to the left, mm."""
    moved = f"{called} {said.length(abs(rack))} to the {'left' if rack > 0 else 'right'}"
    return _at(travel, moved if abs(rack) > NOTHING else "")


def steered_words(run: BeamRun, way: float) -> str:
    """How far a beam is steered."""
    if abs(way) < NOTHING:
        return "straight ahead"
    side = "left" if way > 0 else "right"
    if run.hung.pivot:
        return f"drop arm {math.degrees(abs(way)):.1f}° to the {side}"
    return f"rack {said.length(abs(way))} to the {side}"


def beam_words(run: BeamRun, travel: float, way: float, roll: float = 0.0) -> str:
    """A travel of a beam, mm, how far it is steered, and how far it leans, rad, its left wheel up."""
    steered = steered_words(run, way)
    return f"{leaning_words(travel, roll)}, {steered}" if abs(travel) > NOTHING or abs(roll) > NOTHING else steered


def _at(travel: float, other: str) -> str:
    up = f"{said.length(abs(travel))} {'up' if travel > 0 else 'down'}" if abs(travel) > NOTHING else ""
    parts = [part for part in (up, other) if part]
    return f"at {', '.join(parts)}" if parts else "at ride height"
