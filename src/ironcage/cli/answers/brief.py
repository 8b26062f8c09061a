"""What Brief says, as neutral data: mm, kg, degrees, N·m/deg."""

from typing import Any

from ironcage.cli.shown import rounded
from ironcage.core.answers.brief import aims, rules
from ironcage.core.job.text.plans import COMPARED, aimed
from ironcage.core.job.values.model import Job
from ironcage.units.quantity import Quantity

Said = dict[str, Any]


def say_brief(job: Job) -> Said:
    """Aims, rules, variants."""
    a = aims.answer(job)
    return {
        "vehicle": job.brief.vehicle,
        "deadline": str(job.brief.deadline or ""),
        "rule_profile": job.rules.name,
        "targets": [
            {
                "target": t.kind,
                "wanted": _neutral(aimed(t.kind), t.value),
                "tolerance": _neutral(aimed(t.kind), t.tolerance),
                "now": _neutral(aimed(t.kind), t.now),
                "off": _neutral(aimed(t.kind), t.off),
                "met": {True: "yes", False: "no", None: "not known"}[t.met],
            }
            for t in a.aims
        ],
        "tyres": [
            {
                "wheel": w.tyre_name.removesuffix(" tyre"),
                "tyre": w.tyre,
                "diameter_mm": round(w.diameter, 1),
                "width_mm": round(w.width, 1),
            }
            for w in job.wheels
            if not w.second_half
        ],
        "rules": [
            {
                "rule": v.rule,
                "kind": v.kind,
                "verdict": v.state,
                "measured": _neutral(v.quantity, v.measured),
                "by": _neutral(v.quantity, v.by),
                "in": v.quantity.neutral if v.quantity else "",
                "where": " ".join(v.where),
                "clause": v.clause,
                "why": v.why,
            }
            for v in a.verdicts
        ],
        "variants": [
            {"variant": b.name, "note": b.note, **{f.key.replace(" ", "_"): rounded(f.value, 4) for f in b.figures}}
            for b in a.beside
        ],
        "vehicles": [
            {
                "vehicle": v.name,
                **{k.replace(" ", "_"): _neutral(aimed(k), v.values[k]) for k in COMPARED if k in v.values},
                "wheelbase_by_track": rounded(v.slim, 4),
            }
            for v in a.vehicles
        ],
        "caution": rules.CAUTION,
    }


def _neutral(quantity: Quantity | None, value: float | None) -> float | None:
    return rounded(value * quantity.per) if quantity and value is not None else None
