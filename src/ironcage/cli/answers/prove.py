"""What Prove says, as neutral data. mm, kg, N, MPa, N·m/deg, degrees."""

import math
from collections.abc import Callable
from functools import partial
from typing import Any

from ironcage.core.answers.prove import (
    balance,
    baywork,
    braces,
    cases,
    linkloads,
    measured,
    mounts,
    strength,
    vibration,
    worth,
)
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units.tables import N_M_PER_DEGREE

Said = dict[str, Any]


def say_prove(job: Job) -> Said:
    """Stiffness, cases, strength, modes, buckling, advice and the twist test; what can't be worked out says why. Raises
    Problem where neither stiffness nor cases can be."""
    told: Said = {name: _told(make, job) for name, make in _MORE.items()}
    if told["links"]:
        told["links_assumed"] = linkloads.LINKS_ASSUMED
    try:
        return {**_stiffness(job), **told}
    except Problem as problem:
        if "not_told" in told["cases"]:
            raise
        return {"stiffness": {"not_told": problem.sentence}, **told}


def _told(make: Callable[[Job], Any], job: Job) -> Any:
    try:
        return make(job)
    except Problem as problem:
        return {"not_told": problem.sentence}


def _stiffness(job: Job) -> Said:
    a = baywork.by_bay(job)
    ranked = sorted(zip(job.tubes, a.energy, strict=True), key=lambda pair: -pair[1])
    return {
        "torsional_stiffness_n_m_per_deg": round(a.torsion * N_M_PER_DEGREE, 2),
        "torsional_stiffness_each_rear_pickup_held": None
        if a.clamped is None
        else round(a.clamped * N_M_PER_DEGREE, 2),
        "twist_deg_at_1000_n_m": round(math.degrees(a.angle), 5),
        "track_of_loads_mm": round(a.track, 2),
        "bending_stiffness_n_per_mm": None if a.bending is None else round(a.bending, 2),
        "bending_load_at": list(a.bending_at),
        "lateral_stiffness_n_per_mm": None if a.lateral is None else round(a.lateral, 2),
        "mass_kg": round(a.mass, 3),
        "cg_mm": [round(v, 2) for v in a.cg],
        "stiffness_per_kg": round(a.per_kg * N_M_PER_DEGREE, 3),
        "softest_between": [[s.left, s.right] for s in a.soft] if a.soft else [],
        "twist": [
            {"x_mm": s.x, "left": s.left, "right": s.right, "deg": round(math.degrees(s.twist), 5)} for s in a.stations
        ],
        "regions": [
            {
                "front": r.front.left,
                "rear": r.rear.left,
                "deg_per_m": round(math.degrees(r.slope) * 1000, 5),
                "energy": round(r.energy, 5),
            }
            for r in a.regions
        ],
        "bays": [{"bay": " ".join(b.corners), "state": b.state, "energy": round(b.energy, 5)} for b in a.bays],
        "strain_energy_share": [{"tube": t.id, "share": round(float(e), 5)} for t, e in ranked],
        "assumptions": list(a.assumptions),
    }


def _links(job: Job) -> list[Said]:
    return [
        {
            "end": of.axle,
            "link": of.link,
            "pull_n": round(of.pull, 1),
            "pull_case": of.pull_case,
            "push_n": round(of.push, 1),
            "push_case": of.push_case,
            "used": round(of.used, 4),
            "section": of.section,
            "material": of.material,
        }
        for of in linkloads.link_loads(job)
    ]


def _cases(job: Job) -> list[Said]:
    return [
        {
            "case": c.name,
            "pushes_n": [round(float(v), 2) for v in c.applied],
            "masses_answer_n": [round(float(v), 2) for v in c.inertia],
            "held": list(c.held),
            "left_over_n": c.residual[0],
            "left_over_n_mm": c.residual[1],
            "problem": c.problem,
        }
        for c in cases.load_cases(job)
    ]


