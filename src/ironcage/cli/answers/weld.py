"""What Weld says, as neutral data. mm."""

from collections import Counter
from typing import Any

from ironcage.core.answers.weld import assembly, movement
from ironcage.core.answers.weld.states import tube_ends
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

Said = dict[str, Any]


def say_weld(job: Job) -> Said:
    """States of ends, both orders of the welds that are left, and the order of putting pieces in."""
    counted = Counter(e.state for e in tube_ends(job))
    return {
        "ends": {state: counted[state] for state in ("open", "tacked", "welded", "checked")},
        "process": job.welding.process,
        "spread": job.welding.spread,
        **_movement(job),
        **_assembly(job),
        "assumptions": [*movement.ASSUMED, *assembly.ASSUMED],
    }


def _movement(job: Job) -> Said:
    try:
        told = movement.weld_answer(job)
    except Problem as problem:
        return {"movement_not_told": problem.sentence}
    return {
        "next": "" if told.next is None else f"{told.next.tube} at {told.next.joint}",
        "orders": [
            {
                "order": o.name,
                "worst_mm": round(o.worst, 4),
                "left_when_let_go_mm": {joint: round(off, 4) for joint, off in o.left},
                "welds": [
                    {
                        "weld": f"{s.tube} at {s.joint}",
                        "worst_mm": round(s.worst, 4),
                        "worst_joint": s.worst_joint,
                        "off_mm": round(s.off, 4),
                    }
                    for s in o.steps
                ],
            }
            for o in told.orders
        ],
    }


def _assembly(job: Job) -> Said:
    try:
        made = assembly.put_in_order(job)
    except Problem as problem:
        return {"order_not_told": problem.sentence}
    return {
        "put_in": [
            {"piece": s.piece, "tubes": list(s.tubes), "from": s.way, "after": list(s.after)} for s in made.steps
        ],
        "stuck": list(made.stuck),
        "cut_in_a_ring": list(made.ring),
    }
