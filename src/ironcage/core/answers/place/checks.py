"""Snags of Place: what is missing to weigh the car, clashes, reach, chains and shafts."""

import math
from collections.abc import Iterator

from ironcage.core.answers.place import clashes, drives, mends, people
from ironcage.core.answers.shared.mass import loads, stance, weigh
from ironcage.core.answers.shared.names import name_of
from ironcage.core.answers.shared.patterns import adapters
from ironcage.core.answers.shared.pulling import pulled
from ironcage.core.answers.shared.snag import Snag, be, named
from ironcage.core.job.store.scans import triangles
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.units import Units

MOST_SHAKE = math.radians(3)  # the usual limit for a shaft that turns at engine speed


def car(job: Job) -> Iterator[Snag]:
    """What is missing to weigh the car."""
    for end in ("front", "rear"):
        if not any(w.corner.startswith(end) for w in job.wheels):
            yield Snag(
                "unknown",
                "no wheels",
                "frame",
                f"There are no {end} wheels, so wheelbase and axle split are not known.",
                (),
                f"Type: wheels {end} 0 650 290 dia 580 width 165",
            )
    weighed = weigh(job)
    if weighed.wheelbase is not None and weighed.wheelbase <= 0:
        yield Snag(
            "wrong",
            "axles the wrong way",
            "frame",
            "The front wheels do not stand ahead of the rear ones.",
            (),
            "x counts forward: give the front wheels the larger one.",
        )
    if not job.masses and not job.parts and not job.people:
        yield Snag(
            "unknown",
            "no masses",
            "place",
            "Nothing heavy is placed, so only the frame is weighed.",
            (),
            "Type: place engine 1.2 at -1870 0 430",
        )


def standing(job: Job) -> Iterator[Snag]:
    """A car that does not stay on its wheels."""
    made, wheelbase = stance(job), weigh(job).wheelbase
    if made is not None and made.stance is None and wheelbase and wheelbase > 0:
        yield Snag(
            "wrong", "falls over", "place", made.problem, _heaviest(job), "Move what weighs most, or the wheels."
        )


def _heaviest(job: Job) -> tuple[str, ...]:
    """What weighs most of all that is placed; nothing of a bare frame."""
    return tuple(load.id for load in sorted(loads(job), key=lambda load: -load.mass)[:1])


def lifting(job: Job) -> Iterator[Snag]:
    """A car whose engine lifts its front wheels before its tyres slip."""
    made = pulled(job)
    if made is not None and made.limit == "front wheels":
        yield Snag(
            "look",
            "lifts its front",
            "place",
            f"Engine and gears push {made.engine:.2f} g; the front wheels lift at {made.lifts:.2f} g, before the tyres "
            "slip.",
            _heaviest(job),
            "Move weight forward or down, or gear it higher.",
        )


def clash(job: Job) -> Iterator[Snag]:
    """What is nearer to something than its margin, and parts that can't come out."""
    made, units = clashes.find_clashes(job), units_of(job)
    worst = next(iter(made.clashes), None)
    for n in made.clashes:
        one, other = name_of(job, n.first), name_of(job, n.second)
        part = f" ({n.part})" if n.part else ""
        if n.state == "overlap":
            yield Snag(
                "wrong",
                "clash",
                "place",
                f"{one} runs {units.length(-n.gap)} into {other}{part}.",
                (n.first, n.second),
                _mend(job, n, units) if n is worst else f"Move {one} or {other}: they overlap {units.length(-n.gap)}.",
            )
        else:
            yield Snag(
                "look",
                "too near",
                "place",
                f"{one} is {units.length(n.gap)} from {other}{part} and wants {units.length(n.margin)}.",
                (n.first, n.second),
                f"Move {one} or {other} apart, or set a smaller margin.",
            )
    lost = tuple(p.id for p in job.parts if p.shape.kind == "scan" and triangles(p.shape.digest) is None)
    if lost:
        yield Snag(
            "unknown",
            "scan missing",
            "place",
            f"The mesh of {named([name_of(job, n) for n in lost])} is not here; the box round it stands in.",
            lost,
            "Bring it in again, or put the folder NAME.cage.scans beside the job.",
        )
    for b in made.blocked:
        yield Snag(
            "wrong",
            "can't come out",
            "place",
            f"{name_of(job, b.part)} can't slide out: {named(b.by)} {be(b.by)} in the way by up to "
            f"{units.length(b.depth)}.",
            (b.part, *b.by),
            "Turn its way out (set slide), or make what is in the way removable.",
        )


def _mend(job: Job, near: clashes.Near, units: Units) -> str:
    """The least move that clears a clash, in words with both things; that it has to be thought over where none does."""
    one, other = name_of(job, near.first), name_of(job, near.second)
    overlap = f"{one} and {other} overlap {units.length(-near.gap)}"
    found = mends.mend_pair(job, near.first, near.second)
    return f"{found.mends[0].words}: {overlap}." if found and found.mends else f"Move {one} or {other}: {overlap}."


def seated(job: Job) -> Iterator[Snag]:
    """People who can't reach."""
    units = units_of(job)
    for p in (p for p in people.people_seated(job) if p.aboard):
        for limb, by in p.short.items():
            yield Snag(
                "wrong",
                "can't reach",
                "place",
                f"{p.name}'s {limb} is {units.length(by)} too short for where it has to reach.",
                (p.id,),
                "Bring pedals, wheel or hip nearer.",
            )


def driven(job: Job) -> Iterator[Snag]:
    """Chains out of line or without a guard, shafts that shake."""
    units = units_of(job)
    chains, shafts = drives.find_drives(job)
    for c, told in zip(chains, job.chains, strict=True):
        if c.problem:
            yield Snag("wrong", "chain can't run", "place", c.problem, (c.id,))
        elif not c.in_line and c.line:
            yield Snag(
                "wrong",
                "out of line",
                "place",
                f"{c.name} is out of line: {math.degrees(c.line.plan):.2f}° in plan, "
                f"{math.degrees(c.line.elevation):.2f}° in "
                f"elevation, {units.length(c.line.offset)} sideways.",
                (c.id,),
                "Place says which block to move and by how much.",
            )
        if not c.problem and not told.guarded:
            yield Snag("look", "no guard", "place", f"{c.name} has no guard.", (c.id,), drives.GUARD)
    for s in shafts:
        if s.problem:
            yield Snag("wrong", "shaft can't turn", "place", s.problem, (s.id,))
        elif s.angles and s.angles.left_over > MOST_SHAKE:
            yield Snag(
                "look",
                "shaft shakes",
                "place",
                f"{s.name}'s joints do not cancel: what is left shakes like one joint at "
                f"{math.degrees(s.angles.left_over):.1f}°.",
                (s.id,),
                "Make both joint angles alike in one plane.",
            )


WEIGHED = (car, standing, lifting)


def bolted(job: Job) -> Iterator[Snag]:
    """Adapters whose holes leave too little metal between them."""
    for made in adapters(job):
        if made.problem:
            yield Snag(
                "wrong", "holes too near", "place", made.problem, (made.id,), "Turn or shift one pattern on the other."
            )


CHECKS = (clash, seated, driven, bolted)
