"""What was measured on the built frame: readings, the datum they are laid on, how exactly they are read."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ironcage.core.job.values.model import Job
from ironcage.core.job.values.truing import AnyMeasured, joints_of
from ironcage.problem import Problem, nearest


def set_truing(job: Job, **changes: Any) -> Job:
    """Change how the frame is measured: fields of `Truing`, mm and rad."""
    return job.but(truing=job.truing.but(**changes))


def add_measured(job: Job, reading: AnyMeasured) -> Job:
    """Add a reading, with the next id. Refuses one of joints that are not there, or of one joint to itself."""
    names = tuple(job.joint(name).id for name in joints_of(reading))
    if len(set(names)) != len(names):
        raise Problem(f"{names[0]} has no distance from itself.", where=names[0], hint="Name a second joint.")
    number = job.truing.last_reading + 1
    ends = {"joint": names[0]} if len(names) == 1 else {"a": names[0], "b": names[1]}
    return set_truing(job, readings=(*job.truing.readings, reading.but(id=f"M{number}", **ends)), last_reading=number)


def find_measured(job: Job, name: str) -> AnyMeasured:
    """The reading of that id, whatever its case."""
    for reading in job.truing.readings:
        if reading.id.lower() == name.strip().lower():
            return reading
    known = [r.id for r in job.truing.readings]
    raise Problem(
        f"There is no reading ‘{name.strip()}’.",
        where=name,
        hint=nearest(name, known) or ("There is none yet." if not known else f"There are {known[0]} to {known[-1]}."),
    )


def change_measured(job: Job, name: str, **changes: Any) -> Job:
    """Change what was read."""
    old = find_measured(job, name)
    return set_truing(job, readings=tuple(r.but(**changes) if r is old else r for r in job.truing.readings))


def remove_measured(job: Job, names: Iterable[str]) -> Job:
    """Take readings away."""
    gone = {find_measured(job, name).id for name in names}
    return set_truing(job, readings=tuple(r for r in job.truing.readings if r.id not in gone))


def set_true_datum(job: Job, joints: Iterable[str]) -> Job:
    """Lay the readings on three joints, or with none on the whole drawing. Refuses joints in a line."""
    names = tuple(dict.fromkeys(job.joint(name).id for name in joints))
    if len(names) not in (0, 3):
        raise Problem(
            f"A datum is three joints, and {len(names)} {'is' if len(names) == 1 else 'are'} named.",
            where="datum",
            hint="Write for example: true datum J1L J2L J1R, or true best fit.",
        )
    if names:
        _demand_spread(job, names)
    return set_truing(job, datum=names)


def _demand_spread(job: Job, names: tuple[str, ...]) -> None:
    import numpy as np

    a, b, c = (np.array(job.joint_by_id[n].place) for n in names)
    along = b - a
    off = np.linalg.norm(np.cross(along, c - a)) / max(float(np.linalg.norm(along)), 1e-9)
    if off < 1.0:
        raise Problem(
            f"{names[0]}, {names[1]} and {names[2]} stand in a line.",
            where="datum",
            hint="Take one that stands well off the line of the other two.",
        )
