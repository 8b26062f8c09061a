"""What the mounts of a part carry in each case: its own answer to the case and what drives the car through it, shared
by the joints that are tied to its holes as bolts in a plate share a load."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.prove.car import Car, Loaded
from ironcage.core.answers.prove.cases import CASE_PARTS, load_cases
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.frames.load_distribution import distribution_matrix
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.ties import ToHole

LEAST_MOUNTS = 2
LIMITS = (
    "Mounts share the part's own load by statics, all equally stiff (the least forces that balance it); what the frame "
    "puts through a part that carries load comes on top."
)


@dataclass(frozen=True, eq=False)
class MountLoad:
    """A mount of a part in a case. hole, joint; force (3,): what the part does to the frame there, N; moment (3,):
    what forces alone can't balance, N·mm, nothing where the mounts are not in a line."""

    hole: str
    joint: str
    force: Floats
    moment: Floats


@dataclass(frozen=True, eq=False)
class PartLoad:
    """What a part brings into its mounts in a case. force (3,), N, and moment (3,), N·mm, about the mounts' middle;
    drive (3,): what of the moment chains and shafts turn it with."""

    part: str
    name: str
    case: str
    force: Floats
    moment: Floats
    drive: Floats
    mounts: tuple[MountLoad, ...]

    @property
    def worst(self) -> MountLoad:
        """The mount that carries most."""
        return max(self.mounts, key=lambda m: float(np.linalg.norm(m.force)))


@remembered(*CASE_PARTS)
def mount_loads(job: Job) -> tuple[PartLoad, ...]:
    """Every part that two joints or more are tied to, in every case that the masses answer."""
    car = Car(job)
    holes: dict[str, list[tuple[str, str]]] = {}
    for joint in job.joints:
        if isinstance(joint.tie, ToHole) and joint.id in job.tubes_at:
            holes.setdefault(joint.tie.thing, []).append((joint.tie.hole, joint.id))
    rows = {thing.id: n for n, thing in enumerate(car.heavy)}
    told = [c for c in load_cases(job) if not c.problem and not c.held]
    return tuple(
        _part_load(car, part, mounts, rows.get(part), case)
        for part, mounts in holes.items()
        if len(mounts) >= LEAST_MOUNTS
        for case in told
    )


def _part_load(car: Car, part: str, mounts: list[tuple[str, str]], row: int | None, case: Loaded) -> PartLoad:
    joints = tuple(joint for _, joint in mounts)
    places = car.nodes[[car.index[j] for j in joints]]
    middle = places.mean(axis=0)
    force, moment, drive = np.zeros(3), np.zeros(3), np.zeros(3)
    for push in case.pushes:
        if set(push.joints) == set(joints):  # a chain or shaft that starts at it
            turned = push.moment + np.cross(push.at - middle, push.force)
            force, moment, drive = force + push.force, moment + turned, drive + turned
    if row is not None:
        answer = case.answers[row]
        force = force + answer
        moment = moment + np.cross(car.heavy[row].place - middle, answer)
    shared = (distribution_matrix(places, middle) @ np.concatenate([force, moment])).reshape(-1, 6)
    made = tuple(MountLoad(hole, joint, each[:3], each[3:]) for (hole, joint), each in zip(mounts, shared, strict=True))
    return PartLoad(part, car.job.placed[part].name, case.name, force, moment, drive, made)
