"""Tubes drawn from place to place: what stands at a place is taken, what is missing there is put in."""

from __future__ import annotations

from dataclasses import dataclass

from ironcage.core.job.edits.joints import Place, add_joint
from ironcage.core.job.edits.shaping import FIRST_MATERIAL
from ironcage.core.job.edits.tubes import add_tube, split
from ironcage.core.job.shelf.library import FIRST_SECTION
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem


@dataclass(frozen=True)
class Spot:
    """Where a drawn line begins or ends. place: mm; joint: the id of the joint that is there; tube, share: the tube it
    is on, and how far along that, 0 to 1; each empty where there is none."""

    place: Place
    joint: str = ""
    tube: str = ""
    share: float = 0.0


@dataclass(frozen=True)
class Drawn:
    """What drawing made: the job, the joints at both ends, and the tube between them."""

    job: Job
    start: str
    stop: str
    tube: str


def put_joint(job: Job, spot: Spot) -> tuple[Job, str]:
    """The job with a joint at a spot, on both sides, and the joint's id: the one that is there, one in the tube that is
    there, or a new one. Raises Problem where a tube can't be split."""
    if spot.joint:
        return job, job.joint(spot.joint).id
    made = split(job, spot.tube, spot.share) if spot.tube else add_joint(job, spot.place)
    new = made.joints[len(job.joints) :]
    here = min(new, key=lambda j: sum((a - b) ** 2 for a, b in zip(j.place, spot.place, strict=True)))
    return made, here.id


def draw(job: Job, start: Spot, stop: Spot) -> Drawn:
    """Lay a tube between two spots, and its mirror image; section, material and role as the last tube. Raises Problem
    where both are one place, or a tube joins them already."""
    if start == stop or (start.joint and start.joint == stop.joint):
        raise Problem("A tube needs two places.", where=start.joint, hint="Go on to another one.")
    made, first = put_joint(job, start)
    if stop.tube and stop.tube == start.tube and not start.joint:
        raise Problem(f"Both places are on {stop.tube}.", where=stop.tube, hint="End on another tube or joint.")
    made, last = put_joint(made, stop)
    before = len(made.tubes)
    made = add_tube(made, first, last, *like_the_last(job))
    return Drawn(made, first, last, made.tubes[before].id)


def like_the_last(job: Job) -> tuple[str, str, str]:
    """Section, material and role of the last tube, or those that a first one has."""
    if not job.tubes:
        return FIRST_SECTION, FIRST_MATERIAL, ""
    last = job.tubes[-1]
    return last.section, last.material, last.role
