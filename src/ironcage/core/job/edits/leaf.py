"""What is known of the leaf springs of an end: of a beam, or of a live axle that hangs on them."""

from __future__ import annotations

from typing import Any

from ironcage.core.job.edits.ends import change_end
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import LeafSpring
from ironcage.problem import Problem


def set_leaf(job: Job, axle: str, **changes: Any) -> Job:
    """Change what is known of the leaf springs of an end: mm, kg, rad, MPa. Both arms of one across the car are alike.
    Refuses one without leaves, and a live axle that hangs on links or on a spring across the car."""
    linked = next((a for a in job.live_axles if a.axle == axle), None)
    if linked and not linked.eye:
        raise Problem(
            f"The {axle} axle does not hang on leaf springs.",
            where=axle,
            hint=f"Hang it on some: axle {axle} leaf eyes J5L J8L",
        )
    if linked and changes.get("lies") == "across":
        raise Problem(f"The leaf springs of the {axle} axle lie along the car.", where="lies")

    def change(leaf: LeafSpring) -> LeafSpring:
        made = leaf.but(**changes)
        if made.full + made.stepped == 0:
            raise Problem("A leaf spring has one leaf at least.", where="full", hint="Type for example: full 1")
        if made.lies == "across" and made.front != made.rear:
            same = changes.get("front", changes.get("rear", made.front))
            made = made.but(front=same, rear=same)
        return made

    return change_end(job, axle, "leaf", change, called="leaf springs")
