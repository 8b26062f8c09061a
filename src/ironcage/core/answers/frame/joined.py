"""Snags of how the frame is joined: loose and doubled joints and tubes, loose pieces, unlike sides."""

import math
from collections import Counter
from collections.abc import Iterator

from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.answers.shared.snag import Snag, be, has, named
from ironcage.core.calc.frames.beams import pieces
from ironcage.core.job.edits.joints import SAME_PLACE_MM, flipped
from ironcage.core.job.edits.tubes import crosses
from ironcage.core.job.values.fittings import hosts_of
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import said


def loose_joints(job: Job) -> Iterator[Snag]:
    """Joints that no tube ends at and no fitting sits on or carries."""
    held = {name for f in job.fittings for name in hosts_of(f)[0]}
    loose = tuple(j.id for j in job.joints if j.id not in job.tubes_at and j.id not in held)
    if loose:
        yield Snag(
            "wrong",
            "loose joint",
            "frame",
            f"{named(loose)} {be(loose)} on no tube.",
            loose,
            "Join it with a tube or delete it.",
        )


def doubled(job: Job) -> Iterator[Snag]:
    """Tubes that join the same two joints, and joints at one place."""
    counts = Counter(
        (frozenset(t.ends), bool(t.corners)) for t in job.tubes
    )  # a straight one may stand under a bent one
    for key in (k for k, n in counts.items() if n > 1):
        twice = tuple(t.id for t in job.tubes if (frozenset(t.ends), bool(t.corners)) == key)
        yield Snag("wrong", "doubled tube", "frame", f"{named(twice)} join the same two joints.", twice, "Delete one.")
    cells: dict[tuple[int, ...], list[str]] = {}
    for j in job.joints:
        cells.setdefault(tuple(round(v / SAME_PLACE_MM / 2) for v in j.place), []).append(j.id)
    for names in cells.values():
        if len(names) > 1:
            yield Snag(
                "wrong", "doubled joint", "frame", f"{named(names)} stand at one place.", tuple(names), "Merge them."
            )


def no_length(job: Job) -> Iterator[Snag]:
    """Tubes whose joints coincide."""
    short = tuple(
        t.id for t in job.tubes if math.dist(job.joint_by_id[t.a].place, job.joint_by_id[t.b].place) < SAME_PLACE_MM
    )
    if short:
        yield Snag(
            "wrong", "no length", "frame", f"{named(short)} {has(short)} no length.", short, "Move one of its joints."
        )


def apart(job: Job) -> Iterator[Snag]:
    """Parts of the frame that nothing joins to the rest."""
    if not job.tubes:
        return
    try:
        frame = beam_frame(job)
    except Problem:
        return  # a tube without length: listed by no_length
    first, *others = [tuple(frame.node_names[i] for i in part) for part in pieces(frame)]
    for names in others:
        # without wheels, a left and a right half may be two parts, as both arms of an axle are
        halves = not job.wheels and len(others) == 1 and {job.joint_by_id[n].twin for n in names} == set(first)
        yield Snag(
            "look" if halves else "wrong",
            "in pieces",
            "frame",
            f"{named(names)} {be(names)} joined to each other but not to the rest of the frame.",
            names,
            "Join them with a tube, unless they are two parts." if halves else "Join them to it with a tube.",
        )


def mirror(job: Job) -> Iterator[Snag]:
    """Pairs that do not stand opposite each other, and tubes with no partner on the other side."""
    for j in job.joints:
        other = job.joint_by_id.get(j.twin or "")
        if other and j.y >= 0 and math.dist(flipped(j.place), other.place) > SAME_PLACE_MM:
            off = math.dist(flipped(j.place), other.place)
            yield Snag(
                "wrong",
                "not mirrored",
                "frame",
                f"{j.id} and {other.id} are a pair but {said.length(off)} from being mirror images.",
                (j.id, other.id),
                "Put one of them again.",
            )
    single = tuple(t.id for t in job.tubes if _one_sided(job, t.ends))
    if single:
        yield Snag(
            "look",
            "one side only",
            "frame",
            f"{named(single)} {has(single)} no partner on the other side.",
            single,
            "Leave it if it is meant, as a single diagonal often is.",
        )


def _one_sided(job: Job, ends: tuple[str, str]) -> bool:
    """Whether a tube between paired joints lacks its mirror. One that crosses the centreline would be crossed by it,
    and has none."""
    if crosses(job, ends):
        return False
    twins = tuple(job.joint_by_id[end].twin for end in ends)
    if not all(twins) or set(twins) == set(ends):
        return False
    return frozenset(t for t in twins if t) not in job.tube_by_ends


JOINED = (loose_joints, doubled, no_length, apart, mirror)
