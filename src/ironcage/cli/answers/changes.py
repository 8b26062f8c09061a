"""Two states of a job side by side, as neutral data. mm, kg."""

from typing import Any

from ironcage.core.answers import cut
from ironcage.core.answers.shared.figures import QUANTITIES, Figure
from ironcage.core.answers.tally import compare_jobs
from ironcage.core.job.values.model import Job

Said = dict[str, Any]


def say_changes(before: Job, after: Job) -> Said:
    """What differs from one job to the other."""
    made = compare_jobs(before, after)
    circle = [None if c is None else round(c, 1) for c in made.circle]
    return {
        "figures": [
            {"figure": a.key, "unit": QUANTITIES[a.key].neutral, "before": _value(a), "now": _value(b)}
            for a, b in made.figures
            if a.value != b.value
        ],
        "turning_circle_mm": circle,
        "ends_cut_to_several": [cut.answer(job).trimmed for job in (before, after)],
        "tubes": [
            {"tube": t.tube, "what": t.what, "before_mm": round(t.before, 2), "now_mm": round(t.after, 2)}
            for t in made.tubes
        ],
        "joints": [
            {"joint": p.name, "what": p.what, "by_mm": [round(v, 3) for v in p.by] if p.by else []} for p in made.joints
        ],
        "things": [
            {"thing": p.name, "what": p.what, "by_mm": [round(v, 3) for v in p.by] if p.by else []} for p in made.things
        ],
    }


def _value(figure: Figure) -> float | None:
    return None if figure.value is None else round(figure.value * QUANTITIES[figure.key].per, 4)
