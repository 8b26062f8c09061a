"""What a load at a wheel of a beam axle does to the rods that steer it: the wheel would turn about its kingpin."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.beam import stub_of
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.linkage.steering import MIRROR, KingpinWheel
from ironcage.core.calc.vectors import cross
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import KingpinBeam
from ironcage.problem import Problem

LEAST_LEVER_MM = 1.0  # of a rod about a kingpin: with less it holds nothing


@dataclass(frozen=True, eq=False)
class RodForce:
    """The rod that holds a beam's wheels straight, at ride height. name; place: of its end on the rack or the drop arm,
    push: on the frame there; on_beam: the force on the wheels' end of it, and end: where that is; each (3,), mm and
    N."""

    name: str
    place: Floats
    push: Floats
    on_beam: Floats
    end: Floats


def rod_force(job: Job, beam: KingpinBeam, side: str, at: Floats, force: Floats) -> RodForce:
    """The rod's force for a force (3,) N at a place (3,) mm on the wheel of a side. Raises Problem where a rod runs
    through a kingpin."""
    left = stub_of(job, beam)
    stub, mirror = (left.mirrored, MIRROR) if side == "right" else (left, np.ones(3))
    turning = _about(stub, at, force)
    inner, end, name = np.array(beam.rod) * mirror, stub.arm, f"{side} tie rod"
    if beam.drag:
        if side == "right":
            across = _toward(stub.arm, left.arm)
            pull = -turning / _lever(beam, stub, stub.arm, across)
            turning = _about(left, left.arm, -across * pull)
        stub, inner, end, name = left, np.array(beam.rod), np.array(beam.drag), "drag link"
    way = _toward(end, inner)
    pull = -turning / _lever(beam, stub, end, way)
    return RodForce(name, inner, -pull * way, pull * way, end)


def _toward(start: Floats, stop: Floats) -> Floats:
    return np.asarray((stop - start) / np.linalg.norm(stop - start))


def _about(stub: KingpinWheel, at: Floats, force: Floats) -> float:
    """How much a force (3,) N at a place (3,) mm turns a stub axle about its kingpin, N·mm."""
    return float(stub.pin @ cross(at - stub.kingpin, force))


def _lever(beam: KingpinBeam, stub: KingpinWheel, at: Floats, way: Floats) -> float:
    """How much a force of 1 N along a rod turns a stub axle, N·mm."""
    lever = _about(stub, at, way)
    if abs(lever) < LEAST_LEVER_MM:
        raise Problem(
            f"The {beam.axle} rods that steer hold nothing: they run through the kingpins.",
            where=beam.axle,
            hint="Move the steering arms' ends (beam front arm) beside them.",
        )
    return lever
