"""How the frame is modelled and loaded, cases of the builder's own, the twist test, the log."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import Any, Literal

from ironcage.core.job.edits.placed import find_part, put_placed
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.proving import (
    At,
    Case,
    Combination,
    Levels,
    Logged,
    Reading,
    TwistTest,
)
from ironcage.problem import Problem, nearest

MOST_LOGGED = 2000


def set_proving(job: Job, **changes: Any) -> Job:
    """Change how the frame is proved."""
    return job.but(proving=job.proving.but(**changes))


def set_level(job: Job, what: str, value: float) -> Job:
    """Change how hard the car is used. value: as `Levels` has it: a multiple, g, or N for straps."""
    return set_proving(job, levels=job.proving.levels.but(**{what: value}))


def usual_levels(job: Job) -> Job:
    """Go back to the levels that a new job has."""
    return set_proving(job, levels=Levels())


def take_hold(job: Job, what: Literal["tow", "jack", "strap", "harness"], joints: Iterable[str]) -> Job:
    """Say at which joints a case takes hold; none takes the case away."""
    names = tuple(dict.fromkeys(job.joint(j).id for j in joints))
    kept = tuple(p for p in job.proving.places if p.what != what)
    return set_proving(job, places=(*kept, At(what=what, joints=names)) if names else kept)


def put_case(job: Job, case: Case) -> Job:
    """Add a case, or put it in the place of the one of its name."""
    for load in case.loads:
        job.joint(load.joint)
    for name in case.held:
        job.joint(name)
    if any(c.name.lower() == case.name.lower() for c in job.proving.combinations):
        raise Problem(
            f"A combination is called {case.name} already.", where=case.name, hint="Give the case another name."
        )
    kept = job.proving.cases
    new = tuple(case if c.name.lower() == case.name.lower() else c for c in kept)
    return set_proving(job, cases=new if case in new else (*kept, case))


def put_combination(job: Job, made: Combination, known: Iterable[str]) -> Job:
    """Add a combination of known cases, or put it in the place of the one of its name."""
    names = {k.lower(): k for k in known}
    for part in made.parts:
        if part.case.lower() not in names:
            raise Problem(f"There is no case ‘{part.case}’.", where=part.case, hint=nearest(part.case, names.values()))
    if made.name.lower() in names:
        raise Problem(
            f"A case is called {made.name} already.", where=made.name, hint="Give the combination another name."
        )
    kept = job.proving.combinations
    new = tuple(made if c.name.lower() == made.name.lower() else c for c in kept)
    return set_proving(job, combinations=new if made in new else (*kept, made))


def remove_case(job: Job, name: str) -> Job:
    """Take away a case or a combination of the builder's own; combinations that name it lose it."""
    low = name.lower()
    cases = tuple(c for c in job.proving.cases if c.name.lower() != low)
    sums = tuple(c for c in job.proving.combinations if c.name.lower() != low)
    if len(cases) == len(job.proving.cases) and len(sums) == len(job.proving.combinations):
        own = [*(c.name for c in job.proving.cases), *(c.name for c in job.proving.combinations)]
        raise Problem(f"There is no case of yours called ‘{name}’.", where=name, hint=nearest(name, own))
    left = {c.name: tuple(p for p in c.parts if p.case.lower() != low) for c in sums}
    return set_proving(job, cases=cases, combinations=tuple(c.but(parts=left[c.name]) for c in sums if left[c.name]))


def stress_part(job: Job, name: str, mount: float) -> Job:
    """Let an engine or gearbox carry load between its mounts, each so stiff (N/mm); 0 takes that back."""
    part = find_part(job, name)
    return put_placed(job, part.but(mount=mount))


def add_reading(job: Job, reading: Reading) -> Job:
    """Add a reading to the twist test."""
    test = job.proving.test
    return set_proving(job, test=test.but(readings=(*test.readings, reading)))


def change_test(job: Job, **changes: Any) -> Job:
    """Change the set-up of the twist test."""
    return set_proving(job, test=job.proving.test.but(**changes))


def remove_reading(job: Job, number: int) -> Job:
    """Take a reading away by its number, from 1."""
    readings = job.proving.test.readings
    if not 1 <= number <= len(readings):
        raise Problem(f"There is no reading {number}.", where="reading", hint=f"There are {len(readings)}.")
    return change_test(job, readings=readings[: number - 1] + readings[number:])


def clear_test(job: Job) -> Job:
    """Start the twist test again."""
    return set_proving(job, test=TwistTest())


def log(job: Job, note: str, torsion: float, mass: float, day: date) -> Job:
    """Write down what the frame is now: torsion N·mm/rad, mass kg."""
    entry = Logged(when=day, note=note, torsion=torsion, mass=mass)
    return set_proving(job, log=(*job.proving.log, entry)[-MOST_LOGGED:])
