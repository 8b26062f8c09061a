"""What Place says, as neutral data. mm, kg, degrees, m/s, N·m."""

import math
from typing import Any

from ironcage import told
from ironcage.cli.shown import rounded
from ironcage.core.answers.place import clashes, drives, mends, people, placing
from ironcage.core.answers.shared import mass
from ironcage.core.answers.shared.ground import ground_of
from ironcage.core.answers.shared.names import name_of
from ironcage.core.answers.shared.pulling import pulled
from ironcage.core.job.geometry.bodies import pipe_route
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Part, Pipe

Said = dict[str, Any]


def _deg(value: float) -> float:
    return round(math.degrees(value), 3)


def _person(job: Job, p: people.PersonAnswer) -> Said:
    return {
        "id": p.id,
        "name": p.name,
        "aboard": p.aboard,
        "short_mm": {k: round(v, 1) for k, v in p.short.items()},
        "heel_off_floor_mm": round(p.heel_lift, 1),
        "angles_deg": {k: round(v, 1) for k, v in p.angles.items()},
        "beyond_comfort_deg": {k: round(v, 1) for k, v in p.beyond.items()},
        "readings": [
            {
                "reading": r.name,
                "value": None if r.value is None else round(r.value * r.quantity.per, 1),
                "unit": r.quantity.neutral,
                "against": name_of(job, r.against),
                "note": r.why,
            }
            for r in p.readings
        ],
    }


def _chain(c: drives.ChainAnswer) -> Said:
    if c.fit is None or c.line is None or c.mend is None:
        return {"id": c.id, "name": c.name, "problem": c.problem}
    return {
        "id": c.id,
        "name": c.name,
        "links": c.fit.links,
        "pitches_needed": round(c.fit.needed, 3),
        "centres_mm": round(c.centres, 2),
        "take_up_mm": round(c.fit.take_up, 2),
        "take_up_by_wear_mm": round(c.fit.worn, 2),
        "plan_deg": _deg(c.line.plan),
        "elevation_deg": _deg(c.line.elevation),
        "offset_mm": round(c.line.offset, 2),
        "in_line": c.in_line,
        "right_block_forward_mm": round(c.mend.forward, 2),
        "right_block_up_mm": round(c.mend.up, 2),
        "wheel_along_mm": round(c.mend.along, 2),
        "ratio": round(c.ratio, 4),
        "gears": [
            {
                "engine_turns": round(g.engine_turns, 3),
                "m_per_s_at_1000": rounded(g.speed_per_1000, 3),
                "torque_n_m": rounded(g.torque, 1),
            }
            for g in c.gears
        ],
    }


def _shaft(s: drives.ShaftAnswer) -> Said:
    if s.angles is None:
        return {"id": s.id, "name": s.name, "problem": s.problem}
    return {
        "id": s.id,
        "name": s.name,
        "first_joint_deg": _deg(s.angles.first),
        "second_joint_deg": _deg(s.angles.second),
        "left_over_deg": _deg(s.angles.left_over),
        "length_mm": round(s.angles.length, 2),
        "plunge_mm": [round(v, 2) for v in s.plunge],
    }


def say_place(job: Job) -> Said:
    """Mass, stance, clashes, people, drives."""
    a = placing.answer(job)
    w, s = a.weighed, a.stance
    stance: Said = {}
    if s is not None and s.stance is None:
        stance = {"stance": s.problem}
    elif s is not None and s.stance is not None:
        stance = {
            "corners_kg": [round(v, 2) for v in s.stance.corners],
            "front_lifts_at_g": round(s.stance.front_lifts, 3),
            "rear_lifts_at_g": round(s.stance.rear_lifts, 3),
            **_pulled(job),
            "tips_left_deg": _deg(s.stance.tips_left),
            "tips_right_deg": _deg(s.stance.tips_right),
            "front_share_per_30mm": {v.load.name: round(v.share_per_mm * 30, 5) for v in s.levers},
        }
    return {
        "car_kg": round(w.car.mass, 2),
        "rake_deg": _deg(ground.rake) if (ground := ground_of(job)) else None,
        "cg_mm": [round(float(v), 2) for v in w.car.cg],
        "front_share": rounded(w.front_share, 4),
        **stance,
        "clashes": [_near(job, n) for n in a.clashes.near if n.state != "clear"],
        "mends": [_mended(job, m) for m in mends.find_mends(job)],
        "near": [_near(job, n) for n in a.clashes.near if n.state == "clear"],
        "cannot_come_out": [
            {"part": name_of(job, b.part), "by": " ".join(b.by), "mm": round(b.depth, 1)} for b in a.clashes.blocked
        ],
        "people": [_person(job, p) for p in a.people],
        "pipes": [_pipe(p, p.shape) for p in job.parts if p.shape.kind == "pipe"],
        "bolt_patterns": [
            {
                "pattern": p.name,
                "holes": " ".join(
                    f"{h}:{x:.2f},{y:.2f}" for h, (x, y) in zip(p.fitted.holes, p.fitted.places, strict=True)
                ),
                "diameter_mm": p.diameter,
                "worst_mm": round(abs(float(p.fitted.residuals[p.fitted.worst])), 3),
                "spare_readings": p.fitted.spare,
                "pitch_circle_mm": round(p.circle.diameter, 3) if p.circle else None,
                "doubts": list(p.fitted.doubts),
            }
            for p in a.patterns
        ],
        "adapters": [
            {
                "adapter": x.name,
                "holes": " ".join(
                    f"{name}:{hx:.2f},{hy:.2f}" for name, (hx, hy, _) in zip(x.holes, x.flat.holes, strict=True)
                ),
                "thickness_mm": x.thickness,
                "material": x.material,
                "web_mm": round(x.web, 3),
                "problem": told.plain(x.problem),
            }
            for x in a.adapters
        ],
        "chains": [_chain(c) for c in a.chains],
        "shafts": [_shaft(x) for x in a.shafts],
        "assumptions": [*people.ASSUMPTIONS, *mass.ASSUMED, drives.LIMITS, drives.GUARD],
    }


def _mended(job: Job, mended: mends.Mended) -> Said:
    return {
        "of": f"{name_of(job, mended.near.first)} and {name_of(job, mended.near.second)}",
        "by": [{"what": m.words, "choose": " ".join(m.chosen), "type": m.line} for m in mended.mends],
        "stuck_with": [name_of(job, name) for name in mended.stuck],
    }


def _pipe(part: Part, pipe: Pipe) -> Said:
    """How a pipe is made, along its centreline."""
    route = pipe_route(pipe)
    return {
        "pipe": part.name,
        "diameter_mm": pipe.diameter,
        "length_mm": round(route.length, 2),
        "bends": [
            {"starts_mm": round(b.start, 2), "deg": _deg(b.angle), "clocked_deg": _deg(b.clock)} for b in route.bends
        ],
    }


def _pulled(job: Job) -> Said:
    """How hard the car pulls away, where that is told."""
    made = pulled(job)
    if made is None:
        return {}
    return {
        "engine_pushes_g": round(made.engine, 3),
        "tyres_hold_g": None if math.isinf(made.tyres) else round(made.tyres, 3),
        "pulls_away_at_g": round(made.g, 3),
        "limited_by": made.limit,
    }


def _near(job: Job, n: clashes.Near) -> Said:
    return {
        "one": name_of(job, n.first),
        "other": name_of(job, n.second),
        "state": n.state,
        "gap_mm": round(n.gap, 1),
        "wanted_mm": n.margin,
        "at_mm": [round(v, 1) for v in n.place],
        "piece": n.part,
    }
