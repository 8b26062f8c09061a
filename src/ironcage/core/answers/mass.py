"""Mass, centre of gravity and axle split of the frame and of the car."""

from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.cache import remembered
from ironcage.core.calc.mass import Floats, MassSum, axle_split, total
from ironcage.core.job.model import Job


@dataclass(frozen=True)
class MassAnswer:
    """Tube lengths (m,) mm and masses (m,) kg in job order; the frame and the car weighed; the front axle's
    share of the car (None without wheels at both ends or without mass)."""

    lengths: Floats
    tube_masses: Floats
    frame: MassSum
    car: MassSum
    front_share: float | None
    wheelbase: float | None


@remembered("joints", "tubes", "shelf", "wheels", "masses")
def weigh(job: Job) -> MassAnswer:
    """Weigh tubes by centre-to-centre length (overlaps at joints counted twice, welds not at all)."""
    places = {j.id: j.place for j in job.joints}
    ends = np.array([(places[t.a], places[t.b]) for t in job.tubes]).reshape(-1, 2, 3)
    per_mm = {}
    for section, material in {(t.section, t.material) for t in job.tubes}:
        m = job.material(material)
        per_mm[section, material] = job.section(section).shape.properties(m.poisson).area * m.density * 1e-9
    lengths = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
    masses = lengths * np.array([per_mm[t.section, t.material] for t in job.tubes]).reshape(-1)
    frame = total(masses, ends.mean(axis=1))
    loads = np.array([(p.mass, p.x, p.y, p.z) for p in job.masses]).reshape(-1, 4)
    car = total(np.append(loads[:, 0], frame.mass), np.vstack([loads[:, 1:], frame.cg]))
    axles = {end: [w.x for w in job.wheels if w.corner.startswith(end)] for end in ("front", "rear")}
    share = wheelbase = None
    if axles["front"] and axles["rear"]:
        front, rear = float(np.mean(axles["front"])), float(np.mean(axles["rear"]))
        wheelbase = front - rear
        if front > rear and car.mass > 0:
            share = axle_split(float(car.cg[0]), front, rear)
    return MassAnswer(lengths, masses, frame, car, share, wheelbase)
