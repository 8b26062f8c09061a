"""What Frame says, as neutral data. mm, kg."""

import math
from typing import Any

from ironcage.core.answers import place, prove
from ironcage.core.answers.frame import bays, materials, offsets, pivots, symmetry
from ironcage.core.job.geometry.offsets import place_of
from ironcage.core.job.values.model import Job

Said = dict[str, Any]


def say_frame(job: Job) -> Said:
    """Counts, the bill, fittings, open bays with what closes them, folds, and what is not symmetric."""
    a, b, costs = materials.answer(job), bays.find_bays(job), prove.twist_costs(job)
    return {
        "joints": a.joints,
        "mirrored_pairs": a.pairs,
        "tubes": a.tubes,
        "tube_length_mm": round(a.length, 2),
        "mass_kg": round(a.mass, 3),
        "fittings_kg": round(a.fittings_mass, 3),
        "cg_mm": [round(v, 2) for v in a.cg],
        "box_mm": [round(v, 1) for v in a.box],
        "bill": [
            {
                "section": s.section,
                "material": s.material,
                "tubes": s.tubes,
                "metres": round(s.metres, 3),
                "kg": round(s.kg, 2),
            }
            for s in a.bill
        ],
        "donor_tubes_not_billed": a.donors,
        "fittings": [
            {
                "fitting": f.id,
                "kind": f.kind,
                "on": list(f.on),
                "cut_or_buy": f.words,
                "kg": round(f.kg, 3),
                "weld_mm": round(f.weld, 1),
                "saved_kg": round(f.saved, 3),
                "twist_lost_share": round(costs[f.id], 6) if f.id in costs else None,
                "problem": f.problem,
            }
            for f in a.fittings
        ],
        "pivots": [
            {
                "tabs": [p.first, p.second],
                "apart_mm": round(p.apart, 2),
                "out_of_line_mm": round(p.off, 3),
                "out_of_line_deg": round(math.degrees(p.lean), 3),
                "binds": p.binds,
            }
            for p in pivots.find_pivots(job)
        ],
        "rail_spacing": [
            {
                "rails": [s.left, s.right],
                "inside_mm": round(s.inside, 2),
                "needs": [
                    {
                        "thing": n.id,
                        "name": n.name,
                        "at_least_mm" if n.side == "between" else "at_most_mm": round(n.width, 2),
                        "margin_mm": n.margin,
                    }
                    for n in s.needs
                ],
                "fixed_by": list(s.fixed),
            }
            for s in place.rail_spacing(job)
        ],
        "bays": {
            state: sum(bay.state == state for bay in b.bays)
            for state in ("triangulated", "panelled", "haunched", "open")
        },
        "bays_untold": b.untold,
        "open_bays": [_bay(job, bay) for bay in b.open],
        "folds_if_joints_were_hinges": [_fold(b, n) for n in range(len(b.folds))],
        "sheet": _sheet(job),
        "not_symmetric": [
            {"where": list(o.where), "what": o.what, "by_mm": round(o.by, 3)} for o in symmetry.find_unlike_sides(job)
        ],
    }


def _sheet(job: Job) -> Said:
    """The sheet of offsets: half widths and heights of centrelines by line, whatever it is read to on the screen."""
    sheet, found = job.offsets, offsets.answer(job)
    return {
        "lines": [{"line": line.name, "section": line.section} for line in sheet.lines],
        "stations": [
            {
                "x_mm": round(station.x, 2),
                "half_width_and_z_mm": [
                    [round(v, 2) for v in place_of(job, s, n)[1:]] if cell else None
                    for n, cell in enumerate(station.cells)
                ],
            }
            for s, station in enumerate(sheet.stations)
        ],
        "cells_not_laid": found.joints,
        "tubes_not_laid": found.tubes,
        "problems": list(found.faults),
    }


def _bay(job: Job, bay: bays.Bay) -> Said:
    ways = bays.closings(job, bay)
    first, blocked = ways[0], {n: None for w in ways if w.kind == "diagonal" for n in w.blocked}
    return {
        "bay": "–".join(bay.corners),
        "area_m2": round(bay.area / 1e6, 4),
        "off_flat_mm": round(bay.warp, 2),
        "folds": [n + 1 for n in bay.folds],
        "closed_by": f"{first.kind} {'–'.join(first.joints)}" if first.kind == "diagonal" else first.kind,
        "in_the_way_of_diagonals": list(blocked),
    }


def _fold(made: bays.BaysAnswer, n: int) -> Said:
    way = made.folds[n]
    stopped = "–".join(made.bays[way.bay].corners) if way.bay >= 0 else ""
    return {
        "fold": n + 1,
        "stopped_by_a_brace_in": stopped,
        "moves_most": list(way.movers[:4]),
        "bays_that_shear": len(way.bays),
    }
