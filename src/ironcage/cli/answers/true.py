"""What True says, as neutral data. mm, degrees."""

import math
from typing import Any

from ironcage.core.answers.true.measured import ASSUMED, ReadingJudged, answer
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.truing import MeasuredSlope, joints_of
from ironcage.problem import Problem

Said = dict[str, Any]


def say_true(job: Job) -> Said:
    """Joints, the worst first, and every reading judged."""
    try:
        a = answer(job)
    except Problem as problem:
        return {"not_told": problem.sentence}
    return {
        "datum": list(job.truing.datum) or "best fit",
        "spare_readings": a.spare,
        "factor": None if a.factor is None else round(a.factor, 4),
        "suspect": a.suspect.reading.id if a.suspect else "",
        "apart": [list(joints) for joints in a.apart],
        "joints": [
            {
                "joint": j.joint,
                **{f"moved_{axis}_mm": round(v, 3) for axis, v in zip("xyz", j.moved, strict=True)},
                **{f"sure_{axis}_mm": round(v, 3) for axis, v in zip("xyz", j.sure, strict=True)},
                "told": "".join(axis for axis, told in zip("xyz", j.told, strict=True) if told),
                "off_mm": round(j.off, 3),
                "too_far": j.too_far,
                "words": j.words,
            }
            for j in a.joints
        ],
        "readings": [_reading(r) for r in a.readings],
        "assumptions": list(ASSUMED),
    }


def _reading(r: ReadingJudged) -> Said:
    scale = 180 / math.pi if isinstance(r.reading, MeasuredSlope) else 1.0
    return {
        "reading": r.reading.id,
        "kind": r.reading.kind,
        "of": list(joints_of(r.reading)),
        "in": "deg" if isinstance(r.reading, MeasuredSlope) else "mm",
        "read": round(r.value * scale, 4),
        "left": round(r.left * scale, 4),
        "error_if_wrong": round(r.error * scale, 4),
        "deviations": round(r.normalised, 3),
        "checked": r.checked,
        "suspect": r.suspect,
        "gone": r.gone,
    }
