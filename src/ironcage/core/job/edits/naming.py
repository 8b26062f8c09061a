"""The builder's own names of joints and tubes, both sides in one edit."""

from collections.abc import Iterable

from ironcage.core.job.edits.tubes import change_tubes
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem


def call(job: Job, things: Iterable[str], name: str) -> Job:
    """Call joints and tubes by a name, without a side, on both sides; nothing goes back to the name that is made from
    role and place. Raises Problem where nothing is named."""
    listed = list(things)
    joints = {job.joint(thing).id for thing in listed if thing in job.joint_by_id}
    tubes = {job.tube(thing).id for thing in listed if thing in job.tube_by_id}
    if not joints and not tubes:
        raise Problem("Nothing is chosen to be named.", hint="Pick a joint or a tube first.")
    plain = " ".join(name.split())
    for side in (", left", ", right", " left", " right"):
        plain = plain.removesuffix(side)
    joints |= {twin for thing in joints if (twin := job.joint_by_id[thing].twin)}
    made = job.but(joints=tuple(j.but(called=plain) if j.id in joints else j for j in job.joints)) if joints else job
    return change_tubes(made, tubes, called=plain) if tubes else made
