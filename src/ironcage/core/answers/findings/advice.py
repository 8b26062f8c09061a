"""Next: the most useful next thing to do and why, worked out from the job."""

from collections import Counter
from dataclasses import dataclass

from ironcage.core.answers import log, prove
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
    """The first thing that stands in the way; once steel is tacked, what the shop does next; else the soft place of
    the frame, then the stands, then the saw."""
    wrong = next((s for s in snags if s.severity != "look"), None)
    stops = wrong and Advice(
        wrong.hint or wrong.what, wrong.what if wrong.hint else wrong.code, wrong.step, wrong.where
    )
    return _start(job) or stops or _building(job) or _designing(job)


def _start(job: Job) -> Advice | None:
    """The first joints and tubes; None where they are there."""
    if not job.tubes and any(cell.joint is None for _, _, cell in job.offsets.cells()):
        return Advice("Lay the sheet of offsets: sheet lay", "its joints and tubes are drawn and not laid yet", "frame")
    if not job.joints:
        return Advice(
            said.example("Type the first joint, for example: joint [0] [250] [300]"),
            "parts are placed; tubes join the points between them"
            if job.parts
            else "or start from a sheet that lays a whole frame: sheet single seat",
            "frame",
        )
    if not job.tubes:
        return Advice("Choose two joints and type: tube", "joints alone hold nothing", "frame")
    return None


def _designing(job: Job) -> Advice:
    """The soft place of the frame; else the stands; else the saw."""
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
    if not job.table.stands:
        return Advice(
            "Choose the joints that stand on the table and type: stand", "nothing says yet how it is held", "jig"
        )
    return Advice("Print the cut list and the first templates", "nothing stands in the way of cutting", "cut")


def _building(job: Job) -> Advice | None:
    """What comes next once steel stands on the table; None before."""
    ends = Counter(e.state for e in job.welding.ends)
    if not ends:
        return None
    if ends["tacked"] and not job.truing.readings:
        return Advice(
            "Tape what is tacked, both diagonals of each bay",
            "what is out of place is cut loose with a blade now, and not after it is welded",
            "true",
        )
    ahead = log.log_answer(job).ahead
    free = next((t for t in ahead.tasks if not t.waits), None)
    if free is not None:
        return Advice(free.task.text, f"{free.task.id} can begin and comes first in the log", "log", free.task.of)
    if ends["tacked"]:
        return Advice("Weld what is tacked", "Weld says which end keeps the pickups nearest to their place", "weld")
    if ends["welded"]:
        return Advice(
            "Look at the welds and type: checked", f"{ends['welded']} ends were welded and not looked at", "weld"
        )
    return None
