"""What a millimetre of each point of an axle, of arms and of a beam does is what moving it does."""

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from ironcage.core.answers.run import beam, liveaxle, swing
from ironcage.core.answers.run.effects import effects_at
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.samples import sample

Move = Callable[[Job, tuple[float, float, float]], Job]


def joint(name: str) -> Move:
    return lambda job, by: edits.move(job, [name], *by)


def field(put: Callable[..., Job], end: str, ends: str, name: str) -> Move:
    def moved(job: Job, by: tuple[float, float, float]) -> Job:
        place = np.array(getattr(getattr(job, ends)[0], name)) + by
        return put(job, end, **{name: tuple(float(v) for v in place)})

    return moved


AXLE = lambda job: liveaxle.axle_at(job, "rear", 30, 0.02)  # noqa: E731
ARMS = lambda job: swing.arms_at(job, "rear", 30)  # noqa: E731
BEAM = lambda job: beam.beam_at(job, "front", 0.0, 0.3)  # noqa: E731
OF_AXLE, OF_BEAM = (edits.set_live_axle, "rear", "live_axles"), (edits.set_beam, "front", "beams")
CASES: list[tuple[str, Callable[[Job], Any], str, Move, Callable[[Any], Any]]] = [
    ("fell-litter", AXLE, "lower link, frame", joint("J5L"), lambda t: t.curves.steer),
    ("fell-litter", AXLE, "track rod, frame", joint("J7R"), lambda t: t.curves.aside),
    ("fell-litter", AXLE, "upper link, axle", field(*OF_AXLE, "upper_out"), lambda t: t.curves.pinion),
    ("fell-litter", AXLE, "track rod, axle", field(*OF_AXLE, "rod_out"), lambda t: t.curves.roll_centre),
    ("fell-litter", AXLE, "coil-over, foot", field(*OF_AXLE, "spring_out"), lambda t: t.motion_ratio),
    ("sandpiper", ARMS, "carrier's axis", joint("J25L"), lambda t: t.centres),
    ("sandpiper", ARMS, "coil-over, top", joint("J27L"), lambda t: t.spring),
    ("skerry", BEAM, "steering arm's end", field(*OF_BEAM, "arm"), lambda t: t.ackermann),
    ("skerry", BEAM, "kingpin, upper end", field(*OF_BEAM, "upper"), lambda t: t.camber),
    ("skerry", BEAM, "drop arm's pivot", field(*OF_BEAM, "pivot"), lambda t: t.left),
]


@pytest.mark.parametrize(
    ("demo", "stand", "point", "move", "figure"), CASES, ids=lambda v: v if isinstance(v, str) else ""
)
def test_effects_are_what_moving_the_point_does(
    demo: str, stand: Callable[[Job], Any], point: str, move: Move, figure: Callable[[Any], Any]
) -> None:
    job = sample(demo)
    effect = next(e for e in effects_at(job, stand(job)) if e.point == point)
    for axis in range(3):
        by = np.zeros(3)
        by[axis] = 0.2
        ahead, back = (figure(stand(move(job, tuple(float(v) for v in way))).told)[0, 0] for way in (by, -by))
        assert figure(effect.per_mm)[axis] == pytest.approx((ahead - back) / 0.4, rel=2e-3, abs=2e-7)


def test_a_joint_is_named_where_a_point_is_one(sandpiper: Job) -> None:
    named = {e.point: e.joint for e in effects_at(sandpiper, ARMS(sandpiper))}
    hung = sandpiper.arms[0]
    assert named == {"carrier's axis": hung.first, "coil-over, top": hung.spring, "coil-over, foot": ""}
