"""Load cases: what pulls and pushes at the joints in each, from the car's own data, and the proof that it balances.

Wheels push at their contact patches, and what they do reaches the pickups of their corner by statics; the car's own
masses answer with their inertia, so that every case balances with nothing holding the car. A case of the builder's own
may hold joints instead.
"""

from __future__ import annotations

import numpy as np

from ironcage.core.answers.prove.car import AppliedLoad, Car, Loaded, refused
from ironcage.core.answers.prove.stiffness import FRAME_PARTS
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Chain
from ironcage.core.job.values.proving import PLACES, STANDARD, Combination
from ironcage.core.job.values.running import HUNG

CASE_PARTS = (
    *FRAME_PARTS,
    "wheels",
    "masses",
    "people",
    "chains",
    "shafts",
    *HUNG,
)  # what loads and strength depend on
ASSUMED = (
    "Wheel loads by equilibrium of the rigid car, its tyres and springs not squashed.",
    "A corner that hangs on links "
    "loads their joints by statics at ride height, the rack's two nearest joints sharing the tie rod's pull; so does "
    "a live axle with coil-overs, whose links share what statics leaves open as evenly as can be. The pickups of one "
    "that does not share its load as bolts in a plate do.",
    "Sideways load is shared by the axles as their roll stiffness is, or as their weight where that is not typed in; "
    "the masses answer each case with their inertia.",
    "Masses that no joint is tied to are carried by the four nearest joints. Braking is at the wheels, drive at the "
    "rear hubs, or on the ground under a live axle on links that a chain or shaft drives; engine "
    "torque is taken where the chain or shaft starts.",
    "Straps pull down and outwards at 45°; harness straps pull forward. No crash is in this: for that ask your "
    "sanctioning body and a licensed engineer.",
)


@remembered(*CASE_PARTS)
def load_cases(job: Job) -> tuple[Loaded, ...]:
    """Every case: the standard ones that the job has the data for, the builder's own, and combinations. One that
    can't be worked out says why."""
    car = Car(job)
    made: dict[str, Loaded] = {}
    for name in STANDARD:
        if name in PLACES and not job.proving.at(name):
            continue
        made[name] = car.case(name, lambda n=name: car.standard(n))  # type: ignore[misc]
    for own in job.proving.cases:
        made[own.name.lower()] = car.case(own.name, lambda c=own: car.own(c), held=own.held)  # type: ignore[misc]
    for both in job.proving.combinations:
        made[both.name.lower()] = _combined(both, made, len(job.joints))
    return tuple(made.values())


def _combined(both: Combination, known: dict[str, Loaded], count: int) -> Loaded:
    nothing = Loaded(both.name, np.zeros((count, 6)), (), (), np.zeros(3), np.zeros((0, 3)), (0.0, 0.0))
    terms = [(known.get(t.case.lower()), t) for t in both.parts]
    for loaded, term in terms:
        if loaded is None:
            return refused(nothing, f"{both.name} names the case {term.case}, which is not there.")
        if loaded.problem:
            return refused(nothing, loaded.problem)
    found = [(loaded, t.factor) for loaded, t in terms if loaded]
    if len({loaded.held for loaded, _ in found}) > 1:
        return refused(nothing, f"{both.name} adds cases that are held at different joints.")
    return Loaded(
        both.name,
        np.sum([f * c.loads for c, f in found], axis=0),
        found[0][0].held,
        tuple(AppliedLoad(p.what, p.at, f * p.force, f * p.moment, p.joints) for c, f in found for p in c.pushes),
        np.sum([f * c.inertia for c, f in found], axis=0),
        np.sum([f * c.answers for c, f in found], axis=0),
        (sum(abs(f) * c.residual[0] for c, f in found), sum(abs(f) * c.residual[1] for c, f in found)),
    )


def carriers(job: Job) -> list[tuple[float, list[tuple[int, float]]]]:
    """Each heavy thing's mass, kg, and the joints that carry it by number with their shares, none below zero: as
    near to its centre of gravity as such shares can be."""
    car = Car(job)
    made = []
    for thing, rows in zip(car.heavy, car.carriers, strict=True):
        places = car.nodes[list(rows)]
        size = float(np.abs(places - thing.place).max()) or 1.0
        wants = np.vstack([np.ones(len(rows)), (places - thing.place).T / size])
        shares = np.maximum(np.linalg.pinv(wants) @ np.array([1.0, 0, 0, 0]), 0.0)
        made.append((thing.mass, list(zip(rows, (shares / shares.sum()).tolist(), strict=True))))
    return made


def chain_joints(job: Job, chain: Chain) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """The joints, by number, that carry what drives a chain, and those that carry both bearings of the shaft that it
    drives."""
    car = Car(job)
    return car.unit(np.array([chain.driving.x, chain.driving.y, chain.driving.z])), car.bearings(chain)
