"""What a load at a wheel does at the joints that its links are hung at."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ironcage.core.answers.run.corner import MIRROR, corner_of
from ironcage.core.calc.linkage.wishbone import link_forces, poses
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Wishbones
from ironcage.problem import Problem

Floats = NDArray[np.float64]
RACK_JOINTS = 2  # that the rack's own force is given to: those nearest to it


def link_reactions(
    job: Job, corner: str, at: Floats, force: Floats
) -> tuple[tuple[str, tuple[str, ...], Floats, Floats], ...] | None:
    """At ride height, each link's name, the joints it reaches the frame at, where it acts (3,) mm, and its force there
    (3,) N, for a force (3,) N at a place (3,) mm on the upright; None where that corner hangs on no links. Joints of
    the tie rod are those nearest to the rack. Raises Problem where the links do not bear it."""
    axle, _, side = corner.partition(" ")
    hung = next((w for w in job.wishbones if w.axle == axle), None)
    if hung is None:
        return None
    right = side == "right"
    turn = MIRROR if right else np.ones(3)
    points = corner_of(job, hung, right=right)
    found = poses(points, np.zeros(1), np.zeros(1))
    try:
        told = link_forces(found, at * turn, force * turn, np.zeros(3))
    except ValueError as fault:
        raise Problem(
            f"The links of the {corner} wheel bear no load: {fault}.", where=corner, hint="See Run."
        ) from None
    made = []
    for name, pushed in told.on_frame.items():
        place = {
            "lower front": points.lower[0],
            "lower rear": points.lower[1],
            "upper front": points.upper[0],
            "upper rear": points.upper[1],
            "tie": points.tie_in,
            "spring": points.spring_in,
        }[name]
        made.append((name, _joints(job, hung, name, place, right=right), place * turn, pushed * turn))
    return tuple(made)


def _joints(job: Job, hung: Wishbones, end: str, place: Floats, *, right: bool) -> tuple[str, ...]:
    named = {
        "lower front": hung.lower[0],
        "lower rear": hung.lower[1],
        "upper front": hung.upper[0],
        "upper rear": hung.upper[1],
        "spring": hung.spring,
    }
    if end in named:
        name = (job.joint_by_id[named[end]].twin or "") if right else named[end]
        if name not in job.tubes_at:
            raise Problem(f"{name}, where a link is hung, is on no tube.", where=name, hint="Join it to the frame.")
        return (name,)
    there = place * (MIRROR if right else 1.0)
    used = [j for j in job.joints if j.id in job.tubes_at]
    used.sort(key=lambda j: float(np.linalg.norm(np.array(j.place) - there)))
    return tuple(j.id for j in used[:RACK_JOINTS])
