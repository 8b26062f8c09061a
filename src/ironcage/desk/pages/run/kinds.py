"""What the wheels of an end can be hung on, and what the page asks and says of each."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from ironcage.core.answers.run import beam, carrier, corner, figures, fork, liveaxle, swing
from ironcage.core.answers.run.beam import BeamRun, BeamStill
from ironcage.core.answers.run.carrier import CarrierRun, CarrierStill, set_words
from ironcage.core.answers.run.corner import AxleRun, Still
from ironcage.core.answers.run.drawn import DrawnLine
from ironcage.core.answers.run.figures import Figure
from ironcage.core.answers.run.fork import ForkRun, ForkStill, turned_words
from ironcage.core.answers.run.liveaxle import LinkedRun, LinkedStill
from ironcage.core.answers.run.moments import steered_words
from ironcage.core.answers.run.steering import turn_at
from ironcage.core.answers.run.sweep import (
    arm_tyres_at,
    axle_tyres_at,
    beam_tyres_at,
    carrier_tyres_at,
    fork_tyres_at,
    tyre_at,
)
from ironcage.core.answers.run.swing import SwingRun, SwingStill
from ironcage.core.calc.linkage.steering import Turn
from ironcage.core.job.geometry.bodies import Body
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import (
    Axle,
    AxleCarrier,
    CoilOver,
    KingpinBeam,
    LinkedAxle,
    SteeringFork,
    SwingingArms,
    Wishbones,
)
from ironcage.units import Units

Hung = Wishbones | LinkedAxle | KingpinBeam | SwingingArms | SteeringFork | AxleCarrier
Stills = Still | LinkedStill | BeamStill | SwingStill | ForkStill | CarrierStill
Runs = AxleRun | LinkedRun | BeamRun | SwingRun | ForkRun | CarrierRun


@dataclass(frozen=True)
class Kind:
    """One way to hang wheels. word: that its lines begin with; heading: over the figures; sides, second: the words at
    the second slider's ends, and its name; most: how far that slider goes to each side; stand: an end at a travel and a
    way of that slider; tyres, drawn: what is shown of it on the table; turn: what both wheels make of it, where that is
    told beside; moment: where it stands, in words; middle: of the left wheel; ends: the words at the first slider's
    ends, along: what that goes along, rest: the button that puts both sliders back."""

    word: str
    figures: tuple[Figure, ...]
    assumed: tuple[str, ...]
    heading: str
    sides: tuple[str, str]
    second: str
    most: Callable[[Any], float]
    stand: Callable[[Job, Axle, float, float], Any]
    tyres: Callable[[Job, Any], tuple[Body, ...]]
    drawn: Callable[[Job, Any], Iterable[DrawnLine]]
    turn: Callable[[Job, Any], Turn | None]
    moment: Callable[[Any, Turn | None, Units], str]
    middle: Callable[[Any], Any]
    ends: tuple[str, str] = ("down", "up")
    along: str = "travel up"
    rest: str = "Ride height"


def hung_of(job: Job, axle: Axle) -> Hung | None:
    """What the wheels of an end are hung on."""
    ends: tuple[Hung, ...] = (*job.wishbones, *job.live_axles, *job.beams, *job.arms, *job.forks, *job.carriers)
    return next((end for end in ends if end.axle == axle), None)


def coil_of(hung: Hung | None) -> CoilOver | None:
    """What is known of an end's coil-overs; None where nothing is."""
    if (
        hung is None
        or isinstance(hung, AxleCarrier)
        or (isinstance(hung, KingpinBeam) and not (hung.on and hung.on.spring))
    ):
        return None
    return hung.coil if hung.coil != CoilOver() else None


def on_leaves(hung: Hung | None) -> bool:
    """Whether an end stands on leaf springs whose rate is known."""
    if isinstance(hung, LinkedAxle):
        return bool(hung.eye) and hung.leaf.leaved
    return isinstance(hung, KingpinBeam) and (hung.leaf.known or bool(hung.on and hung.on.eye and hung.leaf.leaved))


def kind_of(hung: Hung | None) -> Kind:
    """How wheels are hung; as on wishbones where they are not."""
    match hung:
        case LinkedAxle():
            return LINKED
        case KingpinBeam():
            return BEAM
        case SwingingArms():
            return SWING
        case SteeringFork():
            return FORK
        case AxleCarrier():
            return CARRIER
    return CORNER


def _side(steer: float) -> str:
    return "left" if steer >= -0.05 else "right"


def _travelled(travel: float, units: Units) -> str:
    return f"{units.length(abs(travel))} {'up' if travel >= 0 else 'down'}"