def _mounts(job: Job) -> list[Said]:
    return [
        {
            "part": p.name,
            "case": p.case,
            "drive_n_m": [round(float(v) / 1000, 3) for v in p.drive],
            "mounts": [
                {"hole": m.hole, "joint": m.joint, "on_the_frame_n": [round(float(v), 2) for v in m.force]}
                for m in p.mounts
            ],
        }
        for p in mounts.mount_loads(job)
    ]


def _strength(job: Job) -> list[Said]:
    return [
        {
            "tube": t.tube,
            "used": round(t.use, 4),
            "by": t.check,
            "cause": t.cause,
            "case": t.case,
            "at": t.at,
            "mpa": round(t.stress, 2),
            "left": {
                c: round(m, 3) if math.isfinite(m) else None
                for c, m in zip(strength.MEMBER_CHECKS, t.margins, strict=True)
            },
        }
        for t in sorted(strength.tube_strength(job).tubes, key=lambda t: -t.use)
    ]


def _moves(job: Job) -> list[Said]:
    return [
        {
            "what": m.what,
            "case": m.case,
            "mm": round(m.mm, 3),
            "deg": None if m.angle is None else round(math.degrees(m.angle), 4),
            "too_far": m.too_far,
        }
        for m in strength.moves(job, strength.tube_strength(job))
    ]


def _buckling(job: Job) -> list[Said]:
    return [
        {"case": c.case, "factor": round(c.factor, 3) if math.isfinite(c.factor) else None, "most_at": c.tube}
        for c in vibration.collapses(job)
    ]


def _modes(job: Job) -> Said:
    made = vibration.frame_vibration(job)
    return {
        words: [{"hz": round(m.hz, 3), "kind": m.kind} for m in found]
        for words, found in (("bare", made.bare), ("with_masses", made.loaded))
    }


def _change(c: worth.Change) -> Said:
    return {
        "what": c.what,
        "twist_n_m_per_deg": round(c.torsion * N_M_PER_DEGREE, 3),
        "bending_n_per_mm": None if c.bending is None else round(c.bending, 3),
        "kg": round(c.kg, 4),
        "money": None if c.money is None else round(c.money, 2),
    }


def _worth(job: Job) -> list[Said]:
    left = strength.tube_strength(job).tubes and worth.strength_without(job)
    return [
        {
            "tubes": list(w.tubes),
            "without": "falls apart" if w.gone.falls else _change(w.gone),
            "up": w.up and _change(w.up),
            "down": w.down and _change(w.down),
            "most_used_without": round(left[w.tubes], 4) if left and math.isfinite(left[w.tubes]) else None,
        }
        for w in worth.tube_worth(job)
    ]


def _braces(job: Job, ranked: Callable[[Job], tuple[braces.Brace, ...]]) -> list[Said]:
    return [
        {"joints": list(b.joints), "section": b.section, **_change(b.change), "in_the_way": list(b.blocked)}
        for b in ranked(job)
    ]


def _balance(job: Job) -> Said:
    a = balance.roll_balance(job)
    return {
        "share_that_reaches_the_tyres": round(a.share, 4),
        "front_takes": round(a.front, 4),
        "front_takes_if_rigid": round(a.rigid, 4),
        "needs_n_m_per_deg": {f"{part:g}": round(k * N_M_PER_DEGREE, 1) for part, k in a.needs},
    }


def _test(job: Job) -> Said:
    a = measured.measured_frame(job)
    return {
        "measured_n_m_per_deg": round(a.measured.stiffness * N_M_PER_DEGREE, 2),
        "give_or_take": round(a.measured.spread * N_M_PER_DEGREE, 2),
        "model_n_m_per_deg": round(a.model * N_M_PER_DEGREE, 2),
        "joint_factor": a.factor and round(a.factor, 4),
        "why_none": a.why,
    }


_MORE: dict[str, Callable[[Job], Any]] = {
    "cases": _cases,
    "links": _links,
    "mounts": _mounts,
    "strength": _strength,
    "moves": _moves,
    "buckling": _buckling,
    "modes": _modes,
    "worth": _worth,
    "braces": partial(_braces, ranked=braces.rank_braces),
    "braces_for_money": partial(_braces, ranked=braces.for_money),
    "balance": _balance,
    "twist_test": _test,
}
