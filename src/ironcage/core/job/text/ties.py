"""Commands that tie joints and put them on tubes: tie, untie, cross, and the places that `joint` knows."""

import math
import re

from ironcage.core.job import edits
from ironcage.core.job.text.axes import named_by_axis
from ironcage.core.job.text.command import (
    Chosen,
    Command,
    Done,
    joints_of,
    tubes_of,
)
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.ties import AnyTie, Between, ToHole, ToJoint
from ironcage.problem import Problem

_SHARE = re.compile(r"^(?P<share>[\d.]+)\s*%\s+between\s+(?P<a>\S+)\s+(?P<b>\S+)$", re.IGNORECASE)
EXAMPLE = "tie to B1 foot"


def read_tie(job: Job, name: str, text: str) -> AnyTie:
    """`to B1 foot` (a part's hole), `to J2L` (another joint, as far off as it is now), `between J1L J2L` (as it is
    now) or `40% between J1L J2L`."""
    body = text.strip()
    here = job.joint(name)
    share = _SHARE.match(body)
    between = re.match(r"^between\s+(?P<a>\S+)\s+(?P<b>\S+)$", body, re.IGNORECASE)
    if found := share or between:
        a, b = (job.joint(found[group]).id for group in ("a", "b"))
        part = float(share["share"]) / 100 if share else _share_of(job, here.place, a, b)
        if not 0 < part < 1 or a == b:
            raise Problem(
                f"{name} would not stand between {a} and {b}.", where=name, hint="Give a share between 0 and 100 %."
            )
        return Between(a=a, b=b, share=part)
    if not body.lower().startswith("to "):
        raise Problem(
            f"‘{body}’ is not something to tie to.",
            where=body,
            hint=f"Write for example: {EXAMPLE}, tie to J2L, tie 40% between J1L J2L",
        )
    what = body[3:].strip()
    if what.upper() in job.joint_by_id:
        other = job.joint(what)
        x, y, z = (p - q for p, q in zip(here.place, other.place, strict=True))
        return ToJoint(joint=other.id, offset=(x, y, z))
    part_found, hole = edits.part_and_hole(job, what)
    return ToHole(thing=part_found.id, hole=hole.name)


def _share_of(job: Job, place: tuple[float, float, float], a: str, b: str) -> float:
    """How far along the line from one joint to another a place stands, 0 to 1."""
    p, q = job.joint_by_id[a].place, job.joint_by_id[b].place
    way = [v - u for u, v in zip(p, q, strict=True)]
    return sum(w * (v - u) for w, u, v in zip(way, p, place, strict=True)) / max(math.dist(p, q) ** 2, 1e-9)


def tie(job: Job, chosen: Chosen, rest: str) -> Done:
    """Let the chosen joint follow a part's hole, another joint, or a line between two joints."""
    name = joints_of(job, chosen)[0]
    to = read_tie(job, name, rest)
    return Done(f"Tie {name} {rest.strip()}", edits.tie(job, name, to), (name,))


def untie(job: Job, chosen: Chosen, rest: str) -> Done:
    """Let the chosen (or named) joint follow nothing any more."""
    name = rest.strip() or joints_of(job, chosen)[0]
    return Done(f"Untie {name}", edits.untie(job, name), chosen)


def cross(job: Job, chosen: Chosen, rest: str) -> Done:
    """Put one joint into two tubes where they cross."""
    names = rest.split() or tubes_of(job, chosen)
    if len(names) != 2:
        raise Problem(
            f"Two tubes cross, and {len(names)} are named.", where="cross", hint="Name or choose two: cross T1L T2L"
        )
    made, joint = edits.cross(job, job.tube(names[0]).id, job.tube(names[1]).id)
    return Done(f"Join {names[0]} and {names[1]} at {joint}", made, (joint,))


def place_joint(job: Job, rest: str) -> Job | None:
    """`joint` at a part's hole (`at B1 foot`), beside another joint (`beside J2L z-40`, which it follows), on a tube
    (`on T3L 40%`, `on T3L 300 from J1L`) or projected to a plane (`from J2L to z 200`); None for a plain place."""
    word, _, body = rest.strip().partition(" ")
    if word == "at":
        part, hole = edits.part_and_hole(job, body)
        to = ToHole(thing=part.id, hole=hole.name)
        return edits.tied_joint(job, edits.place_of_tie(job, to), to)
    if word == "beside":
        name, _, off = body.partition(" ")
        other = job.joint(name)
        by = named_by_axis(job, off, (0.0, 0.0, 0.0), (0.0, 0.0, 0.0))
        beside = ToJoint(joint=other.id, offset=by)
        return edits.tied_joint(job, edits.place_of_tie(job, beside), beside)
    if word == "from" and " to " in body:
        name, _, plane = body.partition(" to ")
        other = job.joint(name.strip())
        zero = (job.datum.x, job.datum.y, job.datum.z)
        return edits.add_joint(job, named_by_axis(job, plane, other.place, zero), mirrored=other.twin is not None)
    return None


def on_tube(job: Job, rest: str) -> tuple[str, str] | None:
    """The tube and the rest of `on T3L 40%`; None for anything else."""
    match = re.match(r"^on\s+(\S+)\s*(.*)$", rest.strip(), re.IGNORECASE)
    return (job.tube(match[1]).id, match[2]) if match else None


def onto(job: Job, chosen: Chosen, rest: str) -> Done:
    """Let the chosen tube be met at a joint that stands on it: `meet J5L`."""
    tube = tubes_of(job, chosen)[0]
    joint = job.joint(rest.strip()).id
    return Done(f"Meet {tube} at {joint}", edits.split_at(job, tube, joint), (joint,))


COMMANDS = (
    Command(
        "tie",
        "tie between J1L J2L",
        "lets the chosen joint follow a part’s hole (to B1 foot), a joint (to J2L) or a line (40% between J1L J2L)",
        tie,
    ),
    Command("untie", "untie", "releases the chosen joint from what it follows", untie),
    Command("cross", "cross", "puts one joint into two chosen tubes where they cross", cross),
    Command("meet", "meet J1L", "splits the chosen tube at a joint that stands on it", onto),
)
