"""Next: the most useful next thing to do and why, worked out from the job."""

from dataclasses import dataclass

from ironcage.core.answers import prove
from ironcage.core.answers.shared.snag import Snag
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import said


@dataclass(frozen=True)
class Advice:
    """What to do next, why, on which step, and what to pick for it."""

    what: str
    why: str
    step: str
    where: tuple[str, ...] = ()


def next_step(job: Job, snags: tuple[Snag, ...]) -> Advice:
    """The first thing that stands in the way; else the soft place of the frame; else the saw."""
    if not job.joints and job.parts:
        return Advice(
            said.example("Type the first joint, for example: joint [0] [250] [300]"),
            "parts are placed; tubes join the points between them",
            "frame",
        )
    if not job.joints:
        return Advice(
            said.example("Type the first joint, for example: joint [0] [250] [300]"),
            "a tube needs two joints; the one on the other side comes by itself",
            "frame",
        )
    if not job.tubes:
        return Advice("Choose two joints and type: tube", "joints alone hold nothing", "frame")
    wrong = next((s for s in snags if s.severity != "look"), None)
    if wrong:
        return Advice(wrong.hint or wrong.what, wrong.what if wrong.hint else f"{wrong.code}", wrong.step, wrong.where)
    try:
        proved = prove.answer(job)
    except Problem as problem:
        return Advice(problem.hint or "See Prove", problem.what, "prove")
    if proved.soft:
        a, b = proved.soft
        turn = abs(a.twist - b.twist) / abs(proved.stations[0].twist - proved.stations[-1].twist or 1.0)
        length = abs(a.x - b.x) / (abs(proved.stations[0].x - proved.stations[-1].x) or 1.0)
        if turn > 1.3 * length:
            return Advice(
                f"Stiffen the bay between {a.left}/{a.right} and {b.left}/{b.right}",
                f"{turn:.0%} of the twist is in {length:.0%} of the length",
                "prove",
                (a.left, a.right, b.left, b.right),
            )
    return Advice("Print the cut list and the first templates", "nothing stands in the way of cutting", "cut")
