"""Snags of room: links in their own wheel, racks that do not fit, sides that differ, and what touches the ground."""

import math
from collections.abc import Iterator

from ironcage.core.answers.run.clearance import clearances
from ironcage.core.answers.run.inwheel import in_wheels
from ironcage.core.answers.shared.snag import Snag
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import HUNG, AxleCarrier, LinkedAxle, SwingingArms, Wishbones
from ironcage.problem import Problem
from ironcage.units import said

SIDES_MM = 0.5  # that a joint may be off the mirror image of its twin


def sides(job: Job) -> Iterator[Snag]:
    """Links of the right side that are hung where the left side's are not in a mirror."""
    beams = (beam.on for beam in job.beams if beam.on)
    ends: tuple[Wishbones | LinkedAxle | SwingingArms | AxleCarrier, ...]
    ends = (*job.wishbones, *job.live_axles, *job.arms, *job.carriers, *beams)
    for hung in ends:
        for name in hung.joints:
            left = job.joint_by_id.get(name)
            right = job.joint_by_id.get(left.twin or "") if left else None
            if left is None or right is None:
                continue
            off = math.dist(left.place, (right.x, -right.y, right.z))
            if off > SIDES_MM:
                yield Snag(
                    "look",
                    "sides differ",
                    "run",
                    f"{right.id}, where the {hung.axle} right wheel hangs, is {said.fine(off)} off the mirror image of "
                    f"{left.id}; what is told is of the left one.",
                    (left.id, right.id),
                    "Mirror it again (mirror), or measure both.",
                )


def racks(job: Job) -> Iterator[Snag]:
    """Racks whose ends go past the wheels' steering joints, or past each other."""
    for hung in job.wishbones:
        inner, outer = hung.tie_in[1], hung.tie_out[1]
        if not hung.rack or hung.pivot:
            continue
        if inner + hung.rack >= outer:
            over = inner + hung.rack - outer
            what = f"At full lock the {hung.axle} rack’s end is {said.length(over)} outside of its tie rod’s outer end."
        elif inner - hung.rack <= 0:
            what = f"The {hung.axle} rack’s ends are nearer to each other than it goes: {said.length(2 * inner)} apart."
        else:
            continue
        yield Snag(
            "wrong", "rack too wide", "run", what, (), "Move the tie rod’s inner end (tie in), or type less rack."
        )


def own_wheels(job: Job) -> Iterator[Snag]:
    """Links that run into their own wheel's rim, tyre or brake on their way."""
    try:
        found = in_wheels(job)
    except Problem:  # said where the links are looked at
        return
    for of in found:
        if of.gap < of.margin:
            does = f"comes within {said.length(of.gap)} of" if of.gap >= 0 else f"is {said.length(-of.gap)} in"
            yield Snag(
                "wrong" if of.gap < 0 else "look",
                "in its wheel",
                "run",
                f"The {of.axle} {of.link} {does} {of.what} of its own wheel {of.at}.",
                (),
                "Move its outer end inwards or towards the hub, steer less far, or take a wider rim."
                if "rim" in of.what
                else "Move its outer end inwards, steer less far, or take a smaller disc.",
            )


def grounding(job: Job) -> Iterator[Snag]:
    """What touches the ground within the travel."""
    if not any(getattr(job, kind) for kind in HUNG):
        return
    low = min(clearances(job), key=lambda of: of.height, default=None)
    if low is not None and low.height < 0:
        yield Snag(
            "wrong",
            "grounds",
            "run",
            f"With {low.which} {low.lowest} is {said.length(-low.height)} under the ground."
            if "travel" in low.which
            else f"{low.lowest} is {said.length(-low.height)} under the ground at ride height.",
            (low.lowest,),
            "Raise it or the frame, or type less travel up.",
        )
