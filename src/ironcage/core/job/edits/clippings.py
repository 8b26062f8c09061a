"""What is copied from one job to be pasted into another, or into the same one after it was deleted there."""

from collections.abc import Sequence
from typing import Annotated

from pydantic import Field

from ironcage.core.job.edits.moving import group_of, joint_at, tube_like
from ironcage.core.job.edits.placed import with_copy
from ironcage.core.job.values.base import MOST, Value
from ironcage.core.job.values.model import Job, Joint, Material, Section, Tube
from ironcage.core.job.values.placed import Part
from ironcage.problem import Problem
from ironcage.units import said


class Clipping(Value):
    """Joints, tubes and parts as they were, and the sections and materials of the tubes."""

    joints: Annotated[tuple[Joint, ...], Field(max_length=MOST)] = ()
    tubes: Annotated[tuple[Tube, ...], Field(max_length=MOST)] = ()
    parts: Annotated[tuple[Part, ...], Field(max_length=5000)] = ()
    sections: Annotated[tuple[Section, ...], Field(max_length=5000)] = ()
    materials: Annotated[tuple[Material, ...], Field(max_length=1000)] = ()


def clip(job: Job, names: Sequence[str]) -> Clipping | None:
    """The named joints, tubes with their joints, and parts; None where nothing of that kind is named."""
    kept = [n for n in names if n in job.joint_by_id or n in job.tube_by_id or isinstance(job.placed.get(n), Part)]
    joints, parts = group_of(job, kept)
    tubes = tuple(job.tube_by_id[name] for name in names if name in job.tube_by_id)
    if not joints and not parts:
        return None
    sections = {name for t in tubes for name in (t.section, t.taper, t.cut_from)}
    materials = {t.material for t in tubes}
    return Clipping(
        joints=tuple(job.joint_by_id[name] for name in joints),
        tubes=tubes,
        parts=tuple(_alone(job, p) for p in job.parts if p.id in parts),
        sections=tuple(s for s in job.shelf.sections if s.name in sections),
        materials=tuple(m for m in job.shelf.materials if m.name in materials),
    )


def _alone(job: Job, part: Part) -> Part:
    """A part without leave to touch things by id: in another job that id is something else."""
    ids = {*job.joint_by_id, *job.tube_by_id, *job.placed, *job.fitting_by_id}
    return part.but(touches=tuple(name for name in part.touches if name not in ids))


def paste(job: Job, clipping: Clipping) -> tuple[Job, tuple[str, ...]]:
    """The job with what was copied at the places it was copied from, and what is new, by id. Joints and tubes that are
    there are used and left; joints with a mirror and their tubes come on both sides. Sections and materials that the
    job's shelf has by that name are the job's own. Raises Problem where everything is there."""
    shelf = job.shelf
    known = {s.name for s in shelf.sections} | {m.name for m in shelf.materials}
    made = job.but(
        shelf=shelf.but(
            sections=(*shelf.sections, *(s for s in clipping.sections if s.name not in known)),
            materials=(*shelf.materials, *(m for m in clipping.materials if m.name not in known)),
        )
    )
    landed: dict[str, str] = {}
    for joint in clipping.joints:
        landed[joint.id], made = joint_at(made, joint.place, mirrored=joint.twin is not None)
    for tube in clipping.tubes:
        made = tube_like(made, tube, (landed[tube.a], landed[tube.b]))
    there = {(p.name, p.place) for p in job.parts}
    for part in clipping.parts:
        if (part.name, part.place) not in there:
            made = with_copy(made, part)
    new = [joint.id for joint in made.joints[len(job.joints) :]]
    new += [tube.id for tube in made.tubes[len(job.tubes) :]]
    new += [part.id for part in made.parts[len(job.parts) :]]
    if not new:
        raise Problem(
            "Everything that was copied is there already.", hint=said.example("Lay it again beside: copy x[-300]")
        )
    return made, tuple(new)
