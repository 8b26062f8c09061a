"""Snags of Prove: tubes that are loaded beyond what they carry, a chain that opens under load, cases not worked out."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ironcage.core.answers.prove import linkloads, stiffness, strength
from ironcage.core.answers.shared.snag import Snag, be, named
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import said

SLENDER_LEFT = 0.15  # less than this left is worth a look


def strong_enough(job: Job) -> Iterator[Snag]:
    """Tubes by what they use, and what moves too far."""
    try:
        told = strength.tube_strength(job)
    except Problem:
        return  # listed by what checks the twist
    over = sorted((t for t in told.tubes if t.use > 1), key=lambda t: -t.use)
    if over:
        worst, names = over[0], tuple(t.tube for t in over)
        yield Snag(
            "wrong",
            "too weak",
            "prove",
            f"{named(names)} {be(names)} loaded beyond what a tube carries: {worst.tube} {worst.use:.0%}, "
            f"{worst.cause} in {worst.case}.",
            names,
            "Give it a larger section or a brace, or lower the level in Cases.",
        )
    near = [t for t in told.tubes if t.use <= 1 and t.margin < SLENDER_LEFT]
    if near:
        worst, names = max(near, key=lambda t: t.use), tuple(t.tube for t in near)
        yield Snag(
            "look",
            "little left",
            "prove",
            f"{named(names)} {be(names)} loaded to nearly all a tube carries: {worst.tube} {worst.use:.0%}, "
            f"{worst.cause} in {worst.case}.",
            names,
            "See Strength for its cause.",
        )
    for move in strength.moves(job, told):
        if move.too_far:
            turned = f" and turns {math.degrees(move.angle):.2f}°" if move.angle is not None else ""
            yield Snag(
                "look",
                "opens under load",
                "prove",
                f"The {move.what} goes {said.length(move.mm)} aside{turned} in {move.case}, more than its limits.",
                move.where,
                "Brace the shafts' mounts to each other.",
            )
    own = {c.name for c in (*job.proving.cases,)} | {c.name for c in job.proving.combinations}
    for case in told.refused:
        if case.name in own or "would tip" in case.problem:
            yield Snag(
                "look",
                "case unknown",
                "prove",
                f"The case {case.name} can't be worked out: {case.problem}",
                (),
                "See Cases.",
            )


def provable(job: Job) -> Iterator[Snag]:
    """Why the frame can't be worked out, if it can't. One on a single wheel is not twisted, so nothing is missing."""
    if not job.tubes or any(w.single for w in job.wheels):
        return
    missing = [
        c for c in ("front left", "front right", "rear left", "rear right") if all(p.corner != c for p in job.pickups)
    ]
    if missing:
        yield Snag(
            "unknown",
            "no pickup",
            "prove",
            f"There is no pickup at the {', '.join(missing)}, so twist is not known.",
            (),
            "Choose a joint there and type: pickup.",
        )
        return
    try:
        stiffness.answer(job)
    except Problem as problem:
        known = problem.where in job.joint_by_id or problem.where in job.tube_by_id
        yield Snag("wrong", "can't be proved", "prove", problem.what, (problem.where,) if known else (), problem.hint)


def links(job: Job) -> Iterator[Snag]:
    """Links of the wheels whose tubes do not bear what a case pulls or pushes them with."""
    try:
        found = linkloads.link_loads(job)
    except Problem:  # Run says what is incomplete
        return
    for link in found:
        if link.used > 1:
            does, force, case = "pulled", link.pull, link.pull_case
            if link.push > link.pull:
                does, force, case = "pushed", link.push, link.push_case
            yield Snag(
                "wrong",
                "link weak",
                "prove",
                f"The {link.axle} {link.link} is {does} with {said.force(force)} in the case {case}: {link.used:.0%} "
                f"of what its tube {link.section} bears.",
                (),
                "Take a thicker tube for it (link), or a shorter way.",
            )


PROVABLE = (provable,)
CHECKS = (strong_enough, links)