def turned(turn: Turn | None, units: Units) -> str:
    """What both wheels make of a turn, in words; nothing straight ahead."""
    if turn is None or math.isnan(turn.ackermann):
        return ""
    return (
        f"Inner wheel {math.degrees(turn.inner):.1f}°, outer {math.degrees(turn.outer):.1f}°: Ackermann "
        f"{100 * turn.ackermann:.0f} %, turning circle {units.metres(turn.circle)}"
    )


def _corner_moment(still: Still, turn: Turn | None, units: Units) -> str:
    words = _travelled(still.travel, units)
    if not still.run.hung.rack:
        return words
    steer = math.degrees(float(still.told.steer[0, 0]))
    side = "left" if still.rack >= 0 else "right"
    moved = "drop arm" if still.run.hung.pivot else "rack"
    told = f"{words}, {moved} {units.length(abs(still.rack))} {side}, steer {abs(steer):.1f}° {_side(steer)}"
    return ". ".join(filter(None, (told, turned(turn, units))))


def _axle_moment(still: LinkedStill, _turn: Turn | None, units: Units) -> str:
    side, words = "left" if still.rack >= 0 else "right", _travelled(still.travel, units)
    roll = math.degrees(abs(still.rack))
    return f"{words}, {roll:.1f}° of roll, {side} wheel up" if roll > 0.05 else f"{words}, level from side to side"


def _beam_moment(still: BeamStill, _turn: Turn | None, units: Units) -> str:
    words = units.say(steered_words(still.run, still.rack))
    return f"{_travelled(still.travel, units)}, {words}" if still.run.held else words


CORNER = Kind(
    "corner",
    figures.CORNER,
    corner.ASSUMED,
    "Left wheel, now",
    ("rack right", "left"),
    "Rack to the left",
    lambda hung: hung.rack,
    corner.stand_at,
    tyre_at,
    lambda _job, still: corner.drawn_corners(still),
    turn_at,
    _corner_moment,
    lambda still: still.found.at(still.run.corner.wheel)[0, 0],
)
LINKED = Kind(
    "axle",
    figures.LIVE_AXLE,
    liveaxle.ASSUMED,
    "Axle, now",
    ("right up", "left up"),
    "Roll, the left wheel up",
    lambda hung: hung.roll,
    liveaxle.axle_at,
    axle_tyres_at,
    liveaxle.drawn,
    lambda _job, _still: None,
    _axle_moment,
    lambda still: still.found.at(still.run.axle.left)[0, 0],
)
BEAM = Kind(
    "beam",
    figures.BEAM,
    beam.ASSUMED,
    "Both wheels, now",
    ("steered right", "left"),
    "Steered to the left",
    beam.most_steer,
    beam.beam_at,
    beam_tyres_at,
    beam.drawn,
    lambda _job, _still: None,
    _beam_moment,
    lambda still: still.found.left.centre[0, 0],
)
SWING = Kind(
    "arm",
    figures.ARMS,
    swing.ASSUMED,
    "Left wheel, now",
    ("", ""),
    "Nothing steers on arms",
    lambda _hung: 0.0,
    lambda job, axle, travel, _second: swing.arms_at(job, axle, travel),
    arm_tyres_at,
    swing.drawn,
    lambda _job, _still: None,
    lambda still, _turn, units: _travelled(still.travel, units),
    lambda still: still.found.poses.at(still.run.arm.wheel)[0],
)
FORK = Kind(
    "fork",
    figures.FORK,
    fork.ASSUMED,
    "Front wheel, now",
    ("turned right", "left"),
    "Turned to the left",
    lambda hung: hung.turn,
    fork.fork_at,
    fork_tyres_at,
    fork.drawn,
    lambda _job, _still: None,
    lambda still, _turn, units: f"{_travelled(still.travel, units)}, {turned_words(still.rack)}",
    lambda still: still.found.at(still.run.fork.wheel)[0, 0],
)
CARRIER = Kind(
    "carrier",
    figures.CARRIER,
    carrier.ASSUMED,
    "Axle, as it is set",
    ("", ""),
    "Nothing steers on a carrier",
    lambda _hung: 0.0,
    lambda job, axle, set_by, _second: carrier.carrier_at(job, axle, set_by),
    carrier_tyres_at,
    carrier.drawn,
    lambda _job, _still: None,
    lambda still, _turn, units: units.say(set_words(still.travel)).capitalize(),
    lambda still: still.found.at(still.run.wheel)[0, 0],
    ends=("forth", "back"),
    along="set back",
    rest="As it stands",
)
